"""Compiled kernels: strokes as edges. Both sides of a line at once, with caps, joins and dashes.

Edges are written to `out` (capacity, 4), counted in ``out[0, 0]`` of its first row; where there is no room they are counted only,
so that the caller can make room and ask again.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from under_lattice.core.kernel_compiler import njit

MITRE, ROUND, BEVEL = 0, 1, 2
BUTT, ROUND_CAP, SQUARE = 0, 1, 2
MITRE_LIMIT = 4.0  # as SVG has it
ARC_STEP = 0.35  # radians between two points of a small round join
ARC_MOST = 4096  # pieces of one arc; what of a larger one can be seen is straight
DASHES_MOST = 1e6  # of one line; finer ones cannot be seen
FAR = 1e30
NEAR = 1e-7  # px; points nearer than this have no direction


@njit(nogil=True, cache=True, fastmath=True, inline="always")
def emit(out: Any, x0: float, y0: float, x1: float, y1: float) -> None:
    """Write one edge, or only count it, in pixels."""
    n = int(out[0, 0]) + 1
    out[0, 0] = n
    if n < out.shape[0]:
        out[n, 0], out[n, 1], out[n, 2], out[n, 3] = x0, y0, x1, y1


@njit(nogil=True, cache=True, fastmath=True)
def _arc(out: Any, cx: float, cy: float, ax: float, ay: float, bx: float, by: float, sweep: float) -> None:
    """Edges along an arc about (cx, cy) from offset a to offset b; `sweep` is the signed angle."""
    radius = math.hypot(ax, ay)
    step = ARC_STEP if radius < 4.0 else 2.0 * math.acos(1.0 - 0.1 / radius)
    parts = int(min(max(1.0, math.ceil(abs(sweep) / step)), ARC_MOST)) if step > 0.0 else ARC_MOST
    begin = math.atan2(ay, ax)
    x, y = cx + ax, cy + ay
    for p in range(1, parts + 1):
        if p == parts:
            xn, yn = cx + bx, cy + by
        else:
            t = begin + sweep * p / parts
            xn, yn = cx + radius * math.cos(t), cy + radius * math.sin(t)
        emit(out, x, y, xn, yn)
        x, y = xn, yn


@njit(nogil=True, cache=True, fastmath=True)
def _turn(out: Any, cx: float, cy: float, ux: float, uy: float, vx: float, vy: float, half: float, side: float, join: int) -> None:
    """One side of a stroke at a corner between directions u and v.

    `side` is +1 for the side at the right of the direction (y down), which is walked forwards, -1 for the left, walked back.
    """
    ax, ay, bx, by = -uy * half * side, ux * half * side, -vy * half * side, vx * half * side
    cross, dot = ux * vy - uy * vx, ux * vx + uy * vy
    mx, my = ax, ay
    through = True
    if cross * side > 0.0:  # the inner side passes through the corner itself, so that every winding has one sign
        mx, my = 0.0, 0.0
    elif join == ROUND:
        sweep = math.atan2(cross, dot)
        if cross == 0.0 and dot < 0.0:
            sweep = -math.pi * side
        if side > 0.0:
            _arc(out, cx, cy, ax, ay, bx, by, sweep)
        else:
            _arc(out, cx, cy, bx, by, ax, ay, -sweep)
        return
    elif join == MITRE and dot > -1.0 + 2.0 / (MITRE_LIMIT * MITRE_LIMIT):
        k = 1.0 / (1.0 + dot)
        mx, my = (ax + bx) * k, (ay + by) * k
    else:
        through = False
    if side < 0.0:
        ax, ay, bx, by = bx, by, ax, ay
    if through:
        emit(out, cx + ax, cy + ay, cx + mx, cy + my)
        emit(out, cx + mx, cy + my, cx + bx, cy + by)
    else:
        emit(out, cx + ax, cy + ay, cx + bx, cy + by)


@njit(nogil=True, cache=True, fastmath=True)
def _cap(out: Any, cx: float, cy: float, ux: float, uy: float, half: float, cap: int) -> None:
    """The end of a stroke that leaves in direction u: from its right side round to its left."""
    ax, ay = -uy * half, ux * half
    if cap == ROUND_CAP:
        _arc(out, cx, cy, ax, ay, -ax, -ay, -math.pi)
    elif cap == SQUARE:
        ex, ey = cx + ux * half, cy + uy * half
        emit(out, cx + ax, cy + ay, ex + ax, ey + ay)
        emit(out, ex + ax, ey + ay, ex - ax, ey - ay)
        emit(out, ex - ax, ey - ay, cx - ax, cy - ay)
    else:
        emit(out, cx + ax, cy + ay, cx - ax, cy - ay)


@njit(nogil=True, cache=True, fastmath=True)
def _before(px: Any, py: Any, n: int, at: int, closed: bool) -> int:
    """Index of the last point before `at` that lies elsewhere, or -1."""
    k = at
    for _ in range(n - 1):
        k -= 1
        if k < 0:
            if not closed:
                return -1
            k = n - 1
        if abs(px[k] - px[at]) + abs(py[k] - py[at]) > NEAR:
            return k
    return -1


@njit(nogil=True, cache=True, fastmath=True, inline="always")
def _smooth(ux: float, uy: float, vx: float, vy: float, half: float, join: int, room: float) -> float:
    """Factor for the one point that joins both pieces on each side of a gentle corner, or 0 where it takes more than that."""
    cross, dot = ux * vy - uy * vx, ux * vx + uy * vy
    if dot < 0.7 or half * abs(cross) > room * (1.0 + dot):
        return 0.0
    if join != MITRE and half * (math.sqrt(2.0 / (1.0 + dot)) - 1.0) > 0.06:
        return 0.0
    return half / (1.0 + dot)


@njit(nogil=True, cache=True, fastmath=True)
def stroke(out: Any, px: Any, py: Any, n: int, half: float, join: int, cap: int, closed: bool, low: float, high: float) -> None:
    """Write the stroke of one line: the right side walked forwards, the left one back, in pixels.

    Pieces that stay above `low` or below `high` with all their joins are passed over. A piece is written when the next is known.
    """
    pad = half * MITRE_LIMIT + 1.0
    low, high = low - pad, high + pad
    ux, uy, before = 0.0, 0.0, 0.0
    if closed:
        j = _before(px, py, n, 0, True)
        if j < 0:
            return
        ux, uy = px[0] - px[j], py[0] - py[j]
        before = math.sqrt(ux * ux + uy * uy)
        ux, uy = ux / before, uy / before
    rx, ry, lx, ly = 0.0, 0.0, 0.0, 0.0
    held = False  # a piece waits for its end
    first = True
    for turn in range(n + 1 if closed else n - 1):
        at = turn if turn < n else 0
        k = at + 1 if at + 1 < n else 0
        x, y = px[at], py[at]
        if max(y, py[k]) < low or min(y, py[k]) > high:
            if held:
                emit(out, rx, ry, x - uy * half, y + ux * half)
                emit(out, x + uy * half, y - ux * half, lx, ly)
                held = False
            first = False
            continue
        dx, dy = px[k] - x, py[k] - y
        length = math.sqrt(dx * dx + dy * dy)
        if not length > NEAR:
            continue
        vx, vy = dx / length, dy / length
        ax, ay, bx, by = x - vy * half, y + vx * half, x + vy * half, y - vx * half
        if held or (first and closed):
            k2 = _smooth(ux, uy, vx, vy, half, join, min(before, length))
            if k2 > 0.0:
                ox, oy = -(uy + vy) * k2, (ux + vx) * k2
                ax, ay, bx, by = x + ox, y + oy, x - ox, y - oy
                if held:
                    emit(out, rx, ry, ax, ay)
                    emit(out, bx, by, lx, ly)
            elif held:
                emit(out, rx, ry, x - uy * half, y + ux * half)
                emit(out, x + uy * half, y - ux * half, lx, ly)
                _turn(out, x, y, ux, uy, vx, vy, half, 1.0, join)
                _turn(out, x, y, ux, uy, vx, vy, half, -1.0, join)
        elif first:
            _cap(out, x, y, -vx, -vy, half, cap)
        first = False
        held = turn < n
        rx, ry, lx, ly, ux, uy, before = ax, ay, bx, by, vx, vy, length
    if not closed and held:
        x, y = px[n - 1], py[n - 1]
        emit(out, rx, ry, x - uy * half, y + ux * half)
        emit(out, x + uy * half, y - ux * half, lx, ly)
        _cap(out, x, y, ux, uy, half, cap)


@njit(nogil=True, cache=True, fastmath=True)
def _sum(values: Any) -> float:
    total = 0.0
    for i in range(len(values)):
        total += values[i]
    return total


@njit(nogil=True, cache=True, fastmath=True)
def _whole(dashes: Any, length: float, closed: bool) -> float:
    """Factor on the dashes so that a whole number of them fits; an open line begins and ends with a dash."""
    period, last = _sum(dashes), dashes[-1]
    if closed:
        return length / (period * max(1.0, math.floor(length / period + 0.5)))
    many = max(1.0, math.floor((length + last) / period + 0.5))
    return length / (many * period - last) if many * period > last else 1.0


@njit(nogil=True, cache=True, fastmath=True)
def dash_pieces(px: Any, py: Any, closed: bool, dashes: Any, offset: float, fit: bool) -> Any:
    """Return the dashes of one line (n,) as lines: their points, where each begins and the last ends, and whether it stays whole.

    `dashes` (k,) holds lengths of dash and gap by turns, k even, in px. Where they are fitted, a dash that runs over the joint of a
    closed line stays in one piece. A line whose dashes are too fine to be seen stays whole; nothing is returned of it.
    """
    n = len(px)
    ends = n + 1 if closed else n
    along = np.zeros(ends)
    for i in range(1, ends):
        j = i if i < n else 0
        along[i] = along[i - 1] + math.hypot(px[j] - px[i - 1], py[j] - py[i - 1])
    length, period = along[ends - 1], _sum(dashes)
    none, nowhere = np.zeros(0), np.zeros(1, np.int64)
    if not length > NEAR:
        return none, none, nowhere, False
    scale = _whole(dashes, length, closed) if fit else 1.0
    if not period * scale > 1e-3 or length / (period * scale) > DASHES_MOST:
        return none, none, nowhere, True
    pieces = (int(length / (period * scale)) + 3) * (len(dashes) // 2)
    qx, qy, starts = np.empty(2 * ends + 2 * pieces + 2), np.empty(2 * ends + 2 * pieces + 2), np.zeros(pieces + 1, np.int64)
    at, many, first = -(offset * scale - math.floor(offset / period) * period * scale), 0, 1
    while at < length and many < pieces:
        for k in range(0, len(dashes), 2):
            begin, finish = at, at + dashes[k] * scale
            at = finish + dashes[k + 1] * scale
            if closed and fit:  # what began before the joint is the last dash, which runs on over it
                if begin < -1e-9 * length or begin >= length * (1.0 - 1e-9):
                    continue
                begin, finish = max(begin, 0.0), min(finish, begin + length)
            else:
                begin, finish = max(begin, 0.0), min(finish, length)
            if finish > begin and many < pieces:
                while first < ends - 1 and along[first] <= begin:
                    first += 1
                starts[many + 1] = _piece(qx, qy, starts[many], px, py, along, first, begin, finish)
                many += 1
    return qx[: starts[many]], qy[: starts[many]], starts[: many + 1], False


@njit(nogil=True, cache=True, fastmath=True)
def dashed(
    out: Any, px: Any, py: Any, half: float, join: int, cap: int, closed: bool, dashes: Any, offset: float, fit: bool, stop: Any
) -> None:
    """Write the dashes of one line, see `dash_pieces`; no more once `stop` (1,) is raised."""
    qx, qy, starts, whole = dash_pieces(px, py, closed, dashes, offset, fit)
    if whole:
        stroke(out, px, py, len(px), half, join, cap, closed, -FAR, FAR)
    for k in range(len(starts) - 1):
        if stop[0]:
            return
        begin, many = starts[k], starts[k + 1] - starts[k]
        stroke(out, qx[begin:], qy[begin:], many, half, join, cap, many < 0, -FAR, FAR)  # open; a constant is compiled anew


@njit(nogil=True, cache=True, fastmath=True)
def _piece(qx: Any, qy: Any, many: int, px: Any, py: Any, along: Any, first: int, begin: float, finish: float) -> int:
    """Copy a stretch of a line, which may run over the end of a closed one, to `many` on; return where it ends.

    `begin` lies on piece `first` of the line, counted from 1. No stretch is longer than the line.
    """
    n, ends, length = len(px), len(along), along[-1]
    i, base, here = first, 0.0, begin
    for _ in range(ends + 1):
        if many >= len(qx) - 1:
            return many
        a, b = i - 1, i if i < n else 0
        span = along[i] - along[i - 1]
        t = (here - base - along[i - 1]) / span if span > 0.0 else 0.0
        qx[many], qy[many] = px[a] + (px[b] - px[a]) * t, py[a] + (py[b] - py[a]) * t
        many += 1
        if finish <= base + along[i]:
            t = (finish - base - along[i - 1]) / span if span > 0.0 else 1.0
            qx[many], qy[many] = px[a] + (px[b] - px[a]) * t, py[a] + (py[b] - py[a]) * t
            return many + 1
        here = base + along[i]
        i += 1
        if i == ends:
            i, base = 1, length
    return many
