"""Motif: roulette, the line a point of a wheel draws that rolls inside or outside another."""

from __future__ import annotations

from math import gcd
from typing import Annotated, ClassVar, Literal

import numpy as np

from under_lattice.declare.dials import Choice, Count, Ratio
from under_lattice.geometry.affine import Array
from under_lattice.geometry.curves import Curve
from under_lattice.rules.base import describe
from under_lattice.rules.shared.measure_spots import Spot
from under_lattice.rules.shared.measured import TURN, CurveMotif, Grip, Numbers, extent
from under_lattice.vary.numbers import Number


class Roulette(CurveMotif):
    """A hypotrochoid or an epitrochoid: one unbroken closed line."""

    words: ClassVar[str] = "A roulette: the line of a wheel that rolls inside or outside a ring."
    search: ClassVar[str] = "hypotrochoid epitrochoid guilloche cycloid banknote loop engraving"
    grips: ClassVar[tuple[Grip, ...]] = (Grip("width", 0.0),)
    spots: ClassVar[tuple[Spot, ...]] = (Spot("arm", lambda n: (0.0, -n["width"] / 2 * n["arm"] / (n["arm"] + 100.0))),)

    kind: Literal["roulette"] = "roulette"
    rolls: Annotated[
        Literal["inside", "outside"],
        Choice("Rolls", "Whether the wheel rolls inside the ring or outside.", options=("inside", "outside")),
    ] = "inside"
    ring: Annotated[
        int, Count("Ring", "Radius of the ring; only its proportion to the wheel counts.", least=1, most=1000, slides=(10, 150))
    ] = 105
    wheel: Annotated[
        int,
        Count(
            "Wheel",
            "Radius of the wheel; the fewer divisors it shares with the ring, the more loops.",
            least=1,
            most=1000,
            slides=(1, 150),
        ),
    ] = 45
    arm: Annotated[
        Number,
        Ratio(
            "Arm",
            "How far from the wheel's middle the drawing point sits, as a part of the wheel's radius.",
            least=0.0,
            most=1000.0,
            vary=True,
            slides=(0, 150),
        ),
    ] = 66.6667
    width: Annotated[Number, extent("Width", "Width of the circle that holds it.", 200)] = 60.0
    turn: Annotated[float, TURN] = 0.0

    @property
    def turns(self) -> int:
        """How often it goes round until it closes: r / gcd(R, r)."""
        return int(self.wheel) // gcd(int(self.ring), int(self.wheel))

    @property
    def lobes(self) -> int:
        """How many lobes it has: R / gcd(R, r)."""
        return int(self.ring) // gcd(int(self.ring), int(self.wheel))

    def span(self) -> tuple[float, float]:
        """Return as many turns as close it, without unit."""
        return 0.0, 2.0 * np.pi * self.turns

    def pieces(self) -> int:
        """Return a multiple of lobes and turns, so that all lobes are alike."""
        own = super().pieces()
        return -(-own // self.lobes) * self.lobes

    def curve(self, numbers: Numbers) -> Curve:
        """Return ``x = (R - r) cos t + d cos((R - r)/r t)``, ``y = (R - r) sin t - d sin((R - r)/r t)``.

        Outside, r has the other sign and d both times a minus.
        """
        sign = 1.0 if self.rolls == "outside" else -1.0
        away, small = float(self.ring + sign * self.wheel), float(self.wheel)
        arm = numbers["arm"] / 100 * small
        reach = np.maximum(abs(away) + arm, 1e-12)
        scale = (numbers["width"] / 2 / reach)[:, None]
        arm, q = arm[:, None], away / small

        def at(t: Array) -> tuple[Array, Array]:
            x, y = away * np.cos(t) - sign * arm * np.cos(q * t), away * np.sin(t) - arm * np.sin(q * t)
            dx, dy = -away * np.sin(t) + sign * arm * q * np.sin(q * t), away * np.cos(t) - arm * q * np.cos(q * t)
            return np.stack([x, y], -1) * scale[..., None], np.stack([dx, dy], -1) * scale[..., None]

        return at

    def key_line(self, unit: str) -> str:
        """Return lobes and turns."""
        turns = "1 turn" if self.turns == 1 else f"{self.turns} turns"
        return f"Roulette, {self.lobes} lobes in {turns}, {describe(self.width, unit)}"
