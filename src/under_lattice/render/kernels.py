"""Compiled kernels: tiles of a picture, item by item."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from under_lattice.core.kernel_compiler import njit
from under_lattice.render.kernel_blend import lay_pixel
from under_lattice.render.kernel_cover import CLEAN, HALF, NOTHING, ONE, add_edges, covered, hidden
from under_lattice.render.kernel_place import (
    CLEAR,
    FILL,
    HOW,
    MODE,
    PAINT,
    READY,
    ROW,
    RULE,
    SEAT,
    STROKE,
    filled,
    long_edges,
    moved,
    roomy,
)  # fmt: skip
from under_lattice.render.kernel_stroke import MITRE_LIMIT
from under_lattice.render.kernel_sweep import BLOCKS, ROOM, A, B, G, sweep_clear, sweep_opaque, sweep_opaque_paint, sweep_paint
from under_lattice.render.kernel_vector import load8, none8, splat8, store8

TINY = 0.25  # px; smaller marks are drawn as their coverage in one pixel
BYTE = np.float32(255.0)


@njit(nogil=True, cache=True, fastmath=True)
def _dot(
    into: Any, run: Any, xform: Any, mark: int, left: int, top: int, area: float, r: Any, g: Any, b: Any, a: Any, opaque: bool,
    mode: int,
) -> None:  # fmt: skip
    """Paint a mark far below a pixel as its coverage in the pixel it stands in, of a tile or, if it is opaque, of a run."""
    x, y = math.floor(xform[mark, 0, 2]) - left, math.floor(xform[mark, 1, 2]) - top
    if x < 0 or y < 0 or x >= into.shape[1] or y >= into.shape[0]:
        return
    c = min(1.0, area * abs(xform[mark, 0, 0] * xform[mark, 1, 1] - xform[mark, 0, 1] * xform[mark, 1, 0]))
    if opaque:
        at = (y * BLOCKS + (x >> 3)) * ROOM + (x & 7)
        c = max(0.0, min(c, 1.0 - run[at + A]))
        run[at] += c * r
        run[at + G] += c * g
        run[at + B] += c * b
        run[at + A] += c
    elif c > 0.0:
        lay_pixel(into, y, x, c * r, c * g, c * b, c * a, mode)


@njit(nogil=True, cache=True)
def _to_paint(own: Any, of_marks: int, m: Any, to: Any) -> bool:
    """Write the map from pixels to a paint's own place; false where the mark is flattened to nothing."""
    if of_marks == 0:
        for j in range(2):
            for k in range(3):
                to[j, k] = own[j, k]
        return True
    det = m[0, 0] * m[1, 1] - m[0, 1] * m[1, 0]
    if abs(det) < 1e-30:
        return False
    b00, b01, b10, b11 = m[1, 1] / det, -m[0, 1] / det, -m[1, 0] / det, m[0, 0] / det
    b02, b12 = -(b00 * m[0, 2] + b01 * m[1, 2]), -(b10 * m[0, 2] + b11 * m[1, 2])
    for j in range(2):
        to[j, 0] = own[j, 0] * b00 + own[j, 1] * b10
        to[j, 1] = own[j, 0] * b01 + own[j, 1] * b11
        to[j, 2] = own[j, 0] * b02 + own[j, 1] * b12 + own[j, 2]
    return True


@njit(nogil=True, cache=True, fastmath=True)
def paint_tile(into: Any, run: Any, acc: Any, mask: Any, solid: Any, left: int, top: int, flat: Any, order: Any) -> None:
    """Paint items, in `order`, into one tile.

    Parameters
    ----------
    into : (H, W, 4) float32
        Premultiplied.
    run : (H * 64 * 32,) float32
        Where runs of opaque items are painted front to back; clear before and after.
    acc, mask : (H, at least W + 2) float32, (H,) uint64
        Clean before and after; rows of `acc` are whole blocks of eight.
    solid : (H,) uint64
        Blocks of columns through which nothing of a run shows any more.
    left, top : int
        First column and row of the tile.
    flat : Flat
    order : (k,) int
    """
    edges, to = np.empty((1024, 4)), np.empty((2, 3))
    at: Any = np.int64(0)  # said, or what it calls would be compiled for the constant 0 too
    while at < len(order) and flat.stop[0] == 0:
        meet = _both_opaque(flat, order, at)  # a single one has nothing to meet without a seam: it is laid over what is there
        end = at + 1
        while end < len(order) and (flat.kind[order[end], CLEAR] == 0 if meet else not _both_opaque(flat, order, end)):
            end += 1
        if meet:
            _open_run(run, solid, into.shape[0], into.shape[1])
        edges = paint_run(into, run, acc, mask, solid, left, top, flat, order, at, end, meet, edges, to)
        if meet:
            ya, yb, xa, xb = into.shape[0], 0, into.shape[1], 0
            for i in range(at, end):
                box = flat.box[order[i]]
                ya, yb = min(ya, math.floor(box[0] - top)), max(yb, math.ceil(box[1] - top))
                xa, xb = min(xa, math.floor(box[2] - left)), max(xb, math.ceil(box[3] - left))
            _close_run(into, run, max(ya, 0), min(yb, into.shape[0]), max(xa, 0) >> 3, (min(xb, into.shape[1]) + 7) >> 3)
        at = end


@njit(nogil=True, cache=True, inline="always")
def _both_opaque(flat: Any, order: Any, at: int) -> bool:
    """Whether the item at a place of `order` and the next one are opaque."""
    return at + 1 < len(order) and flat.kind[order[at], CLEAR] == 0 and flat.kind[order[at + 1], CLEAR] == 0


@njit(nogil=True, cache=True, fastmath=True)
def paint_run(
    into: Any, run: Any, acc: Any, mask: Any, solid: Any, left: int, top: int, flat: Any, order: Any, begin: int, end: int,
    opaque: bool, edges: Any, to: Any,
) -> Any:  # fmt: skip
    """Paint a stretch of `order`, opaque items the last first; return the room for edges, which may have grown.

    Arrays are taken from `flat` one by one, and stretches are long: handing it on for each item would cost more than painting it.
    """
    high, wide = into.shape[0], into.shape[1]
    sums, stride = acc.reshape(acc.size), acc.shape[1]
    for k in range(end - begin):
        if flat.stop[0]:
            break
        item = order[end - 1 - k if opaque else begin + k]
        upper, lower = flat.box[item, 0], flat.box[item, 1]
        ya, yb = max(0, math.floor(upper - top)), min(high, math.ceil(lower - top))
        xa, xb = max(0, math.floor(flat.box[item, 2] - left)), min(wide, math.ceil(flat.box[item, 3] - left))
        if yb <= ya or xb <= xa or (opaque and hidden(solid, ya, yb, xa, xb)):
            continue
        mark, how, row, paint = flat.mark[item], flat.kind[item, HOW], flat.kind[item, ROW], flat.kind[item, PAINT]
        mode, rule = flat.kind[item, MODE], flat.kind[item, RULE]
        r, g, b, a = flat.colour[item, 0], flat.colour[item, 1], flat.colour[item, 2], flat.colour[item, 3]
        if how == FILL:
            if paint < 0 and lower - upper < 2.0 * (TINY + 1.0):
                _dot(into, run, flat.xform, mark, left, top, flat.area[row], r, g, b, a, opaque, mode)
                continue
            first, last = flat.contour_of[row], flat.contour_of[row + 1]
            many = flat.contours[last] - flat.contours[first]
            if many >= edges.shape[0]:
                edges = np.empty((many + 1, 4))
            many = filled(flat.xform[mark], flat.points, flat.contours, first, last, edges)
        elif how == READY:
            first, last = flat.ready_of[row], flat.ready_of[row + 1]
            if last - first >= edges.shape[0]:
                edges = np.empty((last - first + 1, 4))
            many = moved(flat.xform[mark], flat.ready_scale[row], flat.ready, first, last, edges)
        elif how == STROKE:
            edges, many = roomy(flat, item, float(top), float(top + high), edges)
        else:
            edges, many = long_edges(flat, item, float(top), float(top + high), float(left), float(left + wide), edges)
        add_edges(acc, mask, edges, many, float(left), float(top), wide, high)
        if paint >= 0:
            table, levels, depth, form = flat.tables[paint], flat.levels[paint], flat.depth[paint], flat.form[paint]
            if not _to_paint(flat.to_paint[paint], flat.of_marks[paint], flat.xform[flat.kind[item, SEAT]], to):
                a = NOTHING
            if opaque:
                sweep_opaque_paint(
                    run, wide, sums, stride, mask, solid, ya, yb, left, top, form, to, rule, table, flat.texels, levels, depth
                )
            else:
                sweep_paint(into, sums, stride, mask, ya, yb, left, top, form, to, a, rule, mode, table, flat.texels, levels, depth)
        elif opaque:
            sweep_opaque(run, wide, sums, stride, mask, solid, ya, yb, r, g, b, rule)
        else:
            sweep_clear(into, sums, stride, mask, ya, yb, r, g, b, a, rule, mode)
    return edges


@njit(nogil=True, cache=True, fastmath=True)
def _open_run(run: Any, solid: Any, high: int, wide: int) -> None:
    """Begin a run: nothing is solid, and what of the last blocks lies beyond the tile is shut."""
    for y in range(high):
        solid[y] = CLEAN
        for x in range(wide, (wide + 7) & ~7):
            run[(y * BLOCKS + (x >> 3)) * ROOM + A + (x & 7)] = ONE


@njit(nogil=True, cache=True, fastmath=True)
def _close_run(into: Any, run: Any, ya: int, yb: int, first: int, last: int) -> None:
    """Lay a run over what was there, rows `ya` to `yb` and blocks `first` to `last` of it, and clear it."""
    wide, zero = into.shape[1], splat8(NOTHING)
    for y in range(ya, yb):
        for block in range(first, last):
            at = (y * BLOCKS + block) * ROOM
            if none8(load8(run, at + A)):
                continue
            for i in range(min(8, wide - 8 * block)):
                x, keep = 8 * block + i, ONE - run[at + A + i]
                into[y, x, 0] = into[y, x, 0] * keep + run[at + i]
                into[y, x, 1] = into[y, x, 1] * keep + run[at + G + i]
                into[y, x, 2] = into[y, x, 2] * keep + run[at + B + i]
                into[y, x, 3] = into[y, x, 3] * keep + run[at + A + i]
            for plane in range(0, ROOM, 8):
                store8(run, at + plane, zero)


@njit(nogil=True, cache=True, fastmath=True)
def flood(pixels: Any, ground: Any) -> None:
    """Fill the pixels (H, W, 4) of a tile with one colour (4,)."""
    r, g, b, a = ground[0], ground[1], ground[2], ground[3]
    for y in range(pixels.shape[0]):
        for x in range(pixels.shape[1]):
            pixels[y, x, 0], pixels[y, x, 1], pixels[y, x, 2], pixels[y, x, 3] = r, g, b, a


@njit(nogil=True, cache=True, fastmath=True)
def to_bytes(pixels: Any, out: Any, left: int, top: int) -> None:
    """Round the float pixels (H, 4 W) of a tile to bytes, into its place in the picture (rows, 4 columns)."""
    for y in range(pixels.shape[0]):
        line, place = pixels[y], out[top + y, 4 * left : 4 * left + pixels.shape[1]]
        for k in range(len(line)):
            v = line[k] * BYTE + HALF
            v = NOTHING if v < NOTHING else v
            place[k] = np.uint8(np.int32(BYTE if v > BYTE else v))


@njit(nogil=True, cache=True)
def boxes_and_colours(mark: Any, kind: Any, half: Any, rgba: Any, xform: Any, size: Any, radius: Any) -> Any:
    """Return the box (I, 4) of each item and its premultiplied colour (I, 4)."""
    box, colour = np.empty((len(mark), 4)), np.empty((len(mark), 4), np.float32)
    for i in range(len(mark)):
        x, y = xform[mark[i], 0, 2], xform[mark[i], 1, 2]
        reach = size[mark[i]] * radius[kind[i, ROW]] + max(half[i], 0.0) * MITRE_LIMIT + 1.0
        box[i, 0], box[i, 1], box[i, 2], box[i, 3] = y - reach, y + reach, x - reach, x + reach
        alpha = np.float32(rgba[i, 3]) / BYTE
        for c in range(3):
            colour[i, c] = np.float32(rgba[i, c]) / BYTE * alpha
        colour[i, 3] = alpha
    return box, colour


@njit(nogil=True, cache=True)
def by_tiles(box: Any, wide: int, high: int, columns: int, rows: int) -> Any:
    """Return which items meet which tile, in their order: where each tile's list starts (tiles + 1,), and the lists."""
    starts = np.zeros(columns * rows + 1, np.int64)
    ends = np.empty((box.shape[0], 4), np.int32)
    for i in range(box.shape[0]):
        for k in range(4):
            size, last = (high, rows) if k < 2 else (wide, columns)
            ends[i, k] = int(min(max(box[i, k] / size, -1.0), float(last)) + 1.0) - 1  # towards the lower
        for row in range(max(ends[i, 0], 0), min(ends[i, 1], rows - 1) + 1):
            for column in range(max(ends[i, 2], 0), min(ends[i, 3], columns - 1) + 1):
                starts[row * columns + column + 1] += 1
    for tile in range(columns * rows):
        starts[tile + 1] += starts[tile]
    out, at = np.empty(starts[-1], np.int64), starts.copy()
    for i in range(box.shape[0]):
        for row in range(max(ends[i, 0], 0), min(ends[i, 1], rows - 1) + 1):
            for column in range(max(ends[i, 2], 0), min(ends[i, 3], columns - 1) + 1):
                tile = row * columns + column
                out[at[tile]] = i
                at[tile] += 1
    return starts, out


@njit(nogil=True, cache=True, fastmath=True)
def topmost(x: float, y: float, flat: Any) -> int:
    """Last painted item that covers at least half of the pixel at (x, y), or -1."""
    acc = np.zeros((1, 3), np.float32)
    mask = np.zeros(1, np.uint64)
    edges = np.empty((1024, 4))
    left, top = math.floor(x), math.floor(y)
    one: Any = np.int64(1)
    for item in range(len(flat.half) - 1, -1, -1):
        box = flat.box[item]
        if box[0] > top + 1.0 or box[1] < top or box[2] > left + 1.0 or box[3] < left or flat.colour[item, 3] <= NOTHING:
            continue
        edges, many = roomy(flat, item, float(top), top + 1.0, edges)
        add_edges(acc, mask, edges, many, float(left), float(top), one, one)
        c = covered(acc[0, 0], flat.kind[item, RULE])
        acc[0, 0], acc[0, 1], acc[0, 2] = NOTHING, NOTHING, NOTHING
        mask[0] = CLEAN
        if c >= HALF:
            return item
    return -1
