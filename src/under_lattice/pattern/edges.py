"""Straight-sided faces edge by edge: numbers asked at the middles of edges, and outlines made anew from the answers."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from under_lattice.geometry.affine import Array
from under_lattice.geometry.outline import is_straight_polygon
from under_lattice.pattern.ask import Ask, Number, Varying
from under_lattice.pattern.stage import Family, share


class Edges(NamedTuple):
    """A face's distinct tiles.

    Attributes
    ----------
    corners : (M, V, 2)
    values : tuple of (M, V)
        Each number at the middles of the edges; edge i runs from corner i to the next.
    variant : (n,) int32
        Which tile each copy shows.
    """

    corners: Array
    values: tuple[Array, ...]
    variant: Array

    @property
    def middles(self) -> Array:
        """Middles of the edges (M, V, 2)."""
        return (self.corners + np.roll(self.corners, -1, 1)) / 2

    @property
    def runs(self) -> Array:
        """From corner to corner (M, V, 2)."""
        return np.roll(self.corners, -1, 1) - self.corners

    @property
    def inward(self) -> Array:
        """Unit normals of the edges (M, V, 2) towards the inside."""
        run = self.runs
        length = np.maximum(np.hypot(run[..., 0], run[..., 1]), 1e-300)
        left = np.stack([-run[..., 1], run[..., 0]], -1) / length[..., None]
        return left * self.winding[:, None, None]

    @property
    def winding(self) -> Array:
        """1 for tiles that run clockwise as seen, -1 for others (M,)."""
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


def is_straight(family: Family) -> bool:
    """Tell whether a face is one closed contour of straight sides."""
    return is_straight_polygon(family.verbs)


def edges_of_face(face: Family, ask: Ask, numbers: Sequence[Number]) -> Edges:
    """Ask numbers at the middles of a straight face's edges, for each copy; tiles that are alike are there once."""
    own = face.points[np.maximum(face.variant, 0)] if len(face.points) > 1 else face.points
    count = own.shape[1]
    middles = (own + np.roll(own, -1, 1)) / 2
    if any(not isinstance(number, (int, float)) for number in numbers) and len(middles) != ask.n:
        middles = np.broadcast_to(middles, (ask.n, count, 2))
    values = [np.broadcast_to(found := np.asarray(ask.at(number, middles)), (len(found), count)) for number in numbers]
    rows = max([1, *map(len, values)])
    if rows == 1:
        alike = tuple(np.broadcast_to(value, (len(face.points), count)) for value in values)
        return Edges(face.points, alike, face.variant)
    told = [np.broadcast_to(value, (rows, count)) for value in values] + [face.variant[:, None]] * (len(face.points) > 1)
    first, variant = share(np.concatenate(told, 1))
    corners = own[first] if len(own) > 1 else np.broadcast_to(own, (len(first), *own.shape[1:]))
    variant = np.where(face.variant < 0, -1, variant).astype(np.int32)
    return Edges(corners, tuple(value[first] for value in told[: len(values)]), variant)
