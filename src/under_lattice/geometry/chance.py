"""Chance that is always the same: seeded by a place or by a copy's lasting name."""

from __future__ import annotations

import numpy as np

from under_lattice.geometry.affine import Array

ODD = 0.381966  # keeps tidy coordinates off the rounding edge
_FIRST, _SECOND, _SEED = np.uint64(0x9E3779B97F4A7C15), np.uint64(0xC2B2AE3D27D4EB4F), 7919


def lots_of_keys(keys: Array, seed: int) -> Array:
    """Uniform lots in 0..1 for whole, signed keys (..., 2); the same key draws the same lot whatever stands around it.

    The mixing constants are those of the finaliser of splitmix64 (Steele, Lea and Flood 2014).
    """
    cell = keys.astype(np.int64).astype(np.uint64)
    h = cell[..., 0] * _FIRST ^ cell[..., 1] * _SECOND ^ np.uint64((seed * _SEED) % 2**64)
    for shift, mix in ((30, 0xBF58476D1CE4E5B9), (27, 0x94D049BB133111EB)):
        h = (h ^ (h >> np.uint64(shift))) * np.uint64(mix)
    h ^= h >> np.uint64(31)
    return np.asarray((h >> np.uint64(11)) / 2.0**53)


def lots_of_places(points: Array, seed: int, grid: float = 1e-4) -> Array:
    """Uniform lots in 0..1 for places (..., 2), the same from either side of a shared edge."""
    return lots_of_keys(np.floor(points / grid + ODD), seed)


def smooth_noise(points: Array, seed: int) -> Array:
    """Chance in 0..1 that changes smoothly over places (..., 2): lots on a grid of 1, mixed by ``3 t^2 - 2 t^3`` between."""
    cell = np.floor(points)
    t = points - cell
    t = t * t * (3.0 - 2.0 * t)
    lot = [[lots_of_keys(cell + np.array([i, j]), seed) for i in (0, 1)] for j in (0, 1)]
    upper, lower = ((1 - t[..., 0]) * row[0] + t[..., 0] * row[1] for row in lot)
    return np.asarray((1 - t[..., 1]) * upper + t[..., 1] * lower)
