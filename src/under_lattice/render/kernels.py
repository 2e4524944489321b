"""Compiled kernels: tiles of a picture, item by item."""

from __future__ import annotations

import math
from typing import Any, NamedTuple

import numpy as np

from under_lattice.core.affine import Array
from under_lattice.render.kernel_blend import lay_pixel
from under_lattice.render.kernel_cover import CLEAN, HALF, NOTHING, ONE, add_edges, covered
from under_lattice.render.kernel_stroke import FAR, MITRE_LIMIT, dashed, emit, stroke
from under_lattice.render.kernel_sweep import sweep_clear, sweep_opaque, sweep_paint

from numba import njit  # isort: skip - after the place of compiled kernels is set

TINY = 0.25  # px; smaller marks are drawn as their coverage in one pixel
HOW, ROW, PAINT, JOIN, CAP, MODE, RULE, DASH, CLEAR = 0, 1, 2, 3, 4, 5, 6, 7, 8  # columns of `Flat.kind`
FILL, STROKE, READY, LONG = 0, 1, 2, 3  # how an item's edges are found
CHUNK = 8  # pieces of a long line that are looked at together
BYTE = np.float32(255.0)


class Flat(NamedTuple):
    """A picture flattened for one view, in the order of painting.

    Attributes
    ----------
    kind : (I, 9) int32
        How the edges are found, row of a shape (or of `ready` or `long`), paint or -1, join, cap, blend mode, fill rule, row of
        dashes or -1, and 1 where something shines through.
    mark : (I,) int64
        The mark each item belongs to.
    half : (I,) float
        Half the stroke's width in px.
    colour : (I, 4) float32
        Premultiplied; with a paint only its alpha counts.
    box : (I, 4) float
        Top, bottom, left, right in px.
    xform : (N, 2, 3)
        Of each mark, to pixels.
    contour_of, contours : (S + 1,), (C + 1,) int64
        First contour of each shape, first point of each contour.
    closed : (C,) int64
    area : (S,)
        Of each shape in its own place.
    points : (P, 2)
    ready_of, ready, ready_scale : (R + 1,) int64, (E, 4), (R,)
        Strokes that several marks share, as edges at the given px per unit.
    long_of, long_start, long_chunk : (L + 1,), (B + 1,), (B + 1,) int64
        Items of very many points: first contour of each, first point and first chunk of each contour.
    long_x, long_y : (Q,)
        Their points in px; closed contours come back to their first point, and one further.
    long_box : (K, 4)
        Top, bottom, left, right of each chunk of `CHUNK` pieces.
    dash_of, dashes, dash_offset, dash_fit : (D + 1,) int64, (.,), (D,), (D,) int64
        In px.
    form : (W,) int64
        Of each paint, see `kernel_shade`.
    of_marks : (W,) int64
        1 if the paint lives in each mark's own place, 0 if in pixels.
    to_paint : (W, 2, 3)
        The place a paint lives in -> its own place, where it runs from 0 to 1.
    tables : (W, 1024, 4) float32
        Premultiplied colours of ramps.
    texels, levels : (T, 4) float32, (W, 16, 3) int64
        Premultiplied pictures, all levels; start, width and height of each.
    depth : (W,) int64
        How many levels there are.
    """

    kind: Array
    mark: Array
    half: Array
    colour: Array
    box: Array
    xform: Array
    contour_of: Array
    contours: Array
    closed: Array
    area: Array
    points: Array
    ready_of: Array
    ready: Array
    ready_scale: Array
    long_of: Array
    long_start: Array
    long_chunk: Array
    long_x: Array
    long_y: Array
    long_box: Array
    dash_of: Array
    dashes: Array
    dash_offset: Array
    dash_fit: Array
    form: Array
    of_marks: Array
    to_paint: Array
    tables: Array
    texels: Array
    levels: Array
    depth: Array


@njit(nogil=True, cache=True, fastmath=True)
def _filled(m: Any, points: Any, contours: Any, first: int, last: int, out: Any) -> int:
    """Write the edges of closed contours in px; there is room. Return how many there are."""
    many = 0
    for contour in range(first, last):
        start, end = contours[contour], contours[contour + 1]
        x, y = points[end - 1, 0], points[end - 1, 1]
        xp, yp = m[0, 0] * x + m[0, 1] * y + m[0, 2], m[1, 0] * x + m[1, 1] * y + m[1, 2]
        for i in range(start, end):
            x, y = points[i, 0], points[i, 1]
            xn, yn = m[0, 0] * x + m[0, 1] * y + m[0, 2], m[1, 0] * x + m[1, 1] * y + m[1, 2]
            many += 1
            out[many, 0], out[many, 1], out[many, 2], out[many, 3] = xp, yp, xn, yn
            xp, yp = xn, yn
    return many


@njit(nogil=True, cache=True, fastmath=True)
def _moved(m: Any, scale: float, edges: Any, begin: int, end: int, out: Any) -> int:
    """Write edges that were made at `scale` in px; there is room. Return how many there are."""
    k = 1.0 / scale
    a, b, c, d = m[0, 0] * k, m[0, 1] * k, m[1, 0] * k, m[1, 1] * k
    for i in range(begin, end):
        for j in range(2):
            x, y = edges[i, 2 * j], edges[i, 2 * j + 1]
            out[i - begin + 1, 2 * j] = a * x + b * y + m[0, 2]
            out[i - begin + 1, 2 * j + 1] = c * x + d * y + m[1, 2]
    return int(end - begin)


@njit(nogil=True, cache=True, fastmath=True)
def _stroked(
    m: Any, points: Any, start: int, n: int, half: float, join: int, cap: int, closed: bool, dash: Any, offset: float, fit: bool,
    low: float, high: float, out: Any,
) -> None:  # fmt: skip
    """Write the stroke of one contour in px; `dash` is empty for an unbroken line."""
    px, py = np.empty(n), np.empty(n)
    for i in range(n):
        x, y = points[start + i, 0], points[start + i, 1]
        px[i] = m[0, 0] * x + m[0, 1] * y + m[0, 2]
        py[i] = m[1, 0] * x + m[1, 1] * y + m[1, 2]
    if len(dash):
        dashed(out, px, py, n, half, join, cap, closed, dash, offset, fit)
    else:
        stroke(out, px, py, n, half, join, cap, closed, low, high)


@njit(nogil=True, cache=True, fastmath=True)
def place_edges(flat: Any, item: int, low: float, high: float, out: Any) -> int:
    """Write the edges of one item in px to `out`, at least those that lie between two rows.

    Returns how many there are, also where there is no room for them; then they must be asked for once more.
    """
    row, mark = flat.kind[item, ROW], flat.mark[item]
    first, last = flat.contour_of[row], flat.contour_of[row + 1]
    if flat.kind[item, HOW] == FILL:
        many = flat.contours[last] - flat.contours[first]
        return _filled(flat.xform[mark], flat.points, flat.contours, first, last, out) if many < out.shape[0] else many
    dash = flat.kind[item, DASH]
    lengths = flat.dashes[flat.dash_of[max(dash, 0)] : flat.dash_of[dash + 1]]
    out[0, 0] = 0
    for contour in range(first, last):
        start = flat.contours[contour]
        _stroked(
            flat.xform[mark], flat.points, start, flat.contours[contour + 1] - start, flat.half[item], flat.kind[item, JOIN],
            flat.kind[item, CAP], flat.closed[contour] == 1, lengths, flat.dash_offset[dash], flat.dash_fit[dash] == 1, low, high,
            out,
        )  # fmt: skip
    return int(out[0, 0])


@njit(nogil=True, cache=True, fastmath=True)
def roomy(flat: Any, item: int, low: float, high: float, edges: Any) -> tuple[Any, int]:
    """Write the edges of one item where there is room for them; return that room and how many they are."""
    many = place_edges(flat, item, low, high, edges)
    if many >= edges.shape[0]:
        edges = np.empty((many * 2 + 2, 4))
        many = place_edges(flat, item, low, high, edges)
    return edges, many


@njit(nogil=True, cache=True, fastmath=True)
def _long_edges(flat: Any, item: int, top: float, bottom: float, left: float, right: float, edges: Any) -> tuple[Any, int]:
    """Write the edges of an item of very many points that matter in a box of px; return room and count, as `roomy`."""
    row, half = flat.kind[item, ROW], flat.half[item]
    pad = max(half, 0.0) * MITRE_LIMIT + 1.0
    top, bottom, left, right = top - pad, bottom + pad, left - pad, right + pad
    while True:
        edges[0, 0] = 0
        for contour in range(flat.long_of[row], flat.long_of[row + 1]):
            start, end = flat.long_start[contour], flat.long_start[contour + 1]
            px, py = flat.long_x[start:end], flat.long_y[start:end]
            boxes = flat.long_box[flat.long_chunk[contour] : flat.long_chunk[contour + 1]]
            if half < 0.0:
                _fill_chunks(px, py, boxes, top, bottom, left, right, edges)
            else:
                _stroke_chunks(px, py, boxes, top, bottom, left, right, half, flat.kind[item, JOIN], flat.kind[item, CAP], edges)
        many = int(edges[0, 0])
        if many < edges.shape[0]:
            return edges, many
        edges = np.empty((many * 2, 4))


@njit(nogil=True, cache=True, fastmath=True)
def _fill_chunks(px: Any, py: Any, boxes: Any, top: float, bottom: float, left: float, right: float, out: Any) -> None:
    """Edges of a closed outline; a chunk that lies left of the box matters by its height alone."""
    for k in range(len(boxes)):
        begin, end = k * CHUNK, min((k + 1) * CHUNK, len(px) - 1)
        if boxes[k, 1] < top or boxes[k, 0] > bottom or boxes[k, 2] > right:
            continue
        if boxes[k, 3] < left:
            emit(out, px[begin], py[begin], px[end], py[end])
            continue
        for i in range(begin, end):
            emit(out, px[i], py[i], px[i + 1], py[i + 1])


@njit(nogil=True, cache=True, fastmath=True)
def _stroke_chunks(
    px: Any, py: Any, boxes: Any, top: float, bottom: float, left: float, right: float, half: float, join: int, cap: int, out: Any
) -> None:
    """Strokes of the stretches of a line that come near the box; where they are cut is out of sight."""
    k = 0
    while k < len(boxes):
        first = k
        while k < len(boxes) and boxes[k, 1] >= top and boxes[k, 0] <= bottom and boxes[k, 3] >= left and boxes[k, 2] <= right:
            k += 1
        if k > first:
            begin, end = first * CHUNK, min(k * CHUNK + 1, len(px))
            stroke(out, px[begin:end], py[begin:end], end - begin, half, join, cap, False, -FAR, FAR)
        else:
            k += 1


@njit(nogil=True, cache=True, fastmath=True)
def _dot(
    into: Any, xform: Any, mark: int, left: int, top: int, area: float, r: Any, g: Any, b: Any, a: Any, opaque: bool, mode: int
) -> None:
    """Paint a mark far below a pixel as its coverage in the pixel it stands in."""
    x, y = math.floor(xform[mark, 0, 2]) - left, math.floor(xform[mark, 1, 2]) - top
    if x < 0 or y < 0 or x >= into.shape[1] or y >= into.shape[0]:
        return
    c = min(1.0, area * abs(xform[mark, 0, 0] * xform[mark, 1, 1] - xform[mark, 0, 1] * xform[mark, 1, 0]))
    if opaque:
        c = max(0.0, min(c, 1.0 - into[y, x, 3]))
        into[y, x, 0] += c * r
        into[y, x, 1] += c * g
        into[y, x, 2] += c * b
        into[y, x, 3] += c
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
def paint_tile(into: Any, run: Any, acc: Any, mask: Any, full: Any, shift: int, left: int, top: int, flat: Any, order: Any) -> None:
    """Paint items, in `order`, into one tile.

    Parameters
    ----------
    into : (H, W, 4) float32
        Premultiplied.
    run : (H, W, 4) float32
        Where runs of opaque items are painted front to back; clear before and after.
    acc, mask : (H, W + 2) float32, (H,) uint64
        Clean before and after.
    full : (H, 2) int64
    shift : int
        A bit of `mask` stands for ``2**shift`` columns.
    left, top : int
        First column and row of the tile.
    flat : Flat
    order : (k,) int
    """
    edges, to = np.empty((1024, 4)), np.empty((2, 3))
    at = 0
    while at < len(order):
        end = at
        while end < len(order) and flat.kind[order[end], CLEAR] == 0:
            end += 1
        alone = end - at < 2  # nothing to meet without a seam: laid over what is there
        end = max(end, at + 1)
        if alone:
            edges = paint_run(into, acc, mask, full, shift, left, top, flat, order, at, end, False, edges, to)
        else:
            for y in range(into.shape[0]):
                full[y, 0], full[y, 1] = 0, 0
            edges = paint_run(run, acc, mask, full, shift, left, top, flat, order, at, end, True, edges, to)
            ya, yb, xa, xb = into.shape[0], 0, into.shape[1], 0
            for i in range(at, end):
                box = flat.box[order[i]]
                ya, yb = min(ya, math.floor(box[0] - top)), max(yb, math.ceil(box[1] - top))
                xa, xb = min(xa, math.floor(box[2] - left)), max(xb, math.ceil(box[3] - left))
            _under_run(into, run, max(ya, 0), min(yb, into.shape[0]), max(xa, 0), min(xb, into.shape[1]))
        at = end


@njit(nogil=True, cache=True, fastmath=True)
def paint_run(
    into: Any, acc: Any, mask: Any, full: Any, shift: int, left: int, top: int, flat: Any, order: Any, begin: int,
    end: int, opaque: bool, edges: Any, to: Any,
) -> Any:  # fmt: skip
    """Paint a stretch of `order`, the last first; return the room for edges, which may have grown.

    Arrays are taken from `flat` one by one: handing it on for each item would cost more than painting a small one.
    """
    high = into.shape[0]
    for i in range(end - 1, begin - 1, -1):
        item = order[i]
        upper, lower = flat.box[item, 0], flat.box[item, 1]
        ya, yb = max(0, math.floor(upper - top)), min(high, math.ceil(lower - top))
        if yb <= ya:
            continue
        mark, how, row, paint = flat.mark[item], flat.kind[item, HOW], flat.kind[item, ROW], flat.kind[item, PAINT]
        mode, rule = flat.kind[item, MODE], flat.kind[item, RULE]
        r, g, b, a = flat.colour[item, 0], flat.colour[item, 1], flat.colour[item, 2], flat.colour[item, 3]
        if how == FILL:
            if paint < 0 and lower - upper < 2.0 * (TINY + 1.0):
                _dot(into, flat.xform, mark, left, top, flat.area[row], r, g, b, a, opaque, mode)
                continue
            first, last = flat.contour_of[row], flat.contour_of[row + 1]
            many = flat.contours[last] - flat.contours[first]
            if many >= edges.shape[0]:
                edges = np.empty((many + 1, 4))
            many = _filled(flat.xform[mark], flat.points, flat.contours, first, last, edges)
        elif how == READY:
            first, last = flat.ready_of[row], flat.ready_of[row + 1]
            if last - first >= edges.shape[0]:
                edges = np.empty((last - first + 1, 4))
            many = _moved(flat.xform[mark], flat.ready_scale[row], flat.ready, first, last, edges)
        elif how == STROKE:
            edges, many = roomy(flat, item, float(top), float(top + high), edges)
        else:
            edges, many = _long_edges(flat, item, float(top), float(top + high), float(left), float(left + into.shape[1]), edges)
        add_edges(acc, mask, shift, edges, 1, many + 1, float(left), float(top), high)
        if paint >= 0:
            if not _to_paint(flat.to_paint[paint], flat.of_marks[paint], flat.xform[mark], to):
                a = NOTHING
            sweep_paint(
                into, acc, mask, shift, full, ya, yb, left, top, flat.form[paint], to, a, rule, mode, opaque, flat.tables[paint],
                flat.texels, flat.levels[paint], flat.depth[paint],
            )  # fmt: skip
        elif opaque:
            sweep_opaque(into, acc, mask, shift, full, ya, yb, r, g, b, rule)
        else:
            sweep_clear(into, acc, mask, shift, ya, yb, r, g, b, a, rule, mode)
    return edges


@njit(nogil=True, cache=True, fastmath=True)
def _under_run(into: Any, run: Any, ya: int, yb: int, xa: int, xb: int) -> None:
    """Lay a painted run over what was there, and clear it."""
    for y in range(ya, yb):
        for x in range(xa, xb):
            a = run[y, x, 3]
            if a > NOTHING:
                keep = ONE - a
                for c in range(4):
                    into[y, x, c] = into[y, x, c] * keep + run[y, x, c]
                    run[y, x, c] = NOTHING


@njit(nogil=True, cache=True, fastmath=True)
def to_bytes(pixels: Any, out: Any) -> None:
    """Round float pixels (H, W, 4) to bytes."""
    for y in range(pixels.shape[0]):
        for x in range(pixels.shape[1]):
            for c in range(4):
                v = pixels[y, x, c] * BYTE + HALF
                out[y, x, c] = np.uint8(np.int32(min(max(v, NOTHING), BYTE)))


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
    for item in range(len(flat.half) - 1, -1, -1):
        box = flat.box[item]
        if box[0] > top + 1.0 or box[1] < top or box[2] > left + 1.0 or box[3] < left or flat.colour[item, 3] <= NOTHING:
            continue
        edges, many = roomy(flat, item, float(top), top + 1.0, edges)
        add_edges(acc, mask, 0, edges, 1, many + 1, float(left), float(top), 1)
        c = covered(acc[0, 0], flat.kind[item, RULE])
        acc[0, 0], acc[0, 1], acc[0, 2] = NOTHING, NOTHING, NOTHING
        mask[0] = CLEAN
        if c >= HALF:
            return item
    return -1
