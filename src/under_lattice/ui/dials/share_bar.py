"""A bar of how much of the sheet each colour of a palette is seen on; a press on one shows where it is."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from PySide6.QtCore import QRectF, Qt, Signal
from PySide6.QtGui import QColor, QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QToolTip, QWidget

from under_lattice.ui.look.tokens import colour, px

LEAST = 0.05  # per cent: less is said to be nowhere


class ShareBar(QWidget):
    """Parts as wide as the shares of the colours; what is left has none of them."""

    wanted = Signal(str)  # a colour whose places are to be shown

    def __init__(self, name: str) -> None:
        super().__init__()
        self.parts: list[tuple[str, float]] = []
        self.at = 0
        self.setFixedHeight(px(18))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(f"{name}: shares of the sheet")
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setMouseTracking(True)

    def show_shares(self, colours: Sequence[str], shares: Mapping[str, float]) -> None:
        """Show the shares of some colours, in per cent; each colour once."""
        self.parts = [(one, shares[one]) for one in dict.fromkeys(colours) if one in shares]
        self.at = min(self.at, max(len(self.parts) - 1, 0))
        self.setVisible(bool(self.parts))
        self.setAccessibleDescription("; ".join(self.said(k) for k in range(len(self.parts))))
        self.update()

    def said(self, k: int) -> str:
        """Return colour and share of a part in words."""
        value, share = self.parts[k]
        return f"{value} {share:.1f} % of the sheet" if share >= LEAST else f"{value} nowhere on the sheet"

    def boxes(self) -> list[QRectF]:
        """Return where the parts are drawn; together no wider than the bar."""
        room = self.width() - 2.0
        whole = max(100.0, sum(share for _, share in self.parts))
        out, x = [], 1.0
        for _, share in self.parts:
            wide = room * share / whole
            out.append(QRectF(x, 4.0, wide, self.height() - 8.0))
            x += wide
        return out

    def part_at(self, x: float) -> int:
        """Return the part at a place, or -1."""
        return next((k for k, box in enumerate(self.boxes()) if box.left() <= x < box.right()), -1)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        at = self.part_at(event.position().x())
        if at >= 0:
            self.at = at
            self.wanted.emit(self.parts[at][0])
            self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        ways = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}
        key = Qt.Key(event.key())
        if self.parts and key in ways:
            self.at = (self.at + ways[key]) % len(self.parts)
            self.wanted.emit(self.parts[self.at][0])
            self.update()
        elif self.parts and key in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.wanted.emit(self.parts[self.at][0])
        else:
            super().keyPressEvent(event)

    def event(self, event: object) -> bool:
        if isinstance(event, QHelpEvent):
            at = self.part_at(event.x())
            words = f"{self.said(at)}; press to see where" if at >= 0 else "none of these colours"
            QToolTip.showText(event.globalPos(), words, self)
            return True
        return super().event(event)  # type: ignore[arg-type]

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        whole = QRectF(1, 4, self.width() - 2, self.height() - 8)
        painter.fillRect(whole, colour("hover"))
        for (value, _), box in zip(self.parts, self.boxes(), strict=True):
            painter.fillRect(box, QColor(value))
        painter.setPen(QPen(colour("strong"), 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(whole)
        if self.hasFocus() and self.parts:
            painter.setPen(QPen(colour("ver"), 2))
            painter.drawRect(self.boxes()[self.at].adjusted(0, -2, 0, 2))
        painter.end()
