"""Rule: Ink, fill and stroke of the marks, with colours from a palette."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal, get_args

import numpy as np

from under_lattice.core.affine import Array
from under_lattice.core.ask import Ask
from under_lattice.core.chance import lots_of_keys
from under_lattice.core.colour import GREYS, bytes_of
from under_lattice.core.declare import Choice, Colour, Length, Palette, Ratio, RuleChoice, Seed, When
from under_lattice.core.marks import Coat, Marks
from under_lattice.rules.base import Rule, RuleFamily, describe
from under_lattice.vary.numbers import Number

Source = Literal["part", "row", "column", "step", "in turn", "chance", "one colour", "none", "as before"]
SOURCES: tuple[str, ...] = get_args(Source)
PAINTED = SOURCES[:-2]
STROKED = When(field="stroke", values=("one colour",), reason="there is no stroke")
Join = Literal["mitre", "round", "bevel"]


class Ink(Rule):
    """Fill and stroke."""

    title: ClassVar[str] = "Ink"
    words: ClassVar[str] = "Fill and stroke, with colours by part, row, column, step, in turn or by chance."
    search: ClassVar[str] = "colour color fill paint outline line border palette swatch"
    family: ClassVar[RuleFamily] = "paint"

    kind: Literal["ink"] = "ink"
    colours: Annotated[Source, Choice("Colours by", "What gives each mark its colour.", options=SOURCES)] = "part"
    palette: Annotated[
        tuple[str, ...],
        Palette("Palette", "Taken in turn.", when=(When(field="colours", values=PAINTED, reason="there is no fill"),)),
    ] = ("#EFE4CF", "#C2694C", "#26374F")
    fill_opacity: Annotated[
        Number,
        Ratio("Fill opacity", "Of the fill.", vary=True, when=(When(field="colours", values=PAINTED, reason="there is no fill"),)),
    ] = 100.0
    stroke: Annotated[
        Literal["none", "one colour", "as before"],
        Choice("Stroke", "The line round each face.", options=("none", "one colour", "as before")),
    ] = "none"
    stroke_colour: Annotated[str, Colour("Stroke ink", "Colour of the line.", when=(STROKED,))] = "#1C1C1C"
    stroke_width: Annotated[
        Number, Length("Stroke width", "On the sheet.", least=0.0, vary=True, slides=(0.0, 5.0), when=(STROKED,))
    ] = 0.5
    stroke_opacity: Annotated[Number, Ratio("Stroke opacity", "Of the line.", vary=True, main=False, when=(STROKED,))] = 100.0
    join: Annotated[
        Join, Choice("Corners", "How the line turns.", options=("mitre", "round", "bevel"), main=False, when=(STROKED,))
    ] = "mitre"
    of: Annotated[
        str,
        RuleChoice(
            "Rows of",
            "The repeat whose rows, columns or steps are counted.",
            main=False,
            nearest="the nearest repeat",
        ),
    ] = ""
    seed: Annotated[
        int,
        Seed(
            "Seed",
            "Another seed, other chances.",
            main=False,
            when=(When(field="colours", values=("chance",), reason="only for chance"),),
        ),
    ] = 1
    coat: Annotated[
        Literal["in place of", "on top"],
        Choice("Laid", "In place of the ink above, or as another coat on top.", options=("in place of", "on top"), main=False),
    ] = "in place of"

    def paint(self, ask: Ask, marks: Marks, coats: tuple[Coat, ...], nearest: str) -> tuple[Coat, ...]:
        """Return the coats after this ink.

        Parameters
        ----------
        ask : Ask
            At the horizon the marks were drawn for.
        marks : Marks
        coats : tuple of Coat
            What inks above have laid.
        nearest : str
            Id of the repeat whose rows are counted when none is named.
        """
        under = coats[-1] if coats and self.coat == "in place of" else NO_INK
        fill, stroke, width, join = under[:4]
        if self.colours != "as before":
            fill = self._fill(ask, marks, self.of or nearest)
        if self.stroke != "as before":
            stroke, width, join = self._stroke(ask, marks)
        laid = under._replace(fill=fill, stroke=stroke, width=width, join=join)
        return (*(coats if self.coat == "on top" else coats[:-1]), laid)

    def _fill(self, ask: Ask, marks: Marks, rule: str) -> Array:
        if self.colours == "none":
            return np.zeros((1, 4), np.uint8)
        colours = bytes_of(self.palette)
        fill = colours[:1] if self.colours == "one colour" else colours[self._turn(ask, marks, rule) % len(colours)]
        return _with_opacity(fill, ask.each(self.fill_opacity), marks)

    def _turn(self, ask: Ask, marks: Marks, rule: str) -> Array:
        """Whole numbers (N,) that choose from the palette."""
        if self.colours == "in turn":
            return np.arange(marks.count)
        stage = ask.stage(rule)
        if self.colours == "part" or stage is None:
            return marks.family
        index = ask.ancestors(rule)[marks.copy]
        if self.colours == "chance":
            lots = np.stack([lots_of_keys(stage.key, self.seed + 101 * part) for part in range(len(marks.families))])
            return np.asarray((lots[marks.family, index] * len(self.palette)).astype(np.int64))
        counted = np.asarray(stage.channels.get(self.colours, np.zeros(stage.n)))
        return np.asarray(np.rint(counted[index]).astype(np.int64))

    def _stroke(self, ask: Ask, marks: Marks) -> tuple[Array, Array, str]:
        if self.stroke == "none":
            return np.zeros((1, 4), np.uint8), np.zeros(1), self.join
        width = ask.each(self.stroke_width)
        width = width[marks.copy] if len(width) > 1 else width
        return _with_opacity(bytes_of((self.stroke_colour,)), ask.each(self.stroke_opacity), marks), width, self.join

    def key_line(self, unit: str) -> str:
        """Return the colours and the stroke."""
        count = len(self.palette)
        fill = {
            "none": "no fill",
            "as before": "fill as before",
            "one colour": f"{self.palette[0]}",
            "part": f"{count} colours, one for each part",
        }.get(self.colours, f"{count} colours, {'in turn' if self.colours == 'in turn' else 'by ' + self.colours}")
        return fill if self.stroke != "one colour" else f"{fill}; line {describe(self.stroke_width, unit)}"


NO_INK = Coat(np.zeros((1, 4), np.uint8), np.zeros((1, 4), np.uint8), np.zeros(1))


def bare_coat(marks: Marks) -> Coat:
    """Greys for marks that no ink has reached yet, one for each part."""
    return Coat(bytes_of(GREYS)[marks.family % len(GREYS)], NO_INK.stroke, NO_INK.width)


def _with_opacity(colour: Array, per_cent: Array, marks: Marks) -> Array:
    if len(per_cent) == 1 and per_cent[0] == 100.0:
        return colour
    share = np.clip(per_cent, 0, 100) / 100
    share = share[marks.copy] if len(share) > 1 else share
    out = np.array(np.broadcast_to(colour, (max(len(colour), len(share)), 4)))
    out[:, 3] = np.rint(out[:, 3] * share)
    return out
