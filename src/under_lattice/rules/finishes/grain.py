"""Rule: Grain, as of a film."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from under_lattice.colour.effects import Grain as GrainEffect
from under_lattice.declare.dials import Choice, Length, Ratio, Seed
from under_lattice.rules.base import describe
from under_lattice.rules.families import FinishRule


class Grain(FinishRule):
    """Chance on every pixel."""

    title: ClassVar[str] = "Grain"
    words: ClassVar[str] = "Adds grain by chance, even in linear light, strongest in the middle tones."
    works_in: ClassVar[str] = "linear light"
    search: ClassVar[str] = "noise film texture speckle dust"

    kind: Literal["grain"] = "grain"
    amount: Annotated[
        float, Ratio("Amount", "How strong it is: the standard deviation of light in the middle tones.", slides=(0.0, 40.0))
    ] = 12.0
    size: Annotated[float, Length("Size", "Size of each grain.", least=0.001, most=1000.0, step=0.05, slides=(0.1, 5.0))] = 0.5
    hues: Annotated[
        Literal["grey", "coloured"],
        Choice("Grains", "All channels alike, or each by itself.", main=False, options=("grey", "coloured")),
    ] = "grey"
    seed: Annotated[int, Seed("Seed", "Another number gives other grains.", main=False)] = 1

    def effect(self) -> GrainEffect:
        """Return what it does to pixels."""
        return GrainEffect(self.amount / 100, self.size, self.hues == "coloured", self.seed)

    def key_line(self, unit: str) -> str:
        """Return how much, and how coarse."""
        return f"{self.amount:g} %, grains of {describe(self.size, unit)}"
