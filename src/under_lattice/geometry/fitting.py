"""Drawn lines as cubics: as few as keep within a tolerance of the points drawn."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import shapely

from under_lattice.core.errors import InputError
from under_lattice.geometry.affine import Array
from under_lattice.geometry.curves import arc_pieces, arc_points
from under_lattice.geometry.outline import CLOSE, CURVE, MOVE

CORNER = 55.0  # degrees by which a drawn line turns at a corner
LOOK = 3.0  # tolerances on both sides of a place over which it is seen how a line turns there
PASSES = 6
DEEPEST = 24
LITTLE = 14.0  # degrees by which a smooth run turns at most between two pieces
LIKE = 0.2  # of the longer one, to which the shorter of two pieces of a run comes at least
USUAL = 4.0  # times the median length, up to which a piece is no straight one
RUN_LEAST = 5  # corners of a run, fewer are corners
THIN = 4e-6  # of the size, by which corners may lie beside a run and are left out first
WITHIN = 5e-5  # of the size, by which a fitted run may stray
ROUND = 2e-5  # of the size, by which a run may stray from a circle and is one


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


def smoothed(ring: Array, size: float) -> Array:
    """Return a closed ring (n, 2) of straight pieces as cubics (S, 4, 2): arcs and curves where it turns a little at each corner.

    What was cut into pieces, by flattening or by a library's offsets, is found again: corners that turn little between pieces of
    like length belong to one run. A run on a circle is that circle's arc, another is fitted within `WITHIN` of the size; other
    pieces stay straight, with their handles at the thirds.
    """
    run = np.roll(ring, -1, 0) - ring
    length = np.hypot(*run.T)
    if length.min() < LIKE * np.median(length):  # corners that say nothing break no run
        ring = shapely.get_coordinates(shapely.simplify(shapely.LinearRing(ring), THIN * size))[:-1]
        run = np.roll(ring, -1, 0) - ring
        length = np.hypot(*run.T)
    before = np.roll(run, 1, 0)
    turn = np.degrees(np.arctan2(before[:, 0] * run[:, 1] - before[:, 1] * run[:, 0], (before * run).sum(1)))
    shorter, longer = np.minimum(length, np.roll(length, 1)), np.maximum(length, np.roll(length, 1))
    like = (shorter >= LIKE * longer) | (longer <= USUAL * np.median(length))
    smooth = (np.abs(turn) < LITTLE) & like
    breaks = np.flatnonzero(~smooth)
    whole = not len(breaks)
    begin = 0 if whole else int(breaks[0])
    line = np.concatenate([np.roll(ring, -begin, 0), ring[begin : begin + 1]])
    stops = [0, len(ring)] if whole else [*(breaks - begin).tolist(), len(ring)]
    pieces: list[Array] = []
    for one, other in pairwise(stops):
        pieces += _run(line[one : other + 1], size, whole)
    return np.array(pieces)


def _run(line: Array, size: float, whole: bool) -> list[Array]:
    """Cubics of one smooth run (n, 2), which is the whole ring or begins and ends at corners."""
    if len(line) < RUN_LEAST:
        third = np.diff(line, axis=0) / 3
        return [np.stack([a, a + t, b - t, b]) for a, b, t in zip(line[:-1], line[1:], third, strict=True)]
    arc = _arc(line, whole, ROUND * size)
    if arc is not None:
        return arc
    return _through(line, WITHIN * size, whole)


def _through(line: Array, tolerance: float, whole: bool) -> list[Array]:
    """As few cubics through points of a smooth run (n, 2) as keep within a tolerance of the others.

    Between the points they go through they leave in the direction of the parabola through three, a third of the way long.
    """
    count = len(line) - 1
    ways, far = _ways(line, whole), np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(line, axis=0).T))])
    knots = np.array([0, count])
    while True:  # a piece at least is halved each time, so it ends
        one, other = knots[:-1], knots[1:]
        third = (far[other] - far[one])[:, None] / 3
        pieces = np.stack([line[one], line[one] + ways[one] * third, line[other] - ways[other] * third, line[other]], 1)
        which = np.minimum(np.searchsorted(knots, np.arange(count + 1), "right") - 1, len(one) - 1)
        t = ((far - far[knots[which]]) / (3 * third[which, 0]))[:, None]
        a, b, c, d = (pieces[which, k] for k in range(4))
        away = (1 - t) ** 3 * a + 3 * (1 - t) ** 2 * t * b + 3 * (1 - t) * t * t * c + t**3 * d - line
        off = np.abs(away[:, 0] * ways[:, 1] - away[:, 1] * ways[:, 0]) > tolerance
        halved = np.unique(which[off])
        halved = halved[(other - one)[halved] > 1]
        if not len(halved):
            break
        knots = np.union1d(knots, (one[halved] + other[halved]) // 2)
    return list(pieces)


def _ways(line: Array, whole: bool) -> Array:
    """In which direction (n, 2) a curve through points goes at each: that of the parabola through it and its neighbours."""
    run = np.diff(line, axis=0)
    if whole:
        run = np.concatenate([run[-1:], run, run[:1]])
    length = np.maximum(np.hypot(*run.T), 1e-12)[:, None]
    slope = run / length
    inner = (slope[:-1] * length[1:] + slope[1:] * length[:-1]) / (length[:-1] + length[1:])
    if not whole:
        inner = np.concatenate([2 * slope[:1] - inner[:1], inner, 2 * slope[-1:] - inner[-1:]])
    return inner / np.maximum(np.hypot(*inner.T), 1e-12)[:, None]


def _arc(line: Array, whole: bool, tolerance: float) -> list[Array] | None:
    """Cubics of a run (n, 2) that lies on a circle; None of another."""
    a, b, c = line[0], line[len(line) // 3], line[2 * len(line) // 3]
    twice = 2 * float((b - a)[0] * (c - a)[1] - (b - a)[1] * (c - a)[0])
    if abs(twice) < 1e-12 * float((b - a) @ (b - a)):
        return None
    p, q = float((b - a) @ (b - a)), float((c - a) @ (c - a))
    middle = a + np.array([(c - a)[1] * p - (b - a)[1] * q, (b - a)[0] * q - (c - a)[0] * p]) / twice
    away = line - middle
    far = np.hypot(*away.T)
    radius = float(far.mean())
    if np.abs(far - radius).max() > tolerance:
        return None
    heading = np.unwrap(np.arctan2(away[:, 1], away[:, 0]))
    sweep = float(np.degrees(heading[-1] - heading[0]))
    if not whole and abs(sweep) > 359.9:
        return None
    points = arc_points(np.array([radius]), np.array([np.degrees(heading[0])]), np.array([sweep]), arc_pieces(sweep))[0] + middle
    points[0], points[-1] = line[0], line[-1]
    return [points[k : k + 4] for k in range(0, len(points) - 1, 3)]
