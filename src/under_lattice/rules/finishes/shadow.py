"""Rule: Shadow, beneath all copies together or within them; with no distance it is a glow."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal

import numpy as np

from under_lattice.colour.blend import BLENDS, RARE, SPOKEN, Blend
from under_lattice.colour.effects import Shadow as ShadowEffect
from under_lattice.declare.colour_dials import Colour
from under_lattice.declare.dials import Angle, Choice, Length, Ratio, When
from under_lattice.pattern.stage import Stage
from under_lattice.rules.base import describe
from under_lattice.rules.families import FinishRule
from under_lattice.rules.finishes.parts import LIGHT_KEEPS, degrees, line, pulled_tip, rgb, tip_of
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Drag, Handle, HandleSet


class Shadow(FinishRule):
    """A shadow of what stands above."""

    title: ClassVar[str] = "Shadow"
    words: ClassVar[str] = "Lays a shadow beneath all that stands above it, or within it; with no distance it is a glow."
    along_edges: ClassVar[bool] = True
    search: ClassVar[str] = "drop cast glow halo depth inner light"

    kind: Literal["shadow"] = "shadow"
    distance: Annotated[float, Length("Distance", "How far it falls.", least=0.0, most=10_000.0, step=0.1, slides=(0.0, 20.0))] = (
        3.0
    )
    direction: Annotated[float, Angle("Direction", "In which it falls, clockwise from the right.")] = 60.0
    soft: Annotated[
        float,
        Length(
            "Soft", "How soft it is: the standard deviation of its blur.", least=0.0, most=10_000.0, step=0.1, slides=(0.0, 20.0)
        ),
    ] = 2.0
    colour: Annotated[str, Colour("Colour", "Of the shadow or glow.")] = "#1C1C1C"
    opacity: Annotated[float, Ratio("Opacity", "How dense it is.")] = 50.0
    falls: Annotated[
        Literal["outside", "inside"],
        Choice("Falls", "Beneath what stands above, or within it from its edge.", options=("outside", "inside")),
    ] = "outside"
    spread: Annotated[
        float,
        Length("Spread", "How much larger what throws it is than what stands above.", main=False, least=-1000.0,
               most=1000.0, slides=(-10.0, 10.0)),
    ] = 0.0  # fmt: skip
    blend: Annotated[
        Blend,
        Choice("Blend", "How it mixes with what it falls on.", main=False, options=BLENDS, spoken=SPOKEN, unsought=RARE,
               when=(When(field="falls", values=("inside",), reason="outside it falls on what is beneath: blend the layer"),)),
    ] = "normal"  # fmt: skip
    keeps: Annotated[Literal["stays", "turns"], LIGHT_KEEPS] = "stays"

    def effect(self) -> ShadowEffect:
        """Return what it does to pixels."""
        return ShadowEffect(
            self.distance, self.direction, self.soft, rgb(self.colour), self.opacity / 100 if self.colour else 0.0,
            self.falls == "inside", self.spread, self.blend, self.keeps == "turns",
        )  # fmt: skip

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return where the shadow of the middle falls."""
        tip = tip_of(self.distance, self.direction, np.zeros(2))
        words = f"shadow, {describe(self.distance, unit)} at {degrees(self.direction)}"
        return HandleSet((Handle("shadow", tip, words, "bead"),), lines=(line(np.zeros(2), tip),))

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Return distance and direction."""
        distance, direction = pulled_tip(drag, np.zeros(2))
        return {"distance": distance} | ({"direction": direction} if distance else {})

    def key_line(self, unit: str) -> str:
        """Return how far and how soft."""
        if not self.distance:
            return f"a glow, soft {describe(self.soft, unit)}"
        return f"{describe(self.distance, unit)} at {degrees(self.direction)}, soft {describe(self.soft, unit)}"
