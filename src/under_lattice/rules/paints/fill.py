"""What fills the marks: colours from a palette by what is read or by chance, and ramps; the half of an ink above its lines."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Any, Literal, get_args

import numpy as np

from under_lattice.colour.colour import bytes_of
from under_lattice.colour.ramp import FOCUS_MOST, Ramp, RampForm, Stop
from under_lattice.colour.ramp_text import stops_of_text
from under_lattice.declare.colour_dials import Palette, RampPlace, RampReach, RampStops
from under_lattice.declare.dials import Angle, Choice, LayerChoice, Length, Picture, Ratio, RuleChoice, Seed, When
from under_lattice.geometry.affine import Array
from under_lattice.pattern.ask import Ask
from under_lattice.pattern.marks import MarkAsk, Marks
from under_lattice.pattern.stage import Stage
from under_lattice.rules.base import Rule
from under_lattice.rules.findings import Placed, Site, Warn
from under_lattice.rules.ground import Ground, Standing
from under_lattice.rules.handles import Drag, HandleSet
from under_lattice.rules.paints.colour_choice import Weights, chosen
from under_lattice.rules.paints.layer_fill import LayerLay, filled_with, reach_of_fill
from under_lattice.rules.paints.ramp_handles import ramp_dragged, ramp_handles, seat_of
from under_lattice.rules.paints.ramps import SCOPES, SHAPE, SHEET, RampLay, Span, ramp_over, span_of, stops_of, upright
from under_lattice.vary.numbers import Number

Source = Literal[
    "part", "row", "column", "diagonal", "step", "ring", "parity", "distance", "direction", "x", "y", "facing", "noise", "chance",
    "picture", "in turn", "one colour", "none", "as before",
]  # fmt: skip
SOURCES: tuple[str, ...] = get_args(Source)
PAINTED = SOURCES[:-2]
CHOSEN = ("part", "in turn", *SOURCES[-3:])  # what is no reading of a rule
READ = tuple(source for source in SOURCES if source not in CHOSEN)
RAMPED = When(field="inside", values=("straight ramp", "round ramp", "turning ramp"), reason="the fill is no ramp")
BY_LAYER = When(field="inside", values=("another layer",), reason="only for a fill of another layer")
FORMS: dict[str, RampForm] = {"straight ramp": "linear", "round ramp": "radial", "turning ramp": "around"}


class Fill(Rule):
    """What fills the marks."""

    colours: Annotated[
        Source, Choice("Colours by", "What gives each mark its colour.", unsought=("picture", "none", "as before"), options=SOURCES)
    ] = "part"
    palette: Annotated[
        tuple[str, ...],
        Palette("Palette", "The colours, taken in turn.", when=(When(field="colours", values=PAINTED, reason="there is no fill"),)),
    ] = ("#EFE4CF", "#C2694C", "#26374F")
    picture: Annotated[
        str,
        Picture(
            "Picture",
            "It is laid over the sheet; its brightness is read where the copies stand.",
            when=(When(field="colours", values=("picture",), reason="only for the brightness of a picture"),),
        ),
    ] = ""
    run: Annotated[
        Literal["in turn", "as a ramp", "the picture's own"],
        Choice(
            "Palette taken",
            "In turn, as a ramp from the first copy to the last, or a picture's own colours instead, one a copy.",
            options=("in turn", "as a ramp", "the picture's own"),
            unsought=("the picture's own",),
            search="mosaic photo colours sample",
            main=False,
            group="Colours",
            when=(When(field="colours", values=READ, reason="only for what is read of a rule"),),
        ),
    ] = "in turn"
    inside: Annotated[
        Literal["flat", "straight ramp", "round ramp", "turning ramp", "another layer"],
        Choice(
            "Fill type",
            "One colour for each mark, a ramp inside (straight, outwards or round a point), or the pattern of another layer.",
            options=("flat", "straight ramp", "round ramp", "turning ramp", "another layer"),
            search="gradient linear radial conic angular sweep pattern region hatch texture",
            when=(When(field="colours", values=PAINTED, reason="there is no fill"),),
        ),
    ] = "flat"
    ramp: Annotated[
        str,
        RampStops("Ramp", "The colours of the ramp and where they stand; until one is moved the palette is spread evenly."),
    ] = ""
    ramp_taken: Annotated[
        Literal["as it runs", "one colour a copy"],
        Choice(
            "Taken",
            "It runs through each shape, or gives each one flat colour by where its copy stands.",
            main=False,
            group="Fill",
            options=("as it runs", "one colour a copy"),
            when=(RAMPED,),
        ),
    ] = "as it runs"
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
            "The way it runs or begins, or its focus lies, clockwise from the right.",
            main=False,
            group="Fill",
            when=(RAMPED,),
        ),
    ] = 90.0
    ramp_focus: Annotated[
        float,
        Ratio(
            "Focus",
            "How far off its middle, along the angle, a round ramp begins.",
            least=0.0,
            most=100 * FOCUS_MOST,
            slides=(0.0, 95.0),
            main=False,
            group="Fill",
            when=(When(field="inside", values=("round ramp",), reason="only for a round ramp"),),
        ),
    ] = 0.0
    ramp_across: Annotated[
        float,
        RampPlace(
            "Centre across", "Middle of the ramp, from the left of what it runs over.", main=False, group="Fill", when=(RAMPED,)
        ),
    ] = 50.0
    ramp_down: Annotated[
        float,
        RampPlace(
            "Centre down", "Middle of the ramp, from the top of what it runs over.", main=False, group="Fill", when=(RAMPED,)
        ),
    ] = 50.0
    ramp_reach: Annotated[
        float,
        RampReach(
            "Reach",
            "How much of what it runs over the whole ramp takes.",
            main=False,
            group="Fill",
            when=(When(field="inside", values=("straight ramp", "round ramp"), reason="it has no length"),),
        ),
    ] = 100.0
    mixing: Annotated[
        Literal["sRGB", "Oklab"],
        Choice(
            "Mixed in",
            "The space in which colours between two stops are mixed; Oklab keeps the lightness even.",
            options=("sRGB", "Oklab"),
            main=False,
            group="Fill",
            when=(RAMPED,),
        ),
    ] = "sRGB"
    pattern: Annotated[
        str,
        LayerChoice(
            "Filled with",
            "The layer or group whose pattern is seen inside; it may be kept as a source only.",
            groups=True,
            when=(BY_LAYER,),
        ),
    ] = ""
    pattern_of: Annotated[
        str,
        RuleChoice(
            "Pattern over",
            "The sheet, in step through all shapes, or anew in each shape or each copy of a rule.",
            nearest="",
            others=SCOPES,
            when=(BY_LAYER,),
        ),
    ] = SHEET
    pattern_size: Annotated[
        Number,
        Ratio(
            "Pattern size",
            "Size of the pattern, in parts of its own.",
            least=0.1,
            most=10000.0,
            vary=True,
            slides=(5.0, 200.0),
            when=(BY_LAYER,),
        ),
    ] = 100.0
    pattern_turn: Annotated[
        Number, Angle("Pattern turn", "Turns the pattern about its middle.", vary=True, main=False, group="Fill", when=(BY_LAYER,))
    ] = 0.0
    pattern_x: Annotated[
        Number, Length("Pattern across", "How far it is moved to the right.", vary=True, main=False, group="Fill", when=(BY_LAYER,))
    ] = 0.0
    pattern_y: Annotated[
        Number, Length("Pattern down", "How far it is moved down.", vary=True, main=False, group="Fill", when=(BY_LAYER,))
    ] = 0.0
    fill_opacity: Annotated[
        Number,
        Ratio(
            "Fill opacity",
            "Opacity of the fill.",
            vary=True,
            when=(When(field="colours", values=PAINTED, reason="there is no fill"),),
        ),
    ] = 100.0
    opacity: Annotated[
        Number, Ratio("Opacity", "Opacity of fill and stroke together.", vary=True, main=False, group="Blending")
    ] = 100.0
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
    weights: Annotated[
        str,
        Weights(
            "Weights",
            "How often each colour comes, such as 3, 1, 1; empty for all alike.",
            main=False,
            group="Colours",
            when=(When(field="colours", values=("chance",), reason="only for chance"),),
        ),
    ] = ""
    neighbours: Annotated[
        Literal["as they fall", "never alike"],
        Choice(
            "Neighbours",
            "Whether shapes that touch may have one colour.",
            main=False,
            group="Colours",
            options=("as they fall", "never alike"),
            when=(When(field="colours", values=("chance",), reason="only for chance"),),
        ),
    ] = "as they fall"

    def stops(self) -> tuple[Stop, ...]:
        """Return the stops of its ramp: its own, or its palette spread evenly."""
        return stops_of_text(self.ramp) if self.ramp else stops_of(self.palette)

    def ramp_stops(self, name: str) -> tuple[Stop, ...]:
        """Return the stops of its ramp, those of its palette where it has none of its own."""
        return self.stops()

    @property
    def pictured(self) -> bool:
        """Whether each copy has the colour a picture has where it stands."""
        return self.colours == "picture" and self.run == "the picture's own" and bool(self.picture)

    @property
    def ramped(self) -> bool:
        """Whether a ramp is run through, in the marks or from one to the next."""
        return self.colours in PAINTED and (self.inside in FORMS or (self.run == "as a ramp" and self.colours in READ))

    def idle(self, name: str) -> str:
        """Return why a dial has no effect now, or nothing; the ramp where none runs, the palette where one has its own colours."""
        if name == "ramp" and not self.ramped:
            return "no ramp is run through"
        if name == "palette" and self.ramp and self.ramped:
            return "the ramp has colours of its own"
        if name == "palette" and self.by_layer and self.pattern:
            return "the layer has colours of its own"
        if name == "palette" and self.pictured:
            return "the picture has colours of its own"
        return super().idle(name)

    def idle_dials(self) -> set[str]:
        """Return the names of the dials that have no effect now."""
        return super().idle_dials() | {name for name in ("ramp", "palette") if self.idle(name)}

    def _lay(self) -> RampLay:
        """How its ramp is laid."""
        at_point = np.array([self.ramp_across, self.ramp_down]) / 100
        focus = self.ramp_focus / 100 if self.inside == "round ramp" else 0.0
        return RampLay(FORMS[self.inside], self.ramp_angle, at_point, self.ramp_reach / 100, focus)

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return the centre and the end of the ramp in the marks."""
        seat = self._seat(stage, ground)
        return None if seat is None else ramp_handles(*seat, self._lay())

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Return where the ramp lies after a drag."""
        seat = self._seat(stage, ground)
        return {} if seat is None else ramp_dragged(drag, *seat, self._lay())

    def _seat(self, stage: Stage, ground: Ground) -> tuple[Span, Array] | None:
        """What the ramp in the marks runs over, and where that is; nothing where there is none."""
        if self.inside not in FORMS or self.colours not in PAINTED:
            return None
        return seat_of(self.ramp_of, self.ramp_turn == "stays upright", stage, ground)

    def layers(self) -> tuple[str, ...]:
        """Return the layer or group it fills shapes with."""
        return (self.pattern,) if self.by_layer and self.pattern else ()

    def warnings(self, placed: Placed, site: Site) -> Iterable[Warn]:
        """Say that no layer is chosen to fill with."""
        if self.by_layer and not self.pattern:
            yield Warn("The layer that shapes are filled with is not chosen yet, so they are flat.", self.id)

    def reads_beyond(self, layer: str, width: float, height: float) -> float:
        """Return how many times as large the pattern should be so that none of the sheet is bare of it."""
        numbers = (self.pattern_x, self.pattern_y, self.pattern_turn, self.pattern_size)
        return reach_of_fill(*numbers, np.array([width, height]) / 2) if layer in Fill.layers(self) else 1.0

    @property
    def by_layer(self) -> bool:
        """Whether shapes are filled with the pattern of another layer."""
        return self.colours in PAINTED and self.inside in BY_LAYER.values

    def _inside(self, ask: MarkAsk, marks: Marks, at: Standing) -> dict[str, Any]:
        """What is seen inside the shapes in place of one colour, and where it is laid; nothing of flat ones."""
        if self.colours in PAINTED and self.inside in FORMS:
            return self._ramp(ask, marks, at)
        filling = at.filled_with(self.pattern) if self.by_layer else None
        if filling is None:
            return {"paint": None, "seat": None}
        each = (self.pattern_x, self.pattern_y, self.pattern_turn, self.pattern_size)
        lay = LayerLay(*(np.asarray(ask.each(one)) for one in each))
        paint, seat = filled_with(filling, lay, span_of(self.pattern_of, ask, marks, at), self.pattern_of == SHEET, marks)
        return {"paint": paint, "seat": seat}

    def _ramp(self, ask: Ask, marks: Marks, at: Standing) -> dict[str, Any]:
        """The palette as a ramp, and where it is laid."""
        span = span_of(self.ramp_of, ask, marks, at)
        ramp = ramp_over(span, self.stops(), self._lay(), self.mixing == "Oklab")
        seat = upright(span, marks.xform) if self.ramp_turn == "stays upright" else span.places
        return {"paint": ramp, "seat": seat}

    def _fill(self, ask: MarkAsk, marks: Marks, rule: str) -> Array:
        if self.colours == "none":
            return np.zeros((1, 4), np.uint8)
        if self.run == "as a ramp" and self.colours in READ:
            return with_opacity(self._run_through(ask, rule), self._shares(ask, self.fill_opacity))
        if self.pictured and (found := ask.pictured(rule, self.picture)) is not None:
            return with_opacity(found[:, 0], self._shares(ask, self.fill_opacity))
        colours = bytes_of(self.palette)
        if self.inside != "flat":
            colours[:, 3] = 255  # the ramp says what is clear
        fill = colours[:1] if self.colours == "one colour" else colours[chosen(self, ask, marks, rule) % len(colours)]
        return with_opacity(fill, self._shares(ask, self.fill_opacity))

    def _run_through(self, ask: MarkAsk, rule: str) -> Array:
        """Colours (N, 4) or (1, 4) of the palette as a ramp, by a reading of each mark."""
        table = np.rint(Ramp(self.stops(), oklab=self.mixing == "Oklab").table() * 255).astype(np.uint8)
        u = ask.read(rule, self.colours, None, self.seed, self.picture)
        return table[:1] if u is None else np.asarray(table[np.rint(u[:, 0] * (len(table) - 1)).astype(np.int64)])

    def _shares(self, ask: MarkAsk, own: Number) -> Array:
        """An opacity together with that of the whole, per cent (N,) or (1,)."""
        return np.asarray(ask.each(own) * ask.each(self.opacity) / 100)


def with_opacity(colour: Array, per_cent: Array) -> Array:
    """Return colours (N, 4) or (1, 4) in bytes at opacities (N,) or (1,) in per cent."""
    if len(per_cent) == 1 and per_cent[0] == 100.0:
        return colour
    share = np.clip(per_cent, 0, 100) / 100
    out = np.array(np.broadcast_to(colour, (max(len(colour), len(share)), 4)))
    out[:, 3] = np.rint(out[:, 3] * share)
    return out
