"""What several finishes share: a light and its handle, a middle and its handle, colours as numbers."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Annotated, Any

import numpy as np

from under_lattice.colour.colour import bytes_of
from under_lattice.colour.effects.base import Rgb
from under_lattice.declare.dials import Choice, Length
from under_lattice.geometry.affine import Array
from under_lattice.pattern.stage import Stage
from under_lattice.rules.base import describe
from under_lattice.rules.families import FinishRule
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Drag, Handle, HandleSet, polar

LIGHT_KEEPS = Choice(
    "Light", "Above a repeat: whether the light stays where it is or turns with each copy.", main=False, options=("stays", "turns")
)
LEAST_PITCH = 0.01
MIDDLE = Length("", "", main=False, group="Place", slides=(-120.0, 120.0), stays=True)


def rgb(colour: str) -> Rgb:
    """Return a colour as numbers 0..1; black for none."""
    red, green, blue, _ = (float(v) / 255 for v in bytes_of((colour or "#000000",))[0])
    return red, green, blue


def degrees(value: float) -> str:
    """Return an angle in words, in degrees."""
    return f"{value:g}°".replace("-", "−")  # noqa: RUF001


def line(*points: Array) -> Array:
    """Return points (2,) as a thin line (k, 2)."""
    return np.array(points)


def circle(middle: Array, radius: float) -> Array:
    """Return a thin line (k, 2) round a middle, in the unit of the work."""
    angle = np.linspace(0.0, 2 * np.pi, 97)
    return np.asarray(middle + radius * np.stack([np.cos(angle), np.sin(angle)], 1))


class Centred(FinishRule):
    """A finish about a middle that can be dragged."""

    across: Annotated[
        float, replace(MIDDLE, label="Middle across", words="To the right of the middle of the sheet, or of each copy.")
    ] = 0.0
    down: Annotated[float, replace(MIDDLE, label="Middle down", words="Below the middle of the sheet, or of each copy.")] = 0.0

    @property
    def middle(self) -> Array:
        """Where the middle is (2,), in the unit of the work."""
        return np.array([self.across, self.down])

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return its middle."""
        return HandleSet((Handle("middle", self.middle, "middle: drag it", "pivot"),))

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Return the middle; near that of the sheet it snaps to it."""
        to = np.zeros(2) if np.hypot(*drag.to) < drag.near and not drag.free else drag.on_grid()
        return {"across": round(float(to[0]), 2), "down": round(float(to[1]), 2)}


def tip_of(length: float, degrees: float, middle: Array) -> Array:
    """Return the point (2,) at a length, in the unit of the work, and an angle in degrees from a middle."""
    angle = np.radians(degrees)
    return np.asarray(middle + length * np.array([np.cos(angle), np.sin(angle)]))


def pulled_tip(drag: Drag, middle: Array) -> tuple[float, float]:
    """Return length, in the unit of the work, and angle, in degrees, of a tip dragged about a middle."""
    length, degrees = polar(drag.to - middle)
    return drag.length(length), drag.angle(degrees)


class Pitched(FinishRule):
    """A finish on a lattice whose step, in length and direction, can be dragged."""

    if TYPE_CHECKING:  # each rule declares its own, in its own order
        pitch: float
        angle: float

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return the step from one to the next."""
        tip = tip_of(self.pitch, self.angle, np.zeros(2))
        return HandleSet((Handle("pitch", tip, f"pitch {describe(self.pitch, unit)}", "bead"),), lines=(line(np.zeros(2), tip),))

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Return pitch and angle."""
        length, turned = pulled_tip(drag, np.zeros(2))
        return {"pitch": max(length, LEAST_PITCH), "angle": turned}
