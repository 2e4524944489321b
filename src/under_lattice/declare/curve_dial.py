"""A dial of a curve: points from what value to what, as text."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise
from typing import ClassVar

from under_lattice.core.errors import InputError
from under_lattice.core.units import short
from under_lattice.declare.dials import Dial, Ratio
from under_lattice.declare.moving import Push, at_half, between, mixed_evenly

POINTS_MOST = 16
TOP = 255.0
ALLOWED = (
    f"from 2 to {POINTS_MOST} points such as “0 0; 80 50; 255 255” are allowed, from 0 to 255, each further than the one before"
)
Points = tuple[tuple[float, float], ...]


def points_of_text(text: str) -> Points:
    """Return the points of a curve, 0..255.

    Raises
    ------
    InputError
        When it is not from 2 to 16 pairs of numbers from 0 to 255, the first of each growing.
    """
    try:
        points = tuple(
            (float(x), float(y)) for x, y in (part.split() for part in text.replace(",", " ").split(";") if part.strip())
        )
    except ValueError:
        raise InputError(ALLOWED) from None
    inside = all(0 <= value <= TOP for point in points for value in point)
    grows = all(one[0] < other[0] for one, other in pairwise(points))
    if not (2 <= len(points) <= POINTS_MOST and inside and grows):
        raise InputError(ALLOWED)
    return points


def text_of_points(points: Points) -> str:
    """Return points, 0..255, as text."""
    return "; ".join(f"{short(round(x, 2))} {short(round(y, 2))}" for x, y in points)


@dataclass(frozen=True)
class TonePoint(Ratio):
    """A lightness, chosen by what tones come in."""


@dataclass(frozen=True)
class CurvePoints(Dial):
    """Points of a curve as text, each from what value to what, 0 to 255."""

    kind: ClassVar[str] = "curve"

    def check(self, value: str) -> str:
        """Hold to points of a curve."""
        try:
            return text_of_points(points_of_text(value))
        except InputError as error:
            raise InputError(error.message, self.label) from None

    def moved(self, value: str, push: Push) -> str:
        """Return the curve with the points between its ends moved up or down by chance."""
        points = points_of_text(value)
        inner = tuple((x, between(y, 0.0, TOP, push.by(str(k)))) for k, (x, y) in enumerate(points[1:-1]))
        return text_of_points((points[0], *inner, points[-1]))

    def mixed(self, one: str, other: str, share: float) -> str:
        """Return the curve `share` (0..1) of the way between two of as many points; else the nearer."""
        first, second = points_of_text(one), points_of_text(other)
        if len(first) != len(second):
            return at_half(one, other, share)
        pairs = zip(first, second, strict=True)
        return text_of_points(tuple((mixed_evenly(a[0], b[0], share), mixed_evenly(a[1], b[1], share)) for a, b in pairs))
