"""Plates: pictures of units, painted and finished, many side by side on one sheet where that does not change them."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace

import numpy as np

from under_lattice.colour.effects import Effect
from under_lattice.colour.texture import Texture
from under_lattice.geometry.affine import Array, apply, compose, moves
from under_lattice.pattern.marks import Coat, Picture
from under_lattice.render.finish.rows import THREADS
from under_lattice.render.items import SCALES_MOST
from under_lattice.scene.tree import View

PIXELS_MOST = 16_000_000  # of all plates of a picture together; beyond, they are painted coarser
SIDE_MOST = 4096  # px of the longer side of one, and of a sheet of many
SHEET = 2_000_000  # px of a sheet of many
ALONE = 24  # plates that are painted one by one, and found again one by one
FINER = 2.0  # times as fine as they are seen, so that they stay sharp between pixels
MITRES = 4.0  # widths of a line, that its corners may reach
Painted = Callable[[Picture, View], Array]  # paints and finishes a picture in a view


@dataclass(frozen=True, eq=False)
class Units:
    """Pictures of units: marks in the places of their units, those of unit k from row begins[k] to below begins[k + 1].

    Attributes
    ----------
    picture : Picture
    begins : (G + 1,)
    sizes : (G,)
        Of the units on the sheet.
    reach : (G,)
        How far finishes carry what is there, in the places of units.
    """

    picture: Picture
    begins: Array
    sizes: Array
    reach: Array

    def rows(self, units: Sequence[int]) -> Array:
        """Return the rows of the marks of some units."""
        return np.concatenate([np.arange(self.begins[k], self.begins[k + 1]) for k in units])

    def boxes(self) -> Array:
        """Left, top, right and bottom (G, 4) of all units with their lines and what finishes reach, in their places."""
        marks = self.picture.marks
        low, high = np.empty((marks.count, 2)), np.empty((marks.count, 2))
        for f, family in enumerate(marks.families):
            rows = np.flatnonzero(marks.family == f)
            for some in np.array_split(rows, max(1, len(rows) // 20_000)):
                points = apply(marks.xform[some], family.points[marks.variant[some]])
                if len(some):
                    low[some], high[some] = points.min(1), points.max(1)
        line = np.zeros(marks.count)
        for coat in self.picture.coats:
            line = np.maximum(line, np.broadcast_to(coat.width, marks.count))
        at = self.begins[:-1]
        room = (self.reach + MITRES * np.maximum.reduceat(line, at))[:, None]
        return np.concatenate([np.minimum.reduceat(low, at) - room, np.maximum.reduceat(high, at) + room], 1)


def textures_of(
    units: Units, effects: Sequence[Effect], scale: float, paint: Painted, note: Callable[[str], None]
) -> tuple[tuple[Texture, ...], Array]:
    """Return the plates of units as textures, and the corners (G, 4, 2) they fill, in the places of units.

    `scale` is px per unit of the sheet; `note` is told what is painted coarser.
    """
    boxes = units.boxes()
    exact = len(np.unique(units.sizes)) <= SCALES_MOST
    wanted = scale * units.sizes * (FINER if exact else 1.0)
    sides = boxes[:, 2:] - boxes[:, :2]
    share = min(1.0, (PIXELS_MOST / max(float((sides.prod(1) * wanted**2).sum()), 1.0)) ** 0.5)
    if share * FINER < 1.0:
        note("copies with a finish are painted coarser: all that differ are too large together")
    fine = np.minimum(wanted * share, SIDE_MOST / np.maximum(sides.max(1), 1e-9))
    pixels = np.ceil(sides * fine[:, None]).astype(int) + 2
    views = [
        View(int(wide), int(high), one, 1 - x * one, 1 - y * one)
        for (wide, high), one, (x, y) in zip(pixels, fine.tolist(), boxes[:, :2].tolist(), strict=True)
    ]
    many = len(views) > ALONE and all(effect.anywhere for effect in effects)
    sheets = list(_sheets(views) if many else ([(k, 0, 0)] for k in range(len(views))))
    out: list[Array] = [np.zeros((1, 1, 4), np.float32)] * len(views)

    def painted(sheet: list[tuple[int, int, int]]) -> None:
        for k, pixels in _painted(units, views, sheet, paint):
            out[k] = pixels

    with ThreadPoolExecutor(THREADS) as pool:
        list(pool.map(painted, sheets))
    corners = np.array([_corners(view) for view in views])
    return tuple(Texture(out[k], views[k].page_to_picture(), shrinks=not exact) for k in range(len(views))), corners


def _corners(view: View) -> Array:
    """The corners (4, 2) of what is seen."""
    left, top, right, bottom = view.box
    return np.array([(left, top), (right, top), (right, bottom), (left, bottom)])


def _sheets(views: Sequence[View]) -> Iterator[list[tuple[int, int, int]]]:
    """Lay plates of one scale on sheets, row by row from the tallest: lists of plate, left and top in px."""
    order = sorted(range(len(views)), key=lambda k: (views[k].scale, -views[k].height))
    sheet: list[tuple[int, int, int]] = []
    left = top = high = 0
    for k in order:
        view = views[k]
        if sheet and (views[sheet[-1][0]].scale != view.scale or (top + high) * SIDE_MOST > SHEET):
            yield sheet
            sheet, left, top, high = [], 0, 0, 0
        if left + view.width > SIDE_MOST:
            left, top, high = 0, top + high, 0
        sheet.append((k, left, top))
        left, high = left + view.width, max(high, view.height)
    if sheet:
        yield sheet


def _painted(units: Units, views: Sequence[View], sheet: list[tuple[int, int, int]], paint: Painted) -> Iterator[tuple[int, Array]]:
    """Paint a sheet; the pixels of each plate on it."""
    some = units.picture.some(units.rows([k for k, _, _ in sheet]))
    if len(sheet) == 1:
        yield sheet[0][0], paint(some, views[sheet[0][0]])
        return
    scale = views[sheet[0][0]].scale
    wide, high = max(x + views[k].width for k, x, _ in sheet), max(y + views[k].height for k, _, y in sheet)
    offsets = np.array([(x + views[k].left, y + views[k].top) for k, x, y in sheet]) / scale
    through = moves(offsets[np.repeat(np.arange(len(sheet)), [int(units.begins[k + 1] - units.begins[k]) for k, _, _ in sheet])])
    coats = tuple(_moved(coat, through) for coat in some.coats)
    laid = replace(some, marks=replace(some.marks, xform=compose(through, some.marks.xform)), coats=coats)
    pixels = paint(laid, View(wide, high, scale, 0.0, 0.0))
    for k, x, y in sheet:
        yield k, np.ascontiguousarray(pixels[y : y + views[k].height, x : x + views[k].width])


def _moved(coat: Coat, through: Array) -> Coat:
    """A coat with the places its paints lie in moved as the marks are, by maps (K, 2, 3)."""
    return coat if coat.seat is None else coat._replace(seat=compose(through, coat.seat))
