"""Rule: Ink, fill and stroke of the marks, with colours from a palette."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Annotated, Any, ClassVar, Literal

import numpy as np

from under_lattice.colour.blend import BLENDS, RARE, SPOKEN, Blend
from under_lattice.colour.colour import CLEAR, bytes_of
from under_lattice.colour.ramp import Ramp, Stop
from under_lattice.colour.ramp_text import stops_of_text
from under_lattice.declare.colour_dials import Colour, Palette, RampStops
from under_lattice.declare.dials import Angle, Choice, LayerChoice, Length, Ratio, When
from under_lattice.geometry.affine import Array
from under_lattice.pattern.coats import NO_INK, along_lines, without_open
from under_lattice.pattern.marks import Along, Coat, Dash, MarkAsk, Marks, Plate
from under_lattice.rules.base import Rule, RuleFamily, describe
from under_lattice.rules.findings import NoEffect, Placed, Site, Warn
from under_lattice.rules.ground import Standing
from under_lattice.rules.paints.colour_choice import chosen, colours_at
from under_lattice.rules.paints.fill import FORMS, PAINTED, READ, Fill, Source, with_opacity
from under_lattice.rules.paints.layer_fill import AS_IT_LIES, filled_with
from under_lattice.rules.paints.ramps import SHAPE, SHEET, SO_FAR, RampLay, ramp_over, sheet_span, span_of
from under_lattice.rules.surroundings import Surroundings, tidy
from under_lattice.vary.numbers import Number

STROKED = When(field="stroke", values=("one colour", "a palette", "a ramp", "another layer"), reason="there is no stroke")
RUNS = When(field="stroke", values=("a ramp",), reason="only for strokes of a ramp")
ACROSS = When(field="stroke_runs", values=("each shape", "all so far", "the sheet"), reason="the ramp runs along the line")
ONE = When(field="stroke", values=("one colour",), reason="only for a stroke of one colour")
SEVERAL = When(field="stroke", values=("a palette",), reason="only for strokes of a palette")
STROKE_SOURCES = tuple(source for source in PAINTED if source not in ("one colour", "picture"))
Join = Literal["mitre", "round", "bevel"]
Runs = Literal["along the line", "each shape", "all so far", "the sheet"]
SCOPE_OF = {"each shape": SHAPE, "all so far": SO_FAR, "the sheet": SHEET}
DASHED = When(field="line", values=("dashes",), reason="the line is unbroken")


DASHES = ("line", "dash", "dash_gap", "dash_fit")
PALETTE = ("#E6DCC6", "#5E8C86", "#22404A")  # of a fresh ink


class Ink(Fill):
    """Fill and stroke."""

    title: ClassVar[str] = "Ink"
    words: ClassVar[str] = "Fill and stroke, with colours by part, row, column, step, in turn or by chance."
    search: ClassVar[str] = "colour color fill paint outline line border palette swatch"
    family: ClassVar[RuleFamily] = "paint"

    kind: Literal["ink"] = "ink"
    stroke: Annotated[
        Literal["none", "one colour", "a palette", "a ramp", "another layer", "as before"],
        Choice(
            "Stroke",
            "A line round each face; open lines without one have the fill's colour.",
            unsought=("another layer", "as before"),
            options=("none", "one colour", "a palette", "a ramp", "another layer", "as before"),
            search="gradient along line",
        ),
    ] = "none"
    stroke_colour: Annotated[str, Colour("Stroke ink", "Colour of the line.", when=(ONE,))] = "#1C1C1C"
    stroke_by: Annotated[
        Source, Choice("Strokes by", "What gives each line its colour.", options=STROKE_SOURCES, when=(SEVERAL,))
    ] = "row"
    stroke_palette: Annotated[tuple[str, ...], Palette("Stroke palette", "Taken in turn by the lines.", when=(SEVERAL,))] = (
        "#1C1C1C",
        "#C2694C",
    )
    stroke_pattern: Annotated[
        str,
        LayerChoice(
            "Stroke of",
            "The layer or group whose pattern is seen in the lines, where it lies on the sheet.",
            groups=True,
            when=(When(field="stroke", values=("another layer",), reason="only for strokes of another layer"),),
        ),
    ] = ""
    stroke_ramp: Annotated[str, RampStops("Stroke ramp", "The colours of the line's ramp and where they stand.", when=(RUNS,))] = (
        "0 #1C1C1C; 100 #C2694C"
    )
    stroke_runs: Annotated[
        Runs,
        Choice(
            "Stroke runs",
            "Along each line from where it begins to where it ends, or across a shape, all so far or the sheet.",
            options=("along the line", "each shape", "all so far", "the sheet"),
            when=(RUNS,),
        ),
    ] = "along the line"
    stroke_angle: Annotated[
        float,
        Angle("Stroke angle", "The way the ramp runs, clockwise from the right.", main=False, group="Line", when=(RUNS, ACROSS)),
    ] = 90.0
    stroke_width: Annotated[
        Number, Length("Stroke width", "Width of the line on the sheet.", least=0.0, vary=True, slides=(0.0, 5.0), when=(STROKED,))
    ] = 0.5
    stroke_grows: Annotated[
        Literal["no", "with the size of its copy"],
        Choice(
            "Width grows",
            "The width is that of every line, or of a copy in the motif's own size.",
            options=("no", "with the size of its copy"),
            main=False,
            group="Line",
            when=(STROKED,),
        ),
    ] = "no"
    stroke_opacity: Annotated[
        Number, Ratio("Stroke opacity", "How opaque the line is.", vary=True, main=False, group="Line", when=(STROKED,))
    ] = 100.0
    stroke_blend: Annotated[
        Literal["as the fill", *BLENDS],  # type: ignore[valid-type]
        Choice(
            "Blend lines",
            "How each line mixes with what is beneath it, its own fill too.",
            options=("as the fill", *BLENDS),
            spoken=("as the fill", *SPOKEN),
            unsought=BLENDS,
            main=False,
            group="Line",
            when=(STROKED,),
        ),
    ] = "as the fill"
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
        float,
        Length("Dash", "Length of each dash.", least=0.001, slides=(0.1, 20.0), main=False, group="Line", when=(STROKED, DASHED)),
    ] = 2.0
    dash_gap: Annotated[
        float,
        Length(
            "Dash gap",
            "Length of each gap between dashes.",
            least=0.001,
            slides=(0.1, 20.0),
            main=False,
            group="Line",
            when=(STROKED, DASHED),
        ),
    ] = 2.0
    dash_fit: Annotated[
        Literal["a whole number", "as they are"],
        Choice(
            "Dashes fit",
            "Dashes and gaps are sized a little so that a whole number fits each line.",
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
        rest, under, lines = self._under(coats)
        more: dict[str, Any] = {"blend": self.blend}
        if self.colours != "as before":
            fill = self._fill(ask, marks, self.of or at.nearest)
            more |= self._inside(ask, marks, at)
            if isinstance(more["paint"], Ramp) and self.ramp_taken == "one colour a copy":
                flat = colours_at(more["paint"], more["seat"], ask, marks, self.of)
                fill = with_opacity(flat, self._shares(ask, self.fill_opacity))
                more |= {"paint": None, "seat": None}
            under = under._replace(fill=fill)
        under = under._replace(**more)
        if self.stroke != "as before":
            under, lines = self._lined(under, ask, marks, at)
        if lines is not None:
            return (*rest, without_open(under, marks), lines)
        return (*rest, along_lines(under, marks, self._widths(ask, marks)))

    def _under(self, coats: tuple[Coat, ...]) -> tuple[tuple[Coat, ...], Coat, Coat | None]:
        """The coats that stay as they are, the one this ink takes over, and lines that ride on that."""
        if not coats or self.coat == "on top":
            return coats, NO_INK, None
        if coats[-1].rides:
            return coats[:-2], coats[-2], coats[-1]
        return coats[:-1], coats[-1], None

    def _lined(self, under: Coat, ask: MarkAsk, marks: Marks, at: Standing) -> tuple[Coat, Coat | None]:
        """A coat with the lines of this ink, or these apart, where they have a ramp or a blend of their own."""
        stroke, width = self._stroke(ask, marks, self.of or at.nearest)
        dash = Dash((self.dash, self.dash_gap), 0.0, self.dash_fit == "a whole number")
        lined: dict[str, Any] = {"join": self.join, "cap": self.cap, "dash": dash if self.line == "dashes" else None}
        laid = self._laid_in_lines(ask, marks, at)
        own_blend = self.stroke != "none" and self.stroke_blend not in ("as the fill", under.blend)
        if laid is None and not own_blend:
            return under._replace(stroke=stroke, width=width, **lined), None
        paint, seat = laid or (None, None)
        blend = under.blend if self.stroke_blend == "as the fill" else self.stroke_blend
        lines = Coat(NO_INK.fill, stroke, width, **lined, blend=blend, paint=paint, seat=seat, lines=True, rides=True)
        return under._replace(stroke=NO_INK.stroke, width=NO_INK.width, dash=None), lines

    def layers(self) -> tuple[str, ...]:
        """Return the layers it fills shapes and lines with."""
        lines = (self.stroke_pattern,) if self.stroke == "another layer" and self.stroke_pattern else ()
        return tuple(dict.fromkeys((*super().layers(), *lines)))

    def warnings(self, placed: Placed, site: Site) -> Iterable[Warn]:
        """Say also that no layer is chosen to fill lines with."""
        yield from super().warnings(placed, site)
        if self.stroke == "another layer" and not self.stroke_pattern:
            yield Warn("The layer that lines are filled with is not chosen yet, so they are plain.", self.id)

    def _laid_in_lines(self, ask: MarkAsk, marks: Marks, at: Standing) -> tuple[Ramp | Along | Plate, Array | None] | None:
        """The ramp or the pattern of the lines, and where it is laid; nothing where they are of plain colours."""
        if self.stroke == "another layer":
            filling = at.filled_with(self.stroke_pattern)
            sheet = sheet_span(ask.known.width, ask.known.height)
            return None if filling is None else filled_with(filling, AS_IT_LIES, sheet, True, marks)
        if self.stroke != "a ramp":
            return None
        stops = stops_of_text(self.stroke_ramp)
        if self.stroke_runs == "along the line":
            return Along(Ramp(stops, oklab=self.mixing == "Oklab")), None
        span = span_of(SCOPE_OF[self.stroke_runs], ask, marks, at)
        lay = RampLay("linear", self.stroke_angle, np.array([0.5, 0.5]))
        return ramp_over(span, stops, lay, self.mixing == "Oklab"), span.places

    def _stroke(self, ask: MarkAsk, marks: Marks, rule: str) -> tuple[Array, Array]:
        if self.stroke == "none":
            return np.zeros((1, 4), np.uint8), np.zeros(1)
        colour = bytes_of((self.stroke_colour or CLEAR,))
        if self.stroke == "a palette":
            some = bytes_of(self.stroke_palette)
            asked = self.model_copy(update={"colours": self.stroke_by, "palette": self.stroke_palette})
            colour = some[chosen(asked, ask, marks, rule) % len(some)]
        elif self.stroke == "a ramp":
            colour = bytes_of((stops_of_text(self.stroke_ramp)[0].colour,))  # the ramp stands in its place
        return with_opacity(colour, self._shares(ask, self.stroke_opacity)), self._widths(ask, marks)

    def _widths(self, ask: MarkAsk, marks: Marks) -> Array:
        """The width of the lines of each mark (N,), or of all (1,), in the unit of the work."""
        widths = ask.each(self.stroke_width)
        if self.stroke_grows == "no":
            return widths
        return widths * np.sqrt(np.abs(np.linalg.det(ask.horizon.xform[:, :, :2])))[marks.copy]

    def ramp_stops(self, name: str) -> tuple[Stop, ...]:
        """Return the stops of a ramp in its dial."""
        return stops_of_text(self.stroke_ramp) if name == "stroke_ramp" else super().ramp_stops(name)

    def idle(self, name: str) -> str:
        """Return why a dial has no effect now, or nothing; dashes where a ramp runs along the lines."""
        if name in DASHES and self.stroke == "a ramp" and self.stroke_runs == "along the line":
            return "a line with a ramp along it is unbroken"
        return super().idle(name)

    def idle_dials(self) -> set[str]:
        """Return the names of the dials that have no effect now."""
        return super().idle_dials() | {name for name in DASHES if self.idle(name)}

    def without_effect(self, motif: Rule | None = None) -> Mapping[str, NoEffect]:
        """Return the whole ink, where the motif keeps its own colours."""
        if motif is None or not motif.keeps_colours:
            return {}
        words, cure = "The motif keeps its own colours, so this ink has no say.", "Let the inks speak"
        return {"": NoEffect(words, cure, {"colours": "from the inks"}, motif.id)}

    def key_line(self, unit: str) -> str:
        """Return the colours and the stroke."""
        count = len(self.stops() if self.ramped else self.palette)
        fill = {
            "none": "no fill",
            "as before": "fill as before",
            "one colour": f"{self.palette[0]}",
            "part": f"{count} colours, one for each part",
        }.get(self.colours, f"{count} colours, {'in turn' if self.colours == 'in turn' else 'by ' + self.colours}")
        if self.by_layer:
            fill = "filled with another layer" if self.pattern else "no layer chosen to fill with"
        elif self.pictured:
            fill = "colours of the picture"
        elif self.inside in FORMS and self.colours in PAINTED:
            fill = f"{self.inside}, {count} colour{'s' * (count != 1)}"
        elif self.run == "as a ramp" and self.colours in READ:
            fill = f"{count} colours run through by {self.colours}"
        fill = f"on top: {fill}" if self.coat == "on top" else fill
        return fill if self.stroke not in STROKED.values else f"{fill}; line {describe(self.stroke_width, unit)}"
