"""What is under the pointer: its outlines, and its words beside the pointer."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFont, QFontMetricsF, QImage, QPainter, QPainterPath, QPen, QPolygonF

from under_lattice.colour.colour import luminance
from under_lattice.geometry.affine import Array
from under_lattice.picking.picker import Level
from under_lattice.ui.look.tokens import colour, px

Place = Callable[[Array], Array]  # from the sheet to the pixels of the view

MANY = 800  # points, from which on outlines are drawn once for each view, thin and without smooth edges
APART = 1.0  # px across or down from one dot of a thin line to the next
DOTS_MOST = 4_000_000
INKS = {True: ("#FFFFFF", "#1C1C1C"), False: ("#0B1220", "#EDEDED")}  # casing and line, on a light ground and on a dark one


class LevelPaint:
    """Draws what is under the pointer; outlines of many points are kept for as long as the view stays."""

    def __init__(self) -> None:
        self._of: tuple[Level, bytes, tuple[int, int], str] | None = None
        self._lines = QImage()

    def paint(self, painter: QPainter, level: Level, to_pixels: Place, pointer: QPointF, room: QRectF, ground: str) -> None:
        """Draw the outlines of a level, and its words beside the pointer."""
        casing, line = (QColor(one) for one in INKS[not ground or luminance(ground) > 0.3])
        if sum(map(len, level.rings)) <= MANY:
            _outline(painter, level, to_pixels, casing, line)
        else:
            ratio = painter.device().devicePixelRatioF()
            size = (round(room.width() * ratio), round(room.height() * ratio))
            now = (level, to_pixels(np.eye(2)).tobytes(), size, line.name())
            if self._of is None or self._of[0] is not level or self._of[1:] != now[1:]:
                counts = np.array([len(ring) for ring in level.rings])
                points = to_pixels(np.concatenate(level.rings)) * ratio
                self._of, self._lines = now, _thin(points, counts, size, casing, line)
                self._lines.setDevicePixelRatio(ratio)
            painter.drawImage(0, 0, self._lines)
        _say(painter, level.words, pointer, room)


def _outline(painter: QPainter, level: Level, to_pixels: Place, casing: QColor, line: QColor) -> None:
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    path = QPainterPath()
    for ring in level.rings:
        path.addPolygon(QPolygonF([QPointF(x, y) for x, y in to_pixels(ring).tolist()]))
        path.closeSubpath()
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for ink, width in ((casing, 4.0), (line, 1.6)):
        painter.setPen(QPen(ink, width))
        painter.drawPath(path)


def _thin(begin: Array, counts: Array, size: tuple[int, int], casing: QColor, line: QColor) -> QImage:
    """Closed outlines of so many points each (n, 2), in px, as lines of one px with a casing: many points in a few milliseconds."""
    wide, high = size
    after = np.arange(1, len(begin) + 1)
    lasts = np.cumsum(counts)
    after[lasts[counts > 0] - 1] = (lasts - counts)[counts > 0]
    begin, way = _inside(begin, begin[after], np.array(size, float))
    length = np.abs(way).max(1, initial=0.0)
    step = max(APART, float(length.sum()) / DOTS_MOST)
    dots_each = np.maximum(np.ceil(length / step).astype(int), 1)
    which = np.repeat(np.arange(len(dots_each)), dots_each)
    share = (np.arange(len(which)) - (np.cumsum(dots_each) - dots_each)[which]) / dots_each[which]
    dots = np.floor(begin[which] + way[which] * share[:, None]).astype(int)
    dots = dots[(dots >= 0).all(1) & (dots[:, 0] < wide) & (dots[:, 1] < high)]
    hit = np.zeros((high, wide), bool)
    hit[dots[:, 1], dots[:, 0]] = True
    near = hit.copy()
    near[1:] |= hit[:-1]
    near[:-1] |= hit[1:]
    near[:, 1:] |= near[:, :-1].copy()
    near[:, :-1] |= near[:, 1:].copy()
    out = np.where(hit, np.uint32(line.rgba()), np.where(near, np.uint32(casing.rgba()), np.uint32(0)))
    return QImage(out.data, wide, high, 4 * wide, QImage.Format.Format_ARGB32_Premultiplied).copy()


def _inside(begin: Array, end: Array, size: Array) -> tuple[Array, Array]:
    """What of lines (n, 2) to (n, 2) lies in a picture: where it begins (m, 2) and how far it goes (m, 2)."""
    way = end - begin
    with np.errstate(divide="ignore", invalid="ignore"):
        one, other = (0.0 - begin) / way, (size - begin) / way
    still = way == 0
    within = (begin >= 0) & (begin <= size)
    enters = np.where(still, np.where(within, -np.inf, np.inf), np.fmin(one, other)).max(1, initial=0.0)
    leaves = np.where(still, np.inf, np.fmax(one, other)).min(1, initial=1.0)
    seen = enters <= leaves
    begin, way, enters, leaves = begin[seen], way[seen], enters[seen, None], leaves[seen, None]
    return begin + way * enters, way * (leaves - enters)


def _say(painter: QPainter, words: str, pointer: QPointF, room: QRectF) -> None:
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    font = QFont(painter.font())
    font.setPixelSize(px(12))
    painter.setFont(font)
    wide = QFontMetricsF(font).horizontalAdvance(words) + 13
    box = QRectF(pointer.x() + 14, pointer.y() + 18, wide, 18)
    box.moveLeft(min(box.left(), room.right() - wide - 4))
    box.moveTop(min(box.top(), room.bottom() - 22))
    painter.setPen(QPen(colour("strong"), 1))
    painter.setBrush(colour("tag"))
    painter.drawRoundedRect(box, 2, 2)
    painter.setPen(colour("text"))
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, words)
