"""How handles look on the sheet: cased lines, a three-legged pivot, labels in words that do not cover each other."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
import shapely
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFont, QFontMetricsF, QPainter, QPainterPath, QPen, QPolygonF

from under_lattice.colour.colour import luminance
from under_lattice.geometry.affine import Array
from under_lattice.rules.handles import Arrow, Handle, HandleSet
from under_lattice.ui.look.tokens import DARK, LIGHT, colour, px

LABELLED_MOST = 5  # handles; of more, beads are labelled under the pointer only
LEAST_STEP = 10.0
APART = 16.0  # px between the middles of handles, so that they are seen and taken one by one
SPREAD_MOST = 40  # steps in which one is moved away
FEW_POINTS, UNSEEN = 48, 0.2  # points of an outline that are all drawn, and px by which others may be missed
QUIET = 48.0  # px; a motif smaller than this is not covered with labels: they come under the pointer


def spread(points: list[QPointF], forms: list[str]) -> list[QPointF]:
    """Return where handles are shown: those nearer than `APART` to one before are moved away from it, out from the middle of all.

    What can be moved by its outline, and ends of curves, stay where they are.
    """
    out: list[QPointF] = []
    count = max(len(points), 1)
    middle = QPointF(sum(p.x() for p in points) / count, sum(p.y() for p in points) / count)
    for point, form in zip(points, forms, strict=True):
        shown = point
        if form in ("bead", "pivot"):
            way = point - middle
            length = math.hypot(way.x(), way.y())
            way = way / length if length > 1 else QPointF(0.8, 0.6)
            near = [other for other, its in zip(out, forms, strict=False) if its in ("bead", "pivot")]
            for _ in range(SPREAD_MOST):
                if all(math.hypot((shown - other).x(), (shown - other).y()) >= APART for other in near):
                    break
                shown = shown + way * (APART / 3)
        out.append(shown)
    return out


class HandlePainter:
    """Draws one set of handles; the casing follows the sheet's ground, not the theme."""

    def __init__(self, painter: QPainter, to_pixels: Callable[[Array], Array], room: QRectF, ground: str) -> None:
        self.painter, self.to_pixels, self.room = painter, to_pixels, room
        light = not ground or luminance(ground) > 0.3
        self.ink = QColor(LIGHT.ver if light else DARK.ver)
        self.casing = QColor("#FFFFFF" if light else "#0B1220")
        self.casing.setAlpha(230)
        self.taken: list[QRectF] = []
        self.quiet = False

    def paint(self, handles: HandleSet, picked: str, hovered: str) -> None:
        """Draw outlines and arrows first, then beads, then labels."""
        self.painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        both = (handles.ghost, True), (handles.frame, False)
        rings = [(self._outline(ring), dashed) for ring, dashed in both if ring is not None]
        boxes = [ring.boundingRect() for ring, _ in rings]
        self.quiet = bool(rings) and max(max(box.width(), box.height()) for box in boxes) < QUIET
        words: list[tuple[QPointF, str, QPointF]] = []
        middle = self._paint_outlines(rings, words)
        seen = handles.seen(picked)
        for line in handles.lines:
            self._thin(line)
        for arrow in handles.arrows:
            self._paint_arrow(arrow, words)
        for handle in seen:
            if handle.tail is not None:
                self._thin(np.stack([handle.tail, handle.at]))
        places = spread([self.to_widget(one.at)[0] for one in seen], [one.form for one in seen])
        few = len(seen) <= LABELLED_MOST
        right = boxes[-1].right() if handles.frame is not None else None
        for handle, at in zip(seen, places, strict=True):
            self._paint_handle(handle, at, handle.name in (picked, hovered), few, right, words)
        self._labels(words, middle)

    def _paint_handle(
        self, handle: Handle, at: QPointF, strong: bool, few: bool, right: float | None, words: list[tuple[QPointF, str, QPointF]]
    ) -> None:
        told = strong or not self.quiet
        if handle.form == "pivot":
            self._paint_pivot(at, strong)
            words += [(at, handle.words, QPointF(-1, 1))] if told else []
        elif handle.form == "point":
            self._paint_point(at, strong)
            words += [(at, handle.words, QPointF(1, 1))] if strong else []
        elif handle.form == "bead":
            self._paint_bead(at, strong)
            words += [(at, handle.words, QPointF(1, 1))] if strong or (few and told) else []
        elif handle.form == "frame" and right is not None and told:
            words.append((QPointF(right, at.y()), handle.words, QPointF(1, 0)))
        elif handle.tail is not None:  # of a curve: seen at the end of its line
            self._paint_bead(at, strong)
        elif handle.form == "tip" and strong:
            self._paint_bead(at, True)

    def to_widget(self, points: Array) -> list[QPointF]:
        """Return where points (k, 2) or (2,) of the open rule's place are drawn."""
        return [QPointF(x, y) for x, y in self.to_pixels(points).tolist()]

    def _outline(self, ring: Array) -> QPolygonF:
        """An outline as it is drawn: points that are not missed are left out, since wide lines take long for each."""
        points = self.to_pixels(ring)
        if len(points) > FEW_POINTS:
            points = shapely.get_coordinates(shapely.simplify(shapely.linestrings(points), UNSEEN))
        return QPolygonF([QPointF(x, y) for x, y in points.tolist()])

    def _paint_outlines(self, rings: list[tuple[QPolygonF, bool]], words: list[tuple[QPointF, str, QPointF]]) -> QPointF:
        """Draw outlines, dashed or not; return the middle of the dashed one, the motif's."""
        middle = self.room.center()
        for shape, dashed in rings:
            path = QPainterPath()
            path.addPolygon(shape)
            path.closeSubpath()
            self._line(path, dashed)
            if dashed:
                box = shape.boundingRect()
                middle = box.center()
                if not self.quiet:
                    words.append((QPointF(box.left(), box.center().y()), "motif", QPointF(-1, 0)))
        return middle

    def _thin(self, points: Array) -> None:
        """Draw a thin dashed line, such as a mirror or the far sides of a cell."""
        path = QPainterPath()
        path.addPolygon(QPolygonF(self.to_widget(points)))
        self.painter.setBrush(Qt.BrushStyle.NoBrush)
        for ink, width in ((self.casing, 2.6), (self.ink, 1.0)):
            pen = QPen(ink, width)
            pen.setDashPattern([5.0 * 2.6 / width, 3.0 * 2.6 / width])
            self.painter.setPen(pen)
            self.painter.drawPath(path)

    def _line(self, path: QPainterPath, dashed: bool = False) -> None:
        self.painter.setBrush(Qt.BrushStyle.NoBrush)
        self.painter.setPen(QPen(self.casing, 4.4))
        self.painter.drawPath(path)
        pen = QPen(self.ink, 2)
        if dashed:
            pen.setDashPattern([3, 2.2])
        self.painter.setPen(pen)
        self.painter.drawPath(path)

    def _paint_arrow(self, arrow: Arrow, words: list[tuple[QPointF, str, QPointF]]) -> None:
        start, end = self.to_widget(arrow.start)[0], self.to_widget(arrow.end)[0]
        dx, dy = end.x() - start.x(), end.y() - start.y()
        length = math.hypot(dx, dy)
        if length < LEAST_STEP:
            return
        ux, uy = dx / length, dy / length
        path = QPainterPath(start)
        path.lineTo(end)
        for side in (-1, 1):
            path.moveTo(end.x() - 9 * ux + side * 5 * uy, end.y() - 9 * uy - side * 5 * ux)
            path.lineTo(end)
        self._line(path)
        away = QPointF(0, -1) if abs(ux) > abs(uy) * 1.9 else QPointF(1 if ux >= 0 else -1, 1 if uy >= 0 else -1)
        at = QPointF((start.x() + end.x()) / 2, min(start.y(), end.y()) - 26) if away == QPointF(0, -1) else end
        if arrow.words and not self.quiet:
            words.append((at, arrow.words, away))

    def _paint_pivot(self, at: QPointF, strong: bool) -> None:
        for ink, width in ((self.casing, 5.0), (self.ink, 2.4 if strong else 2.0)):
            self.painter.setPen(QPen(ink, width, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
            self.painter.setBrush(Qt.BrushStyle.NoBrush)
            self.painter.drawEllipse(at, 5.5, 5.5)
            for k in range(3):
                a = math.radians(-90 + 120 * k)
                self.painter.drawLine(
                    QPointF(at.x() + 5.5 * math.cos(a), at.y() + 5.5 * math.sin(a)),
                    QPointF(at.x() + 13 * math.cos(a), at.y() + 13 * math.sin(a)),
                )
        self.painter.setPen(Qt.PenStyle.NoPen)
        self.painter.setBrush(self.ink)
        self.painter.drawEllipse(at, 2, 2)

    def _paint_point(self, at: QPointF, strong: bool) -> None:
        """A point of an outline: a small square."""
        side = 4.0 if strong else 3.0
        box = QRectF(at.x() - side, at.y() - side, 2 * side, 2 * side)
        self.painter.setPen(QPen(self.casing, 4))
        self.painter.setBrush(self.casing)
        self.painter.drawRect(box)
        self.painter.setPen(QPen(self.ink, 1.6))
        self.painter.setBrush(self.ink if strong else self.casing)
        self.painter.drawRect(box)

    def _paint_bead(self, at: QPointF, strong: bool) -> None:
        self.painter.setPen(QPen(self.casing, 5))
        self.painter.setBrush(self.casing)
        self.painter.drawEllipse(at, 4.5, 4.5)
        self.painter.setPen(QPen(self.ink, 2))
        self.painter.setBrush(self.ink if strong else self.casing)
        self.painter.drawEllipse(at, 4.5, 4.5)

    def _labels(self, words: list[tuple[QPointF, str, QPointF]], middle: QPointF) -> None:
        font = QFont(self.painter.font())
        font.setPixelSize(px(12))
        self.painter.setFont(font)
        measure = QFontMetricsF(font)
        for at, text, way in words:
            size = (measure.horizontalAdvance(text) + 13, 18.0)
            box = self._free_box(at, way, size)
            self.taken.append(box)
            self.painter.setPen(QPen(self.ink, 1))
            self.painter.setBrush(colour("tag"))
            self.painter.drawRoundedRect(box, 2, 2)
            self.painter.setPen(colour("text"))
            self.painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

    def _free_box(self, at: QPointF, way: QPointF, size: tuple[float, float]) -> QRectF:
        """Place a label beside its point, further away while it would cover another; kept on the sheet's room."""
        wide, high = size
        box = QRectF()
        for step in range(8):
            x = (
                at.x()
                + way.x() * (14 + (6 * step if not way.y() else 0))
                - (wide if way.x() < 0 else wide / 2 if not way.x() else 0)
            )
            y = at.y() + way.y() * (14 + 20 * step) - high / 2
            box = QRectF(x, y, wide, high)
            if not any(box.adjusted(-2, -2, 2, 2).intersects(other) for other in self.taken):
                break
            if not way.y():
                at = QPointF(at.x(), at.y() + 20)
        box.moveLeft(min(max(box.left(), self.room.left() + 4), self.room.right() - wide - 4))
        box.moveTop(min(max(box.top(), self.room.top() + 4), self.room.bottom() - high - 4))
        return box
