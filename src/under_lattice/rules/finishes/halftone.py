"""Rule: Halftone, dots or lines as large as tones are dark."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from under_lattice.colour.effects import Halftone as HalftoneEffect
from under_lattice.declare.colour_dials import Colour
from under_lattice.declare.dials import Angle, Choice, Length
from under_lattice.rules.base import describe
from under_lattice.rules.finishes.parts import LEAST_PITCH, Pitched, degrees, rgb


class Halftone(Pitched):
    """A screen of dots."""

    title: ClassVar[str] = "Halftone"
    words: ClassVar[str] = "Turns tones into dots or lines on a lattice: as much of each cell is covered as what is there is dark."
    works_in: ClassVar[str] = "linear light"
    search: ClassVar[str] = "dots screen print raster lines newspaper engraving tone"

    kind: Literal["halftone"] = "halftone"
    form: Annotated[
        Literal["squares", "hexagons", "lines"],
        Choice("Lattice", "Dots on squares, dots on hexagons, or lines.", options=("squares", "hexagons", "lines")),
    ] = "squares"
    pitch: Annotated[float, Length("Pitch", "From dot to dot.", least=LEAST_PITCH, most=10_000.0, step=0.1, slides=(0.5, 20.0))] = (
        4.0
    )
    angle: Annotated[float, Angle("Angle", "How far the lattice is turned.")] = 15.0
    stands_for: Annotated[
        Literal["dark", "light"],
        Choice("Stands for", "Dots are large where it is dark, or where it is light.", options=("dark", "light")),
    ] = "dark"
    ink: Annotated[str, Colour("Ink", "Colour of the dots; with none each takes the colour of what it stands for.")] = "#1C1C1C"
    ground: Annotated[str, Colour("Ground", "Colour between the dots; none leaves it clear.")] = ""

    def effect(self) -> HalftoneEffect:
        """Return what it does to pixels."""
        ink = rgb(self.ink) if self.ink else None
        ground = rgb(self.ground) if self.ground else None
        return HalftoneEffect(self.form, self.pitch, self.angle, ink, ground, self.stands_for == "light")

    def key_line(self, unit: str) -> str:
        """Return what on, and how fine."""
        return f"{self.form}, pitch {describe(self.pitch, unit)}, {degrees(self.angle)}"
