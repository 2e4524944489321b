"""The order in which lines are drawn, and which way, so that the pen is carried as little as may be."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from under_lattice.core.progress import QUIET, Progress
from under_lattice.geometry.affine import Array

NEIGHBOURS = 8  # ends near an end, that are tried
ROUNDS = 6  # in which the order is bettered at most
ENOUGH = 2e-4  # of the way: a round that saves less is the last
REBUILT = 0.5  # of the ends taken, after which the rest are laid out anew
LOOKED_EVERY = 256


def travel(lines: Sequence[Array], begin: Array | None = None) -> float:
    """Return how far the pen is carried between lines (k, 2) in their order, from where it begins (2,) on, the origin without."""
    if not len(lines):
        return 0.0
    starts, ends = np.array([line[0] for line in lines]), np.array([line[-1] for line in lines])
    first = np.zeros(2) if begin is None else begin
    return float(np.hypot(*(starts[0] - first)) + np.hypot(*(starts[1:] - ends[:-1]).T).sum())


def ordered(lines: Sequence[Array], begin: Array | None = None, progress: Progress = QUIET) -> list[Array]:
    """Return lines in an order, some turned round, that carries the pen little: the nearest first, then parts of the way turned.

    A part of the way between two lines is gone the other way round where that is shorter (2-opt), tried between ends that are near
    each other; closed lines begin at the corner nearest to where the pen comes from.

    Parameters
    ----------
    lines : sequence of (k, 2)
    begin : array (2,), optional
        Where the pen stands.
    progress : Progress

    Raises
    ------
    GivenUp
    """
    if len(lines) < 2:
        return list(lines)
    first = np.zeros(2) if begin is None else np.asarray(begin, float)
    ends = np.array([(line[0], line[-1]) for line in lines])
    order, turned = _nearest(ends, first, progress)
    _bettered(ends, order, turned, first, progress)
    out = [lines[k][::-1] if back else lines[k] for k, back in zip(order.tolist(), turned.tolist(), strict=True)]
    return _begun_near(out, first)


def _nearest(ends: Array, here: Array, progress: Progress) -> tuple[Array, Array]:
    """An order in which each line is the one with an end nearest to where the one before ended; and which are turned round."""
    from scipy.spatial import cKDTree  # takes a while to load

    count = len(ends)
    left = np.ones(count, bool)
    order, turned = np.empty(count, np.int64), np.zeros(count, bool)
    which, taken = np.arange(count), 0
    tree = cKDTree(ends.reshape(-1, 2))
    for at in range(count):
        if at % LOOKED_EVERY == 0:
            progress.step(0.5 * at / count)
        if taken > REBUILT * len(which):
            which, taken = np.flatnonzero(left), 0
            tree = cKDTree(ends[which].reshape(-1, 2))
        k = NEIGHBOURS
        while True:
            _, found = tree.query(here, min(k, 2 * len(which)))
            open_ends = [end for end in np.atleast_1d(found).tolist() if left[which[end // 2]]]
            if open_ends:
                break
            k *= 4
        line, side = int(which[open_ends[0] // 2]), open_ends[0] % 2
        order[at], turned[at], left[line] = line, bool(side), False
        taken += 1
        here = ends[line, 1 - side]
    return order, turned


def _bettered(ends: Array, order: Array, turned: Array, begin: Array, progress: Progress) -> None:
    """Turn parts of the way round where that is shorter, in place."""
    from scipy.spatial import cKDTree

    count = len(order)
    every = ends.reshape(-1, 2)
    near = np.asarray(cKDTree(every).query(every, min(NEIGHBOURS + 1, 2 * count))[1]).reshape(2 * count, -1)[:, 1:]
    where = np.empty(count, np.int64)
    where[order] = np.arange(count)
    for turn in range(ROUNDS):
        saved = 0.0
        before = _way(ends, order, turned, begin)
        for at in range(count - 1):
            if at % LOOKED_EVERY == 0:
                progress.step(0.5 + 0.5 * (turn + at / count) / ROUNDS)
            saved += _try(at, ends, order, turned, where, near)
        if saved < ENOUGH * max(before, 1e-12):
            return


def _way(ends: Array, order: Array, turned: Array, begin: Array) -> float:
    """How far the pen is carried."""
    side = turned.astype(int)
    starts, lasts = ends[order, side], ends[order, 1 - side]
    return float(np.hypot(*(starts[0] - begin)) + np.hypot(*(starts[1:] - lasts[:-1]).T).sum())


def _try(at: int, ends: Array, order: Array, turned: Array, where: Array, near: Array) -> float:
    """Turn a part of the way that begins after the line at a place, or ends there, where it saves the most; returns how much."""
    line, back, count = int(order[at]), int(turned[at]), len(order)
    ax, ay = ends[line, 1 - back].tolist()
    after, its = int(order[at + 1]), int(turned[at + 1])
    bx, by = ends[after, its].tolist()
    here = ((ax - bx) ** 2 + (ay - by) ** 2) ** 0.5
    best, low, high = 1e-9, -1, -1
    for end in near[2 * line + (1 - back)].tolist():
        other = end // 2
        j = int(where[other])
        if end % 2 != 1 - int(turned[j]) or j == at or j == count - 1:  # only where another line ends, too
            continue
        cx, cy = ends[other, end % 2].tolist()
        reach = ((ax - cx) ** 2 + (ay - cy) ** 2) ** 0.5
        if reach >= here:
            break
        follows = int(order[j + 1])
        dx, dy = ends[follows, int(turned[j + 1])].tolist()
        gain = here + ((cx - dx) ** 2 + (cy - dy) ** 2) ** 0.5 - reach - ((bx - dx) ** 2 + (by - dy) ** 2) ** 0.5
        if gain > best:
            best, low, high = gain, min(at, j) + 1, max(at, j)
    if low < 0:
        return 0.0
    order[low : high + 1] = order[low : high + 1][::-1].copy()
    turned[low : high + 1] = ~turned[low : high + 1][::-1]
    where[order[low : high + 1]] = np.arange(low, high + 1)
    return float(best)


def _begun_near(lines: list[Array], here: Array) -> list[Array]:
    """The same lines, closed ones begun at the corner nearest to where the pen comes from."""
    out = []
    for line in lines:
        if len(line) > 3 and (line[0] == line[-1]).all():
            k = int(((line[:-1] - here) ** 2).sum(1).argmin())
            line = np.concatenate([line[k:-1], line[: k + 1]])
        out.append(line)
        here = line[-1]
    return out
