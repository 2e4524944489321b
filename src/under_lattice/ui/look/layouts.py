"""Emptying layouts."""

from __future__ import annotations

from PySide6.QtWidgets import QLayout


def emptied(layout: QLayout) -> None:
    """Take all widgets out of a layout and let them go."""
    while layout.count():
        item = layout.takeAt(0)
        widget = item.widget() if item is not None else None
        if widget is not None:
            widget.hide()
            widget.deleteLater()
