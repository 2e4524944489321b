"""The sign of Under Lattice as a widget."""

from __future__ import annotations

from PySide6.QtCore import QRectF
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from under_lattice.ui.look.glyphs import draw_mark
from under_lattice.ui.look.tokens import colour


class Mark(QWidget):
    """The sign of Under Lattice."""

    def __init__(self, size: int) -> None:
        super().__init__()
        self.setFixedSize(size, size)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        draw_mark(painter, QRectF(self.rect()), colour("ver"), colour("dis"))
        painter.end()
