"""The nearest of some points to some places."""

from __future__ import annotations

import numpy as np

from under_lattice.geometry.affine import Array

CROWDED = 400  # points in one cell, from which a tree is quicker than a grid


def nearest_of(points: Array, places: Array, count: int) -> Array:
    """Return which of points (n, 2) are nearest to places (m, 2) anywhere, nearest first (m, count); n is not less than that."""
    from scipy.spatial import cKDTree  # takes a third of a second to load

    return np.asarray(cKDTree(points).query(places, count)[1]).reshape(len(places), count)


class Nearest:
    """Points (n, 2) that are asked which of them are nearest to places: by a grid, or by a tree where they crowd in few spots."""

    def __init__(self, points: Array) -> None:
        from under_lattice.geometry.kernel_neighbours import IN_CELL, grid  # loads the compiled kernels

        self._points = np.ascontiguousarray(points)
        self._low, high = _ends(points)
        low, size = self._low, high - self._low
        self._size = size
        cell = max(np.sqrt(IN_CELL * size[0] * size[1] / len(points)), IN_CELL * float(size.max()) / len(points), 1e-9)
        across, down = (int(side / cell) + 1 for side in size)
        self._order, begin = np.empty(len(points), np.int64), np.zeros(across * down + 1, np.int64)
        self._grid = begin, across, down, float(low[0]), float(low[1]), float(cell)
        room = np.empty(len(points), np.int64)
        most = grid(self._points, room, self._order, begin, across, down, float(low[0]), float(low[1]), float(cell))
        self._crowded = most > CROWDED

    def to(self, places: Array, count: int) -> Array:
        """Return which points are nearest to places (m, 2) among them, nearest first (m, count); n is not less than that."""
        from under_lattice.geometry.kernel_neighbours import nearest

        if self._crowded or self._beyond(places):
            return nearest_of(self._points, places, count)
        out = np.empty((len(places), count), np.int64)
        nearest(self._points, self._order, *self._grid, np.ascontiguousarray(places), out)
        return out

    def _beyond(self, places: Array) -> bool:
        """Whether any place is so far from all points that a grid would be looked through ring by ring for nothing."""
        if not len(places):
            return False
        low, high = _ends(places)
        return bool(((low < self._low - self._size) | (high > self._low + 2 * self._size)).any())

    def away(self, places: Array, count: int) -> Array:
        """Return how far places (m, 2) are from the points nearest to them, nearest first (m, count)."""
        near = self._points[self.to(places, count)]
        return np.asarray(np.hypot(*np.moveaxis(near - places[:, None], -1, 0)))


def _ends(points: Array) -> tuple[Array, Array]:
    """The least and the greatest of both coordinates of points (n, 2), one after the other, which is quicker."""
    x, y = points.T
    return np.array([x.min(), y.min()]), np.array([x.max(), y.max()])
