"""What lies under and over the picture of a sheet: its background and its construction grid."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QColor, QPainter, QPen

from under_lattice.work.model import Sheet


def paint_ground(painter: QPainter, page: QRectF, sheet: Sheet, room: QRectF) -> None:
    """Paint the background of a sheet; squares where it has none."""
    if sheet.background:
        painter.fillRect(page, QColor(sheet.background))
        return
    painter.save()
    painter.setClipRect(page)
    painter.fillRect(page, QColor("#FFFFFF"))
    cell = 8
    for row in range(int(max(page.top(), 0)) // cell, int(min(page.bottom(), room.bottom())) // cell + 1):
        for column in range(int(max(page.left(), 0)) // cell, int(min(page.right(), room.right())) // cell + 1):
            if (row + column) % 2:
                painter.fillRect(column * cell, row * cell, cell, cell, QColor("#E8E8E8"))
    painter.restore()


def paint_grid(painter: QPainter, page: QRectF, sheet: Sheet, scale: float, to_widget: Callable[[float, float], QPointF]) -> None:
    """Draw the main lines, and fainter the lines of the divisions where they are wide enough apart."""
    grid = sheet.grid
    painter.save()
    painter.setClipRect(page)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, grid.form == "triangles")
    reach = float(np.hypot(sheet.width, sheet.height)) / 2
    for parts, alpha in ((grid.divisions, 45), (1, 100)):
        ink = QColor("#166B5D")
        ink.setAlpha(alpha)
        painter.setPen(QPen(ink, 1))
        for degrees, spacing in grid.lines():
            apart = spacing / parts
            if apart * scale < 4 or (parts == 1 and alpha < 100):
                continue
            way = np.array([np.cos(np.radians(degrees)), np.sin(np.radians(degrees))])
            for k in range(-int(reach / apart), int(reach / apart) + 1):
                foot = k * apart * np.array([-way[1], way[0]])
                painter.drawLine(to_widget(*(foot - way * reach)), to_widget(*(foot + way * reach)))
    painter.restore()
