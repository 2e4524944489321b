"""Fills by the pattern of another layer: in step over the sheet, or laid anew in each shape or copy."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from under_lattice.geometry.affine import IDENTITY, Array, apply, compose, inverse, linear
from under_lattice.pattern.coats import line_room
from under_lattice.pattern.drawn import Drawn
from under_lattice.pattern.inked import moved
from under_lattice.pattern.marks import Marks, Picture, Plate
from under_lattice.rules.ground import Filling
from under_lattice.rules.paints.ramps import Span
from under_lattice.vary.numbers import Number, Varied

Box = tuple[float, float, float, float]


class LayerLay(NamedTuple):
    """How a layer is laid: moved by `x`, `y`, turned by `turn` degrees, sized to `size` per cent; each (1,) or (N,)."""

    x: Array
    y: Array
    turn: Array
    size: Array

    def maps(self) -> Array:
        """Return the maps (1, 2, 3) or (N, 2, 3) from where the layer lies to where it is laid."""
        x, y, turn, size = np.broadcast_arrays(*self)
        out = linear(turn, size / 100, size / 100)
        out[:, 0, 2], out[:, 1, 2] = x, y
        return out


AS_IT_LIES = LayerLay(*np.array([[0.0], [0.0], [0.0], [100.0]]))


def reach_of_fill(x: Number, y: Number, turn: Number, size: Number, half: Array) -> float:
    """Return how many times as large as a sheet of so much to each side (2,) a layer must be that covers it, laid like this."""
    shift = np.array([_farthest(x), _farthest(y)])
    wanted = half + shift
    wanted = np.full(2, np.hypot(*wanted)) if isinstance(turn, Varied) else np.abs(linear(turn)[:, :2]).T @ wanted
    least = min(size.start, size.end, *(size.taken or (size.start,))) if isinstance(size, Varied) else float(size)
    return float((wanted / half).max()) * 100 / max(least, 1.0)


def _farthest(number: Number) -> float:
    return number.largest if isinstance(number, Varied) else abs(float(number))


def filled_with(filling: Filling, lay: LayerLay, span: Span, on_sheet: bool, marks: Marks) -> tuple[Plate, Array | None]:
    """Return the paint that shows a layer in shapes, and where it is laid, (1, 2, 3) or (N, 2, 3); None on the sheet itself.

    Parameters
    ----------
    filling : Filling
        The layer.
    lay : LayerLay
    span : Span
        What it is laid in; its middle comes to the middle of that.
    on_sheet : bool
        In step over the whole sheet.
    marks : Marks
        The shapes that are filled.
    """
    maps, picture = lay.maps(), filling.picture
    if on_sheet:
        maps = compose(filling.place[None], maps)
    if on_sheet and len(maps) == 1:
        here = moved(picture, maps[0])
        return Plate(here.marks, here.coats, _box(here), of_marks=False, closed=here.closed), None
    middle = IDENTITY.copy()
    middle[:, 2] = 0.0 if on_sheet else (span.low + span.high) / 2
    own = compose(middle[None], maps)
    places = marks.xform if span.places is None else span.places
    box = _box(picture)
    if not on_sheet and len(own) == 1:
        box = _common(box, _seen_of(span, own[0]))
    return Plate(picture.marks, picture.coats, box, closed=picture.closed), compose(places, own)


def _box(picture: Picture) -> Box:
    """Left, top, right and bottom of what is painted, its lines included."""
    left, top, right, bottom = Drawn(picture.marks).box.tolist() if (picture.marks.variant >= 0).any() else np.zeros(4).tolist()
    line = line_room(picture.coats)
    return left - line, top - line, right + line, bottom + line


def _seen_of(span: Span, own: Array) -> Box:
    """The part of a layer, laid by a map (2, 3), that may be seen in what a span covers."""
    (x0, y0), (x1, y1) = span.low, span.high
    corners = apply(inverse(own), np.array([(x0, y0), (x1, y0), (x1, y1), (x0, y1)]))
    (left, top), (right, bottom) = corners.min(0), corners.max(0)
    return float(left), float(top), float(right), float(bottom)


def _common(one: Box, other: Box) -> Box:
    """What two boxes have in common; a point where that is nothing."""
    left, top = max(one[0], other[0]), max(one[1], other[1])
    return left, top, max(left, min(one[2], other[2])), max(top, min(one[3], other[3]))
