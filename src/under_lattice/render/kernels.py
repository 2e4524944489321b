"""Compiled kernels, second half: from coverage to painted pixels, item by item.

Opaque items are painted from front to back, each adding min(coverage, what is left), so touching marks leave nothing of the ground
between them; others are laid one over the other with their blend mode.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from under_lattice.render.kernel_blend import lay_pixel
from under_lattice.render.kernel_cover import BIT, outline, stroke

from numba import njit  # isort: skip - after the place of compiled kernels is set

FAINT = np.float32(1e-5)  # what sums of areas may miss by
TINY = 0.25  # px; smaller marks are drawn as their coverage in one pixel
SHAPE, PAINT, JOIN, CAP, MODE, RULE = 0, 1, 2, 3, 4, 5  # columns of `kind`
LINEAR, RADIAL, AROUND = 0, 1, 2
EVEN_ODD = 1
CLEAN = np.uint64(0)
NOTHING, HALF, ONE, TWO, FULL, BYTE = (np.float32(v) for v in (0.0, 0.5, 1.0, 2.0, 0.9985, 255.0))


@njit(nogil=True, cache=True, fastmath=True, inline="always")
def _covered(s: Any, rule: int) -> Any:
    """Coverage 0..1 of a winding-weighted sum, non-zero or even-odd; float32."""
    c = abs(s)
    if rule == EVEN_ODD:
        c = c - TWO * np.float32(math.floor(c * HALF))
        return TWO - c if c > ONE else c
    return ONE if c > FULL else c


@njit(nogil=True, cache=True, fastmath=True, inline="always")
def _place(form: int, u: float, v: float, last: int) -> int:
    """Row of the colour table at (u, v) of a ramp's own place."""
    if form == LINEAR:
        t = u
    elif form == RADIAL:
        t = math.sqrt(u * u + v * v)
    else:
        t = math.atan2(v, u) * (0.5 / math.pi)
        t -= math.floor(t)
    return int(min(max(t, 0.0), 1.0) * last + 0.5)


@njit(nogil=True, cache=True, fastmath=True, inline="always")
def _hide(full: Any, y: int, begin: int, stop: int) -> None:
    """Note that nothing shows through a run any more; the longest stretch is kept for each row."""
    if full[y, 1] > full[y, 0] and begin <= full[y, 1] and stop >= full[y, 0]:
        full[y, 0], full[y, 1] = min(full[y, 0], begin), max(full[y, 1], stop)
    elif stop - begin > full[y, 1] - full[y, 0]:
        full[y, 0], full[y, 1] = begin, stop


@njit(nogil=True, cache=True, fastmath=True, inline="always")
def _leap(m: Any, block: int, shift: int, end: int) -> int:
    """First column of the next touched block from `block` on, or the end."""
    rest = m >> np.uint64(block) if block < 64 else CLEAN
    if rest == CLEAN:
        return end
    while rest & BIT == CLEAN:
        rest >>= BIT
        block += 1
    return block << shift


@njit(nogil=True, cache=True, fastmath=True, inline="always")
def _next(acc: Any, y: int, m: Any, x: int, shift: int, end: int) -> int:
    """First column from x on where coverage changes, or the end; blocks no edge has touched are leapt over."""
    inside = (1 << shift) - 1
    while x < end:
        if x & inside == 0:
            x = _leap(m, x >> shift, shift, end)
            if x >= end:
                return end
        if acc[y, x] != NOTHING:
            return x
        x += 1
    return end


@njit(nogil=True, cache=True, fastmath=True)
def _pass_over(acc: Any, y: int, m: Any, begin: int, stop: int, shift: int) -> Any:
    """Sum and clear what edges have left in a stretch where nothing shows."""
    s, x = NOTHING, begin
    while x < stop:
        finish = min(stop, ((x >> shift) + 1) << shift)
        if (m >> np.uint64(x >> shift)) & BIT != CLEAN:
            for q in range(x, finish):
                s += acc[y, q]
                acc[y, q] = NOTHING
        x = finish
    return s


@njit(nogil=True, cache=True, fastmath=True)
def _sweep_opaque(
    into: Any, acc: Any, mask: Any, shift: int, full: Any, ya: int, yb: int, r: Any, g: Any, b: Any, rule: int
) -> None:
    wide, end = into.shape[1], acc.shape[1]
    for y in range(ya, yb):
        m = mask[y]
        if m == CLEAN:
            continue
        mask[y] = CLEAN
        x, s = _leap(m, 0, shift, end), NOTHING
        while x < end:
            fa, fb = full[y, 0], full[y, 1]
            if fa <= x < fb:
                s += _pass_over(acc, y, m, x, min(fb, end), shift)
                x = fb
                continue
            limit = fa if x < fa < end else end
            s += acc[y, x]
            acc[y, x] = NOTHING
            stop = min(_next(acc, y, m, x + 1, shift, end), limit)
            c = _covered(s, rule)
            last = min(stop, wide)
            if c >= FAINT and last > x:
                for q in range(x, last):
                    left = ONE - into[y, q, 3]
                    if left > NOTHING:
                        k = c if c < left else left
                        into[y, q, 0] += k * r
                        into[y, q, 1] += k * g
                        into[y, q, 2] += k * b
                        into[y, q, 3] += k
                if c >= ONE:
                    _hide(full, y, x, last)
            x = stop


@njit(nogil=True, cache=True, fastmath=True)
def _sweep_clear(
    into: Any, acc: Any, mask: Any, shift: int, ya: int, yb: int, r: Any, g: Any, b: Any, a: Any, rule: int, mode: int
) -> None:
    wide, end = into.shape[1], acc.shape[1]
    for y in range(ya, yb):
        m = mask[y]
        if m == CLEAN:
            continue
        mask[y] = CLEAN
        x, s = _leap(m, 0, shift, end), NOTHING
        while x < end:
            s += acc[y, x]
            acc[y, x] = NOTHING
            stop = _next(acc, y, m, x + 1, shift, end)
            c = _covered(s, rule)
            if c >= FAINT and a > NOTHING:
                if mode == 0:
                    keep = ONE - c * a
                    for q in range(x, min(stop, wide)):
                        into[y, q, 0] = into[y, q, 0] * keep + c * r
                        into[y, q, 1] = into[y, q, 1] * keep + c * g
                        into[y, q, 2] = into[y, q, 2] * keep + c * b
                        into[y, q, 3] = into[y, q, 3] * keep + c * a
                else:
                    for q in range(x, min(stop, wide)):
                        lay_pixel(into, y, q, c * r, c * g, c * b, c * a, mode)
            x = stop


@njit(nogil=True, cache=True, fastmath=True)
def _ramp_run(
    into: Any, y: int, begin: int, stop: int, c: Any, u0: float, v0: float, to: Any, table: Any, form: int, mode: int, opaque: bool
) -> None:
    """Paint the pixels of a run from a ramp's table."""
    last = table.shape[0] - 1
    du, dv = to[0, 0], to[1, 0]
    for q in range(begin, stop):
        if opaque:
            k = min(c, ONE - into[y, q, 3])
            if k > NOTHING:
                at = _place(form, u0 + du * q, v0 + dv * q, last)
                into[y, q, 0] += k * table[at, 0]
                into[y, q, 1] += k * table[at, 1]
                into[y, q, 2] += k * table[at, 2]
                into[y, q, 3] += k
        else:
            at = _place(form, u0 + du * q, v0 + dv * q, last)
            if table[at, 3] > NOTHING:
                lay_pixel(into, y, q, c * table[at, 0], c * table[at, 1], c * table[at, 2], c * table[at, 3], mode)


@njit(nogil=True, cache=True, fastmath=True)
def _sweep_ramp(
    into: Any, acc: Any, mask: Any, shift: int, full: Any, ya: int, yb: int, top: int, table: Any, form: int, to: Any,
    strength: Any, rule: int, mode: int, opaque: bool,
) -> None:  # fmt: skip
    wide, end = into.shape[1], acc.shape[1]
    for y in range(ya, yb):
        m = mask[y]
        if m == CLEAN:
            continue
        mask[y] = CLEAN
        x, s = _leap(m, 0, shift, end), NOTHING
        u0 = to[0, 1] * (top + y + 0.5) + to[0, 2] + 0.5 * to[0, 0]
        v0 = to[1, 1] * (top + y + 0.5) + to[1, 2] + 0.5 * to[1, 0]
        while x < end:
            fa, fb = (full[y, 0], full[y, 1]) if opaque else (0, 0)
            if fa <= x < fb:
                s += _pass_over(acc, y, m, x, min(fb, end), shift)
                x = fb
                continue
            limit = fa if x < fa < end else end
            s += acc[y, x]
            acc[y, x] = NOTHING
            stop = min(_next(acc, y, m, x + 1, shift, end), limit)
            c = _covered(s, rule) * strength
            last = min(stop, wide)
            if c >= FAINT and last > x:
                _ramp_run(into, y, x, last, c, u0, v0, to, table, form, mode, opaque)
                if opaque and c >= ONE:
                    _hide(full, y, x, last)
            x = stop


@njit(nogil=True, cache=True, fastmath=True)
def _dot(into: Any, x: int, y: int, top: int, c: float, r: Any, g: Any, b: Any, a: Any, opaque: bool, mode: int) -> None:
    """Paint a mark far below a pixel as its coverage in the pixel it stands in."""
    y -= top
    if x < 0 or y < 0 or x >= into.shape[1] or y >= into.shape[0]:
        return
    if opaque:
        c = max(0.0, min(c, 1.0 - into[y, x, 3]))
        into[y, x, 0] += c * r
        into[y, x, 1] += c * g
        into[y, x, 2] += c * b
        into[y, x, 3] += c
    elif c > 0.0:
        lay_pixel(into, y, x, c * r, c * g, c * b, c * a, mode)


@njit(nogil=True, cache=True)
def _inverse(xform: Any, item: int, out: Any) -> bool:
    m = xform[item]
    det = m[0, 0] * m[1, 1] - m[0, 1] * m[1, 0]
    if abs(det) < 1e-30:
        return False
    out[0, 0], out[0, 1] = m[1, 1] / det, -m[0, 1] / det
    out[1, 0], out[1, 1] = -m[1, 0] / det, m[0, 0] / det
    out[0, 2] = -(out[0, 0] * m[0, 2] + out[0, 1] * m[1, 2])
    out[1, 2] = -(out[1, 0] * m[0, 2] + out[1, 1] * m[1, 2])
    return True


@njit(nogil=True, cache=True, fastmath=True)
def under(into: Any, run: Any) -> None:
    """Lay a painted run over what was there; both premultiplied (H, W, 4)."""
    for y in range(into.shape[0]):
        for x in range(into.shape[1]):
            keep = ONE - run[y, x, 3]
            for c in range(4):
                into[y, x, c] = into[y, x, c] * keep + run[y, x, c]


@njit(nogil=True, cache=True, fastmath=True)
def to_bytes(pixels: Any, out: Any) -> None:
    """Round float pixels (n,) to bytes."""
    for i in range(pixels.shape[0]):
        v = pixels[i] * BYTE + HALF
        out[i] = np.uint8(np.int32(min(max(v, NOTHING), BYTE)))


@njit(nogil=True, cache=True, fastmath=True)
def paint_items(
    into: Any, acc: Any, mask: Any, shift: int, top: int, order: Any, opaque: bool, kind: Any, half: Any, colour: Any,
    bounds: Any, xform: Any, contour_of: Any, contours: Any, closed: Any, area: Any, points: Any, tables: Any, ramps: Any,
    ramp_forms: Any, ramp_places: Any,
) -> None:  # fmt: skip
    """Paint items, in `order`, into one band.

    Parameters
    ----------
    into : (H, W, 4) float32
        Premultiplied; for opaque items the run's own buffer, painted front to back.
    acc, mask : (H, W + 2) float32, (H,) uint64
        Clean before and after.
    shift : int
        A bit of `mask` stands for ``2**shift`` columns.
    top : int
        First row of the band.
    order : (k,) int
    opaque : bool
        All items of `order` are opaque and of mode normal.
    kind : (I, 6) int
        Row of `contour_of`, ramp or -1, join, cap, blend mode, fill rule.
    half : (I,) float
        Half the stroke's width in px; below zero the item is a fill.
    colour : (I, 4) float32
        Premultiplied; with a ramp only its alpha counts.
    bounds : (I, 2) float
        Top and bottom in px.
    xform : (I, 2, 3)
        To pixels.
    contour_of, contours : (S + 1,), (C + 1,) int
        First contour of each shape, first point of each contour.
    closed : (C,) int
    area : (S,)
        Of each shape in its own place.
    points : (P, 2)
    tables : (R, 1024, 4) float32
        Premultiplied colours of the ramps.
    ramps : (R, 2, 3)
        The place a ramp lives in -> its own place, where it runs from 0 to 1.
    ramp_forms, ramp_places : (R,) int
        Linear, radial or around; 1 if the ramp lives in each mark's own place, 0 if in pixels.
    """
    high = into.shape[0]
    longest = 0
    for c in range(len(contours) - 1):
        longest = max(longest, contours[c + 1] - contours[c])
    full = np.zeros((high, 2), np.int64)
    px, py = np.empty(longest), np.empty(longest)
    back, to = np.empty((2, 3)), np.empty((2, 3))
    for item in order:
        ya, yb = max(0, math.floor(bounds[item, 0] - top)), min(high, math.ceil(bounds[item, 1] - top))
        if yb <= ya:
            continue
        m00, m01, m02 = xform[item, 0, 0], xform[item, 0, 1], xform[item, 0, 2]
        m10, m11, m12 = xform[item, 1, 0], xform[item, 1, 1], xform[item, 1, 2]
        r, g, b, a = colour[item, 0], colour[item, 1], colour[item, 2], colour[item, 3]
        rule, shape = kind[item, RULE], kind[item, SHAPE]
        if half[item] < 0.0 and kind[item, PAINT] < 0 and bounds[item, 1] - bounds[item, 0] < 2.0 * (TINY + 1.0):
            c = min(1.0, area[shape] * abs(m00 * m11 - m01 * m10))
            _dot(into, math.floor(m02), math.floor(m12), top, c, r, g, b, a, opaque, kind[item, MODE])
            continue
        for contour in range(contour_of[shape], contour_of[shape + 1]):
            start, n = contours[contour], contours[contour + 1] - contours[contour]
            for i in range(n):
                x, y = points[start + i, 0], points[start + i, 1]
                px[i] = m00 * x + m01 * y + m02
                py[i] = m10 * x + m11 * y + m12 - top
            if half[item] >= 0.0:
                stroke(acc, mask, shift, px, py, n, half[item], kind[item, JOIN], kind[item, CAP], closed[contour] == 1, high)
            else:
                outline(acc, mask, shift, px, py, n, high)
        if half[item] >= 0.0:
            rule = 0
        ramp = kind[item, PAINT]
        if ramp >= 0:
            whole = True
            if ramp_places[ramp] == 1:
                whole = _inverse(xform, item, back)
                for j in range(2):
                    for k in range(3):
                        to[j, k] = (
                            ramps[ramp, j, 0] * back[0, k] + ramps[ramp, j, 1] * back[1, k] + (ramps[ramp, j, 2] if k == 2 else 0.0)
                        )
            else:
                to[:] = ramps[ramp]
            if whole:
                form, strength, mode = ramp_forms[ramp], a, kind[item, MODE]
                _sweep_ramp(into, acc, mask, shift, full, ya, yb, top, tables[ramp], form, to, strength, rule, mode, opaque)
            else:
                _sweep_clear(into, acc, mask, shift, ya, yb, NOTHING, NOTHING, NOTHING, NOTHING, rule, 0)
        elif opaque:
            _sweep_opaque(into, acc, mask, shift, full, ya, yb, r, g, b, rule)
        else:
            _sweep_clear(into, acc, mask, shift, ya, yb, r, g, b, a, rule, kind[item, MODE])


@njit(nogil=True, cache=True, fastmath=True)
def topmost(
    x: float, y: float, kind: Any, half: Any, colour: Any, bounds: Any, xform: Any, contour_of: Any, contours: Any, closed: Any,
    points: Any,
) -> int:  # fmt: skip
    """Last painted item that covers at least half of the pixel at (x, y), or -1; the arrays are those of `paint_items`."""
    acc = np.zeros((1, 3), np.float32)
    mask, shift = np.zeros(1, np.uint64), 0
    longest = 0
    for c in range(len(contours) - 1):
        longest = max(longest, contours[c + 1] - contours[c])
    px, py = np.empty(longest), np.empty(longest)
    left, top = math.floor(x), math.floor(y)
    for item in range(len(half) - 1, -1, -1):
        if bounds[item, 0] > top + 1.0 or bounds[item, 1] < top or colour[item, 3] <= NOTHING:
            continue
        shape = kind[item, SHAPE]
        for contour in range(contour_of[shape], contour_of[shape + 1]):
            start, n = contours[contour], contours[contour + 1] - contours[contour]
            for i in range(n):
                u, v = points[start + i, 0], points[start + i, 1]
                px[i] = xform[item, 0, 0] * u + xform[item, 0, 1] * v + xform[item, 0, 2] - left
                py[i] = xform[item, 1, 0] * u + xform[item, 1, 1] * v + xform[item, 1, 2] - top
            if half[item] >= 0.0:
                stroke(acc, mask, shift, px, py, n, half[item], kind[item, JOIN], kind[item, CAP], closed[contour] == 1, 1)
            else:
                outline(acc, mask, shift, px, py, n, 1)
        covered = _covered(acc[0, 0], kind[item, RULE] if half[item] < 0.0 else 0)
        acc[:] = NOTHING
        if covered >= HALF:
            return item
    return -1
