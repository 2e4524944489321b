"""Copies that are finished each by itself: a plate is painted once for each that differs, and lies wherever it is repeated."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np

from under_lattice.colour.effects import Effect
from under_lattice.colour.texture import Texture
from under_lattice.geometry.affine import IDENTITY, Array, compose, inverse
from under_lattice.geometry.outline import polygon_verbs
from under_lattice.pattern.inked import joined
from under_lattice.pattern.marks import Along, Closed, Coat, Marks, Picture, Several
from under_lattice.pattern.stage import Family
from under_lattice.render.finish.plates import MITRES, Units, textures_of
from under_lattice.render.items import SCALES_MOST
from under_lattice.scene.tree import View

DIGITS = 7  # of the numbers by which units are told apart
PLATES_MOST = 600  # that differ and are finished one by one: by what depends on where it is
PaintedUnit = Callable[[Picture, View, tuple[Effect, ...]], Array]  # paints and finishes a picture in a view


def plated(picture: Picture, view: View, paint: PaintedUnit, note: Callable[[str], None]) -> Picture:
    """Return a picture whose units, by the first of `picture.closed`, are marks filled with plates; the other finishes are left.

    Units that are not seen in `view` are left out; `note` is told what is painted coarser or otherwise than it should be.
    """
    first, *rest = picture.closed
    place = _upright(first)
    det = np.abs(place[:, 0, 0] * place[:, 1, 1] - place[:, 0, 1] * place[:, 1, 0])
    sound = np.isfinite(place).all((1, 2)) & (det > 1e-18)
    sizes = _sizes(np.sqrt(np.where(sound, det, 1.0)))
    far = sum(effect.reach * float(np.abs(one.place[:, :, :2]).max(initial=0.0)) for one in rest for effect in one.effects)
    rows = np.flatnonzero(_seen(picture, first, sound, sizes, view, far))
    kept = np.flatnonzero(first.unit < 0)
    if not len(rows):
        return replace(picture, closed=tuple(rest)).some(kept)
    order = rows[np.argsort(first.unit[rows], kind="stable")]
    begins = np.append(np.flatnonzero(np.diff(first.unit[order], prepend=-1)), len(order))
    lead, own = order[begins[:-1]], first.unit[order[begins[:-1]]]  # of the units that are seen, a mark of each and which they are
    inside = _Inside(replace(picture, closed=()), order, inverse(place[first.unit[order]]), sizes[first.unit[order]])
    which, leaders = _alike(inside.told, begins, _rounded(sizes[own][:, None]))
    if len(leaders) > PLATES_MOST and not all(effect.anywhere for effect in first.effects):
        note(f"{len(leaders):,} copies differ, too many to be finished one by one: they are finished together")
        return replace(picture, closed=(_together(first), *rest))
    own_lengths = np.array([begins[k + 1] - begins[k] for k in leaders])
    marks = np.concatenate([np.arange(begins[k], begins[k + 1]) for k in leaders])
    reach = np.minimum(sum(effect.reach for effect in first.effects), 2 * view.reach / sizes[own[leaders]])
    units = Units(inside.picture.some(marks), np.append(0, np.cumsum(own_lengths)), sizes[own[leaders]], reach)
    textures, corners = textures_of(units, first.effects, view.scale, lambda one, seen: paint(one, seen, first.effects), note)
    laid = _laid(textures, corners, which, place[own])
    whole = laid if not len(kept) else joined([(picture.some(kept), 1.0, "normal"), (laid, 1.0, "normal")])
    of_rows = np.concatenate([kept, lead])
    closed = tuple(replace(one, unit=one.unit[of_rows]) for one in rest)
    return replace(whole, closed=closed).some(np.argsort(of_rows, kind="stable"))  # a unit lies where its first mark did


def _upright(closed: Closed) -> Array:
    """The places of units (U, 2, 3); where a light stays, without their turns, which are those of their marks then."""
    place = closed.place
    if all(effect.placed(turn) == effect for effect in closed.effects for turn in TURNS):
        return place
    out = place.copy()
    size = np.sqrt(np.abs(place[:, 0, 0] * place[:, 1, 1] - place[:, 0, 1] * place[:, 1, 0]))
    out[:, :, :2] = size[:, None, None] * np.eye(2)
    return out


def _together(closed: Closed) -> Closed:
    """A finish of all its units as one that lies on the sheet."""
    return replace(closed, unit=np.minimum(closed.unit, 0), place=IDENTITY[None])


def _seen(picture: Picture, closed: Closed, sound: Array, sizes: Array, view: View, far: float) -> Array:
    """Which marks (N,) are of units that may be seen in a view, where later finishes carry them so far."""
    marks, unit = picture.marks, np.maximum(closed.unit, 0)
    radius = max((float(np.abs(family.points).max(initial=0.0)) for family in marks.families), default=0.0) * 2**0.5
    line = max((float(coat.width.max(initial=0.0)) for coat in picture.coats), default=0.0)
    reach = radius * 2**0.5 * np.abs(marks.xform[:, :, :2]).max((1, 2), initial=0.0) + MITRES * max(line, 0.0) + far
    reach = reach + sum(effect.reach for effect in closed.effects) * sizes[unit]
    left, top, right, bottom = view.box
    x, y = marks.xform[:, 0, 2], marks.xform[:, 1, 2]
    near = (x > left - reach) & (x < right + reach) & (y > top - reach) & (y < bottom + reach)
    taken = (closed.unit >= 0) & (marks.variant >= 0) & sound[unit]
    units = np.zeros(len(sound), bool)
    units[unit[near & taken]] = True
    return np.asarray(taken & units[unit])


def _sizes(sizes: Array) -> Array:
    """Sizes of units as plates are painted: exact as long as they are few, else the next of steps of a half."""
    exact = np.round(sizes, 9)
    return exact if len(np.unique(exact)) <= SCALES_MOST else 2.0 ** (np.ceil(2 * np.log2(sizes)) / 2)


class _Inside:
    """Marks of a picture by their rows, each in the place of its unit, with the numbers by which they are told apart."""

    def __init__(self, picture: Picture, rows: Array, back: Array, sizes: Array) -> None:
        marks, count = picture.marks, len(rows)
        xform = compose(back, marks.xform[rows])
        own = Marks(marks.families, marks.family[rows], marks.variant[rows], xform, np.zeros(count, np.int32))
        told = [_rounded(xform.reshape(count, 6)), own.family[:, None], own.variant[:, None]]
        coats = []
        for coat in picture.coats:
            seat = _seat(coat, rows, back)
            width = np.broadcast_to(coat.width, marks.count)[rows]
            width = np.where(width > 0, width / sizes, width)
            fill, stroke = (np.broadcast_to(one, (marks.count, 4))[rows] for one in (coat.fill, coat.stroke))
            paint = coat.paint
            if paint is not None and not isinstance(paint, (Along, Several)) and seat is not None:
                paint = replace(paint, of_marks=True)
            if isinstance(paint, Several):
                paint = replace(paint, which=paint.which[rows])
                told.append(paint.which[:, None])
            told += [fill, stroke, _rounded(width[:, None])]
            told += [] if seat is None else [_rounded(seat.reshape(count, 6))]
            coats.append(coat._replace(fill=fill, stroke=stroke, width=width, seat=seat, paint=paint))
        self.picture = Picture(own, tuple(coats))
        self.told = np.concatenate([one.astype(float) for one in told], 1)


def _seat(coat: Coat, rows: Array, back: Array) -> Array | None:
    """Where a paint of a coat lies as seen from units (K, 2, 3); None where it lies in the marks' own places, or there is none."""
    if coat.paint is None:
        return None
    if coat.seat is not None:
        own = coat.seat[rows] if len(coat.seat) > 1 else coat.seat
        return compose(back, own)
    return None if getattr(coat.paint, "of_marks", True) else back


def _rounded(values: Array) -> Array:
    """Values to so many digits of the largest."""
    most = float(np.abs(values).max(initial=0.0))
    return np.round(values, int(DIGITS - 1 - np.floor(np.log10(most)))) + 0.0 if most > 0 else values


TURNS = np.array([[(0.0, -1.0, 0.0), (1.0, 0.0, 0.0)], [(1.0, 0.0, 0.0), (0.0, -1.0, 0.0)]])


def _alike(told: Array, begins: Array, of_units: Array) -> tuple[Array, list[int]]:
    """Which plate each unit has (U,), and for each plate one unit that has it."""
    counts, begins = np.diff(begins), begins[:-1]
    which, lead = np.empty(len(begins), np.int64), list[int]()
    for count in np.unique(counts):
        units = np.flatnonzero(counts == count)
        rows = begins[units][:, None] + np.arange(count)
        table = np.concatenate([told[rows].reshape(len(units), -1), of_units[units]], 1)
        _, first, same = np.unique(table, axis=0, return_index=True, return_inverse=True)
        which[units] = len(lead) + same.reshape(-1)
        lead += units[first].tolist()
    return which, lead


def _laid(textures: tuple[Texture, ...], corners: Array, which: Array, place: Array) -> Picture:
    """A picture of rectangles filled with plates."""
    count = len(which)
    family = Family(polygon_verbs(4), corners, which.astype(np.int32))
    marks = Marks((family,), np.zeros(count, np.int32), which.astype(np.int32), place, np.arange(count, dtype=np.int32))
    white, none = np.full((1, 4), 255, np.uint8), np.zeros((1, 4), np.uint8)
    return Picture(marks, (Coat(white, none, np.full(1, -1.0), paint=Several(textures, which)),))
