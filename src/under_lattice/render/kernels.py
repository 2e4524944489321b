"""Compiled kernels: exact coverage of polygons and strokes, painted into bands of float pixels.

Signed areas are accumulated per pixel along each edge, then summed along the row. Opaque marks are painted from front to
back, each adding min(coverage, what is left), so touching marks leave nothing of the ground between them.
"""

from __future__ import annotations

import math
import os
from typing import Any

import platformdirs

os.environ.setdefault("NUMBA_CACHE_DIR", os.path.join(platformdirs.user_cache_dir("under-lattice"), "kernels"))

import numpy as np
from numba import njit

FAR = 1 << 30


@njit(nogil=True, cache=True, inline="always")
def _piece(acc: Any, lo: Any, hi: Any, x0: float, y0: float, x1: float, y1: float, d: float, top: float, high: int) -> None:
    """Accumulate one edge whose x stays within 0..W; y0 < y1, in pixels; rows from `top`."""
    slope = (x1 - x0) / (y1 - y0)
    if y0 < top:
        x0 += (top - y0) * slope
        y0 = top
    if y1 > top + high:
        y1 = top + high
    x = x0
    row, last = int(y0 - top), math.ceil(y1 - top)
    most = float(acc.shape[1] - 2)
    for y in range(row, last):
        low = max(y0, top + y)
        dy = min(y1, top + y + 1) - low
        xn = x + slope * dy
        xa, xb = (x, xn) if x < xn else (xn, x)
        xa, xb = min(max(xa, 0.0), most), min(max(xb, 0.0), most)
        ia, ib = int(xa), int(xb)
        lo[y] = min(lo[y], ia)
        hi[y] = max(hi[y], ib)
        dd = d * dy
        if ia == ib:
            f = 0.5 * (xa + xb) - ia
            acc[y, ia] += dd * (1.0 - f)
            acc[y, ia + 1] += dd * f
        else:
            s = dd / (xb - xa)
            for xi in range(ia, ib + 1):
                left, right = max(xa, float(xi)), min(xb, float(xi + 1))
                part = s * (right - left)
                f = 0.5 * (left + right) - xi
                acc[y, xi] += part * (1.0 - f)
                acc[y, xi + 1] += part * f
        x = xn


@njit(nogil=True, cache=True)
def _edge(acc: Any, lo: Any, hi: Any, x0: float, y0: float, x1: float, y1: float, top: float, high: int) -> None:
    """Accumulate one edge, split where it leaves the width."""
    if y0 == y1:
        return
    d = 1.0
    if y0 > y1:
        x0, y0, x1, y1 = x1, y1, x0, y0
        d = -1.0
    if y1 <= top or y0 >= top + high:
        return
    wide = float(acc.shape[1] - 2)
    if (x0 <= 0.0 and x1 <= 0.0) or (x0 >= wide and x1 >= wide) or (min(x0, x1) >= 0.0 and max(x0, x1) <= wide):
        x0, x1 = min(max(x0, 0.0), wide), min(max(x1, 0.0), wide)
        _piece(acc, lo, hi, x0, y0, x1, y1, d, top, high)
        return
    for bound in (0.0, wide):
        if (x0 < bound) != (x1 < bound):
            y = y0 + (bound - x0) * (y1 - y0) / (x1 - x0)
            if d > 0:
                _edge(acc, lo, hi, x0, y0, bound, y, top, high)
                _edge(acc, lo, hi, bound, y, x1, y1, top, high)
            else:
                _edge(acc, lo, hi, bound, y, x0, y0, top, high)
                _edge(acc, lo, hi, x1, y1, bound, y, top, high)
            return
    x0, x1 = min(max(x0, 0.0), wide), min(max(x1, 0.0), wide)
    _piece(acc, lo, hi, x0, y0, x1, y1, d, top, high)


@njit(nogil=True, cache=True, fastmath=True)
def _sweep(into: Any, acc: Any, lo: Any, hi: Any, high: int, r: float, g: float, b: float, a: float, opaque: bool) -> None:
    """Turn accumulated areas into coverage and paint a premultiplied colour; clears what it read."""
    wide = into.shape[1]
    for y in range(high):
        if hi[y] < 0:
            continue
        first, last = lo[y], min(hi[y] + 1, wide + 1)
        lo[y], hi[y] = FAR, -1
        s = np.float32(0.0)
        for x in range(first, last + 1):
            s += acc[y, x]
            acc[y, x] = 0.0
            if x >= wide:
                continue
            c = min(abs(s), np.float32(1.0))
            if c < np.float32(0.0005):
                continue
            if opaque:
                c = min(c, np.float32(1.0) - into[y, x, 3])
                if c <= np.float32(0.0):
                    continue
                into[y, x, 0] += c * r
                into[y, x, 1] += c * g
                into[y, x, 2] += c * b
                into[y, x, 3] += c
            else:
                keep = np.float32(1.0) - c * a
                into[y, x, 0] = into[y, x, 0] * keep + c * r
                into[y, x, 1] = into[y, x, 1] * keep + c * g
                into[y, x, 2] = into[y, x, 2] * keep + c * b
                into[y, x, 3] = into[y, x, 3] * keep + c * a


@njit(nogil=True, cache=True)
def _facet(acc: Any, lo: Any, hi: Any, xs: Any, ys: Any, n: int, top: float, high: int) -> None:
    """Accumulate a small polygon, always turning the same way."""
    area = 0.0
    for i in range(n):
        k = (i + 1) % n
        area += xs[i] * ys[k] - xs[k] * ys[i]
    for i in range(n):
        k = (i + 1) % n
        if area >= 0.0:
            _edge(acc, lo, hi, xs[i], ys[i], xs[k], ys[k], top, high)
        else:
            _edge(acc, lo, hi, xs[k], ys[k], xs[i], ys[i], top, high)


@njit(nogil=True, cache=True)
def _stroke(acc: Any, lo: Any, hi: Any, px: Any, py: Any, n: int, half: float, join: int, top: float, high: int) -> None:
    """Accumulate the stroke of one closed contour: a rectangle for each piece and a wedge at each corner."""
    xs, ys = np.empty(4), np.empty(4)
    for i in range(n):
        k = (i + 1) % n
        ux, uy = px[k] - px[i], py[k] - py[i]
        length = math.hypot(ux, uy)
        if length < 1e-9:
            continue
        ux, uy = ux / length, uy / length
        ox, oy = -uy * half, ux * half
        xs[0], ys[0], xs[1], ys[1] = px[i] + ox, py[i] + oy, px[k] + ox, py[k] + oy
        xs[2], ys[2], xs[3], ys[3] = px[k] - ox, py[k] - oy, px[i] - ox, py[i] - oy
        _facet(acc, lo, hi, xs, ys, 4, top, high)
        m = k
        vx, vy, run = 0.0, 0.0, 0.0
        for _ in range(n):
            m = (m + 1) % n
            vx, vy = px[m] - px[k], py[m] - py[k]
            run = math.hypot(vx, vy)
            if run >= 1e-9:
                break
        if run < 1e-9:
            continue
        vx, vy = vx / run, vy / run
        turn = math.atan2(ux * vy - uy * vx, ux * vx + uy * vy)
        if abs(turn) < 1e-4:
            continue
        side = -1.0 if turn > 0 else 1.0
        ax, ay, bx, by = -uy * half * side, ux * half * side, -vy * half * side, vx * half * side
        xs[0], ys[0], xs[1], ys[1] = px[k], py[k], px[k] + ax, py[k] + ay
        if join == 1 or (join == 0 and abs(math.cos(turn / 2)) > 0.25 and abs(turn) < 0.05):
            parts = max(1, math.ceil(abs(turn) / 0.35))
            begin = math.atan2(ay, ax)
            for p in range(parts):
                one, two = begin + turn * p / parts, begin + turn * (p + 1) / parts
                xs[1], ys[1] = px[k] + half * math.cos(one), py[k] + half * math.sin(one)
                xs[2], ys[2] = px[k] + half * math.cos(two), py[k] + half * math.sin(two)
                _facet(acc, lo, hi, xs, ys, 3, top, high)
        elif join == 0 and abs(math.cos(turn / 2)) > 0.25:  # mitre limit 4, as SVG has it
            reach = 1.0 / (2.0 * math.cos(turn / 2) ** 2)
            xs[2], ys[2] = px[k] + (ax + bx) * reach, py[k] + (ay + by) * reach
            xs[3], ys[3] = px[k] + bx, py[k] + by
            _facet(acc, lo, hi, xs, ys, 4, top, high)
        else:
            xs[2], ys[2] = px[k] + bx, py[k] + by
            _facet(acc, lo, hi, xs, ys, 3, top, high)


@njit(nogil=True, cache=True, fastmath=True)
def under(into: Any, run: Any) -> None:
    """Lay a painted run over what was there; both premultiplied (H, W, 4)."""
    for y in range(into.shape[0]):
        for x in range(into.shape[1]):
            a = run[y, x, 3]
            if a > np.float32(0.0):
                keep = np.float32(1.0) - a
                for c in range(4):
                    into[y, x, c] = into[y, x, c] * keep + run[y, x, c]


@njit(nogil=True, cache=True, fastmath=True)
def to_bytes(pixels: Any, out: Any) -> None:
    """Round float pixels (H, W, 4) to bytes."""
    for y in range(pixels.shape[0]):
        for x in range(pixels.shape[1]):
            for c in range(4):
                v = pixels[y, x, c] * np.float32(255.0) + np.float32(0.5)
                out[y, x, c] = np.uint8(min(max(v, np.float32(0.0)), np.float32(255.0)))


@njit(nogil=True, cache=True)
def paint_items(
    into: Any,
    acc: Any,
    lo: Any,
    hi: Any,
    top: int,
    order: Any,
    opaque: bool,
    shape: Any,
    half: Any,
    join: Any,
    colour: Any,
    bounds: Any,
    xform: Any,
    contour_of: Any,
    contours: Any,
    points: Any,
) -> None:
    """Paint items, in `order`, into one band.

    Parameters
    ----------
    into : (H, W, 4) float32
        Premultiplied; for opaque items the run's own buffer, painted front to back.
    acc, lo, hi : (H, W + 2) float32, (H,), (H,)
        Clean before and after.
    top : int
        First row of the band.
    order : (k,) int
    shape : (I,) int
        Row of `contour_of`.
    half : (I,) float
        Half the stroke's width in px; below zero the item is a fill.
    colour : (I, 4) float32
        Premultiplied.
    bounds : (I, 2) float
        Top and bottom in px.
    xform : (I, 2, 3)
        To pixels.
    contour_of : (S + 1,) int
        First contour of each shape.
    contours : (C + 1,) int
        First point of each contour.
    points : (P, 2)
    """
    high = into.shape[0]
    longest = 0
    for c in range(len(contours) - 1):
        longest = max(longest, contours[c + 1] - contours[c])
    px, py = np.empty(longest), np.empty(longest)
    for item in order:
        if bounds[item, 1] <= top or bounds[item, 0] >= top + high:
            continue
        m = xform[item]
        for c in range(contour_of[shape[item]], contour_of[shape[item] + 1]):
            start, n = contours[c], contours[c + 1] - contours[c]
            for i in range(n):
                x, y = points[start + i, 0], points[start + i, 1]
                px[i] = m[0, 0] * x + m[0, 1] * y + m[0, 2]
                py[i] = m[1, 0] * x + m[1, 1] * y + m[1, 2]
            if half[item] >= 0.0:
                _stroke(acc, lo, hi, px, py, n, half[item], join[item], float(top), high)
            else:
                for i in range(n):
                    k = (i + 1) % n
                    _edge(acc, lo, hi, px[i], py[i], px[k], py[k], float(top), high)
        _sweep(into, acc, lo, hi, high, colour[item, 0], colour[item, 1], colour[item, 2], colour[item, 3], opaque)
