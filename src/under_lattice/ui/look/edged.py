"""An edge round dialogs, which lie on panels of their own colour; not every desktop frames them."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QDialog, QMessageBox, QWidget

from under_lattice.ui.look.tokens import colour


class Dialog(QDialog):
    """A dialog with an edge; closed it is gone, and costs nothing when the theme is switched."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.finished.connect(self.deleteLater)

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        draw_edge(self)


class Message(QMessageBox):
    """A message with an edge."""

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        draw_edge(self)


def draw_edge(dialog: QDialog) -> None:
    """Draw a line round a dialog."""
    painter = QPainter(dialog)
    painter.setPen(QPen(colour("strong"), 1))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawRect(dialog.rect().adjusted(0, 0, -1, -1))
    painter.end()
