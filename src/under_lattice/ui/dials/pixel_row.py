"""A small drawing of squares, edited on a grid with mouse or keys."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from under_lattice.declare.drawn_dials import PIXEL_SIGNS
from under_lattice.ui.dials.hand import Hand
from under_lattice.ui.dials.row import DialRow
from under_lattice.ui.look.tokens import colour, px
from under_lattice.ui.look.words import Words

WIDE = 236
KEYS = {Qt.Key.Key_Left: (0, -1), Qt.Key.Key_Right: (0, 1), Qt.Key.Key_Up: (-1, 0), Qt.Key.Key_Down: (1, 0)}


class PixelGrid(QWidget):
    """The squares; `painted` says the drawing after each stroke's step."""

    painted = Signal(str)
    ended = Signal()

    def __init__(self, name: str) -> None:
        super().__init__()
        self.rows: list[str] = ["."]
        self.palette_: tuple[str, ...] = ()
        self.sign, self.at = "1", (0, 0)
        self._puts: str | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(f"{name}: arrows go to a square, Space puts the colour or takes it away")
        self.setCursor(Qt.CursorShape.CrossCursor)

    @property
    def side(self) -> float:
        """Side of a square, px."""
        return min(WIDE / len(self.rows[0]), WIDE / len(self.rows), 24.0)

    def sizeHint(self) -> QSize:
        return QSize(round(self.side * len(self.rows[0])) + 2, round(self.side * len(self.rows)) + 2)

    def show_drawing(self, drawing: str, palette: tuple[str, ...]) -> None:
        """Show a drawing in the colours of a palette."""
        self.rows, self.palette_ = drawing.split("/"), palette
        self.at = (min(self.at[0], len(self.rows) - 1), min(self.at[1], len(self.rows[0]) - 1))
        self.setFixedSize(self.sizeHint())
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter, side = QPainter(self), self.side
        for i, row in enumerate(self.rows):
            for j, sign in enumerate(row):
                box = QRectF(1 + j * side, 1 + i * side, side, side)
                at = PIXEL_SIGNS.index(sign)
                painter.fillRect(box, QColor(self.palette_[(at - 1) % len(self.palette_)]) if at else colour("field"))
        painter.setPen(QPen(colour("line"), 1))
        for k in range(len(self.rows) + 1):
            painter.drawLine(QPointF(1, 1 + k * side), QPointF(1 + side * len(self.rows[0]), 1 + k * side))
        for k in range(len(self.rows[0]) + 1):
            painter.drawLine(QPointF(1 + k * side, 1), QPointF(1 + k * side, 1 + side * len(self.rows)))
        if self.hasFocus():
            painter.setPen(QPen(colour("ver"), 2))
            painter.drawRect(QRectF(1 + self.at[1] * side, 1 + self.at[0] * side, side, side))
        painter.end()

    def _put(self, row: int, column: int) -> None:
        if not (0 <= row < len(self.rows) and 0 <= column < len(self.rows[0])) or self._puts is None:
            return
        self.at = (row, column)
        line = self.rows[row]
        if line[column] != self._puts:
            self.rows[row] = line[:column] + self._puts + line[column + 1 :]
            self.painted.emit("/".join(self.rows))
        self.update()

    def _square(self, event: QMouseEvent) -> tuple[int, int]:
        at = event.position()
        return int((at.y() - 1) // self.side), int((at.x() - 1) // self.side)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        row, column = self._square(event)
        if 0 <= row < len(self.rows) and 0 <= column < len(self.rows[0]):
            self._puts = "." if self.rows[row][column] == self.sign else self.sign
            self._put(row, column)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self._put(*self._square(event))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._puts = None
        self.ended.emit()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        way = KEYS.get(Qt.Key(event.key()))
        if way is not None:
            self.at = ((self.at[0] + way[0]) % len(self.rows), (self.at[1] + way[1]) % len(self.rows[0]))
            self.update()
        elif event.key() == Qt.Key.Key_Space:
            self._puts = "." if self.rows[self.at[0]][self.at[1]] == self.sign else self.sign
            self._put(*self.at)
            self._puts = None
            self.ended.emit()
        else:
            super().keyPressEvent(event)


class PixelRow(DialRow):
    """The grid, the colour that is put, and rows and columns to add or take away."""

    def __init__(self, hand: Hand, name: str) -> None:
        super().__init__(hand, name)
        self.grid = PixelGrid(self.dial.label)
        self.grid.painted.connect(lambda drawing: self.turn(drawing, self))
        self.grid.ended.connect(hand.document.end_visit)
        self.inks = QHBoxLayout()
        self.inks.setSpacing(3)
        self.line.addLayout(self.inks)
        self.line.addStretch(1)
        self.buttons: list[QPushButton] = []
        sizes = QHBoxLayout()
        sizes.setSpacing(3)
        for title, row, column in (("Rows", 1, 0), ("Columns", 0, 1)):
            label = Words(title)
            label.setObjectName("small")
            sizes.addWidget(label)
            for sign, words, by in (("−", "less", -1), ("+", "more", 1)):  # noqa: RUF001
                button = QPushButton(sign)
                button.setFixedWidth(px(30))
                button.setAccessibleName(f"{title}: one {words}")
                button.clicked.connect(lambda _=False, r=row * by, c=column * by: self._resize(r, c))
                sizes.addWidget(button)
            sizes.addSpacing(12)
        sizes.addStretch(1)
        box = QVBoxLayout()
        box.setContentsMargins(0, 0, 0, 4)
        box.addWidget(self.grid, 0, Qt.AlignmentFlag.AlignHCenter)
        box.addLayout(sizes)
        self.below.addLayout(box)
        self._inks: tuple[str, ...] = ()

    def refresh(self) -> None:
        palette = self.hand.rule.palette  # type: ignore[attr-defined]
        if palette != self._inks:
            self._build_inks(palette)
        self.grid.show_drawing(self.value, palette)

    def _build_inks(self, palette: tuple[str, ...]) -> None:
        self._inks = palette
        for button in self.buttons:
            self.inks.removeWidget(button)
            button.deleteLater()
        self.buttons, line = [], colour("line").name()
        for k, ink in enumerate(palette):
            button = QPushButton("")
            button.setCheckable(True)
            button.setAutoExclusive(True)
            button.setFixedSize(px(20), px(20))
            button.setAccessibleName(f"Colour {k + 1}, {ink}")
            button.setToolTip(f"Put colour {k + 1}")
            button.setStyleSheet(
                f"QPushButton {{ background: {ink}; border: 1px solid {line}; border-radius: 3px; padding: 0; min-height: 0 }}"
                f"QPushButton:checked {{ border: 3px solid {colour('ver').name()} }}"
                f"QPushButton:focus {{ border: 2px solid {colour('text').name()} }}"
            )
            button.setChecked(PIXEL_SIGNS[k + 1] == self.grid.sign)
            button.clicked.connect(lambda _=False, s=PIXEL_SIGNS[k + 1]: setattr(self.grid, "sign", s))
            self.buttons.append(button)
            self.inks.addWidget(button)

    def _resize(self, rows: int, columns: int) -> None:
        lines = self.value.split("/")
        if rows:
            lines = [*lines, "." * len(lines[0])] if rows > 0 else lines[:-1]
        if columns:
            lines = [line + "." if columns > 0 else line[:-1] for line in lines]
        self.turn("/".join(lines))
