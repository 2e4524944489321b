"""The places of a chain where a rule can be added: one in words after the open rule, and a small sign between any two cards."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QAbstractButton, QWidget

from under_lattice.ui.look.tokens import CARD_LEFT, CARD_WIDTH, THREAD_X, colour, px
from under_lattice.ui.look.words import tip

SIDE = 24  # px of the sign between two cards


def _sign(painter: QPainter, at: QPointF, ink: QColor) -> None:
    """A plus in a ring on the thread."""
    painter.setPen(QPen(ink, 1.4))
    painter.setBrush(colour("panel"))
    painter.drawEllipse(at, 7, 7)
    painter.drawLine(QPointF(at.x() - 3.5, at.y()), QPointF(at.x() + 3.5, at.y()))
    painter.drawLine(QPointF(at.x(), at.y() - 3.5), QPointF(at.x(), at.y() + 3.5))


class AddSlot(QAbstractButton):
    """The place where a rule can be added."""

    def __init__(self) -> None:
        super().__init__()
        self.setText("Add a rule here")
        self.setAccessibleName("Add a rule here")
        self.setFixedHeight(px(26))
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def sizeHint(self) -> QSize:
        return QSize(CARD_LEFT + px(CARD_WIDTH), 26)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        middle = self.height() / 2
        at = QPointF(THREAD_X, middle)
        ink = colour("ver" if self.underMouse() or self.hasFocus() else "strong")
        _sign(painter, at, ink)
        words = painter.fontMetrics().horizontalAdvance(self.text())
        centre = CARD_LEFT + px(CARD_WIDTH) / 2
        painter.setPen(QPen(ink, 1, Qt.PenStyle.DashLine))
        painter.drawLine(QPointF(CARD_LEFT, middle), QPointF(centre - words / 2 - 8, middle))
        painter.drawLine(QPointF(centre + words / 2 + 8, middle), QPointF(CARD_LEFT + px(CARD_WIDTH), middle))
        painter.setPen(colour("text2"))
        painter.drawText(QRectF(CARD_LEFT, 0, px(CARD_WIDTH), self.height()), Qt.AlignmentFlag.AlignCenter, self.text())
        if self.hasFocus():
            painter.setPen(QPen(colour("ver"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(QRectF(centre - words / 2 - 6, 2, words + 12, self.height() - 4), 3, 3)
        painter.end()


class AddBetween(QAbstractButton):
    """A sign between two cards; it appears while the pointer is near, or with the focus."""

    def __init__(self, title: str, parent: QWidget) -> None:
        super().__init__(parent)
        self.near = False  # the pointer is on the card above
        self.setFixedSize(SIDE, SIDE)
        self.setAccessibleName(f"Add a rule after {title}")
        self.setToolTip(tip(self.accessibleName()))
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def show_near(self, near: bool) -> None:
        """Appear, or go."""
        self.near = near
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        strong = self.underMouse() or self.hasFocus()
        if not (strong or self.near):
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        _sign(painter, QPointF(SIDE / 2, SIDE / 2), colour("ver" if strong else "strong"))
        if self.hasFocus():
            painter.setPen(QPen(colour("ver"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(QPointF(SIDE / 2, SIDE / 2), 10.5, 10.5)
        painter.end()
