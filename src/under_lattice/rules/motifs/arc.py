"""Motif: arc, a piece of a ring."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from under_lattice.declare.dials import Angle, Ratio
from under_lattice.geometry.curves import arc_pieces, arc_points
from under_lattice.geometry.outline import CLOSE, CURVE, LINE, MOVE
from under_lattice.pattern.ask import largest
from under_lattice.rules.base import describe
from under_lattice.rules.shared.measure_spots import Spot, at_polar
from under_lattice.rules.shared.measured import Face, Grip, MeasuredMotif, Numbers, extent
from under_lattice.vary.numbers import Number


class Arc(MeasuredMotif):
    """A piece of a ring, its middle straight up."""

    words: ClassVar[str] = "An arc: a piece of a ring, or of a disc where it has no hole."
    search: ClassVar[str] = "sector fan wedge slice pie segment crescent"
    grips: ClassVar[tuple[Grip, ...]] = (Grip("width", -90.0), Grip("inner", -90.0, 0.005, "width"))
    spots: ClassVar[tuple[Spot, ...]] = (Spot("sweep", lambda n: at_polar(n["width"] / 2, -90 + n["sweep"] / 2)),)

    kind: Literal["arc"] = "arc"
    width: Annotated[Number, extent("Width", "Width of the whole ring it is a piece of.")] = 40.0
    inner: Annotated[
        Number,
        Ratio(
            "Hole",
            "Width of the hole as a part of the width; 0 makes a sector.",
            least=0.0,
            most=99.9,
            vary=True,
            slides=(0.0, 95.0),
        ),
    ] = 60.0
    sweep: Annotated[
        Number, Angle("Sweep", "How far it goes round.", least=0.1, most=359.9, winds=True, vary=True, slides=(10, 350))
    ] = 120.0
    turn: Annotated[float, Angle("Turn", "About the ring's middle.", main=False, group="Place")] = 0.0

    def faces(self, numbers: Numbers) -> tuple[Face, ...]:
        """Return the outer arc, then the inner one back."""
        pieces = arc_pieces(min(largest(self.sweep), 360.0))
        outer = arc_points(numbers["width"] / 2, -90.0 - numbers["sweep"] / 2, numbers["sweep"], pieces)
        inner = outer[:, ::-1] * (numbers["inner"] / 100)[:, None, None]
        verbs = bytes([MOVE] + [CURVE] * pieces + [LINE] + [CURVE] * pieces + [CLOSE])
        return ((verbs, np.concatenate([outer, inner], 1)),)

    def key_line(self, unit: str) -> str:
        """Return sweep and width."""
        return f"Arc of {describe(self.sweep, '°', 0)}, {describe(self.width, unit)} wide"
