"""Outlines cut open: contours as cubics, and what lies between two places of them."""

from __future__ import annotations

import numpy as np

from under_lattice.geometry.affine import Array
from under_lattice.geometry.arc_length import Walk
from under_lattice.geometry.outline import CLOSE, CURVE, LINE, MOVE, POINTS_OF

SAMPLES = 64
LITTLE = 1e-12  # of a cubic: no part of it is shorter
CORNER = 2.0  # degrees: less is no corner


def cubics_of(verbs: bytes, points: Array) -> list[tuple[Array, bool]]:
    """Return each contour as cubics (S, 4, 2), and whether it is closed; lines have their handles at the thirds."""
    out: list[tuple[Array, bool]] = []
    pieces: list[Array] = []
    at, pen, home = 0, points[0], points[0]

    def line(to: Array) -> None:
        if np.hypot(*(to - pen)) > 0:
            pieces.append(np.stack([pen, pen + (to - pen) / 3, pen + (to - pen) * 2 / 3, to]))

    for verb in verbs:
        own = points[at : at + POINTS_OF[verb]]
        at += POINTS_OF[verb]
        if verb == MOVE:
            if pieces:
                out.append((np.array(pieces), False))
            pieces, pen, home = [], own[0], own[0]
        elif verb == LINE:
            line(own[0])
            pen = own[0]
        elif verb == CURVE:
            pieces.append(np.stack([pen, *own]))
            pen = own[2]
        elif verb == CLOSE:
            line(home)
            if pieces:
                out.append((np.array(pieces), True))
            pieces, pen = [], home
    if pieces:
        out.append((np.array(pieces), False))
    return out


def points_of(cubics: Array, places: Array) -> Array:
    """Return the points (n, 2) at places (n,); of a closed contour they may lie beyond its seam."""
    k = np.floor(places).astype(int)
    t = (places - k)[:, None]
    last = (k == len(cubics)) & (t[:, 0] == 0)  # the end of an open line
    k, t = np.where(last, k - 1, k), np.where(last[:, None], 1.0, t)
    a, b, c, d = (cubics[k % len(cubics), one] for one in range(4))
    s = 1 - t
    return np.asarray(s**3 * a + 3 * s * s * t * b + 3 * s * t * t * c + t**3 * d)


def part_between(cubics: Array, begin: float, end: float) -> Array:
    """Return the cubics between two places; of a closed contour `end` may lie beyond its seam, up to 2 S."""
    return parts_between(cubics, np.array([begin]), np.array([end]))[0]


def parts_between(cubics: Array, begin: Array, end: Array) -> tuple[Array, Array]:
    """Return the cubics (T, 4, 2) between pairs of places (n,), and to which pair each belongs (T,)."""
    first = np.floor(begin + LITTLE).astype(int)
    counts = np.maximum(np.ceil(end - LITTLE).astype(int) - first, 0)
    pair = np.repeat(np.arange(len(begin)), counts)
    k = np.arange(len(pair)) - np.repeat(np.cumsum(counts) - counts, counts) + first[pair]
    low, high = np.maximum(begin[pair] - k, 0.0), np.minimum(end[pair] - k, 1.0)
    there = high - low > LITTLE
    return within_cubics(cubics[k[there] % len(cubics)], low[there], high[there]), pair[there]


def within_cubics(cubics: Array, low: Array, high: Array) -> Array:
    """Return cubics (k, 4, 2) from one share of them to another (k,), either way round (blossoming)."""

    def blossom(u: Array, v: Array, w: Array) -> Array:
        points = cubics
        for t in (u, v, w):
            s = t[:, None, None]
            points = points[:, :-1] * (1 - s) + points[:, 1:] * s
        return points[:, 0]

    return np.stack([blossom(low, low, low), blossom(low, low, high), blossom(low, high, high), blossom(high, high, high)], 1)


def places_by_length(cubics: Array, shares: Array) -> Array:
    """Return the places at shares (n,) of the whole length, 0..1."""
    walk = Walk(cubics)
    return walk.places(np.asarray(shares) * walk.length)


def places_by_corner(cubics: Array, closed: bool) -> Array:
    """Return the places of corners, where a contour turns sharply, by more than so many degrees."""
    found = []
    for k in range(len(cubics)):
        if not closed and k == 0:
            continue
        one, other = cubics[k - 1][3] - cubics[k - 1][2], cubics[k][1] - cubics[k][0]
        turn = abs(np.degrees(np.arctan2(one[0] * other[1] - one[1] * other[0], one @ other)))
        if turn > CORNER:
            found.append(float(k))
    return np.array(found)


def places_by_angle(cubics: Array, middle: Array, angles: Array) -> Array:
    """Return the places where rays from `middle` at angles (n,), degrees clockwise from straight up, last meet a contour."""
    t = np.arange(SAMPLES) / SAMPLES
    where = np.concatenate([k + t for k in range(len(cubics))])
    line = points_of(cubics, where)
    found = []
    for angle in np.radians(angles):
        ray = np.array([np.sin(angle), -np.cos(angle)])
        away = line - middle
        side, far = away @ np.array([-ray[1], ray[0]]), away @ ray
        after, beyond = np.roll(side, -1), np.roll(far, -1)
        hits = np.flatnonzero((side * after <= 0) & (side != after) & (np.maximum(far, beyond) > 0))
        if len(hits):
            at = hits[np.argmax(far[hits])]
            found.append(float(where[at] + side[at] / (side[at] - after[at]) / SAMPLES) % len(cubics))
    return np.array(found)


def as_outline(cubics: Array) -> tuple[bytes, Array]:
    """Return cubics (S, 4, 2) as the verbs and points (1 + 3 S, 2) of one open line."""
    return bytes([MOVE] + [CURVE] * len(cubics)), np.concatenate([cubics[0, :1], cubics[:, 1:].reshape(-1, 2)])
