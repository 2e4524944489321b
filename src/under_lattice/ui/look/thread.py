"""Thread and bead: the one painter of chain, sliders, curves and axes."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPath, QPen, QPolygonF

from under_lattice.ui.look.tokens import colour


def draw_thread(painter: QPainter, path: QPainterPath, ink: QColor | None = None, width: float = 2.0) -> None:
    """Draw a thread along a path."""
    painter.setPen(QPen(ink or colour("ver"), width, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPath(path)


def straight(x1: float, y1: float, x2: float, y2: float) -> QPainterPath:
    """Return a straight thread."""
    path = QPainterPath(QPointF(x1, y1))
    path.lineTo(x2, y2)
    return path


def round_bead(
    painter: QPainter, at: QPointF, radius: float, filled: bool, ink: QColor | None = None, ground: QColor | None = None
) -> None:
    """Draw a round bead; hollow shows the ground."""
    ink = ink or colour("ver")
    painter.setPen(QPen(ink, 2))
    painter.setBrush(ink if filled else (ground or colour("field")))
    painter.drawEllipse(at, radius, radius)


def form_path(form: str, at: QPointF, r: float) -> QPainterPath:
    """Return the outline of a chain bead: hexagon, round, square, drop or weight."""
    path = QPainterPath()
    x, y = at.x(), at.y()
    if form == "hexagon":
        points = [QPointF(x + r * math.sin(k * math.pi / 3), y - r * math.cos(k * math.pi / 3)) for k in range(6)]
        path.addPolygon(QPolygonF(points))
        path.closeSubpath()
    elif form == "square":
        path.addRoundedRect(QRectF(x - r * 0.86, y - r * 0.86, r * 1.72, r * 1.72), 3, 3)
    elif form == "drop":
        path.moveTo(x, y - r * 1.25)
        path.cubicTo(x + r * 0.5, y - r * 0.6, x + r, y - r * 0.2, x + r, y + r * 0.15)
        path.arcTo(QRectF(x - r, y - r * 0.85, 2 * r, 2 * r), 0, -180)
        path.cubicTo(x - r, y - r * 0.2, x - r * 0.5, y - r * 0.6, x, y - r * 1.25)
        path.closeSubpath()
    elif form == "weight":
        path.moveTo(x - r, y - r * 0.9)
        path.lineTo(x + r, y - r * 0.9)
        path.lineTo(x + r, y + r * 0.1)
        path.lineTo(x, y + r * 1.15)
        path.lineTo(x - r, y + r * 0.1)
        path.closeSubpath()
    else:
        path.addEllipse(at, r, r)
    return path


def chain_bead(painter: QPainter, form: str, at: QPointF, on: bool, focus: bool = False, big: bool = False) -> None:
    """Draw a bead of the chain: filled with a tick when on, hollow when off."""
    r = 9.0 if big else 7.5
    path = form_path(form, at, r)
    painter.setPen(QPen(colour("ver"), 2))
    painter.setBrush(colour("ver") if on else colour("panel"))
    painter.drawPath(path)
    painter.setPen(QPen(colour("verink"), 1.7, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
    if form == "weight":
        painter.drawLine(QPointF(at.x() - 4, at.y() - 2), QPointF(at.x() + 4, at.y() - 2))
    elif on:
        tick = QPainterPath(QPointF(at.x() - 3.2, at.y() + 0.4))
        tick.lineTo(at.x() - 0.8, at.y() + 2.8)
        tick.lineTo(at.x() + 3.4, at.y() - 2.4)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(tick)
    if focus:
        painter.setPen(QPen(colour("text"), 2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawEllipse(at, r + 4, r + 4)


def detour(path: QPainterPath, x: float, y: float) -> None:
    """Lead a thread that comes down at `x` round a bead that is off at height `y`."""
    path.lineTo(x, y - 18)
    path.cubicTo(x, y - 10, x - 12, y - 12, x - 12, y)
    path.cubicTo(x - 12, y + 12, x, y + 10, x, y + 18)
