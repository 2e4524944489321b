"""Translations that bring what is drawn onto itself, found among the marks and then tried on all of them."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from under_lattice.core.progress import QUIET, Progress
from under_lattice.geometry.affine import Array
from under_lattice.geometry.translations import NOTHING, common, reduced
from under_lattice.pattern.doubles import reaches_of, told_of
from under_lattice.pattern.drawn import Drawn
from under_lattice.pattern.marks import Coat, Picture, Plate, Several
from under_lattice.pattern.stage import share

NEAR = 1e-6  # of the size of outlines: marks that differ by no more are alike
EXACT, LOOSE = 1e-8, 1e-5  # of the page, by which copies may be beside where they should be: as computed, or as typed in figures
FARTHEST = 0.5  # of the page, by which a translation may bring marks on: so each is brought onto the page by it or by its opposite
TRIED_MOST = 1500  # translations, the shortest first
SAMPLE = 150  # marks each of them is tried on before all are


class Found(NamedTuple):
    """The translations of a picture (k, 2), reduced; `all_over` where it is the same everywhere; `why` there are none."""

    basis: Array
    all_over: bool = False
    why: str = ""


def periods_of(picture: Picture, half: Array, progress: Progress = QUIET) -> Found:
    """Return the translations that bring a picture onto itself, as far as a page of so much to each side of its middle (2,) tells.

    Raises
    ------
    GivenUp
    """
    why = _never(picture)
    if why:
        return Found(NOTHING, why=why)
    drawn = Drawn(picture.marks)
    if not len(drawn.rows):
        return Found(NOTHING, all_over=True)
    within = [one for coat in picture.coats if isinstance(coat.paint, Plate) and not coat.paint.of_marks and coat.seat is None
              for one in (periods_of(Picture(coat.paint.marks, coat.paint.coats), half, progress),)]  # fmt: skip
    here, variant = _alike(picture, drawn, progress)
    found = Found(NOTHING, all_over=True) if _covers(picture, drawn, half) else _found(here, variant, half, progress)
    for one in within:
        found = _both(found, one)
    return found


def _both(one: Found, other: Found) -> Found:
    """What two pictures have in common."""
    if one.all_over or other.all_over:
        return other if one.all_over else one
    return Found(common(one.basis, other.basis), why=one.why or other.why)


def _never(picture: Picture) -> str:
    """Why a picture cannot repeat, whatever its marks are."""
    for coat in picture.coats:
        paint = coat.paint
        if paint is not None and not paint.of_marks and coat.seat is None and not isinstance(paint, Plate):
            return "it has a ramp or picture over the whole sheet"
    if any(not effect.anywhere for closed in picture.closed for effect in closed.effects):
        return "it has a finish with a middle or lattice of its own on the sheet"
    return ""


def _alike(picture: Picture, drawn: Drawn, progress: Progress) -> tuple[Array, Array]:
    """Where the marks that are shown stand (N, 2), and for each a number (N,) that is the same for those that look alike."""
    told = told_of(drawn)
    here, size = told[:, 1:], float(np.median(drawn.reach)) or 1.0
    columns = [told[:, :1] / size, reaches_of(drawn, here, progress) / size]
    for coat in picture.coats:
        columns += _coat_columns(coat, drawn, here, size)
    for closed in picture.closed:
        unit = closed.unit[drawn.rows]
        columns.append(np.where(unit[:, None] >= 0, closed.place[np.maximum(unit, 0), :, :2].reshape(-1, 4), -9.0))
    count = len(here)
    keys = np.concatenate([np.broadcast_to(one, (count, one.shape[1])) for one in columns], 1)
    return here, share(keys, NEAR)[1]


def _coat_columns(coat: Coat, drawn: Drawn, here: Array, size: float) -> list[Array]:
    """What tells the paint of marks apart, a row for each or one for all."""
    rows = drawn.rows

    def of(values: Array) -> Array:
        return values[rows] if len(values) == drawn.marks.count else values

    width = np.where(of(coat.stroke)[:, 3] > 0, of(coat.width), -1.0) if len(coat.width) == len(coat.stroke) else of(coat.width)
    columns = [of(coat.fill) / 255.0, of(coat.stroke) / 255.0, width[:, None] / size]
    if coat.paint is not None and (coat.paint.of_marks or coat.seat is not None):  # where it lies as seen from the mark
        seat = drawn.xform if coat.seat is None else of(coat.seat)
        turn = seat[:, :, :2].reshape(-1, 4) / max(float(np.abs(seat[:, :, :2]).max()), 1e-12)
        columns += [turn, (seat[:, :, 2] - here) / size]
    if isinstance(coat.paint, Several):
        columns.append(of(coat.paint.which)[:, None].astype(float))
    return columns


def _covers(picture: Picture, drawn: Drawn, half: Array) -> bool:
    """Whether all that is drawn is areas of plain colours that cover the page."""
    if len(drawn.rows) > 16 or any(coat.paint is not None for coat in picture.coats):
        return False
    corners = np.array([(x, y) for x in (-1, 1) for y in (-1, 1)]) * half
    for area in drawn.placed(np.arange(len(drawn.rows))):
        left, top, right, bottom = area.bounds
        boxed = area.geom_type == "Polygon" and abs(area.area - (right - left) * (bottom - top)) < 1e-9 * area.area
        if not boxed or not ((corners >= (left - 1e-9, top - 1e-9)) & (corners <= (right + 1e-9, bottom + 1e-9))).all():
            return False
    return True


def _found(here: Array, variant: Array, half: Array, progress: Progress) -> Found:
    """The translations that bring points (N, 2) of some kinds (N,) onto points of their kind, within a page."""
    exact = _within(here, variant, half, EXACT * float(half.min()), progress)
    return (
        exact
        if len(exact.basis) == 2
        else max((exact, _within(here, variant, half, LOOSE * float(half.min()), progress)), key=lambda found: len(found.basis))
    )


def _within(here: Array, variant: Array, half: Array, tolerance: float, progress: Progress) -> Found:
    """The same, where points may be beside each other by a tolerance in the unit of the work."""
    inside = (np.abs(here) <= half + tolerance).all(1)
    here, variant = here[inside], variant[inside]
    if not len(here):
        return Found(NOTHING, why="it has no shape whose middle is on the sheet")
    onto = _Onto(here, variant, half, tolerance)
    kinds, counts = np.unique(variant, return_counts=True)
    own = here[variant == kinds[np.argmin(counts)]]
    begin = own[np.argmin(np.hypot(*own.T))]
    ways = own - begin
    ways = ways[(np.abs(ways) <= 2 * half * FARTHEST).all(1)]
    ways = ways[(ways[:, 0] > tolerance) | ((np.abs(ways[:, 0]) <= tolerance) & (ways[:, 1] > tolerance))]
    ways = ways[np.argsort(np.hypot(*ways.T), kind="stable")][:TRIED_MOST]
    first = None
    for way in ways[onto.likely(ways)] if len(ways) else ways:
        progress.check()
        if first is not None and abs(way[0] * first[1] - way[1] * first[0]) < 1e-3 * np.hypot(*way) * np.hypot(*first):
            continue
        if not onto.tried(way):
            continue
        if first is not None:
            return Found(reduced(np.array([first, way])))
        first = way
    why = "" if first is not None else "its copies do not come again as they are, or not as far as the sheet goes"
    return Found(NOTHING if first is None else reduced(first[None]), why=why)


class _Onto:
    """Points (N, 2) of some kinds (N,) on a page, ready to be asked whether a translation brings them onto themselves."""

    def __init__(self, here: Array, variant: Array, half: Array, tolerance: float) -> None:
        from scipy.spatial import cKDTree  # takes a third of a second to load

        self.here, self.half, self.tolerance = here, half, tolerance
        self.apart = 8 * float(half.max()) * variant[:, None]  # kinds stand far from each other
        self.tree = cKDTree(np.concatenate([here, self.apart], 1))
        self.middle = np.argsort(np.hypot(*here.T), kind="stable")[:SAMPLE]

    def likely(self, ways: Array) -> Array:
        """Tell which translations (m, 2) bring some points in the middle onto others, m bool."""
        return np.array([self._holds(way, self.middle) for way in ways], bool)

    def tried(self, way: Array) -> bool:
        """Tell whether a translation, and its opposite, bring all points that stay on the page onto others."""
        every = np.arange(len(self.here))
        return self._holds(way, every) and self._holds(-way, every)

    def _holds(self, way: Array, some: Array) -> bool:
        there = self.here[some] + way
        stays = (np.abs(there) <= self.half - self.tolerance).all(1)
        if not stays.any():
            return len(some) < len(self.here)
        asked = np.concatenate([there[stays], self.apart[some][stays]], 1)
        away, _ = self.tree.query(asked, distance_upper_bound=2 * self.tolerance)
        return bool(np.isfinite(away).all())
