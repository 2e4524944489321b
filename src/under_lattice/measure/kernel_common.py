"""Compiled kernels: what two convex outlines have in common, and how thick that is."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from under_lattice.core.kernel_compiler import njit


@njit(nogil=True, cache=True)
def _placed(points: Any, first: int, last: int, m: Any, out: Any) -> int:
    """Write a convex outline mapped by `m` (2, 3), counter-clockwise by its numbers, and return how many corners it has."""
    count = last - first
    turned = m[0, 0] * m[1, 1] - m[0, 1] * m[1, 0]
    area = 0.0
    for k in range(first, last):
        after = k + 1 if k + 1 < last else first
        area += points[k, 0] * points[after, 1] - points[after, 0] * points[k, 1]
    for k in range(count):
        at = first + k if area * turned > 0.0 else last - 1 - k
        out[k, 0] = m[0, 0] * points[at, 0] + m[0, 1] * points[at, 1] + m[0, 2]
        out[k, 1] = m[1, 0] * points[at, 0] + m[1, 1] * points[at, 1] + m[1, 2]
    return count


@njit(nogil=True, cache=True)
def _cut(corners: Any, count: int, x: float, y: float, run_x: float, run_y: float, out: Any) -> int:
    """Write what of a convex outline lies left of a line through (x, y), and return how many corners that has."""
    kept = 0
    for k in range(count):
        if kept > len(out) - 2:  # only where sides are noise
            break
        after = k + 1 if k + 1 < count else 0
        here = run_x * (corners[k, 1] - y) - run_y * (corners[k, 0] - x)
        there = run_x * (corners[after, 1] - y) - run_y * (corners[after, 0] - x)
        if here >= 0.0:
            out[kept, 0], out[kept, 1] = corners[k, 0], corners[k, 1]
            kept += 1
        if (here > 0.0 and there < 0.0) or (here < 0.0 and there > 0.0):
            t = here / (here - there)
            out[kept, 0] = corners[k, 0] + t * (corners[after, 0] - corners[k, 0])
            out[kept, 1] = corners[k, 1] + t * (corners[after, 1] - corners[k, 1])
            kept += 1
    return kept


@njit(nogil=True, cache=True)
def _far(corners: Any, count: int, k: int, at: int) -> float:
    """How far corner `at` lies from the line of side `k`."""
    after = k + 1 if k + 1 < count else 0
    x, y = corners[after, 0] - corners[k, 0], corners[after, 1] - corners[k, 1]
    return (x * (corners[at, 1] - corners[k, 1]) - y * (corners[at, 0] - corners[k, 0])) / math.sqrt(x * x + y * y)


@njit(nogil=True, cache=True)
def _width(corners: Any, count: int, small: float) -> float:
    """The least width of a convex outline: along its sides, the corner farthest from each moves on with them.

    Sides shorter than `small` say nothing. Source: rotating calipers (Shamos 1978).
    """
    best, at, steps = np.inf, 1, 0
    for k in range(count):
        after = k + 1 if k + 1 < count else 0
        if math.hypot(corners[after, 0] - corners[k, 0], corners[after, 1] - corners[k, 1]) <= small:
            continue
        while steps < 4 * count:
            following = at + 1 if at + 1 < count else 0
            if _far(corners, count, k, following) < _far(corners, count, k, at):
                break
            at = following
            steps += 1
        best = min(best, _far(corners, count, k, at))
    return best if best < np.inf else 0.0


@njit(nogil=True, cache=True)
def _area(corners: Any, count: int) -> float:
    total = 0.0
    for k in range(count):
        after = k + 1 if k + 1 < count else 0
        total += corners[k, 0] * corners[after, 1] - corners[after, 0] * corners[k, 1]
    return abs(total) / 2


@njit(nogil=True, cache=True)
def _copy(corners: Any, count: int, out: Any) -> None:
    """Write some corners: assigning a slice would compile seconds of what is never called."""
    for k in range(count):
        out[k, 0], out[k, 1] = corners[k, 0], corners[k, 1]


@njit(nogil=True, cache=True)
def _common(mine: Any, many: int, its: Any, much: int, now: Any, then: Any) -> int:
    """Write what two convex outlines have in common to `now`, and return how many corners that has."""
    count = many
    _copy(mine, many, now)
    for side in range(much):
        after = side + 1 if side + 1 < much else 0
        x, y = its[after, 0] - its[side, 0], its[after, 1] - its[side, 1]
        if x != 0.0 or y != 0.0:
            count = _cut(now, count, its[side, 0], its[side, 1], x, y, then)
            _copy(then, count, now)
    return count


@njit(nogil=True, cache=True)
def thickness(rings: Any, kinds: Any, maps: Any, touch: float, deep: Any, box: Any, areas: Any) -> None:
    """Write how thick what pairs of convex outlines (k,) have in common is, and its left, top, right and bottom (k, 4).

    Of `rings` each pair shows the `kinds` (k, 2), mapped by `maps` (k, 2, 2, 3). The area in common and those of both go to
    `areas` (k, 3). What is smaller than `touch` times the root of the smaller one's area has no thickness, and a box of nan.
    """
    corners = np.empty((2, rings.longest, 2))
    now, then = np.empty((4 * rings.longest + 8, 2)), np.empty((4 * rings.longest + 8, 2))
    counts = np.zeros(2, np.int64)
    for k in range(len(kinds)):
        for side in range(2):
            contour = rings.contour_of[kinds[k, side]]
            counts[side] = _placed(rings.points, rings.contours[contour], rings.contours[contour + 1], maps[k, side], corners[side])
            areas[k, 1 + side] = _area(corners[side], counts[side])
        count = _common(corners[0], counts[0], corners[1], counts[1], now, then)
        size = math.sqrt(min(areas[k, 1], areas[k, 2]))
        areas[k, 0] = _area(now, count)
        deep[k] = 0.0
        for c in range(4):
            box[k, c] = np.nan
        if areas[k, 0] > touch * size:
            deep[k] = _width(now, count, 1e-9 * size)
            box[k, 0], box[k, 1], box[k, 2], box[k, 3] = now[0, 0], now[0, 1], now[0, 0], now[0, 1]
            for c in range(1, count):
                box[k, 0], box[k, 1] = min(box[k, 0], now[c, 0]), min(box[k, 1], now[c, 1])
                box[k, 2], box[k, 3] = max(box[k, 2], now[c, 0]), max(box[k, 3], now[c, 1])
