"""Outlines as they are drawn: what each distinct one measures, and where its marks lie."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
import shapely

from under_lattice.geometry.affine import Array, apply
from under_lattice.geometry.body import hull
from under_lattice.geometry.outline import CLOSE, CURVE, MOVE, flatten, steps_for, strays
from under_lattice.pattern.clipping import area_of
from under_lattice.pattern.marks import Marks
from under_lattice.pattern.stage import Family, share

FINE = 1e-5  # of the size of an outline, by which its straight pieces may stray from its curves
ROUND = 1e-3  # of its radius, by which a curve may stray from a circle and is one
STEPS_MOST = 96  # straight pieces for each curve
LOOKED_AT = 200  # distinct outlines of each part that tell how many are needed
ROUGH, POINTS = (
    16,
    256,
)  # straight pieces for each curve where a first look is enough, fewer where an outline would have more points
AT_A_TIME = 100  # marks whose ends are looked at together
DENSE = 2_000  # points of an outline; of finer ones the hull is asked
SHORT = 0.02  # of a circle round an outline, by which it is then too small


@dataclass(frozen=True, eq=False)
class Drawn:
    """What marks show, each distinct outline measured once.

    Attributes
    ----------
    marks : Marks
    """

    marks: Marks

    @cached_property
    def rows(self) -> Array:
        """The marks (N,) that are shown."""
        return np.flatnonzero(self.marks.variant >= 0)

    @cached_property
    def kind(self) -> Array:
        """Which distinct outline each of them shows (N,)."""
        return np.asarray(self._begin[self.marks.family[self.rows]] + self.marks.variant[self.rows])

    @cached_property
    def copy(self) -> Array:
        """Of which copy each of them is (N,)."""
        return np.asarray(self.marks.copy[self.rows])

    @cached_property
    def xform(self) -> Array:
        """Where each of them lies (N, 2, 3)."""
        return self.marks.xform if len(self.rows) == self.marks.count else self.marks.xform[self.rows]

    @cached_property
    def _begin(self) -> Array:
        return np.cumsum([0, *(len(family.points) for family in self.marks.families)])

    @property
    def kinds(self) -> int:
        """How many distinct outlines there are."""
        return int(self._begin[-1])

    @cached_property
    def _rough(self) -> list[Array]:
        """Of each family some points of its outlines (M, P, 2)."""
        return [np.concatenate(flatten(f.verbs, f.points, self._few), 1) for f in self.marks.families]

    @cached_property
    def _few(self) -> int:
        """Straight pieces for each curve where a first look is enough."""
        curves = max((family.verbs.count(CURVE) for family in self.marks.families), default=0)
        return max(2, min(ROUGH, POINTS // max(curves, 1)))

    @property
    def points(self) -> int:
        """How many points the longest outline has at the first look, a whole number."""
        return max((points.shape[1] for points in self._rough), default=1)

    @cached_property
    def stray(self) -> Array:
        """How far a curve may be from its straight pieces at the first look, for each distinct outline (K,), in its own place."""
        return np.concatenate([strays(family.verbs, family.points, self._few) for family in self.marks.families])

    @cached_property
    def _steps(self) -> int:
        """Straight pieces for each curve at a close look, as many for all outlines: shared curves stay shared."""
        some = [(family.verbs, family.points[:LOOKED_AT]) for family in self.marks.families]
        wanted = [steps_for(verbs, points, FINE * max(float(np.ptp(points, 1).max(initial=0.0)), 1e-12)) for verbs, points in some]
        return min(max(wanted, default=1), STEPS_MOST)

    def _of(self, kind: int) -> tuple[Family, int]:
        """Family and variant of a distinct outline."""
        family = self._family(kind)
        return self.marks.families[family], int(kind - self._begin[family])

    def _family(self, kind: int) -> int:
        """Which family a distinct outline is of."""
        return int(np.searchsorted(self._begin, kind, "right")) - 1

    def ring(self, kind: int) -> Array:
        """Return the points (P, 2) of a distinct outline, all contours end to end, in its own place."""
        if kind not in self._rings:
            family, variant = self._of(kind)
            flat = flatten(family.verbs, family.points[variant : variant + 1], self._steps)
            self._rings[kind] = np.concatenate(flat, 1)[0]
        return self._rings[kind]

    @cached_property
    def _rings(self) -> dict[int, Array]:
        return {}

    @cached_property
    def circle(self) -> tuple[Array, Array]:
        """A circle round each distinct outline, in its own place: centre (K, 2) and radius (K,), short by at most `SHORT`."""
        centres, reaches = [], []
        for points in self._rough:
            middle = (points.min(1) + points.max(1)) / 2
            centres.append(middle)
            reaches.append(np.hypot(*np.moveaxis(points - middle[:, None], -1, 0)).max(1))
        return np.concatenate(centres), np.concatenate(reaches)

    @cached_property
    def disc(self) -> Array:
        """Which distinct outlines (K,) are discs."""
        found, (centres, reaches) = [], self.circle
        for family, points, begin in zip(self.marks.families, self._rough, self._begin, strict=False):
            if family.verbs[0] != MOVE or set(family.verbs[1:-1]) != {CURVE} or family.verbs[-1] != CLOSE:
                found.append(np.zeros(len(points), bool))
                continue
            middle, reach = centres[begin : begin + len(points)], reaches[begin : begin + len(points)]
            nearest = np.hypot(*np.moveaxis(points - middle[:, None], -1, 0)).min(1)
            found.append(nearest > (1 - ROUND) * reach)
        return np.concatenate(found)

    @cached_property
    def closed(self) -> Array:
        """Which distinct outlines (K,) are closed."""
        shut = [family.verbs.count(MOVE) == family.verbs.count(CLOSE) for family in self.marks.families]
        return np.repeat(np.array(shut, bool), np.diff(self._begin))

    @cached_property
    def centre(self) -> Array:
        """The middle of each mark's circle on the sheet (N, 2)."""
        own, x = self.circle[0][self.kind], self.xform
        return np.asarray(np.einsum("nij,nj->ni", x[:, :, :2], own) + x[:, :, 2])

    @cached_property
    def reach(self) -> Array:
        """The radius of each mark's circle on the sheet (N,); of a disc its own, where its curves meet."""
        radius = self.circle[1].copy()
        starts = np.concatenate([family.points[:, 0] for family in self.marks.families])
        radius[self.disc] = np.hypot(*(starts - self.circle[0])[self.disc].T)
        return np.asarray(radius[self.kind] * self.scales[0])

    @cached_property
    def scales(self) -> tuple[Array, Array]:
        """The greatest and the least size (N,) of each mark's map."""
        a, b, c, d = (self.xform[:, i, j] for i in (0, 1) for j in (0, 1))
        half, twice = (a * a + b * b + c * c + d * d) / 2, (a * d - b * c) ** 2
        root = np.sqrt(np.maximum(half * half - twice, 0.0))
        return np.sqrt(half + root), np.sqrt(np.maximum(half - root, 0.0))

    @cached_property
    def spread(self) -> tuple[Array, Array]:
        """The middle (K, 2) of each distinct outline's points and how far they spread (K,), in its own place.

        Both are the same in whatever order the points stand, and go with affine maps.
        """
        middles, sizes = [], []
        for points in self._rough:
            last = (points[:, 0] == points[:, -1]).all(-1)[:, None] & (points.shape[1] > 1)  # the point they come back to, once
            count = points.shape[1] - last
            middle = (points.sum(1) - np.where(last, points[:, -1], 0.0)) / count
            away = points - middle[:, None]
            away[:, -1] = np.where(last, 0.0, away[:, -1])
            xx, xy, yy = ((away[..., i] * away[..., j]).sum(1) / count[:, 0] for i, j in ((0, 0), (0, 1), (1, 1)))
            middles.append(middle)
            sizes.append(np.sqrt(np.sqrt(np.maximum(xx * yy - xy * xy, 0.0))))
        middle, size = np.concatenate(middles), np.concatenate(sizes)
        middle[self.disc], size[self.disc] = self.circle[0][self.disc], self.circle[1][self.disc]
        return middle, size

    @cached_property
    def inner(self) -> Array:
        """The radius of a disc about the middle of its circle that each distinct outline covers (K,), in its own place.

        Of one that does not cover that middle, or is no plain area, less than zero: as far as a part of it may be.
        """
        centres, reaches = self.circle
        out = -reaches * (1 + SHORT)
        for points, simple, begin in zip(self._rough, self._simple, self._begin, strict=False):
            own = np.flatnonzero(simple)
            at = points[own] - centres[begin + own][:, None]
            run = np.roll(at, -1, 1) - at
            along = np.clip(-(at * run).sum(-1) / np.maximum((run * run).sum(-1), 1e-300), 0.0, 1.0)
            near = np.hypot(*np.moveaxis(at + along[..., None] * run, -1, 0)).min(1)
            above = at[..., 1] > 0
            with np.errstate(divide="ignore", invalid="ignore"):
                right = at[..., 0] - at[..., 1] * run[..., 0] / run[..., 1] > 0
            inside = ((above != np.roll(above, -1, 1)) & right).sum(1) % 2 == 1
            out[begin + own[inside]] = near[inside] - self.stray[begin + own[inside]]
        return out

    def that_decide(self, one: Array, other: Array, asked: Array) -> tuple[Array, Array]:
        """Tell which pairs of marks (P,) may decide how near copies come to their nearest neighbours.

        Returns
        -------
        wanted : (P,) bool
            Pairs that may be nearest of all or overlap, and all that may be nearest of the copies below.
        farthest : (k,)
            Those of the copies `asked` whose nearest neighbour may be farthest.
        """
        apart = np.hypot(*(self.centre[one] - self.centre[other]).T)
        inner, (most, least) = self.inner[self.kind], self.scales
        covers = np.where(inner > 0, inner * least, inner * most)
        reach = self.reach * (1 + SHORT)
        low, high = apart - reach[one] - reach[other], apart - covers[one] - covers[other]  # between these they are apart
        copies = self.copy[one], self.copy[other]
        nearest, sure = (np.full(int(self.copy.max()) + 1, np.inf) for _ in range(2))
        for copy in copies:
            np.minimum.at(nearest, copy, low)
            np.minimum.at(sure, copy, high)
        told = asked[np.isfinite(nearest[asked])]
        farthest = told[sure[told] >= nearest[told].max(initial=-np.inf)]
        limit = np.full(len(nearest), max(float(high.min(initial=np.inf)), 0.0))
        limit[farthest] = np.maximum(limit[farthest], sure[farthest])
        return (low <= limit[copies[0]]) | (low <= limit[copies[1]]), farthest

    def poses(self, one: Array, other: Array) -> tuple[Array, Array]:
        """Find the pairs of marks (k,) that lie to each other alike, up to a turn or mirroring of both.

        Returns
        -------
        first : (m,)
            A pair of each kind.
        variant : (k,)
            Of which kind each is.
        """
        a, b = self.xform[one], self.xform[other]
        back = np.swapaxes(a[:, :, :2], 1, 2)
        shift = (b[:, :, 2] - a[:, :, 2])[..., None]
        seen = np.concatenate([back @ a[:, :, :2], back @ b[:, :, :2], back @ shift], 2).reshape(len(one), 10)
        scale = max(float(np.abs(seen).max(initial=0.0)), 1e-12)
        kinds = np.column_stack([self.kind[one], self.kind[other]])
        return share(np.concatenate([seen / scale, kinds], 1), 1e-9)

    def contours(self, kind: int, fine: bool = False) -> list[Array]:
        """Return the contours (P, 2) of a distinct outline as straight lines, in its own place."""
        own, variant = self._of(kind)
        if own.verbs.count(MOVE) == 1:
            return [self.ring(kind) if fine else self._rough[self._family(kind)][variant]]
        flat = flatten(own.verbs, own.points[variant : variant + 1], self._steps if fine else self._few)
        return [line[0] for line in flat]

    def geometry(self, kind: int, fine: bool = False) -> Any:
        """Return what a distinct outline covers, or its lines if it is open or crosses itself, in its own place."""
        if (kind, fine) not in self._known:
            self._known[kind, fine] = self._made(kind, [line for line in self.contours(kind, fine) if len(line) > 1], fine)
        return self._known[kind, fine]

    def _made(self, kind: int, lines: list[Array], fine: bool) -> Any:
        """The geometry of contours."""
        if not self.closed[kind]:
            return shapely.MultiLineString(lines)
        areas = [shapely.Polygon(line) for line in lines if len(line) > 2]
        if not all(shapely.is_valid(area) for area in areas):
            return shapely.MultiLineString(lines)
        return areas[0] if len(areas) == 1 else area_of(*self._of(kind), self._steps if fine else self._few)[0]

    @cached_property
    def _known(self) -> dict[tuple[int, bool], Any]:
        return {}

    @cached_property
    def _simple(self) -> list[Array]:
        """Of each family, which of its outlines (M,) are one closed contour that does not cross itself."""
        out = []
        for family, points in zip(self.marks.families, self._rough, strict=True):
            one = family.verbs.count(MOVE) == 1 and family.verbs[-1] == CLOSE and points.shape[1] > 2
            out.append(np.asarray(shapely.is_valid(shapely.polygons(points))) if one else np.zeros(len(points), bool))
        return out

    def placed(self, at: Array, fine: bool = False) -> Array:
        """Return what marks `at` (k,) cover or where their lines run on the sheet, as geometries (k,)."""
        out, left = np.empty(len(at), object), np.ones(len(at), bool)
        for family, simple in enumerate(self._simple if not fine else ()):  # all at once
            own = np.flatnonzero(self.marks.family[self.rows[at]] == family)
            variant = self.kind[at[own]] - self._begin[family]
            own, variant = own[simple[variant]], variant[simple[variant]]
            if len(own):
                out[own] = shapely.polygons(apply(self.xform[at[own]], self._rough[family][variant]))
                left[own] = False
        for kind in np.unique(self.kind[at[left]]):
            own = np.flatnonzero((self.kind[at] == kind) & left)
            shape = self.geometry(int(kind), fine)
            points = apply(self.xform[at[own]], shapely.get_coordinates(shape)[None])
            out[own] = shapely.set_coordinates(np.repeat(np.array([shape], object), len(own)), points.reshape(-1, 2))
        return out

    def at_most(self, some: Array, way: Array) -> Array:
        """Return how far marks (k,) reach in a direction (2,) at most (k,)."""
        return self._roughly(some, way) + self.stray[self.kind[some]] * self.scales[0][some]

    def meeting(self, box: tuple[float, float, float, float], room: float = 0.0) -> Array:
        """Return the marks (N,) bool that may meet a box (left, top, right, bottom) or come as near as `room`."""
        reach = (self.reach * (1 + SHORT) + room)[:, None]
        near = ((self.centre + reach >= box[:2]) & (self.centre - reach <= box[2:])).all(1)
        out = np.zeros(self.marks.count, bool)
        out[self.rows[near]] = True
        return out

    @cached_property
    def box(self) -> Array:
        """Left, top, right and bottom of all that is drawn, on the sheet (4,)."""
        left, top, right, bottom = (self._end(np.array(way)) for way in ((-1.0, 0.0), (0.0, -1.0), (1.0, 0.0), (0.0, 1.0)))
        return np.array([-left, -top, right, bottom])

    def _end(self, way: Array) -> float:
        """How far all that is drawn reaches in a direction (2,): the marks that may reach farthest are looked at first."""
        middle = self.centre @ way
        most = middle + self.reach * (1 + SHORT)
        able = np.flatnonzero(most >= middle.max())
        able, best = able[np.argsort(-most[able], kind="stable")], -np.inf
        dense = self.points > DENSE  # a first look at all of its points would cost as much as the hull it has
        for some in (able[at : at + AT_A_TIME] for at in range(0, len(able), AT_A_TIME)):
            if most[some[0]] <= best:
                break
            if not dense:
                least = float(self._roughly(some, way).max())
                some = some[self.at_most(some, way) >= max(best, least)]
            for kind in np.unique(self.kind[some]):
                own, ring = some[self.kind[some] == kind], self._hull(int(kind)) if dense else self.ring(int(kind))
                best = max(best, float((apply(self.xform[own], ring[None]) @ way).max()))
        return best

    def _hull(self, kind: int) -> Array:
        """The corners of the convex hull of a distinct outline: nothing of it reaches farther in any direction."""
        if kind not in self._hulls:
            self._hulls[kind] = hull(self.ring(kind))
        return self._hulls[kind]

    @cached_property
    def _hulls(self) -> dict[int, Array]:
        return {}

    def _roughly(self, some: Array, way: Array) -> Array:
        """How far marks (k,) reach in a direction (2,) by a first look (k,)."""
        out = np.empty(len(some))
        family = self.marks.family[self.rows[some]]
        for which in np.unique(family):
            own = np.flatnonzero(family == which)
            at = some[own]
            points = self._rough[which][self.kind[at] - self._begin[which]]
            back = np.einsum("nij,i->nj", self.xform[at][:, :, :2], way)  # the direction in the own place
            out[own] = np.einsum("npj,nj->np", points, back).max(1) + self.xform[at][:, :, 2] @ way
        return out
