"""Marks: what ink and painter see, one row for each face of each copy."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import NamedTuple

import numpy as np

from under_lattice.colour.effects import Effect
from under_lattice.colour.ramp import Ramp
from under_lattice.colour.texture import Texture
from under_lattice.core.progress import QUIET, Progress
from under_lattice.geometry.affine import Array, apply
from under_lattice.geometry.path import Path, paths_of
from under_lattice.pattern.ask import Ask
from under_lattice.pattern.known import NOTHING_KNOWN, Known
from under_lattice.pattern.stage import Family, Stage, share


@dataclass(frozen=True, eq=False)
class Marks:
    """One row for each face of each copy, copy by copy.

    family, variant, copy are (N,) int32; xform is (N, 2, 3), the shape's own place -> the sheet.
    `family` is also the part.
    """

    families: tuple[Family, ...]
    family: Array
    variant: Array
    xform: Array
    copy: Array

    @property
    def count(self) -> int:
        """How many marks, a whole number."""
        return len(self.family)

    @property
    def distinct(self) -> int:
        """How many distinct shapes are drawn, sizes by transform not counted, a whole number."""
        if not self.count:
            return 0
        of_copies = self.variant.reshape(-1, len(self.families))
        return len(share(of_copies.astype(float), 1.0)[0])


class Dash(NamedTuple):
    """Lengths of dash and gap by turns, in the work's unit; `fit` sizes them so that a whole number fits each line."""

    lengths: tuple[float, ...]
    offset: float = 0.0
    fit: bool = False


@dataclass(frozen=True, eq=False)
class Along:
    """A paint of lines: a ramp that runs along each from where it begins to where it ends, once round a closed one."""

    ramp: Ramp
    of_marks: bool = True


class Coat(NamedTuple):
    """One layer of ink on all marks.

    fill and stroke are RGBA bytes (N, 4), or (1, 4) when all are alike; an alpha of 0 paints nothing.
    width is (N,) or (1,), in the work's unit; 0 is a hairline, below 0 is no line. join is mitre, round or bevel; cap is butt,
    round or square. With a paint (a ramp, a
    picture or a plate) the fill's alpha is its strength; it lives in the mark's own place or on the sheet, as it says, or where
    `seat` (N, 2, 3) or (1, 2, 3) puts it: maps from the place it is laid in to the sheet. With `lines` the paint is that of
    the lines, and there is no fill. blend is how each mark mixes with what is beneath it. One that `rides` is the lines of the coat
    before it.
    """

    fill: Array
    stroke: Array
    width: Array
    join: str = "mitre"
    cap: str = "butt"
    blend: str = "normal"
    even_odd: bool = False
    paint: Ramp | Texture | Plate | Along | Several | None = None
    dash: Dash | None = None
    seat: Array | None = None
    lines: bool = False
    rides: bool = False

    def stroked(self) -> Array:
        """Which marks have a line, (N,) or (1,) bool: those with a colour for it and a width that is not below 0."""
        return np.asarray((self.stroke[:, 3] > 0) & (self.width >= 0))


@dataclass(frozen=True, eq=False)
class Plate:
    """Marks that are painted once for each size they are needed at, and then placed like a picture.

    Attributes
    ----------
    marks, coats
        What is painted.
    box : (4,)
        Left, top, right and bottom in the place of `marks`, which is also the own place of the marks it fills.
    clip : Marks or None
        Nothing is painted outside these.
    of_marks : bool
        It lives in each mark's own place, or where a seat puts it; otherwise `marks` lie on the sheet as they are.
    """

    marks: Marks
    coats: tuple[Coat, ...]
    box: tuple[float, float, float, float]
    clip: Marks | None = None
    of_marks: bool = True
    closed: tuple[Closed, ...] = ()


@dataclass(frozen=True, eq=False)
class Several:
    """A paint that is another picture on each mark: (N,) rows of `pictures`, which live in the marks' own places."""

    pictures: tuple[Texture, ...]
    which: Array
    of_marks: bool = True


@dataclass(frozen=True, eq=False)
class Closed:
    """Marks that are finished together, unit by unit: each is painted by itself and then lies where it stands.

    Attributes
    ----------
    effects : tuple of Effect
        One after the other.
    unit : (N,) int
        Of each mark, its unit; below zero for those that stay as they are.
    place : (U, 2, 3)
        Of each unit: the place in which the lengths and directions of effects are counted -> the sheet.
    """

    effects: tuple[Effect, ...]
    unit: Array
    place: Array


@dataclass(frozen=True, eq=False)
class Picture:
    """Marks with their coats: what is painted; bones are drawn as outlines in the window and are never exported.

    `thin` (N,) bool says which marks are bones where some are: their coats are clear. `closed` are its finishes, the first first.
    """

    marks: Marks
    coats: tuple[Coat, ...]
    bones: bool = False
    thin: Array | None = None
    closed: tuple[Closed, ...] = ()
    aside: tuple[str, ...] = ()  # what of the layer it is the picture of could not be taken along

    def some(self, rows: Array) -> Picture:
        """Return some of its marks as a picture, by their rows, in that order."""
        marks, count = self.marks, self.marks.count

        def of(values: Array) -> Array:
            return values[rows] if len(values) == count else values

        coats = []
        for one in self.coats:
            seat = None if one.seat is None else of(one.seat)
            paint = replace(one.paint, which=of(one.paint.which)) if isinstance(one.paint, Several) else one.paint
            coats.append(one._replace(fill=of(one.fill), stroke=of(one.stroke), width=of(one.width), seat=seat, paint=paint))
        some = Marks(marks.families, marks.family[rows], marks.variant[rows], marks.xform[rows], marks.copy[rows])
        thin = None if self.thin is None else self.thin[rows]
        closed = tuple(replace(one, unit=one.unit[rows]) for one in self.closed)
        return replace(self, marks=some, coats=tuple(coats), thin=thin, closed=closed)


class MarkAsk(Ask):
    """Reads numbers for every mark: faces of one copy may differ by which part they are, and by the way they face.

    Parameters
    ----------
    horizon, known
        As of `Ask`.
    marks : Marks
        As drawn for the horizon.
    """

    def __init__(self, horizon: Stage, known: Known, marks: Marks) -> None:
        super().__init__(horizon, known)
        self.marks = marks

    def read(self, rule: str, channel: str, points: Array | None, seed: int = 0, picture: str = "") -> Array | None:
        """Return readings 0..1, (N, 1) for the marks or (1, 1)."""
        faces = len(self.marks.families)
        if channel == "part" and faces > 1:
            return (self.marks.family / (faces - 1.0))[:, None]
        if channel == "facing" and faces > 1 and rule in self._seen:
            return self._facing(rule)[:, None] / 360.0
        return self._spread(super().read(rule, channel, points, seed, picture))

    def pictured(self, rule: str, picture: str) -> Array | None:
        """Return the colours of a picture, (N, 1, 4) for the marks."""
        return self._spread(super().pictured(rule, picture))

    def raw(self, rule: str, name: str, points: Array | None, seed: int = 0) -> Array | None:
        """Return a reading as it is, (N, 1) for the marks or (1, 1)."""
        return self._spread(super().raw(rule, name, points, seed))

    def counted(self, rule: str, channel: str, points: Array | None) -> Array | None:
        """Return a reading one can count by, (N, 1) for the marks."""
        if channel == "part":
            return self.marks.family[:, None].astype(float)
        return self._spread(super().counted(rule, channel, points))

    def _spread(self, of_copies: Array | None) -> Array | None:
        if of_copies is None or len(of_copies) != self.n or self.marks.count == self.n:
            return of_copies
        return of_copies[self.marks.copy]

    def _facing(self, rule: str) -> Array:
        """The direction (N,) in degrees, in the place of `rule`, in which each face lies from the middle of its shape."""
        marks, away = self.marks, np.zeros((self.marks.count, 2))
        middle = self.horizon.body_ring.mean(0)
        for f, family in enumerate(marks.families):
            own = np.flatnonzero(marks.family == f)
            away[own] = family.points.mean(1)[np.maximum(marks.variant[own], 0)] - middle
        central = np.hypot(*away.T) < 1e-9 * np.abs(self.horizon.body_ring).max(initial=1e-9)
        away[central] = 1.0, 0.0  # a face round the middle faces as its copy does
        turned = np.einsum("nij,nj->ni", np.broadcast_to(self.place(rule)[:, :, :2], (self.n, 2, 2))[marks.copy], away)
        return np.degrees(np.arctan2(turned[:, 1], turned[:, 0])) % 360.0


def draw(stage: Stage, known: Known = NOTHING_KNOWN, progress: Progress = QUIET) -> Marks:
    """Draw the shapes at last, for the copies of `stage`; of no copies there are no shapes either.

    Raises
    ------
    GivenUp
        When `progress` says that they are not wanted any more.
    """
    families = stage.shape.draw(Ask(stage, known, progress)) if stage.n else ()
    faces = len(families)
    if not faces:
        none = np.zeros(0, np.int32)
        return Marks((), none, none, np.zeros((0, 2, 3)), none)
    part = np.tile(np.arange(faces, dtype=np.int32), stage.n)
    if faces == 1:
        return Marks(families, part, families[0].variant, stage.xform, np.arange(stage.n, dtype=np.int32))
    return Marks(
        families,
        part,
        np.stack([family.variant for family in families], 1).ravel(),
        np.repeat(stage.xform, faces, 0),
        np.repeat(np.arange(stage.n, dtype=np.int32), faces),
    )


def paths_of_marks(marks: Marks, tolerance: float = 0.0) -> list[Path]:
    """Return the contours of all marks that are shown, as they lie, `tolerance` in the unit of the work."""
    out: list[Path] = []
    for family, variant, xform in zip(marks.family, marks.variant, marks.xform, strict=True):
        if variant >= 0:
            own = marks.families[family]
            out += paths_of(own.verbs, apply(xform, own.points[variant]), tolerance)
    return out
