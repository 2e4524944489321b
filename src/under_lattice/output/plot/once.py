"""Lines drawn once: pieces that lie on others are left out, and what meets end to end is joined into long lines."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from under_lattice.core.progress import QUIET, Progress
from under_lattice.geometry.affine import Array
from under_lattice.pattern.stage import share

BESIDE = 1e-6  # of the size of all, by which lines that lie on each other may be beside each other
LEVEL = 1e-7  # radians, by which two straight pieces that lie on each other may differ


def once(lines: Sequence[Array], progress: Progress = QUIET) -> list[Array]:
    """Return lines (k, 2) that cover what some lines cover, each place once, joined where they meet end to end.

    Parameters
    ----------
    lines : sequence of (k, 2)
        Closed ones end where they begin.
    progress : Progress

    Raises
    ------
    GivenUp
    """
    pieces = segments_of(lines)
    if not len(pieces):
        return []
    near = BESIDE * max(float(np.abs(pieces).max()), 1e-9)
    progress.check()
    return joined(apart(pieces, near, progress), near, progress)


def segments_of(lines: Sequence[Array]) -> Array:
    """Return the straight pieces (n, 2, 2) of lines, without those of no length."""
    if not len(lines):
        return np.zeros((0, 2, 2))
    pieces = np.concatenate([np.stack([line[:-1], line[1:]], 1) for line in lines if len(line) > 1] or [np.zeros((0, 2, 2))])
    return np.asarray(pieces[np.hypot(*(pieces[:, 1] - pieces[:, 0]).T) > 0])


def apart(pieces: Array, near: float, progress: Progress = QUIET) -> Array:
    """Return straight pieces (m, 2, 2) that cover what others (n, 2, 2) cover, no two of them on each other.

    Pieces on one line are laid along it, and what they cover together is cut at every end, so that corners stay corners.

    Raises
    ------
    GivenUp
    """
    pieces = pieces[np.sort(_distinct(pieces, near)[0])]
    alone, groups, unit = _on_lines(pieces, near)
    covered = [_covered(pieces[own], unit[own[0]], near) for own in progress.each(groups)]
    where = np.concatenate([alone, *(np.full(len(part), own.min()) for part, own in zip(covered, groups, strict=True))])
    return np.concatenate([pieces[alone], *covered])[np.argsort(where, kind="stable")]  # as they came


def doubled(pieces: Array, near: float, progress: Progress = QUIET) -> tuple[float, Array]:
    """Return how much of straight pieces (n, 2, 2) lies on others, in the unit of the page, and the pieces (m, 2, 2) that do.

    Raises
    ------
    GivenUp
    """
    first, variant = _distinct(pieces, near)
    again = np.bincount(variant) - 1
    total = float((again * np.hypot(*(pieces[first, 1] - pieces[first, 0]).T)).sum())
    found, pieces = [pieces[first[again > 0]]], pieces[first]
    _, groups, unit = _on_lines(pieces, near)
    for own in progress.each(groups):
        more = _length(pieces[own]) - _length(_covered(pieces[own], unit[own[0]], near))
        if more > near:
            total += more
            found.append(pieces[own])
    return total, np.concatenate(found)


def _distinct(pieces: Array, near: float) -> tuple[Array, Array]:
    """The first (m,) of the pieces that have the same ends, whichever way they run, and which of these each is (n,)."""
    ends = np.rint(pieces / (4 * near))
    back = (ends[:, 0, 0] > ends[:, 1, 0]) | ((ends[:, 0, 0] == ends[:, 1, 0]) & (ends[:, 0, 1] > ends[:, 1, 1]))
    return share(np.where(back[:, None, None], ends[:, ::-1], ends).reshape(-1, 4), 1.0)


def _length(pieces: Array) -> float:
    return float(np.hypot(*(pieces[:, 1] - pieces[:, 0]).T).sum())


def _on_lines(pieces: Array, near: float) -> tuple[Array, list[Array], Array]:
    """The pieces that are alone on their line, the others line by line, the longest of each first, and the ways (n, 2) of all."""
    way = pieces[:, 1] - pieces[:, 0]
    long = np.hypot(*way.T)
    unit = way / long[:, None]
    flip = (unit[:, 0] < -1e-12) | ((np.abs(unit[:, 0]) <= 1e-12) & (unit[:, 1] < 0))
    unit = np.where(flip[:, None], -unit, unit)
    middle = pieces.mean(1)
    beside = unit[:, 0] * middle[:, 1] - unit[:, 1] * middle[:, 0]
    angle = np.arctan2(unit[:, 1], unit[:, 0])
    group = _grouped(angle, beside, np.maximum(LEVEL, 2 * near / long), near)
    size = np.bincount(group)
    several = np.flatnonzero(size[group] > 1)
    several = several[np.lexsort((-long[several], group[several]))]
    stops = np.flatnonzero(np.diff(group[several])) + 1
    return np.flatnonzero(size[group] == 1), [one for one in np.split(several, stops) if len(one)], unit


def _grouped(angle: Array, beside: Array, level: Array, near: float) -> Array:
    """A number for each piece (n,), the same for those on one line."""
    order = np.lexsort((beside, np.rint(angle / 1e-5)))
    group = np.zeros(len(angle), np.int64)
    apart = np.abs(np.diff(beside[order])) > 2 * near
    turned = np.abs(np.diff(angle[order])) > np.maximum(np.maximum(level[order][1:], level[order][:-1]), 1e-9)
    group[order] = np.concatenate([[0], np.cumsum(apart | turned)])
    return group


def _covered(pieces: Array, along: Array, near: float) -> Array:
    """What pieces (k, 2, 2) on one line in a direction (2,) cover, cut at every end of one."""
    ends = pieces @ along
    back = ends[:, 0] > ends[:, 1]
    pieces, ends = np.where(back[:, None, None], pieces[:, ::-1], pieces), np.sort(ends, 1)
    order = np.argsort(ends.ravel(), kind="stable")
    places, points = ends.ravel()[order], pieces.reshape(-1, 2)[order]
    fresh = np.concatenate([[True], np.diff(places) > near])
    places, points = places[fresh], points[fresh]
    middle = (places[:-1] + places[1:]) / 2
    inside = ((ends[:, :1] < middle) & (middle < ends[:, 1:])).any(0)
    return np.stack([points[:-1], points[1:]], 1)[inside]


def joined(pieces: Array, near: float, progress: Progress = QUIET) -> list[Array]:
    """Return straight pieces (n, 2, 2) as long lines: each goes on with the piece that turns least; ends of odd corners come first.

    Raises
    ------
    GivenUp
    """
    if not len(pieces):
        return []
    corners = np.unique(np.rint(pieces.reshape(-1, 2) / (4 * near)), axis=0, return_inverse=True)[1].reshape(-1, 2)
    at: dict[int, list[int]] = {}
    for k, (one, other) in enumerate(corners.tolist()):
        at.setdefault(one, []).append(k)
        at.setdefault(other, []).append(k)
    used = np.zeros(len(pieces), bool)
    begins = sorted(at, key=lambda corner: (len(at[corner]) % 2 == 0, at[corner][0]))
    out = []
    for begin in progress.each(begins):
        while any(not used[k] for k in at[begin]):
            out.append(_walk(begin, pieces, corners, at, used))
    return out


def _walk(begin: int, pieces: Array, corners: Array, at: dict[int, list[int]], used: Array) -> Array:
    """A line from a corner on, as far as there are pieces left."""
    line: list[Array] = []
    here, heading = begin, None
    while True:
        left = [k for k in at[here] if not used[k]]
        if not left:
            return np.array(line)
        ways = [(pieces[k, 1] - pieces[k, 0]) * (1 if corners[k, 0] == here else -1) for k in left]
        best = 0
        if heading is not None and len(left) > 1:
            best = int(np.argmax([np.dot(way, heading) / max(float(np.hypot(*way)), 1e-300) for way in ways]))
        k, heading = left[best], ways[best]
        used[k] = True
        forward = corners[k, 0] == here
        if not line:
            line.append(pieces[k, 0 if forward else 1])
        line.append(pieces[k, 1 if forward else 0])
        here = int(corners[k, 1 if forward else 0])
