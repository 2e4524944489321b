"""Sample pictures of the bathhouse, made by arithmetic: a fish of the mosaic, the view over the harbour, linen, wet plaster."""

from __future__ import annotations

import io
from functools import cache
from importlib.resources import files

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


SAMPLES = ("fish", "harbour view", "linen", "wet plaster")


def file_name(sample: str) -> str:
    """Return the name of the file of a sample picture."""
    return f"{sample}.{'png' if sample == 'fish' else 'jpg'}"


@cache
def sample_picture(name: str) -> StoredPicture:
    """Return one of the sample pictures: the fish, a PNG in greys, or a JPEG as `tools/remake_photographs.py` made it."""
    if name != "fish":
        data = (files("under_lattice.library") / "samples" / file_name(name).replace(" ", "-")).read_bytes()
        return bring_in(data, file_name(name))
    from PIL import Image

    file = io.BytesIO()
    x, y = np.meshgrid((np.arange(WIDE) + 0.5) / HIGH - WIDE / HIGH / 2, (np.arange(HIGH) + 0.5) / HIGH - 0.5)
    Image.fromarray(np.rint(np.clip(_fish(x, y), 0, 1) * 255).astype(np.uint8)).save(file, "PNG")
    return bring_in(file.getvalue(), file_name(name))
