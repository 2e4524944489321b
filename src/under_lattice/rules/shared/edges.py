"""Straight-sided faces edge by edge: numbers asked at the middles of edges, and outlines made anew from the answers."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from under_lattice.geometry.affine import Array
from under_lattice.geometry.body import STRAIGHT
from under_lattice.geometry.outline import CLOSE, LINE, MOVE, is_straight_polygon
from under_lattice.pattern.ask import Ask, Number, Varying
from under_lattice.pattern.stage import Family, share


class Edges(NamedTuple):
    """A face's distinct tiles, or lines that are open.

    Attributes
    ----------
    corners : (M, V, 2)
    values : tuple of (M, E)
        Each number at the middles of the edges; edge i runs from corner i to the next, of an open line the last one to nowhere.
    variant : (n,) int32
        Which tile each copy shows.
    closed : bool
    """

    corners: Array
    values: tuple[Array, ...]
    variant: Array
    closed: bool = True

    @property
    def middles(self) -> Array:
        """Middles of the edges (M, E, 2)."""
        return _middles(self.corners, self.closed)

    @property
    def runs(self) -> Array:
        """From corner to corner (M, E, 2)."""
        return np.roll(self.corners, -1, 1) - self.corners if self.closed else np.diff(self.corners, axis=1)

    @property
    def inward(self) -> Array:
        """Unit normals of the edges (M, E, 2) towards the inside; of an open line to the right of who walks along it."""
        run = self.runs
        length = np.maximum(np.hypot(run[..., 0], run[..., 1]), 1e-300)
        left = np.stack([-run[..., 1], run[..., 0]], -1) / length[..., None]
        return left * self.winding[:, None, None]

    @property
    def winding(self) -> Array:
        """1 for tiles that run clockwise as seen and open lines, -1 for others (M,)."""
        if not self.closed:
            return np.ones(len(self.corners))
        x, y = self.corners[..., 0], self.corners[..., 1]
        return np.where((x * np.roll(y, -1, 1) - y * np.roll(x, -1, 1)).sum(1) >= 0, 1.0, -1.0)


@dataclass(frozen=True)
class OfTile:
    """A number asked for whole tiles: the same at all edges of one."""

    number: Varying

    def over(self, ask: Ask, points: Array | None) -> Array:
        """Return values (n, 1)."""
        return self.number.over(ask, None)

    @property
    def rest(self) -> float:
        """Its start, in the unit of the number."""
        return self.number.rest

    @property
    def largest(self) -> float:
        """Greatest size it may take, in the unit of the number."""
        return self.number.largest


def of_tile(number: Number) -> Number:
    """Return a number that is asked for whole tiles."""
    return OfTile(number) if isinstance(number, Varying) else number


def _middles(corners: Array, closed: bool) -> Array:
    return (corners + np.roll(corners, -1, 1))[:, : None if closed else -1] / 2


def is_open_straight(family: Family) -> bool:
    """Tell whether a face is one open line of straight sides."""
    return len(family.verbs) > 1 and family.verbs == bytes([MOVE] + [LINE] * (len(family.verbs) - 1))


def without_needless(family: Family) -> Family:
    """Return an open line without corners that lie between their neighbours on a straight line in all its variants."""
    points = family.points
    before, here, after = points[:, :-2], points[:, 1:-1], points[:, 2:]
    along, off = after - before, here - before
    aside = np.abs(along[..., 0] * off[..., 1] - along[..., 1] * off[..., 0])
    size = np.maximum(np.ptp(points, 1).max(1), 1e-300)[:, None]
    flat = (aside <= STRAIGHT * size * np.hypot(along[..., 0], along[..., 1])) & (((after - here) * off).sum(-1) >= 0)
    kept = np.concatenate([[True], ~flat.all(0), [True]])
    return Family(bytes([MOVE] + [LINE] * (int(kept.sum()) - 1)), points[:, kept], family.variant)


def is_straight(family: Family) -> bool:
    """Tell whether a face is one closed contour of straight sides."""
    return is_straight_polygon(family.verbs)


def edges_of_face(face: Family, ask: Ask, numbers: Sequence[Number]) -> Edges:
    """Ask numbers at the middles of a straight face's edges, for each copy; tiles that are alike are there once."""
    closed = face.verbs[-1] == CLOSE
    own = face.points[np.maximum(face.variant, 0)] if len(face.points) > 1 else face.points
    middles = _middles(own, closed)
    count = middles.shape[1]
    if any(not isinstance(number, (int, float)) for number in numbers) and len(middles) != ask.n:
        middles = np.broadcast_to(middles, (ask.n, count, 2))
    values = [np.broadcast_to(found := np.asarray(ask.at(number, middles)), (len(found), count)) for number in numbers]
    rows = max([1, *map(len, values)])
    if rows == 1:
        alike = tuple(np.broadcast_to(value, (len(face.points), count)) for value in values)
        return Edges(face.points, alike, face.variant, closed)
    told = [np.broadcast_to(value, (rows, count)) for value in values] + [face.variant[:, None]] * (len(face.points) > 1)
    first, variant = share(np.concatenate(told, 1))
    corners = own[first] if len(own) > 1 else np.broadcast_to(own, (len(first), *own.shape[1:]))
    variant = np.where(face.variant < 0, -1, variant).astype(np.int32)
    return Edges(corners, tuple(value[first] for value in told[: len(values)]), variant, closed)
