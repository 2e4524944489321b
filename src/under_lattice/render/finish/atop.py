"""Colours laid on what is there, as far as it is there, and beneath it."""

from __future__ import annotations

import numpy as np

from under_lattice.colour.effects.base import Rgb
from under_lattice.geometry.affine import Array
from under_lattice.render.finish.rows import by_rows
from under_lattice.render.finish.straight import straight
from under_lattice.render.items import MODE_OF
from under_lattice.render.kernel_blend import lay_layer
from under_lattice.render.kernel_pixels import lay_colour


def atop(pixels: Array, colour: Rgb, share: Array, blend: str = "normal") -> Array:
    """Return premultiplied pixels (H, W, 4) with a colour laid on them, as much of it as a share (H, W) says; their alpha stays."""
    if blend == "normal":
        return _laid(pixels, colour, share, beneath=False)
    colours, alpha = straight(pixels)
    opaque = np.concatenate([colours, np.ones_like(alpha)], -1)
    own = np.array([*colour, 1.0], np.float32) * share[..., None].astype(np.float32)
    lay_layer(opaque, np.ascontiguousarray(own), 1.0, MODE_OF[blend])
    return np.asarray(opaque * alpha)


def beneath(pixels: Array, colour: Rgb, share: Array) -> Array:
    """Return premultiplied pixels (H, W, 4) with a colour beneath them, as much of it as a share (H, W) says."""
    return _laid(pixels, colour, share, beneath=True)


def _laid(pixels: Array, colour: Rgb, share: Array, beneath: bool) -> Array:
    """The same, beneath or on top."""
    pixels, share = np.ascontiguousarray(pixels, np.float32), np.ascontiguousarray(share, np.float32)
    rgba, out = np.array([*colour, 1.0], np.float32), np.empty_like(pixels)
    by_rows(len(out), lambda first, last: lay_colour(pixels, rgba, share, beneath, first, last, out))
    return out
