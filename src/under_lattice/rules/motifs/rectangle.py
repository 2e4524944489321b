"""Motif: rectangle, a bar where it is narrow, its corners rounded if wanted."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from under_lattice.declare.dials import Ratio
from under_lattice.geometry.curves import arc_pieces, arc_points
from under_lattice.geometry.outline import CLOSE, CURVE, LINE, MOVE, polygon_verbs
from under_lattice.pattern.ask import largest
from under_lattice.rules.base import describe
from under_lattice.rules.shared.measure_spots import Spot
from under_lattice.rules.shared.measured import TURN, Face, Grip, MeasuredMotif, Numbers, extent
from under_lattice.vary.numbers import Number

CORNER = arc_pieces(90.0)


class Rectangle(MeasuredMotif):
    """A rectangle or a bar."""

    words: ClassVar[str] = "A rectangle or bar: width, height and the radius of its corners."
    search: ClassVar[str] = "square bar oblong stripe rounded slot strip box"
    grips: ClassVar[tuple[Grip, ...]] = (Grip("width", 0.0), Grip("height", 90.0))
    spots: ClassVar[tuple[Spot, ...]] = (
        Spot("rounded", lambda n: (-n["width"] / 2 + min(n["width"], n["height"]) * n["rounded"] / 200, -n["height"] / 2)),
    )

    kind: Literal["rectangle"] = "rectangle"
    width: Annotated[Number, extent("Width", "From side to side.")] = 40.0
    height: Annotated[Number, extent("Height", "From top to bottom.")] = 16.0
    rounded: Annotated[
        Number,
        Ratio(
            "Rounded",
            "Radius of the corners; 100 % is half of the shorter side.",
            least=0.0,
            most=100.0,
            vary=True,
            slides=(0, 100),
        ),
    ] = 0.0
    turn: Annotated[float, TURN] = 0.0

    def faces(self, numbers: Numbers) -> tuple[Face, ...]:
        """Return the outline from its top left corner, clockwise."""
        half = np.stack([numbers["width"], numbers["height"]], -1) / 2
        signs = np.array([(-1, -1), (1, -1), (1, 1), (-1, 1)])
        if largest(self.rounded) == 0.0:
            return ((polygon_verbs(4), half[:, None] * signs),)
        radius = half.min(1) * numbers["rounded"] / 100
        quarters = []
        for k, sign in enumerate(signs):
            arc = arc_points(radius, np.full(len(radius), 180.0 + 90.0 * k), np.full(len(radius), 90.0), CORNER)
            quarters.append(arc + ((half - radius[:, None]) * sign)[:, None])
        corner = [CURVE] * CORNER
        verbs = bytes([MOVE, *corner, *[LINE, *corner] * 3, CLOSE])
        return ((verbs, np.concatenate(quarters, 1)),)

    def key_line(self, unit: str) -> str:
        """Return both sides."""
        return f"Rectangle, {describe(self.width, unit)} by {describe(self.height, unit)}"
