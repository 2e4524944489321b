"""Shadow: what is there in one colour, moved and blurred, beneath it or within it."""

from __future__ import annotations

import numpy as np

from under_lattice.colour.effects import Shadow
from under_lattice.geometry.affine import Array
from under_lattice.render.finish.blur import gaussian, moved


def shadowed(pixels: Array, shadow: Shadow, scale: float) -> Array:
    """Return premultiplied pixels (H, W, 4) with a shadow; `scale` is px per unit."""
    alpha = pixels[..., 3]
    cast = gaussian(moved(alpha, shadow.across * scale, shadow.down * scale), shadow.deviation * scale)
    colour = np.array([*shadow.colour, 1.0], np.float32)
    if shadow.inside:
        share = (np.clip(1 - cast, 0, 1) * np.float32(shadow.opacity))[..., None]
        return np.asarray(pixels * (1 - share) + alpha[..., None] * share * colour)
    return np.asarray(pixels + (np.clip(cast, 0, 1) * np.float32(shadow.opacity) * (1 - alpha))[..., None] * colour)
