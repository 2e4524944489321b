"""Ramps: colours that run along a line, from a middle outwards, or round a middle."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal, NamedTuple

import numpy as np

from under_lattice.colour.colour import bytes_of, companded, linear_of, linear_of_oklab, oklab_of_linear
from under_lattice.core.errors import InputError
from under_lattice.geometry.affine import IDENTITY, Array

RampForm = Literal["linear", "radial", "around"]
STEPS = 1024
FOCUS_MOST = 0.99


class Stop(NamedTuple):
    """A colour at a place 0..1 of the ramp; `middle` 0..1 says where halfway to the next stop lies."""

    place: float
    colour: str
    alpha: float = 1.0
    middle: float = 0.5


@dataclass(frozen=True, eq=False)
class Ramp:
    """Colours along a line, outwards or round.

    Attributes
    ----------
    stops : tuple of Stop
        In order of their places.
    form : str
        ``linear`` runs along x from 0 to 1, ``radial`` from the middle to radius 1, ``around`` clockwise from the x axis.
    to_ramp : (2, 3)
        The place the ramp lives in -> its own place.
    of_marks : bool
        It lives in each mark's own place and travels, turns and shrinks with it; otherwise on the sheet.
    oklab : bool
        Mixed in Oklab (“A perceptual color space for image processing”, 2020) instead of sRGB.
    focus : float
        Of a radial one: how far along x from the middle, 0 to less than 1, its first colour stands (SVG 2, `fx`).
    """

    stops: tuple[Stop, ...]
    form: RampForm = "linear"
    to_ramp: Array = field(default_factory=lambda: IDENTITY)
    of_marks: bool = True
    oklab: bool = False
    focus: float = 0.0

    def __post_init__(self) -> None:
        """Refuse stops that are not in order.

        Raises
        ------
        InputError
        """
        places = [stop.place for stop in self.stops]
        if not self.stops or places != sorted(places) or places[0] < 0 or places[-1] > 1:
            raise InputError("a ramp needs stops in order, from 0 to 1")
        if not 0.0 <= self.focus <= FOCUS_MOST:
            raise InputError(f"the focus of a ramp lies from 0 to {FOCUS_MOST} of its reach off its middle")

    @property
    def opaque(self) -> bool:
        """Whether nothing shines through it."""
        return all(stop.alpha >= 1.0 for stop in self.stops)

    def along(self, places: Array) -> Array:
        """Return how far along the ramp places (n, 2) of its own lie, (n,), 0..1 from its first colour to its last, or beyond."""
        x, y = places[:, 0], places[:, 1]
        if self.form == "linear":
            return np.asarray(x)
        if self.form == "around":
            return np.asarray(np.arctan2(y, x) / (2 * np.pi) % 1.0)
        x = x - self.focus  # on the line from the focus through a place, how far that is towards the circle
        d, b = x * x + y * y, self.focus * x
        return np.asarray(d / np.maximum(np.sqrt(b * b + d * (1 - self.focus**2)) - b, 1e-300))

    def table(self, steps: int = STEPS) -> Array:
        """Return premultiplied colours (steps, 4) float32 at even places, channels from 0 to 1."""
        t = np.linspace(0.0, 1.0, steps)
        places = np.array([stop.place for stop in self.stops])
        colour = bytes_of(tuple(stop.colour for stop in self.stops))[:, :3] / 255.0
        mixing = oklab_of_linear(linear_of(colour)) if self.oklab else colour
        alpha = np.array([stop.alpha for stop in self.stops])
        at = np.clip(np.searchsorted(places, t, "right") - 1, 0, max(0, len(places) - 2))
        after = np.minimum(at + 1, len(places) - 1)
        width = np.maximum(places[after] - places[at], 1e-12)
        u = np.clip((t - places[at]) / width, 0.0, 1.0)
        middle = np.clip([stop.middle for stop in self.stops], 1e-3, 1 - 1e-3)[at]
        u = np.where(u <= middle, 0.5 * u / middle, 0.5 + 0.5 * (u - middle) / (1 - middle))[:, None]
        mixed = mixing[at] * (1 - u) + mixing[after] * u
        if self.oklab:
            mixed = companded(np.clip(linear_of_oklab(mixed), 0.0, 1.0))
        cover = alpha[at] * (1 - u[:, 0]) + alpha[after] * u[:, 0]
        return np.concatenate([mixed * cover[:, None], cover[:, None]], 1).astype(np.float32)
