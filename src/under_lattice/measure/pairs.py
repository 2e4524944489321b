"""How far apart pairs of outlines are: a first look at all, and a close one where that may decide."""

from __future__ import annotations

from typing import Any

import numpy as np
import shapely

from under_lattice.core.progress import Progress
from under_lattice.geometry.affine import Array
from under_lattice.pattern.drawn import FINE, SHORT, Drawn

TOUCH = 1e-6  # in the unit of the work: what is no further apart touches
PAIRS_MOST = 1_500  # pairs whose outlines are compared, fewer where these would have more than
POINTS_MOST = 50_000  # points in all
PAIRS_LEAST = 64
SIDES_MOST = 64  # pairs that touch, of which it is asked whether they share sides
CONVEX = 1e-3  # of its hull, by which an area may be smaller and is convex
PAIRS_OF_POINTS = 40_000  # above which an index of one outline is quicker
AT_A_TIME, POINTS_AT_A_TIME, AT_ONCE_MOST = 64, 16_000, 256  # pairs between two looks at the progress: more where they are short
ROOM = 0.1  # of a circle round the smaller one, about the place where two are nearest, that is looked at closely


class Pairs:
    """Pairs of marks, and how far apart they are (m,); below zero they overlap by so much; nan where nobody looked.

    With `within` an outline lies within another, with `cross` lines cross: then nothing else is asked. `touching` of them meet
    without overlap, and where any of these shares more than points, `sides` is set.

    Parameters
    ----------
    drawn : Drawn
    one, other : (m,)
        The marks.
    """

    def __init__(self, drawn: Drawn, one: Array, other: Array) -> None:
        self.drawn, self.one, self.other = drawn, one, other
        self.apart = np.full(len(one), np.nan)
        self.within = self.cross = self.sides = False
        self.touching = 0
        strays = [drawn.stray[drawn.kind[at]] * drawn.scales[0][at] for at in (one, other)]
        self.size = np.minimum(drawn.reach[one], drawn.reach[other])
        self.slack = strays[0] + strays[1]  # by which `apart` may be wrong
        self.shared = np.full((len(one), 4), np.nan)  # the box of what two have in common

    def look(self, progress: Progress) -> None:
        """Compare outlines, those first that may be nearest.

        Raises
        ------
        GivenUp
        """
        drawn = self.drawn
        middles = np.hypot(*(drawn.centre[self.one] - drawn.centre[self.other]).T)
        bound = middles - (1 + SHORT) * (drawn.reach[self.one] + drawn.reach[self.other])
        order = np.argsort(bound, kind="stable")
        most = max(PAIRS_LEAST, min(PAIRS_MOST, POINTS_MOST // drawn.points))
        if len(order) > most:
            others = order[most // 2 :]
            order = np.concatenate([order[: most // 2], others[:: -(-len(others) // (most // 2))]])
        together = min(max(AT_A_TIME, POINTS_AT_A_TIME // drawn.points), AT_ONCE_MOST)
        for at in range(0, len(order), together):
            progress.check()
            self._look_at(order[at : at + together])
            if self.within or self.cross:
                return

    def _look_at(self, some: Array) -> None:
        """Compare some pairs (k,)."""
        drawn = self.drawn
        mine, its = drawn.placed(self.one[some]), drawn.placed(self.other[some])
        self.apart[some] = _apart(mine, its)
        meet = np.flatnonzero(self.apart[some] <= TOUCH)
        if not len(meet):
            return
        some, mine, its = some[meet], mine[meet], its[meet]
        areas = (shapely.get_dimensions(mine) == 2) & (shapely.get_dimensions(its) == 2)
        self.cross = _any_cross(mine[~areas], its[~areas])
        some, mine, its = some[areas], mine[areas], its[areas]
        self.within = bool((shapely.contains_properly(mine, its) | shapely.contains_properly(its, mine)).any())
        common = shapely.intersection(mine, its)
        deep, unsure = _overlaps(mine, its, common)
        self.shared[some] = shapely.bounds(common)
        self.apart[some], self.slack[some] = -deep, self.slack[some] + unsure
        flat = np.flatnonzero(deep <= TOUCH)
        self.slack[some[flat]] = 0.0  # they have corners in common, not by chance
        if len(flat) and not self.sides and self.touching < SIDES_MOST:
            self.sides = bool(_share_sides(mine[flat], its[flat], self.size[some[flat]]).any())
        self.touching += len(flat)

    def closely(self, at: int) -> float:
        """Return how far apart one pair is, its curves looked at closely where it is nearest or overlaps."""
        if not self.slack[at] or np.isnan(self.apart[at]):
            return float(self.apart[at])
        pair = (self.one[at : at + 1], self.other[at : at + 1])
        fine = [self.drawn.placed(one, fine=True) for one in pair]
        room = ROOM * self.size[at]
        between = self.apart[at] > TOUCH
        box = shapely.bounds(_nearest(*(self.drawn.placed(one) for one in pair)))[0] if between else self.shared[at]
        left, top, right, bottom = box
        near = fine
        if np.isfinite(left):  # what they have in common may be nothing at all
            clipped = [shapely.clip_by_rect(one, left - room, top - room, right + room, bottom + room) for one in fine]
            near = fine if any(shapely.is_empty(one)[0] for one in clipped) else clipped
        apart = float(_apart(*near)[0])
        if apart <= TOUCH:
            apart = -_thickness(near[0][0], near[1][0])
        if abs(apart) < 2 * FINE * self.size[at]:
            apart = 0.0
        self.apart[at], self.slack[at] = apart, 0.0
        return apart


def _any_cross(one: Array, other: Array) -> bool:
    """Tell whether lines (k,) of any pair cross: where many do, the first few tell."""
    at, many = 0, 1
    while at < len(one):
        if shapely.crosses(one[at : at + many], other[at : at + many]).any():
            return True
        at, many = at + many, 2 * many
    return False


def _nearest(one: Array, other: Array) -> Array:
    """The shortest lines between the lines of geometries (k,): an index of the first one's lines is made once for each."""
    mine, its = (np.where(shapely.get_dimensions(each) < 2, each, shapely.boundary(each)) for each in (one, other))
    shapely.prepare(mine)
    return np.asarray(shapely.shortest_line(mine, its))


def _apart(one: Array, other: Array) -> Array:
    """How far apart geometries (k,) are; every piece of a line is compared with every other one only where these are few."""
    long = shapely.get_num_coordinates(one) * shapely.get_num_coordinates(other) > PAIRS_OF_POINTS
    out = np.zeros(len(one))
    out[~long] = shapely.distance(one[~long], other[~long])
    apart = np.flatnonzero(long)
    apart = apart[~shapely.intersects(one[apart], other[apart])]
    out[apart] = shapely.length(_nearest(one[apart], other[apart]))
    return out


def _overlaps(one: Array, other: Array, common: Array) -> tuple[Array, Array]:
    """How thick what two areas (k,) have in `common` is, and by how much more it may be: exact where that is convex."""
    deep, unsure = np.zeros(len(one)), np.zeros(len(one))
    if not len(one):
        return deep, unsure
    size = np.sqrt(np.minimum(shapely.area(one), shapely.area(other)))
    for k in np.flatnonzero(shapely.area(common) > TOUCH * size):
        part = max(shapely.get_parts(common[k]), key=shapely.area)
        if part.geom_type != "Polygon":
            continue
        if part.area > (1 - CONVEX) * part.convex_hull.area:
            corners = shapely.get_coordinates(shapely.minimum_rotated_rectangle(part))
            deep[k] = np.hypot(*np.diff(corners[:3], axis=0).T).min() if len(corners) > 3 else 0.0
        else:  # its mean thickness; where it is thickest it may be twice as much
            deep[k] = unsure[k] = 2 * part.area / part.length
    return deep, unsure


def _thickness(one: Any, other: Any) -> float:
    """How thick what two areas have in common is, where its largest part is thickest: across the largest disc in it."""
    pair = np.array([one], object), np.array([other], object)
    common = shapely.intersection(*pair)
    deep, unsure = _overlaps(*pair, common)
    if not unsure[0]:
        return float(deep[0])
    part = max(shapely.get_parts(common[0]), key=shapely.area)
    return 2 * float(shapely.maximum_inscribed_circle(part, tolerance=0.01 * deep[0]).length)


def _share_sides(one: Array, other: Array, size: Array) -> Array:
    """Tell which areas (k,) that touch share more than points: a hair round one of them covers a stretch of the other's edge."""
    shared = shapely.intersection(shapely.buffer(one, 1e-6 * size, quad_segs=2), shapely.boundary(other))
    return np.asarray(shapely.length(shared) > 1e-3 * size)
