"""Rule: Halftone, dots or lines as large as tones are dark."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal

import numpy as np

from under_lattice.colour.effects import Halftone as HalftoneEffect
from under_lattice.declare.colour_dials import Colour
from under_lattice.declare.dials import Angle, Choice, Length
from under_lattice.pattern.stage import Stage
from under_lattice.rules.base import describe
from under_lattice.rules.families import FinishRule
from under_lattice.rules.finishes.parts import degrees, line, pulled_tip, rgb, tip_of
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Drag, Handle, HandleSet


class Halftone(FinishRule):
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
    pitch: Annotated[float, Length("Pitch", "From dot to dot.", least=0.01, most=10_000.0, step=0.1, slides=(0.5, 20.0))] = 4.0
    angle: Annotated[float, Angle("Angle", "The lattice is turned by it.")] = 15.0
    stands_for: Annotated[
        Literal["dark", "light"],
        Choice("Stands for", "Dots are large where it is dark, or where it is light.", options=("dark", "light")),
    ] = "dark"
    ink: Annotated[str, Colour("Ink", "Of the dots; with none each takes the colour of what it stands for.")] = "#1C1C1C"
    ground: Annotated[str, Colour("Ground", "Between the dots; none leaves it clear.")] = ""

    def effect(self) -> HalftoneEffect:
        """Return what it does to pixels."""
        ink = rgb(self.ink) if self.ink else None
        ground = rgb(self.ground) if self.ground else None
        return HalftoneEffect(self.form, self.pitch, self.angle, ink, ground, self.stands_for == "light")

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return the step from dot to dot."""
        tip = tip_of(self.pitch, self.angle, np.zeros(2))
        return HandleSet((Handle("pitch", tip, f"pitch {describe(self.pitch, unit)}", "bead"),), lines=(line(np.zeros(2), tip),))

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Return pitch and angle."""
        length, degrees = pulled_tip(drag, np.zeros(2))
        return {"pitch": max(length, 0.01), "angle": degrees}

    def key_line(self, unit: str) -> str:
        """Return what on, and how fine."""
        return f"{self.form}, pitch {describe(self.pitch, unit)}, {degrees(self.angle)}"
