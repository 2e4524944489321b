"""Shadow: what is there in one colour, moved and blurred, beneath it or within it."""

from __future__ import annotations

import numpy as np

from under_lattice.colour.effects import Shadow
from under_lattice.geometry.affine import Array
from under_lattice.render.finish.atop import atop, beneath
from under_lattice.render.finish.blur import gaussian, moved
from under_lattice.render.finish.edge import coverage, inwards


def shadowed(pixels: Array, shadow: Shadow, scale: float) -> Array:
    """Return premultiplied pixels (H, W, 4) with a shadow; `scale` is px per unit."""
    throws = pixels[..., 3]
    if shadow.spread:
        throws = coverage(inwards(throws) + (-shadow.spread if shadow.inside else shadow.spread) * scale)
    angle, far = np.radians(shadow.direction), shadow.distance * scale
    cast = gaussian(moved(throws, float(far * np.cos(angle)), float(far * np.sin(angle))), shadow.deviation * scale)
    cast = np.clip(cast, 0, 1)
    if shadow.inside:
        return atop(pixels, shadow.colour, (1 - cast) * np.float32(shadow.opacity), shadow.blend)
    return beneath(pixels, shadow.colour, cast * np.float32(shadow.opacity))
