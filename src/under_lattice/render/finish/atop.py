"""Colours laid on what is there, as far as it is there, and beneath it."""

from __future__ import annotations

import numpy as np

from under_lattice.colour.effects.base import Rgb
from under_lattice.geometry.affine import Array
from under_lattice.render.finish.straight import straight
from under_lattice.render.items import MODE_OF
from under_lattice.render.kernel_blend import lay_layer


def atop(pixels: Array, colour: Rgb, share: Array, blend: str = "normal") -> Array:
    """Return premultiplied pixels (H, W, 4) with a colour laid on them, as much of it as a share (H, W) says; their alpha stays."""
    share = share[..., None].astype(np.float32)
    if blend == "normal":
        whole = np.array([*colour, 1.0], np.float32) * pixels[..., 3:]
        return np.asarray(pixels + (whole - pixels) * share)
    colours, alpha = straight(pixels)
    opaque = np.concatenate([colours, np.ones_like(alpha)], -1)
    lay_layer(opaque, np.ascontiguousarray(np.array([*colour, 1.0], np.float32) * share), 1.0, MODE_OF[blend])
    return np.asarray(opaque * alpha)


def beneath(pixels: Array, colour: Rgb, share: Array) -> Array:
    """Return premultiplied pixels (H, W, 4) with a colour beneath them, as much of it as a share (H, W) says."""
    kept = (share * (1 - pixels[..., 3]))[..., None].astype(np.float32)
    return np.asarray(pixels + kept * np.array([*colour, 1.0], np.float32))
