"""Motif: the sheet itself, inset if wanted: borders, grounds, what other layers are trimmed at."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from under_lattice.core.declare import Length, Ratio
from under_lattice.core.errors import RuleRefused
from under_lattice.core.stage import Shape
from under_lattice.rules.base import PLAIN, Ground, MotifRule, describe
from under_lattice.rules.rectangle import Rectangle


class SheetMotif(MotifRule):
    """The sheet as a rectangle."""

    title: ClassVar[str] = "Motif"
    words: ClassVar[str] = "The sheet: its rectangle, inset, whatever its size."
    search: ClassVar[str] = "page border frame background canvas margin"

    kind: Literal["sheet"] = "sheet"
    inset: Annotated[
        float, Length("Inset", "From the edge of the sheet; beyond it below zero.", least=-1e4, most=1e5, slides=(-10, 60))
    ] = 10.0
    rounded: Annotated[
        float, Ratio("Rounded", "Corners; 100 % is half of the shorter side.", least=0.0, most=100.0, slides=(0, 100))
    ] = 0.0

    @classmethod
    def noun(cls) -> str:
        """Return what it is called where motifs are chosen."""
        return "Sheet"

    def shape(self) -> Shape:
        """Return the rectangle where no sheet is known: a sheet of 100 by 100 inside the inset."""
        return Rectangle(width=PLAIN.width, height=PLAIN.height, rounded=self.rounded).shape()

    def shape_on(self, ground: Ground) -> Shape:
        """Return the rectangle.

        Raises
        ------
        RuleRefused
            When the inset leaves nothing.
        """
        wide, high = ground.width - 2 * self.inset, ground.height - 2 * self.inset
        if min(wide, high) < 0.001:
            raise RuleRefused(f"an inset of {self.inset:g} leaves nothing of the sheet, {ground.width:g} by {ground.height:g}")
        return Rectangle(width=wide, height=high, rounded=self.rounded).shape()

    def key_line(self, unit: str) -> str:
        """Return the inset."""
        return f"The sheet, inset {describe(self.inset, unit)}"
