"""The stops of a ramp in their row: a thread with beads, and place, colour and opacity of the chosen one."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from under_lattice.colour.ramp import Stop
from under_lattice.colour.ramp_text import text_of_stops
from under_lattice.declare.dials import NumberDial, Ratio
from under_lattice.ui.dials.colour_panel import Swatch
from under_lattice.ui.dials.colour_rows import open_colour
from under_lattice.ui.dials.field import NumberField
from under_lattice.ui.dials.hand import Hand
from under_lattice.ui.dials.ramp_thread import RampThread, Stops
from under_lattice.ui.dials.row import DialRow
from under_lattice.ui.look.tokens import px
from under_lattice.ui.look.words import Words

PLACE = Ratio("Place", "Of the chosen bead, from start to end.")
OPACITY = Ratio("Opacity", "Of the chosen bead.")


class BeadRow(DialRow):
    """A row of beads, with a line below it in which the chosen one stands in figures."""

    def __init__(self, hand: Hand, name: str) -> None:
        super().__init__(hand, name)
        self.bead = QWidget()
        self.figures = QHBoxLayout(self.bead)
        self.figures.setContentsMargins(0, 0, 0, 2)
        self.figures.setSpacing(4)
        self.figures.addStretch(1)

    def bead_field(self, words: str, dial: NumberDial, unit: str, entered: Callable[[float], None]) -> NumberField:
        """Return a field for a number of the chosen bead, put into the line after its words."""
        field = NumberField(dial, unit, self.hand.sheet.resolution, f"{dial.label} of the bead")
        field.entered.connect(entered)
        field.refused.connect(self.refuse)
        field.abandoned.connect(lambda: self.hand.document.give_up(self))
        field.left.connect(self.hand.document.end_visit)
        field.nudged.connect(field.step_seen)
        field.keep_whole(px(64))
        label = Words(words)
        label.setObjectName("small")
        label.setBuddy(field)
        self.figures.addWidget(label)
        self.figures.addWidget(field)
        return field


class RampRow(BeadRow):
    """A thread; below it the chosen bead in figures, and the way back to the palette."""

    def __init__(self, hand: Hand, name: str) -> None:
        super().__init__(hand, name)
        self.thread_ = RampThread(self.dial.label)
        self.thread_.changed.connect(self._changed)
        self.thread_.chose.connect(lambda _: self._show_chosen())
        self.thread_.opened.connect(self.open_colour)
        self.thread_.let_go.connect(hand.document.end_visit)
        self.line.addWidget(self.thread_, 1)
        self.swatch = Swatch("Colour of the bead")
        self.swatch.clicked.connect(lambda: self.open_colour(self.thread_.chosen))
        self.figures.addWidget(self.swatch)
        self.place = self.bead_field("at", PLACE, "%", lambda value: self._set_chosen(place=value / 100))
        self.alpha = self.bead_field("opaque", OPACITY, "%", lambda value: self._set_chosen(alpha=value / 100))
        self.below.insertWidget(0, self.bead)
        self.even = QPushButton("Follow the palette")
        self.even.setObjectName("link")
        self.even.setToolTip("Spread the palette evenly again")
        self.even.clicked.connect(lambda: self.turn(""))
        self.below.insertWidget(1, self.even)

    def _set_chosen(self, **part: float) -> None:
        self.thread_.set_stop(self.thread_.chosen, **part)

    def refresh(self) -> None:
        rule = self.hand.rule
        self.thread_.show_stops(rule.ramp_stops(self.name), getattr(rule, "mixing", "") == "Oklab")
        self.even.setVisible(bool(self.value) and not type(rule).model_fields[self.name].default)
        self._show_chosen()

    def _show_chosen(self) -> None:
        stop: Stop = self.thread_.stops[self.thread_.chosen]
        self.swatch.show_value(stop.colour)
        self.place.show_value(100 * stop.place)
        self.alpha.show_value(100 * stop.alpha)

    def _changed(self, stops: Stops) -> None:
        self.turn(text_of_stops(stops), self)
        self._show_chosen()

    def open_colour(self, at: int) -> None:
        """Open the panel of the colour of a bead."""
        self.thread_.choose(at)
        stop = self.thread_.stops[at]
        self.panel = open_colour(self.swatch, stop.colour, lambda value, _: self.thread_.set_stop(at, colour=value), [], self.hand)
