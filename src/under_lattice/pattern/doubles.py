"""Copies that lie exactly on others: told by their outlines as they lie, whatever map brought them there."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
import shapely

from under_lattice.core.progress import QUIET, Progress
from under_lattice.geometry.affine import Array
from under_lattice.pattern.drawn import Drawn
from under_lattice.pattern.stage import share

NEAR = 1e-6  # of the size of an outline: what is no further apart is the same
DIFFERENT = 1e-3  # of an area, or of a length: what differs by more is not the same after all
WAYS = np.radians([11.3, 53.9, 97.1, 151.7, 199.3, 263.9, 317.3])  # outlines that reach as far in all of these are alike
LOOKED_MOST = 2_000  # pairs whose areas are overlaid to be sure
AT_A_TIME = 100


def doubles(drawn: Drawn, progress: Progress = QUIET) -> Array:
    """Return the copies (k,) whose outlines lie exactly beneath those of a later copy: without them the picture is the same.

    Raises
    ------
    GivenUp
    """
    if len(drawn.rows) < 2:
        return np.zeros(0, np.int64)
    size = float(np.median(drawn.reach)) or 1.0
    copies, told = _summed(drawn, told_of(drawn) / size)
    _, variant = share(told, NEAR)
    some = np.flatnonzero(np.bincount(variant)[variant] > 1)  # most works end here
    if not len(some):
        return some
    reaches = _reaches(drawn, copies[some]) / size
    _, variant = share(np.concatenate([told[some], reaches], 1), NEAR)
    order = np.argsort(variant, kind="stable")[::-1]  # of those alike the last first
    fresh = np.concatenate([[True], variant[order][1:] != variant[order][:-1]])
    leader = order[np.maximum.accumulate(np.where(fresh, np.arange(len(order)), 0))]
    beneath, seen = copies[some[order[~fresh]]], copies[some[leader[~fresh]]]
    return np.sort(beneath[_alike(drawn, beneath, seen, progress)])


def told_of(drawn: Drawn) -> Array:
    """Return what tells outlines apart wherever they lie (N, 3): their size, and the middle of their points."""
    middle, size = drawn.spread
    x, kind = drawn.xform, drawn.kind
    there = np.einsum("nij,nj->ni", x[:, :, :2], middle[kind]) + x[:, :, 2]
    return np.column_stack([size[kind] * np.sqrt(drawn.scales[0] * drawn.scales[1]), there])


def _summed(drawn: Drawn, told: Array) -> tuple[Array, Array]:
    """The copies (C,) that show anything, and what is told of all their marks together (C, 4)."""
    copies, which = np.unique(drawn.copy, return_inverse=True)
    told = np.column_stack([told, np.ones(len(told))])
    if len(copies) == len(told):
        return copies, told
    summed = np.zeros((len(copies), 4))
    np.add.at(summed, which.ravel(), told)
    return copies, summed


def _reaches(drawn: Drawn, copies: Array) -> Array:
    """How far each of `copies` (C,) reaches in some directions (C, W)."""
    out = np.full((len(copies), len(WAYS)), -np.inf)
    for own, reach in _reaching(drawn, np.flatnonzero(np.isin(drawn.copy, copies))):
        np.maximum.at(out, np.searchsorted(copies, drawn.copy[own]), reach)
    return out


def reaches_of(drawn: Drawn, middle: Array, progress: Progress = QUIET) -> Array:
    """Return how far each mark (N,) reaches from a middle of its own (N, 2) in some directions (N, W).

    Raises
    ------
    GivenUp
    """
    out = np.empty((len(drawn.rows), len(WAYS)))
    for own, reach in progress.each(_reaching(drawn, np.arange(len(drawn.rows)))):
        out[own] = reach - middle[own] @ _ways()
    return out


def _ways() -> Array:
    """The directions (2, W)."""
    return np.stack([np.cos(WAYS), np.sin(WAYS)])


def _reaching(drawn: Drawn, marks: Array) -> Iterator[tuple[Array, Array]]:
    """Yield some of `marks` (k,) after the other and how far they reach in some directions (k, W)."""
    ways = _ways()
    discs = drawn.disc[drawn.kind[marks]]
    yield marks[discs], drawn.centre[marks[discs]] @ ways + drawn.reach[marks[discs], None]
    others = marks[~discs]
    for at in range(0, len(others), AT_A_TIME):
        some = others[at : at + AT_A_TIME]
        yield some, drawn.ends(some, ways)


def _alike(drawn: Drawn, one: Array, other: Array, progress: Progress) -> Array:
    """Tell which pairs of copies (k,) cover the same, or have the same lines; of pairs that lie alike one is looked at.

    Beyond a bound their measures are enough.
    """
    begin = np.searchsorted(drawn.copy, [one, other])
    first, variant = drawn.poses(begin[0], begin[1])
    same = np.ones(len(first), bool)
    for at, k in enumerate(first[:LOOKED_MOST]):
        progress.check()
        mine, its = (shapely.union_all(drawn.placed(np.flatnonzero(drawn.copy == copy))) for copy in (one[k], other[k]))
        if mine.area > 0:
            same[at] = shapely.symmetric_difference(mine, its).area <= DIFFERENT * mine.area
        else:
            same[at] = shapely.hausdorff_distance(mine, its) <= DIFFERENT * max(mine.length, 1e-12)
    return np.asarray(same[variant])
