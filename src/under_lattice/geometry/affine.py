"""Affine maps as arrays (..., 2, 3); y down, degrees clockwise as seen."""

from __future__ import annotations

from typing import Any

import numpy as np
import numpy.typing as npt

Array = npt.NDArray[Any]

IDENTITY: Array = np.eye(2, 3)
IDENTITY.setflags(write=False)


def frozen(values: npt.ArrayLike, dtype: Any = np.float64) -> Array:
    """Return a read-only copy of `values`; the caller's array stays writable."""
    out = np.array(values, dtype=dtype)
    out.setflags(write=False)
    return out


def apply(xform: Array, points: Array) -> Array:
    """Points (..., K, 2) through maps (..., 2, 3).

    Written out because a matrix product of 2 x 2 is slow on many small maps.
    """
    x, y, m = points[..., 0], points[..., 1], xform[..., None, :, :]
    return np.stack([m[..., 0, 0] * x + m[..., 0, 1] * y + m[..., 0, 2], m[..., 1, 0] * x + m[..., 1, 1] * y + m[..., 1, 2]], -1)


def compose(outer: Array, inner: Array) -> Array:
    """Return the map that does `inner` first, then `outer`; both (..., 2, 3)."""
    out = outer[..., 0:1] * inner[..., 0:1, :] + outer[..., 1:2] * inner[..., 1:2, :]
    out[..., 2] += outer[..., 2]
    return np.asarray(out)


def inverse(xform: Array) -> Array:
    """Inverse maps (..., 2, 3); a map that flattens the plane has none and gives infinities."""
    a, b, c, d = xform[..., 0, 0], xform[..., 0, 1], xform[..., 1, 0], xform[..., 1, 1]
    with np.errstate(divide="ignore", invalid="ignore"):
        det = a * d - b * c
        out = np.empty(xform.shape)
        out[..., 0, 0], out[..., 0, 1] = d / det, -b / det
        out[..., 1, 0], out[..., 1, 1] = -c / det, a / det
        e, f = xform[..., 0, 2], xform[..., 1, 2]
        out[..., 0, 2] = -(out[..., 0, 0] * e + out[..., 0, 1] * f)
        out[..., 1, 2] = -(out[..., 1, 0] * e + out[..., 1, 1] * f)
    return out


def moves(offset: Array) -> Array:
    """Translations (..., 2, 3) by `offset` (..., 2)."""
    out = np.zeros((*offset.shape[:-1], 2, 3))
    out[..., 0, 0] = out[..., 1, 1] = 1.0
    out[..., 2] = offset
    return out


def linear(turn: Array | float, across: Array | float = 1.0, along: Array | float = 1.0, skew: Array | float = 0.0) -> Array:
    """Maps (..., 2, 3) that size across and along, lean by `skew` degrees, then turn by `turn` degrees."""
    turn, across, along, skew = np.broadcast_arrays(turn, across, along, skew)
    c, s, lean = np.cos(np.radians(turn)), np.sin(np.radians(turn)), np.tan(np.radians(skew))
    out = np.zeros((*turn.shape, 2, 3))
    out[..., 0, 0], out[..., 0, 1] = c * across, c * lean * along - s * along
    out[..., 1, 0], out[..., 1, 1] = s * across, s * lean * along + c * along
    return out


def accumulated(steps: Array) -> Array:
    """Return the products S1, S1 S2, S1 S2 S3, ... of maps (K, ..., 2, 3), in a logarithmic number of rounds.

    What grows beyond all numbers is not finite.
    """
    out, reach = np.array(steps), 1
    with np.errstate(over="ignore", invalid="ignore"):
        while reach < len(out):
            out[reach:] = compose(out[:-reach].copy(), out[reach:])
            reach *= 2
    return out


def mirrors(degrees: Array | float, pivot: npt.ArrayLike = (0.0, 0.0)) -> Array:
    """Reflections (..., 2, 3) in the line through `pivot` that runs in a direction, clockwise as seen."""
    double = np.radians(2 * np.asarray(degrees, float))
    out = np.zeros((*double.shape, 2, 3))
    out[..., 0, 0], out[..., 0, 1] = np.cos(double), np.sin(double)
    out[..., 1, 0], out[..., 1, 1] = np.sin(double), -np.cos(double)
    return about(out, np.asarray(pivot, float))


def about(xform: Array, pivot: Array) -> Array:
    """Return the linear part of `xform` carried out about `pivot` (..., 2), then its move."""
    out = np.array(xform)
    out[..., 2] += pivot - (xform[..., :, 0] * pivot[..., 0:1] + xform[..., :, 1] * pivot[..., 1:2])
    return out


def turns(degrees: Array | float, pivot: npt.ArrayLike = (0.0, 0.0)) -> Array:
    """Turns (..., 2, 3) about `pivot`, clockwise as seen."""
    return about(linear(degrees), np.asarray(pivot, float))


def nearest_affine(before: Array, after: Array) -> Array:
    """Return the maps (n, 2, 3) that bring places `before` (n, K, 2) as near as can be to `after` (n, K, 2), by least squares.

    Where all places of one lie on a line, what stands across it keeps its size.
    """
    here, there = before.mean(1, keepdims=True), after.mean(1, keepdims=True)
    own, to = before - here, after - there
    spread = np.einsum("nki,nkj->nij", own, own)
    slack = 1e-9 * np.maximum(np.trace(spread, axis1=1, axis2=2), 1e-12)
    slack = slack[:, None, None] * np.eye(2)  # leans towards no change where nothing says how
    linear_part = (np.einsum("nki,nkj->nij", to, own) + slack) @ np.linalg.inv(spread + slack)
    shift = there[:, 0] - np.einsum("nij,nj->ni", linear_part, here[:, 0])
    return np.concatenate([linear_part, shift[..., None]], 2)
