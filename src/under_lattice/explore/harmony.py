"""Colours of a work moved together, so that what is in harmony stays so.

All hues turn together with a little spread, or are drawn together or set apart about their middle. Lightness keeps its order and
nearly all of its contrast, since from it one tells neighbours apart.
"""

from __future__ import annotations

import math
from collections.abc import Iterable

from under_lattice.colour.colour import CLEAR, from_oklch, to_oklch
from under_lattice.declare.moving import HALF_TURN, Push, multiplied

SPREAD = 12.0  # degrees
CONTRAST_LEAST = 0.8  # of what it was
GREY = 0.02  # chroma below which a colour has no hue to speak of


def recoloured(colours: Iterable[str], push: Push) -> dict[str, str]:
    """Return other colours in the same harmony, by the colours they stand for; what is clear stays so."""
    there = sorted({*colours} - {CLEAR})
    known = {one: to_oklch(one) for one in there}
    turn = HALF_TURN * push.by("all hues")
    drawn = multiplied(1.0, -abs(push.by("apart")) if push.lot("together") < 0.5 else abs(push.by("apart")) / 2)
    richer = multiplied(1.0, 0.5 * push.by("all chroma"))
    middle = _mean_hue(known.values())
    contrast = max(CONTRAST_LEAST, 1.0 + 0.15 * push.by("contrast"))
    mean = sum(one[0] for one in known.values()) / max(len(known), 1)
    out = {}
    for one in there:
        lightness, chroma, hue = known[one]
        away = ((hue - middle + HALF_TURN) % 360.0 - HALF_TURN) * (drawn if chroma > GREY else 1.0)
        spread = SPREAD * push.by(f"spread {one}")
        lighter = min(max(mean + (lightness - mean) * contrast, min(lightness, 0.02)), max(lightness, 0.98))
        out[one] = from_oklch(lighter, chroma * richer, middle + away + turn + spread)
    return out


def _mean_hue(colours: Iterable[tuple[float, float, float]]) -> float:
    """The middle of hues, weighed by chroma, in degrees."""
    x = y = 0.0
    for _, chroma, hue in colours:
        x, y = x + chroma * math.cos(math.radians(hue)), y + chroma * math.sin(math.radians(hue))
    return math.degrees(math.atan2(y, x)) % 360.0
