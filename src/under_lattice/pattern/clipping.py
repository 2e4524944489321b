"""Shapes clipped to regions: what of an outline lies within a convex one, and the region that belongs to one of many places."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, ClassVar

import numpy as np
import shapely

from under_lattice.core.errors import RuleRefused
from under_lattice.geometry.affine import Array
from under_lattice.geometry.outline import CLOSE, flatten, polygon_verbs, steps_for
from under_lattice.pattern.ask import Ask
from under_lattice.pattern.stage import Family, Over

ERROR = 2e-4  # of the size of an outline, by which straight pieces may stray from its curves
NEAREST = 60


def nearest_region(place: Array, others: Array, box: Array) -> Array:
    """Return the convex corners (V, 2) of all that is nearer to `place` (2,) than to any of `others` (n, 2), within `box` (4, 2).

    With the images of a place under a symmetry group this is a fundamental region of it (its Dirichlet domain).

    Raises
    ------
    RuleRefused
        When another stands on the very place.
    """
    away = others - place
    far = np.hypot(*away.T)
    size = float(np.ptp(box, 0).max())
    if (far < 1e-7 * size).any():
        raise RuleRefused(
            "the middle of the motif stands on a mirror or an axis of the group; move it aside to clip it to its region"
        )
    region: Any = shapely.Polygon(box)
    for k in np.argsort(far, kind="stable")[:NEAREST]:
        normal = away[k] / far[k]
        along = np.array([-normal[1], normal[0]]) * 4 * size
        middle = place + away[k] / 2
        half = shapely.Polygon(
            [middle + along, middle - along, middle - along - normal * 8 * size, middle + along - normal * 8 * size]
        )
        region = region.intersection(half)
    return np.asarray(shapely.get_coordinates(region)[:-1])


def padded(rings: list[Array]) -> Array:
    """Rings (k, 2) with as many corners each as the longest, its last repeated: (R, K, 2)."""
    most = max(map(len, rings))
    return np.stack([np.concatenate([ring, np.repeat(ring[-1:], most - len(ring), 0)]) for ring in rings])


def area_of(family: Family, variant: int, steps: int = 0) -> tuple[Any, float]:
    """Return what an outline covers (winding number not zero, as it is painted), as a geometry, and its size.

    With `steps`, so many straight pieces for each curve; else as many as `ERROR` asks for.
    """
    points = family.points[variant : variant + 1]
    size = float(np.ptp(points[0], 0).max()) or 1.0
    flat = flatten(family.verbs, points, steps or steps_for(family.verbs, points, ERROR * size))
    rings = [np.asarray(ring[0]) for ring in flat if ring.shape[1] > 2]
    polygons = np.array([shapely.Polygon(ring) for ring in rings], object)
    if not len(rings) or not shapely.is_valid(polygons).all():
        return _wound(rings), size
    if len(rings) == 1:  # overlaid with nothing: the library brings its corners into an order its overlays like
        return shapely.Polygon().symmetric_difference(shapely.buffer(polygons[0], 0)), size
    ways = np.array([shapely.is_ccw(shapely.LinearRing(ring)) for ring in rings])
    both = [shapely.union_all(polygons[ways == way]) for way in (True, False)]
    if sum(area.area for area in both) < shapely.area(polygons).sum() * (1 - 1e-9):  # some of one way overlap
        return _wound(rings), size
    return both[0].symmetric_difference(both[1]), size


def _wound(rings: list[Array]) -> Any:
    """What rings that may cross themselves and each other wind round: every face of their lines by its winding number."""
    if not rings:
        return shapely.Polygon()
    lines = shapely.unary_union([shapely.LineString(np.concatenate([ring, ring[:1]])) for ring in rings])
    faces = shapely.get_parts(shapely.polygonize([lines]))
    if not len(faces):
        return shapely.Polygon()
    inside = np.array([(p.x, p.y) for p in shapely.point_on_surface(faces)])
    turns = sum(_winding(ring, inside) for ring in rings)
    return shapely.union_all(faces[np.asarray(turns) != 0])


def _winding(ring: Array, points: Array) -> Array:
    """How often a ring (V, 2) winds round points (n, 2)."""
    one, other = ring[None] - points[:, None], np.roll(ring, -1, 0)[None] - points[:, None]
    cross = one[..., 0] * other[..., 1] - one[..., 1] * other[..., 0]
    angle = np.arctan2(cross, (one * other).sum(-1))
    return np.asarray(np.rint(angle.sum(1) / (2 * np.pi)).astype(int))


def rings_of(area: Any, size: float) -> list[Array]:
    """Return the rings (k, 2) of an area, holes after their outlines and turned the other way; next to nothing is left out."""
    out: list[Array] = []
    for part in shapely.get_parts(shapely.orient_polygons(area)):
        if part.geom_type == "Polygon" and part.area > 1e-12 * size * size:
            out += [np.asarray(ring.coords)[:-1] for ring in (part.exterior, *part.interiors)]
    return out


def of_rings(parts: list[list[Array]], variant: Array) -> Family:
    """Return one family of shapes, each with rings of its own; `variant` (n,) says which each copy shows, if it is not empty."""
    many = max([1, *map(len, parts)])
    nothing = np.zeros((3, 2))
    kept = [[*part, *[part[-1][-1:].repeat(3, 0) if part else nothing] * (many - len(part))] for part in parts]
    columns = [padded([rings[k] for rings in kept]) for k in range(many)]
    empty = np.array([not part for part in parts])
    shown = np.where((variant >= 0) & empty[np.maximum(variant, 0)], -1, variant).astype(np.int32)
    return Family(b"".join(polygon_verbs(c.shape[1]) for c in columns), np.concatenate(columns, 1), shown)


@dataclass(frozen=True, eq=False)
class Clipped(Over):
    """A shape of which each copy shows only what lies in a region.

    Attributes
    ----------
    of : Shape
    rule : str
        Id of the rule whose copies the regions belong to.
    regions : tuple of geometries
        One for each copy of that rule, in the shape's own place; None for a copy that shows all.
    """

    alike: ClassVar[bool] = False  # a body says nothing of what is left: distances between neighbours mean nothing
    rule: str
    regions: tuple[Any, ...]

    def reach(self) -> float:
        """As far as the whole; a region never adds to it, in units of the shape."""
        return self.of.reach()

    def draw(self, ask: Ask) -> tuple[Family, ...]:
        """Return the faces, each variant clipped once for each region it is seen in; by itself the shape is whole."""
        if ask.stage(self.rule) is None:
            return self.of.draw(ask)
        index = ask.ancestors(self.rule)
        return tuple(self._family(family, index) for family in self.of.draw(ask))

    def _family(self, family: Family, index: Array) -> Family:
        if family.verbs[-1] != CLOSE:
            return family
        shown = family.variant >= 0
        pairs, inverse = np.unique(np.stack([family.variant[shown], index[shown]], 1), axis=0, return_inverse=True)
        if not len(pairs):
            return family
        variant = np.full(len(family.variant), -1, np.int32)
        variant[shown] = inverse.ravel()
        return of_rings([self._parts(family, int(one), int(region)) for one, region in pairs], variant)

    def _parts(self, family: Family, variant: int, region: int) -> list[Array]:
        """Rings of what is left."""
        whole, size = area_of(family, variant)
        kept = self.regions[region]
        return rings_of(whole if kept is None else whole.intersection(kept), size)
