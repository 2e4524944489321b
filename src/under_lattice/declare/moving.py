"""How values move on their natural scales: pushed by chance, or part of the way from one to another.

The scales: ratios and lengths multiply, angles turn, counts step by whole numbers, what lies between two bounds moves in the logit,
colours in Oklch and Oklab.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from statistics import NormalDist
from typing import TypeVar

from under_lattice.colour.colour import CLEAR, from_oklch, mixed_colour, to_oklch

Value = TypeVar("Value")
CUT = 2.0  # standard deviations at which the normal law is cut
LOW = NormalDist().cdf(-CUT)
LEAST_DRAWN = 0.6  # less would not be seen
HALF_TURN = 180.0
EDGE = 0.02  # how near to its bounds a value between two counts in the logit
STEEP = 2.0


@dataclass(frozen=True)
class Push:
    """One draw of chance that moves one value.

    Attributes
    ----------
    strength : float
        How far values may roam, from 0 to 1 or a little more.
    lot : callable
        Gives a chance 0..1 for a name, always the same.
    size : float
        A natural length, that of the motif, in the unit of the work.
    side : float
        The shorter side of the sheet, in the unit of the work.
    period : float
        Degrees after which what is turned looks the same.
    """

    strength: float
    lot: Callable[[str], float]
    size: float = 1.0
    side: float = 10.0
    period: float = 90.0

    def drawn(self, name: str = "") -> float:
        """Return a normal number cut at 2 and kept away from 0, without unit."""
        drawn = NormalDist().inv_cdf(LOW + self.lot(f"w {name}") * (1 - 2 * LOW))
        return math.copysign(max(abs(drawn), LEAST_DRAWN), drawn)

    def by(self, name: str = "") -> float:
        """Return how far something goes, without unit; negative the other way."""
        return self.strength * self.drawn(name)

    def picked(self, count: int, name: str = "") -> int:
        """Return a whole number from 0 to below `count`."""
        return min(int(self.lot(f"pick {name}") * count), count - 1)


def tidied(value: float) -> float:
    """Round to three significant figures, and never finer than a thousandth, in any unit."""
    if not value:
        return 0.0
    return round(round(value, max(0, 2 - math.floor(math.log10(abs(value))))), 3)


def multiplied(value: float, by: float) -> float:
    """Return a ratio or length `by` further on its own scale, in its unit."""
    return value * math.exp(by)


def between(value: float, least: float, most: float, by: float) -> float:
    """Return a value between two bounds `by` further in the logit, in its unit."""
    share = min(max((value - least) / (most - least), EDGE), 1 - EDGE)
    moved = math.log(share / (1 - share)) + STEEP * by
    return least + (most - least) / (1 + math.exp(-moved))


def stepped(value: int, by: float) -> int:
    """Return a count `by` further on its scale, at least one step from where it was."""
    moved = round(multiplied(value, by))
    return moved if moved != value else value + (1 if by > 0 else -1)


def coloured(colour: str, push: Push, name: str = "") -> str:
    """Return a colour moved in Oklch: its hue turned, its chroma and lightness changed a little; what is clear stays so."""
    if colour == CLEAR:
        return colour
    lightness, chroma, hue = to_oklch(colour)
    lightness = min(max(lightness + 0.08 * push.by(f"{name} lightness"), 0.0), 1.0)
    return from_oklch(lightness, multiplied(chroma, 0.4 * push.by(f"{name} chroma")), hue + HALF_TURN * push.by(f"{name} hue"))


def at_half(one: Value, other: Value, share: float) -> Value:
    """Return the nearer of two values that have nothing between them."""
    return one if share < 0.5 else other


def mixed_ratio(one: float, other: float, share: float) -> float:
    """Return what lies `share` of the way between two numbers by ratio; evenly where one is not above zero."""
    if one > 0 and other > 0:
        return round(float(one ** (1 - share) * other**share), 9)
    return mixed_evenly(one, other, share)


def mixed_evenly(one: float, other: float, share: float) -> float:
    """Return what lies `share` of the way between two numbers, in their unit."""
    return one * (1 - share) + other * share


def mixed_angle(one: float, other: float, share: float) -> float:
    """Return the angle `share` of the way from one to another, the short way round, in degrees."""
    return one + ((other - one + HALF_TURN) % 360.0 - HALF_TURN) * share


def mixed_colours(one: tuple[str, ...], other: tuple[str, ...], share: float) -> tuple[str, ...]:
    """Return colours `share` of the way between two palettes, in Oklab; as many as the nearer one has."""
    count = len(at_half(one, other, share))
    return tuple(mixed_colour(one[k % len(one)], other[k % len(other)], share) for k in range(count))
