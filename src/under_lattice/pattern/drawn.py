"""Outlines as they are drawn: what each distinct one measures, and where its marks lie."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
import shapely

from under_lattice.geometry.affine import Array, apply
from under_lattice.geometry.outline import CLOSE, CURVE, MOVE, farthest, flat_rings, flatten, steps_for, strays
from under_lattice.geometry.rings import Rings, rings_of
from under_lattice.pattern.clipping import area_of
from under_lattice.pattern.marks import Marks
from under_lattice.pattern.stage import Family, share

TOUCH = 1e-6  # in the unit of the work: what is no further apart touches
FINE = 1e-5  # of the size of an outline, by which its straight pieces may stray from its curves
ROUND = 1e-3  # of its radius, by which a curve may stray from a circle and is one
STEPS_MOST = 96  # straight pieces for each curve
LOOKED_AT = 200  # distinct outlines of each part that tell how many are needed
ROUGH = 16  # straight pieces for each curve where a first look is enough
POINTS = 256  # fewer of them where an outline would have more points
FEW = 200_000  # numbers of a family that are looked at closely at once
AT_A_TIME = 100  # marks whose ends are looked at together
POINTS_AT_A_TIME = 100_000  # of outlines whose ends are looked at
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
        """Of each family some points of its outlines (M, P, 2), all contours end to end."""
        return [joined for joined, _ in self._flat]

    @cached_property
    def _flat(self) -> list[tuple[Array, Array]]:
        """Of each family some points of its outlines (M, P, 2), and how many of them each contour has (C,)."""
        return [flat_rings(family.verbs, family.points, self._few)[:2] for family in self.marks.families]

    @cached_property
    def _apart(self) -> list[tuple[Array, Array]]:
        """The same points as x and y (M, P), one after the other, which is quicker."""
        return [(np.ascontiguousarray(points[..., 0]), np.ascontiguousarray(points[..., 1])) for points in self._rough]

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
            few = family.points.size * self._steps <= FEW
            begin, some = (kind - variant, family.points) if few else (kind, family.points[variant : variant + 1])
            self._rings.update(enumerate(np.concatenate(flatten(family.verbs, some, self._steps), 1), begin))
        return self._rings[kind]

    @cached_property
    def _rings(self) -> dict[int, Array]:
        return {}

    @cached_property
    def circle(self) -> tuple[Array, Array]:
        """A circle round each distinct outline, in its own place: centre (K, 2) and radius (K,), short by at most `SHORT`."""
        centres, reaches = [], []
        for x, y in self._apart:
            across, down = (x.min(1) + x.max(1)) / 2, (y.min(1) + y.max(1)) / 2
            centres.append(np.stack([across, down], 1))
            reaches.append(np.sqrt(_square(x - across[:, None], y - down[:, None]).max(1)))
        return np.concatenate(centres), np.concatenate(reaches)

    @cached_property
    def disc(self) -> Array:
        """Which distinct outlines (K,) are discs."""
        found, (centres, reaches) = [], self.circle
        for family, (x, y), begin in zip(self.marks.families, self._apart, self._begin, strict=False):
            if family.verbs[0] != MOVE or set(family.verbs[1:-1]) != {CURVE} or family.verbs[-1] != CLOSE:
                found.append(np.zeros(len(x), bool))
                continue
            middle, reach = centres[begin : begin + len(x)], reaches[begin : begin + len(x)]
            nearest = _square(x - middle[:, :1], y - middle[:, 1:]).min(1)
            found.append(nearest > ((1 - ROUND) * reach) ** 2)
        return np.concatenate(found)

    @cached_property
    def rings(self) -> Rings:
        """The first look at all distinct outlines, as compiled kernels take them."""
        return rings_of([(*flat, simple) for flat, simple in zip(self._flat, self._simple, strict=True)], self.closed)

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
        for x, y in self._apart:
            last = (x[:, 0] == x[:, -1]) & (y[:, 0] == y[:, -1]) & (x.shape[1] > 1)  # the point they come back to, once
            count = x.shape[1] - last
            means = [(at.sum(1) - np.where(last, at[:, -1], 0.0)) / count for at in (x, y)]
            away = [at - mean[:, None] for at, mean in zip((x, y), means, strict=True)]
            for each in away:
                each[last, -1] = 0.0
            xx, xy, yy = (np.einsum("ij,ij->i", away[i], away[j]) / count for i, j in ((0, 0), (0, 1), (1, 1)))
            middles.append(np.stack(means, 1))
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
        for (x, y), simple, begin in zip(self._apart, self._simple, self._begin, strict=False):
            own = np.flatnonzero(simple)
            x, y = (at[own] - centres[begin + own, k, None] for k, at in enumerate((x, y)))
            to_x, to_y = (np.concatenate([at[:, 1:], at[:, :1]], 1) - at for at in (x, y))
            along = np.clip(-(x * to_x + y * to_y) / np.maximum(_square(to_x, to_y), 1e-300), 0.0, 1.0)
            near = np.sqrt(_square(x + along * to_x, y + along * to_y).min(1, initial=np.inf))
            above = y > 0
            with np.errstate(divide="ignore", invalid="ignore"):
                right = x - y * to_x / to_y > 0
            inside = np.count_nonzero((above != (y + to_y > 0)) & right, 1) % 2 == 1
            out[begin + own[inside]] = near[inside] - self.stray[begin + own[inside]]
        return out

    @cached_property
    def covered(self) -> Array:
        """The radius of a disc about the middle of each mark's circle that it covers (N,), on the sheet; below zero as `inner`."""
        inner, (most, least) = self.inner[self.kind], self.scales
        return np.asarray(np.where(inner > 0, inner * least, inner * most))

    def between(self, one: Array, other: Array) -> Array:
        """Return how far the middles of pairs of marks (P,) are apart (P,)."""
        x, y = np.ascontiguousarray(self.centre.T)
        return np.sqrt(_square(x[one] - x[other], y[one] - y[other]))

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
        other_as_seen = [b[:, :, 0], b[:, :, 1], b[:, :, 2] - a[:, :, 2]]
        columns = [a[:, :, 0], a[:, :, 1], *other_as_seen]
        seen = np.stack([a[:, 0, k] * at[:, 0] + a[:, 1, k] * at[:, 1] for at in columns for k in (0, 1)])
        scale = max(float(np.abs(seen).max(initial=0.0)), 1e-12)
        return share(np.stack([*(seen / scale), self.kind[one], self.kind[other]], 1), 1e-9)

    def contours(self, kind: int, fine: bool = False) -> list[Array]:
        """Return the contours (P, 2) of a distinct outline as straight lines, in its own place."""
        own, variant = self._of(kind)
        if own.verbs.count(MOVE) == 1:
            return [self.ring(kind) if fine else self._rough[self._family(kind)][variant]]
        flat = flatten(own.verbs, own.points[variant : variant + 1], self._steps if fine else self._few)
        return [line[0] for line in flat]

    def fine(self, kind: int) -> Rings:
        """Return a close look at one distinct outline, as compiled kernels take it."""
        if kind not in self._close:
            lines = self.contours(kind, fine=True)
            whole = np.concatenate(lines)[None], np.array([len(line) for line in lines]), np.zeros(1, bool)
            self._close[kind] = rings_of([whole], self.closed[kind : kind + 1])
        return self._close[kind]

    @cached_property
    def _close(self) -> dict[int, Rings]:
        return {}

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

    def covers(self, kinds: Array) -> Array:
        """Tell which of distinct outlines (k,) cover an area, bool; others are open, or cross themselves and are lines."""
        return np.asarray(np.concatenate(self._sound)[kinds])

    @cached_property
    def _simple(self) -> list[Array]:
        """Of each family, which of its outlines (M,) are one closed contour that does not cross itself."""
        single = [family.verbs.count(MOVE) == 1 for family in self.marks.families]
        return [sound & one for sound, one in zip(self._sound, single, strict=True)]

    @cached_property
    def _sound(self) -> list[Array]:
        """Of each family, which of its outlines (M,) are closed contours none of which crosses itself."""
        out = []
        for (points, lengths), begin in zip(self._flat, self._begin, strict=False):
            sound = self.closed[begin : begin + len(points)] & bool((lengths > 2).any())
            for end, length in zip(np.cumsum(lengths).tolist(), lengths.tolist(), strict=True):
                if length > 2 and sound.any():
                    sound &= shapely.is_valid(shapely.polygons(points[:, end - length : end]))
            out.append(sound)
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

    def ends(self, some: Array, ways: Array) -> Array:
        """Return how far marks (k,) reach in directions (2, W) on the sheet, exactly (k, W)."""
        out = np.empty((len(some), ways.shape[1]))
        family = self.marks.family[self.rows[some]]
        for which in np.unique(family).tolist():
            verbs, points = self.marks.families[which].verbs, self.marks.families[which].points
            own = np.flatnonzero(family == which)
            together = max(1, POINTS_AT_A_TIME // points.shape[1])
            for at in range(0, len(own), together):
                part = some[own[at : at + together]]
                back = np.swapaxes(self.xform[part][:, :, :2], 1, 2) @ ways  # the directions in the own place
                heights = points[self.kind[part] - self._begin[which]] @ back
                out[own[at : at + together]] = farthest(verbs, heights) + self.xform[part][:, :, 2] @ ways
        return out

    def meeting(self, box: tuple[float, float, float, float], room: float = 0.0) -> Array:
        """Return the marks (N,) bool that may meet a box (left, top, right, bottom) or come as near as `room`."""
        reach = (self.reach * (1 + SHORT) + room)[:, None]
        near = ((self.centre + reach >= box[:2]) & (self.centre - reach <= box[2:])).all(1)
        out = np.zeros(self.marks.count, bool)
        out[self.rows[near]] = True
        return out

    @cached_property
    def box(self) -> Array:
        """Left, top, right and bottom of all that is drawn, on the sheet (4,); of nothing 0."""
        if not len(self.rows):
            return np.zeros(4)
        left, top, right, bottom = (self._end(np.array(way)) for way in ((-1.0, 0.0), (0.0, -1.0), (1.0, 0.0), (0.0, 1.0)))
        return np.array([-left, -top, right, bottom])

    def _end(self, way: Array) -> float:
        """How far all that is drawn reaches in a direction (2,): the marks that may reach farthest are looked at first."""
        middle = self.centre @ way
        most = middle + self.reach * (1 + SHORT)
        able = np.flatnonzero(most >= middle.max())
        able, best = able[np.argsort(-most[able], kind="stable")], -np.inf
        for some in (able[at : at + AT_A_TIME] for at in range(0, len(able), AT_A_TIME)):
            if most[some[0]] <= best:
                break
            best = max(best, float(self.ends(some, way[:, None]).max()))
        return best


def _square(x: Array, y: Array) -> Array:
    """The squares of the lengths of vectors."""
    return np.asarray(x * x + y * y)
