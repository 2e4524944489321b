"""Motif: the curve of Lissajous, two swings at right angles."""

from __future__ import annotations

from math import gcd
from typing import Annotated, ClassVar, Literal

import numpy as np

from under_lattice.declare.dials import Angle, Count
from under_lattice.geometry.affine import Array
from under_lattice.geometry.curves import Curve
from under_lattice.rules.base import describe
from under_lattice.rules.shared.measure_spots import Spot, at_polar
from under_lattice.rules.shared.measured import ROUNDNESS, TURN, CurveMotif, Grip, Numbers, extent
from under_lattice.vary.numbers import Number


class Lissajous(CurveMotif):
    """Two swings at right angles."""

    words: ClassVar[str] = "A curve of Lissajous: two swings at right angles."
    search: ClassVar[str] = "bowditch oscillation figure eight knot harmonograph"
    grips: ClassVar[tuple[Grip, ...]] = (Grip("width", 0.0),)
    spots: ClassVar[tuple[Spot, ...]] = (
        Spot("phase", lambda n: at_polar(n["width"] / 3, -n["phase"])),
        Spot("roundness", lambda n: (0.0, n["width"] * n["roundness"] / 200)),
    )

    kind: Literal["lissajous"] = "lissajous"
    across: Annotated[
        int, Count("Swings across", "How often it swings to the right and back in one round.", least=1, most=60, slides=(1, 12))
    ] = 3
    down: Annotated[
        int, Count("Swings down", "How often it swings down and up again in one round.", least=1, most=60, slides=(1, 12))
    ] = 2
    phase: Annotated[Number, Angle("Phase", "How far the swing across is ahead of the swing down.", vary=True)] = 90.0
    width: Annotated[Number, extent("Width", "From side to side.", 200)] = 44.0
    roundness: Annotated[Number, ROUNDNESS] = 100.0
    turn: Annotated[float, TURN] = 0.0

    def curve(self, numbers: Numbers) -> Curve:
        """Return ``x = sin(a t + phase)``, ``y = sin(b t)``."""
        shared = gcd(int(self.across), int(self.down))
        a, b = int(self.across) // shared, int(self.down) // shared
        wide, phase = (numbers["width"] / 2)[:, None], np.radians(numbers["phase"])[:, None]
        high = wide * numbers["roundness"][:, None] / 100

        def at(t: Array) -> tuple[Array, Array]:
            ahead = a * t + phase
            places = np.stack([wide * np.sin(ahead), high * np.sin(b * t)], -1)
            return places, np.stack([wide * a * np.cos(ahead), high * b * np.cos(b * t)], -1)

        return at

    def key_line(self, unit: str) -> str:
        """Return both swings."""
        return f"Lissajous {int(self.across)} : {int(self.down)}, {describe(self.width, unit)} wide"
