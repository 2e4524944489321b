"""The sheet while a plotter draws it: what is still to be drawn, what is, and where the pen is."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPixmap, QPolygonF
from PySide6.QtWidgets import QSizePolicy, QWidget

from under_lattice.geometry.affine import Array
from under_lattice.plotter.machine import ACCELERATION, CHANGE, LIFT, SPEED, duration
from under_lattice.ui.look.tokens import colour

STILL = QColor("#D8D8D8")  # on white paper: lines still to be drawn


class PlotLine(NamedTuple):
    """A line (k, 2) on the page, its pen, counted from 1, and the colour of that."""

    line: Array
    pen: int
    colour: str


def seconds_of(lines: Sequence[PlotLine], mm: float) -> Array:
    """Return how long each line takes (n,), the way to it, lifting and changing pens with it; a unit of the page has so many mm."""
    out, here, pen = [], np.zeros(2), 0
    for one in lines:
        moves = np.hypot(*np.diff(np.concatenate([here[None], one.line]), axis=0).T) * mm
        drawn = sum(duration(float(move), SPEED, ACCELERATION) for move in moves if move > 0)
        out.append(drawn + 2 * LIFT + CHANGE * (one.pen != pen))
        here, pen = one.line[-1], one.pen
    return np.array(out)


class PlotView(QWidget):
    """White paper with the lines of a plot."""

    def __init__(self, width: float, height: float) -> None:
        super().__init__()
        self.page = width, height
        self.lines: list[PlotLine] = []
        self.drawn = 0
        self._paper: QPixmap | None = None
        self._on_paper = 0
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Sheet being drawn")

    def sizeHint(self) -> QSize:
        return QSize(420, 420)

    def show_lines(self, lines: list[PlotLine]) -> None:
        """Take over what is to be drawn."""
        self.lines, self.drawn, self._paper = lines, 0, None
        self.update()

    def show_drawn(self, count: int) -> None:
        """Show so many lines as drawn."""
        self.drawn = count
        self.update()

    def _box(self) -> tuple[QRectF, float]:
        scale = min((self.width() - 16) / self.page[0], (self.height() - 16) / self.page[1])
        box = QRectF(0, 0, self.page[0] * scale, self.page[1] * scale)
        box.moveCenter(QRectF(self.rect()).center())
        return box, scale

    def paintEvent(self, event: QPaintEvent) -> None:
        box, scale = self._box()
        if self._paper is None or self._paper.size() != self.size() or self._on_paper > self.drawn:
            self._paper, self._on_paper = QPixmap(self.size()), 0
            self._paper.fill(colour("surround"))
            painter = QPainter(self._paper)
            painter.fillRect(box, QColor("#FFFFFF"))
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setPen(QPen(STILL, 1.0))
            for one in self.lines:
                painter.drawPolyline(self._points(one.line, box, scale))
            painter.end()
        painter = QPainter(self._paper)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for one in self.lines[self._on_paper : self.drawn]:
            painter.setPen(QPen(QColor(one.colour), 1.4))
            painter.drawPolyline(self._points(one.line, box, scale))
        painter.end()
        self._on_paper = self.drawn
        painter = QPainter(self)
        painter.drawPixmap(0, 0, self._paper)
        if 0 < self.drawn < len(self.lines):
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            at = self._points(self.lines[self.drawn - 1].line[-1:], box, scale).at(0)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            for ink, wide in ((QColor("#FFFFFF"), 4.0), (colour("ver"), 2.0)):
                painter.setPen(QPen(ink, wide))
                painter.drawEllipse(at, 6.0, 6.0)
        painter.end()

    def _points(self, line: Array, box: QRectF, scale: float) -> QPolygonF:
        middle = box.center()
        return QPolygonF([QPointF(middle.x() + x * scale, middle.y() + y * scale) for x, y in line.tolist()])
