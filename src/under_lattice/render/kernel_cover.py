"""Compiled kernels: exact coverage as signed areas, and where on a row something has changed.

Each edge adds its area to the pixels it passes (`acc`); summed along a row that gives the winding-weighted coverage. `mask` (H,)
holds a bit for each block of eight columns of a row that an edge has touched. Edges (k, 4) are in pixels of the picture.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from under_lattice.core.kernel_compiler import intrinsic, ir, njit, types

BIT, TWO_BITS, CLEAN, ALL = np.uint64(1), np.uint64(2), np.uint64(0), np.uint64(0xFFFF_FFFF_FFFF_FFFF)
NOTHING, HALF, ONE, TWO, FULL = (np.float32(v) for v in (0.0, 0.5, 1.0, 2.0, 0.9985))
FAINT = np.float32(1e-5)  # what sums of areas may miss by
EVEN_ODD = 1
BLOCK = 3  # a bit of a mask stands for 2**3 columns


@intrinsic
def zeros_below(typing_context: Any, word: Any) -> Any:
    """Count the zeros below the lowest bit that is set."""

    def generate(context: Any, builder: Any, signature: Any, arguments: Any) -> Any:
        return builder.cttz(arguments[0], ir.Constant(ir.IntType(1), 0))

    return types.uint64(types.uint64), generate


@njit(nogil=True, cache=True, fastmath=True, inline="always")
def edge(acc: Any, mask: Any, x0: float, y0: float, x1: float, y1: float, wide: float, high: int) -> None:
    """Add one edge to a band of so many pixels across and down.

    What lies left of it counts at its first column, what lies right of it does not show.
    """
    d = 1.0
    if y0 > y1:
        x0, y0, x1, y1 = x1, y1, x0, y0
        d = -1.0
    if y0 == y1 or y1 <= 0.0 or y0 >= high:
        return
    slope = 0.0
    if y0 < 0.0 or y1 > int(y0) + 1:
        slope = (x1 - x0) / (y1 - y0)
        if y0 < 0.0:
            x0 -= y0 * slope
            y0 = 0.0
        if y1 > high:
            x1 -= (y1 - high) * slope
            y1 = float(high)
    x, y = x0, int(y0)
    while y < y1:
        bottom = float(y + 1)
        if y1 <= bottom:
            dd, xn = d * (y1 - y0), x1
        else:
            dd = d * (bottom - y0)
            xn = x + slope * (bottom - y0)
        xa, xb = (xn, x) if x > xn else (x, xn)
        x, y0 = xn, bottom
        if xa < 0.0:
            part = dd if xb <= 0.0 else dd * (-xa) / (xb - xa)
            acc[y, 0] += part
            mask[y] |= BIT
            dd -= part
            xa, xb = 0.0, max(xb, 0.0)
        if xb > wide:
            dd = 0.0 if xa >= wide else dd * (wide - xa) / (xb - xa)
            xa, xb = min(xa, wide), wide
        ia, ib = int(xa), int(xb)
        mask[y] |= (TWO_BITS << np.uint64((ib + 1) >> BLOCK)) - (BIT << np.uint64(ia >> BLOCK))
        if ia == ib:
            f = dd * (0.5 * (xa + xb) - ia)
            acc[y, ia] += dd - f
            acc[y, ia + 1] += f
        else:
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
        y += 1


@njit(nogil=True, cache=True, fastmath=True)
def add_edges(acc: Any, mask: Any, edges: Any, many: int, left: float, top: float, wide: int, high: int) -> None:
    """Add ``edges[1 : many + 1]`` to a band of pixels whose first one is (left, top)."""
    for i in range(1, many + 1):
        edge(acc, mask, edges[i, 0] - left, edges[i, 1] - top, edges[i, 2] - left, edges[i, 3] - top, float(wide), high)


@njit(nogil=True, cache=True, fastmath=True, inline="always")
def covered(s: Any, rule: int) -> Any:
    """Coverage 0..1 of a winding-weighted sum, non-zero or even-odd; float32."""
    c = abs(s)
    if rule == EVEN_ODD:
        c = c - TWO * np.float32(math.floor(c * HALF))
        return TWO - c if c > ONE else c
    return ONE if c > FULL else c


@njit(nogil=True, cache=True, fastmath=True, inline="always")
def hidden(solid: Any, ya: int, yb: int, xa: int, xb: int) -> bool:
    """Whether nothing shows of a box of pixels."""
    first, last = xa >> BLOCK, ((xb - 1) >> BLOCK) + 1
    need = (ALL if last >= 64 else (BIT << np.uint64(last)) - BIT) & (ALL << np.uint64(first))
    y = ya
    while y < yb and solid[y] & need == need:
        y += 1
    return y >= yb
