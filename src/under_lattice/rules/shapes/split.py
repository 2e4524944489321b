"""Rule: Split, a straight-edged shape into faces: from the centre, along chords, in cells or rings."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property
from typing import Annotated, Any, ClassVar, Literal, get_args

import numpy as np
import shapely

from under_lattice.core.errors import InputError, RuleRefused
from under_lattice.core.units import short
from under_lattice.declare.dials import Choice, Count, Length, Text, When
from under_lattice.geometry.affine import Array, apply
from under_lattice.geometry.outline import Outline, is_straight_polygon, polygon_verbs
from under_lattice.pattern.ask import Ask
from under_lattice.pattern.stage import Family, Shape, Stage
from under_lattice.rules.families import ShapeRule
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Drag, HandleSet
from under_lattice.rules.shared.anchor import ordered_corners
from under_lattice.rules.shared.named_points import chord_dragged, chord_handles, named_points, parse_chords, point_of
from under_lattice.rules.surroundings import Surroundings

Into = Literal["rhombs", "triangles", "chords", "all chords", "a star", "cells", "rings"]
INTO: tuple[str, ...] = get_args(Into)
COLUMNED = When(field="into", values=("cells",), reason="only for cells")
GUTTERED = When(field="into", values=("cells", "rings"), reason="only for cells and rings")
GRID = 1e-10  # of the size: where lines cross within so much they cross in one point
CORNERS_MOST = 14  # for all chords: a shape of 14 corners falls into 757 faces at most


@dataclass(frozen=True, eq=False)
class SplitShape:
    """Faces of a straight polygon; each face corner is a weighted mean of the polygon's corners, so any size splits alike."""

    of: Shape
    rule: Split

    @cached_property
    def _weights(self) -> list[list[Array]]:
        """Weights (K, V) for each contour of each face, faces in the order of their middles, clockwise from straight up."""
        corners = self.of.body().points
        ring = ordered_corners(corners)
        order = [int(np.argmin(np.hypot(*(corners - p).T))) for p in ring]
        system = np.vstack([ring.T, np.ones(len(ring))])

        def weighted(contour: Array) -> Array:
            weights, *_ = np.linalg.lstsq(system, np.vstack([contour.T, np.ones(len(contour))]), rcond=None)
            placed = np.zeros((len(contour), len(corners)))
            placed[:, order] = np.where(np.abs(weights.T) < 1e-12, 0.0, weights.T)
            return placed

        return [[weighted(contour) for contour in face] for face in _clockwise(self.rule.faces_of(ring), ring.mean(0))]

    @property
    def faces(self) -> int:
        """How many faces the chords leave."""
        return len(self._weights)

    def body(self) -> Outline:
        """Return the whole, undivided."""
        return self.of.body()

    def reach(self) -> float:
        """As far as the whole, in units of the shape."""
        return self.of.reach()

    def draw(self, ask: Ask) -> tuple[Family, ...]:
        """One family for each face."""
        (whole,) = self.of.draw(ask)
        out = []
        for face in self._weights:
            verbs = b"".join(polygon_verbs(len(contour)) for contour in face)
            out.append(Family(verbs, np.einsum("kv,mvc->mkc", np.concatenate(face), whole.points), whole.variant))
        return tuple(out)


Face = list[Array]  # the outline and its holes (k, 2)


def _rhombs(ring: Array) -> list[Face]:
    middle, count = ring.mean(0), len(ring)
    return [[np.stack([middle, ring[k - 1], ring[k], ring[(k + 1) % count]])] for k in range(0, count, 2)]


def _triangles(ring: Array) -> list[Face]:
    middle = ring.mean(0)
    return [[np.stack([middle, ring[k], ring[(k + 1) % len(ring)]])] for k in range(len(ring))]


def _cut(ring: Array, chords: Iterable[tuple[Array, Array]]) -> list[Face]:
    """The faces that straight lines leave of a polygon; parts of lines outside it have no say.

    Crossings are found on a fine grid, so that lines through one point meet in one; corners are the exact ones.
    """
    size = float(np.ptp(ring, 0).max())
    lines: list[shapely.LineString] = [shapely.LinearRing(ring), *(shapely.LineString(ends) for ends in chords)]
    noded = shapely.unary_union(lines, grid_size=GRID * size)
    whole = shapely.Polygon(ring)
    exact = np.concatenate([ring, (ring + np.roll(ring, -1, 0)) / 2, ring.mean(0)[None]])
    pieces = [one for one in shapely.get_parts(shapely.polygonize([noded])) if whole.contains(one.representative_point())]
    return [[_on(contour, exact, 4 * GRID * size) for contour in _contours(piece)] for piece in pieces]


def _on(contour: Array, exact: Array, near: float) -> Array:
    """A contour with its points on the exact ones they are near to."""
    far = np.hypot(*(contour[:, None] - exact[None]).transpose(2, 0, 1))
    return np.where((far.min(1) < near)[:, None], exact[far.argmin(1)], contour)


def _contours(area: Any) -> Face:
    oriented = shapely.orient_polygons(area)
    return [np.asarray(ring.coords)[:-1] for ring in (oriented.exterior, *oriented.interiors)]


def _cells(ring: Array, columns: int, rows: int, gutter: float) -> list[Face]:
    """Cells of even size within the box of a polygon, `gutter` apart, as far as they lie in it; row by row."""
    low, high = ring.min(0), ring.max(0)
    side = (high - low - gutter * np.array([columns - 1, rows - 1])) / (columns, rows)
    if side.min() <= 0:
        raise InputError(f"a gutter of {short(gutter)} leaves nothing of the cells", "Gutter")
    whole = shapely.Polygon(ring)
    out: list[Face] = []
    for row in range(rows):
        for column in range(columns):
            x, y = low + (side + gutter) * (column, row)
            cell = whole.intersection(shapely.box(x, y, x + side[0], y + side[1]))
            out += [_contours(part) for part in shapely.get_parts(cell) if part.geom_type == "Polygon" and part.area > 0]
    return out


def _rings(ring: Array, count: int, gutter: float) -> list[Face]:
    """Rings round the middle, evenly wide, the innermost a whole polygon."""
    middle = ring.mean(0)
    far = float(np.abs(np.linalg.norm(ring - middle, axis=1)).max())
    gap = gutter / far
    if gap * (count - 1) >= 1:
        raise InputError(f"a gutter of {short(gutter)} leaves nothing of the rings", "Gutter")
    wide = (1 - gap * (count - 1)) / count
    out: list[Face] = []
    for k in range(count):
        outer = 1 - k * (wide + gap)
        face = [middle + (ring - middle) * outer]
        if k < count - 1:
            face.append((middle + (ring - middle) * (outer - wide))[::-1])
        out.append(face)
    return out


def _clockwise(faces: list[Face], middle: Array) -> list[Face]:
    def angle(face: Face) -> tuple[float, float]:
        x, y = (shapely.get_coordinates(shapely.centroid(shapely.Polygon(face[0])))[0] - middle).tolist()
        if np.hypot(x, y) < 1e-6 * np.ptp(face[0]):
            return (360.0, 0.0)  # a face in the very middle comes last
        return (round((float(np.degrees(np.arctan2(y, x))) + 90 + 1e-6) % 360, 4), float(np.hypot(x, y)))

    return sorted(faces, key=angle)


class Split(ShapeRule):
    """Divide the shape into faces."""

    title: ClassVar[str] = "Split"
    words: ClassVar[str] = "Divide a shape into faces that can have their own colours: from its centre, by chords, in cells, rings."
    search: ClassVar[str] = "cube divide cut facets rhombs triangles grid cells diagonals star dissect slice"

    kind: Literal["split"] = "split"
    into: Annotated[
        Into, Choice("Into", "What the shape falls into; chords can be drawn on the sheet from point to point.", options=INTO)
    ] = "rhombs"
    chords: Annotated[
        str,
        Text(
            "Chords",
            "Pairs of ends, corners clockwise from the top: 1-3, 3-5; s2 is the middle of side 2, c the centre.",
            when=(When(field="into", values=("chords",), reason="only for chords"),),
        ),
    ] = "1-3, 3-5, 5-1"
    skip: Annotated[
        int,
        Count("Corners on", "Chords go from each corner to the one so many further on.", least=2, most=60, slides=(2, 8),
              when=(When(field="into", values=("a star",), reason="only for a star"),)),
    ] = 2  # fmt: skip
    columns: Annotated[int, Count("Columns", "How many cells lie side by side.", most=60, slides=(1, 12), when=(COLUMNED,))] = 3
    rows: Annotated[
        int,
        Count(
            "Rows",
            "How many cells lie one below the other, or how many rings there are.",
            most=60,
            slides=(1, 12),
            when=(GUTTERED,),
        ),
    ] = 3
    gutter: Annotated[
        float, Length("Gutter", "How much is left between cells or rings.", least=0.0, slides=(0.0, 10.0), when=(GUTTERED,))
    ] = 0.0

    def faces_of(self, ring: Array) -> list[Face]:
        """Return the faces of corners `ring` (V, 2), clockwise from the top.

        Raises
        ------
        InputError
        """
        count = len(ring)
        if self.into == "rhombs":
            return _rhombs(ring)
        if self.into == "triangles":
            return _triangles(ring)
        if self.into == "cells":
            return _cells(ring, int(self.columns), int(self.rows), self.gutter)
        if self.into == "rings":
            return _rings(ring, int(self.rows), self.gutter)
        if self.into == "all chords":
            return _cut(ring, [(ring[a], ring[b]) for a in range(count) for b in range(a + 1, count)])
        if self.into == "a star":
            return _cut(ring, [(ring[k], ring[(k + int(self.skip)) % count]) for k in range(count)])
        points = named_points(ring)
        ends = [tuple(point_of(points, end, count) for end in chord) for chord in parse_chords(self.chords)]
        return _cut(ring, [(one[0], one[1]) for one in ends])

    def reshape(self, shape: Shape, ground: Ground) -> Shape:
        """Return the faces; refuses curves, a second split, outlines that cross themselves, too many or too few corners."""
        body = shape.body()
        if shape.faces != 1 or not is_straight_polygon(body.verbs) or getattr(shape, "curved", False):
            raise RuleRefused("Split needs one shape with straight edges; put it above the rule that bends or divides it")
        count = len(body.points)
        if not shapely.LinearRing(body.points).is_simple:
            x, y = crossing_of(body.points)
            raise RuleRefused(f"the outline crosses itself at {x:.2f}, {y:.2f}; Split needs one that does not")
        if self.into == "rhombs" and count % 2:
            raise RuleRefused(f"rhombs need an even number of sides; this shape has {count}. Triangles work")
        if self.into == "all chords" and count > CORNERS_MOST:
            raise RuleRefused(f"all chords are drawn of at most {CORNERS_MOST} corners; this shape has {count}. A star works")
        if self.into == "a star" and self.skip >= count:
            raise RuleRefused(f"this shape has {count} corners; chords go from 2 to {count - 1} corners on")
        made = SplitShape(shape, self)
        try:
            made.faces  # noqa: B018 - a wrong chord is refused here
        except InputError as error:
            raise RuleRefused(error.message) from None
        return made

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return the named points, between which chords are drawn."""
        if self.into != "chords":
            return None
        return HandleSet(chord_handles(stage, {}), apply(stage.xform[stage.origin], stage.body_ring))

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Draw a chord to the point under the pointer, or take it away."""
        return {"chords": chord_dragged(self.chords, drag, stage, {})}

    @classmethod
    def suggested(cls, around: Surroundings) -> dict[str, Any]:
        """Return triangles for a motif with an odd number of sides."""
        odd = around.corners is not None and len(around.corners) % 2
        return {"into": "triangles"} if odd else {}

    def key_line(self, unit: str) -> str:
        """Return what it divides into."""
        if self.into == "cells":
            return f"{int(self.columns)} by {int(self.rows)} cells"
        if self.into == "rings":
            return f"{int(self.rows)} rings"
        if self.into == "a star":
            return f"a star, {int(self.skip)} corners on"
        if self.into == "all chords":
            return "along all chords"
        return f"into {self.into} from the centre" if self.into != "chords" else f"chords {self.chords}"


def crossing_of(ring: Array) -> tuple[float, float]:
    """Return a place where a ring (V, 2) crosses itself."""
    found = re.search(r"\[(\S+) (\S+)\]", str(shapely.is_valid_reason(shapely.Polygon(ring))))
    return (float(found[1]), float(found[2])) if found else (float(ring[0, 0]), float(ring[0, 1]))
