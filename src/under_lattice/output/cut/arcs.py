"""Rings as few straight pieces and arcs of circles as keep near to them."""

from __future__ import annotations

import numpy as np

from under_lattice.geometry.affine import Array

LEAST = 4  # corners of a run that may be an arc
FLATTEST = 1e-3  # sagitta of an arc, as a share of its chord, below which it is a straight piece


def with_bulges(line: Array, stray: float) -> Array:
    """Return corners and bulges (n, 3) of a line (k, 2): each piece goes straight, or along an arc whose bulge is tan(angle / 4).

    Greedy: each arc takes as many corners as lie within `stray` of it. Signs as in a plane with y up.
    """
    out, at, last = [], 0, len(line) - 1
    while at < last:
        end, bulge = _longest(line, at, stray)
        out.append((*line[at], bulge))
        at = end
    if not (line[0] == line[-1]).all():
        out.append((*line[-1], 0.0))
    return np.array(out)


def _longest(line: Array, at: int, stray: float) -> tuple[int, float]:
    """The farthest corner that one piece from `at` reaches, and its bulge: found by doubling, then by halving."""
    good, best, last = at + 1, 0.0, len(line) - 1
    step = LEAST
    while at + step <= last and (bulge := _bulge(line[at : at + step + 1], stray)) is not None:
        good, best = at + step, bulge
        if good == last:
            return good, best
        step = min(2 * step, last - at)
    low, high = good, min(at + step, last + 1)
    while high - low > 1:
        middle = (low + high) // 2
        bulge = _bulge(line[at : middle + 1], stray) if middle - at >= LEAST else None
        if bulge is None:
            high = middle
        else:
            low = good = middle
            best = bulge
    return good, best


def _bulge(part: Array, stray: float) -> float | None:
    """The bulge of the arc through both ends and the middle corner; None where corners lie beside it, or it is over half a turn."""
    a, b, m = part[0], part[-1], part[len(part) // 2]
    chord = b - a
    long = float(np.hypot(*chord))
    if long <= 4 * stray:
        return None
    ax, bx = m - a, m - b
    turn = float(np.arctan2(ax[0] * bx[1] - ax[1] * bx[0], np.dot(ax, bx)))  # at the middle, half a turn less half the arc
    half = np.pi - abs(turn)
    if half > np.pi / 2 + 1e-9:
        return None
    sagitta = long / 2 * np.tan(half / 2)
    if sagitta < max(FLATTEST * long, stray * 0.1):
        off = np.abs(chord[0] * (part[:, 1] - a[1]) - chord[1] * (part[:, 0] - a[0])) / long
        return 0.0 if off.max() <= stray else None
    radius = long / (2 * np.sin(half))
    side = np.sign(chord[0] * (m[1] - a[1]) - chord[1] * (m[0] - a[0]))
    normal = np.array([-chord[1], chord[0]]) / long * side
    centre = (a + b) / 2 - normal * (radius * np.cos(half))
    away = np.abs(np.hypot(*(part - centre).T) - radius)
    middles = np.abs(np.hypot(*((part[1:] + part[:-1]) / 2 - centre).T) - radius)
    if max(away.max(), middles.max() - stray) > stray:
        return None
    return float(-side * np.tan(half / 2))
