"""Motif: petal, what two arcs of circles enclose."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from under_lattice.declare.dials import Ratio
from under_lattice.geometry.curves import arc_pieces, arc_points
from under_lattice.geometry.outline import CLOSE, CURVE, MOVE
from under_lattice.rules.base import describe
from under_lattice.rules.shared.measured import TURN, Face, Grip, MeasuredMotif, Numbers, extent
from under_lattice.vary.numbers import Number


class Petal(MeasuredMotif):
    """A lens of two arcs, upright."""

    words: ClassVar[str] = "A petal: a lens of two arcs that meet in points."
    search: ClassVar[str] = "leaf lens vesica almond eye lozenge"
    grips: ClassVar[tuple[Grip, ...]] = (Grip("length", -90.0), Grip("width", 0.0, 0.005, "length"))

    kind: Literal["petal"] = "petal"
    length: Annotated[Number, extent("Length", "From point to point.")] = 40.0
    width: Annotated[
        Number,
        Ratio("Width", "Width in the middle as a part of the length.", least=0.1, most=100.0, vary=True, slides=(5.0, 100.0)),
    ] = 40.0
    turn: Annotated[float, TURN] = 0.0

    def faces(self, numbers: Numbers) -> tuple[Face, ...]:
        """Return the right arc downwards, then the left one upwards; radius (l² + w²) / 4 w."""
        length, width = numbers["length"], numbers["length"] * numbers["width"] / 100
        radius = (length**2 + width**2) / (4 * width)
        half = np.degrees(2 * np.arctan2(width, length))
        side = arc_pieces(2 * float(half.max()))
        right = arc_points(radius, -half, 2 * half, side)
        right[..., 0] -= (radius - width / 2)[:, None]
        left = -right[:, 1:]
        return ((bytes([MOVE] + [CURVE] * 2 * side + [CLOSE]), np.concatenate([right, left], 1)),)

    def key_line(self, unit: str) -> str:
        """Return length and width."""
        return f"Petal, {describe(self.length, unit)} long, width {describe(self.width, '%', 0)}"
