"""Outlines on the page: what every format of outlines reads, so that it means the same in all of them.

Strokes and hairlines, dashes fitted to their lines, where ramps lie, which shapes are shown more than once, what a clip is made of:
all are resolved here, once. A writer only puts them into its own words.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import NamedTuple

import numpy as np

from under_lattice.colour.ramp import Ramp
from under_lattice.core.progress import QUIET, Progress
from under_lattice.core.units import convert
from under_lattice.geometry.affine import IDENTITY, Array, apply, compose, inverse
from under_lattice.geometry.outline import CLOSE, MOVE, areas, backwards, contours, flatten
from under_lattice.pattern.marks import Coat, Dash, Marks, Picture, Plate
from under_lattice.work.model import Sheet

HAIRLINE = 0.1  # mm: how wide a line without a width is drawn
EVERY, POINTS_EVERY = 1000, 20_000  # marks, and points of their outlines, between two looks at the progress


class Drawn(NamedTuple):
    """One shape with one coat.

    Attributes
    ----------
    family, variant : int
        Of the marks: which outline.
    xform : (2, 3)
        The outline's own place -> the page.
    shared : bool
        The same outline is shown elsewhere too and its lines are not stretched, so it may be written once and referred to.
    scale : float
        Of its own place on the page where it is shared, else 1.
    fill, stroke : (4,) uint8
        Straight colours; clear where there is none. A `coat.paint` stands in place of the fill's colour.
    width : float
        Of the line, in units of the page; 0 where there is none.
    dash : Dash or None
        Fitted, without unit.
    mark : int
    coat : Coat
    against : bool
        As it lies on the page it runs against the clock: a mirrored copy, or one laid the other way. Closed outlines that are not
        dashed are written the other way then, so that all go out with one winding.
    """

    family: int
    variant: int
    xform: Array
    shared: bool
    scale: float
    fill: Array
    stroke: Array
    width: float
    dash: Dash | None
    mark: int
    coat: Coat
    against: bool = False

    def outline(self, marks: Marks) -> tuple[bytes, Array]:
        """Return verbs and points (K, 2) in its own place, run with the clock as it lies on the page where it is closed."""
        family = marks.families[self.family]
        points = family.points[self.variant]
        return backwards(family.verbs, points) if self.against else (family.verbs, points)

    def is_plain(self, marks: Marks) -> bool:
        """Tell whether it is closed and of one opaque colour, with nothing else to it."""
        coat, verbs = self.coat, marks.families[self.family].verbs
        closed = verbs.count(MOVE) == verbs.count(CLOSE)
        bare = coat.paint is None and coat.blend == "normal" and not coat.even_odd
        return closed and bare and not self.width and int(self.fill[3]) == 255

    def paint_place(self) -> Array | None:
        """Return the place of its ramp or picture -> its own place where it is shared, else the page; None where they are one."""
        coat = self.coat
        if coat.seat is not None:
            seat = coat.seat[self.mark if len(coat.seat) > 1 else 0]
            return compose(inverse(self.xform), seat) if self.shared else seat
        of_marks = coat.paint is not None and coat.paint.of_marks
        if of_marks == self.shared:
            return None
        return self.xform if of_marks else inverse(self.xform)


def hairline(sheet: Sheet) -> float:
    """Return how wide a line without a width is drawn, in the unit of the sheet."""
    return convert(HAIRLINE, "mm", sheet.unit, sheet.resolution)


def drawn_of(picture: Picture, hair: float, white: bool = False, progress: Progress = QUIET) -> Iterator[Drawn]:
    """Yield the shapes of a picture with each of their coats, in the order they are laid; what shows nothing is passed over.

    Parameters
    ----------
    picture : Picture
    hair : float
        How wide a line without a width is drawn, without unit.
    white : bool
        In white, as opaque as they are: for a mask by opacity.
    progress : Progress

    Raises
    ------
    GivenUp
    """
    marks = picture.marks
    coats = tuple(whitened(coat) for coat in picture.coats) if white else picture.coats
    rows = [_rows(coat, marks.count, hair) for coat in coats]
    even = _scales(marks.xform)
    stroked = any(coat.stroked().any() for coat in coats)
    used: list[Array] = [
        np.bincount(marks.variant[(marks.family == f) & (marks.variant >= 0)], minlength=len(family.points))
        for f, family in enumerate(marks.families)
    ]
    way = _ways(marks)
    lengths = _Lengths(marks) if any(coat.dash is not None and coat.dash.fit for coat in coats) else None
    points = 0
    for k in range(marks.count):
        f, v = int(marks.family[k]), int(marks.variant[k])
        if v < 0:
            continue
        points += marks.families[f].points.shape[1]
        if k % EVERY == 0 or points > POINTS_EVERY:
            points = 0
            progress.step(k / marks.count)
        shared = bool(used[f][v] > 1 and (not stroked or even[k] > 0))
        scale = float(even[k]) if shared else 1.0
        for coat, (fill, stroke, width) in zip(coats, rows, strict=True):
            at = k if len(fill) > 1 else 0
            if not fill[at, 3] and not stroke[at, 3]:
                continue
            wide, dash = float(width[at]) if stroke[at, 3] else 0.0, None
            if wide and coat.dash is not None:
                length = lengths.of(f, v, marks.xform[k]) if lengths and coat.dash.fit else None
                dash = fitted(coat.dash, length, marks.families[f].verbs)
            against = bool(way[k] < 0) and dash is None
            yield Drawn(f, v, marks.xform[k], shared, scale, fill[at], stroke[at], wide, dash, k, coat, against)


def _ways(marks: Marks) -> Array:
    """How each mark (N,) runs as it lies: 1 with the clock, -1 against it; 0 where a contour is open."""
    way = np.zeros(marks.count)
    for f, family in enumerate(marks.families):
        own = np.flatnonzero((marks.family == f) & (marks.variant >= 0))
        if family.verbs.count(MOVE) == family.verbs.count(CLOSE) and len(own):
            way[own] = np.sign(areas(family.verbs, family.points))[marks.variant[own]]
    return way * np.sign(np.linalg.det(marks.xform[:, :, :2]))


def clip_outlines(picture: Picture) -> Iterator[tuple[bytes, Array]]:
    """Yield verbs and points (K, 2) on the page of what a clip lets through: the closed outlines of a picture."""
    marks = picture.marks
    for f, v, xform in zip(marks.family, marks.variant, marks.xform, strict=True):
        if v >= 0 and CLOSE in marks.families[f].verbs:
            yield marks.families[f].verbs, apply(xform, marks.families[f].points[v])


def whitened(coat: Coat) -> Coat:
    """Return the same coat in white, as opaque as it was where it is of one colour."""
    fill, stroke = coat.fill.copy(), coat.stroke.copy()
    fill[:, :3], stroke[:, :3] = 255, 255
    ramp = coat.paint
    if isinstance(ramp, Ramp):
        ramp = replace(ramp, stops=tuple(stop._replace(colour="#FFFFFF") for stop in ramp.stops))
    elif isinstance(ramp, Plate):
        ramp = replace(ramp, coats=tuple(map(whitened, ramp.coats)))
    return coat._replace(fill=fill, stroke=stroke, paint=ramp)


def fitted(dash: Dash, length: float | None, verbs: bytes) -> Dash:
    """Return dashes in pairs, sized so that a whole number fits a line of `length`; as they are without one."""
    lengths, factor = dash.lengths * (1 + len(dash.lengths) % 2), 1.0
    if length is not None:
        period, last = sum(lengths), lengths[-1]
        if verbs[-1] == CLOSE:
            whole = period * max(1, int(length / period + 0.5))
        else:
            whole = max(1, int((length + last) / period + 0.5)) * period - last
        factor = length / whole if whole > 0 else 1.0
    return dash._replace(lengths=tuple(one * factor for one in lengths), offset=dash.offset * factor)


def _rows(coat: Coat, count: int, hair: float) -> tuple[Array, Array, Array]:
    """Fill, stroke (rows, 4) and width (rows,) of each mark; one row when all are alike. A line without a width is a thin one."""
    rows = count if max(len(coat.fill), len(coat.stroke), len(coat.width)) > 1 else 1
    lines = np.where(coat.stroked()[:, None], coat.stroke, np.uint8(0))
    width = np.broadcast_to(np.where(coat.width == 0, hair, coat.width), rows)
    return np.broadcast_to(coat.fill, (rows, 4)), np.broadcast_to(lines, (rows, 4)), width


class _Lengths:
    """Lengths of outlines as they lie on the sheet; those that are not stretched are measured once."""

    def __init__(self, marks: Marks) -> None:
        self.marks = marks
        self._known: dict[tuple[int, int], float] = {}

    def of(self, family: int, variant: int, xform: Array) -> float:
        """Return the length of one outline through a map."""
        even = float(_scales(xform[None])[0])
        if not even:
            return self._measured(family, variant, xform)
        if (family, variant) not in self._known:
            self._known[family, variant] = self._measured(family, variant, IDENTITY)
        return self._known[family, variant] * even

    def _measured(self, family: int, variant: int, xform: Array) -> float:
        own, total = self.marks.families[family], 0.0
        rings = flatten(own.verbs, apply(xform, own.points[variant : variant + 1]), 64)
        for ring, (verbs, _) in zip(rings, contours(own.verbs), strict=True):
            points = ring[0] if verbs[-1] != CLOSE else np.concatenate([ring[0], ring[0][:1]])
            total += float(np.hypot(*np.diff(points, axis=0).T).sum())
        return total


def _scales(xform: Array) -> Array:
    """Scale of each map (N,), 0 where it is not the same in all directions."""
    a, b, c, d = xform[:, 0, 0], xform[:, 0, 1], xform[:, 1, 0], xform[:, 1, 1]
    size = np.sqrt(np.abs(a * d - b * c))
    even = (np.abs(np.hypot(a, c) - size) < 1e-9 * np.maximum(size, 1)) & (np.abs(a * b + c * d) < 1e-9 * np.maximum(size, 1))
    return np.where(even, size, 0.0)
