"""Rule: Twist, pixels turned, drawn out or drawn in within a circle."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Any, ClassVar, Literal

import numpy as np

from under_lattice.colour.effects import Twist as TwistEffect
from under_lattice.declare.dials import Angle, Choice, Length, Ratio, When
from under_lattice.pattern.stage import Stage
from under_lattice.rules.base import describe
from under_lattice.rules.finishes.parts import Centred, circle
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Drag, Handle, HandleSet

TURNING = (When(field="way", values=("twist",), reason="only for a twist"),)
SIZING = (When(field="way", values=("bulge", "pinch"), reason="only for a bulge or pinch"),)


class Twist(Centred):
    """A whirl, a lens or a pinch."""

    title: ClassVar[str] = "Twist"
    words: ClassVar[str] = "Turns pixels within a circle, swells them or draws them in; most at the middle, nothing at the edge."
    search: ClassVar[str] = "vortex swirl whirl bulge pinch lens fisheye distort spiral"

    kind: Literal["twist"] = "twist"
    way: Annotated[
        Literal["twist", "bulge", "pinch"], Choice("Does", "Turns, swells or draws in.", options=("twist", "bulge", "pinch"))
    ] = "twist"
    turn: Annotated[float, Angle("Turn", "How far the middle is turned.", winds=True, slides=(-360.0, 360.0), when=TURNING)] = 120.0
    amount: Annotated[float, Ratio("Amount", "How much it swells or draws in.", when=SIZING)] = 50.0
    radius: Annotated[float, Length("Radius", "Radius of the circle.", least=0.0, most=100_000.0, slides=(0.0, 200.0))] = 120.0

    def effect(self) -> TwistEffect:
        """Return what it does to pixels."""
        amount = self.turn if self.way == "twist" else self.amount / 100
        return TwistEffect(self.way, amount, self.radius, self.across, self.down)

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return its middle and the circle."""
        found = super().handles(above, stage, ground, unit) or HandleSet(())
        edge = Handle("radius", self.middle + np.array([self.radius, 0.0]), f"radius {describe(self.radius, unit)}", "bead")
        return replace(found, handles=(*found.handles, edge), lines=(circle(self.middle, self.radius),))

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Return the middle, or the radius."""
        if drag.name != "radius":
            return super().dragged(drag, above, stage, ground)
        return {"radius": drag.length(float(np.hypot(*(drag.to - self.middle))))}

    def key_line(self, unit: str) -> str:
        """Return how much, and within what circle."""
        amount = f"{self.turn:g}°" if self.way == "twist" else f"{self.way} {self.amount:g} %"
        return f"{amount} within {describe(self.radius, unit)}"
