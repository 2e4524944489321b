"""How the parts of a window come to wear the theme in force: each on its own, so that none holds the window up for long."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QChildEvent, QObject, QTimer
from PySide6.QtWidgets import QStackedWidget, QWidget
from shiboken6 import isValid

from under_lattice.ui.look import style


class Bare:
    """A part of a window that wears no sheet of styles itself; what lies in it wears its own from when it is first seen."""

    def childEvent(self, event: QChildEvent) -> None:
        """Dress what is about to be seen for the first time."""
        super().childEvent(event)  # type: ignore[misc]
        part = event.child()
        if event.polished() and isinstance(part, QWidget) and not isinstance(part, Bare):
            style.wear(part)


class Whole(Bare, QWidget):
    """All that lies in a window."""


class Pages(Bare, QStackedWidget):
    """Pages of which one is seen."""


class Dressing(QObject):
    """Dresses a window anew, a part at a time; the window is painted again when all of them are."""

    def __init__(self, window: QWidget, ended: Callable[[], object]) -> None:
        super().__init__(window)
        self._window, self._ended = window, ended
        self._left: list[QWidget] = []  # parts that wear another theme
        self._timer = QTimer(self, interval=0)
        self._timer.timeout.connect(self._dress_next)

    def begin(self) -> None:
        """Dress all parts in the theme in force."""
        self._window.setUpdatesEnabled(False)
        self._left = parts_of(self._window)
        self._timer.start()

    @property
    def under_way(self) -> bool:
        """Whether parts of the window wear another theme than the one in force."""
        return self._timer.isActive()

    def _dress_next(self) -> None:
        while self._left:
            part = self._left.pop()
            if isValid(part):
                style.wear(part)
                return
        self._timer.stop()
        self._window.setUpdatesEnabled(True)
        self._ended()


def parts_of(bare: QWidget) -> list[QWidget]:
    """Return the parts that wear a sheet in one that wears none."""
    parts = []
    for part in bare.children():
        if isinstance(part, QWidget):
            parts += parts_of(part) if isinstance(part, Bare) else [part]
    return parts
