"""Points of outlines by hand: moved, added, removed, made smooth or straight."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from under_lattice.core.errors import InputError
from under_lattice.geometry.affine import Array
from under_lattice.geometry.outline import CLOSE, CURVE, LINE, MOVE, POINTS_OF
from under_lattice.geometry.path_text import Part

SMOOTH = 2.0  # degrees by which the handles of a smooth point may be off one line
THIRD = 1 / 3


class Knot(NamedTuple):
    """A point of a contour: place (2,), the handles towards it and from it (2,) or None, and whether one of a closed contour."""

    at: Array
    arrives: Array | None
    leaves: Array | None


class Contour(NamedTuple):
    """Knots in order; of a closed contour the last goes on to the first."""

    knots: tuple[Knot, ...]
    closed: bool


def contours_of(part: Part) -> tuple[Contour, ...]:
    """Return a part as contours of knots."""
    verbs, points = part
    out: list[Contour] = []
    knots: list[Knot] = []
    at = 0

    def finish(closed: bool) -> None:
        nonlocal knots
        if closed and len(knots) > 1 and np.allclose(knots[0].at, knots[-1].at, atol=1e-9):
            last = knots.pop()  # the seam written twice
            knots[0] = knots[0]._replace(arrives=last.arrives)
        if knots:
            out.append(Contour(tuple(knots), closed))
        knots = []

    for verb in verbs:
        own = points[at : at + POINTS_OF[verb]]
        at += POINTS_OF[verb]
        if verb == MOVE:
            finish(False)
            knots.append(Knot(own[0], None, None))
        elif verb == LINE:
            knots.append(Knot(own[0], None, None))
        elif verb == CURVE:
            knots[-1] = knots[-1]._replace(leaves=own[0])
            knots.append(Knot(own[2], own[1], None))
        elif verb == CLOSE:
            finish(True)
    finish(False)
    return tuple(out)


def part_of(contours: tuple[Contour, ...]) -> Part:
    """Return contours as verbs and points."""
    verbs, points = bytearray(), []
    for knots, closed in contours:
        verbs.append(MOVE)
        points.append(knots[0].at)
        for one, other in zip(knots, [*knots[1:], *([knots[0]] if closed else [])], strict=False):
            if one.leaves is None and other.arrives is None:
                if other is knots[0]:
                    break  # closing draws this line
                verbs.append(LINE)
                points.append(other.at)
            else:
                verbs.append(CURVE)
                points += [_handle(one.leaves, one, other), _handle(other.arrives, other, one), other.at]
        verbs += bytes([CLOSE]) * closed
    return bytes(verbs), np.array(points)


def _handle(given: Array | None, own: Knot, other: Knot) -> Array:
    return given if given is not None else own.at + (other.at - own.at) * THIRD


def is_smooth(knot: Knot) -> bool:
    """Tell whether a knot's handles lie on one line."""
    if knot.arrives is None or knot.leaves is None:
        return False
    one, other = knot.at - knot.arrives, knot.leaves - knot.at
    return abs(float(np.degrees(np.arctan2(one[0] * other[1] - one[1] * other[0], one @ other)))) < SMOOTH


def with_knot(contour: Contour, at: int, knot: Knot) -> Contour:
    """Return a contour (K, 2) with one knot changed."""
    return contour._replace(knots=(*contour.knots[:at], knot, *contour.knots[at + 1 :]))


def moved(contour: Contour, at: int, to: Array) -> Contour:
    """Return a contour (K, 2) with a knot at another place, its handles with it."""
    knot = contour.knots[at]
    by = to - knot.at
    return with_knot(contour, at, Knot(to, *(None if one is None else one + by for one in (knot.arrives, knot.leaves))))


def bent(contour: Contour, at: int, leaving: bool, to: Array, free: bool) -> Contour:
    """Return a contour (K, 2) with a handle at another place; so does the one across where the knot is smooth, unless `free`."""
    knot = contour.knots[at]
    smooth = is_smooth(knot) and not free
    changed = knot._replace(leaves=to) if leaving else knot._replace(arrives=to)
    across = knot.arrives if leaving else knot.leaves
    if smooth and across is not None:
        away = knot.at - to
        length = float(np.hypot(*away))
        turned = knot.at + away / max(length, 1e-12) * float(np.hypot(*(across - knot.at)))
        changed = changed._replace(arrives=turned) if leaving else changed._replace(leaves=turned)
    return with_knot(contour, at, changed)


def removed(contour: Contour, at: int) -> Contour:
    """Return a contour (K, 2) without a knot.

    Raises
    ------
    InputError
        When too few would be left.
    """
    least = 3 if contour.closed else 2
    if len(contour.knots) <= (2 if contour.closed and any(knot.leaves is not None for knot in contour.knots) else least):
        raise InputError("an outline keeps its last points; remove the shape instead")
    return contour._replace(knots=(*contour.knots[:at], *contour.knots[at + 1 :]))


def neighbours(contour: Contour, at: int) -> tuple[Array, Array]:
    """Return the places of the knots before and after one; at the ends of an open contour its own, whole numbers."""
    count = len(contour.knots)
    before = contour.knots[(at - 1) % count] if at or contour.closed else contour.knots[at]
    after = contour.knots[(at + 1) % count] if at + 1 < count or contour.closed else contour.knots[at]
    return before.at, after.at


def smoothed(contour: Contour, at: int) -> Contour:
    """Return a contour (K, 2) that goes smoothly through a knot, along the line between its neighbours."""
    knot = contour.knots[at]
    before, after = neighbours(contour, at)
    along = (after - before) / max(float(np.hypot(*(after - before))), 1e-12)
    arrives = knot.at - along * float(np.hypot(*(knot.at - before))) * THIRD
    leaves = knot.at + along * float(np.hypot(*(after - knot.at))) * THIRD
    ends = not contour.closed
    first, last = ends and at == 0, ends and at == len(contour.knots) - 1
    return with_knot(contour, at, Knot(knot.at, None if first else arrives, None if last else leaves))


def straightened(contour: Contour, at: int) -> Contour:
    """Return a contour (K, 2) that arrives at a knot and leaves it in straight lines."""
    count = len(contour.knots)
    out = with_knot(contour, at, Knot(contour.knots[at].at, None, None))
    before, after = (at - 1) % count, (at + 1) % count
    if contour.closed or at > 0:
        out = with_knot(out, before, out.knots[before]._replace(leaves=None))
    if contour.closed or at < count - 1:
        out = with_knot(out, after, out.knots[after]._replace(arrives=None))
    return out


def nearest(contour: Contour, place: Array) -> tuple[float, int, float]:
    """Return how far a contour is from a place, in which piece it is nearest, and where in that, 0..1."""
    best = (np.inf, 0, 0.0)
    t = np.linspace(0.0, 1.0, 65)
    for k in range(len(contour.knots) - (not contour.closed)):
        far = np.hypot(*(_along(contour, k, t) - place).T)
        at = int(far.argmin())
        if far[at] < best[0]:
            best = (float(far[at]), k, float(t[at]))
    return best


def _corners(contour: Contour, k: int) -> tuple[Array, Array, Array, Array]:
    one, other = contour.knots[k], contour.knots[(k + 1) % len(contour.knots)]
    return one.at, _handle(one.leaves, one, other), _handle(other.arrives, other, one), other.at


def _along(contour: Contour, k: int, t: Array) -> Array:
    a, b, c, d = _corners(contour, k)
    s = 1 - t
    return np.asarray(np.outer(s**3, a) + np.outer(3 * s * s * t, b) + np.outer(3 * s * t * t, c) + np.outer(t**3, d))


def added(contour: Contour, place: Array) -> tuple[Contour, int]:
    """Return a contour (K, 2) with one more knot where it is nearest to a place, its course as before; and the knot's number."""
    _, k, t = nearest(contour, place)
    t = float(np.clip(t, 0.02, 0.98))
    one, other = contour.knots[k], contour.knots[(k + 1) % len(contour.knots)]
    a, b, c, d = _corners(contour, k)
    ab, bc, cd = a + (b - a) * t, b + (c - b) * t, c + (d - c) * t
    abc, bcd = ab + (bc - ab) * t, bc + (cd - bc) * t
    middle = abc + (bcd - abc) * t
    straight = one.leaves is None and other.arrives is None
    new = Knot(middle, None, None) if straight else Knot(middle, abc, bcd)
    knots = list(contour.knots)
    if not straight:
        knots[k] = one._replace(leaves=ab)
        knots[(k + 1) % len(knots)] = other._replace(arrives=cd)
    return contour._replace(knots=(*knots[: k + 1], new, *knots[k + 1 :])), k + 1
