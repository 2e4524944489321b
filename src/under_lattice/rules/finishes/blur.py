"""Rule: Blur, a Gaussian in all directions or along one."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal

import numpy as np

from under_lattice.colour.effects import Blur as BlurEffect
from under_lattice.declare.dials import Angle, Choice, Length, When
from under_lattice.pattern.stage import Stage
from under_lattice.rules.base import describe
from under_lattice.rules.families import FinishRule
from under_lattice.rules.finishes.parts import circle, degrees, line, pulled_tip, tip_of
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Drag, Handle, HandleSet


class Blur(FinishRule):
    """Softens what stands above."""

    title: ClassVar[str] = "Blur"
    words: ClassVar[str] = "Softens all that stands above it, evenly or along one direction, in linear light."
    along_edges: ClassVar[bool] = True
    works_in: ClassVar[str] = "linear light"
    search: ClassVar[str] = "soft gaussian smooth fuzzy motion out of focus"

    kind: Literal["blur"] = "blur"
    size: Annotated[
        float,
        Length(
            "Size",
            "How far it spreads: the standard deviation of the Gaussian.",
            least=0.0,
            most=10_000.0,
            step=0.1,
            slides=(0.0, 20.0),
        ),
    ] = 2.0
    way: Annotated[
        Literal["all round", "along one direction"],
        Choice("Goes", "The same in all directions, or along one alone.", options=("all round", "along one direction")),
    ] = "all round"
    direction: Annotated[
        float,
        Angle(
            "Direction",
            "Along which it blurs, clockwise from the right.",
            when=(When(field="way", values=("along one direction",), reason="only for a blur along one direction"),),
        ),
    ] = 0.0

    def effect(self) -> BlurEffect:
        """Return what it does to pixels."""
        return BlurEffect(self.size, None if self.way == "all round" else self.direction)

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return how far it softens, from the middle."""
        way = 0.0 if self.way == "all round" else self.direction
        tip = tip_of(self.size, way, np.zeros(2))
        lines = (circle(np.zeros(2), self.size),) if self.way == "all round" else (line(-tip, tip),)
        return HandleSet((Handle("size", tip, f"size {describe(self.size, unit)}", "bead"),), lines=lines)

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Return the size, and the direction of a blur along one."""
        size, direction = pulled_tip(drag, np.zeros(2))
        return {"size": size} | ({"direction": direction} if self.way != "all round" and size else {})

    def key_line(self, unit: str) -> str:
        """Return how soft."""
        along = "" if self.way == "all round" else f", along {degrees(self.direction)}"
        return f"size {describe(self.size, unit)}{along}"
