"""Curves of formulas as cubic pieces: places and derivatives at even steps, joined by Hermite's rule."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from under_lattice.geometry.affine import Array
from under_lattice.geometry.outline import CLOSE, CURVE, MOVE

Curve = Callable[[Array], tuple[Array, Array]]  # t (N,) -> places (M, N, 2) and derivatives by t (M, N, 2)
TOLERANCE = 0.002  # in the work's unit
PIECES_MOST = 8192
LOOKED_AT = (0.137, 0.393, 0.618, 0.829)  # shares of a piece at which it is compared: a wave is not right in all of them by chance
PIECE_MOST = 30.0  # degrees of an arc that one cubic stands for: off by at most 3.7e-7 of the radius


def hermite(curve: Curve, start: float, end: float, pieces: int) -> Array:
    """Control points (M, 3 pieces + 1, 2) of cubics through even steps of a curve, with its derivatives there."""
    t = np.linspace(start, end, pieces + 1)
    places, slopes = curve(t)
    third = slopes * ((end - start) / pieces / 3)
    out = np.empty((len(places), 3 * pieces + 1, 2))
    out[:, ::3] = places
    out[:, 1::3] = places[:, :-1] + third[:, :-1]
    out[:, 2::3] = places[:, 1:] - third[:, 1:]
    return out


def pieces_for(curve: Curve, start: float, end: float, least: int = 4, tolerance: float = TOLERANCE) -> int:
    """How many cubics bring a curve within `tolerance`, measured in uneven places of each piece; at most `PIECES_MOST`."""
    pieces = least
    while pieces < PIECES_MOST:
        points = hermite(curve, start, end, pieces)
        p0, p1, p2, p3 = points[:, :-1:3], points[:, 1::3], points[:, 2::3], points[:, 3::3]
        worst = 0.0
        for u in LOOKED_AT:
            on = (1 - u) ** 3 * p0 + 3 * u * (1 - u) ** 2 * p1 + 3 * u * u * (1 - u) * p2 + u**3 * p3
            t = start + (np.arange(pieces) + u) * (end - start) / pieces
            worst = max(worst, float(np.abs(on - curve(t)[0]).max()))
        if worst <= tolerance:
            break
        pieces *= 2
    return pieces


def curve_verbs(pieces: int, closed: bool) -> bytes:
    """Verbs of one contour of so many cubics, a whole number."""
    return bytes([MOVE] + [CURVE] * pieces + [CLOSE] * closed)


def arc_pieces(sweep: float) -> int:
    """How many cubics stand for an arc of `sweep` degrees, so that none is off by 4e-7 of the radius: a whole number."""
    return max(1, int(np.ceil(abs(sweep) / PIECE_MOST - 1e-9)))


def arc_points(radius: Array, begin: Array, sweep: Array, pieces: int) -> Array:
    """Control points (M, 3 pieces + 1, 2) of arcs about the origin; angles in degrees, clockwise as seen.

    Each piece has handles ``4/3 tan(sweep / 4)``, which meets the arc at its middle.
    """
    step = np.radians(sweep) / pieces
    angle = np.radians(begin)[:, None] + step[:, None] * np.arange(pieces + 1)
    on = np.stack([np.cos(angle), np.sin(angle)], -1) * radius[:, None, None]
    along = np.stack([-np.sin(angle), np.cos(angle)], -1) * (radius * 4 / 3 * np.tan(step / 4))[:, None, None]
    out = np.empty((len(radius), 3 * pieces + 1, 2))
    out[:, ::3] = on
    out[:, 1::3] = on[:, :-1] + along[:, :-1]
    out[:, 2::3] = on[:, 1:] - along[:, 1:]
    return out
