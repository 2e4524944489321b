"""Rule: Ink, fill and stroke of the marks, with colours from a palette."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Annotated, Any, ClassVar, Literal, get_args

import numpy as np

from under_lattice.colour.blend import BLENDS, RARE, SPOKEN, Blend
from under_lattice.colour.colour import bytes_of
from under_lattice.colour.ramp import Ramp
from under_lattice.declare.colour_dials import Colour, Palette
from under_lattice.declare.dials import Angle, Choice, Length, Picture, Ratio, RuleChoice, Seed, When
from under_lattice.geometry.affine import Array
from under_lattice.geometry.chance import lots_of_keys
from under_lattice.pattern.ask import Ask
from under_lattice.pattern.coats import NO_INK, along_lines
from under_lattice.pattern.marks import Coat, Dash, MarkAsk, Marks
from under_lattice.rules.base import Rule, RuleFamily, describe
from under_lattice.rules.findings import NoEffect
from under_lattice.rules.ground import Standing
from under_lattice.rules.paints.ramps import SCOPES, SHAPE, ramp_over, span_of, stops_of, upright
from under_lattice.rules.surroundings import Surroundings, tidy
from under_lattice.vary.numbers import Number

Source = Literal[
    "part", "row", "column", "diagonal", "step", "ring", "parity", "distance", "direction", "x", "y", "facing", "noise", "chance",
    "picture", "in turn", "one colour", "none", "as before",
]  # fmt: skip
SOURCES: tuple[str, ...] = get_args(Source)
PAINTED = SOURCES[:-2]
STROKED = When(field="stroke", values=("one colour",), reason="there is no stroke")
Join = Literal["mitre", "round", "bevel"]
CHOSEN = ("part", "in turn", *SOURCES[-3:])  # what is no reading of a rule
READ = tuple(source for source in SOURCES if source not in CHOSEN)
RAMPED = When(field="inside", values=("straight ramp", "round ramp"), reason="the fill is flat")
DASHED = When(field="line", values=("dashes",), reason="the line is unbroken")


PALETTE = ("#E6DCC6", "#5E8C86", "#22404A")  # of a fresh ink


class Ink(Rule):
    """Fill and stroke."""

    title: ClassVar[str] = "Ink"
    words: ClassVar[str] = "Fill and stroke, with colours by part, row, column, step, in turn or by chance."
    search: ClassVar[str] = "colour color fill paint outline line border palette swatch"
    family: ClassVar[RuleFamily] = "paint"

    kind: Literal["ink"] = "ink"
    colours: Annotated[
        Source, Choice("Colours by", "What gives each mark its colour.", unsought=("picture", "none", "as before"), options=SOURCES)
    ] = "part"
    palette: Annotated[
        tuple[str, ...],
        Palette("Palette", "Taken in turn.", when=(When(field="colours", values=PAINTED, reason="there is no fill"),)),
    ] = ("#EFE4CF", "#C2694C", "#26374F")
    picture: Annotated[
        str,
        Picture(
            "Picture",
            "Covers the sheet; its brightness is read where the copies stand.",
            when=(When(field="colours", values=("picture",), reason="only for the brightness of a picture"),),
        ),
    ] = ""
    run: Annotated[
        Literal["in turn", "as a ramp"],
        Choice(
            "Palette taken",
            "In turn, or as a ramp run through from the first copy to the last.",
            options=("in turn", "as a ramp"),
            main=False,
            group="Colours",
            when=(When(field="colours", values=READ, reason="only for what is read of a rule"),),
        ),
    ] = "in turn"
    inside: Annotated[
        Literal["flat", "straight ramp", "round ramp"],
        Choice(
            "Fill type",
            "One colour for each mark, or the whole palette as a ramp inside.",
            options=("flat", "straight ramp", "round ramp"),
            main=False,
            group="Fill",
            search="gradient linear radial",
            when=(When(field="colours", values=PAINTED, reason="there is no fill"),),
        ),
    ] = "flat"
    ramp_of: Annotated[
        str,
        RuleChoice(
            "Ramp over",
            "Each shape, each copy of a rule, all that stands above this ink, or the sheet.",
            main=False,
            group="Fill",
            nearest="",
            others=SCOPES,
            when=(RAMPED,),
        ),
    ] = SHAPE
    ramp_turn: Annotated[
        Literal["turns with it", "stays upright"],
        Choice(
            "The ramp",
            "Turns with what it runs over, or keeps its direction on the sheet.",
            options=("turns with it", "stays upright"),
            main=False,
            group="Fill",
            when=(RAMPED,),
        ),
    ] = "turns with it"
    ramp_angle: Annotated[
        float,
        Angle(
            "Ramp angle",
            "The way it runs, clockwise from the right.",
            main=False,
            group="Fill",
            when=(When(field="inside", values=("straight ramp",), reason="only for a straight ramp"),),
        ),
    ] = 90.0
    mixing: Annotated[
        Literal["sRGB", "Oklab"],
        Choice("Mixed in", "Oklab keeps the lightness even.", options=("sRGB", "Oklab"), main=False, group="Fill", when=(RAMPED,)),
    ] = "sRGB"
    fill_opacity: Annotated[
        Number,
        Ratio("Fill opacity", "Of the fill.", vary=True, when=(When(field="colours", values=PAINTED, reason="there is no fill"),)),
    ] = 100.0
    opacity: Annotated[Number, Ratio("Opacity", "Of fill and stroke alike.", vary=True, main=False, group="Blending")] = 100.0
    stroke: Annotated[
        Literal["none", "one colour", "as before"],
        Choice(
            "Stroke",
            "Round each face; open lines without one have the fill's.",
            unsought=("as before",),
            options=("none", "one colour", "as before"),
        ),
    ] = "none"
    stroke_colour: Annotated[str, Colour("Stroke ink", "Colour of the line.", when=(STROKED,))] = "#1C1C1C"
    stroke_width: Annotated[
        Number, Length("Stroke width", "On the sheet.", least=0.0, vary=True, slides=(0.0, 5.0), when=(STROKED,))
    ] = 0.5
    stroke_opacity: Annotated[
        Number, Ratio("Stroke opacity", "Of the line.", vary=True, main=False, group="Line", when=(STROKED,))
    ] = 100.0
    join: Annotated[
        Join,
        Choice("Corners", "How the line turns.", options=("mitre", "round", "bevel"), main=False, group="Line", when=(STROKED,)),
    ] = "mitre"
    cap: Annotated[
        Literal["butt", "round", "square"],
        Choice(
            "Line ends",
            "How the line and its dashes end.",
            options=("butt", "round", "square"),
            main=False,
            group="Line",
            when=(STROKED,),
        ),
    ] = "butt"
    line: Annotated[
        Literal["unbroken", "dashes"],
        Choice("Line type", "Unbroken, or in dashes.", options=("unbroken", "dashes"), main=False, group="Line", when=(STROKED,)),
    ] = "unbroken"
    dash: Annotated[
        float, Length("Dash", "Of each dash.", least=0.001, slides=(0.1, 20.0), main=False, group="Line", when=(STROKED, DASHED))
    ] = 2.0
    dash_gap: Annotated[
        float,
        Length("Dash gap", "Between dashes.", least=0.001, slides=(0.1, 20.0), main=False, group="Line", when=(STROKED, DASHED)),
    ] = 2.0
    dash_fit: Annotated[
        Literal["a whole number", "as they are"],
        Choice(
            "Dashes fit",
            "Sized a little so that a whole number fits each line.",
            options=("a whole number", "as they are"),
            main=False,
            group="Line",
            when=(STROKED, DASHED),
        ),
    ] = "a whole number"
    blend: Annotated[
        Blend,
        Choice(
            "Blend copies",
            "How each mark mixes with what is beneath it.",
            options=BLENDS,
            spoken=SPOKEN,
            unsought=RARE,
            main=False,
            group="Blending",
            search="multiply overlay",
        ),
    ] = "normal"
    of: Annotated[
        str,
        RuleChoice(
            "Rows counted in",
            "The repeat whose rows, columns or steps are counted.",
            main=False,
            group="Colours",
            nearest="the nearest repeat",
        ),
    ] = ""
    seed: Annotated[
        int,
        Seed(
            "Seed",
            "Another seed, other chances.",
            main=False,
            group="Colours",
            when=(When(field="colours", values=("chance",), reason="only for chance"),),
        ),
    ] = 1
    coat: Annotated[
        Literal["in place of", "on top"],
        Choice(
            "Coat",
            "In place of the ink above, or as another coat on top.",
            options=("in place of", "on top"),
            main=False,
            group="Blending",
        ),
    ] = "in place of"

    def lays(self, inks: Sequence[Any]) -> bool:
        """Tell that it always lays a coat."""
        return True

    @classmethod
    def suggested(cls, around: Surroundings) -> dict[str, Any]:
        """Return three quiet colours, and a line in proportion to the motif."""
        return {"palette": PALETTE, "stroke_width": tidy(around.size * 0.015)}

    def paint(self, ask: MarkAsk, marks: Marks, coats: tuple[Coat, ...], at: Standing) -> tuple[Coat, ...]:
        """Return the coats after this ink.

        Parameters
        ----------
        ask : MarkAsk
            At the horizon the marks were drawn for.
        marks : Marks
        coats : tuple of Coat
            What inks above have laid.
        at : Standing
            Where in the chain it stands.
        """
        under = coats[-1] if coats and self.coat == "in place of" else NO_INK
        fill, stroke, width = under[:3]
        more: dict[str, Any] = {"blend": self.blend}
        if self.colours != "as before":
            fill = self._fill(ask, marks, self.of or at.nearest)
            ramped = self.colours in PAINTED and self.inside != "flat"
            more |= self._ramp(ask, marks, at) if ramped else {"paint": None, "seat": None}
        if self.stroke != "as before":
            stroke, width = self._stroke(ask)
            dash = Dash((self.dash, self.dash_gap), 0.0, self.dash_fit == "a whole number")
            more |= {"join": self.join, "cap": self.cap, "dash": dash if self.line == "dashes" else None}
        laid = along_lines(under._replace(fill=fill, stroke=stroke, width=width, **more), marks, ask.each(self.stroke_width))
        return (*(coats if self.coat == "on top" else coats[:-1]), laid)

    def _ramp(self, ask: Ask, marks: Marks, at: Standing) -> dict[str, Any]:
        """The palette as a ramp, and where it is laid."""
        span = span_of(self.ramp_of, ask, marks, at)
        ramp = ramp_over(span, self.palette, self.inside == "round ramp", self.ramp_angle, self.mixing == "Oklab")
        if self.ramp_turn == "stays upright":
            span = upright(span, marks)
        return {"paint": ramp, "seat": span.places}

    def _fill(self, ask: MarkAsk, marks: Marks, rule: str) -> Array:
        if self.colours == "none":
            return np.zeros((1, 4), np.uint8)
        if self.run == "as a ramp" and self.colours in READ:
            return _with_opacity(self._run_through(ask, rule), self._shares(ask, self.fill_opacity))
        colours = bytes_of(self.palette)
        if self.inside != "flat":
            colours[:, 3] = 255  # the ramp says what is clear
        fill = colours[:1] if self.colours == "one colour" else colours[self._turn(ask, marks, rule) % len(colours)]
        return _with_opacity(fill, self._shares(ask, self.fill_opacity))

    def _run_through(self, ask: MarkAsk, rule: str) -> Array:
        """Colours (N, 4) or (1, 4) of the palette as a ramp, by a reading of each mark."""
        table = np.rint(Ramp(stops_of(self.palette), oklab=self.mixing == "Oklab").table() * 255).astype(np.uint8)
        u = ask.read(rule, self.colours, None, self.seed, self.picture)
        return table[:1] if u is None else np.asarray(table[np.rint(u[:, 0] * (len(table) - 1)).astype(np.int64)])

    def _turn(self, ask: MarkAsk, marks: Marks, rule: str) -> Array:
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
        if self.colours in stage.channels:
            counted = np.asarray(stage.channels[self.colours])
        elif self.colours in ("ring", "parity", "diagonal"):
            counted = np.asarray(stage.channels.get("row", 0)) + np.asarray(stage.channels.get("column", 0))
            if self.colours != "diagonal":
                counted = stage.reading(self.colours, stage.xform[..., 2], np.arange(stage.n))
        else:  # a place: as many even stretches as there are colours
            u = ask.read(rule, self.colours, None, self.seed, self.picture)
            assert u is not None
            return np.asarray(np.minimum((u[:, 0] * len(self.palette)).astype(np.int64), len(self.palette) - 1))
        return np.asarray(np.rint(counted[index]).astype(np.int64))

    def _stroke(self, ask: MarkAsk) -> tuple[Array, Array]:
        if self.stroke == "none":
            return np.zeros((1, 4), np.uint8), np.zeros(1)
        colour = _with_opacity(bytes_of((self.stroke_colour,)), self._shares(ask, self.stroke_opacity))
        return colour, ask.each(self.stroke_width)

    def _shares(self, ask: MarkAsk, own: Number) -> Array:
        """An opacity together with that of the whole, per cent (N,) or (1,)."""
        return np.asarray(ask.each(own) * ask.each(self.opacity) / 100)

    def without_effect(self, motif: Rule | None = None) -> Mapping[str, NoEffect]:
        """Return the whole ink, where the motif keeps its own colours."""
        if motif is None or not motif.keeps_colours:
            return {}
        words, cure = "The motif keeps its own colours, so this ink has no say.", "Let the inks speak"
        return {"": NoEffect(words, cure, {"colours": "from the inks"}, motif.id)}

    def key_line(self, unit: str) -> str:
        """Return the colours and the stroke."""
        count = len(self.palette)
        fill = {
            "none": "no fill",
            "as before": "fill as before",
            "one colour": f"{self.palette[0]}",
            "part": f"{count} colours, one for each part",
        }.get(self.colours, f"{count} colours, {'in turn' if self.colours == 'in turn' else 'by ' + self.colours}")
        if self.inside != "flat" and self.colours in PAINTED:
            fill = f"{self.inside}, {count} colours"
        elif self.run == "as a ramp" and self.colours in READ:
            fill = f"{count} colours run through by {self.colours}"
        return fill if self.stroke != "one colour" else f"{fill}; line {describe(self.stroke_width, unit)}"


def _with_opacity(colour: Array, per_cent: Array) -> Array:
    if len(per_cent) == 1 and per_cent[0] == 100.0:
        return colour
    share = np.clip(per_cent, 0, 100) / 100
    out = np.array(np.broadcast_to(colour, (max(len(colour), len(share)), 4)))
    out[:, 3] = np.rint(out[:, 3] * share)
    return out
