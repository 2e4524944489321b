"""Relief: heights by the distance to an edge or by lightness, in the light."""

from __future__ import annotations

import numpy as np

from under_lattice.colour.effects import Relief
from under_lattice.geometry.affine import Array
from under_lattice.pattern.known import LUMA
from under_lattice.render.finish.atop import atop, beneath
from under_lattice.render.finish.blur import gaussian
from under_lattice.render.finish.edge import coverage, inwards
from under_lattice.render.finish.rows import by_rows
from under_lattice.render.finish.straight import straight
from under_lattice.render.kernel_pixels import light_rows

EVEN, EVENLY = 0.6, 0.04  # px of deviation, or a share of a face, over which heights are evened out: pixels do not show as steps
LEAST = 1e-6


def relieved(pixels: Array, relief: Relief, scale: float) -> Array:
    """Return premultiplied pixels (H, W, 4) in relief; `scale` is px per unit."""
    far = None if relief.by_lightness else inwards(pixels[..., 3], max(relief.size, relief.reach) * scale)
    lit = shades(heights(pixels, far, relief, scale), relief.height, relief.direction)
    flat = float(np.sin(np.radians(relief.height)))
    light = np.clip((lit - flat) / max(1 - flat, LEAST), 0, 1) * np.float32(relief.light.opacity if flat < 1 - LEAST else 0.0)
    shade = np.clip((flat - lit) / max(flat, LEAST), 0, 1) * np.float32(relief.shade.opacity if flat > LEAST else 0.0)
    out = pixels
    for part, share in ((relief.light, light), (relief.shade, shade)) if relief.side != "outside" else ():
        out = atop(out, part.colour, share, part.blend)
    if far is not None and relief.side != "inside":
        room = coverage(far + relief.reach * scale)
        for part, share in ((relief.light, light), (relief.shade, shade)):
            out = beneath(out, part.colour, share * room)
    return out


def heights(pixels: Array, far: Array | None, relief: Relief, scale: float) -> Array:
    """Return heights (H, W) in px, by how far within an edge each pixel lies, or by lightness where that is None."""
    if far is None:
        colours, alpha = straight(pixels)
        light = (colours @ LUMA.astype(np.float32)) * alpha[..., 0]
        return gaussian(light, max(relief.size * scale, EVEN)) * np.float32(relief.depth * scale)
    wide = max(relief.size * scale, LEAST)
    begins = {"inside": 0.0, "both": 0.5, "outside": 1.0}[relief.side]
    part = np.minimum(far / np.float32(wide) + np.float32(begins), 1.0)
    beyond = -3.0 / wide if relief.profile == "straight" else 0.0  # goes on a little, so that a straight face ends at full slope
    part = np.maximum(part, np.float32(beyond))
    if relief.profile == "round":
        part = np.sqrt(np.maximum(1 - (1 - part) ** 2, 0))
    elif relief.profile == "hollow":
        part = 1 - np.sqrt(np.maximum(1 - part**2, 0))
    elif relief.profile == "soft":
        part = part * part * (3 - 2 * part)
    return gaussian(part.astype(np.float32) * np.float32(relief.depth * scale), max(EVEN, EVENLY * wide))


def shades(heights: Array, height: float, direction: float) -> Array:
    """Return how much light falls on a surface (H, W): max(0, n·l), by heights in px, for a light at an angle of height.

    `height` and `direction`, in degrees, are those of the light: above the plane, and clockwise from the right.
    """
    b, a = np.radians(height), np.radians(direction)
    towards = float(np.cos(b) * np.cos(a)), float(np.cos(b) * np.sin(a)), float(np.sin(b))
    heights = np.ascontiguousarray(heights, np.float32)
    out = np.empty_like(heights)
    by_rows(len(out), lambda first, last: light_rows(heights, *towards, first, last, out))
    return out


def slopes(heights: Array) -> tuple[Array, Array]:
    """Return how fast a picture (H, W) grows per px, down and across; a single row or column does not."""
    down, across = (np.gradient(heights, axis=axis) if heights.shape[axis] > 1 else np.zeros_like(heights) for axis in (0, 1))
    return np.asarray(down), np.asarray(across)
