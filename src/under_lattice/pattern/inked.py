"""Shapes that bring their own ink: pictures, pixel drawings, other layers and groups as motifs."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import ClassVar

import numpy as np

from under_lattice.colour.ramp import Ramp
from under_lattice.colour.texture import Texture
from under_lattice.geometry.affine import IDENTITY, Array, apply, compose, linear
from under_lattice.geometry.body import hull_of_outlines
from under_lattice.geometry.outline import Outline, polygon
from under_lattice.pattern.ask import Ask
from under_lattice.pattern.marks import Along, Closed, Coat, Marks, Picture, Plate, Several
from under_lattice.pattern.pieces import OwnOutlines
from under_lattice.pattern.stage import Family, Shape, Stage

NO_COLOUR = np.zeros(4, np.uint8)
Part = tuple[bytes, Array]  # verbs and points (K, 2)
Paint = Ramp | Texture | Plate | Along | Several | None


@dataclass(frozen=True, eq=False)
class Inked:
    """Outlines that are the same for all copies, with coats of their own.

    Attributes
    ----------
    parts : tuple of (verbs, points (K, 2))
        From back to front.
    coats : tuple of Coat
        A row for each part, or one for all; seats go to the shape's own place.
    closed : tuple of Closed
        The finishes of parts, whose places are in the shape's own.
    """

    curved: ClassVar[bool] = True
    parts: tuple[Part, ...]
    coats: tuple[Coat, ...]
    closed: tuple[Closed, ...] = ()

    @property
    def faces(self) -> int:
        """How many parts."""
        return len(self.parts)

    def body(self) -> Outline:
        """Return the convex hull of all parts."""
        return polygon(hull_of_outlines(self.parts, 12))

    def reach(self) -> float:
        """Nothing passes the hull, in units of the shape."""
        return 0.0

    def draw(self, ask: Ask) -> tuple[Family, ...]:
        """Return one family for each part."""
        shown = np.zeros(ask.n, np.int32)
        return tuple(Family(verbs, points[None], shown) for verbs, points in self.parts)


@dataclass(frozen=True, eq=False)
class InkedCopies(OwnOutlines):
    """Outlines of their own for each copy, with coats whose rows are those copies'."""

    coats: tuple[Coat, ...] = ()


def of_picture(picture: Picture, through: Array) -> Inked:
    """Return what is painted as one shape, brought through a map (2, 3); what is not shown is left out."""
    marks = picture.marks
    shown = np.flatnonzero(marks.variant >= 0)
    parts = []
    for k in shown:
        family = marks.families[marks.family[k]]
        parts.append((family.verbs, apply(compose(through, marks.xform[k]), family.points[marks.variant[k]])))
    closed = tuple(replace(one, unit=one.unit[shown], place=compose(through[None], one.place)) for one in picture.closed)
    return Inked(tuple(parts), tuple(_brought(coat, marks, shown, through) for coat in picture.coats), closed)


def _brought(coat: Coat, marks: Marks, shown: Array, through: Array) -> Coat:
    """The rows of a coat for the marks that are shown, its paint laid where it was."""

    def rows(values: Array) -> Array:
        return values[shown] if len(values) > 1 else values

    size = float(np.sqrt(abs(np.linalg.det(through[:, :2]))))
    seat = None
    if coat.paint is not None:
        own = coat.seat if coat.seat is not None else _lies(coat, marks)
        seat = compose(through[None], np.broadcast_to(own, (marks.count, 2, 3))[shown])
    return coat._replace(
        fill=rows(coat.fill), stroke=rows(coat.stroke), width=rows(coat.width) * size, seat=seat, paint=_seated(coat.paint)
    )


def _lies(coat: Coat, marks: Marks) -> Array:
    """Where a paint without a seat lies: in each mark's own place, or on the sheet."""
    of_marks = getattr(coat.paint, "of_marks", True)
    return marks.xform if of_marks else IDENTITY[None]


def _seated(paint: Paint) -> Paint:
    """A paint that lives in the place of its seat."""
    return None if paint is None else replace(paint, of_marks=True)


def moved(picture: Picture, through: Array) -> Picture:
    """Return what is painted brought through a map (2, 3): lines as much wider as it is larger, ramps and pictures with it."""
    if np.array_equal(through, IDENTITY):
        return picture
    marks = picture.marks
    every = np.arange(marks.count)
    coats = tuple(_brought(coat, marks, every, through) for coat in picture.coats)
    closed = tuple(replace(one, place=compose(through[None], one.place)) for one in picture.closed)
    return replace(picture, marks=replace(marks, xform=compose(through[None], marks.xform)), coats=coats, closed=closed)


def joined(pictures: Sequence[tuple[Picture, float, str]]) -> Picture:
    """Return pictures as one, from back to front, each with the opacity (0..1) and the blend of its layer taken into its coats."""
    families: list[Family] = []
    rows: dict[str, list[Array]] = {"family": [], "variant": [], "xform": []}
    coats: list[Coat] = []
    closed: list[Closed] = []
    total, before = sum(picture.marks.count for picture, _, _ in pictures), 0
    for picture, opacity, blend in pictures:
        marks = picture.marks
        rows["family"].append(marks.family + len(families))
        rows["variant"].append(marks.variant)
        rows["xform"].append(marks.xform)
        families += marks.families
        coats += [_placed(with_opacity(coat, opacity, blend), marks, before, total) for coat in picture.coats]
        closed += [
            replace(one, unit=np.pad(one.unit, (before, total - before - marks.count), constant_values=-1))
            for one in picture.closed
        ]
        before += marks.count
    joined = {name: np.concatenate(values) for name, values in rows.items()}
    return Picture(Marks(tuple(families), copy=np.zeros(total, np.int32), **joined), tuple(coats), closed=tuple(closed))


def with_opacity(coat: Coat, opacity: float, blend: str = "normal") -> Coat:
    """Return a coat with the opacity (0..1) of its layer, and its blend where it has none of its own."""
    mixed = coat._replace(blend=blend) if coat.blend == "normal" else coat
    if opacity >= 1.0:
        return mixed
    fill, stroke = coat.fill.copy(), coat.stroke.copy()
    for colour in (fill, stroke):
        colour[:, 3] = np.rint(colour[:, 3] * opacity)
    return mixed._replace(fill=fill, stroke=stroke)


def _placed(coat: Coat, marks: Marks, before: int, total: int) -> Coat:
    """A coat of some marks as one of all, clear on the others."""
    own = slice(before, before + marks.count)

    def spread(values: Array, rest: Array) -> Array:
        out = np.array(np.broadcast_to(rest, (total, *values.shape[1:])))
        out[own] = values
        return out

    seat = None
    if coat.paint is not None:
        seat = spread(np.asarray(coat.seat if coat.seat is not None else _lies(coat, marks)), IDENTITY)
    paint = _seated(coat.paint)
    if isinstance(paint, Several):
        paint = replace(paint, which=spread(paint.which, np.zeros((), np.int64)))
    return coat._replace(
        fill=spread(coat.fill, NO_COLOUR),
        stroke=spread(coat.stroke, NO_COLOUR),
        width=spread(coat.width, np.zeros(())),
        seat=seat,
        paint=paint,
    )


def own_closed(stage: Stage, marks: Marks) -> tuple[Closed, ...]:
    """Return the finishes that the shape of a stage brings with it, for each of its copies."""
    inked = inked_by(stage)
    place = _place_of_ink(stage, marks) if isinstance(inked, Inked) and inked.closed else None
    if not isinstance(inked, Inked) or place is None or len(marks.families) != inked.faces:
        return ()
    copies = place[:: inked.faces]
    out = []
    for one in inked.closed:
        unit = one.unit[marks.family]
        unit = np.where(unit >= 0, marks.copy * len(one.place) + unit, -1)
        out.append(replace(one, unit=unit, place=compose(copies[:, None], one.place[None]).reshape(-1, 2, 3)))
    return tuple(out)


def inked_by(stage: Stage) -> Inked | InkedCopies | None:
    """Return the shape with its own ink that the copies of a stage come of."""
    here: Stage | None = stage
    while here is not None:
        shape = _base(here.shape)
        if isinstance(shape, (Inked, InkedCopies)):
            return shape
        here = here.above
    return None


def _base(shape: Shape) -> Shape:
    """What a shape is made of in the end."""
    while (of := getattr(shape, "of", None)) is not None:
        shape = of
    return shape


def _place_of_ink(stage: Stage, marks: Marks) -> Array | None:
    """The place (N, 2, 3) of the inked shape -> the sheet, for each mark; None where outlines were made that no paint follows."""
    place, here = marks.xform, stage
    while not isinstance(base := _base(here.shape), (Inked, InkedCopies)):
        if not isinstance(base, OwnOutlines) or base.under is None:
            return None
        place = compose(place, base.under[Ask(stage).ancestors(base.rule)[marks.copy]])
        while here.rule != base.rule and here.above is not None:
            here = here.above
        if here.above is None:
            return None
        here = here.above
    return place


def own_coats(stage: Stage, marks: Marks) -> tuple[Coat, ...]:
    """Return the coats a shape brings for the marks drawn of a stage; none where its parts are no longer what they were.

    Ramps and pictures of outlines that were cut stay where they lay; those of bent ones follow as nearly as turning, sizing and
    leaning can.
    """
    inked = inked_by(stage)
    if inked is None or len(marks.families) != inked.faces:
        return ()
    place = _place_of_ink(stage, marks)
    row = marks.family if isinstance(inked, Inked) else Ask(stage).ancestors(inked.rule)[marks.copy]
    out = []
    for coat in inked.coats:
        fill, stroke, width = (_of_parts(values, row) for values in coat[:3])
        seat = None
        if place is not None and coat.paint is not None:
            seat = compose(place, _of_parts(coat.seat, row)) if coat.seat is not None else place
        out.append(coat._replace(fill=fill, stroke=stroke, width=width, seat=seat, paint=coat.paint if place is not None else None))
    return tuple(out)


def _of_parts(values: Array, part: Array) -> Array:
    return values[part] if len(values) > 1 else values


def turned_and_sized(middle: Array, turn: float, size: float) -> Array:
    """Return the map (2, 3) that turns and sizes about `middle` (2,) and brings it to the origin."""
    own = np.array(linear(turn, size, size))
    own[:, 2] = -own[:, :2] @ middle
    return own
