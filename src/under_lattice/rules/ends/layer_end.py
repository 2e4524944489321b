"""The fixed end of a chain: how its layer lies over what is beneath."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from under_lattice.colour.blend import BLENDS, Blend
from under_lattice.declare.dials import Choice, Ratio
from under_lattice.rules.base import Rule, RuleFamily


class LayerEnd(Rule):
    """Opacity and blend of the layer."""

    title: ClassVar[str] = "Layer"
    words: ClassVar[str] = "How the layer lies over what is beneath it."
    search: ClassVar[str] = "opacity blend transparency"
    family: ClassVar[RuleFamily] = "paint"

    kind: Literal["layer"] = "layer"
    handle: str = "layer"
    opacity: Annotated[float, Ratio("Opacity", "Of the whole layer.")] = 100.0
    blend: Annotated[
        Blend, Choice("Blend", "How it mixes with what is beneath (W3C Compositing and Blending).", options=BLENDS)
    ] = "normal"

    def key_line(self, unit: str) -> str:
        """Return opacity and blend."""
        return f"{self.opacity:.0f} %, {self.blend}"
