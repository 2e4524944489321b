"""What our own widgets are to assistive technology: fields are spin boxes with unit and range, threads are sliders with a value."""

from __future__ import annotations

import weakref
from typing import Protocol, runtime_checkable

from PySide6.QtCore import QObject
from PySide6.QtGui import QAccessible, QAccessibleAnnouncementEvent, QAccessibleInterface
from PySide6.QtWidgets import QAccessibleWidget, QWidget


@runtime_checkable
class Spoken(Protocol):
    """A widget that says its role and its value."""

    spoken_role: QAccessible.Role

    def spoken_value(self) -> str:
        """Return the value in words, with its unit."""
        ...


class _Spoken(QAccessibleWidget):
    """The interface of such a widget."""

    def __init__(self, widget: QWidget, role: QAccessible.Role) -> None:
        super().__init__(widget, role)
        self._of = weakref.ref(widget)

    def text(self, kind: QAccessible.Text) -> str:
        widget = self._of()
        if kind == QAccessible.Text.Value and isinstance(widget, Spoken):
            return widget.spoken_value()
        return super().text(kind)


_kept: weakref.WeakKeyDictionary[QObject, QAccessibleInterface] = weakref.WeakKeyDictionary()  # the toolkit holds no reference
_installed: list[bool] = []


def _interface(_: str, widget: QObject) -> QAccessibleInterface | None:
    if not isinstance(widget, QWidget) or not isinstance(widget, Spoken):
        return None
    made = _Spoken(widget, widget.spoken_role)
    _kept[widget] = made
    return made


def install() -> None:
    """Let assistive technology see them, once in a process."""
    if not _installed:
        QAccessible.installFactory(_interface)
        _installed.append(True)


def announce(widget: QWidget, sentence: str) -> None:
    """Say a sentence to whoever listens."""
    if QAccessible.isActive() and sentence:
        QAccessible.updateAccessibility(QAccessibleAnnouncementEvent(widget, sentence))
