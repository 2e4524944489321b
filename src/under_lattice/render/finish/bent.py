"""Pixels taken from elsewhere: means along rays, arcs and edges, ripples and twists."""

from __future__ import annotations

import numpy as np

from under_lattice.colour.effects import Ripple, Streak, Twist
from under_lattice.geometry.affine import Array
from under_lattice.pattern.known import LUMA
from under_lattice.render.finish.blur import SEEN, gaussian
from under_lattice.render.finish.relief import slopes
from under_lattice.render.finish.rows import by_rows
from under_lattice.render.finish.straight import in_coded_values, in_linear_light
from under_lattice.render.kernel_pixels import flow_rows, from_elsewhere, streak_rows
from under_lattice.scene.tree import View

FLAT = 2e-3  # of the square of a slope of tone per px: where there is less, paint is not drawn out


def streaked(pixels: Array, streak: Streak, view: View) -> Array:
    """Return premultiplied pixels (H, W, 4) of a view, each the mean along its way to a centre or along its arc round it."""
    amount = np.radians(min(streak.amount, 360.0)) if streak.around else min(streak.amount, 1.0)
    longest = np.inf if streak.around else streak.longest * view.scale
    if amount <= 0 or longest <= 0:
        return pixels
    linear = in_linear_light(pixels)
    out = np.empty_like(linear)
    cx, cy = streak.across * view.scale + view.left - 0.5, streak.down * view.scale + view.top - 0.5
    how = (cx, cy, float(amount), float(longest), streak.around)
    by_rows(len(out), lambda first, last: streak_rows(linear, *how, first, last, out))
    return in_coded_values(out)


def rippled(pixels: Array, ripple: Ripple, view: View) -> Array:
    """Return premultiplied pixels (H, W, 4) of a view carried to and fro by waves."""
    if not ripple.height or ripple.length <= 0:
        return pixels
    x, y = _page(view)
    x, y = x - np.float32(ripple.across), y - np.float32(ripple.down)
    if ripple.rings:
        far = np.hypot(x, y)
        least = np.maximum(far, 1e-6)
        across, down = x / least, y / least
    else:
        angle = np.radians(ripple.direction)
        c, s = np.float32(np.cos(angle)), np.float32(np.sin(angle))
        far = x * c + y * s
        across, down = np.array((c, s) if ripple.lengthwise else (-s, c))
    by = np.sin(far * np.float32(2 * np.pi / ripple.length) + np.float32(np.radians(ripple.phase))) * np.float32(ripple.height)
    return _taken(pixels, x + by * across + np.float32(ripple.across), y + by * down + np.float32(ripple.down), view)


def twisted(pixels: Array, twist: Twist, view: View) -> Array:
    """Return premultiplied pixels (H, W, 4) of a view, turned, drawn out or drawn in within a circle."""
    if not twist.amount or twist.radius <= 0:
        return pixels
    x, y = _page(view)
    x, y = x - np.float32(twist.across), y - np.float32(twist.down)
    part = np.minimum(np.hypot(x, y) / np.float32(twist.radius), 1.0)
    if twist.way == "twist":
        angle = -np.float32(np.radians(twist.amount)) * (1 - part) ** 2
        c, s = np.cos(angle), np.sin(angle)
        x, y = x * c - y * s, x * s + y * c
    else:
        power = twist.amount if twist.way == "bulge" else 1 / (1 + twist.amount) - 1
        size = np.power(np.maximum(part, 1e-6), np.float32(power))
        x, y = x * size, y * size
    return _taken(pixels, x + np.float32(twist.across), y + np.float32(twist.down), view)


def smeared(pixels: Array, length: float, size: float) -> Array:
    """Return premultiplied pixels (H, W, 4) drawn out along their edges, by strokes of a length and edges of a size in px.

    Directions are those of the smoothed structure tensor; H. Winnemöller and others, XDoG, Computers & Graphics 36 (2012).
    """
    if length < SEEN:
        return pixels
    tone = (pixels[..., :3] @ LUMA.astype(np.float32)) + pixels[..., 3]
    down, across = slopes(gaussian(tone, 0.7))
    size = max(size, 0.7)
    xx, yy, xy = (gaussian(np.asarray(one, np.float32), size) for one in (across * across, down * down, across * down))
    along = (0.5 * np.arctan2(2 * xy, xx - yy) + np.pi / 2).astype(np.float32)
    far = (np.float32(length) * (xx + yy) / (xx + yy + np.float32(FLAT))).astype(np.float32)  # where there is no edge, no stroke
    linear = in_linear_light(pixels)
    out = np.empty_like(linear)
    by_rows(len(out), lambda first, last: flow_rows(linear, along, far, first, last, out))
    return in_coded_values(out)


def _page(view: View) -> tuple[Array, Array]:
    """Where the middles of the pixels of a view lie on the page (H, W), in its unit."""
    x = ((np.arange(view.width) + 0.5 - view.left) / view.scale).astype(np.float32)
    y = ((np.arange(view.height) + 0.5 - view.top) / view.scale).astype(np.float32)
    return np.broadcast_to(x, (view.height, view.width)), np.broadcast_to(y[:, None], (view.height, view.width))


def _taken(pixels: Array, x: Array, y: Array, view: View) -> Array:
    """What pixels (H, W, 4) of a view have at places (H, W) of the page."""
    out = np.empty_like(pixels)
    columns = np.ascontiguousarray(x * np.float32(view.scale) + np.float32(view.left - 0.5))
    rows = np.ascontiguousarray(y * np.float32(view.scale) + np.float32(view.top - 0.5))

    def taken(first: int, last: int) -> None:
        from_elsewhere(pixels, columns[first:last], rows[first:last], out[first:last])

    by_rows(len(out), taken)
    return out
