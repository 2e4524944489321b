"""The brush on the sheet: strokes that paint a mask, seen while they are drawn."""

from __future__ import annotations

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QPolygonF

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
    """

    def __init__(self) -> None:
        self.on, self.size, self.hides = False, 1.0, True
        self.at: QPointF | None = None
        self._stroke: list[QPointF] = []
        self._last: QPointF | None = None

    @property
    def down(self) -> bool:
        """Whether a stroke is being drawn."""
        return bool(self._stroke)

    def press(self, at: QPointF, straight: bool) -> None:
        """Begin a stroke; a straight one where the last one ended."""
        begin = self._last if straight and self._last is not None else at
        self._stroke = [begin, at]

    def move(self, at: QPointF, straight: bool) -> None:
        """Go on to a place; straight from where the stroke began."""
        self.at = at
        if self._stroke:
            self._stroke = [self._stroke[0], at] if straight else [*self._stroke, at]

    def release(self) -> list[QPointF]:
        """End the stroke and return it."""
        stroke, self._stroke = self._stroke, []
        self._last = stroke[-1] if stroke else None
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
            if len({(one.x(), one.y()) for one in self._stroke}) == 1:
                painter.drawPoint(self._stroke[0])
            else:
                painter.drawPolyline(QPolygonF(self._stroke))
        if self.at is not None:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            for ink, width in ((colour("open"), 3.0), (colour("text"), 1.2)):
                painter.setPen(QPen(ink, width))
                painter.drawEllipse(self.at, wide / 2, wide / 2)
