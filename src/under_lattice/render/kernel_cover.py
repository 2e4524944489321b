"""Compiled kernels, first half: exact coverage of outlines and strokes as signed areas.

Each edge adds its area to the pixels it passes (`acc`); summed along a row that gives the winding-weighted coverage. All x and y
are in pixels; rows count from the top of the band.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from under_lattice.render import kernel_cache  # noqa: F401 - says where compiled kernels are kept, before numba is loaded

from numba import njit  # isort: skip

BIT, TWO = np.uint64(1), np.uint64(2)
MITRE, ROUND, BEVEL = 0, 1, 2
BUTT, ROUND_CAP, SQUARE = 0, 1, 2
MITRE_LIMIT = 4.0  # as SVG has it
ARC_STEP = 0.35  # radians between two points of a small round join


@njit(nogil=True, cache=True, fastmath=True)
def edge(acc: Any, mask: Any, shift: int, x0: float, y0: float, x1: float, y1: float, high: int) -> None:
    """Add one edge to the band; what lies left of it counts at its first column, what lies right of it does not show.

    `mask` (H,) holds a bit for each block of ``2**shift`` columns that an edge has touched.
    """
    if y0 == y1:
        return
    d = 1.0
    if y0 > y1:
        x0, y0, x1, y1 = x1, y1, x0, y0
        d = -1.0
    if y1 <= 0.0 or y0 >= high:
        return
    slope = (x1 - x0) / (y1 - y0)
    if y0 < 0.0:
        x0 -= y0 * slope
        y0 = 0.0
    if y1 > high:
        y1 = float(high)
    wide = float(acc.shape[1] - 2)
    x = x0
    for y in range(int(y0), math.ceil(y1)):
        low = y0 if y0 > y else float(y)
        dy = (y1 if y1 < y + 1 else float(y + 1)) - low
        xn = x + slope * dy
        xa, xb = x, xn
        if xa > xb:
            xa, xb = xb, xa
        dd = d * dy
        x = xn
        if xa < 0.0:
            if xb <= 0.0:
                acc[y, 0] += dd
                mask[y] |= BIT
                continue
            part = dd * (-xa) / (xb - xa)
            acc[y, 0] += part
            mask[y] |= BIT
            dd -= part
            xa = 0.0
        if xb > wide:
            if xa >= wide:
                continue
            dd *= (wide - xa) / (xb - xa)
            xb = wide
        ia, ib = int(xa), int(xb)
        mask[y] |= (TWO << np.uint64((ib + 1) >> shift)) - (BIT << np.uint64(ia >> shift))
        if ia == ib:
            f = 0.5 * (xa + xb) - ia
            acc[y, ia] += dd * (1.0 - f)
            acc[y, ia + 1] += dd * f
            continue
        s = dd / (xb - xa)
        f = ia + 1.0 - xa  # first pixel
        acc[y, ia] += s * 0.5 * f * f
        carry = s * (f - 0.5 * f * f)
        for xi in range(ia + 1, ib):
            acc[y, xi] += carry + 0.5 * s
            carry = 0.5 * s
        f = xb - ib  # last pixel
        acc[y, ib] += carry + s * (f - 0.5 * f * f)
        acc[y, ib + 1] += s * 0.5 * f * f


@njit(nogil=True, cache=True, fastmath=True)
def outline(acc: Any, mask: Any, shift: int, px: Any, py: Any, n: int, high: int) -> None:
    """Add one closed contour."""
    xp, yp = px[n - 1], py[n - 1]
    for i in range(n):
        edge(acc, mask, shift, xp, yp, px[i], py[i], high)
        xp, yp = px[i], py[i]


@njit(nogil=True, cache=True, fastmath=True)
def _arc(
    acc: Any, mask: Any, shift: int, cx: float, cy: float, ax: float, ay: float, bx: float, by: float, sweep: float, high: int
) -> None:
    """Add edges along an arc about (cx, cy) from offset a to offset b; `sweep` is the signed angle."""
    radius = math.hypot(ax, ay)
    step = ARC_STEP if radius < 4.0 else 2.0 * math.acos(1.0 - 0.1 / radius)
    parts = max(1, math.ceil(abs(sweep) / step))
    begin = math.atan2(ay, ax)
    x, y = cx + ax, cy + ay
    for p in range(1, parts + 1):
        if p == parts:
            xn, yn = cx + bx, cy + by
        else:
            t = begin + sweep * p / parts
            xn, yn = cx + radius * math.cos(t), cy + radius * math.sin(t)
        edge(acc, mask, shift, x, y, xn, yn, high)
        x, y = xn, yn


@njit(nogil=True, cache=True, fastmath=True)
def _turn(
    acc: Any, mask: Any, shift: int, cx: float, cy: float, ux: float, uy: float, vx: float, vy: float, half: float,
    side: float, join: int, forward: bool, high: int,
) -> None:  # fmt: skip
    """Add one side of a stroke at a corner between directions u and v.

    `side` is +1 for the side at the right of the direction (y down), -1 for the left; `forward` tells which way the side is walked.
    """
    ax, ay, bx, by = -uy * half * side, ux * half * side, -vy * half * side, vx * half * side
    cross, dot = ux * vy - uy * vx, ux * vx + uy * vy
    if cross * side > 0.0:  # the inner side passes through the corner itself, so that every winding has one sign
        if forward:
            edge(acc, mask, shift, cx + ax, cy + ay, cx, cy, high)
            edge(acc, mask, shift, cx, cy, cx + bx, cy + by, high)
        else:
            edge(acc, mask, shift, cx + bx, cy + by, cx, cy, high)
            edge(acc, mask, shift, cx, cy, cx + ax, cy + ay, high)
        return
    if join == ROUND:
        sweep = math.atan2(cross, dot)
        if cross == 0.0 and dot < 0.0:
            sweep = -math.pi * side
        if forward:
            _arc(acc, mask, shift, cx, cy, ax, ay, bx, by, sweep, high)
        else:
            _arc(acc, mask, shift, cx, cy, bx, by, ax, ay, -sweep, high)
        return
    mx, my = ax, ay
    pointed = join == MITRE and dot > -1.0 + 2.0 / (MITRE_LIMIT * MITRE_LIMIT)
    if pointed:
        k = 1.0 / (1.0 + dot)
        mx, my = (ax + bx) * k, (ay + by) * k
    if forward:
        if pointed:
            edge(acc, mask, shift, cx + ax, cy + ay, cx + mx, cy + my, high)
            edge(acc, mask, shift, cx + mx, cy + my, cx + bx, cy + by, high)
        else:
            edge(acc, mask, shift, cx + ax, cy + ay, cx + bx, cy + by, high)
    elif pointed:
        edge(acc, mask, shift, cx + bx, cy + by, cx + mx, cy + my, high)
        edge(acc, mask, shift, cx + mx, cy + my, cx + ax, cy + ay, high)
    else:
        edge(acc, mask, shift, cx + bx, cy + by, cx + ax, cy + ay, high)


@njit(nogil=True, cache=True, fastmath=True)
def _cap(acc: Any, mask: Any, shift: int, cx: float, cy: float, ux: float, uy: float, half: float, cap: int, high: int) -> None:
    """Add the end of a stroke that leaves in direction u: from its right side round to its left."""
    ax, ay = -uy * half, ux * half
    if cap == ROUND_CAP:
        _arc(acc, mask, shift, cx, cy, ax, ay, -ax, -ay, -math.pi, high)
    elif cap == SQUARE:
        ex, ey = cx + ux * half, cy + uy * half
        edge(acc, mask, shift, cx + ax, cy + ay, ex + ax, ey + ay, high)
        edge(acc, mask, shift, ex + ax, ey + ay, ex - ax, ey - ay, high)
        edge(acc, mask, shift, ex - ax, ey - ay, cx - ax, cy - ay, high)
    else:
        edge(acc, mask, shift, cx + ax, cy + ay, cx - ax, cy - ay, high)


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
        if abs(px[k] - px[at]) + abs(py[k] - py[at]) > 1e-7:
            return k
    return -1


@njit(nogil=True, cache=True, fastmath=True)
def _smooth(ux: float, uy: float, vx: float, vy: float, half: float, join: int, room: float) -> float:
    """Factor for the one point that joins both pieces on each side of a gentle corner, or 0 where it takes more than that."""
    cross, dot = ux * vy - uy * vx, ux * vx + uy * vy
    if dot < 0.7 or half * abs(cross) > room * (1.0 + dot):
        return 0.0
    if join != MITRE and half * (math.sqrt(2.0 / (1.0 + dot)) - 1.0) > 0.06:
        return 0.0
    return half / (1.0 + dot)


@njit(nogil=True, cache=True, fastmath=True)
def stroke(
    acc: Any, mask: Any, shift: int, px: Any, py: Any, n: int, half: float, join: int, cap: int, closed: bool, high: int
) -> None:
    """Add the stroke of one contour: both sides at once, the right one walked forwards, the left one back.

    Pieces that stay out of the band with all their joins are passed over. A piece is added when the next is known.
    """
    pad = half * MITRE_LIMIT + 1.0
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
        if max(y, py[k]) < -pad or min(y, py[k]) > high + pad:
            if held:
                edge(acc, mask, shift, rx, ry, x - uy * half, y + ux * half, high)
                edge(acc, mask, shift, x + uy * half, y - ux * half, lx, ly, high)
                held = False
            first = False
            continue
        dx, dy = px[k] - x, py[k] - y
        length = math.sqrt(dx * dx + dy * dy)
        if not length > 1e-7:  # points that coincide have no direction
            continue
        vx, vy = dx / length, dy / length
        ax, ay, bx, by = x - vy * half, y + vx * half, x + vy * half, y - vx * half
        if held or (first and closed):
            k2 = _smooth(ux, uy, vx, vy, half, join, min(before, length))
            if k2 > 0.0:
                ox, oy = -(uy + vy) * k2, (ux + vx) * k2
                ax, ay, bx, by = x + ox, y + oy, x - ox, y - oy
                if held:
                    edge(acc, mask, shift, rx, ry, ax, ay, high)
                    edge(acc, mask, shift, bx, by, lx, ly, high)
            elif held:
                edge(acc, mask, shift, rx, ry, x - uy * half, y + ux * half, high)
                edge(acc, mask, shift, x + uy * half, y - ux * half, lx, ly, high)
                _turn(acc, mask, shift, x, y, ux, uy, vx, vy, half, 1.0, join, True, high)
                _turn(acc, mask, shift, x, y, ux, uy, vx, vy, half, -1.0, join, False, high)
        elif first:
            _cap(acc, mask, shift, x, y, -vx, -vy, half, cap, high)
        first = False
        held = turn < n
        rx, ry, lx, ly, ux, uy, before = ax, ay, bx, by, vx, vy, length
    if not closed and held:
        x, y = px[n - 1], py[n - 1]
        edge(acc, mask, shift, rx, ry, x - uy * half, y + ux * half, high)
        edge(acc, mask, shift, x + uy * half, y - ux * half, lx, ly, high)
        _cap(acc, mask, shift, x, y, ux, uy, half, cap, high)
