"""Flattening: curves as straight pieces, as fine as the size they are seen at asks for."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from under_lattice.core.errors import LimitError
from under_lattice.geometry.affine import Array
from under_lattice.geometry.outline import CLOSE, CURVE, MOVE, areas, flat_rings, steps_for
from under_lattice.pattern.marks import Marks
from under_lattice.pattern.stage import Family

FLAT = 0.1  # px; no flattened curve strays further
SMALL = 4.0  # px; only of shapes that are seen as small as this, or nearly, the area is needed
POINTS_MOST = 12_000_000  # of all marks together, a few seconds of painting
HELD_MOST = 40_000_000  # about 60 bytes each
DENSE = 400  # points of an outline; of such ones, those that cannot be told apart are left out
MANY = 32  # families; of more, those with the same verbs are flattened together
LEVELS_MOST = 10  # of fineness, each for half the size of the one before


@dataclass(frozen=True, eq=False)
class Shapes:
    """All variants of all families, flattened, those seen at very different sizes more than once.

    Attributes
    ----------
    contour_of : (S + 1,)
        First contour of each shape.
    contours : (C + 1,)
        First point of each contour.
    closed : (C,)
    points : (P, 2)
    radius, area : (S,)
        About the shape's own origin; area by the winding of its contours, only where copies may be tiny.
    dropped : int
        Contours of fewer than two points.
    stride : int
        Of so many points of a dense outline one was kept.
    """

    contour_of: Array
    contours: Array
    closed: Array
    points: Array
    radius: Array
    area: Array
    dropped: int = 0
    stride: int = 1

    def corners(self) -> Array:
        """Return the corners of the box round each shape (S, 4, 2), in its own place; a point for one that has none."""
        first, end = self.contours[self.contour_of[:-1]], self.contours[self.contour_of[1:]]
        out = np.zeros((len(first), 4, 2))
        some = np.flatnonzero(end > first)
        if len(some):
            low, high = (most.reduceat(self.points, first[some]) for most in (np.minimum, np.maximum))
            out[some] = np.stack([low, np.stack([high[:, 0], low[:, 1]], 1), high, np.stack([low[:, 0], high[:, 1]], 1)], 1)
        return out


def sizes_of(xform: Array) -> tuple[Array, Array]:
    """Largest stretch of each map (N,), and whether it is the same in all directions."""
    a, b, c, d = xform[:, 0, 0], xform[:, 0, 1], xform[:, 1, 0], xform[:, 1, 1]
    squares, double = a * a + b * b + c * c + d * d, 2 * np.abs(a * d - b * c)
    apart = np.maximum(squares - double, 0.0)
    largest = (np.sqrt(squares + double) + np.sqrt(apart)) / 2
    return largest, apart <= 1e-12 * squares


def flat_shapes(marks: Marks, size: Array) -> tuple[Shapes, Array]:
    """Flatten all variants of all families for marks seen at `size` px per unit; return also each mark's row (N,).

    Where all marks together would have more points than can be drawn in a while, dense outlines keep one of so many.

    Raises
    ------
    LimitError
        When they have more than can be held, and none can be left out.
    """
    shapes, row = _flat(marks, size, 1)
    points = np.diff(shapes.contours[shapes.contour_of])
    every = float(points[row].sum()) if len(points) else 0.0
    if every <= POINTS_MOST:
        return shapes, row
    if np.diff(shapes.contours).max() <= DENSE:  # many short contours: there is nothing to leave out
        if every > HELD_MOST:
            raise LimitError(f"the outlines have {every:,.0f} points in all; at most {HELD_MOST:,} are painted. Use fewer copies")
        return shapes, row
    stride = 2 * int(every / POINTS_MOST / 2) + 3  # odd: what goes to and fro does not stay on one side
    shapes, row = _flat(marks, size, stride)
    return replace(shapes, stride=stride), row


def _flat(marks: Marks, size: Array, stride: int) -> tuple[Shapes, Array]:
    made = _Made(stride)
    row = np.zeros(marks.count, np.int64)
    with np.errstate(invalid="ignore", over="ignore"):
        if len(marks.families) == 1:
            row = np.asarray(made.add(marks.families[0], marks.variant, size))
        elif len(marks.families) <= MANY:
            for f, family in enumerate(marks.families):
                own = np.flatnonzero(marks.family == f)
                row[own] = made.add(family, marks.variant[own], size[own])
        else:
            for family, own, variant in _alike(marks):
                row[own] = made.add(family, variant, size[own])
    return made.shapes(), row


def _alike(marks: Marks) -> Iterator[tuple[Family, Array, Array]]:
    """Families with the same verbs taken together: the family they make, the marks that are of it, and their variants."""
    members: dict[bytes, list[int]] = {}
    for f, family in enumerate(marks.families):
        members.setdefault(family.verbs, []).append(f)
    for verbs, some in members.items():
        first, there = np.zeros(len(marks.families), np.int64), np.zeros(len(marks.families), bool)
        first[some] = np.cumsum([0, *(len(marks.families[f].points) for f in some[:-1])])
        there[some] = True
        own = np.flatnonzero(there[marks.family])
        variant = np.where(marks.variant[own] < 0, -1, marks.variant[own] + first[marks.family[own]])
        yield Family(verbs, np.concatenate([marks.families[f].points for f in some]), variant), own, variant


def _told_apart(points: Array, near: float) -> Array:
    """Which points (n, K) of dense contours (n, K, 2) can be told apart from the one before.

    They are in another cell of a fine grid. No cell is wider than `near` from corner to corner, so that what is left without the
    others strays no further.
    """
    cell = np.floor(points / (near / 2**0.5))
    apart = np.zeros(points.shape[:2], bool)
    apart[:, 1:] = (cell[:, 1:, 0] != cell[:, :-1, 0]) | (cell[:, 1:, 1] != cell[:, :-1, 1])
    return apart


class _Made:
    """Gathers flattened shapes."""

    def __init__(self, stride: int) -> None:
        self.stride = stride
        self.pieces: list[Array] = []
        self.lengths: list[Array] = []
        self.closed: list[Array] = []
        self.per_shape: list[Array] = []
        self.radius: list[Array] = []
        self.area: list[Array] = []
        self.count = 0
        self.dropped = 0

    def add(self, family: Family, variant: Array, size: Array) -> Array:
        """Flatten one family for its marks; return their rows."""
        largest = float(size.max(initial=0.0)) or 1.0
        small = float(size.min(initial=np.inf) * np.abs(family.points).max(initial=0.0)) < SMALL
        curved = CURVE in family.verbs
        dense = family.points.shape[1] > DENSE or (curved and self.stride > 1)
        if not curved and not dense:
            return self._level(family, family.points, 1, small) + variant
        level = np.clip(np.log2(largest / np.maximum(size, 1e-12)), 0, LEVELS_MOST).astype(np.int64)
        row = np.zeros(len(variant), np.int64)
        for one in np.unique(level):
            at = np.flatnonzero(level == one)
            used, which = np.unique(np.maximum(variant[at], 0), return_inverse=True)
            points = family.points[used] if len(used) < len(family.points) else family.points
            near = FLAT * 2.0**one / max(largest, 1e-9)
            steps = steps_for(family.verbs, points, near) if curved else 1
            row[at] = self._level(family, points, steps, small, near if dense else 0.0) + which
        return row

    def _level(self, family: Family, points: Array, steps: int, small: bool, near: float = 0.0) -> int:
        """Flatten at one fineness; of dense outlines, points that lie closer together than `near` are left out."""
        many, first = len(points), self.count
        if CURVE not in family.verbs and family.verbs.count(MOVE) == 1:
            joined, lengths, closed = points, np.array([points.shape[1]]), np.array([family.verbs[-1] == CLOSE])
        else:
            joined, lengths, closed = flat_rings(family.verbs, points, steps)
        kept = lengths >= 2
        self.dropped += int((~kept).sum())
        if not kept.all():
            joined, lengths, closed = joined[:, np.repeat(kept, lengths)], lengths[kept], closed[kept]
        stay = self._stays(joined, lengths, near) if near and len(lengths) else None
        self.pieces.append(joined[stay] if stay is not None else joined.reshape(-1, 2))
        begin = np.cumsum(lengths) - lengths
        self.lengths.append(np.add.reduceat(stay, begin, 1, np.int64).ravel() if stay is not None else np.tile(lengths, many))
        self.closed.append(np.tile(closed, many))
        self.per_shape.append(np.full(many, len(lengths)))
        self.radius.append(np.hypot(joined[..., 0], joined[..., 1]).max(1, initial=0.0))
        self.area.append(np.abs(areas(family.verbs, points)) if small else np.zeros(many))
        self.count += many
        return first

    def _stays(self, joined: Array, lengths: Array, near: float) -> Array:
        """Which points (n, P) of contours (n, P, 2), which have so many points each, end to end, stay."""
        ends = np.cumsum(lengths)
        stay = _told_apart(joined, near)
        stay[:, ends - lengths] = stay[:, ends - 1] = True
        for k in np.flatnonzero(lengths > DENSE) if self.stride > 1 else ():
            own = slice(ends[k] - lengths[k], ends[k])
            stay[:, own] = False
            stay[:, own][:, :: self.stride] = _told_apart(joined[:, own][:, :: self.stride], near)
            stay[:, [own.start, own.stop - 1]] = True
        return stay

    def shapes(self) -> Shapes:
        """Return all of them."""
        if not self.count:
            none = np.zeros(0)
            return Shapes(np.zeros(1, np.int64), np.zeros(1, np.int64), none.astype(np.int64), none.reshape(0, 2), none, none)
        return Shapes(
            np.concatenate([[0], np.cumsum(np.concatenate(self.per_shape))]).astype(np.int64),
            np.concatenate([[0], np.cumsum(np.concatenate(self.lengths))]).astype(np.int64),
            np.concatenate(self.closed).astype(np.int64),
            np.concatenate(self.pieces),
            np.concatenate(self.radius),
            np.concatenate(self.area),
            self.dropped,
        )
