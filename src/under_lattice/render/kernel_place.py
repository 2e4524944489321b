"""Compiled kernels: the flat arrays of a picture, and the edges of its items in pixels."""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np

from under_lattice.core.kernel_compiler import njit
from under_lattice.geometry.affine import Array
from under_lattice.render.kernel_stroke import FAR, MITRE_LIMIT, dashed, emit, stroke

HOW, ROW, PAINT, JOIN, CAP, MODE, RULE, DASH, CLEAR, SEAT = range(10)  # columns of `Flat.kind`
FILL, STROKE, READY, LONG = 0, 1, 2, 3  # how an item's edges are found
CHUNK = 8  # pieces of a long line that are looked at together


class Flat(NamedTuple):
    """A picture flattened for one view, in the order of painting.

    Attributes
    ----------
    kind : (I, 10) int32
        How the edges are found, row of a shape (or of `ready` or `long`), paint or -1, join, cap, blend mode, fill rule, row of
        dashes or -1, 1 where something shines through, and row of `xform` for the place its paint is laid in.
    mark : (I,) int64
        The mark each item belongs to.
    half : (I,) float
        Half the stroke's width in px.
    colour : (I, 4) float32
        Premultiplied; with a paint only its alpha counts.
    box : (I, 4) float
        Top, bottom, left, right in px.
    xform : (N + S, 2, 3)
        Of each mark, and of the places paints are laid in, to pixels.
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
    stop : (1,) uint8
        Raised by another thread when the picture is not wanted any more; kernels look at it between items, contours and dashes.
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
    stop: Array


@njit(nogil=True, cache=True, fastmath=True)
def filled(m: Any, points: Any, contours: Any, first: int, last: int, out: Any) -> int:
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
def moved(m: Any, scale: float, edges: Any, begin: int, end: int, out: Any) -> int:
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
    low: float, high: float, out: Any, stop: Any,
) -> None:  # fmt: skip
    """Write the stroke of one contour in px; `dash` is empty for an unbroken line."""
    px, py = np.empty(n), np.empty(n)
    for i in range(n):
        x, y = points[start + i, 0], points[start + i, 1]
        px[i] = m[0, 0] * x + m[0, 1] * y + m[0, 2]
        py[i] = m[1, 0] * x + m[1, 1] * y + m[1, 2]
    if len(dash):
        dashed(out, px, py, half, join, cap, closed, dash, offset, fit, stop)
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
        return filled(flat.xform[mark], flat.points, flat.contours, first, last, out) if many < out.shape[0] else many
    dash = flat.kind[item, DASH]
    lengths = flat.dashes[flat.dash_of[max(dash, 0)] : flat.dash_of[dash + 1]]
    out[0, 0] = 0
    for contour in range(first, last):
        if flat.stop[0]:
            break
        start = flat.contours[contour]
        _stroked(
            flat.xform[mark], flat.points, start, flat.contours[contour + 1] - start, flat.half[item], flat.kind[item, JOIN],
            flat.kind[item, CAP], flat.closed[contour] == 1, lengths, flat.dash_offset[dash], flat.dash_fit[dash] == 1, low, high,
            out, flat.stop,
        )  # fmt: skip
    return int(out[0, 0])


@njit(nogil=True, cache=True, fastmath=True)
def roomy(flat: Any, item: int, low: float, high: float, edges: Any) -> tuple[Any, int]:
    """Write the edges of one item where there is room for them; return that room and how many they are, in pixels."""
    many = place_edges(flat, item, low, high, edges)
    if many >= edges.shape[0]:
        edges = np.empty((many * 2 + 2, 4))
        many = place_edges(flat, item, low, high, edges)
    return edges, many


@njit(nogil=True, cache=True, fastmath=True)
def long_edges(flat: Any, item: int, top: float, bottom: float, left: float, right: float, edges: Any) -> tuple[Any, int]:
    """Write the edges of an item of very many points that matter in a box of px; return room and count, as `roomy`."""
    row, half = flat.kind[item, ROW], flat.half[item]
    pad = max(half, 0.0) * MITRE_LIMIT + 1.0
    top, bottom, left, right = top - pad, bottom + pad, left - pad, right + pad
    many: Any = np.int64(0)
    for _ in range(2):  # once more where there was no room
        edges[0, 0] = 0
        for contour in range(flat.long_of[row], flat.long_of[row + 1]):
            if flat.stop[0]:
                break
            start, end = flat.long_start[contour], flat.long_start[contour + 1]
            px, py = flat.long_x[start:end], flat.long_y[start:end]
            boxes = flat.long_box[flat.long_chunk[contour] : flat.long_chunk[contour + 1]]
            if half < 0.0:
                _fill_chunks(px, py, boxes, top, bottom, left, right, edges)
            else:
                _stroke_chunks(px, py, boxes, top, bottom, left, right, half, flat.kind[item, JOIN], flat.kind[item, CAP], edges)
        many = int(edges[0, 0])
        if many < edges.shape[0]:
            break
        edges = np.empty((many * 2, 4))
    return edges, many


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
            stroke(out, px[begin:end], py[begin:end], end - begin, half, join, cap, end < begin, -FAR, FAR)  # open
        else:
            k += 1
