"""Motif: kite, a rhomb where it is widest at half its height."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from under_lattice.declare.dials import Angle, Ratio
from under_lattice.geometry.outline import polygon_verbs
from under_lattice.rules.base import describe
from under_lattice.rules.shared.measure_spots import Spot
from under_lattice.rules.shared.measured import Face, Grip, MeasuredMotif, Numbers, extent
from under_lattice.vary.numbers import Number


class Kite(MeasuredMotif):
    """A kite or a dart; a rhomb where both halves are alike."""

    words: ClassVar[str] = "A rhomb or kite: width, height, and how high it is widest."
    search: ClassVar[str] = "diamond lozenge dart arrowhead rhombus deltoid"
    grips: ClassVar[tuple[Grip, ...]] = (Grip("width", 0.0), Grip("height", -90.0))
    spots: ClassVar[tuple[Spot, ...]] = (Spot("widest", lambda n: (-n["width"] / 2, (n["widest"] / 100 - 0.5) * n["height"])),)

    kind: Literal["kite"] = "kite"
    width: Annotated[Number, extent("Width", "From side to side.")] = 24.0
    height: Annotated[Number, extent("Height", "From tip to tip.")] = 40.0
    widest: Annotated[
        Number,
        Ratio(
            "Widest at",
            "How far below the top it is widest; above 100 % it is a dart.",
            least=-400.0,
            most=500.0,
            vary=True,
            slides=(0.0, 100.0),
        ),
    ] = 50.0
    turn: Annotated[float, Angle("Turn", "About the middle of its height.", main=False, group="Place")] = 0.0

    def faces(self, numbers: Numbers) -> tuple[Face, ...]:
        """Return the top, the right, the bottom and the left corner."""
        wide, high, none = numbers["width"] / 2, numbers["height"] / 2, 0 * numbers["width"]
        level = (numbers["widest"] / 50 - 1) * high
        corners = (none, -high), (wide, level), (none, high), (-wide, level)
        return ((polygon_verbs(4), np.stack([np.stack(corner, -1) for corner in corners], 1)),)

    def called(self) -> str:
        """Return what a layer with this motif is called at first."""
        return self.key_line("").split(",")[0].split(" ")[0]

    def key_line(self, unit: str) -> str:
        """Return both measures."""
        name = "Rhomb" if self.widest == 50.0 else "Kite"
        return f"{name}, {describe(self.width, unit)} by {describe(self.height, unit)}"
