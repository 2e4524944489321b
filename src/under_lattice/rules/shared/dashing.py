"""Lines cut into dashes: each distinct outline once, dashes that are alike as one shape that is placed along its line."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

import numpy as np

from under_lattice.core.progress import QUIET, Progress
from under_lattice.geometry.affine import Array, compose, moves
from under_lattice.geometry.arc_length import Walk
from under_lattice.geometry.cutting import cubics_of, parts_between, points_of
from under_lattice.geometry.outline import CURVE, LINE, MOVE
from under_lattice.pattern.marks import Marks
from under_lattice.pattern.stage import Family, share

LOOKED_AT = 12  # places along a dash by which it is told whether it is like another
ALIKE = 2e-6  # of the size of its line, by which places of like dashes may differ
KINDS_MOST = 64  # so many kinds of dashes of a line are looked for
NO_LENGTH = 1e-12  # of the size of an outline

Fitting = Callable[[float, bool], tuple[Array, Array]]  # length of a line, closed -> where dashes begin and end along it (n,)


class Dashes(NamedTuple):
    """Dashes of the lines of one outline, or of all marks.

    points is (V, K, 2), the distinct ones, each about its middle; the others are rows, (n,) and (n, 2, 3): which one a dash shows,
    on which line it is, the how manieth, where it lies, and whose it is.
    """

    points: Array
    variant: Array
    line: Array
    number: Array
    xform: Array
    mark: Array


def dashes_of_marks(marks: Marks, fitting: Fitting, limit: Callable[[float], None], progress: Progress = QUIET) -> Dashes:
    """Return the dashes of all lines, mark by mark.

    Marks that show one outline at one size are cut once: what turns or mirrors it turns its dashes.

    Parameters
    ----------
    marks : Marks
    fitting : callable
    limit : callable
        Told how many dashes there are; raises where they are too many.
    progress : Progress

    Raises
    ------
    LimitError
    GivenUp
    """
    shown = np.flatnonzero(marks.variant >= 0)
    turned, sized = _turn_and_size(marks.xform[shown, :, :2])
    first, kind = share(np.column_stack([marks.family[shown], marks.variant[shown], sized.reshape(-1, 4)]))
    times = np.bincount(kind, minlength=len(first))
    cut: list[Dashes] = []
    total = 0.0
    for k, at in enumerate(first):
        progress.step(k / len(first))
        family = marks.families[marks.family[shown[at]]]
        cut.append(_cut(family.verbs, family.points[marks.variant[shown[at]]] @ sized[at].T, fitting))
        total += float(times[k]) * len(cut[-1].variant)
        limit(total)
    placed = np.concatenate([turned, marks.xform[shown][:, :, 2:]], 2)
    return _of_each(_together(cut), cut, kind, placed)._replace(mark=np.repeat(shown, _counts(cut)[kind]))


def _of_each(together: Dashes, cut: list[Dashes], kind: Array, placed: Array) -> Dashes:
    """The dashes of one outline after the other, each the one of a kind (m,) that is placed by (m, 2, 3)."""
    counts, begins = _counts(cut), np.cumsum([0, *_counts(cut)])
    mine = counts[kind]
    number = np.arange(mine.sum()) - np.repeat(np.cumsum(mine) - mine, mine)
    row, whose = np.repeat(begins[kind], mine) + number, np.repeat(np.arange(len(kind)), mine)
    lines = np.array([int(one.line.max(initial=-1)) + 1 for one in cut], int)[kind]
    return together._replace(
        variant=together.variant[row].astype(np.int32),
        line=(np.cumsum(lines) - lines)[whose] + together.line[row],
        number=together.number[row],
        xform=compose(placed[whose], together.xform[row]),
    )


def _counts(cut: list[Dashes]) -> Array:
    """How many dashes each has."""
    return np.array([len(one.variant) for one in cut], int)


def family_of(dashes: Dashes, straight: bool) -> Family:
    """Return the distinct dashes as open lines; those of straight outlines have their corners alone."""
    if straight:
        points = dashes.points[:, ::3]
        return Family(bytes([MOVE] + [LINE] * (points.shape[1] - 1)), points, dashes.variant)
    return Family(bytes([MOVE] + [CURVE] * (dashes.points.shape[1] // 3)), dashes.points, dashes.variant)


def _turn_and_size(linear: Array) -> tuple[Array, Array]:
    """Maps (n, 2, 2) as what turns or mirrors after what stretches: the polar decomposition."""
    left, stretch, right = np.linalg.svd(linear)
    return left @ right, np.einsum("nki,nk,nkj->nij", right, stretch, right)


def _together(cut: list[Dashes]) -> Dashes:
    """The dashes of all outlines with one list of distinct ones."""
    if not cut:
        none = np.zeros(0, int)
        return Dashes(np.zeros((0, 4, 2)), none, none, none, np.zeros((0, 2, 3)), none)
    most = max(one.points.shape[1] for one in cut)
    points = np.concatenate([_padded(one.points, most) for one in cut])
    begins = np.cumsum([0, *(len(one.points) for one in cut)])[:-1]
    variant = np.concatenate([one.variant + begin for one, begin in zip(cut, begins, strict=True)])
    line, number, xform, mark = (np.concatenate([getattr(one, name) for one in cut]) for name in Dashes._fields[2:])
    return Dashes(points, variant, line, number, xform, mark)


def _padded(points: Array, most: int) -> Array:
    return np.concatenate([points, np.repeat(points[:, -1:], most - points.shape[1], 1)], 1)


def _cut(verbs: bytes, points: Array, fitting: Fitting) -> Dashes:
    """The dashes of one outline (K, 2), at the size it has."""
    size = float(np.ptp(points, 0).max())
    made = []
    for line, (cubics, closed) in enumerate(_lines(verbs, points, size)):
        walk = Walk(cubics)
        begin, end = fitting(walk.length, closed)
        pieces, signs = _pieces(walk, begin, end, closed)
        first, variant, seat = _alike(signs, ALIKE * size)
        middle = (pieces[first].min(1) + pieces[first].max(1)) / 2  # of the first of each kind, as it lies
        to_first = seat[first]
        own = np.einsum("vji,vkj->vki", to_first[:, :, :2], pieces[first] - to_first[:, None, :, 2])  # unturned, from its beginning
        about = np.einsum("vji,vj->vi", to_first[:, :, :2], middle - to_first[:, :, 2])
        xform = compose(seat, moves(about)[variant])
        numbers = np.arange(len(begin))
        made.append(Dashes(own - about[:, None], variant, np.full(len(begin), line), numbers, xform, numbers))
    return _together(made)


def _lines(verbs: bytes, points: Array, size: float) -> list[tuple[Array, bool]]:
    """The contours of an outline that have a length, as cubics that have one."""
    out = []
    for cubics, closed in cubics_of(verbs, points) if size > 0 else ():
        long = np.abs(cubics - cubics[:, :1]).max((1, 2)) > NO_LENGTH * size
        if long.any():
            out.append((cubics[long], closed))
    return out


def _pieces(walk: Walk, begin: Array, end: Array, closed: bool) -> tuple[Array, Array]:
    """Dashes (n, K, 2) between lengths along a line, and places (n, LOOKED_AT, 2) on each; of closed lines beyond the joint too."""

    def places(lengths: Array) -> Array:
        rounds = np.floor(lengths / walk.length + 1e-12) if closed else np.zeros(len(lengths))
        rounds = np.where(lengths <= 0, 0.0, rounds)
        return walk.places(lengths - rounds * walk.length) + rounds * len(walk.cubics)

    low, high = places(begin), places(end)
    parts, owner = parts_between(walk.cubics, low, np.maximum(high, low + 1e-9))
    most = int(np.bincount(owner, minlength=1).max(initial=1))
    at = np.arange(len(owner)) - np.searchsorted(owner, owner)
    points = np.empty((len(begin), most, 4, 2))
    last = np.searchsorted(owner, np.arange(len(begin)), "right") - 1
    points[:] = parts[last][:, None, 3:]
    points[owner, at] = parts
    shares = np.linspace(0.0, 1.0, LOOKED_AT)
    where = places((begin[:, None] + (end - begin)[:, None] * shares).ravel())
    seen = points_of(walk.cubics, where).reshape(len(begin), LOOKED_AT, 2)
    return np.concatenate([points[:, 0, :1], points[:, :, 1:].reshape(len(begin), -1, 2)], 1), seen


def _alike(seen: Array, near: float) -> tuple[Array, Array, Array]:
    """Find dashes that are one when they are laid on each other, beginning on beginning and end towards end.

    Parameters
    ----------
    seen : (n, LOOKED_AT, 2)
    near : float

    Returns
    -------
    first : (V,)
        One dash of each kind.
    variant : (n,)
    seat : (n, 2, 3)
        From the first place, along the line to the last one, to where each lies.
    """
    towards = seen[:, -1] - seen[:, 0]
    turns_back = np.hypot(*towards.T) < 1e-6 * np.abs(seen - seen[:, :1]).max((1, 2))
    towards[turns_back] = (seen[:, LOOKED_AT // 2] - seen[:, 0])[turns_back]
    towards = towards / np.maximum(np.hypot(*towards.T), 1e-300)[:, None]
    cos, sin = towards.T
    seat = np.stack([np.stack([cos, -sin, seen[:, 0, 0]], 1), np.stack([sin, cos, seen[:, 0, 1]], 1)], 1)
    laid = np.einsum("nji,nkj->nki", seat[:, :, :2], seen - seen[:, :1])
    left, variant = np.arange(len(seen)), np.zeros(len(seen), int)
    first: list[int] = []
    while len(left) and len(first) < KINDS_MOST:
        like = np.abs(laid[left] - laid[left[0]]).max((1, 2)) <= near
        variant[left[like]] = len(first)
        first.append(int(left[0]))
        left = left[~like]
    variant[left] = len(first) + np.arange(len(left))
    return np.array([*first, *left], int), variant, seat
