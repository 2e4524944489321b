"""What Qt leaves to do by hand: emptying layouts, showing parts that have no window yet, drawing only what looks otherwise,
and moving nothing away from under a press.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QLayout, QWidget

LOOK_MS = 30  # from one look to the next whether the mouse is released


def once_released(owner: QWidget, act: Callable[[], object]) -> None:
    """Do what moves other parts as soon as no mouse button is down: what was pressed stays under the pointer until then."""
    if QGuiApplication.mouseButtons() == Qt.MouseButton.NoButton:
        act()
    else:
        QTimer.singleShot(LOOK_MS, owner, partial(once_released, owner, act))


def emptied(layout: QLayout) -> None:
    """Take all widgets out of a layout and let them go."""
    while layout.count():
        item = layout.takeAt(0)
        widget = item.widget() if item is not None else None
        if widget is not None:
            widget.hide()
            widget.deleteLater()


def stands(widget: QWidget, on: bool) -> bool:
    """Show or hide a widget, and return which; one that has no parent yet is not shown on its own, but with its parent."""
    if widget.parentWidget() is not None or not on:
        widget.setVisible(on)
    return on


def looks(widget: QWidget, *seen: object) -> None:
    """Let a widget be drawn anew if what is seen on it is not what was said of it before."""
    if getattr(widget, "drawn_as", None) != seen:
        widget.drawn_as = seen  # type: ignore[attr-defined]
        widget.update()
