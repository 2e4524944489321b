"""Compiled kernels: from coverage to painted pixels, row by row, for one item.

Opaque items come from front to back, each adding min(coverage, what is left), so touching marks leave nothing of the ground between
them; others are laid one over the other with their blend mode. Blocks of eight columns are worked out at once; stretches that no
edge has touched are painted in one go or leapt over.

A run, on which opaque items meet, is flat: 64 blocks for each row, of each eight reds, greens, blues and opacities.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from under_lattice.core.kernel_compiler import njit
from under_lattice.render.kernel_blend import lay_pixel
from under_lattice.render.kernel_cover import BIT, CLEAN, EVEN_ODD, FAINT, NOTHING, ONE, covered, zeros_below
from under_lattice.render.kernel_shade import LINEAR, PICTURE, REPEATED, picture_at, ramp_row
from under_lattice.render.kernel_vector import (
    above8,
    covered8,
    four_of,
    full8,
    lane8,
    lay_multiply,
    lay_normal,
    lay_screen,
    load8,
    more8,
    none8,
    scan8,
    share8,
    splat8,
    store8,
)

BLOCKS, ROOM = 64, 32  # of a row of a run, and numbers of each of them
G, B, A = 8, 16, 24  # where greens, blues and opacities of a block begin


@njit(nogil=True, cache=True, fastmath=True, inline="always")
def _covers(sums: Any, rule: int, room: Any) -> Any:
    """Eight coverages of winding-weighted sums; `room` (8,) is written over."""
    if rule == EVEN_ODD:
        store8(room, 0, sums)
        for i in range(8):
            room[i] = covered(room[i], rule)
        return load8(room, 0)
    return covered8(sums)


@njit(nogil=True, cache=True, fastmath=True, inline="always")
def _summed(acc: Any, at: int, before: Any) -> Any:
    """Sums of areas along a block, what came `before` added, and clear it."""
    sums = scan8(load8(acc, at), before)
    store8(acc, at, splat8(NOTHING))
    return sums


@njit(nogil=True, cache=True, fastmath=True, inline="always")
def _clear_beyond(acc: Any, at: int) -> None:
    """Clear the two columns beyond a row, which edges at its end have touched."""
    acc[at] = NOTHING
    acc[at + 1] = NOTHING


@njit(nogil=True, cache=True, fastmath=True, inline="always")
def _end_of_stretch(rest: Any, at: int, blocks: int) -> int:
    """Block at which a stretch that no edge has touched ends; `rest` is the mask from block `at` on."""
    end: Any = at + np.int64(zeros_below(rest)) if rest != CLEAN else np.int64(blocks)
    return end


@njit(nogil=True, cache=True, fastmath=True, inline="always")
def _under(run: Any, at: int, cover: Any, r: Any, g: Any, b: Any) -> bool:
    """Put eight opaque pixels under what is there; tell whether nothing shows through any more."""
    there = load8(run, at + A)
    k = share8(cover, there)
    store8(run, at, more8(load8(run, at), k, r))
    store8(run, at + G, more8(load8(run, at + G), k, g))
    store8(run, at + B, more8(load8(run, at + B), k, b))
    there = more8(there, k, splat8(ONE))
    store8(run, at + A, there)
    return full8(there)


@njit(nogil=True, cache=True, fastmath=True)
def sweep_opaque(
    run: Any, wide: int, acc: Any, stride: int, mask: Any, solid: Any, ya: int, yb: int, r: Any, g: Any, b: Any, rule: int
) -> None:
    """Paint an item of one opaque colour into a run, row by row of pixels, and clear `acc` and `mask`.

    What is `solid` is leapt over. `acc` is flat, with rows of `stride` pixels.
    """
    blocks = (wide + 7) >> 3
    red, green, blue = splat8(r), splat8(g), splat8(b)
    room = np.empty(8, np.float32)
    for y in range(ya, yb):
        m = mask[y]
        if m == CLEAN:
            continue
        mask[y] = CLEAN
        done = solid[y]
        s, c = NOTHING, NOTHING
        at: Any = np.int64(zeros_below(m))
        while at < blocks:
            rest = m >> np.uint64(at)
            if rest & BIT != CLEAN:
                v = _summed(acc, y * stride + 8 * at, s)
                s = lane8(v, 7)
                c = covered(s, rule)
                bit = BIT << np.uint64(at)
                if done & bit == CLEAN and _under(run, (y * BLOCKS + at) * ROOM, _covers(v, rule, room), red, green, blue):
                    solid[y] |= bit
                at += 1
                continue
            end = _end_of_stretch(rest, at, blocks)
            if c >= FAINT:
                cover = splat8(c)
                for k in range(at, end):
                    bit = BIT << np.uint64(k)
                    if done & bit == CLEAN and _under(run, (y * BLOCKS + k) * ROOM, cover, red, green, blue):
                        solid[y] |= bit
            at = end
        _clear_beyond(acc, y * stride + wide)


@njit(nogil=True, cache=True, fastmath=True, inline="always")
def _under_paint(
    run: Any, at: int, cover: Any, u: float, v: float, du: float, dv: float, form: int, table: Any, texels: Any, levels: Any,
    depth: int, step: float, colour: Any,
) -> bool:  # fmt: skip
    """Put eight pixels of an opaque ramp or picture under what is there; tell whether nothing shows through any more."""
    there = load8(run, at + A)
    share = share8(cover, there)
    if none8(share):
        return full8(there)
    last = table.shape[0] - 1
    for i in range(8):
        k = lane8(share, i)
        if k > NOTHING:
            if form in (PICTURE, REPEATED):
                picture_at(texels, levels, depth, u + du * i, v + dv * i, step, form == REPEATED, colour)
                k = k / colour[3] if colour[3] > NOTHING else NOTHING
                run[at + i] += k * colour[0]
                run[at + G + i] += k * colour[1]
                run[at + B + i] += k * colour[2]
            else:
                row = ramp_row(form, u + du * i, v + dv * i, last)
                run[at + i] += k * table[row, 0]
                run[at + G + i] += k * table[row, 1]
                run[at + B + i] += k * table[row, 2]
    there = more8(there, share, splat8(ONE))
    store8(run, at + A, there)
    return full8(there)


@njit(nogil=True, cache=True, fastmath=True, inline="always")
def _sweep_opaque_paint(
    run: Any, wide: int, acc: Any, stride: int, mask: Any, solid: Any, ya: int, yb: int, left: int, top: int, form: int, to: Any,
    rule: int, table: Any, texels: Any, levels: Any, depth: int,
) -> None:  # fmt: skip
    """Do what `sweep_opaque_paint` does, compiled for one `form`."""
    blocks = (wide + 7) >> 3
    room, colour = np.empty(8, np.float32), np.empty(4, np.float32)
    du, dv = to[0, 0], to[1, 0]
    step = _texels_each(to, levels)
    for y in range(ya, yb):
        m = mask[y]
        if m == CLEAN:
            continue
        mask[y] = CLEAN
        u0 = to[0, 1] * (top + y + 0.5) + to[0, 2] + (0.5 + left) * du
        v0 = to[1, 1] * (top + y + 0.5) + to[1, 2] + (0.5 + left) * dv
        done = solid[y]
        s, c = NOTHING, NOTHING
        at: Any = np.int64(zeros_below(m))
        while at < blocks:
            rest = m >> np.uint64(at)
            cover, end = splat8(c), at + 1
            if rest & BIT != CLEAN:
                sums = _summed(acc, y * stride + 8 * at, s)
                s = lane8(sums, 7)
                c, cover = covered(s, rule), _covers(sums, rule, room)
            else:
                end = _end_of_stretch(rest, at, blocks)
                if c < FAINT:
                    at = end
                    continue
            for k in range(at, end):
                bit = BIT << np.uint64(k)
                if done & bit == CLEAN and _under_paint(
                    run, (y * BLOCKS + k) * ROOM, cover, u0 + du * 8 * k, v0 + dv * 8 * k, du, dv, form, table, texels, levels,
                    depth, step, colour,
                ):  # fmt: skip
                    solid[y] |= bit
            at = end
        _clear_beyond(acc, y * stride + wide)


@njit(nogil=True, cache=True, fastmath=True)
def sweep_opaque_paint(
    run: Any, wide: int, acc: Any, stride: int, mask: Any, solid: Any, ya: int, yb: int, left: int, top: int, form: int, to: Any,
    rule: int, table: Any, texels: Any, levels: Any, depth: int,
) -> None:  # fmt: skip
    """Paint an item of an opaque ramp or picture into a run, as `sweep_opaque` does."""
    if form == LINEAR:
        _sweep_opaque_paint(run, wide, acc, stride, mask, solid, ya, yb, left, top, LINEAR, to, rule, table, texels, levels, depth)
    else:
        _sweep_opaque_paint(run, wide, acc, stride, mask, solid, ya, yb, left, top, form, to, rule, table, texels, levels, depth)


@njit(nogil=True, cache=True, fastmath=True, inline="always")
def _texels_each(to: Any, levels: Any) -> float:
    """How many texels of the largest level of a picture a pixel spans."""
    return math.sqrt(abs((to[0, 0] * to[1, 1] - to[0, 1] * to[1, 0]) * levels[0, 1] * levels[0, 2]))


@njit(nogil=True, cache=True, fastmath=True, inline="always")
def _lay(into: Any, pixels: Any, y: int, x: int, colour: Any, c: Any, r: Any, g: Any, b: Any, a: Any, mode: int) -> None:
    """Lay a share of a colour over one pixel of a tile, of which `pixels` are the same, flat."""
    at = 4 * (y * into.shape[1] + x)
    if mode == 0:
        lay_normal(pixels, at, colour, c)
    elif mode == 1:
        lay_multiply(pixels, at, colour, c)
    elif mode == 2:
        lay_screen(pixels, at, colour, c)
    else:
        lay_pixel(into, y, x, c * r, c * g, c * b, c * a, mode)


@njit(nogil=True, cache=True, fastmath=True, inline="always")
def _sweep_clear(
    into: Any, acc: Any, stride: int, mask: Any, ya: int, yb: int, r: Any, g: Any, b: Any, a: Any, rule: int, mode: int
) -> None:
    """Do what `sweep_clear` does, compiled for one `mode`: what is asked for each pixel would cost as much as painting it."""
    wide = into.shape[1]
    blocks, pixels = (wide + 7) >> 3, into.reshape(into.size)
    colour = four_of(r, g, b, a)
    room, within = np.empty(8, np.float32), (BIT << np.uint64(8 - (8 * blocks - wide))) - BIT  # columns of the last block
    for y in range(ya, yb):
        m = mask[y]
        if m == CLEAN:
            continue
        mask[y] = CLEAN
        s, c = NOTHING, NOTHING
        at: Any = np.int64(zeros_below(m))
        while at < blocks:
            rest = m >> np.uint64(at)
            if rest & BIT != CLEAN:
                sums = _summed(acc, y * stride + 8 * at, s)
                s = lane8(sums, 7)
                c = covered(s, rule)
                covers = _covers(sums, rule, room)
                store8(room, 0, covers)
                seen = above8(covers) & within if at == blocks - 1 else above8(covers)
                while seen != CLEAN:
                    i: Any = np.int64(zeros_below(seen))
                    _lay(into, pixels, y, 8 * at + i, colour, room[i], r, g, b, a, mode)
                    seen &= seen - BIT
                at += 1
                continue
            end = _end_of_stretch(rest, at, blocks)
            if c >= FAINT:
                for x in range(8 * at, min(8 * end, wide)):
                    _lay(into, pixels, y, x, colour, c, r, g, b, a, mode)
            at = end
        _clear_beyond(acc, y * stride + wide)


@njit(nogil=True, cache=True, fastmath=True)
def sweep_clear(
    into: Any, acc: Any, stride: int, mask: Any, ya: int, yb: int, r: Any, g: Any, b: Any, a: Any, rule: int, mode: int
) -> None:
    """Lay an item of one colour over what is there, row by row of pixels, and clear `acc` and `mask`."""
    if mode == 0:
        _sweep_clear(into, acc, stride, mask, ya, yb, r, g, b, a, rule, 0)
    elif mode == 1:
        _sweep_clear(into, acc, stride, mask, ya, yb, r, g, b, a, rule, 1)
    else:
        _sweep_clear(into, acc, stride, mask, ya, yb, r, g, b, a, rule, mode)


@njit(nogil=True, cache=True, fastmath=True)
def _lay_paint(
    into: Any, y: int, begin: int, stop: int, c: Any, u0: float, v0: float, to: Any, form: int, mode: int, table: Any, texels: Any,
    levels: Any, depth: int, step: float, colour: Any,
) -> None:  # fmt: skip
    """Lay pixels that are covered alike over what is there, from a ramp's table or a picture."""
    last, du, dv = table.shape[0] - 1, to[0, 0], to[1, 0]
    for x in range(begin, stop):
        if form in (PICTURE, REPEATED):
            picture_at(texels, levels, depth, u0 + du * x, v0 + dv * x, step, form == REPEATED, colour)
            if colour[3] > NOTHING:
                lay_pixel(into, y, x, c * colour[0], c * colour[1], c * colour[2], c * colour[3], mode)
            continue
        at = ramp_row(form, u0 + du * x, v0 + dv * x, last)
        if table[at, 3] > NOTHING:
            lay_pixel(into, y, x, c * table[at, 0], c * table[at, 1], c * table[at, 2], c * table[at, 3], mode)


@njit(nogil=True, cache=True, fastmath=True)
def sweep_paint(
    into: Any, acc: Any, stride: int, mask: Any, ya: int, yb: int, left: int, top: int, form: int, to: Any, strength: Any,
    rule: int, mode: int, table: Any, texels: Any, levels: Any, depth: int,
) -> None:  # fmt: skip
    """Lay an item of a ramp or a picture over what is there, row by row of pixels, and clear `acc` and `mask`."""
    wide = into.shape[1]
    blocks = (wide + 7) >> 3
    room, colour = np.empty(8, np.float32), np.empty(4, np.float32)
    step = _texels_each(to, levels)
    for y in range(ya, yb):
        m = mask[y]
        if m == CLEAN:
            continue
        mask[y] = CLEAN
        u0 = to[0, 1] * (top + y + 0.5) + to[0, 2] + (0.5 + left) * to[0, 0]
        v0 = to[1, 1] * (top + y + 0.5) + to[1, 2] + (0.5 + left) * to[1, 0]
        s, c = NOTHING, NOTHING
        at: Any = np.int64(zeros_below(m))
        while at < blocks:
            rest = m >> np.uint64(at)
            begin, end = 8 * at, min(8 * at + 8, wide)
            if rest & BIT != CLEAN:
                sums = _summed(acc, y * stride + 8 * at, s)
                s = lane8(sums, 7)
                c = covered(s, rule)
                store8(room, 0, _covers(sums, rule, room))
                at += 1
            else:
                at = _end_of_stretch(rest, at, blocks)
                end = min(8 * at, wide)
                room[0] = c
            while begin < end:
                share = room[begin & 7]
                stop = begin + 1
                while stop < end and (rest & BIT == CLEAN or room[stop & 7] == share):
                    stop += 1
                if share >= FAINT:
                    _lay_paint(
                        into, y, begin, stop, share * strength, u0, v0, to, form, mode, table, texels, levels, depth, step, colour
                    )
                begin = stop
        _clear_beyond(acc, y * stride + wide)
