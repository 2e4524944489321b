"""Motif: triangle of any base and height."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from under_lattice.declare.dials import Angle, Ratio
from under_lattice.geometry.outline import polygon_verbs
from under_lattice.rules.base import describe
from under_lattice.rules.shared.measure_spots import Spot
from under_lattice.rules.shared.measured import Face, Grip, MeasuredMotif, Numbers, extent
from under_lattice.vary.numbers import Number


class Triangle(MeasuredMotif):
    """A triangle on its base; its origin is its centroid."""

    words: ClassVar[str] = "A triangle: base, height, and where its tip stands."
    search: ClassVar[str] = "isosceles right scalene pennant sail tooth"
    grips: ClassVar[tuple[Grip, ...]] = (Grip("height", -90.0, 2 / 3),)
    spots: ClassVar[tuple[Spot, ...]] = (
        Spot("width", lambda n: (n["width"] / 2 - (n["lean"] / 100 - 0.5) * n["width"] / 3, n["height"] / 3)),
        Spot("lean", lambda n: ((n["lean"] / 100 - 0.5) * n["width"] * 2 / 3, -2 * n["height"] / 3 - n["height"] / 12)),
    )

    kind: Literal["triangle"] = "triangle"
    width: Annotated[Number, extent("Base", "Width of the base, from corner to corner.")] = 30.0
    height: Annotated[Number, extent("Height", "How far the tip stands above the base.")] = 30.0
    lean: Annotated[
        Number,
        Ratio(
            "Tip stands",
            "Where above the base the tip stands; at 50 % above its middle.",
            least=-500.0,
            most=600.0,
            vary=True,
            slides=(0, 100),
        ),
    ] = 50.0
    turn: Annotated[float, Angle("Turn", "About its centroid.", main=False, group="Place")] = 0.0

    def faces(self, numbers: Numbers) -> tuple[Face, ...]:
        """Return the tip, then the base."""
        wide, high, tip = numbers["width"], numbers["height"], (numbers["lean"] / 100 - 0.5) * numbers["width"]
        corners = np.stack([np.stack([tip, -high], -1), np.stack([wide / 2, 0 * high], -1), np.stack([-wide / 2, 0 * high], -1)], 1)
        return ((polygon_verbs(3), corners - corners.mean(1, keepdims=True)),)

    def key_line(self, unit: str) -> str:
        """Return base and height."""
        return f"Triangle, base {describe(self.width, unit)}, height {describe(self.height, unit)}"
