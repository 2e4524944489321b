"""Motif: the sheet itself, inset if wanted: borders, grounds, what other layers are trimmed at."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal

import numpy as np

from under_lattice.core.errors import RuleRefused
from under_lattice.core.units import short
from under_lattice.declare.dials import Length, Ratio
from under_lattice.pattern.stage import Shape, Stage
from under_lattice.rules.base import describe
from under_lattice.rules.families import MotifRule
from under_lattice.rules.ground import PLAIN, Ground
from under_lattice.rules.handles import Drag, Handle, HandleSet
from under_lattice.rules.motifs.rectangle import Rectangle


class SheetMotif(MotifRule):
    """The sheet as a rectangle."""

    title: ClassVar[str] = "Motif"
    words: ClassVar[str] = "The sheet: its rectangle, inset, whatever its size."
    search: ClassVar[str] = "page border frame background canvas margin"

    kind: Literal["sheet"] = "sheet"
    inset: Annotated[
        float,
        Length(
            "Inset", "How far inside the edge of the sheet it lies; below zero beyond it.", least=-1e4, most=1e5, slides=(-10, 60)
        ),
    ] = 10.0
    rounded: Annotated[
        float, Ratio("Rounded", "Radius of the corners; 100 % is half of the shorter side.", least=0.0, most=100.0, slides=(0, 100))
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
            raise RuleRefused(
                f"an inset of {short(self.inset)} leaves nothing of the sheet, {short(ground.width)} by {short(ground.height)}"
            )
        return Rectangle(width=wide, height=high, rounded=self.rounded).shape()

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return a bead for the inset at the top edge, and one for rounded corners."""
        top = np.array([0.0, -ground.height / 2 + self.inset])
        reach = min(ground.width, ground.height) / 2 - self.inset
        corner = np.array([-ground.width / 2 + self.inset + reach * self.rounded / 100, top[1]])
        beads = (
            Handle("inset", top, f"{describe(self.inset, unit)} inset", "bead"),
            Handle("rounded", corner, f"{describe(self.rounded, '%', 0)} rounded", "bead"),
        )
        return HandleSet(beads, None, stage.body_ring)

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Set the inset, or how round corners are."""
        reach = min(ground.width, ground.height) / 2
        if drag.name == "inset":
            return {"inset": drag.length(float(np.clip(drag.to[1] + ground.height / 2, -1e4, reach - 0.001)), 0.0)}
        share = (float(drag.to[0]) + ground.width / 2 - self.inset) / max(reach - self.inset, 1e-9)
        return {"rounded": float(np.clip(round(100 * share, 1), 0.0, 100.0))}

    def key_line(self, unit: str) -> str:
        """Return the inset."""
        return f"The sheet, inset {describe(self.inset, unit)}"
