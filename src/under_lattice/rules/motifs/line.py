"""Motif: line, open where it has no thickness, else a bar with butt or round ends."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from under_lattice.declare.dials import Angle, Choice, Length
from under_lattice.geometry.curves import arc_pieces, arc_points
from under_lattice.geometry.outline import CLOSE, CURVE, LINE, MOVE, polygon_verbs
from under_lattice.pattern.ask import largest
from under_lattice.rules.base import describe
from under_lattice.rules.shared.measure_spots import Spot
from under_lattice.rules.shared.measured import Face, Grip, MeasuredMotif, Numbers, extent
from under_lattice.vary.numbers import Number

END = arc_pieces(180.0)


class Line(MeasuredMotif):
    """A straight line about its middle."""

    words: ClassVar[str] = "A line: length, direction and thickness."
    search: ClassVar[str] = "stroke dash bar hatch needle rod"
    grips: ClassVar[tuple[Grip, ...]] = (Grip("length", 0.0),)
    spots: ClassVar[tuple[Spot, ...]] = (Spot("thickness", lambda n: (0.0, n["thickness"] / 2)),)

    kind: Literal["line"] = "line"
    length: Annotated[Number, extent("Length", "From end to end.", 200)] = 40.0
    turn: Annotated[float, Angle("Direction", "Clockwise from the right.")] = 0.0
    thickness: Annotated[
        Number,
        Length("Thickness", "0 is a line that only ink gives a width.", least=0.0, most=1e5, vary=True, slides=(0, 20)),
    ] = 2.0
    ends: Annotated[
        Literal["straight", "round"],
        Choice("Ends", "Cut off square, or with half a disc beyond the length.", options=("straight", "round"), main=False),
    ] = "straight"

    def faces(self, numbers: Numbers) -> tuple[Face, ...]:
        """Return the open line, or the outline of the bar."""
        x, y = numbers["length"] / 2, numbers["thickness"] / 2
        if largest(self.thickness) == 0.0:
            share = np.array([-1.0, 0.0, 1.0])
            return ((bytes([MOVE, LINE, LINE]), np.stack([x[:, None] * share, 0 * x[:, None] * share], -1)),)
        if self.ends == "straight":
            signs = np.array([(-1, -1), (1, -1), (1, 1), (-1, 1)])
            return ((polygon_verbs(4), np.stack([x, y], -1)[:, None] * signs),)
        right = arc_points(y, np.full(len(y), -90.0), np.full(len(y), 180.0), END)
        right[..., 0] += x[:, None]
        return ((bytes([MOVE, *[CURVE] * END, LINE, *[CURVE] * END, CLOSE]), np.concatenate([right, -right], 1)),)

    def key_line(self, unit: str) -> str:
        """Return length and direction."""
        return f"Line, {describe(self.length, unit)} at {self.turn:.0f}°"
