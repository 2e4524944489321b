"""From items to the kernels' flat arrays: strokes that marks share are made once, very long outlines are boxed by chunks."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from under_lattice.core.affine import Array, apply
from under_lattice.core.ramp import STEPS, Ramp
from under_lattice.core.texture import LEVELS_MOST, Texture
from under_lattice.render import kernels
from under_lattice.render.items import FORMS, Items, paint_maps
from under_lattice.render.kernel_place import CHUNK, DASH, HOW, LONG, READY, ROW, STROKE, Flat, place_edges
from under_lattice.render.kernel_shade import PICTURE, REPEATED
from under_lattice.render.scene import View

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
        """Return the items that meet a tile."""
        return self.lists[self.starts[tile] : self.starts[tile + 1]]


def tiles_of(view: View) -> tuple[int, int]:
    """How many rows and columns of tiles."""
    return -(-view.height // TILE[0]), -(-view.width // TILE[1])


def ready_of(items: Items, view: View, cut: bool = True) -> Ready:
    """Prepare items for painting; with `cut`, very long outlines are boxed by chunks."""
    rows, columns = tiles_of(view)
    flat = flat_of(items, view)
    if cut:
        flat = _share_strokes(items, flat)
        flat = _cut_long(items, flat)
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
        **_paint_arrays(items.paints, view),
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


def _share_strokes(items: Items, flat: Flat) -> Flat:
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
    made = [_edges(own, k) for k in range(len(first))]
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


def _cut_long(items: Items, flat: Flat) -> Flat:
    """Bring outlines of very many points to px and box them by chunks, so that no tile looks at what is elsewhere."""
    shapes = items.shapes
    points = shapes.contours[shapes.contour_of[1:]] - shapes.contours[shapes.contour_of[:-1]]
    if not (points > MANY).any():
        return flat
    of_shapes = (flat.kind[:, HOW] != READY) & (flat.kind[:, DASH] < 0)
    long = np.flatnonzero(of_shapes & (points[np.where(of_shapes, flat.kind[:, ROW], 0)] > MANY))
    lines, boxes, contours = [], [], [0]
    for item in long:
        shape, closed = flat.kind[item, ROW], flat.half[item] < 0
        for contour in range(shapes.contour_of[shape], shapes.contour_of[shape + 1]):
            own = apply(flat.xform[flat.mark[item]], shapes.points[shapes.contours[contour] : shapes.contours[contour + 1]])
            if closed:
                own = np.concatenate([own, own[:1]])
            elif shapes.closed[contour]:
                own = np.concatenate([own, own[:2]])
            lines.append(own)
            boxes.append(_chunk_boxes(own))
        contours.append(len(lines))
    kind = flat.kind.copy()
    kind[long, HOW], kind[long, ROW] = LONG, np.arange(len(long))
    x, y = np.concatenate(lines).T.copy() if lines else np.zeros((2, 0))
    return flat._replace(
        kind=kind, long_of=np.array(contours), long_start=_starts(lines), long_chunk=_starts(boxes), long_x=x, long_y=y,
        long_box=np.concatenate(boxes) if boxes else np.zeros((1, 4)),
    )  # fmt: skip


def _chunk_boxes(points: Array) -> Array:
    """Top, bottom, left and right (K, 4) of each chunk of pieces."""
    begin = np.arange(0, max(1, len(points) - 1), CHUNK)
    low, high = np.minimum.reduceat(points, begin), np.maximum.reduceat(points, begin)
    ends = points[np.minimum(begin + CHUNK, len(points) - 1)]  # a chunk ends where the next begins
    low, high = np.minimum(low, ends), np.maximum(high, ends)
    return np.stack([low[:, 1], high[:, 1], low[:, 0], high[:, 0]], 1)
