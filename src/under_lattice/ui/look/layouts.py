"""Emptying layouts."""

from __future__ import annotations

from PySide6.QtWidgets import QLayout, QWidget


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
