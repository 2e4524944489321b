"""Glyphs on a 16 px grid, drawn: forms of lattices, profiles, commands."""

from __future__ import annotations

import math
from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QIcon, QPainter, QPainterPath, QPen, QPixmap, QPolygonF

from under_lattice.ui.look.thread import form_path

Draw = Callable[[QPainter], None]


def _polygon(painter: QPainter, x: float, y: float, r: float, sides: int, first: float) -> None:
    points = [
        QPointF(x + r * math.cos(math.radians(first + 360 * k / sides)), y + r * math.sin(math.radians(first + 360 * k / sides)))
        for k in range(sides)
    ]
    painter.drawPolygon(QPolygonF(points))


def _hex_points(p: QPainter) -> None:
    for x, y in ((-3.2, -2.6), (3.2, -2.6), (0.0, 3.0)):
        _polygon(p, x, y, 3.7, 6, 30)


def _hex_flats(p: QPainter) -> None:
    for x, y in ((-2.8, -3.2), (-2.8, 3.2), (2.8, 0.0)):
        _polygon(p, x, y, 3.7, 6, 0)


def _squares(p: QPainter) -> None:
    p.drawRect(QRectF(-6, -6, 12, 12))
    p.drawLine(QPointF(0, -6), QPointF(0, 6))
    p.drawLine(QPointF(-6, 0), QPointF(6, 0))


def _triangles(p: QPainter) -> None:
    p.drawPolygon(QPolygonF([QPointF(-7, 6), QPointF(0, -6), QPointF(7, 6)]))
    p.drawPolygon(QPolygonF([QPointF(-3.5, 0), QPointF(3.5, 0), QPointF(0, 6)]))


def _rows(p: QPainter) -> None:
    p.drawRect(QRectF(-6.5, -5.5, 13, 11))
    p.drawLine(QPointF(-6.5, 0), QPointF(6.5, 0))
    p.drawLine(QPointF(0, -5.5), QPointF(0, 0))
    for x in (-3.2, 3.2):
        p.drawLine(QPointF(x, 0), QPointF(x, 5.5))


def _columns(p: QPainter) -> None:
    p.rotate(90)
    _rows(p)


def _vectors(p: QPainter) -> None:
    p.drawPolygon(QPolygonF([QPointF(-7, 5), QPointF(-2, -5), QPointF(7, -5), QPointF(2, 5)]))
    p.drawLine(QPointF(-4.5, 0), QPointF(4.5, 0))


def _tiles(p: QPainter) -> None:
    _polygon(p, -2.5, -2.5, 4.6, 8, 22.5)
    _polygon(p, 4.0, 4.0, 2.7, 4, 0)


def _s_wave(p: QPainter) -> None:
    path = QPainterPath(QPointF(-7, 0))
    path.cubicTo(-2, -11, 2, 11, 7, 0)
    p.drawPath(path)


def _bow(p: QPainter) -> None:
    path = QPainterPath(QPointF(-7, 3))
    path.cubicTo(-3, -6, 3, -6, 7, 3)
    p.drawPath(path)


def _undo(p: QPainter) -> None:
    path = QPainterPath(QPointF(-6, -2))
    path.cubicTo(-1, -6, 6, -4, 5, 2)
    path.cubicTo(4.6, 4.5, 3, 5.5, 0, 5.5)
    p.drawPath(path)
    p.drawPolyline(QPolygonF([QPointF(-2.5, -6), QPointF(-6.5, -2), QPointF(-1.5, 1)]))


def _redo(p: QPainter) -> None:
    p.scale(-1, 1)
    _undo(p)


def _bones(p: QPainter) -> None:
    _polygon(p, 0, 0, 6.5, 6, 30)
    for k in range(6):
        a = math.radians(30 + 60 * k)
        p.drawEllipse(QPointF(6.5 * math.cos(a), 6.5 * math.sin(a)), 1.6, 1.6)


def _handles(p: QPainter) -> None:
    p.drawLine(QPointF(-5, 5), QPointF(5, -5))
    p.drawPolyline(QPolygonF([QPointF(0.5, -5.5), QPointF(5.5, -5.5), QPointF(5.5, -0.5)]))
    p.drawEllipse(QPointF(-5, 5), 2, 2)


def _repeat(p: QPainter) -> None:
    for x in (-6.5, 1.0):
        for y in (-6.5, 1.0):
            p.drawRect(QRectF(x, y, 5.5, 5.5))
    p.fillRect(QRectF(-6.5, -6.5, 5.5, 5.5), p.pen().color())


def _export(p: QPainter) -> None:
    p.drawPolyline(QPolygonF([QPointF(-6, 0), QPointF(-6, 6), QPointF(6, 6), QPointF(6, 0)]))
    p.drawLine(QPointF(0, 3), QPointF(0, -6))
    p.drawPolyline(QPolygonF([QPointF(-3.5, -3), QPointF(0, -6.5), QPointF(3.5, -3)]))


def _more(p: QPainter) -> None:
    for x in (-5, 0, 5):
        p.drawEllipse(QPointF(x, 0), 1.1, 1.1)


def _sheet(p: QPainter) -> None:
    p.drawRect(QRectF(-5, -6.5, 10, 13))
    p.drawLine(QPointF(-5, -2), QPointF(5, -2))


def _plus(p: QPainter) -> None:
    p.drawLine(QPointF(-4.5, 0), QPointF(4.5, 0))
    p.drawLine(QPointF(0, -4.5), QPointF(0, 4.5))


def _attention(p: QPainter) -> None:
    p.drawPolygon(QPolygonF([QPointF(0, -6), QPointF(6.5, 5.5), QPointF(-6.5, 5.5)]))
    p.drawLine(QPointF(0, -2), QPointF(0, 1.6))
    p.drawPoint(QPointF(0, 3.6))


def _menu(p: QPainter) -> None:
    for y, x in ((-4.5, -6.0), (0.0, -6.0), (4.5, -6.0)):
        p.drawLine(QPointF(x, y), QPointF(-x, y))
    p.drawEllipse(QPointF(-1, -4.5), 1.6, 1.6)
    p.drawEllipse(QPointF(3, 0), 1.6, 1.6)
    p.drawEllipse(QPointF(-3, 4.5), 1.6, 1.6)


def _through(*places: tuple[float, float]) -> Draw:
    """A line through places as a glyph."""

    def draw(p: QPainter) -> None:
        p.drawPolyline(QPolygonF([QPointF(x, y) for x, y in places]))

    return draw


def _drawn(p: QPainter) -> None:
    path = QPainterPath(QPointF(-7, 2))
    path.cubicTo(-5, -8, -1, -7, 1, -1)
    path.cubicTo(2.5, 4, 4.5, 4, 7, 2)
    p.drawPath(path)
    p.drawEllipse(QPointF(-2.6, -4.6), 1.2, 1.2)
    p.drawEllipse(QPointF(3.4, 2.6), 1.2, 1.2)


def _strip(p: QPainter) -> None:
    for k in range(3):
        p.drawRect(QRectF(-8 + 5.6 * k, -5, 4.6, 10))
    p.drawLine(QPointF(-7, -8), QPointF(7, -8))


def _compare(p: QPainter) -> None:
    p.drawRect(QRectF(-7.5, -5.5, 15, 11))
    p.drawLine(QPointF(0, -8), QPointF(0, 8))
    p.setBrush(p.pen().color())
    p.drawEllipse(QPointF(0, 0), 2.2, 2.2)


def _tray(p: QPainter) -> None:
    p.drawLine(QPointF(0, -8), QPointF(0, -4))
    p.drawPolyline([QPointF(-5, -1), QPointF(-5, -4), QPointF(5, -4), QPointF(5, -1)])
    for x in (-5, 5):
        p.drawRect(QRectF(x - 3, -1, 6, 7))


GLYPHS: dict[str, Draw] = {
    "peak": _through((-7, 4), (0, -5), (7, 4)),
    "sawtooth": _through((-7, 4), (-1.2, -4), (0, 4), (5.8, -4), (7, 4)),
    "step": _through((-7, 4), (-3.5, 4), (-3.5, -4), (3.5, -4), (3.5, 4), (7, 4)),
    "drawn": _drawn,
    "hexagons on points": _hex_points,
    "hexagons on flats": _hex_flats,
    "squares": _squares,
    "triangles": _triangles,
    "staggered rows": _rows,
    "dropped columns": _columns,
    "two vectors": _vectors,
    "as the tiles lie": _tiles,
    "S": _s_wave,
    "bow": _bow,
    "strip": _strip,
    "compare": _compare,
    "tray": _tray,
    "undo": _undo,
    "redo": _redo,
    "bones": _bones,
    "handles": _handles,
    "repeat": _repeat,
    "export": _export,
    "more": _more,
    "sheet": _sheet,
    "plus": _plus,
    "attention": _attention,
    "menu": _menu,
}


def draw_glyph(painter: QPainter, name: str, at: QPointF, ink: QColor, width: float = 1.5) -> None:
    """Draw a glyph in its 16 px box about a point."""
    painter.save()
    painter.translate(at)
    painter.setPen(QPen(ink, width, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap, Qt.PenJoinStyle.RoundJoin))
    painter.setBrush(ink if name == "more" else Qt.BrushStyle.NoBrush)
    GLYPHS[name](painter)
    painter.restore()


def glyph_icon(name: str, ink: QColor, faint: QColor | None = None) -> QIcon:
    """Return a glyph as an icon, crisp on dense screens; `faint` for the disabled state."""
    icon = QIcon()
    for mode, colour in ((QIcon.Mode.Normal, ink), (QIcon.Mode.Disabled, faint or ink)):
        for density in (1, 2):
            pixmap = QPixmap(18 * density, 18 * density)
            pixmap.setDevicePixelRatio(density)
            pixmap.fill(Qt.GlobalColor.transparent)
            painter = QPainter(pixmap)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            draw_glyph(painter, name, QPointF(9, 9), colour)
            painter.end()
            icon.addPixmap(pixmap, mode)
    return icon


def draw_mark(painter: QPainter, box: QRectF, structure: QColor, faint: QColor) -> None:
    """Draw the sign of Under Lattice: a thread with beads rising through the lines of a lattice."""
    painter.save()
    painter.translate(box.topLeft())
    painter.scale(box.width() / 40, box.height() / 40)
    painter.setPen(QPen(faint, 3, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
    for line in (10, 20, 30):
        painter.drawLine(QPointF(3, line), QPointF(37, line))
    path = QPainterPath(QPointF(6, 36))
    path.cubicTo(14, 34, 16, 24, 20, 20)
    path.cubicTo(24, 16, 26, 6, 34, 4)
    painter.setPen(QPen(structure, 3.4, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPath(path)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(structure)
    for x, y, r in ((9.5, 32.5, 4.0), (20.0, 20.0, 6.0), (30.5, 7.5, 4.0)):
        painter.drawPath(form_path("hexagon", QPointF(x, y), r))
    painter.restore()


def true_icon(picture: QPixmap) -> QIcon:
    """Return a picture as an icon that keeps its colours where it is chosen."""
    icon = QIcon(picture)
    icon.addPixmap(picture, QIcon.Mode.Selected)
    return icon
