"""A slow reference of blending, written from the formulas of W3C Compositing and Blending Level 1, on premultiplied floats."""

from collections.abc import Callable

import numpy as np

from under_lattice.geometry.affine import Array


def _soft_light(b: Array, s: Array) -> Array:
    d = np.where(b <= 0.25, ((16 * b - 12) * b + 4) * b, np.sqrt(b))
    return np.asarray(np.where(s <= 0.5, b - (1 - 2 * s) * b * (1 - b), b + (2 * s - 1) * (d - b)))


def _hard_light(b: Array, s: Array) -> Array:
    return np.asarray(np.where(s <= 0.5, 2 * b * s, b + (2 * s - 1) - b * (2 * s - 1)))


def _dodge(b: Array, s: Array) -> Array:
    return np.asarray(np.where(b <= 0, 0, np.where(s >= 1, 1, np.minimum(1, b / np.maximum(1 - s, 1e-9)))))


def _burn(b: Array, s: Array) -> Array:
    return np.asarray(np.where(b >= 1, 1, np.where(s <= 0, 0, 1 - np.minimum(1, (1 - b) / np.maximum(s, 1e-9)))))


def _lum(c: Array) -> Array:
    return c[..., :1] * 0.3 + c[..., 1:2] * 0.59 + c[..., 2:3] * 0.11


def _clip_colour(c: Array) -> Array:
    light, low, high = _lum(c), c.min(-1, keepdims=True), c.max(-1, keepdims=True)
    with np.errstate(divide="ignore", invalid="ignore"):
        c = np.where(low < 0, light + (c - light) * light / (light - low), c)
        return np.where(high > 1, light + (c - light) * (1 - light) / (high - light), c)


def _set_lum(c: Array, light: Array) -> Array:
    return _clip_colour(c + light - _lum(c))


def _sat(c: Array) -> Array:
    return c.max(-1, keepdims=True) - c.min(-1, keepdims=True)


def _set_sat(c: Array, sat: Array) -> Array:
    spread = _sat(c)
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.where(spread > 0, (c - c.min(-1, keepdims=True)) * sat / spread, 0.0)


MODES: dict[str, Callable[[Array, Array], Array]] = {
    "multiply": lambda b, s: b * s,
    "screen": lambda b, s: b + s - b * s,
    "overlay": lambda b, s: _hard_light(s, b),
    "darken": np.minimum,
    "lighten": np.maximum,
    "color-dodge": _dodge,
    "color-burn": _burn,
    "hard-light": _hard_light,
    "soft-light": _soft_light,
    "difference": lambda b, s: np.abs(b - s),
    "exclusion": lambda b, s: b + s - 2 * b * s,
    "hue": lambda b, s: _set_lum(_set_sat(s, _sat(b)), _lum(b)),
    "saturation": lambda b, s: _set_lum(_set_sat(b, _sat(s)), _lum(b)),
    "color": lambda b, s: _set_lum(s, _lum(b)),
    "luminosity": lambda b, s: _set_lum(b, _lum(s)),
}


def lay(source: Array, backdrop: Array, blend: str = "normal") -> Array:
    """Return `source` laid over `backdrop`, both premultiplied (..., 4) float.

    ``Cs = (1 - ab) Cs + ab B(Cb, Cs)``, then source-over.
    """
    a_s, a_b = source[..., 3:], backdrop[..., 3:]
    if blend == "plus-lighter":
        return np.minimum(source + backdrop, 1.0)
    if blend == "normal":
        return source + backdrop * (1 - a_s)
    cs = source[..., :3] / np.maximum(a_s, 1e-9)
    cb = backdrop[..., :3] / np.maximum(a_b, 1e-9)
    mixed = (1 - a_b) * cs + a_b * MODES[blend](np.clip(cb, 0, 1), np.clip(cs, 0, 1))
    colour = mixed * a_s + backdrop[..., :3] * (1 - a_s)
    return np.concatenate([colour, a_s + a_b * (1 - a_s)], -1).astype(backdrop.dtype)
