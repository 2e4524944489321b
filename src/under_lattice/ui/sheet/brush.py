"""The brush on the sheet: strokes that paint a mask, seen while they are drawn."""

from __future__ import annotations

from itertools import pairwise

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPath, QPainterPathStroker, QPen, QPolygonF

from under_lattice.ui.look.tokens import colour

HIDES, SHOWS = QColor(200, 60, 40, 110), QColor(30, 120, 100, 110)


class Brush:
    """Collects strokes while it is on.

    Attributes
    ----------
    on : bool
    size : float
        From side to side, in the unit of the work.
    hides : bool
        It hides what it is drawn over; else it shows it.
    pressure : float
        How hard it is pressed now, 0..1, which is the share of its size it has there; 1 where nothing tells it.
    """

    def __init__(self) -> None:
        self.on, self.size, self.hides, self.pressure = False, 1.0, True, 1.0
        self.at: QPointF | None = None
        self._stroke: list[tuple[QPointF, float]] = []
        self._last: QPointF | None = None

    @property
    def down(self) -> bool:
        """Whether a stroke is being drawn."""
        return bool(self._stroke)

    def press(self, at: QPointF, straight: bool) -> None:
        """Begin a stroke; a straight one where the last one ended."""
        begin = self._last if straight and self._last is not None else at
        self._stroke = [(begin, self.pressure), (at, self.pressure)]

    def move(self, at: QPointF, straight: bool) -> None:
        """Go on to a place; straight from where the stroke began."""
        self.at = at
        if self._stroke:
            begun = self._stroke[:1] if straight else self._stroke
            self._stroke = [*begun, (at, self.pressure)]

    def release(self) -> list[tuple[QPointF, float]]:
        """End the stroke and return its places and the pressure at each."""
        stroke, self._stroke = self._stroke, []
        self._last = stroke[-1][0] if stroke else None
        return stroke

    def give_up(self) -> None:
        """Forget the stroke that is being drawn."""
        self._stroke = []

    def paint(self, painter: QPainter, scale: float) -> None:
        """Show the stroke and the size of the brush, so many px for each unit."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        wide = max(1.0, self.size * scale)
        if self._stroke:
            ink = HIDES if self.hides else SHOWS
            round_ = Qt.PenCapStyle.RoundCap, Qt.PenJoinStyle.RoundJoin
            painter.setPen(QPen(ink, wide, Qt.PenStyle.SolidLine, *round_))
            if all(pressure == 1.0 for _, pressure in self._stroke):
                self._paint_run(painter, [at for at, _ in self._stroke])
            else:
                self._paint_pressed(painter, ink, wide)
        if self.at is not None:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            for ink, width in ((colour("open"), 3.0), (colour("text"), 1.2)):
                painter.setPen(QPen(ink, width))
                painter.drawEllipse(self.at, wide / 2, wide / 2)

    def _paint_run(self, painter: QPainter, run: list[QPointF]) -> None:
        if len({(one.x(), one.y()) for one in run}) == 1:
            painter.drawPoint(run[0])
        else:
            painter.drawPolyline(QPolygonF(run))

    def _paint_pressed(self, painter: QPainter, ink: QColor, wide: float) -> None:
        """Show the stroke as wide as it was pressed, its pieces as one area."""
        area = QPainterPath()
        area.setFillRule(Qt.FillRule.WindingFill)
        pen = QPainterPathStroker()
        pen.setCapStyle(Qt.PenCapStyle.RoundCap)
        for (begin, first), (end, last) in pairwise(self._stroke):
            piece = QPainterPath(begin)
            piece.lineTo(end if end != begin else end + QPointF(0.01, 0.0))
            pen.setWidth(max(1.0, wide * (first + last) / 2))
            area.addPath(pen.createStroke(piece))
        painter.fillPath(area, ink)
