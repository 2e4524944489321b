"""The fixed end of a layer: how it lies over what is beneath."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Any, ClassVar, Literal

import numpy as np

from under_lattice.colour.blend import BLENDS, RARE, SPOKEN, Blend
from under_lattice.colour.ramp import Ramp, RampForm
from under_lattice.colour.ramp_text import stops_of_text
from under_lattice.declare.colour_dials import RampPlace, RampReach, RampStops
from under_lattice.declare.dials import Angle, Choice, LayerChoice, Length, Picture, Ratio, When
from under_lattice.declare.mask_strokes import PaintedMask, stroke_along, strokes_of_text, text_of_strokes
from under_lattice.geometry.affine import IDENTITY, Array, apply, inverse, linear
from under_lattice.pattern.ask import moment, rest
from under_lattice.pattern.known import NOTHING_KNOWN, Known
from under_lattice.pattern.stage import Stage
from under_lattice.rules.base import describe
from under_lattice.rules.end import EndRule, Lies
from under_lattice.rules.ends.layer_handles import place_dragged, place_handles
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Drag, HandleSet, with_start
from under_lattice.rules.paints.ramp_handles import CENTRE, END, ramp_dragged, ramp_handles
from under_lattice.rules.paints.ramps import RampLay, ramp_over, sheet_span
from under_lattice.vary.numbers import Number

BY_LAYER = When(field="masked", values=("another layer",), reason="only where another layer is the mask")
PAINTED = When(field="masked", values=("painted",), reason="only for a painted mask")
BY_RAMP = When(field="masked", values=("straight ramp", "round ramp"), reason="only where a ramp is the mask")
NEED_MASK = ("mask_by", "mask_way", "mask_on", "feather")


class LayerEnd(EndRule):
    """Opacity, blend, clip and mask of the layer."""

    title: ClassVar[str] = "Layer"
    words: ClassVar[str] = "How the layer lies over what is beneath it."
    search: ClassVar[str] = "opacity blend transparency clip mask stencil"

    kind: Literal["layer"] = "layer"
    handle: str = "layer"
    opacity: Annotated[Number, Ratio("Opacity", "How opaque the whole layer is.", vary=True)] = 100.0
    blend: Annotated[
        Blend,
        Choice(
            "Blend",
            "How it mixes with what is beneath (W3C Compositing and Blending).",
            options=BLENDS,
            spoken=SPOKEN,
            unsought=RARE,
        ),
    ] = "normal"
    isolated: Annotated[
        Literal["no", "yes"],
        Choice(
            "Apart", "Whether blend modes inside the layer see nothing of what is beneath it.", main=False, options=("no", "yes")
        ),
    ] = "no"
    place_x: Annotated[
        Number, Length("Moved across", "The whole layer, to the right.", vary=True, main=False, group="Place", stays=True)
    ] = 0.0
    place_y: Annotated[Number, Length("Moved down", "The whole layer, down.", vary=True, main=False, group="Place", stays=True)] = (
        0.0
    )
    place_turn: Annotated[
        Number,
        Angle("Turned", "Turns the whole layer about the middle of the sheet.", vary=True, main=False, group="Place", stays=True),
    ] = 0.0
    place_size: Annotated[
        Number,
        Ratio(
            "Sized",
            "Sizes the whole layer from the middle of the sheet; lines keep their width.",
            least=0.1,
            most=10000.0,
            slides=(10.0, 300.0),
            vary=True,
            main=False,
            group="Place",
            stays=True,
        ),
    ] = 100.0
    mask_moves: Annotated[
        Literal["stay on the sheet", "move with the layer"],
        Choice(
            "Clip and mask",
            "The clip and the mask stay on the sheet, or are moved, turned and sized with the layer.",
            main=False,
            group="Place",
            options=("stay on the sheet", "move with the layer"),
        ),
    ] = "stay on the sheet"
    clip: Annotated[
        str, LayerChoice("Clip", "Nothing of the layer is seen outside the outlines of another.", main=False, groups=True)
    ] = ""
    masked: Annotated[
        Literal["another layer", "straight ramp", "round ramp", "painted", "a picture"],
        Choice(
            "Masked by",
            "What says how much of the layer is seen: another layer, a ramp over the sheet, a brush, or how light a picture is.",
            main=False,
            group="Mask",
            options=("another layer", "straight ramp", "round ramp", "painted", "a picture"),
        ),
    ] = "another layer"
    mask: Annotated[
        str,
        LayerChoice(
            "Mask", "Another layer that says how much of this one is seen.", main=False, group="Mask", groups=True, when=(BY_LAYER,)
        ),
    ] = ""
    mask_by: Annotated[
        Literal["lightness", "opacity"],
        Choice(
            "Mask by",
            "What of the mask says it: how light it is, or how opaque.",
            main=False,
            group="Mask",
            options=("lightness", "opacity"),
            when=(BY_LAYER,),
        ),
    ] = "lightness"
    mask_ramp: Annotated[
        str,
        RampStops(
            "Mask ramp",
            "Where it is white the layer is seen, where it is black it is not.",
            main=False,
            group="Mask",
            when=(BY_RAMP,),
        ),
    ] = "0 #FFFFFF; 100 #000000"
    mask_angle: Annotated[
        float,
        Angle(
            "Mask angle",
            "The way the ramp runs, clockwise from the right.",
            main=False,
            group="Mask",
            when=(When(field="masked", values=("straight ramp",), reason="only for a straight ramp"),),
        ),
    ] = 90.0
    mask_across: Annotated[
        float,
        RampPlace(
            "Mask across", "Where the ramp's middle stands, from the left of the sheet.", main=False, group="Mask", when=(BY_RAMP,)
        ),
    ] = 50.0
    mask_down: Annotated[
        float,
        RampPlace(
            "Mask down", "Where the ramp's middle stands, from the top of the sheet.", main=False, group="Mask", when=(BY_RAMP,)
        ),
    ] = 50.0
    mask_reach: Annotated[
        float, RampReach("Mask reach", "How much of the sheet the ramp runs over.", main=False, group="Mask", when=(BY_RAMP,))
    ] = 100.0
    mask_strokes: Annotated[
        str, PaintedMask("Strokes", "Strokes painted on the sheet with the brush below.", main=False, group="Mask", when=(PAINTED,))
    ] = ""
    mask_picture: Annotated[
        str,
        Picture(
            "Mask picture",
            "Covers the sheet; where it is light the layer is seen.",
            main=False,
            group="Mask",
            when=(When(field="masked", values=("a picture",), reason="only where a picture is the mask"),),
        ),
    ] = ""
    brush: Annotated[
        float,
        Length(
            "Brush",
            "Width of the brush, for the next strokes.",
            least=0.001,
            most=1e5,
            main=False,
            group="Mask",
            slides=(2, 120),
            when=(PAINTED,),
        ),
    ] = 30.0
    brush_soft: Annotated[
        float,
        Ratio("Softness", "How much of the brush's width fades, for the next strokes.", main=False, group="Mask", when=(PAINTED,)),
    ] = 60.0
    brush_strength: Annotated[
        float, Ratio("Strength", "How much the next strokes do.", main=False, group="Mask", when=(PAINTED,))
    ] = 100.0
    brush_does: Annotated[
        Literal["hides", "shows"],
        Choice(
            "The brush",
            "Hides what it is drawn over, or shows it again.",
            main=False,
            group="Mask",
            options=("hides", "shows"),
            when=(PAINTED,),
        ),
    ] = "hides"
    feather: Annotated[
        Number,
        Length(
            "Feather",
            "How far the mask goes over from what it shows to what it hides.",
            least=0.0,
            most=1e4,
            slides=(0, 40),
            vary=True,
            main=False,
            group="Mask",
        ),
    ] = 0.0
    mask_way: Annotated[
        Literal["as it is", "inverted"],
        Choice("Mask shows", "What the mask shows, or what it hides.", main=False, group="Mask", options=("as it is", "inverted")),
    ] = "as it is"
    mask_on: Annotated[
        Literal["on", "off"], Choice("Mask is", "Off: the layer is seen whole.", main=False, group="Mask", options=("on", "off"))
    ] = "on"

    def lies(self, known: Known) -> Lies:
        """Return how the layer lies, by what is `known` of the work."""
        on = self.mask_on == "on"
        ramp = self._ramp(known) if self.masked in BY_RAMP.values and on else None
        return Lies(
            moment(self.opacity, known) / 100,
            self.blend,
            self.isolated == "yes",
            self.clip,
            self.mask if self._by_layer() and on else "",
            self.mask_by if self._by_layer() else "lightness",
            ramp,
            self.mask_way == "inverted",
            strokes_of_text(self.mask_strokes) if self.masked == "painted" and on else (),
            self.mask_picture if self.masked == "a picture" and on else "",
            self.mask_moves == "move with the layer",
            moment(self.feather, known),
        )

    def place(self, known: Known) -> Array:
        """Return where the whole layer is brought, a map (2, 3) of the sheet."""
        x, y, turn, size = (moment(one, known) for one in (self.place_x, self.place_y, self.place_turn, self.place_size))
        if (x, y, turn, size) == (0.0, 0.0, 0.0, 100.0):
            return IDENTITY
        out = linear(turn, size / 100, size / 100)
        out[:, 2] = x, y
        return out

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return the place of the whole layer, and the ramp it is masked by."""
        at, turn, size = self._stands()
        found = place_handles(at, turn, size, min(ground.width, ground.height))
        if self.masked in BY_RAMP.values and self.mask_on == "on":
            ramp = ramp_handles(sheet_span(ground.width, ground.height), self._place_of_mask(), self._lay())
            ends = tuple(one for one in ramp.handles if one.name in (CENTRE, END))
            found = replace(found, handles=(*found.handles, *ends), lines=(*found.lines, *ramp.lines))
        return found

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Return where the layer or the ramp of its mask is after a drag."""
        if drag.name in (CENTRE, END):
            changes = ramp_dragged(drag, sheet_span(ground.width, ground.height), self._place_of_mask(), self._lay())
            return {name.replace("ramp_", "mask_"): value for name, value in changes.items()}
        changes = place_dragged(drag, self._stands()[0], min(ground.width, ground.height))
        return {f"place_{name}": with_start(getattr(self, f"place_{name}"), value) for name, value in changes.items()}

    def _place_of_mask(self) -> Array:
        """Where its clip and mask are brought at rest, a map (2, 3) of the sheet."""
        return self.place(NOTHING_KNOWN) if self.mask_moves == "move with the layer" else IDENTITY

    def _stands(self) -> tuple[Array, float, float]:
        """Where the layer is brought at rest (2,), how it is turned, in degrees, and sized, in per cent."""
        return np.array([rest(self.place_x), rest(self.place_y)]), rest(self.place_turn), rest(self.place_size)

    def drawn(self, line: Array) -> dict[str, Any]:
        """Take a line (n, 2) drawn on the sheet, or one with the pressure at each point (n, 3), as one more stroke of the mask.

        Raises
        ------
        InputError
        """
        line = np.column_stack([apply(inverse(self._place_of_mask()), line[:, :2]), line[:, 2:]])
        stroke = stroke_along(line, self.brush, self.brush_soft, self.brush_strength, self.brush_does == "hides")
        return {"masked": "painted", "mask_strokes": text_of_strokes((*strokes_of_text(self.mask_strokes), stroke))}

    def _by_layer(self) -> bool:
        return self.masked == "another layer" and bool(self.mask)

    def _ramp(self, known: Known) -> Ramp:
        """The ramp it is masked by, laid over the sheet."""
        return ramp_over(sheet_span(known.width, known.height), stops_of_text(self.mask_ramp), self._lay(), False)

    def _lay(self) -> RampLay:
        """How the ramp is laid that it is masked by."""
        at = np.array([self.mask_across, self.mask_down]) / 100
        form: RampForm = "linear" if self.masked == "straight ramp" else "radial"
        return RampLay(form, self.mask_angle, at, self.mask_reach / 100)

    def layers(self) -> tuple[str, ...]:
        """Return the layers it is clipped and masked by."""
        return tuple(one for one in (self.clip, self.mask if self._by_layer() else "") if one)

    def idle_dials(self) -> set[str]:
        """Return the names of the dials that have no effect now."""
        return super().idle_dials() | {name for name in NEED_MASK if self.idle(name)}

    def idle(self, name: str) -> str:
        """Return why a dial has no effect now, or nothing."""
        needs_mask = name in NEED_MASK and self.masked == "another layer" and not self.mask
        return "no mask is chosen" if needs_mask else super().idle(name)

    def key_line(self, unit: str) -> str:
        """Return opacity and blend, and that the layer is moved, turned or sized."""
        at_rest = (self.place_x, self.place_y, self.place_turn, self.place_size) == (0.0, 0.0, 0.0, 100.0)
        return f"{describe(self.opacity, '%', 0)}, {SPOKEN[BLENDS.index(self.blend)]}" + ("" if at_rest else ", placed")
