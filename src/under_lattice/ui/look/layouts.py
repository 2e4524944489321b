"""What Qt leaves to do by hand: emptying layouts, showing parts that have no window yet, drawing only what looks otherwise."""

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


def looks(widget: QWidget, *seen: object) -> None:
    """Let a widget be drawn anew if what is seen on it is not what was said of it before."""
    if getattr(widget, "drawn_as", None) != seen:
        widget.drawn_as = seen  # type: ignore[attr-defined]
        widget.update()
