"""Outlines as straight lines in flat arrays, for compiled kernels."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from under_lattice.geometry.affine import Array

STRAIGHT = 1e-12  # of the square of an outline's size, by which a corner may turn the other way and is none


class Rings(NamedTuple):
    """K outlines, each in its own place.

    Attributes
    ----------
    points : (P, 2)
    contours : (C + 1,) int64
        First point of each contour.
    contour_of : (K + 1,) int64
        First contour of each outline.
    closed : (K,) int64
        1 where contours come back to their first points.
    convex : (K,) int64
        1 where an outline is one contour that turns one way only.
    longest : int
        Points of the longest outline.
    """

    points: Array
    contours: Array
    contour_of: Array
    closed: Array
    convex: Array
    longest: int


def rings_of(families: Sequence[tuple[Array, Array, Array]], closed: Array) -> Rings:
    """Put outlines end to end.

    Parameters
    ----------
    families
        Of each the points (M, P, 2) of its outlines, how many of them each contour has (C,), and which outlines (M,) are one
        contour that does not cross itself.
    closed : (K,) bool
        Which outlines are closed.
    """
    lengths = [np.tile(each, len(points)) for points, each, _ in families]
    counts = [np.full(len(points), len(each)) for points, each, _ in families]
    return Rings(
        np.concatenate([points.reshape(-1, 2) for points, _, _ in families]),
        np.concatenate([[0], np.cumsum(np.concatenate(lengths))]),
        np.concatenate([[0], np.cumsum(np.concatenate(counts))]),
        closed.astype(np.int64),
        np.concatenate([simple & _one_way(points) if simple.any() else simple for points, _, simple in families]).astype(np.int64),
        max(points.shape[1] for points, _, _ in families),
    )


def _one_way(points: Array) -> Array:
    """Tell which rings (M, P, 2) turn to one side only (M,)."""
    x, y = points[..., 0], points[..., 1]
    to_x, to_y = (np.diff(at, axis=1, append=at[:, :1]) for at in (x, y))
    turn = to_x * np.concatenate([to_y[:, 1:], to_y[:, :1]], 1) - to_y * np.concatenate([to_x[:, 1:], to_x[:, :1]], 1)
    limit = STRAIGHT * (np.ptp(x, 1) ** 2 + np.ptp(y, 1) ** 2)
    return np.asarray((turn.min(1) >= -limit) | (turn.max(1) <= limit))
