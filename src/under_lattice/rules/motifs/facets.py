"""Motif: facets, a cut stone seen from above; its faces can be inked by the way they face."""

from __future__ import annotations

from itertools import pairwise
from typing import Annotated, ClassVar, Literal

import numpy as np

from under_lattice.declare.dials import Angle, Count, Ratio
from under_lattice.geometry.affine import Array
from under_lattice.geometry.outline import Outline, polygon, polygon_verbs
from under_lattice.rules.base import describe
from under_lattice.rules.shared.measure_spots import Spot, at_polar
from under_lattice.rules.shared.measured import TURN, Face, Grip, MeasuredMotif, Numbers, extent
from under_lattice.vary.numbers import Number


class Facets(MeasuredMotif):
    """A table in the middle and rows of facets round it."""

    words: ClassVar[str] = "Facets: a cut stone seen from above; Ink by facing gives each face its light."
    piecewise: ClassVar[bool] = True
    search: ClassVar[str] = "gem diamond cut stone crystal low poly pyramid faceted relief light"
    grips: ClassVar[tuple[Grip, ...]] = (Grip("size", -90.0), Grip("table", 90.0, of="size"))
    spots: ClassVar[tuple[Spot, ...]] = (
        Spot("twist", lambda n: at_polar(n["size"] / 2 * max(n["table"], 20.0) / 100, -90 + n["twist"])),
    )

    kind: Literal["facets"] = "facets"
    sides: Annotated[int, Count("Sides", "How many sides the rim has.", least=3, most=60, slides=(3, 16))] = 8
    rows: Annotated[int, Count("Rows", "How many rows of facets lie between rim and table.", least=1, most=12, slides=(1, 6))] = 2
    size: Annotated[Number, extent("Size", "Width of the stone, from corner to corner of the rim.")] = 48.0
    table: Annotated[
        Number,
        Ratio(
            "Table",
            "Width of the flat middle as a part of the size; at nothing the facets meet in a point.",
            least=0.0,
            most=95.0,
            vary=True,
            slides=(0, 90),
        ),
    ] = 40.0
    twist: Annotated[
        Number,
        Angle("Twist", "How far the table is turned against the rim.", vary=True, slides=(-90.0, 90.0), winds=True, main=False),
    ] = 0.0
    turn: Annotated[float, TURN] = 0.0

    def _ring(self, numbers: Numbers, row: int) -> Array:
        """Corners (M, V, 2) of the ring after `row` rows."""
        share = row / self.rows
        radius = numbers["size"] / 2 * (1 - share * (1 - numbers["table"] / 100))
        count = int(self.sides)
        angle = 2 * np.pi * np.arange(count) / count - np.pi / 2 + np.radians(numbers["twist"])[:, None] * share
        return np.stack([np.cos(angle), np.sin(angle)], -1) * radius[:, None, None]

    def faces(self, numbers: Numbers) -> tuple[Face, ...]:
        """Return the table, then the facets of each row, from the rim inwards."""
        rings = [self._ring(numbers, row) for row in range(int(self.rows) + 1)]
        out: list[Face] = [(polygon_verbs(int(self.sides)), rings[-1])]
        for outer, inner in pairwise(rings):
            corners = np.stack([outer, np.roll(outer, -1, 1), np.roll(inner, -1, 1), inner], 2)
            out += [(polygon_verbs(4), corners[:, k]) for k in range(int(self.sides))]
        return tuple(out)

    def body(self, faces: tuple[Face, ...]) -> Outline:
        """Return the rim, the first corners of the outermost facets."""
        return polygon(np.stack([points[0, 0] for _, points in faces[1 : int(self.sides) + 1]]))

    def key_line(self, unit: str) -> str:
        """Return sides and size."""
        return f"{int(self.sides)} sides, {int(self.rows)} rows, {describe(self.size, unit)}"
