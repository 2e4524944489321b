"""Effects on each pixel's colour by itself: tone, tone curve, few tones, balance, tones to colours."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from under_lattice.colour.effects.base import Effect, Rgb
from under_lattice.colour.ramp import Ramp


@dataclass(frozen=True)
class Tone(Effect):
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
    favours_pale : bool
        Saturation above 1 does less to what is saturated already.
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
    favours_pale: bool = False
    hue: float = 0.0
    invert: bool = False


@dataclass(frozen=True, eq=False)
class ToneMap(Effect):
    """Each pixel takes the colour a ramp has at its lightness; the shape of what is there stays.

    Attributes
    ----------
    ramp : Ramp
    by : str
        Which way the ramp is gone through: once, or there and back, `cycles` times.
    shift : float
        How far along the ramp black begins, 0..1; after the end comes the beginning.
    """

    ramp: Ramp
    cycles: int = 1
    by: Literal["again and again", "there and back"] = "again and again"
    shift: float = 0.0


@dataclass(frozen=True)
class ToneCurve(Effect):
    """Coded values through a curve that never turns back between two points.

    Attributes
    ----------
    points : tuple of (float, float)
        From what to what, 0..1, the first number growing; 0 and 1 stay where no point says otherwise.
    channels : str
        Which are changed: all, or one of red, green and blue.
    """

    points: tuple[tuple[float, float], ...]
    channels: Literal["all", "red", "green", "blue"] = "all"


@dataclass(frozen=True)
class FewTones(Effect):
    """A few even steps in each channel, or two colours, one for what is lighter than a value and one for the rest.

    Attributes
    ----------
    count : int
    at : float or None
        Of the coded lightness; None for steps.
    dark, light : (float, float, float)
        The two colours.
    """

    count: int
    at: float | None = None
    dark: Rgb = (0.0, 0.0, 0.0)
    light: Rgb = (1.0, 1.0, 1.0)


@dataclass(frozen=True)
class Balance(Effect):
    """White moved between amber and blue and between green and magenta; shadows and lights towards a colour each.

    Attributes
    ----------
    warmth, tint : float
        From -1 to 1: stops of light between red and blue, and between magenta and green.
    dark, light : (float, float, float)
        The colours, coded.
    dark_share, light_share : float
        How far black goes towards its colour, and white, 0..1.
    """

    warmth: float = 0.0
    tint: float = 0.0
    dark: Rgb = (0.0, 0.0, 0.0)
    dark_share: float = 0.0
    light: Rgb = (1.0, 1.0, 1.0)
    light_share: float = 0.0
