"""What all effects say of themselves: how far they carry what is there, and what they need to see."""

from __future__ import annotations

import math
from typing import Any, ClassVar, Self

WIDE = 4.0  # deviations, beyond which a blur is not seen
Box = tuple[float, float, float, float]  # left, top, right and bottom, in the unit of the work
Rgb = tuple[float, float, float]  # coded, 0..1


def grown(box: Box, by: float) -> Box:
    """Return a box with so much more on each side, in the unit of the work."""
    return box[0] - by, box[1] - by, box[2] + by, box[3] + by


class Effect:
    """What is done to pixels; those of its own numbers that are lengths are in the unit of the work."""

    anywhere: ClassVar[bool] = True  # it does the same wherever what is there lies

    @property
    def reach(self) -> float:
        """How far it carries what is there."""
        return 0.0

    def needs(self, box: Box) -> Box:
        """Return the box that must be seen so that another can be finished; both in the unit of the work."""
        return grown(box, self.reach)

    def placed(self, place: Any) -> Self:
        """Return the effect on what is brought to a place (2, 3) later, so that a light that stays comes from where it did."""
        return self


def brought_back(degrees: float, place: Any) -> float:
    """Return the direction, in degrees, that is the given one after a map (2, 3)."""
    a, b, c, d = (float(place[j][k]) for j in (0, 1) for k in (0, 1))
    x, y = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    side = math.copysign(1.0, a * d - b * c)
    return math.degrees(math.atan2((a * y - c * x) * side, (d * x - b * y) * side))
