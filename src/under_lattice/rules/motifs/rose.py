"""Motif: rose, the curve r = cos(p/q a)."""

from __future__ import annotations

from math import gcd
from typing import Annotated, ClassVar, Literal

import numpy as np

from under_lattice.declare.dials import Count
from under_lattice.geometry.affine import Array
from under_lattice.geometry.curves import Curve
from under_lattice.rules.base import describe
from under_lattice.rules.shared.measured import TURN, CurveMotif, Grip, Numbers, extent
from under_lattice.vary.numbers import Number


class Rose(CurveMotif):
    """A rose of Grandi."""

    words: ClassVar[str] = "A rose: loops through one middle, r = cos(p/q a)."
    search: ClassVar[str] = "rhodonea flower clover petals loop"
    grips: ClassVar[tuple[Grip, ...]] = (Grip("width", 0.0),)

    kind: Literal["rose"] = "rose"
    p: Annotated[
        int,
        Count(
            "Waves",
            "How many waves the line makes while it goes round as often as “In turns” says.",
            least=1,
            most=60,
            slides=(1, 12),
        ),
    ] = 5
    q: Annotated[
        int,
        Count(
            "In turns",
            "How often the line goes round; 1 gives separate petals, more give petals that overlap.",
            least=1,
            most=60,
            slides=(1, 12),
        ),
    ] = 1
    width: Annotated[Number, extent("Width", "Width of the circle that holds it.", 200)] = 44.0
    turn: Annotated[float, TURN] = 0.0

    @property
    def ratio(self) -> tuple[int, int]:
        """The two numbers without a common divisor, whole numbers from 1 on."""
        shared = gcd(int(self.p), int(self.q))
        return int(self.p) // shared, int(self.q) // shared

    @property
    def petals(self) -> int:
        """How many petals: p where p and q are odd, else 2 p, a whole number."""
        p, q = self.ratio
        return p if p % 2 and q % 2 else 2 * p

    def span(self) -> tuple[float, float]:
        """Return half as far where the second half would draw the first once more, without unit."""
        p, q = self.ratio
        return 0.0, np.pi * q * (1 if p % 2 and q % 2 else 2)

    def curve(self, numbers: Numbers) -> Curve:
        """Return the curve."""
        p, q = self.ratio
        k, scale = p / q, (numbers["width"] / 2)[:, None, None]

        def at(t: Array) -> tuple[Array, Array]:
            r, dr = np.cos(k * t), -k * np.sin(k * t)
            x, y = r * np.cos(t), r * np.sin(t)
            dx, dy = dr * np.cos(t) - y, dr * np.sin(t) + x
            return scale * np.stack([x, y], -1)[None], scale * np.stack([dx, dy], -1)[None]

        return at

    def key_line(self, unit: str) -> str:
        """Return how many petals."""
        return f"Rose of {self.petals} petals, {describe(self.width, unit)}"
