"""From items to the kernels' flat arrays: strokes that marks share are made once, very long outlines are boxed by chunks."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from under_lattice.colour.ramp import STEPS, Ramp
from under_lattice.colour.texture import LEVELS_MOST, Texture
from under_lattice.geometry.affine import Array, apply
from under_lattice.render import kernels
from under_lattice.render.flatten import Shapes
from under_lattice.render.items import FORMS, Items, paint_maps
from under_lattice.render.kernel_place import CHUNK, DASH, HOW, LONG, READY, ROW, STROKE, Flat, place_edges
from under_lattice.render.kernel_shade import FOCAL, MILLIONTH, PICTURE, REPEATED
from under_lattice.render.kernel_stroke import dash_pieces
from under_lattice.scene.tree import View

TILE = 64, 510  # rows and columns painted at a time; two more columns fill 512
MANY = 4000  # points; longer outlines are looked at by chunks
SHARED = 4  # marks to a stroke at the least, on average, for strokes to be made beforehand


@dataclass(frozen=True, eq=False)
class Ready:
    """A layer ready to be painted: flat arrays and, for each tile, which items meet it."""

    flat: Flat
    starts: Array
    lists: Array

    def order(self, tile: int) -> Array:
        """Return the items that meet a tile, whole numbers."""
        return self.lists[self.starts[tile] : self.starts[tile + 1]]


def tiles_of(view: View) -> tuple[int, int]:
    """How many rows and columns of tiles, whole numbers."""
    return -(-view.height // TILE[0]), -(-view.width // TILE[1])


def ready_of(items: Items, view: View, cut: bool = True, stop: Array | None = None) -> Ready:
    """Prepare items for painting; with `cut`, very long outlines are boxed by chunks. Once `stop` (1,) is raised, only in part."""
    rows, columns = tiles_of(view)
    stop = np.zeros(1, np.uint8) if stop is None else stop
    flat = flat_of(items, view)._replace(stop=stop)
    if cut:
        flat = _share_strokes(items, flat, stop)
        flat = _cut_long(items, flat, stop)
    starts, lists = kernels.by_tiles(flat.box, TILE[1], TILE[0], columns, rows)
    return Ready(flat, starts, lists)


def flat_of(items: Items, view: View) -> Flat:
    """Return the arrays the kernels read, nothing made beforehand."""
    shapes = items.shapes
    whole, real = np.int64, np.float64
    mark, kind, half = _kept(items.mark, whole), _kept(items.kind, np.int32), _kept(items.half, real)
    xform = _kept(items.xform, real)
    radius, rgba = _kept(shapes.radius, real), _kept(items.rgba, np.uint8)
    box, colour = kernels.boxes_and_colours(mark, kind, half, rgba, xform, _kept(items.size, real), radius)
    none, edges = np.zeros(2, whole), np.zeros((1, 4))
    lengths = [np.array(dash.lengths * (1 + len(dash.lengths) % 2)) * view.scale for dash in items.dashes]
    return Flat(
        kind, mark, half, colour, box, xform,
        _kept(shapes.contour_of, whole), _kept(shapes.contours, whole), _kept(shapes.closed, whole), _kept(shapes.area, real),
        _kept(shapes.points, real),
        ready_of=none, ready=edges, ready_scale=np.ones(1),
        long_of=none, long_start=none, long_chunk=none, long_x=np.zeros(1), long_y=np.zeros(1), long_box=edges,
        dash_of=_starts(lengths), dashes=np.concatenate([*lengths, np.zeros(1)]),
        dash_offset=np.array([*(dash.offset * view.scale for dash in items.dashes), 0.0]),
        dash_fit=np.array([*(int(dash.fit) for dash in items.dashes), 0], whole),
        stop=np.zeros(1, np.uint8), **_paint_arrays(items.paints, view),
    )  # fmt: skip


def _paint_arrays(paints: Sequence[Ramp | Texture], view: View) -> dict[str, Array]:
    count = max(1, len(paints))
    form, of_marks = np.zeros(count, np.int64), np.zeros(count, np.int64)
    to_paint, tables = np.zeros((count, 2, 3)), np.zeros((count, STEPS if paints else 1, 4), np.float32)
    levels, depth = np.zeros((count, LEVELS_MOST, 3), np.int64), np.ones(count, np.int64)
    texels, start = [np.zeros((1, 4), np.float32)], 1
    if paints:
        to_paint[:] = paint_maps(paints, view)
    for k, paint in enumerate(paints):
        of_marks[k] = paint.of_marks
        if isinstance(paint, Ramp):
            form[k], tables[k] = FORMS.index(paint.form), paint.table()
            if paint.form == "radial" and paint.focus:
                form[k] = FOCAL + round(paint.focus / MILLIONTH)
            continue
        form[k], depth[k] = REPEATED if paint.repeat else PICTURE, len(paint.levels)
        for at, level in enumerate(paint.levels):
            levels[k, at] = start, level.shape[1], level.shape[0]
            texels.append(level.reshape(-1, 4))
            start += level.shape[0] * level.shape[1]
    return {
        "form": form, "of_marks": of_marks, "to_paint": to_paint, "tables": tables, "texels": np.concatenate(texels),
        "levels": levels, "depth": depth,
    }  # fmt: skip


def _kept(values: Array, kind: type) -> Array:
    """One memory layout, so that one compiled kernel serves all."""
    return np.require(values, kind, ["C", "W"])


def _starts(parts: list[Array]) -> Array:
    return np.concatenate([[0], np.cumsum([len(part) for part in parts])]).astype(np.int64)


def _edges(flat: Flat, item: int) -> Array:
    """Edges (k, 4) of one item in px."""
    out = np.empty((4096, 4))
    many = place_edges(flat, item, -1e30, 1e30, out)
    if many >= len(out):
        out = np.empty((many + 1, 4))
        place_edges(flat, item, -1e30, 1e30, out)
    return out[1 : many + 1].copy()


def _share_strokes(items: Items, flat: Flat, stop: Array) -> Flat:
    """Make strokes beforehand where several marks of one shape have the same size and width and are not stretched."""
    stroked = np.flatnonzero((flat.kind[:, HOW] == STROKE) & items.even[flat.mark]) if len(flat.mark) else flat.mark
    if len(stroked) < 2 * SHARED:
        return flat
    size, half = items.size[flat.mark[stroked]], flat.half[stroked]
    mixed = _mixed(flat.kind[stroked], np.round(np.log(np.maximum(size, 1e-12)) * 1e7), np.round(half * 1e7))
    _, first, which = np.unique(mixed, return_index=True, return_inverse=True)
    if len(first) * SHARED > len(stroked):
        return flat
    upright = np.zeros((len(first), 2, 3))
    upright[:, 0, 0] = upright[:, 1, 1] = size[first]
    own = flat._replace(xform=upright, mark=np.arange(len(first)), kind=flat.kind[stroked[first]], half=half[first])
    made = [_edges(own, k) for k in range(len(first)) if not stop[0]]
    if stop[0]:
        return flat
    kind = flat.kind.copy()
    kind[stroked, HOW], kind[stroked, ROW] = READY, which
    return flat._replace(
        kind=kind, ready_of=_starts(made), ready=np.concatenate([*made, np.zeros((1, 4))]), ready_scale=size[first]
    )


def _mixed(kind: Array, size: Array, half: Array) -> Array:
    """One number for each row of what makes a stroke its own."""
    out = kind[:, ROW].astype(np.uint64)
    parts = (*(kind[:, k] for k in range(3, DASH + 1)), size, half)
    with np.errstate(over="ignore"):
        for part in parts:
            out = (out ^ (out >> np.uint64(29))) * np.uint64(0xBF58476D1CE4E5B9) + part.astype(np.int64).view(np.uint64)
    return np.asarray(out)


def _cut_long(items: Items, flat: Flat, stop: Array) -> Flat:
    """Bring outlines of very many points to px and box them by chunks, so that no tile looks at what is elsewhere."""
    shapes = items.shapes
    points = shapes.contours[shapes.contour_of[1:]] - shapes.contours[shapes.contour_of[:-1]]
    if not (points > MANY).any():
        return flat
    of_shapes = flat.kind[:, HOW] != READY
    long = np.flatnonzero(of_shapes & (points[np.where(of_shapes, flat.kind[:, ROW], 0)] > MANY))
    if not len(long):  # such an outline can be there unpainted
        return flat
    made = []
    for item in long:
        if stop[0]:
            return flat
        made.append(_lines_of(items.shapes, flat, int(item)))
    own, lengths = np.concatenate([line for line, _ in made]), np.concatenate([many for _, many in made])
    start = np.concatenate([[0], np.cumsum(lengths)])
    boxes, chunks = _chunk_boxes(own, start)
    kind = flat.kind.copy()
    kind[long, HOW], kind[long, ROW] = LONG, np.arange(len(long))
    x, y = own.T.copy()
    return flat._replace(
        kind=kind, long_of=_starts([many for _, many in made]), long_start=start, long_chunk=chunks, long_x=x, long_y=y,
        long_box=boxes,
    )  # fmt: skip


def _lines_of(shapes: Shapes, flat: Flat, item: int) -> tuple[Array, Array]:
    """Points (Q, 2) in px of the lines of an item, end to end, and how many each has; each dash is a line of its own.

    Fills come back to their first point, closed lines one further.
    """
    row, dash = flat.kind[item, ROW], flat.kind[item, DASH]
    start = shapes.contours[shapes.contour_of[row] : shapes.contour_of[row + 1] + 1]
    closed = shapes.closed[shapes.contour_of[row] : shapes.contour_of[row + 1]]
    own = apply(flat.xform[flat.mark[item]], shapes.points[start[0] : start[-1]])
    many, start = np.diff(start), start[:-1] - start[0]
    if dash >= 0:
        return _dashes_of(own, start, many, closed, flat, dash)
    length = many + np.where(flat.half[item] < 0, 1, 2 * closed)
    at = runs(np.zeros(len(length), np.int64), length) % np.repeat(many, length)
    return own[np.repeat(start, length) + at], length


def _dashes_of(own: Array, start: Array, many: Array, closed: Array, flat: Flat, dash: int) -> tuple[Array, Array]:
    """The same for a dashed line."""
    lines, lengths = [np.zeros((0, 2))], [np.zeros(0, np.int64)]
    pattern = flat.dashes[flat.dash_of[dash] : flat.dash_of[dash + 1]]
    for k, first in enumerate(start):
        line = own[first : first + many[k]]
        x, y = line.T.copy()
        qx, qy, starts, whole = dash_pieces(x, y, bool(closed[k]), pattern, flat.dash_offset[dash], flat.dash_fit[dash] == 1)
        lines.append(np.concatenate([line, line[: 2 * closed[k]]]) if whole else np.stack([qx, qy], 1))
        lengths.append(np.array([len(lines[-1])]) if whole else np.diff(starts))
    return np.concatenate(lines), np.concatenate(lengths)


def runs(start: Array, length: Array) -> Array:
    """Return start[0], start[0] + 1, ... of stretches of given lengths, end to end, whole numbers."""
    ends = np.cumsum(length)
    return np.asarray(np.repeat(start - (ends - length), length) + np.arange(ends[-1] if len(ends) else 0))


def _chunk_boxes(points: Array, start: Array) -> tuple[Array, Array]:
    """Top, bottom, left and right (K, 4) of each chunk of pieces, and the first chunk of each line (and one more)."""
    if len(start) < 2:
        return np.zeros((1, 4)), np.zeros(1, np.int64)
    chunks = -(-np.maximum(np.diff(start) - 1, 1) // CHUNK)
    begin = np.repeat(start[:-1], chunks) + runs(np.zeros(len(chunks), np.int64), chunks) * CHUNK
    low, high = np.minimum.reduceat(points, begin), np.maximum.reduceat(points, begin)
    ends = points[np.minimum(begin + CHUNK, np.repeat(start[1:] - 1, chunks))]  # a chunk ends where the next begins
    low, high = np.minimum(low, ends), np.maximum(high, ends)
    return np.stack([low[:, 1], high[:, 1], low[:, 0], high[:, 0]], 1), np.concatenate([[0], np.cumsum(chunks)])
