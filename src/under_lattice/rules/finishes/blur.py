"""Rule: Blur, a Gaussian over all copies together, in all directions or along one."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from under_lattice.colour.effects import Blur as BlurEffect
from under_lattice.declare.dials import Angle, Choice, Length, When
from under_lattice.rules.base import describe
from under_lattice.rules.families import FinishRule


class Blur(FinishRule):
    """Softens what stands above."""

    title: ClassVar[str] = "Blur"
    words: ClassVar[str] = "Softens all that stands above it, evenly or along one direction, in linear light."
    search: ClassVar[str] = "soft gaussian smooth fuzzy motion out of focus"

    kind: Literal["blur"] = "blur"
    size: Annotated[
        float, Length("Size", "The standard deviation of the Gaussian.", least=0.0, most=10_000.0, step=0.1, slides=(0.0, 20.0))
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

    def key_line(self, unit: str) -> str:
        """Return how soft."""
        along = "" if self.way == "all round" else f", along {self.direction:g}°"
        return f"size {describe(self.size, unit)}{along}"
