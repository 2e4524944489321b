"""Premultiplied pixels as colours and alpha, and in linear light."""

from __future__ import annotations

from functools import cache

import numpy as np

from under_lattice.colour.colour import companded, linear_of
from under_lattice.geometry.affine import Array
from under_lattice.render.finish.rows import by_rows
from under_lattice.render.kernel_pixels import through_table

STEPS = 1 << 14  # of a table; straight lines between them are off by less than 1e-5


def straight(pixels: Array) -> tuple[Array, Array]:
    """Return colours (H, W, 3) 0..1, not premultiplied, and alpha (H, W, 1), of premultiplied pixels (H, W, 4)."""
    alpha = np.clip(pixels[..., 3:], 0.0, 1.0)
    colours = np.divide(pixels[..., :3], alpha, out=np.zeros_like(pixels[..., :3]), where=alpha > 0)
    return np.clip(colours, 0.0, 1.0), alpha


def in_linear_light(pixels: Array) -> Array:
    """Return premultiplied coded pixels (H, W, 4) as premultiplied linear ones."""
    return looked_up(pixels, _table("linear"))


def in_coded_values(linear: Array) -> Array:
    """Return premultiplied linear pixels (H, W, 4) as premultiplied coded ones."""
    return looked_up(linear, _table("coded"))


def looked_up(pixels: Array, table: Array) -> Array:
    """Return premultiplied pixels (H, W, 4) with each straight colour looked up in a table (T,) float32 over 0..1."""
    pixels, out = np.ascontiguousarray(pixels, np.float32), np.empty(pixels.shape, np.float32)
    by_rows(len(pixels), lambda first, last: through_table(pixels[first:last], table, out[first:last]))
    return out


@cache
def _table(to: str) -> Array:
    values = np.linspace(0.0, 1.0, STEPS + 1)
    return np.asarray((linear_of if to == "linear" else companded)(values), np.float32)
