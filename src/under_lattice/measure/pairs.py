"""How far apart pairs of outlines are: a first look at all, and a close one where that may decide."""

from __future__ import annotations

from typing import Any

import numpy as np
import shapely

from under_lattice.core.progress import Progress
from under_lattice.geometry.affine import Array
from under_lattice.measure.kernel_common import thickness
from under_lattice.measure.kernel_near import between_pieces, look, place, shared_sides
from under_lattice.pattern.drawn import FINE, SHORT, TOUCH, Drawn

PAIRS_MOST = 1_500  # pairs whose outlines are compared, fewer where these would have more than
POINTS_MOST = 100_000  # points in all
OVERLAID_MOST = 50_000  # points in all of pairs that are overlaid, because they are not convex
PAIRS_LEAST = 64
SIDES_MOST = 64  # pairs that touch, of which it is asked whether they share sides
CONVEX = 1e-3  # of its hull, by which an area may be smaller and is convex
ALL = 1e-6  # of an area: what misses no more of it is the whole of it
HAIR, SIDE = 1e-6, 1e-3  # of the smaller one's circle: how near sides are that are shared, and how long
AT_A_TIME, POINTS_AT_A_TIME, AT_ONCE_MOST = 64, 50_000, 256  # pairs between two looks at the progress: more where they are short
ROOM = 0.1  # of a circle round the smaller one, about what two have in common, that is looked at closely


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
        self.kinds = np.stack([drawn.kind[one], drawn.kind[other]], 1).astype(np.int64)
        self.apart = np.full(len(one), np.nan)
        self.within = self.cross = self.sides = False
        self.touching = self._overlaid = 0
        strays = [drawn.stray[kind] * drawn.scales[0][at] for kind, at in zip(self.kinds.T, (one, other), strict=True)]
        self.bound = drawn.between(one, other) - (1 + SHORT) * (drawn.reach[one] + drawn.reach[other])  # no pair is nearer
        self.size = np.minimum(drawn.reach[one], drawn.reach[other])
        self.slack = strays[0] + strays[1]  # by which `apart` may be wrong
        self.shared = np.full((len(one), 4), np.nan)  # the box of what two have in common

    def look(self, rank: Array, progress: Progress) -> None:
        """Compare outlines, those first that may be nearest; of too many, then those of the least `rank` (m,).

        Raises
        ------
        GivenUp
        """
        drawn = self.drawn
        order = np.argsort(self.bound, kind="stable")
        most = max(PAIRS_LEAST, min(PAIRS_MOST, POINTS_MOST // drawn.points))
        if len(order) > most:
            others = order[most // 2 :]
            order = np.concatenate([order[: most // 2], others[np.argsort(rank[others], kind="stable")][: most - most // 2]])
        together = min(max(AT_A_TIME, POINTS_AT_A_TIME // drawn.points), AT_ONCE_MOST)
        for at in range(0, len(order), together):
            progress.check()
            self._look_at(order[at : at + together])
            if self.within or self.cross:
                return

    def _look_at(self, some: Array) -> None:
        """Compare some pairs (k,)."""
        drawn, one, other = self.drawn, self.one[some], self.other[some]
        apart, inside = np.empty(len(some)), np.empty(len(some), bool)
        look(drawn.rings, self.kinds[some], self._maps(some), apart, inside)
        areas = drawn.covers(self.kinds[some]).all(1)
        meet = (apart <= TOUCH) | (inside & areas)
        self.apart[some] = np.where(meet, 0.0, apart)
        self._touching(some[meet & areas & ~inside])
        lines = np.flatnonzero(meet & ~areas)
        self.cross = bool((apart[lines] < 0).any()) or _any_cross(drawn.placed(one[lines]), drawn.placed(other[lines]))
        if not self.cross:
            self._meeting(some[inside & areas])

    def _meeting(self, some: Array) -> None:
        """Measure what pairs of areas (k,) that meet have in common; of those that must be overlaid only so many."""
        drawn = self.drawn
        convex = drawn.rings.convex[self.kinds[some]].all(1)
        others = some[~convex]
        left = max(0, max(PAIRS_LEAST, OVERLAID_MOST // drawn.points) - self._overlaid)
        self._overlaid += len(others)
        self.apart[others[left:]] = np.nan
        for pairs, common in ((some[convex], self._of_convex), (others[:left], self._of_any)):
            if len(pairs):
                self._note(pairs, *common(pairs))

    def _of_convex(self, some: Array) -> tuple[Array, ...]:
        """How thick what pairs (k,) have in common is, how unsure that is, its box (k, 4), and three areas (k, 3)."""
        deep, box, areas = np.empty(len(some)), np.empty((len(some), 4)), np.empty((len(some), 3))
        thickness(self.drawn.rings, self.kinds[some], self._maps(some), TOUCH, deep, box, areas)
        return deep, np.zeros(len(some)), box, areas

    def _of_any(self, some: Array) -> tuple[Array, ...]:
        """The same of pairs that are not convex."""
        mine, its = self.drawn.placed(self.one[some]), self.drawn.placed(self.other[some])
        common = shapely.intersection(mine, its)
        return *_overlaps(mine, its, common), np.stack([shapely.area(each) for each in (common, mine, its)], 1)

    def _note(self, some: Array, deep: Array, unsure: Array, box: Array, areas: Array) -> None:
        """Keep what pairs (k,) have in common."""
        smaller, larger = areas[:, 1:].min(1), areas[:, 1:].max(1)
        self.within |= bool(((areas[:, 0] >= (1 - ALL) * smaller) & (smaller < (1 - ALL) * larger)).any())
        self.shared[some], self.apart[some], self.slack[some] = box, -deep, self.slack[some] + unsure
        self._touching(some[deep <= TOUCH])

    def _touching(self, flat: Array) -> None:
        """Note pairs (k,) that meet and have no area in common, and whether any shares sides."""
        self.slack[flat] = 0.0  # they have corners in common, not by chance
        some = flat[: max(0, SIDES_MOST - self.touching)]
        if len(some) and not self.sides:
            long = np.empty(len(some))
            shared_sides(self.drawn.rings, self.kinds[some], self._maps(some), HAIR * self.size[some], long)
            self.sides = bool((long > SIDE * self.size[some]).any())
        self.touching += len(flat)

    def _maps(self, some: Array) -> Array:
        """Where both marks of pairs (k,) lie (k, 2, 2, 3)."""
        return np.stack([self.drawn.xform[self.one[some]], self.drawn.xform[self.other[some]]], 1)

    def closely(self, at: int) -> float:
        """Return how far apart one pair is, its curves looked at closely where it is nearest or overlaps."""
        if not self.slack[at] or np.isnan(self.apart[at]):
            return float(self.apart[at])
        marks = int(self.one[at]), int(self.other[at])
        apart = float(self.apart[at])
        if apart > TOUCH:
            (mine, many), (its, much) = (self._pieces(mark) for mark in marks)
            apart = between_pieces(mine, many, its, much)
        if apart <= TOUCH:
            apart = -_thickness(*self._in_common(at, marks))
        if abs(apart) < 2 * FINE * self.size[at]:
            apart = 0.0
        self.apart[at], self.slack[at] = apart, 0.0
        return apart

    def _pieces(self, mark: int) -> tuple[Array, int]:
        """The straight pieces (S, 4) of a mark, looked at closely, and how many there are."""
        kind = int(self.drawn.kind[mark])
        rings = self.drawn.fine(kind)
        pieces = np.empty((rings.longest, 4))
        contours, closed = len(rings.contours) - 1, bool(rings.closed[0])
        return pieces, place(rings.points, rings.contours, 0, contours, closed, np.array(self.drawn.xform[mark]), pieces)

    def _in_common(self, at: int, marks: tuple[int, int]) -> list[Any]:
        """Two areas looked at closely, cut off about what they had in common at the first look."""
        fine = [self.drawn.placed(np.array([mark]), fine=True)[0] for mark in marks]
        left, top, right, bottom = self.shared[at]
        room = ROOM * self.size[at]
        if not np.isfinite(left):  # what they have in common may be nothing at all
            return fine
        clipped = [shapely.clip_by_rect(one, left - room, top - room, right + room, bottom + room) for one in fine]
        return fine if any(shapely.is_empty(one) for one in clipped) else clipped


def _any_cross(one: Array, other: Array) -> bool:
    """Tell whether lines (k,) of any pair cross: where many do, the first few tell."""
    at, many = 0, 1
    while at < len(one):
        if shapely.crosses(one[at : at + many], other[at : at + many]).any():
            return True
        at, many = at + many, 2 * many
    return False


def _overlaps(one: Array, other: Array, common: Array) -> tuple[Array, Array, Array]:
    """How thick what two areas (k,) have in `common` is, by how much more it may be, and the box (k, 4) of its largest part.

    Exact where that part is convex.
    """
    deep, unsure, box = np.zeros(len(one)), np.zeros(len(one)), np.full((len(one), 4), np.nan)
    if not len(one):
        return deep, unsure, box
    size = np.sqrt(np.minimum(shapely.area(one), shapely.area(other)))
    for k in np.flatnonzero(shapely.area(common) > TOUCH * size):
        part = max(shapely.get_parts(common[k]), key=shapely.area)
        if part.geom_type != "Polygon":
            continue
        box[k] = part.bounds
        if part.area > (1 - CONVEX) * part.convex_hull.area:
            corners = shapely.get_coordinates(shapely.minimum_rotated_rectangle(part))
            deep[k] = np.hypot(*np.diff(corners[:3], axis=0).T).min() if len(corners) > 3 else 0.0
        else:  # its mean thickness; where it is thickest it may be twice as much
            deep[k] = unsure[k] = 2 * part.area / part.length
    return deep, unsure, box


def _thickness(one: Any, other: Any) -> float:
    """How thick what two areas have in common is, where its largest part is thickest: across the largest disc in it."""
    pair = np.array([one], object), np.array([other], object)
    common = shapely.intersection(*pair)
    deep, unsure, _ = _overlaps(*pair, common)
    if not unsure[0]:
        return float(deep[0])
    part = max(shapely.get_parts(common[0]), key=shapely.area)
    return 2 * float(shapely.maximum_inscribed_circle(part, tolerance=0.01 * deep[0]).length)
