"""The fixed end of a layer: how it lies over what is beneath."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from under_lattice.colour.blend import BLENDS, RARE, SPOKEN, Blend
from under_lattice.declare.dials import Choice, LayerChoice, Ratio
from under_lattice.pattern.ask import moment
from under_lattice.pattern.known import Known
from under_lattice.rules.base import describe
from under_lattice.rules.end import EndRule, Lies
from under_lattice.vary.numbers import Number


class LayerEnd(EndRule):
    """Opacity, blend, clip and mask of the layer."""

    title: ClassVar[str] = "Layer"
    words: ClassVar[str] = "How the layer lies over what is beneath it."
    search: ClassVar[str] = "opacity blend transparency clip mask stencil"

    kind: Literal["layer"] = "layer"
    handle: str = "layer"
    opacity: Annotated[Number, Ratio("Opacity", "Of the whole layer.", vary=True)] = 100.0
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
    clip: Annotated[
        str, LayerChoice("Clip", "Nothing of the layer is seen outside the outlines of another.", main=False, groups=True)
    ] = ""
    mask: Annotated[str, LayerChoice("Mask", "Another layer that says how much of this one is seen.", main=False, groups=True)] = ""
    mask_by: Annotated[
        Literal["lightness", "opacity"],
        Choice(
            "Mask by", "What of the mask says it: how light it is, or how opaque.", main=False, options=("lightness", "opacity")
        ),
    ] = "lightness"

    def lies(self, known: Known) -> Lies:
        """Return how the layer lies, by what is `known` of the work."""
        isolated = self.isolated == "yes"
        return Lies(moment(self.opacity, known) / 100, self.blend, isolated, self.clip, self.mask, self.mask_by)

    def layers(self) -> tuple[str, ...]:
        """Return the layers it is clipped and masked by."""
        return tuple(one for one in (self.clip, self.mask) if one)

    def idle_dials(self) -> set[str]:
        """Return the names of the dials that have no effect now."""
        return super().idle_dials() | (set() if self.mask else {"mask_by"})

    def idle(self, name: str) -> str:
        """Return why a dial has no effect now, or nothing."""
        return "no mask is chosen" if name == "mask_by" and not self.mask else super().idle(name)

    def key_line(self, unit: str) -> str:
        """Return opacity and blend."""
        return f"{describe(self.opacity, '%', 0)}, {SPOKEN[BLENDS.index(self.blend)]}"
