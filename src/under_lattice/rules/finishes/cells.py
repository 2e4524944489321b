"""Rule: Cells of one colour, each the mean of what is in it."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal

import numpy as np

from under_lattice.colour.effects import Cells as CellsEffect
from under_lattice.declare.dials import Angle, Choice, Length
from under_lattice.pattern.stage import Stage
from under_lattice.rules.base import describe
from under_lattice.rules.families import FinishRule
from under_lattice.rules.finishes.parts import line, pulled_tip, tip_of
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Drag, Handle, HandleSet


class Cells(FinishRule):
    """A mosaic."""

    title: ClassVar[str] = "Cells"
    words: ClassVar[str] = "Gives each cell of a lattice the mean colour of what is in it, in linear light."
    works_in: ClassVar[str] = "linear light"
    search: ClassVar[str] = "pixelate mosaic blocks hexagon pixels low resolution"

    kind: Literal["cells"] = "cells"
    form: Annotated[
        Literal["hexagons", "squares"], Choice("Lattice", "Of hexagons or squares.", options=("hexagons", "squares"))
    ] = "hexagons"
    pitch: Annotated[float, Length("Pitch", "From middle to middle.", least=0.01, most=10_000.0, step=0.1, slides=(1.0, 40.0))] = (
        10.0
    )
    angle: Annotated[float, Angle("Angle", "The lattice is turned by it.")] = 0.0

    def effect(self) -> CellsEffect:
        """Return what it does to pixels."""
        return CellsEffect(self.form, self.pitch, self.angle)

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return the step from cell to cell."""
        tip = tip_of(self.pitch, self.angle, np.zeros(2))
        return HandleSet((Handle("pitch", tip, f"pitch {describe(self.pitch, unit)}", "bead"),), lines=(line(np.zeros(2), tip),))

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Return pitch and angle."""
        length, degrees = pulled_tip(drag, np.zeros(2))
        return {"pitch": max(length, 0.01), "angle": degrees}

    def key_line(self, unit: str) -> str:
        """Return what of, and how large."""
        return f"{self.form}, pitch {describe(self.pitch, unit)}"
