"""The curve of a varied number: a small picture, a button in a row, a strip of the numbers."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPainterPath, QPaintEvent, QPen
from PySide6.QtWidgets import QAbstractButton, QSizePolicy, QWidget

from under_lattice.core.errors import InputError
from under_lattice.geometry.chance import lots_of_keys, smooth_noise
from under_lattice.ui.dials.field import shown_short
from under_lattice.ui.look.thread import draw_thread, round_bead
from under_lattice.ui.look.tokens import colour, px
from under_lattice.vary.numbers import Varied, curved
from under_lattice.vary.walk import ONE_COPY, Walk


def curve_path(number: Varied, box: QRectF, walk: Walk = ONE_COPY) -> QPainterPath:
    """Return the run of a number from start to end within a box; chance jumps."""
    count = 9 if number.channel == "chance" and not number.formula else 33
    values = values_along(number, count, walk)
    low, high = float(values.min()), float(values.max())
    height = (values - low) / (high - low) if high > low else np.full(count, 0.5)
    path = QPainterPath()
    for k in range(count):
        at = QPointF(box.left() + box.width() * k / (count - 1), box.bottom() - box.height() * float(height[k]))
        if k == 0:
            path.moveTo(at)
        else:
            path.lineTo(at)
    return path


def values_along(number: Varied, count: int, walk: Walk = ONE_COPY) -> np.ndarray:
    """Return `count` values (count,) of a number from its first to its last step, as they would come out."""
    if number.formula:
        try:
            return number.along(walk, count)
        except InputError:
            return np.linspace(number.start, number.end, count)
    if number.channel == "chance":
        u = lots_of_keys(np.stack([np.zeros(count), np.arange(count)], 1), number.seed)
    elif number.channel == "noise":
        u = smooth_noise(np.stack([np.linspace(0, 5, count), np.zeros(count)], 1), number.seed)
    elif number.channel == "parity":
        u = np.arange(count) % 2 * 1.0
    else:
        u = np.linspace(0, 1, count)
    if number.taken:
        return np.array(number.taken)[np.arange(count) % len(number.taken)]
    return number.start + (number.end - number.start) * curved(number.curve, number.run(u), number.points)


def draw_curve(painter: QPainter, number: Varied, box: QRectF, walk: Walk = ONE_COPY) -> None:
    """Draw the curve on its saffron ground."""
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(colour("saft"))
    painter.drawRoundedRect(box, 2, 2)
    inner = box.adjusted(5, 5, -5, -5)
    path = curve_path(number, inner, walk)
    draw_thread(painter, path, colour("safg"), 1.6)
    round_bead(painter, path.pointAtPercent(0), 1.6, True, colour("safg"))
    round_bead(painter, path.currentPosition(), 1.6, True, colour("safg"))


class CurveButton(QAbstractButton):
    """Shows the curve between start and end; opens the panel of sources."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self.number: Varied | None = None
        self.walk = ONE_COPY
        self.setAccessibleName(name)
        self.setToolTip("What it varies by, and how")
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFixedHeight(px(24))
        self.setMinimumWidth(44)

    def sizeHint(self) -> QSize:
        return QSize(60, 24)

    def show_number(self, number: Varied, walk: Walk) -> None:
        """Show a varied number over the copies it varies by."""
        self.number, self.walk = number, walk
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self.number is not None:
            draw_curve(painter, self.number, QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5), self.walk)
        if self.hasFocus():
            painter.setPen(QPen(colour("ver"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 3, 3)
        painter.end()


class VaryMark(QAbstractButton):
    """The small curve at the end of a row whose number `may` vary, else its room; by keys it is V in the row."""

    def __init__(self, name: str, may: bool = True) -> None:
        super().__init__()
        self.setEnabled(may)
        self.setFixedSize(px(24), px(24))
        self.setAccessibleName(f"Vary {name}")
        self.setToolTip("Let it vary from copy to copy (V)")
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)

    def paintEvent(self, event: QPaintEvent) -> None:
        if not self.isEnabled():
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        path = QPainterPath(QPointF(5, 17))
        path.cubicTo(QPointF(12, 17), QPointF(12, 7), QPointF(19, 7))
        ink = colour("saf" if self.underMouse() else "strong")
        draw_thread(painter, path, ink, 1.6)
        for at in (path.pointAtPercent(0), path.currentPosition()):
            round_bead(painter, at, 1.6, True, ink)
        painter.end()


class NumberStrip(QWidget):
    """A strip of the numbers from first to last, as bars with their first, middle and last value."""

    def __init__(self) -> None:
        super().__init__()
        self.number: Varied | None = None
        self.unit, self.digits, self.walk = "", 2, ONE_COPY
        self.setFixedHeight(px(64))
        self.setMinimumWidth(220)
        self.setAccessibleName("the numbers from first to last")

    def show_number(self, number: Varied, unit: str, digits: int, walk: Walk) -> None:
        """Show a varied number over the copies it varies by."""
        self.number, self.unit, self.digits, self.walk = number, unit, digits, walk
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        if self.number is None:
            return
        count = 21
        values = values_along(self.number, count, self.walk)
        low, high = min(0.0, float(values.min())), max(0.0, float(values.max()))
        painter = QPainter(self)
        room, step = 44.0, self.width() / count
        zero = room * high / ((high - low) or 1.0)
        for k, value in enumerate(values):
            tall = room * float(value) / ((high - low) or 1.0)
            painter.fillRect(QRectF(k * step + 1, zero - max(tall, 0.0), step - 2, max(abs(tall), 1.0)), colour("safg"))
        painter.setPen(colour("text2"))
        for k, align in (
            (0, Qt.AlignmentFlag.AlignLeft),
            (count // 2, Qt.AlignmentFlag.AlignHCenter),
            (count - 1, Qt.AlignmentFlag.AlignRight),
        ):
            painter.drawText(
                QRectF(0, 46, self.width(), 18), align, f"{shown_short(float(values[k]), self.digits)} {self.unit}".strip()
            )
        painter.end()
