"""Compiled kernels: from coverage to painted pixels, row by row, for one item.

Opaque items come from front to back, each adding min(coverage, what is left), so touching marks leave nothing of the ground between
them; others are laid one over the other with their blend mode. Columns no edge has touched are painted in one go or leapt over.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from under_lattice.core.kernel_compiler import njit
from under_lattice.render.kernel_blend import lay_pixel
from under_lattice.render.kernel_cover import CLEAN, FAINT, NOTHING, ONE, SOLID, covered, hide, leap, pass_over, touched
from under_lattice.render.kernel_shade import PICTURE, REPEATED, picture_at, ramp_row


@njit(nogil=True, cache=True, fastmath=True, inline="always")
def _under(into: Any, y: int, x: int, c: Any, r: Any, g: Any, b: Any) -> None:
    """Put an opaque colour under what is already there."""
    left = ONE - into[y, x, 3]
    if left > NOTHING:
        k = c if c < left else left
        into[y, x, 0] += k * r
        into[y, x, 1] += k * g
        into[y, x, 2] += k * b
        into[y, x, 3] += k


@njit(nogil=True, cache=True, fastmath=True)
def sweep_opaque(
    into: Any, acc: Any, mask: Any, shift: int, solid: Any, ya: int, yb: int, r: Any, g: Any, b: Any, rule: int
) -> None:
    """Paint an item of one opaque colour, and clear `acc` and `mask`; what is `solid` is leapt over, row by row of pixels."""
    wide = into.shape[1]
    for y in range(ya, yb):
        m = mask[y]
        if m == CLEAN:
            continue
        mask[y] = CLEAN
        x, s, c = leap(m, 0, shift, wide), NOTHING, NOTHING
        while x < wide:
            block = x >> shift
            if touched(m, block):
                stop = min((block + 1) << shift, wide)
                if touched(solid[y], block):
                    s += pass_over(acc, y, x, stop)
                    c = covered(s, rule)
                else:
                    least = ONE
                    for q in range(x, stop):
                        v = acc[y, q]
                        if v != NOTHING:
                            s += v
                            acc[y, q] = NOTHING
                            c = covered(s, rule)
                        if c >= FAINT:
                            _under(into, y, q, c, r, g, b)
                        least = min(least, into[y, q, 3])
                    if least >= SOLID:
                        hide(solid, y, x, stop, shift, wide)
            else:
                stop = leap(m, block, shift, wide)
                if c >= FAINT:
                    done = solid[y]
                    q = leap(~done, block, shift, stop)
                    while q < stop:
                        end = leap(done, q >> shift, shift, stop)
                        for p in range(q, end):
                            _under(into, y, p, c, r, g, b)
                        q = leap(~done, end >> shift, shift, stop) if end < stop else stop  # no block begins where the tile ends
                    if c >= ONE:
                        hide(solid, y, x, stop, shift, wide)
            x = stop
        acc[y, wide] = NOTHING
        acc[y, wide + 1] = NOTHING


@njit(nogil=True, cache=True, fastmath=True)
def sweep_clear(
    into: Any, acc: Any, mask: Any, shift: int, ya: int, yb: int, r: Any, g: Any, b: Any, a: Any, rule: int, mode: int
) -> None:
    """Lay an item of one colour over what is there, and clear `acc` and `mask`, row by row of pixels."""
    wide = into.shape[1]
    for y in range(ya, yb):
        m = mask[y]
        if m == CLEAN:
            continue
        mask[y] = CLEAN
        x, s, c = leap(m, 0, shift, wide), NOTHING, NOTHING
        while x < wide:
            block = x >> shift
            here = touched(m, block)
            stop = min((block + 1) << shift, wide) if here else leap(m, block, shift, wide)
            if here or c >= FAINT:
                for q in range(x, stop):
                    if here:
                        v = acc[y, q]
                        if v != NOTHING:
                            s += v
                            acc[y, q] = NOTHING
                            c = covered(s, rule)
                    if c >= FAINT:
                        if mode == 0:
                            keep = ONE - c * a
                            into[y, q, 0] = into[y, q, 0] * keep + c * r
                            into[y, q, 1] = into[y, q, 1] * keep + c * g
                            into[y, q, 2] = into[y, q, 2] * keep + c * b
                            into[y, q, 3] = into[y, q, 3] * keep + c * a
                        else:
                            lay_pixel(into, y, q, c * r, c * g, c * b, c * a, mode)
            x = stop
        acc[y, wide] = NOTHING
        acc[y, wide + 1] = NOTHING


@njit(nogil=True, cache=True, fastmath=True)
def _shaded(
    into: Any, y: int, begin: int, stop: int, c: Any, u0: float, v0: float, to: Any, table: Any, form: int, mode: int, opaque: bool
) -> None:
    """Paint the pixels of a run, all covered alike, from a ramp's table."""
    last = table.shape[0] - 1
    du, dv = to[0, 0], to[1, 0]
    for q in range(begin, stop):
        if opaque:
            if into[y, q, 3] < ONE:
                at = ramp_row(form, u0 + du * q, v0 + dv * q, last)
                _under(into, y, q, c, table[at, 0], table[at, 1], table[at, 2])
        else:
            at = ramp_row(form, u0 + du * q, v0 + dv * q, last)
            if table[at, 3] > NOTHING:
                lay_pixel(into, y, q, c * table[at, 0], c * table[at, 1], c * table[at, 2], c * table[at, 3], mode)


@njit(nogil=True, cache=True, fastmath=True)
def _pictured(
    into: Any, y: int, begin: int, stop: int, c: Any, u0: float, v0: float, to: Any, texels: Any, levels: Any, depth: int,
    repeat: bool, mode: int, opaque: bool, colour: Any,
) -> None:  # fmt: skip
    """Lay the pixels of a run, all covered alike, from a picture; one that is `opaque` goes under what is already there."""
    du, dv = to[0, 0], to[1, 0]
    wide, high = levels[0, 1], levels[0, 2]
    step = math.sqrt(abs((to[0, 0] * to[1, 1] - to[0, 1] * to[1, 0]) * wide * high))
    for q in range(begin, stop):
        if opaque and into[y, q, 3] >= ONE:
            continue
        picture_at(texels, levels, depth, u0 + du * q, v0 + dv * q, step, repeat, colour)
        if colour[3] > NOTHING and opaque:
            _under(into, y, q, c, colour[0] / colour[3], colour[1] / colour[3], colour[2] / colour[3])
        elif colour[3] > NOTHING:
            lay_pixel(into, y, q, c * colour[0], c * colour[1], c * colour[2], c * colour[3], mode)


@njit(nogil=True, cache=True, fastmath=True)
def sweep_paint(
    into: Any, acc: Any, mask: Any, shift: int, solid: Any, ya: int, yb: int, left: int, top: int, form: int, to: Any,
    strength: Any, rule: int, mode: int, opaque: bool, table: Any, texels: Any, levels: Any, depth: int,
) -> None:  # fmt: skip
    """Paint an item from a ramp or a picture, and clear `acc` and `mask`; an opaque one leaps over what is `solid`."""
    wide = into.shape[1]
    colour = np.zeros(4, np.float32)
    for y in range(ya, yb):
        m = mask[y]
        if m == CLEAN:
            continue
        mask[y] = CLEAN
        u0 = to[0, 1] * (top + y + 0.5) + to[0, 2] + (0.5 + left) * to[0, 0]
        v0 = to[1, 1] * (top + y + 0.5) + to[1, 2] + (0.5 + left) * to[1, 0]
        x, s, c = leap(m, 0, shift, wide), NOTHING, NOTHING
        while x < wide:
            block = x >> shift
            done = solid[y] if opaque else CLEAN
            stop, end = x + 1, leap(m, block, shift, wide)
            if touched(m, block):
                end = min((block + 1) << shift, wide)
                if touched(done, block):
                    s += pass_over(acc, y, x, end)
                    c = covered(s, rule) * strength
                    x = end
                    continue
                if acc[y, x] != NOTHING:
                    s += acc[y, x]
                    acc[y, x] = NOTHING
                    c = covered(s, rule) * strength
                while stop < end and acc[y, stop] == NOTHING:
                    stop += 1
            else:  # up to what is solid, or over it
                stop = leap(~done if touched(done, block) else done, block, shift, end)
            if c >= FAINT and not touched(done, block):
                if form in (PICTURE, REPEATED):
                    _pictured(into, y, x, stop, c, u0, v0, to, texels, levels, depth, form == REPEATED, mode, opaque, colour)
                else:
                    _shaded(into, y, x, stop, c, u0, v0, to, table, form, mode, opaque)
                if opaque and c >= ONE:
                    hide(solid, y, x, stop, shift, wide)
            x = stop
        acc[y, wide] = NOTHING
        acc[y, wide + 1] = NOTHING
