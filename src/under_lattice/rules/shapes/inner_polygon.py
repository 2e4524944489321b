"""Rule: Inner polygon, a smaller and turned copy of the shape joined to it by spokes."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal, get_args

import numpy as np

from under_lattice.declare.dials import Angle, Choice, Ratio
from under_lattice.geometry.outline import LINE, MOVE, polygon_verbs
from under_lattice.pattern.stage import Shape
from under_lattice.rules.base import describe
from under_lattice.rules.families import ShapeRule
from under_lattice.rules.ground import Ground
from under_lattice.rules.shared.edges import Edges, of_tile
from under_lattice.rules.shared.reshaped import Made, Reshaped, straight_only
from under_lattice.vary.numbers import Number

Gives = Literal[
    "inner and sides", "sides", "inner", "tile, inner and spokes", "tile and inner", "inner and spokes", "spokes", "lines"
]


class InnerPolygon(ShapeRule):
    """An inner polygon with spokes to the corners."""

    title: ClassVar[str] = "Inner polygon"
    words: ClassVar[str] = "A smaller, turned copy inside each face, joined to its corners by spokes."
    search: ClassVar[str] = "nested twist facet cube bevel inset spoke aperture iris"

    kind: Literal["inner-polygon"] = "inner-polygon"
    size: Annotated[
        Number, Ratio("Size", "Size of the inner copy, in parts of the shape.", least=0.0, most=99.9, vary=True, slides=(5.0, 95.0))
    ] = 50.0
    turn: Annotated[
        Number, Angle("Turn", "How far the inner copy is turned, clockwise about the middle.", vary=True, slides=(-90.0, 90.0))
    ] = 0.0
    gives: Annotated[
        Gives, Choice("Gives", "Which parts there are, each with a colour; lines are all as one.", options=get_args(Gives))
    ] = "inner and sides"

    def reshape(self, shape: Shape, ground: Ground) -> Shape:
        """Return the divided faces."""
        straight_only(shape, self.title)
        return Reshaped(shape, (of_tile(self.size), of_tile(self.turn)), self._made)

    def _made(self, edges: Edges) -> list[Made]:
        corners = edges.corners
        middle = corners.mean(1, keepdims=True)
        size, angle = edges.values[0][:, :1] / 100, np.radians(edges.values[1][:, :1])
        away = corners - middle
        x, y = away[..., 0], away[..., 1]
        inner = middle + size[..., None] * np.stack(
            [x * np.cos(angle) - y * np.sin(angle), x * np.sin(angle) + y * np.cos(angle)], -1
        )
        count, many = corners.shape[1], len(corners)
        spokes = np.stack([corners, inner], 2).reshape(many, 2 * count, 2)
        if self.gives == "lines":
            verbs = polygon_verbs(count) + polygon_verbs(count) + bytes([MOVE, LINE]) * count
            return [(verbs, np.concatenate([corners, inner, spokes], 1))]
        sides = np.stack([corners, np.roll(corners, -1, 1), np.roll(inner, -1, 1), inner], 2)
        parts: dict[str, list[Made]] = {
            "tile": [(polygon_verbs(count), corners)],
            "inner": [(polygon_verbs(count), inner)],
            "sides": [(polygon_verbs(4), sides[:, k]) for k in range(count)],
            "spokes": [(bytes([MOVE, LINE]) * count, spokes)],
        }
        return [made for name, some in parts.items() if name in self.gives for made in some]

    def key_line(self, unit: str) -> str:
        """Return size and turn."""
        return f"{describe(self.size, '%', 0)}, turned {describe(self.turn, '°', 0)}"
