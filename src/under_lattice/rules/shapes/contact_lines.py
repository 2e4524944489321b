"""Rule: Contact lines, two rays from the middle of each edge that meet their neighbours inside the tile: star patterns."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from under_lattice.declare.dials import Angle, Choice
from under_lattice.geometry.affine import Array
from under_lattice.geometry.outline import LINE, MOVE, polygon_verbs
from under_lattice.pattern.stage import Shape
from under_lattice.rules.base import describe
from under_lattice.rules.families import ShapeRule
from under_lattice.rules.ground import Ground
from under_lattice.rules.shared.edges import Edges
from under_lattice.rules.shared.reshaped import Made, Reshaped, straight_only
from under_lattice.vary.numbers import Number


def meeting(edges: Edges, angle: Array) -> Array:
    """Return where the rays from each edge's middle and the next edge's meet (M, V, 2), near the corner between them.

    A ray leaves its edge at `angle` (M, V), degrees, towards that corner; where two do not meet inside, half way between their
    middles stands for it (“Islamic star patterns from polygons in contact”, 2005).
    """
    length = np.maximum(np.hypot(edges.runs[..., 0], edges.runs[..., 1]), 1e-300)[..., None]
    along, radians = edges.runs / length, np.radians(angle)[..., None]
    leaving = np.cos(radians) * along + np.sin(radians) * edges.inward
    arriving = np.roll(-np.cos(radians) * along + np.sin(radians) * edges.inward, -1, 1)
    here, there = edges.middles, np.roll(edges.middles, -1, 1)
    gap = there - here
    cross = leaving[..., 0] * arriving[..., 1] - leaving[..., 1] * arriving[..., 0]
    safe = np.where(np.abs(cross) < 1e-9, 1.0, cross)
    t = (gap[..., 0] * arriving[..., 1] - gap[..., 1] * arriving[..., 0]) / safe
    u = (gap[..., 0] * leaving[..., 1] - gap[..., 1] * leaving[..., 0]) / safe
    meets = (np.abs(cross) >= 1e-9) & (t >= 0) & (u >= 0)
    return np.where(meets[..., None], here + t[..., None] * leaving, (here + there) / 2)


class ContactLines(ShapeRule):
    """Star patterns from tiles in contact."""

    title: ClassVar[str] = "Contact lines"
    words: ClassVar[str] = "Rays from the middle of each edge meet inside the tile; across all tiles they make star patterns."
    search: ClassVar[str] = "star islamic girih hankin geometric rays interlace pattern"

    kind: Literal["contact-lines"] = "contact-lines"
    angle: Annotated[
        Number,
        Angle(
            "Angle",
            "The angle at which rays leave the edges; it may vary over the sheet.",
            least=1.0,
            most=89.0,
            winds=True,
            roams=30.0,
            vary=True,
        ),
    ] = 60.0
    gives: Annotated[
        Literal["star and corners", "the star", "lines"],
        Choice(
            "Gives",
            "The star and what is left at the corners as parts, the star alone, or the lines.",
            options=("star and corners", "the star", "lines"),
        ),
    ] = "star and corners"

    def reshape(self, shape: Shape, ground: Ground) -> Shape:
        """Return the star pattern of each straight face."""
        straight_only(shape, self.title)
        return Reshaped(shape, (self.angle,), self._made)

    def _made(self, edges: Edges) -> list[Made]:
        met, middles = meeting(edges, edges.values[0]), edges.middles
        count, after = middles.shape[1], np.roll(middles, -1, 1)
        if self.gives == "lines":
            return [(bytes([MOVE, LINE, LINE]) * count, np.stack([middles, met, after], 2).reshape(len(met), 3 * count, 2))]
        star = polygon_verbs(2 * count), np.stack([middles, met], 2).reshape(len(met), 2 * count, 2)
        if self.gives == "the star":
            return [star]
        corner = np.stack([middles, np.roll(edges.corners, -1, 1), after, met], 2)
        return [star, *((polygon_verbs(4), corner[:, k]) for k in range(count))]

    def key_line(self, unit: str) -> str:
        """Return the angle and what it gives."""
        return f"{describe(self.angle, '°', 0)}, {self.gives}"
