"""Rule: Cells of one colour, each the mean of what is in it."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from under_lattice.colour.effects import Cells as CellsEffect
from under_lattice.declare.dials import Angle, Choice, Length
from under_lattice.rules.base import describe
from under_lattice.rules.finishes.parts import LEAST_PITCH, Pitched


class Cells(Pitched):
    """A mosaic."""

    title: ClassVar[str] = "Cells"
    words: ClassVar[str] = "Gives each cell of a lattice the mean colour of what is in it, in linear light."
    works_in: ClassVar[str] = "linear light"
    search: ClassVar[str] = "pixelate mosaic blocks hexagon pixels low resolution"

    kind: Literal["cells"] = "cells"
    form: Annotated[
        Literal["hexagons", "squares"], Choice("Lattice", "Of hexagons or squares.", options=("hexagons", "squares"))
    ] = "hexagons"
    pitch: Annotated[
        float, Length("Pitch", "From middle to middle.", least=LEAST_PITCH, most=10_000.0, step=0.1, slides=(1.0, 40.0))
    ] = 10.0
    angle: Annotated[float, Angle("Angle", "How far the lattice is turned.")] = 0.0

    def effect(self) -> CellsEffect:
        """Return what it does to pixels."""
        return CellsEffect(self.form, self.pitch, self.angle)

    def key_line(self, unit: str) -> str:
        """Return what of, and how large."""
        return f"{self.form}, pitch {describe(self.pitch, unit)}"
