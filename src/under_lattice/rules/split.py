"""Rule: Split, a straight-edged shape into faces along chords."""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import cached_property
from typing import Annotated, ClassVar, Literal, get_args

import numpy as np
import shapely

from under_lattice.core.affine import Array
from under_lattice.core.ask import Ask
from under_lattice.core.declare import Choice, Text, When
from under_lattice.core.errors import InputError, RuleRefused
from under_lattice.core.outline import Outline, is_straight_polygon, polygon_verbs
from under_lattice.core.stage import Family, Shape
from under_lattice.rules.anchor import ordered_corners
from under_lattice.rules.base import Ground, ShapeRule

Into = Literal["rhombs", "triangles", "chords"]
INTO: tuple[str, ...] = get_args(Into)
_END = re.compile(r"(?:(?P<side>s)?(?P<number>[1-9]\d{0,2})|(?P<centre>c))\Z")


def parse_chords(text: str) -> list[tuple[str, str]]:
    """Read chords such as ``1-3, s2-c``: corner numbers, s and a number for the middle of a side, c for the centre.

    Raises
    ------
    InputError
    """
    chords = []
    for part in (p.strip().lower() for p in text.split(",")):
        ends = [end.strip() for end in part.split("-")]
        if len(ends) != 2 or not all(_END.match(end) for end in ends) or ends[0] == ends[1]:
            raise InputError(
                f"“{part[:20]}” is not a chord; write two ends such as 1-3, s1-s4 or s2-c (corner, middle of a side, centre)",
                "Chords",
            )
        chords.append((ends[0], ends[1]))
    return chords


@dataclass(frozen=True, eq=False)
class SplitShape:
    """Faces of a straight polygon; each face corner is a weighted mean of the polygon's corners, so any size splits alike."""

    of: Shape
    into: str
    chords: str

    @cached_property
    def _weights(self) -> list[Array]:
        """Weights (K, V) for each face, in the order of their middles, clockwise from straight up."""
        corners = self.of.body().points
        ring = ordered_corners(corners)
        order = [int(np.argmin(np.hypot(*(corners - p).T))) for p in ring]
        faces = _rhombs(ring) if self.into == "rhombs" else _triangles(ring)
        if self.into == "chords":
            faces = _cut(ring, self.chords)
        system = np.vstack([ring.T, np.ones(len(ring))])
        out = []
        for face in _clockwise(faces, ring.mean(0)):
            weights, *_ = np.linalg.lstsq(system, np.vstack([face.T, np.ones(len(face))]), rcond=None)
            placed = np.zeros((len(face), len(corners)))
            placed[:, order] = np.where(np.abs(weights.T) < 1e-12, 0.0, weights.T)
            out.append(placed)
        return out

    @property
    def faces(self) -> int:
        """How many faces the chords leave."""
        return len(self._weights)

    def body(self) -> Outline:
        """Return the whole, undivided."""
        return self.of.body()

    def reach(self) -> float:
        """As far as the whole."""
        return self.of.reach()

    def draw(self, ask: Ask) -> tuple[Family, ...]:
        """One family for each face."""
        (whole,) = self.of.draw(ask)
        return tuple(Family(polygon_verbs(len(w)), np.einsum("kv,mvc->mkc", w, whole.points), whole.variant) for w in self._weights)


def _rhombs(ring: Array) -> list[Array]:
    middle, count = ring.mean(0), len(ring)
    return [np.stack([middle, ring[k - 1], ring[k], ring[(k + 1) % count]]) for k in range(0, count, 2)]


def _triangles(ring: Array) -> list[Array]:
    middle = ring.mean(0)
    return [np.stack([middle, ring[k], ring[(k + 1) % len(ring)]]) for k in range(len(ring))]


def _cut(ring: Array, text: str) -> list[Array]:
    def at(end: str) -> Array:
        if end == "c":
            return np.asarray(ring.mean(0))
        k = int(end.lstrip("s")) - 1
        if k >= len(ring):
            raise InputError(f"“{end}” is not there: this shape has {len(ring)} corners", "Chords")
        return np.asarray((ring[k] + ring[(k + 1) % len(ring)]) / 2 if end.startswith("s") else ring[k])

    lines: list[shapely.LineString] = [shapely.LinearRing(ring)]
    lines += [shapely.LineString([at(one), at(other)]) for one, other in parse_chords(text)]
    pieces = shapely.get_parts(shapely.polygonize([shapely.unary_union(lines)]))
    return [shapely.get_coordinates(shapely.orient_polygons(piece))[:-1] for piece in pieces]


def _clockwise(faces: list[Array], middle: Array) -> list[Array]:
    def angle(face: Array) -> tuple[float, float]:
        x, y = (shapely.get_coordinates(shapely.centroid(shapely.Polygon(face)))[0] - middle).tolist()
        if np.hypot(x, y) < 1e-6 * np.ptp(face):
            return (360.0, 0.0)  # a face in the very middle comes last
        return (round((float(np.degrees(np.arctan2(y, x))) + 90 + 1e-6) % 360, 4), float(np.hypot(x, y)))

    return sorted(faces, key=angle)


class Split(ShapeRule):
    """Divide the shape into faces."""

    title: ClassVar[str] = "Split"
    words: ClassVar[str] = "Divide a shape into faces that can have their own colours."
    search: ClassVar[str] = "cube divide cut facets rhombs triangles"

    kind: Literal["split"] = "split"
    into: Annotated[
        Into, Choice("Into", "Rhombs from the centre, triangles from the centre, or along chosen chords.", options=INTO)
    ] = "rhombs"
    chords: Annotated[
        str,
        Text(
            "Chords",
            "Pairs of ends, corners clockwise from the top: 1-3, 3-5; s2 is the middle of side 2, c the centre.",
            when=(When(field="into", values=("chords",), reason="only for chords"),),
        ),
    ] = "1-3, 3-5, 5-1"

    def reshape(self, shape: Shape, ground: Ground) -> Shape:
        """Return the faces; refuses curves, a second split, and an odd number of corners for rhombs."""
        body = shape.body()
        if shape.faces != 1 or not is_straight_polygon(body.verbs) or getattr(shape, "curved", False):
            raise RuleRefused("Split needs one shape with straight edges; put it above the rule that bends or divides it")
        if self.into == "rhombs" and len(body.points) % 2:
            raise RuleRefused(f"rhombs need an even number of sides; this shape has {len(body.points)}. Triangles work")
        made = SplitShape(shape, self.into, self.chords)
        try:
            made.faces  # noqa: B018 - a wrong chord is refused here
        except InputError as error:
            raise RuleRefused(error.message) from None
        return made

    def key_line(self, unit: str) -> str:
        """Return what it divides into."""
        return f"into {self.into} from the centre" if self.into != "chords" else f"chords {self.chords}"
