"""Compiled kernels: colours that change from pixel to pixel, from ramps and from pictures.

A paint is a row of `Flat`: ramps are looked up in a table of colours, pictures in a pyramid of ever smaller copies of themselves,
between whose texels and levels is mixed.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from under_lattice.core.kernel_compiler import njit
from under_lattice.render.kernel_cover import ONE

LINEAR, RADIAL, AROUND, PICTURE, REPEATED = 0, 1, 2, 3, 4
FOCAL, MILLIONTH = 16, 1e-6  # a radial one with its focus aside is FOCAL and so many millionths of its reach


@njit(nogil=True, cache=True, fastmath=True, inline="always")
def ramp_row(form: int, u: float, v: float, last: int) -> int:
    """Row of the colour table at (u, v) of a ramp's own place, a whole number."""
    if form == LINEAR:
        t = u
    elif form == RADIAL:
        t = math.sqrt(u * u + v * v)
    elif form >= FOCAL:  # how far towards the circle a place is, on the line from the focus through it
        f = (form - FOCAL) * MILLIONTH
        x = u - f
        d, b = x * x + v * v, f * x
        far = math.sqrt(b * b + d * (1.0 - f * f)) - b
        t = d / far if far > 0.0 else 0.0
    else:
        t = math.atan2(v, u) * (0.5 / math.pi)
        t -= math.floor(t)
    return int(min(max(t, 0.0), 1.0) * last + 0.5)


@njit(nogil=True, cache=True, fastmath=True)
def _texel(texels: Any, start: int, wide: int, high: int, x: int, y: int, repeat: bool) -> int:
    if repeat:
        x, y = x % wide, y % high
    else:
        x, y = min(max(x, 0), wide - 1), min(max(y, 0), high - 1)
    return start + y * wide + x


@njit(nogil=True, cache=True, fastmath=True)
def _between(texels: Any, level: Any, u: float, v: float, repeat: bool, share: Any, out: Any) -> None:
    """Add the colour at (u, v), in 0..1 of the picture, of one level, mixed between its four nearest texels."""
    start, wide, high = level[0], level[1], level[2]
    x, y = u * wide - 0.5, v * high - 0.5
    xi, yi = math.floor(x), math.floor(y)
    fx, fy = np.float32(x - xi), np.float32(y - yi)
    for j in range(2):
        for i in range(2):
            at = _texel(texels, start, wide, high, int(xi) + i, int(yi) + j, repeat)
            k = (fx if i else ONE - fx) * (fy if j else ONE - fy) * share
            for c in range(4):
                out[c] += k * texels[at, c]


@njit(nogil=True, cache=True, fastmath=True)
def picture_at(texels: Any, levels: Any, depth: int, u: float, v: float, step: float, repeat: bool, out: Any) -> None:
    """Write the colour (4,) at (u, v), in 0..1 of the picture; `step` is how many texels of the largest level a pixel spans.

    Between texels by bilinear, between levels by linear mixing, so that what is shrunk does not flicker.
    """
    for c in range(4):
        out[c] = np.float32(0.0)
    if not (abs(u) < 1e9 and abs(v) < 1e9):
        return
    fall = min(math.log2(max(step, 1.0)), float(depth - 1))
    upper = int(fall)
    share = np.float32(fall - upper)
    _between(texels, levels[upper], u, v, repeat, ONE - share, out)
    if share > 0.0:
        _between(texels, levels[upper + 1], u, v, repeat, share, out)
