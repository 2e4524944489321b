"""Outlines in between two: corners matched by the length walked from matched starts, every place a weighted mean."""

from __future__ import annotations

import numpy as np

from under_lattice.geometry.affine import Array
from under_lattice.geometry.path import Path, paths_of

EVEN = 96  # even places on an outline, besides its corners
CORNER = 12.0  # degrees


def first_path(verbs: bytes, points: Array) -> Path | None:
    """Return the longest closed contour of an outline (K, 2), clockwise as seen, from its first place after straight up."""
    found = [path for path in paths_of(verbs, points) if path.closed]
    if not found:
        return None
    path = max(found, key=lambda one: one.length)
    ring = path.points[:-1]
    after = np.roll(ring, -1, 0)
    if (ring[:, 0] * after[:, 1] - after[:, 0] * ring[:, 1]).sum() < 0:
        ring = ring[::-1]
    middle = (ring.min(0) + ring.max(0)) / 2
    away = ring - middle
    angle = np.round((np.degrees(np.arctan2(away[:, 1], away[:, 0])) + 90 + 1e-4) % 360, 3)
    ring = np.roll(ring, -int(angle.argmin()), 0)
    whole = np.concatenate([ring, ring[:1]])
    return Path(whole, np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(whole, axis=0).T))]), True)


def corners_of(path: Path) -> Array:
    """Return the lengths walked to the corners of a closed path, in its unit."""
    run = np.diff(path.points, axis=0)
    heading = np.degrees(np.arctan2(run[:, 1], run[:, 0]))
    turn = np.abs((heading - np.roll(heading, 1) + 180) % 360 - 180)
    return path.along[:-1][turn > CORNER]


def matched(one: Path, other: Path) -> tuple[Array, Array]:
    """Return places (n, 2) on both outlines at the same shares of their lengths: even ones, and the corners of either."""
    found = [np.arange(EVEN) / EVEN, *(corners_of(path) / path.length for path in (one, other))]
    shares = np.unique(np.round(np.concatenate(found) % 1.0, 9))
    return one.at(shares * one.length)[0], other.at(shares * other.length)[0]


def fitted_to(points: Array, onto: Array) -> Array:
    """Return points (n, 2) brought into the box of others: about its middle, as large as fits it with their proportions kept."""
    low, high = points.min(0), points.max(0)
    box = onto.min(0), onto.max(0)
    scale = float(((box[1] - box[0]) / np.maximum(high - low, 1e-12)).min())
    return np.asarray((points - (low + high) / 2) * scale + (box[0] + box[1]) / 2)
