"""Motif: star, by the size of its inner corners or by its density {n/k}."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from under_lattice.declare.dials import Choice, Count, Ratio, When
from under_lattice.geometry.outline import polygon_verbs
from under_lattice.rules.base import describe
from under_lattice.rules.shared.measure_spots import Spot, at_polar
from under_lattice.rules.shared.measured import TURN, Face, Grip, MeasuredMotif, Numbers, extent
from under_lattice.vary.numbers import Number


class Star(MeasuredMotif):
    """A star of straight sides."""

    words: ClassVar[str] = "A star: points in a ring, and corners between them."
    search: ClassVar[str] = "pentagram asterisk spike compass"
    grips: ClassVar[tuple[Grip, ...]] = (Grip("size", -90.0),)
    spots: ClassVar[tuple[Spot, ...]] = (Spot("inner", lambda n: at_polar(n["size"] * n["inner"] / 200, -90 + 180 / n["points"])),)

    kind: Literal["star"] = "star"
    points: Annotated[int, Count("Points", "How many points it has.", least=3, most=200, slides=(3, 24))] = 8
    size: Annotated[Number, extent("Size", "From point to opposite point.")] = 36.0
    corners: Annotated[
        Literal["by size", "by density"],
        Choice(
            "Corners",
            "At a part of the size, or where lines from each point to the k-th next one cross.",
            options=("by size", "by density"),
        ),
    ] = "by size"
    inner: Annotated[
        Number,
        Ratio(
            "Inner size",
            "How far out the inner corners stand, as a part of the size.",
            least=0.1,
            most=1000.0,
            vary=True,
            slides=(5.0, 100.0),
            when=(When(field="corners", values=("by size",), reason="the density says it"),),
        ),
    ] = 45.0
    density: Annotated[
        int,
        Count(
            "Density",
            "Each point is joined to the one this many further round.",
            least=2,
            most=99,
            slides=(2, 11),
            when=(When(field="corners", values=("by density",), reason="the inner size says it"),),
        ),
    ] = 3
    turn: Annotated[float, TURN] = 0.0

    @property
    def step(self) -> int:
        """The density as it is used: below half the points, a whole number."""
        return min(int(self.density), (int(self.points) - 1) // 2)

    def faces(self, numbers: Numbers) -> tuple[Face, ...]:
        """Return the one face, its first point straight up."""
        n = int(self.points)
        share = numbers["inner"] / 100
        if self.corners == "by density":  # where {n/k} crosses itself furthest out (Coxeter 1973, Regular Polytopes, 2.8)
            share = np.full(len(share), np.cos(np.pi * self.step / n) / np.cos(np.pi * (self.step - 1) / n))
        angle = np.pi * np.arange(2 * n) / n - np.pi / 2
        radius = numbers["size"][:, None] / 2 * np.where(np.arange(2 * n) % 2 == 0, 1.0, share[:, None])
        return ((polygon_verbs(2 * n), radius[..., None] * np.stack([np.cos(angle), np.sin(angle)], -1)),)

    def key_line(self, unit: str) -> str:
        """Return points and size."""
        density = f" of density {self.step}" if self.corners == "by density" else ""
        return f"Star of {int(self.points)}{density}, {describe(self.size, unit)}"
