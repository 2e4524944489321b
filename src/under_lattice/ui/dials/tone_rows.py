"""Tones in rows: a curve through which values go, and a black and a white point, each with what tones come in beneath."""

from __future__ import annotations

from typing import Any

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QWidget

from under_lattice.colour.tone_curve import Points, curve_at, with_ends
from under_lattice.declare.curve_dial import TOP, points_of_text, text_of_points
from under_lattice.declare.dials import NumberDial
from under_lattice.geometry.affine import Array
from under_lattice.ui.dials.curve_editor import PAD, CurveEditor
from under_lattice.ui.dials.hand import Hand
from under_lattice.ui.dials.number_row import NumberRow
from under_lattice.ui.dials.ramp_row import BeadRow
from under_lattice.ui.look.tokens import colour, px

CHANNELS = ("all", "red", "green", "blue")
SHOWN = 0.5  # power that few tones are shown by, so that they are seen beside many
FROM = NumberDial("From", "The value that comes in, of the chosen bead, 0 to 255.", least=0.0, most=TOP, digits=0)
TO = NumberDial("To", "The value it becomes, 0 to 255.", least=0.0, most=TOP, digits=0)


def draw_tones(painter: QPainter, room: QRectF, tones: Array | None, channel: str = "all") -> None:
    """Draw how often each value comes in, as a filled area."""
    if tones is None:
        return
    heights = tones[CHANNELS.index(channel)] ** SHOWN
    wide = room.width() / len(heights)
    points = [QPointF(room.left() + k * wide, room.bottom() - h * room.height()) for k, h in enumerate(heights) for k in (k, k + 1)]
    area = QPolygonF([room.bottomLeft(), *points, room.bottomRight()])
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(colour("line"))
    painter.drawPolygon(area)


class ToneCurveEditor(CurveEditor):
    """Beads on a curve that never turns back between them, before the tones that come in."""

    ground_colour, thread_colour, digits = "field", "ver", 6

    def __init__(self, name: str) -> None:
        super().__init__()
        self.tones: Array | None = None
        self.channel = "all"
        self.setFixedHeight(px(168))
        self.setAccessibleName(f"{name}: beads from what value to what")

    def drawn(self) -> Points:
        """Return the curve, finely."""
        x = np.linspace(0.0, 1.0, 101)
        return tuple(zip(x.tolist(), curve_at(self.points, x).tolist(), strict=True))

    def room(self) -> QRectF:
        """Return where the curve is drawn."""
        return QRectF(self.rect()).adjusted(PAD, PAD, -PAD, -PAD)

    def paint_behind(self, painter: QPainter) -> None:
        """Paint the tones, quarters, and the line on which nothing changes."""
        room = self.room()
        draw_tones(painter, room, self.tones, self.channel)
        painter.setPen(QPen(colour("edge"), 0.5))
        for k in (0.25, 0.5, 0.75):
            painter.drawLine(self.at((k, 0.0)), self.at((k, 1.0)))
            painter.drawLine(self.at((0.0, k)), self.at((1.0, k)))
        painter.drawLine(self.at((0.0, 0.0)), self.at((1.0, 1.0)))


class ToneCurveRow(BeadRow):
    """The curve, and the chosen bead in figures."""

    def __init__(self, hand: Hand, name: str) -> None:
        super().__init__(hand, name)
        self.editor = ToneCurveEditor(self.dial.label)
        self.editor.changed.connect(self._changed)
        self.editor.let_go.connect(hand.document.end_visit)
        self.label.hide()  # the curve says what it is
        self.below.insertWidget(0, self.editor)
        self.from_ = self.bead_field("from", FROM, "", lambda value: self._typed(0, value))
        self.to = self.bead_field("to", TO, "", lambda value: self._typed(1, value))
        self.below.insertWidget(1, self.bead)

    def _typed(self, part: int, value: float) -> None:
        """Set one number of the chosen bead; a bead never passes another."""
        to = list(self.editor.points[self.editor.chosen])
        to[part] = value / TOP
        self.editor.move_to(self.editor.chosen, (to[0], to[1]))

    def refresh(self) -> None:
        points = with_ends(tuple((x / TOP, y / TOP) for x, y in points_of_text(self.value)))
        self.editor.channel = getattr(self.hand.rule, "channels", "all")
        self.editor.tones = self.hand.facts.tones.get(self.hand.rule_id)
        self.editor.show_points(points)
        self._show_bead()

    def _show_bead(self) -> None:
        x, y = self.editor.points[min(self.editor.chosen, len(self.editor.points) - 1)]
        self.from_.show_value(TOP * x)
        self.to.show_value(TOP * y)

    def _changed(self, points: Any) -> None:
        self.turn(text_of_points(tuple((TOP * x, TOP * y) for x, y in points)), self)
        self._show_bead()


class Tones(QWidget):
    """The tones that come in, with lines at the black and the white point."""

    def __init__(self) -> None:
        super().__init__()
        self.tones: Array | None = None
        self.marks: tuple[float, ...] = ()
        self.setFixedHeight(px(48))
        self.setAccessibleName("The tones that come in, from black to white")

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        room = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        painter.setPen(QPen(colour("line"), 1))
        painter.drawRect(room)
        draw_tones(painter, room, self.tones)
        painter.setPen(QPen(colour("ver"), 2))
        for at in self.marks:
            x = room.left() + at * room.width()
            painter.drawLine(QPointF(x, room.top()), QPointF(x, room.bottom()))
        painter.end()


class TonePointRow(NumberRow):
    """A number with the tones that come in beneath it."""

    def __init__(self, hand: Hand, name: str) -> None:
        super().__init__(hand, name)
        self.tones = Tones()
        self.below.insertWidget(0, self.tones)

    def refresh(self) -> None:
        super().refresh()
        rule: Any = self.hand.rule
        self.tones.tones = self.hand.facts.tones.get(self.hand.rule_id)
        self.tones.marks = (rule.black / 100, rule.white / 100)
        self.tones.update()
