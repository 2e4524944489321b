"""Drawn lines as cubics: as few as keep within a tolerance of the points drawn."""

from __future__ import annotations

from itertools import pairwise

import numpy as np

from under_lattice.core.errors import InputError
from under_lattice.geometry.affine import Array
from under_lattice.geometry.outline import CLOSE, CURVE, MOVE

CORNER = 55.0  # degrees by which a drawn line turns at a corner
LOOK = 3.0  # tolerances on both sides of a place over which it is seen how a line turns there
PASSES = 6
DEEPEST = 24


def fitted(points: Array, tolerance: float, closed: bool = False) -> tuple[bytes, Array]:
    """Return verbs and points (K, 2) of cubics that stray from a drawn line by no more than `tolerance`.

    Least squares on chord lengths, parts halved where they stray most (“An algorithm for automatically fitting digitized
    curves”, 1990). Corners stay corners; elsewhere the line goes on smoothly.

    Parameters
    ----------
    points : (n, 2)
    tolerance : float
        Above zero.
    closed : bool
        The line goes back to its first point.

    Raises
    ------
    InputError
        When all points lie on one spot.
    """
    line = _thinned(np.asarray(points, float), tolerance * 0.05)
    if closed and len(line) > 2 and not np.array_equal(line[0], line[-1]):
        line = np.concatenate([line, line[:1]])
    if len(line) < 2:
        raise InputError("a line needs two points that are apart")
    breaks = [0, *_corners(line, tolerance), len(line) - 1]
    pieces: list[Array] = []
    for begin, end in pairwise(breaks):
        part = line[begin : end + 1]
        ends = _heading(part, tolerance), -_heading(part[::-1], tolerance)
        if closed and len(breaks) == 2:  # one smooth ring: the same heading at its seam
            both = ends[0] + ends[1]
            both = both / max(float(np.hypot(*both)), 1e-12)
            ends = both, both
        pieces += _cubics(part, ends[0], -ends[1], tolerance, 0)
    verbs = bytes([MOVE] + [CURVE] * len(pieces) + [CLOSE] * closed)
    return verbs, np.concatenate([line[:1], *(piece[1:] for piece in pieces)])


def _thinned(points: Array, least: float) -> Array:
    """Points without those that lie on the one before."""
    kept = [points[0]]
    for point in points[1:]:
        if np.hypot(*(point - kept[-1])) > least:
            kept.append(point)
    return np.array(kept)


def _corners(line: Array, tolerance: float) -> list[int]:
    """Places where a line turns sharply, seen over a few tolerances on both sides."""
    far = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(line, axis=0).T))])
    reach = LOOK * tolerance
    found: list[tuple[float, int]] = []
    for k in range(1, len(line) - 1):
        before = np.array([np.interp(far[k] - reach, far, line[:, axis]) for axis in (0, 1)])
        after = np.array([np.interp(far[k] + reach, far, line[:, axis]) for axis in (0, 1)])
        one, other = line[k] - before, after - line[k]
        turn = abs(float(np.degrees(np.arctan2(one[0] * other[1] - one[1] * other[0], one @ other))))
        if turn > CORNER:
            found.append((turn, k))
    kept: list[int] = []
    for _, k in sorted(found, reverse=True):  # the sharpest of neighbours
        if all(abs(far[k] - far[one]) > reach for one in kept):
            kept.append(k)
    return sorted(kept)


def _heading(line: Array, tolerance: float) -> Array:
    """The direction in which a line leaves its first point."""
    far = np.hypot(*(line - line[0]).T)
    away = line[int(np.argmax(far >= min(2 * tolerance, far.max())))] - line[0]
    return np.asarray(away / max(float(np.hypot(*away)), 1e-12))


def _cubics(line: Array, leaves: Array, arrives: Array, tolerance: float, deep: int) -> list[Array]:
    """Cubics (4, 2) along a line; `leaves` and `arrives` point inwards from its ends."""
    chord = float(np.hypot(*(line[-1] - line[0])))
    if len(line) == 2:
        return [np.stack([line[0], line[0] + leaves * chord / 3, line[-1] + arrives * chord / 3, line[-1]])]
    far = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(line, axis=0).T))])
    t = far / far[-1]
    for _ in range(PASSES):
        curve = _least_squares(line, t, leaves, arrives, far[-1])
        miss = np.hypot(*(_at(curve, t) - line).T)
        if miss.max() <= tolerance or deep >= DEEPEST:
            return [curve]
        if miss.max() > 8 * tolerance:
            break
        t = _nearer(curve, line, t)
    at = int(np.clip(np.argmax(miss), 1, len(line) - 2))
    low, high = max(0, at - 2), min(len(line) - 1, at + 2)
    along = line[high] - line[low]
    along = along / max(float(np.hypot(*along)), 1e-12)
    return [
        *_cubics(line[: at + 1], leaves, -along, tolerance, deep + 1),
        *_cubics(line[at:], along, arrives, tolerance, deep + 1),
    ]


def _least_squares(line: Array, t: Array, leaves: Array, arrives: Array, length: float) -> Array:
    b = [(1 - t) ** 3, 3 * t * (1 - t) ** 2, 3 * t * t * (1 - t), t**3]
    rest = line - np.outer(b[0] + b[1], line[0]) - np.outer(b[2] + b[3], line[-1])
    one, other = np.outer(b[1], leaves), np.outer(b[2], arrives)
    system = np.array([[np.sum(one * one), np.sum(one * other)], [np.sum(one * other), np.sum(other * other)]])
    wanted = np.array([np.sum(one * rest), np.sum(other * rest)])
    chord = float(np.hypot(*(line[-1] - line[0])))
    if abs(np.linalg.det(system)) > 1e-12:
        a, c = np.linalg.solve(system, wanted)
    else:
        a = c = -1.0
    if min(a, c) < 1e-3 * length or max(a, c) > 3 * length:  # handles that turn back or run away: the plain third
        a = c = chord / 3
    return np.stack([line[0], line[0] + leaves * a, line[-1] + arrives * c, line[-1]])


def _at(curve: Array, t: Array) -> Array:
    s = 1 - t
    return np.asarray(
        np.outer(s**3, curve[0]) + np.outer(3 * s * s * t, curve[1]) + np.outer(3 * s * t * t, curve[2]) + np.outer(t**3, curve[3])
    )


def _nearer(curve: Array, line: Array, t: Array) -> Array:
    """Parameters moved by one step of Newton's method towards the nearest places of a curve."""
    s = 1 - t
    d = np.diff(curve, axis=0)
    away = _at(curve, t) - line
    speed = 3 * (np.outer(s * s, d[0]) + np.outer(2 * s * t, d[1]) + np.outer(t * t, d[2]))
    bend = 6 * (np.outer(s, d[1] - d[0]) + np.outer(t, d[2] - d[1]))
    below = (speed * speed).sum(1) + (away * bend).sum(1)
    step = np.where(np.abs(below) > 1e-12, (away * speed).sum(1) / np.where(np.abs(below) > 1e-12, below, 1.0), 0.0)
    return np.maximum.accumulate(np.clip(t - step, 0.0, 1.0))
