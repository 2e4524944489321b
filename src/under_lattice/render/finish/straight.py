"""Premultiplied pixels as colours and alpha, and in linear light."""

from __future__ import annotations

import numpy as np

from under_lattice.colour.colour import companded, linear_of
from under_lattice.geometry.affine import Array


def straight(pixels: Array) -> tuple[Array, Array]:
    """Return colours (H, W, 3) 0..1, not premultiplied, and alpha (H, W, 1), of premultiplied pixels (H, W, 4)."""
    alpha = np.clip(pixels[..., 3:], 0.0, 1.0)
    colours = np.divide(pixels[..., :3], alpha, out=np.zeros_like(pixels[..., :3]), where=alpha > 0)
    return np.clip(colours, 0.0, 1.0), alpha


def in_linear_light(pixels: Array) -> Array:
    """Return premultiplied coded pixels (H, W, 4) as premultiplied linear ones."""
    colours, alpha = straight(pixels)
    return np.concatenate([linear_of(colours).astype(np.float32) * alpha, alpha], -1)


def in_coded_values(linear: Array) -> Array:
    """Return premultiplied linear pixels (H, W, 4) as premultiplied coded ones."""
    colours, alpha = straight(linear)
    return np.concatenate([companded(colours).astype(np.float32) * alpha, alpha], -1)
