"""Colours as #RRGGBB text and as arrays of bytes."""

from __future__ import annotations

import re

import numpy as np

from under_lattice.core.affine import Array
from under_lattice.core.errors import InputError

_HEX = re.compile(r"#[0-9A-Fa-f]{6}\Z")
GREYS = ("#E4E4E4", "#B4B4B4", "#868686", "#CACACA", "#9C9C9C", "#6E6E6E")  # parts before the first ink


def checked(colour: str) -> str:
    """Return a colour in capitals.

    Raises
    ------
    InputError
        When it is not ``#RRGGBB``.
    """
    text = colour.strip()
    if not text.startswith("#"):
        text = "#" + text
    if not _HEX.match(text):
        raise InputError(f"“{colour[:20]}” is not a colour; write six hexadecimal figures, for instance #C4694C")
    return text.upper()


def bytes_of(colours: tuple[str, ...]) -> Array:
    """Return colours (P,) as opaque RGBA bytes (P, 4)."""
    return np.array([[int(c[i : i + 2], 16) for i in (1, 3, 5)] + [255] for c in colours], np.uint8).reshape(-1, 4)


def luminance(colour: str) -> float:
    """Relative luminance 0..1 (WCAG 2.2)."""
    values = [int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)]
    r, g, b = (v / 12.92 if v <= 0.04045 else ((v + 0.055) / 1.055) ** 2.4 for v in values)
    return 0.2126 * r + 0.7152 * g + 0.0722 * b


def contrast(one: str, other: str) -> float:
    """Contrast ratio 1..21 (WCAG 2.2)."""
    low, high = sorted((luminance(one), luminance(other)))
    return (high + 0.05) / (low + 0.05)
