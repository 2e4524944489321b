"""What finishes do to pixels, in numbers: lengths in the unit of the work, so that a work looks the same at any size."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from under_lattice.colour.ramp import Ramp

WIDE = 4.0  # deviations, beyond which a blur is not seen


@dataclass(frozen=True)
class Blur:
    """A Gaussian in linear light, of one deviation in all directions, or along one alone.

    Attributes
    ----------
    deviation : float
    along : float or None
        Degrees, clockwise from the right.
    """

    deviation: float
    along: float | None = None

    @property
    def reach(self) -> float:
        """How far it carries what is there."""
        return WIDE * self.deviation


@dataclass(frozen=True)
class Shadow:
    """What is there in one colour, moved and blurred: beneath it, or within it from its edge inwards.

    Attributes
    ----------
    across, down, deviation : float
    colour : (float, float, float)
        Coded, 0..1.
    opacity : float
    inside : bool
    """

    across: float
    down: float
    deviation: float
    colour: tuple[float, float, float]
    opacity: float
    inside: bool = False

    @property
    def reach(self) -> float:
        """How far it carries what is there."""
        return max(abs(self.across), abs(self.down)) + WIDE * self.deviation


@dataclass(frozen=True)
class Tone:
    """Each pixel's colour by itself; shares are of 1.

    Attributes
    ----------
    exposure : float
        Stops of light.
    black, white : float
        Coded values that become 0 and 1.
    mid : float
        The power that brings the middle up (above 1) or down.
    contrast, about : float
        Times as far from a grey.
    saturation : float
        Times the saturation of HSL.
    hue : float
        Degrees.
    invert : bool
    """

    exposure: float = 0.0
    black: float = 0.0
    white: float = 1.0
    mid: float = 1.0
    contrast: float = 1.0
    about: float = 0.5
    saturation: float = 1.0
    hue: float = 0.0
    invert: bool = False

    @property
    def reach(self) -> float:
        """How far it carries what is there."""
        return 0.0


@dataclass(frozen=True, eq=False)
class ToneMap:
    """Each pixel takes the colour a ramp has at its lightness; the shape of what is there stays.

    Attributes
    ----------
    ramp : Ramp
    by : str
        Which way the ramp is gone through: once, or there and back, `cycles` times.
    """

    ramp: Ramp
    cycles: int = 1
    by: Literal["again and again", "there and back"] = "again and again"

    @property
    def reach(self) -> float:
        """How far it carries what is there."""
        return 0.0


Effect = Blur | Shadow | Tone | ToneMap
