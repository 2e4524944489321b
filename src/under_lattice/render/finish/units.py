"""Copies that are finished each by itself: a plate is painted once for each that differs, and lies wherever it is repeated."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace

import numpy as np

from under_lattice.colour.effects import Effect
from under_lattice.colour.texture import Texture
from under_lattice.geometry.affine import Array, apply, compose, inverse
from under_lattice.geometry.outline import polygon_verbs
from under_lattice.pattern.inked import joined
from under_lattice.pattern.marks import Along, Coat, Marks, Picture, Several
from under_lattice.pattern.stage import Family
from under_lattice.render.finish.rows import THREADS
from under_lattice.render.items import SCALES_MOST
from under_lattice.scene.tree import View

PIXELS_MOST = 16_000_000  # of all plates of a picture together; beyond, they are painted coarser
SIDE_MOST = 4096  # px of the longer side of one
FINER = 2.0  # times as fine as they are seen, so that they stay sharp between pixels
DIGITS = 7  # of the numbers by which units are told apart
MITRES = 4.0  # widths of a line, that its corners may reach
PaintedUnit = Callable[[Picture, View, tuple[Effect, ...]], Array]  # paints and finishes a picture in a view


def plated(picture: Picture, scale: float, far: float, paint: PaintedUnit, note: Callable[[str], None]) -> Picture:
    """Return a picture whose units, by the first of `picture.closed`, are marks filled with plates; the other finishes are left.

    Parameters
    ----------
    picture : Picture
    scale : float
        Px per unit of the sheet.
    far : float
        How far apart two places are at most that are seen, in the unit of the work: no finish need reach further.
    paint : callable
    note : callable
        Told what is painted coarser.
    """
    first, *rest = picture.closed
    marks = picture.marks
    det = first.place[:, 0, 0] * first.place[:, 1, 1] - first.place[:, 0, 1] * first.place[:, 1, 0]
    sound = np.isfinite(first.place).all((1, 2)) & (np.abs(det) > 1e-18)
    taken = (first.unit >= 0) & (marks.variant >= 0) & sound[np.maximum(first.unit, 0)]
    kept = np.flatnonzero(first.unit < 0)
    rows = np.flatnonzero(taken)
    if not len(rows):
        return replace(picture, closed=tuple(rest)).some(kept)
    order = rows[np.argsort(first.unit[rows], kind="stable")]
    begins = np.flatnonzero(np.diff(first.unit[order], prepend=-1))
    lead, own = order[begins], first.unit[order[begins]]  # of the units that are seen, a mark of each and which they are
    sizes = _sizes(np.sqrt(np.abs(np.where(sound, det, 1.0))))
    inside = _Inside(replace(picture, closed=()), order, inverse(first.place[first.unit[order]]), sizes[first.unit[order]])
    counts = np.diff(np.append(begins, len(order)))
    which, leaders = _alike(inside.told, begins, counts, _told_of(first.effects, first.place[own], sizes[own]))
    plates = []
    for k in leaders:
        effects = tuple(effect.placed(first.place[own[k]]) for effect in first.effects)
        part = inside.picture.some(np.arange(begins[k], begins[k] + counts[k]))
        size = float(sizes[own[k]])
        plates.append((part, min(sum(effect.reach for effect in effects), far / size), size, effects))
    textures, corners = _textures(plates, scale, paint, note)
    laid = _laid(textures, corners, which, first.place[own])
    whole = laid if not len(kept) else joined([(picture.some(kept), 1.0, "normal"), (laid, 1.0, "normal")])
    of_rows = np.concatenate([kept, lead])
    closed = tuple(replace(one, unit=one.unit[of_rows]) for one in rest)
    return replace(whole, closed=closed).some(np.argsort(of_rows, kind="stable"))  # a unit lies where its first mark did


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


def _told_of(effects: tuple[Effect, ...], place: Array, sizes: Array) -> Array:
    """Numbers (U, k) by which units differ as a whole: their sizes, and their turns where a light stays."""
    told = [_rounded(sizes[:, None])]
    if any(effect.placed(turn) != effect for effect in effects for turn in TURNS):
        told.append(_rounded(place[:, :, :2].reshape(-1, 4) / sizes[:, None]))
    return np.concatenate(told, 1)


TURNS = np.array([[(0.0, -1.0, 0.0), (1.0, 0.0, 0.0)], [(1.0, 0.0, 0.0), (0.0, -1.0, 0.0)]])


def _alike(told: Array, begins: Array, counts: Array, of_units: Array) -> tuple[Array, list[int]]:
    """Which plate each unit has (U,), and for each plate one unit that has it."""
    which, lead = np.empty(len(begins), np.int64), list[int]()
    for count in np.unique(counts):
        units = np.flatnonzero(counts == count)
        rows = begins[units][:, None] + np.arange(count)
        table = np.concatenate([told[rows].reshape(len(units), -1), of_units[units]], 1)
        _, first, same = np.unique(table, axis=0, return_index=True, return_inverse=True)
        which[units] = len(lead) + same.reshape(-1)
        lead += units[first].tolist()
    return which, lead


def _textures(
    plates: list[tuple[Picture, float, float, tuple[Effect, ...]]], scale: float, paint: PaintedUnit, note: Callable[[str], None]
) -> tuple[tuple[Texture, ...], Array]:
    """Paint pictures of units, each with its reach and size; the textures, and the corners (G, 4, 2) they fill."""
    boxes = [_box(picture, reach) for picture, reach, _, _ in plates]
    exact = len({size for _, _, size, _ in plates}) <= SCALES_MOST
    wanted = [scale * size * (FINER if exact else 1.0) for _, _, size, _ in plates]
    pixels = sum((box[2] - box[0]) * (box[3] - box[1]) * one**2 for box, one in zip(boxes, wanted, strict=True))
    share = min(1.0, (PIXELS_MOST / max(pixels, 1.0)) ** 0.5)
    if share * FINER < 1.0:
        note("copies with a finish are painted coarser: all that differ are too large together")
    corners = np.empty((len(plates), 4, 2))

    def texture(k: int) -> Texture:
        (picture, _, _, effects), (x0, y0, x1, y1), one = plates[k], boxes[k], wanted[k]
        fine = min(one * share, SIDE_MOST / max(x1 - x0, y1 - y0, 1e-9))
        wide, high = int(np.ceil((x1 - x0) * fine)) + 2, int(np.ceil((y1 - y0) * fine)) + 2
        view = View(wide, high, fine, 1 - x0 * fine, 1 - y0 * fine)
        left, top = -view.left / fine, -view.top / fine
        right, bottom = left + wide / fine, top + high / fine
        corners[k] = (left, top), (right, top), (right, bottom), (left, bottom)
        return Texture(paint(picture, view, effects), view.page_to_picture(), shrinks=not exact)

    with ThreadPoolExecutor(THREADS) as pool:
        return tuple(pool.map(texture, range(len(plates)))), corners


def _box(picture: Picture, reach: float) -> tuple[float, float, float, float]:
    """Left, top, right and bottom of a picture with its lines and so much round it, in the place of a unit."""
    marks = picture.marks
    low, high = np.full(2, np.inf), np.full(2, -np.inf)
    for f, family in enumerate(marks.families):
        rows = np.flatnonzero(marks.family == f)
        if len(rows):
            points = apply(marks.xform[rows], family.points[marks.variant[rows]]).reshape(-1, 2)
            low, high = np.minimum(low, points.min(0)), np.maximum(high, points.max(0))
    line = max((float(coat.width.max(initial=0.0)) for coat in picture.coats), default=0.0)
    room = reach + MITRES * max(line, 0.0)
    return float(low[0] - room), float(low[1] - room), float(high[0] + room), float(high[1] + room)


def _laid(textures: tuple[Texture, ...], corners: Array, which: Array, place: Array) -> Picture:
    """A picture of rectangles filled with plates."""
    count = len(which)
    family = Family(polygon_verbs(4), corners, which.astype(np.int32))
    marks = Marks((family,), np.zeros(count, np.int32), which.astype(np.int32), place, np.arange(count, dtype=np.int32))
    white, none = np.full((1, 4), 255, np.uint8), np.zeros((1, 4), np.uint8)
    return Picture(marks, (Coat(white, none, np.full(1, -1.0), paint=Several(textures, which)),))
