"""Curves found again: areas that were overlaid as straight pieces get back the cubics their edges come of.

Overlays keep the corners they are given. An edge between two neighbouring corners of a flattened cubic therefore is known by its
ends, and what is left of one that was cut by how far along it the cut lies.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, NamedTuple

import numpy as np
import shapely

from under_lattice.core.progress import QUIET, Progress
from under_lattice.geometry.affine import Array, apply
from under_lattice.geometry.body import needless
from under_lattice.geometry.cutting import within_cubics
from under_lattice.geometry.outline import CLOSE, CURVE, LINE, MOVE, POINTS_OF, steps_for
from under_lattice.pattern.clipping import ERROR
from under_lattice.pattern.marks import Marks
from under_lattice.pattern.stage import Family

PRIMES = np.array([0x9E3779B97F4A7C15, 0xC2B2AE3D27D4EB4F], np.uint64)
TABLE_BITS = 20
SEAM = 1e-9  # of a cubic: where two pieces of it meet
NEWTON = 12  # steps of Newton's method, which doubles the figures that are right in each
EXACT = 1e-12  # of the size of two curves, by which they may be apart where they cross
MOVED = 0.05  # of their size, by which the crossing of curves may be beside that of their straight pieces
ON = 1e-6  # of a chord's length: how near a cut lies to it


class Chords(NamedTuple):
    """Straight pieces of all cubics of some marks as they lie, corners on a grid.

    cubics is (C, 4, 2), ends (E, 2, 2) whole multiples of the grid; cubic, at and wide (E,) say which cubic each is of, where on it
    it begins and how much of it it is.
    """

    grid: float
    cubics: Array
    ends: Array
    cubic: Array
    at: Array
    wide: Array


def _key(places: Array) -> Array:
    """A number for each place (..., 2) of whole coordinates."""
    with np.errstate(over="ignore"):
        x, y = np.moveaxis(places.astype(np.int64).astype(np.uint64), -1, 0)
        out = x * PRIMES[0]
        out = (out ^ (out >> np.uint64(29))) + y * PRIMES[1]
        out = (out ^ (out >> np.uint64(32))) * PRIMES[0]
        return np.asarray(out ^ (out >> np.uint64(29)))


def chords_of(grid: float, *overlaid: Marks) -> Chords | None:
    """Return the straight pieces of the cubics of all closed marks, as they are flattened for overlays; None without any curve.

    Parameters
    ----------
    grid : float
        Of the overlay, in the unit of the marks.
    *overlaid : Marks
    """
    found = [chords for chords in (_chords(marks, grid) for marks in overlaid) if chords is not None]
    if not found:
        return None
    before = np.cumsum([0, *(len(chords.cubics) for chords in found)])
    which = [chords.cubic + count for chords, count in zip(found, before[:-1], strict=True)]
    cubics, ends, at, wide = (np.concatenate([getattr(c, name) for c in found]) for name in ("cubics", "ends", "at", "wide"))
    return Chords(grid, cubics, ends, np.concatenate(which), at, wide)


def _chords(marks: Marks, grid: float) -> Chords | None:
    """The same of one layer's marks."""
    cubics, ends, which, at, wide = [], [], [], [], []
    total = 0
    kinds, kind = np.unique(np.stack([marks.family, marks.variant], 1), axis=0, return_inverse=True)
    for k, (f, v) in enumerate(kinds):
        family = marks.families[f]
        if v < 0 or family.verbs[-1] != CLOSE or CURVE not in family.verbs:
            continue
        own = np.flatnonzero(kind.ravel() == k)
        points = family.points[v]
        size = float(np.ptp(points, 0).max()) or 1.0
        steps = steps_for(family.verbs, points[None], ERROR * size)
        curves = _curves(family.verbs, points)
        t = np.arange(steps + 1) / steps
        s = 1 - t
        weights = np.stack([s**3, 3 * s * s * t, 3 * s * t * t, t**3], 1)
        on = np.einsum("tk,ckx->ctx", weights, curves)
        on[:, 0], on[:, -1] = curves[:, 0], curves[:, 3]
        placed = apply(marks.xform[own][:, None], on.reshape(1, -1, 2)).reshape(len(own) * len(curves), steps + 1, 2)
        whole = np.rint(placed / grid)
        cubics.append(apply(marks.xform[own][:, None], curves.reshape(1, -1, 2)).reshape(-1, 4, 2))
        ends.append(np.stack([whole[:, :-1], whole[:, 1:]], 2).reshape(-1, 2, 2))
        count = len(placed)
        which.append(np.repeat(total + np.arange(count), steps))
        at.append(np.tile(t[:-1], count))
        wide.append(np.full(count * steps, 1 / steps))
        total += count
    if not total:
        return None
    return Chords(
        grid, np.concatenate(cubics), np.concatenate(ends), np.concatenate(which), np.concatenate(at), np.concatenate(wide)
    )


def _curves(verbs: bytes, points: Array) -> Array:
    """The cubics (C, 4, 2) of an outline."""
    out, at, pen = [], 0, points[0]
    for verb in verbs:
        if verb == CURVE:
            out.append(np.stack([pen, *points[at : at + 3]]))
        at += POINTS_OF[verb]
        if verb in (MOVE, LINE, CURVE):
            pen = points[at - 1]
    return np.array(out)


def contours_of_areas(areas: Sequence[Any], chords: Chords, progress: Progress = QUIET) -> list[list[Array]]:
    """Return the rings of polygons as cubics (S, 4, 2), outer ones first; edges of no curve have their handles at the thirds.

    Raises
    ------
    GivenUp
    """
    rings = []
    for area in shapely.orient_polygons(np.array(areas, object)):
        rings.append([np.asarray(ring.coords) for ring in (area.exterior, *area.interiors)])  # noqa: PERF401
    flat = [ring for own in rings for ring in own]
    cubic, begin, end = _edges(np.concatenate([r[:-1] for r in flat]), np.concatenate([r[1:] for r in flat]), chords, progress)
    stops = np.cumsum([len(ring) - 1 for ring in flat])[:-1]
    parts = zip(flat, np.split(cubic, stops), np.split(begin, stops), np.split(end, stops), strict=True)
    runs = [_runs(*part) for part in progress.each(parts)]
    which, low, high, first, last = (np.concatenate(column) for column in zip(*runs, strict=True))
    _meet(chords.cubics, which, low, high, first, last, np.array([len(run[0]) for run in runs]))
    straight = _carrier(chords.cubics, np.full(len(which), -1), first, last)
    part = within_cubics(chords.cubics[np.maximum(which, 0)], low, high)
    curved = np.stack([first, part[:, 1] + first - part[:, 0], part[:, 2] + last - part[:, 3], last], 1)
    cubics = np.where((which >= 0)[:, None, None], curved, straight)
    made = iter(np.split(cubics, np.cumsum([len(run[0]) for run in runs])[:-1]))
    return [[next(made) for _ in own] for own in rings]


def _meet(cubics: Array, which: Array, low: Array, high: Array, first: Array, last: Array, lengths: Array) -> None:
    """Move places where pieces of runs were cut onto where their curves really cross, in place: by Newton's method.

    `which`, `low`, `high`, `first`, `last` are as of `_runs`, of rings with so many runs each one after the other.
    """
    ends = np.cumsum(lengths)
    after = np.arange(len(which)) + 1
    after[ends - 1] = ends - lengths
    inside = (_inner(high) & (which >= 0)) | (_inner(low[after]) & (which[after] >= 0))
    one = np.flatnonzero(inside & (which != which[after]))
    other = after[one]
    if not len(one):
        return
    a, b = _carrier(cubics, which[one], first[one], last[one]), _carrier(cubics, which[other], first[other], last[other])
    t, u = np.where(which[one] >= 0, high[one], 1.0), np.where(which[other] >= 0, low[other], 0.0)
    for _ in range(NEWTON):
        (p, dp), (q, dq) = _with_slope(a, t), _with_slope(b, u)
        cross = dp[:, 0] * dq[:, 1] - dp[:, 1] * dq[:, 0]
        away = q - p
        with np.errstate(divide="ignore", invalid="ignore"):
            t = t + np.where(np.abs(cross) > 0, (away[:, 0] * dq[:, 1] - away[:, 1] * dq[:, 0]) / cross, 0.0)
            u = u + np.where(np.abs(cross) > 0, (away[:, 0] * dp[:, 1] - away[:, 1] * dp[:, 0]) / cross, 0.0)
        t, u = np.clip(t, -1.0, 2.0), np.clip(u, -1.0, 2.0)  # where lines nearly run along each other it goes astray
    p, q = _with_slope(a, t)[0], _with_slope(b, u)[0]
    size = np.maximum(np.ptp(a, axis=1).max(1), np.ptp(b, axis=1).max(1))
    met = np.hypot(*(p - q).T) < EXACT * size
    met &= np.hypot(*(p - last[one]).T) < MOVED * size
    for place, curve, far in ((t, which[one], low[one]), (u, which[other], high[other])):
        met &= (curve < 0) | ((place > -SEAM) & (place < 1 + SEAM) & (np.abs(place - far) > SEAM))
    one, other = one[met], other[met]
    high[one], low[other] = np.where(which[one] >= 0, t[met], high[one]), np.where(which[other] >= 0, u[met], low[other])
    last[one] = first[other] = p[met]


def _inner(places: Array) -> Array:
    """Which places on cubics are not their ends."""
    return np.asarray((places > SEAM) & (places < 1 - SEAM))


def _carrier(cubics: Array, which: Array, first: Array, last: Array) -> Array:
    """The cubics (k, 4, 2) runs lie on, straight ones as a cubic from end to end."""
    third = (last - first) / 3
    straight = np.stack([first, first + third, last - third, last], 1)
    return np.where((which >= 0)[:, None, None], cubics[np.maximum(which, 0)], straight)


def _with_slope(cubics: Array, t: Array) -> tuple[Array, Array]:
    """Points (k, 2) of cubics (k, 4, 2) at shares of them, and how they move there."""
    s, u = (1 - t)[:, None], t[:, None]
    a, b, c, d = (cubics[:, k] for k in range(4))
    on = s**3 * a + 3 * s * s * u * b + 3 * s * u * u * c + u**3 * d
    return on, 3 * (s * s * (b - a) + 2 * s * u * (c - b) + u * u * (d - c))


def _runs(ring: Array, cubic: Array, begin: Array, end: Array) -> tuple[Array, ...]:
    """The runs of one closed ring (n + 1, 2) on one cubic each, or straight: which (-1), from and to, first and last place."""
    goes_on = (cubic[1:] == cubic[:-1]) & (cubic[1:] >= 0) & (np.abs(end[:-1] - begin[1:]) < SEAM)
    goes_on &= (end - begin)[1:] * (end - begin)[:-1] > 0
    flat = needless(ring[:-1]) & (cubic < 0) & (np.roll(cubic, 1) < 0)  # corners within a straight line
    goes_on |= flat[1:]
    starts = np.flatnonzero(np.concatenate([[True], ~goes_on]))
    stops = np.append(starts[1:], len(cubic)) - 1
    which, low, high, first, last = cubic[starts], begin[starts], end[stops], ring[starts], ring[stops + 1]
    seamless = len(which) > 1 and which[0] >= 0 and which[0] == which[-1] and abs(high[-1] - low[0]) < SEAM
    if len(which) > 1 and flat[0]:
        first[0] = first[-1]
        which, low, high, first, last = (values[:-1] for values in (which, low, high, first, last))
    elif seamless and (high[0] - low[0]) * (high[-1] - low[-1]) > 0:  # the seam lies inside a curve
        low[0], first[0] = low[-1], first[-1]
        which, low, high, first, last = (values[:-1] for values in (which, low, high, first, last))
    return which, low, high, first, last


def _edges(one: Array, other: Array, chords: Chords, progress: Progress) -> tuple[Array, Array, Array]:
    """For edges from `one` to `other` (E, 2) the cubic each lies on, or -1, and from where to where on it."""
    whole = np.rint(one / chords.grid), np.rint(other / chords.grid)
    corner, ends = (_key(whole[0]), _key(whole[1])), _key(chords.ends)
    with np.errstate(over="ignore"):
        keys, sought = np.unique(corner[0] + corner[1], return_inverse=True)
        own = ends[:, 0] + ends[:, 1]
    likely = np.flatnonzero(_perhaps_in(own, keys))
    place = np.minimum(np.searchsorted(keys, own[likely]), len(keys) - 1)
    known = np.full(len(keys), -1)
    there = keys[place] == own[likely]
    known[place[there]] = likely[there]
    found = known[sought]
    sides = chords.ends[found]
    forward, back = ((sides[:, k] == whole[0]).all(1) & (sides[:, 1 - k] == whole[1]).all(1) for k in (0, 1))
    whole_chord = (found >= 0) & (forward | back)
    at, wide = chords.at[found], chords.wide[found]
    cubic = np.where(whole_chord, chords.cubic[found], -1)
    begin, end = np.where(forward, at, at + wide), np.where(forward, at + wide, at)
    cut = np.flatnonzero(~whole_chord)
    near = _chords_at(np.concatenate([corner[0][cut], corner[1][cut]]), ends)
    for k in progress.each(cut):
        for side in (0, 1):
            a, b = (one[k], other[k]) if side == 0 else (other[k], one[k])
            hit = _cut_chord(a.tolist(), b.tolist(), chords, near.get(int(corner[side][k]), ()))
            if hit is not None:
                cubic[k] = hit[0]
                begin[k], end[k] = (hit[1], hit[2]) if side == 0 else (hit[2], hit[1])
                break
    return cubic, begin, end


def _chords_at(corners: Array, ends: Array) -> dict[int, list[int]]:
    """The chords that begin or end at each of some corners, by their keys."""
    out: dict[int, list[int]] = {}
    wanted = np.unique(corners)
    if not len(wanted):
        return out
    chord, side = np.nonzero(_perhaps_in(ends, wanted))
    key = ends[chord, side]
    place = np.minimum(np.searchsorted(wanted, key), len(wanted) - 1)
    there = wanted[place] == key
    for k, one in zip(chord[there].tolist(), key[there].tolist(), strict=True):
        out.setdefault(one, []).append(k)
    return out


def _perhaps_in(keys: Array, wanted: Array) -> Array:
    """Which keys may be among the wanted ones, by their last bits: nearly all of those that are not are sorted out."""
    table = np.zeros(1 << TABLE_BITS, bool)
    last = np.uint64((1 << TABLE_BITS) - 1)
    table[(wanted & last).astype(np.int64)] = True
    return np.asarray(table[(keys & last).astype(np.int64)])


def _cut_chord(corner: list[float], cut: list[float], chords: Chords, near: Sequence[int]) -> tuple[int, float, float] | None:
    """The chord that leaves a corner towards a place where it was cut: its cubic, where the corner is on it, and the cut."""
    ax, ay = cut[0] - corner[0], cut[1] - corner[1]
    for chord in near:
        (x0, y0), (x1, y1) = (chords.ends[chord] * chords.grid).tolist()
        forward = max(abs(x0 - corner[0]), abs(y0 - corner[1])) < max(abs(x1 - corner[0]), abs(y1 - corner[1]))
        rx, ry = (x1 - x0, y1 - y0) if forward else (x0 - x1, y0 - y1)
        square = rx * rx + ry * ry
        share = (ax * rx + ay * ry) / square if square > 0 else -1.0
        if 0 < share < 1 + ON and abs(ax * ry - ay * rx) < ON * square:
            begin, wide = float(chords.at[chord]), float(chords.wide[chord])
            at = begin if forward else begin + wide
            return int(chords.cubic[chord]), at, at + share * wide * (1 if forward else -1)
    return None


def of_contours(pieces: list[list[Array]], variant: Array) -> Family:
    """Return one family of shapes, each with contours of cubics (S, 4, 2) of its own; `variant` (n,) says which each copy shows."""
    many = max([1, *map(len, pieces)])
    nothing = np.zeros((1, 4, 2))
    empty = np.array([not piece for piece in pieces])
    columns, verbs = [], b""
    for k in range(many):
        own = [piece[k] if k < len(piece) else piece[-1][-1:, 3:].repeat(4, 1) if piece else nothing for piece in pieces]
        most = max(map(len, own))
        padded = np.stack([np.concatenate([one, np.repeat(one[-1:, 3:].repeat(4, 1), most - len(one), 0)]) for one in own])
        columns.append(np.concatenate([padded[:, 0, :1], padded[:, :, 1:].reshape(len(own), -1, 2)], 1))
        verbs += bytes([MOVE] + [CURVE] * most + [CLOSE])
    shown = np.where((variant >= 0) & empty[np.maximum(variant, 0)], -1, variant).astype(np.int32)
    return Family(verbs, np.concatenate(columns, 1), shown)
