"""Sample pictures of the bathhouse, painted by arithmetic: a fish of the mosaic, the view over the harbour, linen."""

from __future__ import annotations

import io
from collections.abc import Callable

import numpy as np

from under_lattice.geometry.affine import Array
from under_lattice.work.pictures import StoredPicture, bring_in

WIDE, HIGH = 360, 280


def _fish(x: Array, y: Array) -> Array:
    """A fish that swims to the right, light on dark water."""
    body = (x - 0.06) ** 2 / 0.30**2 + (y / (0.155 * (1 - 0.35 * (x - 0.06)))) ** 2
    tail = (x < -0.17) & (np.abs(y) < 0.05 + 0.62 * (-0.17 - x)) & (x > -0.40 + 0.35 * np.abs(y))
    fin = (np.abs(x + 0.02) < 0.10) & (y < -0.11) & (y > -0.24 + 0.9 * np.abs(x + 0.05))
    scales = 0.5 + 0.5 * np.sin(46 * x + 9 * np.cos(30 * y))
    light = 0.16 + 0.10 * np.sin(20 * y + 3 * np.sin(9 * x))
    light = np.where(tail | fin, 0.62 + 0.25 * np.sin(60 * y), light)
    light = np.where(body < 1, 0.97 - 0.35 * body + 0.12 * (scales - 0.5) - 0.5 * np.maximum(y, 0), light)
    eye = np.hypot(x - 0.235, y + 0.035)
    return np.where(eye < 0.022, 0.05, np.where(eye < 0.034, 1.0, light))


def _harbour(x: Array, y: Array) -> Array:
    """Sky with a low sun, the mole with its light, and water."""
    sun = np.hypot(x - 0.16, y + 0.10)
    sky = 0.45 + 0.5 * np.exp(-((sun / 0.28) ** 2)) + np.where(sun < 0.07, 0.4, 0.0) + 0.25 * (y + 0.4)
    glint = np.exp(-(((x - 0.16) / (0.05 + 0.35 * np.maximum(y - 0.06, 0))) ** 2))
    water = 0.22 + 0.55 * glint * (0.6 + 0.4 * np.sin(90 * y / (0.3 + y))) + 0.05 * np.sin(40 * x + 160 * y)
    light = np.where(y < 0.06, sky, water)
    mole = (y > 0.02) & (y < 0.075) & (x < -0.02)
    tower = (np.abs(x + 0.06) < 0.022 - 0.03 * (y + 0.16)) & (y > -0.16) & (y < 0.03)
    lamp = np.hypot(x + 0.06, y + 0.18) < 0.028
    return np.where(lamp, 1.0, np.where(mole | tower, 0.08, light))


def _linen(x: Array, y: Array) -> Array:
    """Plain weave with uneven threads."""
    u, v = x * 140 + 0.7 * np.sin(31 * y), y * 140 + 0.7 * np.sin(27 * x)
    over = (np.floor(u) + np.floor(v)) % 2 == 0
    across, along = 1 - (2 * (u % 1) - 1) ** 2, 1 - (2 * (v % 1) - 1) ** 2
    slub = 0.08 * np.sin(0.9 * np.floor(u) ** 2) + 0.08 * np.sin(1.1 * np.floor(v) ** 2)
    return 0.55 + 0.35 * np.where(over, across, along) + slub


PAINTED: dict[str, Callable[[Array, Array], Array]] = {"fish": _fish, "harbour view": _harbour, "linen": _linen}


def sample_picture(name: str) -> StoredPicture:
    """Return one of the sample pictures, as a PNG in greys."""
    from PIL import Image

    x, y = np.meshgrid((np.arange(WIDE) + 0.5) / HIGH - WIDE / HIGH / 2, (np.arange(HIGH) + 0.5) / HIGH - 0.5)
    pixels = np.rint(np.clip(PAINTED[name](x, y), 0, 1) * 255).astype(np.uint8)
    file = io.BytesIO()
    Image.fromarray(pixels).save(file, "PNG")
    return bring_in(file.getvalue(), f"{name}.png")
