"""Motif: spiral, of Archimedes (even steps) or logarithmic (growing steps); an open line."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from under_lattice.declare.dials import Choice, Ratio
from under_lattice.geometry.affine import Array
from under_lattice.geometry.curves import Curve
from under_lattice.pattern.ask import largest
from under_lattice.rules.base import describe
from under_lattice.rules.shared.measure_spots import Spot, at_polar
from under_lattice.rules.shared.measured import TURN, CurveMotif, Grip, Numbers, extent
from under_lattice.vary.numbers import Number


class Spiral(CurveMotif):
    """A spiral from its inner to its outer end."""

    words: ClassVar[str] = "A spiral: even steps outwards, or steps that grow."
    search: ClassVar[str] = "archimedes archimedean logarithmic snail volute coil"
    grips: ClassVar[tuple[Grip, ...]] = (Grip("width", 0.0),)
    spots: ClassVar[tuple[Spot, ...]] = (
        Spot("turns", lambda n: at_polar(n["width"] * n["inner"] / 200, -3.6 * n["turns"]), again=100.0),
        Spot("inner", lambda n: at_polar(n["width"] * n["inner"] / 200, 180.0)),
    )

    kind: Literal["spiral"] = "spiral"
    grows: Annotated[
        Literal["by even steps", "by a ratio"],
        Choice(
            "Grows",
            "By even steps (Archimedes), or each turn by the same ratio (logarithmic).",
            options=("by even steps", "by a ratio"),
        ),
    ] = "by even steps"
    turns: Annotated[
        Number, Ratio("Turns", "How often it goes round; 100 % is once.", least=1.0, most=20000.0, vary=True, slides=(50, 1200))
    ] = 400.0
    width: Annotated[Number, extent("Width", "Width of the circle that holds it.", 200)] = 44.0
    inner: Annotated[
        Number,
        Ratio(
            "Begins at", "Where its inner end lies, as a part of the width.", least=0.1, most=99.9, vary=True, slides=(0.5, 90.0)
        ),
    ] = 4.0
    turn: Annotated[float, TURN] = 0.0

    @property
    def closed(self) -> bool:
        """It never closes."""
        return False

    def span(self) -> tuple[float, float]:
        """Return t from the inner end, 0, to the outer, 1, without unit."""
        return 0.0, 1.0

    def pieces(self) -> int:
        """Return how many cubics there are: at least eight for each turn."""
        return max(super().pieces(), int(np.ceil(largest(self.turns) / 100 * 8)))

    def curve(self, numbers: Numbers) -> Curve:
        """Return ``r = a + b t``, or ``r = a (b / a)^t``; the outer end lies on the right."""
        outer = (numbers["width"] / 2)[:, None]
        inner, whole = outer * numbers["inner"][:, None] / 100, 2 * np.pi * numbers["turns"][:, None] / 100

        def at(t: Array) -> tuple[Array, Array]:
            angle = whole * (t - 1.0)
            if self.grows == "by a ratio":
                r = inner * (outer / inner) ** t
                dr = r * np.log(outer / inner)
            else:
                r, dr = inner + (outer - inner) * t, outer - inner
            cos, sin = np.cos(angle), np.sin(angle)
            slope = np.stack([dr * cos - r * sin * whole, dr * sin + r * cos * whole], -1)
            return np.stack([r * cos, r * sin], -1), slope

        return at

    def key_line(self, unit: str) -> str:
        """Return turns and width."""
        return f"Spiral, {describe(self.turns, '%', 0)} round, {describe(self.width, unit)} wide"
