"""Blend modes by their names in W3C Compositing and Blending Level 1, and plus-lighter."""

from __future__ import annotations

from typing import Literal, get_args

Blend = Literal[
    "normal",
    "multiply",
    "screen",
    "overlay",
    "darken",
    "lighten",
    "color-dodge",
    "color-burn",
    "hard-light",
    "soft-light",
    "difference",
    "exclusion",
    "hue",
    "saturation",
    "color",
    "luminosity",
    "plus-lighter",
]
BLENDS: tuple[str, ...] = get_args(Blend)
SPOKEN: tuple[str, ...] = tuple(one.replace("-", " ").replace("color", "colour") for one in BLENDS)  # as said on screen
RARE: tuple[str, ...] = (
    "color-dodge",
    "color-burn",
    "hue",
    "saturation",
    "color",
    "luminosity",
    "plus-lighter",
)  # seldom wanted unasked
