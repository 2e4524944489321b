"""Maps part of the way from staying to being done, so that a run of steps can begin between two of its places."""

from __future__ import annotations

import numpy as np

from under_lattice.geometry.affine import Array, compose, inverse

SAME = 1e-9


def part_of_way(xform: Array, share: float) -> Array:
    """Return maps (..., 2, 3) done to a `share` (0..1, or beyond): nothing at 0, the maps themselves at 1.

    What turns, turns evenly, what sizes does so by ratio (L = rotation · stretch, each to the power), and the point that stays
    where it is does so all the way: for turning and sizing alike in both directions these are the powers of the map.
    """
    lin, move = xform[..., :2], xform[..., 2]
    u, size, vt = np.linalg.svd(lin)
    turn = u @ vt
    angle = share * np.arctan2(turn[..., 1, 0], turn[..., 0, 0])
    cos, sin = np.cos(angle), np.sin(angle)
    turned = np.stack([np.stack([cos, -sin], -1), np.stack([sin, cos], -1)], -2)
    part = turned @ (np.swapaxes(vt, -1, -2) @ ((size**share)[..., None] * vt))
    out = np.empty(xform.shape)
    out[..., :2] = part
    off = np.eye(2) - lin
    det = np.linalg.det(off)
    moves = np.abs(det) < SAME
    safe = np.where(moves[..., None, None], np.eye(2), off)
    still = np.linalg.solve(safe, move[..., None])
    out[..., 2] = np.where(moves[..., None], share * move, ((np.eye(2) - part) @ still)[..., 0])
    return out


def begun_at(steps: Array, by: float) -> Array:
    """Return a run of maps (K, ..., 2, 3) in which each stands `by` steps further on; before and after it goes on evenly."""
    count = len(steps)
    if by == 0 or count < 2:
        return steps
    on = compose(inverse(steps[:-1]), steps[1:])
    at = np.arange(count) + by
    first = np.clip(np.floor(at + SAME), 0, count - 1).astype(np.int64)
    rest = at - first
    out = steps[first].copy()
    for k in np.flatnonzero(np.abs(rest) > SAME):
        out[k] = compose(out[k], part_of_way(on[min(first[k], count - 2)], float(rest[k])))
    return out
