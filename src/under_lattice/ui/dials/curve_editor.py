"""A curve whose points are dragged: how far along, and how far from start to end."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from under_lattice.ui.look.thread import draw_thread, round_bead
from under_lattice.ui.look.tokens import colour, px
from under_lattice.vary.numbers import POINTS_MOST

Points = tuple[tuple[float, float], ...]
FIRST: Points = ((0.0, 0.0), (0.33, 0.15), (0.67, 0.85), (1.0, 1.0))
REACH, PAD, STEP = 10.0, 10.0, 0.02


class CurveEditor(QWidget):
    """Beads on a thread: drag them, double click for one more or one less, arrow keys for the chosen one."""

    ground_colour, thread_colour, digits = "saft", "safg", 3
    changed = Signal(object)
    let_go = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.points: Points = FIRST
        self.chosen, self._held = 0, False
        self.setFixedHeight(px(110))
        self.setMinimumWidth(220)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Curve: points from start to end")
        self.setToolTip("Drag a bead; double click for one more or one less. Keys: Page up and down choose, arrows move, Delete.")

    def show_points(self, points: Points) -> None:
        """Show a curve."""
        if not self._held:
            self.points = points or FIRST
            self.chosen = min(self.chosen, len(self.points) - 1)
            self.update()

    def at(self, point: tuple[float, float]) -> QPointF:
        """Return where a point is drawn."""
        wide, high = self.width() - 2 * PAD, self.height() - 2 * PAD
        return QPointF(PAD + point[0] * wide, PAD + (1 - point[1]) * high)

    def drawn(self) -> Points:
        """Return the points of the curve as it is drawn."""
        return self.points

    def paint_behind(self, painter: QPainter) -> None:
        """Paint what lies behind the curve."""

    def _value(self, at: QPointF) -> tuple[float, float]:
        wide, high = self.width() - 2 * PAD, self.height() - 2 * PAD
        x, y = (at.x() - PAD) / wide, 1 - (at.y() - PAD) / high
        return round(min(max(x, 0.0), 1.0), 3), round(min(max(y, 0.0), 1.0), 3)

    def _near(self, at: QPointF) -> int:
        away = [(self.at(point) - at).manhattanLength() for point in self.points]
        nearest = min(range(len(away)), key=away.__getitem__)
        return nearest if away[nearest] <= REACH * 1.5 else -1

    def move_to(self, k: int, to: tuple[float, float]) -> None:
        """Move a point; the ends stay at the ends, and none passes another."""
        low = self.points[k - 1][0] + 0.005 if k else 0.0
        high = self.points[k + 1][0] - 0.005 if k < len(self.points) - 1 else 1.0
        x = 0.0 if k == 0 else 1.0 if k == len(self.points) - 1 else round(min(max(to[0], low), high), self.digits)
        self._set((*self.points[:k], (x, to[1]), *self.points[k + 1 :]))

    def _set(self, points: Points) -> None:
        self.points = points
        self.update()
        self.changed.emit(points)

    def _drop(self, k: int) -> None:
        if 0 < k < len(self.points) - 1:
            self.chosen = k - 1
            self._set((*self.points[:k], *self.points[k + 1 :]))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        near = self._near(event.position())
        self._held = near >= 0
        self.chosen = near if near >= 0 else self.chosen
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._held:
            self.move_to(self.chosen, self._value(event.position()))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._held = False
        self.let_go.emit()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        near, to = self._near(event.position()), self._value(event.position())
        if near >= 0:
            self._drop(near)
        elif len(self.points) < POINTS_MOST and all(abs(to[0] - x) > 0.005 for x, _ in self.points):
            points = tuple(sorted((*self.points, to)))
            self.chosen = points.index(to)
            self._set(points)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        ways = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, 1), Qt.Key.Key_Down: (0, -1)}
        key = Qt.Key(event.key())
        if key in ways:
            x, y = self.points[self.chosen]
            self.move_to(self.chosen, (x + STEP * ways[key][0], round(min(max(y + STEP * ways[key][1], 0.0), 1.0), 3)))
        elif key in (Qt.Key.Key_PageUp, Qt.Key.Key_PageDown):
            self.chosen = (self.chosen + (1 if key == Qt.Key.Key_PageDown else -1)) % len(self.points)
            self.update()
        elif key == Qt.Key.Key_Delete:
            self._drop(self.chosen)
        else:
            super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(colour("line"), 1))
        painter.setBrush(colour(self.ground_colour))
        painter.drawRect(QRectF(self.rect()).adjusted(PAD, PAD, -PAD, -PAD))
        self.paint_behind(painter)
        drawn = self.drawn()
        path = QPainterPath(self.at(drawn[0]))
        for point in drawn[1:]:
            path.lineTo(self.at(point))
        draw_thread(painter, path, colour(self.thread_colour), 1.6)
        for k, point in enumerate(self.points):
            round_bead(painter, self.at(point), 5.0 if k == self.chosen else 3.6, True, colour(self.thread_colour))
        if self.hasFocus():
            painter.setPen(QPen(colour("ver"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 3, 3)
        painter.end()
