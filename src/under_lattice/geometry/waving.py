"""Waves on curved outlines: each stretch between corners, or a whole closed curve without any, is one edge."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from under_lattice.geometry.affine import Array
from under_lattice.geometry.outline import CLOSE, CURVE, LINE, MOVE
from under_lattice.geometry.path import Path, corners_of, paths_of

PIECES = 8  # cubics for each wave
LEAST = 24  # cubics for each stretch: the curve that waves wants some itself
STEP = 1e-5  # of a stretch's length: for directions by differences


def stretches(path: Path) -> list[tuple[float, float]]:
    """Return from where to where, by length, a closed path goes on without a corner, in its unit."""
    corners = corners_of(path)
    if not len(corners):
        return [(0.0, path.length)]
    return list(zip(corners, [*corners[1:], corners[0] + path.length], strict=True))


def waved(verbs: bytes, points: Array, height: float, waves_on: Callable[[Array], list[int]], smooth: bool) -> tuple[bytes, Array]:
    """Return a closed outline (K, 2) with waves along each stretch; crests lie outwards first.

    Parameters
    ----------
    verbs, points
        Of the outline.
    height : float
    waves_on : callable
        How many waves stretches of these lengths (S,) have; none for one that stays as it is.
    smooth : bool
        Sines by cubics, or straight to and fro.
    """
    out_verbs, out_points = bytearray(), []
    for path in paths_of(verbs, points):
        ring = path.points
        inside = (ring[:-1, 0] * ring[1:, 1] - ring[1:, 0] * ring[:-1, 1]).sum() >= 0
        side = -1.0 if inside else 1.0  # clockwise as seen: to the left is outwards
        start = True
        parts = stretches(path)
        for (begin, end), many in zip(parts, waves_on(np.array([end - begin for begin, end in parts])), strict=True):
            curved = smooth or not many
            made = (_smooth if curved else _pointed)(path, begin, end, many, height * side)
            if start:
                out_verbs.append(MOVE)
                out_points.append(made[:1])
                start = False
            out_verbs += bytes([CURVE if curved else LINE]) * ((len(made) - 1) // (3 if curved else 1))
            out_points.append(made[1:])
        out_verbs.append(CLOSE)
    return bytes(out_verbs), np.concatenate(out_points)


def _places(path: Path, s: Array, begin: float, length: float, many: int, height: float) -> Array:
    at, heading = path.at(s)
    angle = np.radians(heading)
    normal = np.stack([-np.sin(angle), np.cos(angle)], -1)
    return np.asarray(at + normal * (height * np.sin(2 * np.pi * many * (s - begin) / length))[:, None])


def _smooth(path: Path, begin: float, end: float, many: int, height: float) -> Array:
    length = end - begin
    pieces = max(PIECES * many, LEAST)
    s = np.linspace(begin, end, pieces + 1)
    near = STEP * length
    inner = np.clip(s, begin + near, end - near)  # no difference reaches over a corner
    on = _places(path, s, begin, length, many, height)
    on[[0, -1]] = path.at(s[[0, -1]])[0]
    before, after = (_places(path, inner + by, begin, length, many, height) for by in (-near, near))
    slope = (after - before) / (2 * near)
    third = slope * (length / pieces / 3)
    return np.concatenate([on[:1], np.stack([on[:-1] + third[:-1], on[1:] - third[1:], on[1:]], 1).reshape(-1, 2)])


def _pointed(path: Path, begin: float, end: float, many: int, height: float) -> Array:
    length = end - begin
    s = begin + length * np.concatenate([[0.0], (2 * np.arange(2 * many) + 1) / (4 * many), [1.0]])
    on = _places(path, s, begin, length, many, height)
    on[[0, -1]] = path.at(s[[0, -1]])[0]
    return np.asarray(on)
