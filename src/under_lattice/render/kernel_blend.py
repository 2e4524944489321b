"""Compiled blend modes of W3C Compositing and Blending Level 1, for one pixel and for whole layers."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from under_lattice.colour.blend import BLENDS
from under_lattice.core.kernel_compiler import njit

ONE, NOUGHT = np.float32(1.0), np.float32(0.0)
NON_SEPARABLE, PLUS = BLENDS.index("hue"), BLENDS.index("plus-lighter")  # modes go by their place in this list


@njit(nogil=True, cache=True, fastmath=True)
def _hard(b: float, s: float) -> float:
    return 2.0 * b * s if s <= 0.5 else b + (2.0 * s - 1.0) - b * (2.0 * s - 1.0)


@njit(nogil=True, cache=True, fastmath=True)
def separable(mode: int, b: float, s: float) -> float:
    """B(cb, cs) of one channel, from 0 to 1."""
    if mode == 1:
        return b * s
    if mode == 2:
        return b + s - b * s
    if mode == 3:
        return _hard(s, b)
    if mode == 4:
        return min(b, s)
    if mode == 5:
        return max(b, s)
    if mode == 6:
        return 0.0 if b <= 0.0 else 1.0 if s >= 1.0 else min(1.0, b / (1.0 - s))
    if mode == 7:
        return 1.0 if b >= 1.0 else 0.0 if s <= 0.0 else 1.0 - min(1.0, (1.0 - b) / s)
    if mode == 8:
        return _hard(b, s)
    if mode == 9:
        if s <= 0.5:
            return b - (1.0 - 2.0 * s) * b * (1.0 - b)
        d = ((16.0 * b - 12.0) * b + 4.0) * b if b <= 0.25 else math.sqrt(b)
        return b + (2.0 * s - 1.0) * (d - b)
    if mode == 10:
        return abs(b - s)
    if mode == 11:
        return b + s - 2.0 * b * s
    return s


@njit(nogil=True, cache=True, fastmath=True)
def _lum(r: float, g: float, b: float) -> float:
    return 0.3 * r + 0.59 * g + 0.11 * b


@njit(nogil=True, cache=True, fastmath=True)
def _set_lum(r: float, g: float, b: float, lum: float) -> tuple[float, float, float]:
    d = lum - _lum(r, g, b)
    r, g, b = r + d, g + d, b + d
    light, low, high = _lum(r, g, b), min(r, g, b), max(r, g, b)
    if low < 0.0:
        k = light / (light - low)
        r, g, b = light + (r - light) * k, light + (g - light) * k, light + (b - light) * k
    if high > 1.0:
        k = (1.0 - light) / (high - light)
        r, g, b = light + (r - light) * k, light + (g - light) * k, light + (b - light) * k
    return r, g, b


@njit(nogil=True, cache=True, fastmath=True)
def _set_sat(r: float, g: float, b: float, sat: float) -> tuple[float, float, float]:
    low, high = min(r, g, b), max(r, g, b)
    if high <= low:
        return 0.0, 0.0, 0.0
    k = sat / (high - low)
    return (r - low) * k, (g - low) * k, (b - low) * k


@njit(nogil=True, cache=True, fastmath=True)
def mixed(mode: int, br: float, bg: float, bb: float, sr: float, sg: float, sb: float) -> tuple[float, float, float]:
    """B(cb, cs) of the four modes that look at all channels, from 0 to 1."""
    if mode == 12:  # hue
        r, g, b = _set_sat(sr, sg, sb, max(br, bg, bb) - min(br, bg, bb))
        return _set_lum(r, g, b, _lum(br, bg, bb))
    if mode == 13:  # saturation
        r, g, b = _set_sat(br, bg, bb, max(sr, sg, sb) - min(sr, sg, sb))
        return _set_lum(r, g, b, _lum(br, bg, bb))
    if mode == 14:  # colour
        return _set_lum(sr, sg, sb, _lum(br, bg, bb))
    return _set_lum(br, bg, bb, _lum(sr, sg, sb))  # luminosity


@njit(nogil=True, cache=True, fastmath=True)
def lay_pixel(into: Any, y: int, x: int, r: float, g: float, b: float, a: float, mode: int) -> None:
    """Lay a premultiplied source over one premultiplied pixel (..., 4).

    ``Cs = (1 - ab) Cs + ab B(Cb, Cs)``, then source-over; plus-lighter adds.
    """
    ab = into[y, x, 3]
    if mode == PLUS:
        into[y, x, 0] = min(into[y, x, 0] + r, ONE)
        into[y, x, 1] = min(into[y, x, 1] + g, ONE)
        into[y, x, 2] = min(into[y, x, 2] + b, ONE)
        into[y, x, 3] = min(ab + a, ONE)
        return
    if mode == 0 or ab <= NOUGHT:
        keep = ONE - a
        into[y, x, 0] = into[y, x, 0] * keep + r
        into[y, x, 1] = into[y, x, 1] * keep + g
        into[y, x, 2] = into[y, x, 2] * keep + b
        into[y, x, 3] = ab * keep + a
        return
    if mode == 1:  # multiply and screen need no division where colours are premultiplied
        keep, clear = ONE - a, ONE - ab
        into[y, x, 0] = r * into[y, x, 0] + r * clear + into[y, x, 0] * keep
        into[y, x, 1] = g * into[y, x, 1] + g * clear + into[y, x, 1] * keep
        into[y, x, 2] = b * into[y, x, 2] + b * clear + into[y, x, 2] * keep
        into[y, x, 3] = ab * keep + a
        return
    if mode == 2:
        into[y, x, 0] = into[y, x, 0] + r - into[y, x, 0] * r
        into[y, x, 1] = into[y, x, 1] + g - into[y, x, 1] * g
        into[y, x, 2] = into[y, x, 2] + b - into[y, x, 2] * b
        into[y, x, 3] = ab + a - ab * a
        return
    if a <= NOUGHT:
        return
    ka, kb = 1.0 / a, 1.0 / ab
    sr, sg, sb = min(r * ka, 1.0), min(g * ka, 1.0), min(b * ka, 1.0)
    br, bg, bb = min(into[y, x, 0] * kb, 1.0), min(into[y, x, 1] * kb, 1.0), min(into[y, x, 2] * kb, 1.0)
    if mode >= NON_SEPARABLE:
        mr, mg, mb = mixed(mode, br, bg, bb, sr, sg, sb)
    else:
        mr, mg, mb = separable(mode, br, sr), separable(mode, bg, sg), separable(mode, bb, sb)
    both, only, keep = a * ab, a * (ONE - ab), ONE - a
    into[y, x, 0] = into[y, x, 0] * keep + only * sr + both * mr
    into[y, x, 1] = into[y, x, 1] * keep + only * sg + both * mg
    into[y, x, 2] = into[y, x, 2] * keep + only * sb + both * mb
    into[y, x, 3] = ab * keep + a


@njit(nogil=True, cache=True, fastmath=True)
def _lay_plainly(into: Any, layer: Any, opacity: Any, mode: int) -> None:
    """Lay a layer with normal, multiply or screen, in plain float32 arithmetic on premultiplied colours."""
    one = np.float32(1.0)
    for y in range(into.shape[0]):
        for x in range(into.shape[1]):
            a, ab = layer[y, x, 3] * opacity, into[y, x, 3]
            keep, clear = one - a, one - ab
            for c in range(3):
                s, d = layer[y, x, c] * opacity, into[y, x, c]
                if mode == 0:
                    into[y, x, c] = d * keep + s
                elif mode == 1:
                    into[y, x, c] = s * d + s * clear + d * keep
                else:
                    into[y, x, c] = d + s - d * s
            into[y, x, 3] = ab * keep + a


@njit(nogil=True, cache=True, fastmath=True)
def lay_layer(into: Any, layer: Any, opacity: float, mode: int) -> None:
    """Lay a painted layer over what is beneath it; both premultiplied (H, W, 4) float32."""
    if mode <= 2:
        _lay_plainly(into, layer, np.float32(opacity), mode)
        return
    for y in range(into.shape[0]):
        for x in range(into.shape[1]):
            a = layer[y, x, 3] * opacity
            if a > 0.0:
                lay_pixel(into, y, x, layer[y, x, 0] * opacity, layer[y, x, 1] * opacity, layer[y, x, 2] * opacity, a, mode)


@njit(nogil=True, cache=True, fastmath=True)
def fade(layer: Any, share: Any) -> None:
    """Keep of each premultiplied pixel (H, W, 4) as much as `share` (H, W) says."""
    for y in range(layer.shape[0]):
        for x in range(layer.shape[1]):
            for c in range(4):
                layer[y, x, c] *= share[y, x]
