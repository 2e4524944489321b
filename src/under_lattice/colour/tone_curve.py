"""A curve through points that never turns back between two of them."""

from __future__ import annotations

import numpy as np

from under_lattice.geometry.affine import Array

Points = tuple[tuple[float, float], ...]


def with_ends(points: Points) -> Points:
    """Return points with (0, 0) and (1, 1), where none say otherwise."""
    return tuple(sorted(({0.0: 0.0, 1.0: 1.0} | dict(points)).items()))


def curve_at(points: Points, values: Array) -> Array:
    """Return what a curve through points makes of values 0..1 (n,): cubics with the slopes of Fritsch and Carlson.

    F. N. Fritsch and J. Butland, A method for constructing local monotone piecewise cubic interpolants, SIAM J. Sci. Stat.
    Comput. 5 (1984): the weighted harmonic mean of the slopes on both sides, none where they differ in sign. The ends are straight.
    """
    x, y = np.array(with_ends(points)).T
    wide, rise = np.diff(x), np.diff(y) / np.diff(x)
    slope = np.concatenate([rise[:1], np.zeros(len(x) - 2), rise[-1:]])
    first, second = 2 * wide[1:] + wide[:-1], wide[1:] + 2 * wide[:-1]
    same = rise[:-1] * rise[1:] > 0
    one, other = np.where(same, rise[:-1], 1.0), np.where(same, rise[1:], 1.0)
    slope[1:-1] = np.where(same, (first + second) / (first / one + second / other), 0.0)
    at = np.clip(np.searchsorted(x, values, side="right") - 1, 0, len(wide) - 1)
    h, t = wide[at], (values - x[at]) / wide[at]
    return np.asarray(
        (1 + 2 * t) * (1 - t) ** 2 * y[at]
        + t * (1 - t) ** 2 * h * slope[at]
        + t * t * (3 - 2 * t) * y[at + 1]
        + t * t * (t - 1) * h * slope[at + 1]
    )
