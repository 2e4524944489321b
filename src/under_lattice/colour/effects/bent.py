"""Effects that take each pixel from elsewhere: streaks, ripple, twist, smear."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import ClassVar, Literal

import numpy as np

from under_lattice.colour.effects.base import Box, Effect, grown


@dataclass(frozen=True)
class Streak(Effect):
    """The mean along the ray from a centre, or along the arc round it, in linear light.

    Attributes
    ----------
    around : bool
    amount : float
        Outwards: how much of the way from the centre, 0..1. Around: degrees of the arc.
    across, down : float
        Of the centre.
    longest : float
        Of a streak outwards; without it as long as the way says.
    """

    anywhere: ClassVar[bool] = False
    around: bool
    amount: float
    across: float = 0.0
    down: float = 0.0
    longest: float = math.inf

    def needs(self, box: Box) -> Box:
        """Return the box with what of the way to the centre is taken, or with the arcs of its corners; in the unit of the work."""
        if not self.amount or not self.longest:
            return box
        if not self.around:  # no further than to the centre, and no further than they are long
            part, wide = min(self.amount, 1.0), grown(box, self.longest)
            xs, ys = ([one + part * (to - one) for one in box[at::2]] for at, to in ((0, self.across), (1, self.down)))
            near, far = (min(box[0], xs[0]), min(box[1], ys[0])), (max(box[2], xs[1]), max(box[3], ys[1]))
            return max(near[0], wide[0]), max(near[1], wide[1]), min(far[0], wide[2]), min(far[1], wide[3])
        corners = np.array([(x, y) for x in (box[0], box[2]) for y in (box[1], box[3])]) - (self.across, self.down)
        angles = np.radians(np.linspace(-min(self.amount, 360.0) / 2, min(self.amount, 360.0) / 2, 73))
        c, s = np.cos(angles)[:, None], np.sin(angles)[:, None]
        x = self.across + c * corners[:, 0] - s * corners[:, 1]
        y = self.down + s * corners[:, 0] + c * corners[:, 1]
        return min(box[0], x.min()), min(box[1], y.min()), max(box[2], x.max()), max(box[3], y.max())


@dataclass(frozen=True)
class Ripple(Effect):
    """Waves that carry pixels to and fro, in one direction or in rings.

    Attributes
    ----------
    length, height : float
        Of a wave: from crest to crest, and how far it carries.
    direction : float
        In which straight waves run, degrees clockwise from the right.
    phase : float
        Degrees.
    rings : bool
    lengthwise : bool
        Pixels go to and fro in the direction in which waves run; otherwise across it.
    across, down : float
        Of the middle of rings, and where straight waves begin.
    """

    anywhere: ClassVar[bool] = False
    length: float
    height: float
    direction: float = 0.0
    phase: float = 0.0
    rings: bool = False
    lengthwise: bool = False
    across: float = 0.0
    down: float = 0.0

    @property
    def reach(self) -> float:
        """How far it carries what is there."""
        return abs(self.height)


@dataclass(frozen=True)
class Twist(Effect):
    """Within a circle pixels are turned round its middle, drawn out of it or drawn into it, the less the nearer to its edge.

    Attributes
    ----------
    way : str
        twist, bulge or pinch.
    amount : float
        Degrees at the middle of a twist; else 0..1.
    radius : float
    across, down : float
        Of the middle.
    """

    anywhere: ClassVar[bool] = False
    way: Literal["twist", "bulge", "pinch"]
    amount: float
    radius: float
    across: float = 0.0
    down: float = 0.0

    def needs(self, box: Box) -> Box:
        """Return the box with the whole circle, where it meets that; in the unit of the work."""
        x, y, r = self.across, self.down, self.radius
        if x + r < box[0] or y + r < box[1] or x - r > box[2] or y - r > box[3]:
            return box
        return min(box[0], x - r), min(box[1], y - r), max(box[2], x + r), max(box[3], y + r)


@dataclass(frozen=True)
class Smear(Effect):
    """Paint drawn out along edges by a brush.

    Attributes
    ----------
    length : float
        Of a stroke: the deviation of what is mixed along an edge.
    size : float
        Of what counts as an edge: the deviation over which its direction is evened out.
    """

    length: float
    size: float

    @property
    def reach(self) -> float:
        """How far it carries what is there."""
        return 2.0 * self.length

    def needs(self, box: Box) -> Box:
        """Return the box with what strokes and directions reach; in the unit of the work."""
        return grown(box, 2.0 * self.length + 3.0 * self.size)
