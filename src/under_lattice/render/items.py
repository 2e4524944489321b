"""Items: a picture flattened for one view, as the flat arrays the kernels read."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Protocol

import numpy as np

from under_lattice.colour.blend import BLENDS
from under_lattice.colour.ramp import Ramp
from under_lattice.colour.texture import Texture
from under_lattice.geometry.affine import Array, apply, compose
from under_lattice.pattern.marks import Along, Coat, Dash, Marks, Picture, Plate, Several
from under_lattice.render.flatten import Shapes, flat_shapes, sizes_of
from under_lattice.scene.tree import View

FARTHEST = 1e9
HAIR = 0.35  # half a hairline, px: what lines without a width are drawn with
LINE = 2.0  # how far the corner of a line reaches off its middle, in widths of it
SCALES_MOST = 16  # a plate is painted at each exact size as long as there are no more
JOINS = {"mitre": 0, "round": 1, "bevel": 2}
CAPS = {"butt": 0, "round": 1, "square": 2}
FORMS = ("linear", "radial", "around")
MODE_OF = {name: at for at, name in enumerate(BLENDS)}


class TexturesOf(Protocol):
    """Paints a plate at so many px per unit, `exact` if it is seen at no other size; one on the sheet as `part` sees it."""

    def __call__(self, plate: Plate, scale: float, *, exact: bool, part: View) -> Texture:
        """Return the picture."""


@dataclass(frozen=True, eq=False)
class Items:
    """What one layer paints, in order from back to front.

    mark, kind, half and xform (the marks' own, then those of seats) are as in `Flat`; a fill's `half` is below zero. rgba (I, 4)
    are bytes; with a paint only alpha counts. size and even (N,) are of the marks. Each item's paint is a row of `paints`, its
    dashes a row of `dashes`. `dropped` says in words what could not be painted.
    """

    mark: Array
    kind: Array
    half: Array
    rgba: Array
    xform: Array
    size: Array
    even: Array
    shapes: Shapes
    paints: tuple[Ramp | Texture, ...]
    dashes: tuple[Dash, ...]
    dropped: str = ""


def items_of(picture: Picture, view: View, texture_of: TexturesOf | None = None) -> Items:
    """Flatten a picture for a view; marks whose place or shape is not a number, or is further than `FARTHEST`, are left out."""
    marks = picture.marks
    xform = _in_pixels(marks.xform, view)
    sane = _sane(xform)
    size, even = sizes_of(xform)
    shapes, shape = flat_shapes(marks, size)
    shown: Array = (marks.variant >= 0) & sane
    drawn = int(shown.sum())
    if len(shapes.radius):
        shown &= shapes.radius[shape] < FARTHEST
    paints: list[Ramp | Texture] = []
    dashes = tuple(dict.fromkeys(coat.dash for coat in picture.coats if coat.dash is not None))
    rows, seats, seated = [], [xform], marks.count
    for k, coat in enumerate(picture.coats if len(shapes.radius) else ()):
        seat, seen = np.arange(marks.count), size
        if coat.seat is not None:
            seat = seated + np.broadcast_to(np.arange(len(coat.seat)), marks.count)
            seats.append(_in_pixels(coat.seat, view))
            seated += len(coat.seat)
            seen = np.broadcast_to(sizes_of(seats[-1])[0], marks.count)
        part = view
        if isinstance(coat.paint, Plate) and not coat.paint.of_marks:
            line = float(coat.width.max(initial=0.0)) * view.scale if coat.lines else 0.0
            part = _part_of(view, xform[shown], shapes.corners()[shape[shown]], LINE * line)
        paint = _paint_rows(coat, marks, seen, shown, paints, texture_of, part)
        for stroke in (False, True):
            rows.append(_rows(k, coat, stroke, marks, shape, shown, view, paint, seat, dashes, len(picture.coats)))  # noqa: PERF401
    missing = int((marks.variant >= 0).sum()) - drawn, drawn - int(shown.sum())
    mark, kind, half, rgba = _in_order(rows)
    xform = np.concatenate(seats) if len(seats) > 1 else xform
    return Items(
        mark, kind, half, rgba, xform, size, even, shapes, tuple(paints), dashes, _words(*missing, shapes.dropped, shapes.stride)
    )


def _part_of(view: View, xform: Array, corners: Array, line: float) -> View:
    """The part of a view in which marks may be seen, by maps to pixels (k, 2, 3) and boxes (k, 4, 2), with `line` px round them."""
    if not len(xform):
        return replace(view, width=1, height=1)
    seen = apply(xform, corners).reshape(-1, 2)
    low, high = np.floor(seen.min(0) - line).astype(int) - 1, np.ceil(seen.max(0) + line).astype(int) + 1
    size = view.width, view.height
    x, y = (int(np.clip(one, 0, most - 1)) for one, most in zip(low, size, strict=True))
    right, bottom = (int(np.clip(one, at + 1, most)) for one, at, most in zip(high, (x, y), size, strict=True))
    return replace(view, width=right - x, height=bottom - y, left=view.left - x, top=view.top - y)


def _in_pixels(xform: Array, view: View) -> Array:
    """Maps to the page as maps to pixels."""
    out = xform * view.scale
    out[:, 0, 2] += view.left
    out[:, 1, 2] += view.top
    return out


def _words(places: int, shapes: int, contours: int, stride: int) -> str:
    said = []
    if stride > 1:
        said.append(f"outlines are drawn coarser than they are, by one of {stride} points: all together have too many")
    if places:
        said.append(f"{places:,} marks are not drawn: their place is not a number or too far away")
    if shapes:
        said.append(f"{shapes:,} marks are not drawn: a point of their outline is not a number or too far away")
    if contours:
        said.append(f"{contours:,} contours of fewer than two points are not drawn")
    return "; ".join(said)


def _sane(xform: Array) -> Array:
    """Which maps have nothing but numbers, none too large; what is not a number is set to zero."""
    flat = np.abs(xform.reshape(len(xform), 6))
    if float(flat.max(initial=0.0)) < FARTHEST:  # false for what is not a number
        return np.ones(len(xform), bool)
    sane = np.asarray((flat < FARTHEST).all(1))
    xform[~sane] = 0.0
    return sane


def _in_order(rows: list[tuple[Array, ...]]) -> tuple[Array, Array, Array, Array]:
    """Join the rows of all coats, mark by mark, each mark's coats from the lowest to the topmost."""
    if not rows:
        return np.zeros(0, np.int64), np.zeros((0, 10), np.int32), np.zeros(0), np.zeros((0, 4), np.uint8)
    filled = [row for row in rows if len(row[0])] or rows[:1]
    mark, kind, half, rgba, rank = filled[0] if len(filled) == 1 else (np.concatenate(part) for part in zip(*filled, strict=True))
    if len(filled) > 1:
        order = np.argsort(rank, kind="stable")
        mark, kind, half, rgba = mark[order], kind[order], half[order], rgba[order]
    return mark, kind, half, rgba


def _rows(
    at: int, coat: Coat, stroke: bool, marks: Marks, shape: Array, shown: Array, view: View, paint: Array, seat: Array,
    dashes: Sequence[Dash], coats: int,
) -> tuple[Array, ...]:  # fmt: skip
    """The items of one coat's fill or stroke: mark, kind, half width, colour, rank."""
    colour = coat.stroke if stroke else coat.fill
    mark = np.flatnonzero(shown & (coat.stroked() if stroke else colour[:, 3] > 0))
    rgba = np.broadcast_to(colour, (marks.count, 4))[mark]
    half = np.full(len(mark), -1.0)
    if stroke:
        width = np.broadcast_to(coat.width, marks.count)[mark]
        half = np.where(width > 0, np.minimum(width * view.scale / 2, FARTHEST), HAIR)
    kind = np.empty((len(mark), 10), np.int32)
    kind[:, 0] = int(stroke)
    kind[:, 1] = shape[mark]
    kind[:, 2] = -1 if stroke != coat.lines else np.broadcast_to(paint, marks.count)[mark]
    rule = int(coat.even_odd and not stroke)
    dash = dashes.index(coat.dash) if stroke and coat.dash is not None else -1
    kind[:, 3:8] = JOINS[coat.join], CAPS[coat.cap], MODE_OF[coat.blend], rule, dash
    opaque_paint = stroke != coat.lines or coat.paint is None or (isinstance(coat.paint, (Ramp, Texture)) and coat.paint.opaque)
    kind[:, 8] = True if coat.blend != "normal" or not opaque_paint else rgba[:, 3] < 255
    kind[:, 9] = seat[mark]
    return mark, kind, half, rgba, mark * (2 * coats) + 2 * at + stroke


def _paint_rows(
    coat: Coat, marks: Marks, size: Array, shown: Array, paints: list[Ramp | Texture], texture_of: TexturesOf | None, part: View
) -> Array:
    """Row of `paints` for each mark, (1,) or (N,); a plate gives one for each size it is seen at, or one for the sheet."""
    if coat.paint is None or isinstance(coat.paint, Along):
        return np.array([-1])
    if isinstance(coat.paint, Several):
        paints += coat.paint.pictures
        return np.asarray(len(paints) - len(coat.paint.pictures) + coat.paint.which)
    if not isinstance(coat.paint, Plate):
        if coat.paint not in paints:
            paints.append(coat.paint)
        return np.array([paints.index(coat.paint)])
    if texture_of is None:
        return np.array([-1])
    if not coat.paint.of_marks:
        paints.append(texture_of(coat.paint, 1.0, exact=True, part=part))
        return np.array([len(paints) - 1])
    scale = np.where(shown & (size > 0), size, 1.0)
    exact = np.round(scale, 9)
    few = len(np.unique(exact)) <= SCALES_MOST
    if not few:
        exact = 2.0 ** (np.ceil(2 * np.log2(scale)) / 2)
    found, which = np.unique(exact, return_inverse=True)
    first = len(paints)
    paints += [texture_of(coat.paint, float(one), exact=few, part=part) for one in found]
    return np.asarray(first + which)


def paint_maps(paints: Sequence[Ramp | Texture], view: View) -> Array:
    """Maps (W, 2, 3) from the place each paint is seen in, a mark's own or pixels, to its own place."""
    to_page = np.array([(1 / view.scale, 0.0, -view.left / view.scale), (0.0, 1 / view.scale, -view.top / view.scale)])
    maps = [paint.to_ramp if isinstance(paint, Ramp) else paint.to_picture for paint in paints]
    return np.array([own if paint.of_marks else compose(own, to_page) for own, paint in zip(maps, paints, strict=True)])
