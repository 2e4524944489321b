"""Tone: each pixel's colour by itself, on the coded values of sRGB; light alone is changed in linear light."""

from __future__ import annotations

import numpy as np

from under_lattice.colour.colour import companded, linear_of
from under_lattice.colour.effects import Balance, FewTones, Tone, ToneCurve, ToneMap
from under_lattice.colour.tone_curve import curve_at
from under_lattice.geometry.affine import Array
from under_lattice.pattern.known import LUMA
from under_lattice.render.finish.straight import looked_up, straight

STEPS = 255 * 16 + 1  # so that each of 256 values has its own place in a table
LUMINANCE = np.array([0.2126, 0.7152, 0.0722])  # of linear sRGB


def toned(pixels: Array, tone: Tone) -> Array:
    """Return premultiplied pixels (H, W, 4) with other tones; their alpha stays."""
    colours, alpha = straight(pixels)
    if tone.exposure:
        colours = companded(np.clip(linear_of(colours) * 2.0**tone.exposure, 0.0, 1.0)).astype(np.float32)
    if (tone.black, tone.white) != (0.0, 1.0):
        colours = np.clip((colours - tone.black) / (tone.white - tone.black), 0.0, 1.0)
    if tone.mid != 1.0:
        colours = colours ** np.float32(1 / tone.mid)
    if tone.contrast != 1.0:
        colours = np.clip(tone.about + (colours - tone.about) * tone.contrast, 0.0, 1.0)
    if tone.saturation != 1.0 or tone.hue:
        colours = _coloured(colours, tone.saturation, tone.hue, tone.favours_pale)
    if tone.invert:
        colours = 1.0 - colours
    return np.concatenate([colours.astype(np.float32) * alpha, alpha], -1)


def mapped(pixels: Array, tone: ToneMap) -> Array:
    """Return premultiplied pixels (H, W, 4) in the colours a ramp has at their lightness; what the ramp lets through is clearer."""
    colours, alpha = straight(pixels)
    place = (colours @ LUMA.astype(np.float32)) * tone.cycles + np.float32(tone.shift)
    round_again = tone.cycles > 1 or tone.shift
    if round_again and tone.by == "there and back":
        place = 1.0 - np.abs(place % 2.0 - 1.0)
    elif round_again:
        place = np.where((place > 0) & (place % 1.0 == 0), 1.0, place % 1.0)
    table = tone.ramp.table(STEPS).astype(np.float32)
    at = np.clip(place, 0.0, 1.0) * (STEPS - 1)
    low = np.minimum(at.astype(int), STEPS - 2)
    share = (at - low)[..., None].astype(np.float32)
    return np.asarray((table[low] + (table[low + 1] - table[low]) * share) * alpha)


def curved(pixels: Array, curve: ToneCurve) -> Array:
    """Return premultiplied pixels (H, W, 4) with coded values through a curve; other channels than its own stay."""
    out = looked_up(pixels, curve_at(curve.points, np.linspace(0.0, 1.0, STEPS)).astype(np.float32))
    if curve.channels != "all":
        own = ("red", "green", "blue").index(curve.channels)
        kept = np.array(pixels, np.float32)
        kept[..., own] = out[..., own]
        return kept
    return out


def stepped(pixels: Array, tone: FewTones) -> Array:
    """Return premultiplied pixels (H, W, 4) in a few even steps of each channel, or in two colours."""
    colours, alpha = straight(pixels)
    if tone.at is None:
        last = max(tone.count, 2) - 1
        colours = np.minimum(np.floor(colours * (last + 1)), last) / np.float32(last)
    else:
        light = (colours @ LUMA.astype(np.float32))[..., None] >= tone.at
        colours = np.where(light, np.array(tone.light, np.float32), np.array(tone.dark, np.float32))
    return np.concatenate([colours * alpha, alpha], -1)


def balanced(pixels: Array, tone: Balance) -> Array:
    """Return premultiplied pixels (H, W, 4) with another white, whose luminance stays, and with coloured shadows and lights."""
    colours, alpha = straight(pixels)
    if tone.warmth or tone.tint:
        stops = np.array([tone.warmth + tone.tint / 2, -tone.tint, -tone.warmth + tone.tint / 2]) / 2
        gains = 2.0**stops
        gains /= gains @ LUMINANCE
        colours = companded(np.clip(linear_of(colours) * gains, 0.0, 1.0)).astype(np.float32)
    if tone.dark_share or tone.light_share:
        light = (colours @ LUMA.astype(np.float32))[..., None]
        down = (1 - light) ** 2 * np.array(tone.dark, np.float32) * np.float32(tone.dark_share)
        up = light**2 * (np.array(tone.light, np.float32) - 1) * np.float32(tone.light_share)
        colours = np.clip(colours + down + up, 0.0, 1.0)
    return np.concatenate([colours.astype(np.float32) * alpha, alpha], -1)


def _coloured(rgb: Array, saturation: float, hue: float, pale: bool) -> Array:
    """Colours (H, W, 3) with the saturation of HSL multiplied and the hue turned (CSS Color 4, section 7)."""
    red, green, blue = (rgb[..., k] for k in range(3))
    high, low = np.maximum(np.maximum(red, green), blue), np.minimum(np.minimum(red, green), blue)
    light, spread = (high + low) / 2, high - low
    room = 1 - np.abs(2 * light - 1)
    full = np.divide(spread, room, out=np.zeros_like(spread), where=room > 0)
    times = 1 + (saturation - 1) * (1 - full) if pale and saturation > 1 else np.float32(saturation)
    half = np.clip(full * times, 0.0, 1.0) * room / 2
    away = rgb - light[..., None]  # between minus and plus half the spread
    unit = np.divide(2 * away, spread[..., None], out=np.zeros_like(away), where=spread[..., None] > 0)
    if hue:
        unit = _turned(unit, hue)
    return np.clip(light[..., None] + unit * half[..., None], 0.0, 1.0)


def _turned(unit: Array, degrees: float) -> Array:
    """Pure hues (H, W, 3), each channel from -1 to 1, turned round the hexagon."""
    red, green, blue = (unit[..., k] for k in range(3))
    top = unit.argmax(-1)
    sides = np.stack([(green - blue) / 2, (blue - red) / 2 + 2, (red - green) / 2 + 4], -1)
    angle = np.take_along_axis(sides, top[..., None], -1)[..., 0] + degrees / 60.0
    offset = np.array([0.0, 4.0, 2.0])  # CSS Color 4: of red, green and blue
    k = (angle[..., None] + offset) % 6.0
    turned = np.clip(np.abs(k - 3.0) - 1.0, 0.0, 1.0) * 2 - 1
    return np.where(np.abs(unit).max(-1, keepdims=True) > 0, turned, 0.0).astype(np.float32)
