"""Premultiplied pixels in bytes: laid over a ground, and with straight alpha as picture files have it."""

from __future__ import annotations

import numpy as np

from under_lattice.colour.colour import bytes_of
from under_lattice.geometry.affine import Array


def on_ground(pixels: Array, ground: str) -> Array:
    """Return premultiplied bytes (H, W, 4) over a ground: also where a page ends within a pixel."""
    part = np.flatnonzero(pixels[..., 3].min(1) < 255)
    colour, out = bytes_of((ground,))[0].astype(np.uint16), pixels.copy() if len(part) else pixels
    for row in part:
        clear = 255 - out[row, :, 3:].astype(np.uint16)
        out[row] = np.minimum(out[row] + (colour * clear + 127) // 255 * (colour[3] == 255), 255)
    return out


def straight(pixels: Array) -> Array:
    """Return straight alpha from premultiplied bytes (H, W, 4), row by row where anything is clear."""
    clear = np.flatnonzero(pixels[..., 3].min(1) < 255)
    out = pixels.copy() if len(clear) else pixels
    for row in clear:
        alpha = pixels[row, :, 3:].astype(np.uint16)
        colour = (pixels[row, :, :3].astype(np.uint16) * 255 + alpha // 2) // np.maximum(alpha, 1)
        out[row, :, :3] = np.minimum(colour, 255)
    return out
