"""Colours as #RRGGBB text and as arrays of bytes."""

from __future__ import annotations

import re
from collections.abc import Sequence
from functools import lru_cache

import numpy as np

from under_lattice.core.errors import InputError
from under_lattice.geometry.affine import Array

_HEX = re.compile(r"#[0-9A-Fa-f]{6}\Z")
_WITH_ALPHA = re.compile(r"#[0-9A-Fa-f]{8}\Z")  # four figures would be met while six are typed
_SHORT = re.compile(r"#[0-9A-Fa-f]{3}\Z")
_PARTED = re.compile(r"([\d.]+%?)\s+([\d.]+%?)\s+([\d.]+%?)")
BEYOND = 1e-3  # of a channel, by which rounding may pass its ends
CLEAR = "#00000000"  # what shows nothing
GREYS = ("#E4E4E4", "#B4B4B4", "#868686", "#CACACA", "#9C9C9C", "#6E6E6E")  # parts before the first ink


def checked(colour: str) -> str:
    """Return a colour as ``#RRGGBB`` in capitals, or what is clear as ``#00000000``.

    It may be given by six or three hexadecimal figures, by its name, as a function of CSS Color 4 such as ``rgb()``, ``hsl()`` or
    ``oklch()``, or as ``hsb()``. With two figures of alpha it is opaque or clear. Of what sRGB does not have the chroma is lowered.

    Raises
    ------
    InputError
        When it is none of these, or half clear.
    """
    text = colour.strip()
    figures = text if text.startswith("#") else "#" + text
    if _HEX.match(figures):
        return figures.upper()
    if _SHORT.match(figures):
        return "#" + "".join(2 * figure for figure in figures[1:].upper())
    if _WITH_ALPHA.match(figures):
        return _of_alpha(figures[1:].upper())
    return CLEAR if text.lower() == "transparent" else _named(text)


def checked_or_none(colour: str) -> str:
    """Return a colour as ``#RRGGBB``, nothing for what is clear or no colour.

    Raises
    ------
    InputError
    """
    found = checked(colour) if colour else ""
    return "" if found == CLEAR else found


def _of_alpha(figures: str) -> str:
    """A colour of eight figures, the last two of them alpha."""
    if figures.endswith("00"):
        return CLEAR
    if not figures.endswith("FF"):
        raise InputError(f"“#{figures}” is half clear; a colour is opaque (FF) or clear (00), opacity is a number of its own")
    return f"#{figures[:6]}"


def is_beyond_srgb(text: str) -> bool:
    """Tell whether a text means a colour that sRGB does not have."""
    css = _css(text.strip()) if "(" in text else None
    return css is not None and not _within(css[:3])


def _within(channels: Sequence[float]) -> bool:
    return all(-BEYOND <= one <= 1 + BEYOND for one in channels)


@lru_cache(maxsize=256)
def _css(text: str) -> tuple[float, ...] | None:
    """The sRGB channels, 0..1 and beyond, and lightness, chroma and hue in Oklch of an opaque colour of CSS Color 4; or None."""
    from tinycss2 import color4  # type: ignore[import-untyped]

    try:
        found = color4.parse_color(text)
        if found is None or isinstance(found, str) or found.alpha < 1:
            return None
        if found.space in ("oklab", "oklch"):
            lightness, one, other = (float(part or 0.0) for part in found.coordinates)
            angle = np.radians(other)
            a, b = (one, other) if found.space == "oklab" else (one * np.cos(angle), one * np.sin(angle))
            with np.errstate(over="raise"):
                linear = linear_of_oklab(np.array([lightness, a, b]))
            channels = np.sign(linear) * companded(np.abs(linear))
        else:
            channels = np.array([float(part or 0.0) for part in found.to("srgb").coordinates])
            lightness, a, b = oklab_of_linear(linear_of(np.clip(channels, 0.0, 1.0))).tolist()
    except (NotImplementedError, ValueError, ZeroDivisionError, OverflowError, FloatingPointError):
        return None
    out = (*channels.tolist(), lightness, float(np.hypot(a, b)), float(np.degrees(np.arctan2(b, a))))
    return out if np.isfinite(out).all() else None


def _named(text: str) -> str:
    """A colour by name or function."""
    css = _css(text) if "(" in text else None
    if css is not None:
        if _within(css[:3]):
            return "#" + "".join(f"{round(255 * min(max(one, 0.0), 1.0)):02X}" for one in css[:3])
        return from_oklch(min(max(css[3], 0.0), 1.0), css[4], css[5])
    from PIL import ImageColor  # works whose colours are figures start faster without it

    words = _PARTED.sub(r"\1,\2,\3", text) if "(" in text else text  # with spaces between, as CSS also writes it
    try:
        found: tuple[int, ...] = ImageColor.getrgb(words)
    except ValueError:
        found = ()
    if len(found) != 3 or text.startswith("#"):
        raise InputError(
            f"“{text[:20]}” is not a colour; write for instance #C4694C, #C64, teal, rgb(196, 105, 76) or oklch(60% 0.12 40)"
        )
    return "#" + "".join(f"{min(max(one, 0), 255):02X}" for one in found)


def bytes_of(colours: tuple[str, ...]) -> Array:
    """Return colours (P,) as RGBA bytes (P, 4), opaque but for what is clear."""
    rows = [[int(c[i : i + 2], 16) for i in (1, 3, 5)] + [0 if c == CLEAR else 255] for c in colours]
    return np.array(rows, np.uint8).reshape(-1, 4)


def luminance(colour: str) -> float:
    """Relative luminance 0..1 (WCAG 2.2)."""
    values = [int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)]
    r, g, b = (v / 12.92 if v <= 0.04045 else ((v + 0.055) / 1.055) ** 2.4 for v in values)
    return 0.2126 * r + 0.7152 * g + 0.0722 * b


def contrast(one: str, other: str) -> float:
    """Contrast ratio 1..21 (WCAG 2.2)."""
    low, high = sorted((luminance(one), luminance(other)))
    return (high + 0.05) / (low + 0.05)


# Oklab and its matrices: “A perceptual color space for image processing” (2020)
_TO_LMS = np.array(
    [
        (0.4122214708, 0.5363325363, 0.0514459929),
        (0.2119034982, 0.6806995451, 0.1073969566),
        (0.0883024619, 0.2817188376, 0.6299787005),
    ]
)
_TO_LAB = np.array(
    [
        (0.2104542553, 0.7936177850, -0.0040720468),
        (1.9779984951, -2.4285922050, 0.4505937099),
        (0.0259040371, 0.7827717662, -0.8086757660),
    ]
)


def linear_of(colour: Array) -> Array:
    """Linear light (..., 3) of sRGB values 0..1."""
    return np.where(colour <= 0.04045, colour / 12.92, ((colour + 0.055) / 1.055) ** 2.4)


def companded(linear: Array) -> Array:
    """Return sRGB values 0..1 (..., 3) of linear light."""
    return np.where(linear <= 0.0031308, 12.92 * linear, 1.055 * linear ** (1 / 2.4) - 0.055)


def oklab_of_linear(linear: Array) -> Array:
    """Oklab (..., 3) of linear light (..., 3)."""
    return np.cbrt(linear @ _TO_LMS.T) @ _TO_LAB.T


def nearest_colours(colours: tuple[str, ...], among: tuple[str, ...]) -> dict[str, str]:
    """Return the nearest of some colours to each, in Oklab; each itself where there are none to choose from."""
    if not among or not colours:
        return {one: one for one in colours}
    mine, there = (oklab_of_linear(linear_of(bytes_of(some)[:, :3] / 255)) for some in (colours, among))
    nearest = np.linalg.norm(mine[:, None] - there[None], axis=2).argmin(1)
    return {one: among[at] for one, at in zip(colours, nearest.tolist(), strict=True)}


def linear_of_oklab(lab: Array) -> Array:
    """Linear light (..., 3) of Oklab (..., 3)."""
    return np.linalg.solve(_TO_LMS, np.linalg.solve(_TO_LAB, lab.T) ** 3).T


def mixed_colour(one: str, other: str, share: float) -> str:
    """Return the colour `share` (0..1) of the way from one to another, in Oklab; the nearer where one is clear."""
    if CLEAR in (one, other):
        return one if share < 0.5 else other
    labs = oklab_of_linear(linear_of(bytes_of((one, other))[:, :3] / 255.0))
    linear = linear_of_oklab(labs[0] * (1 - share) + labs[1] * share)
    return _written(linear)


def to_oklch(colour: str) -> tuple[float, float, float]:
    """Return lightness 0..1, chroma and hue (degrees) of a colour in Oklab's polar form."""
    values = bytes_of((colour,))[0, :3] / 255.0
    lightness, a, b = oklab_of_linear(linear_of(values))
    return float(lightness), float(np.hypot(a, b)), float(np.degrees(np.arctan2(b, a)) % 360)


def from_oklch(lightness: float, chroma: float, hue: float) -> str:
    """Return the colour of lightness and chroma from 0 to 1 and a hue in degrees; a chroma no screen can show is lowered."""
    for share in np.linspace(1.0, 0.0, 41):
        a, b = chroma * share * np.cos(np.radians(hue)), chroma * share * np.sin(np.radians(hue))
        linear = linear_of_oklab(np.array([lightness, a, b]))
        if (linear > -1e-4).all() and (linear < 1 + 1e-4).all():
            break
    return _written(linear)


def _written(linear: Array) -> str:
    return "#" + "".join(f"{round(float(v) * 255):02X}" for v in companded(np.clip(linear, 0, 1)))
