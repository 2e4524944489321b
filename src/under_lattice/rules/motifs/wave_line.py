"""Motif: wave line, a whole or broken number of waves, smooth or pointed; an open line."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from under_lattice.declare.dials import Angle, Choice, Count, Length
from under_lattice.geometry.affine import Array
from under_lattice.geometry.curves import Curve
from under_lattice.geometry.outline import LINE, MOVE
from under_lattice.rules.base import describe
from under_lattice.rules.shared.measure_spots import Spot
from under_lattice.rules.shared.measured import TURN, CurveMotif, Face, Grip, Numbers, extent
from under_lattice.vary.numbers import Number


class WaveLine(CurveMotif):
    """A line that waves."""

    words: ClassVar[str] = "A wave line: length, height and how many waves."
    search: ClassVar[str] = "sine zigzag ripple chevron squiggle wavy"
    grips: ClassVar[tuple[Grip, ...]] = (Grip("width", 0.0), Grip("height", -90.0))
    spots: ClassVar[tuple[Spot, ...]] = (
        Spot("phase", lambda n: (n["width"] * ((90.0 - n["phase"]) / 360.0 / n["waves"] - 0.5), -n["height"] / 2)),
    )

    kind: Literal["wave-line"] = "wave-line"
    width: Annotated[Number, extent("Length", "From end to end.", 200)] = 48.0
    height: Annotated[Number, Length("Height", "From crest to trough.", least=0.0, most=1e5, vary=True, slides=(0, 60))] = 12.0
    waves: Annotated[int, Count("Waves", "How many waves there are along the length.", least=1, most=500, slides=(1, 24))] = 2
    form: Annotated[
        Literal["smooth", "pointed"],
        Choice("Form", "Round waves of a sine, or straight to and fro.", options=("smooth", "pointed")),
    ] = "smooth"
    phase: Annotated[Number, Angle("Phase", "Where in a wave the line begins.", vary=True, main=False)] = 0.0
    turn: Annotated[float, TURN] = 0.0

    @property
    def closed(self) -> bool:
        """It has two ends."""
        return False

    def curve(self, numbers: Numbers) -> Curve:
        """Return a sine."""
        wide, high = numbers["width"][:, None], numbers["height"][:, None] / 2
        phase, whole = np.radians(numbers["phase"])[:, None], float(self.waves)

        def at(t: Array) -> tuple[Array, Array]:
            angle = whole * t + phase
            x = np.broadcast_to(wide * (t / (2 * np.pi) - 0.5), angle.shape)
            dx = np.broadcast_to(wide / (2 * np.pi), angle.shape)
            return np.stack([x, -high * np.sin(angle)], -1), np.stack([dx, -high * whole * np.cos(angle)], -1)

        return at

    def faces(self, numbers: Numbers) -> tuple[Face, ...]:
        """Return the sine, or straight lines between its crests and troughs."""
        if self.form == "smooth":
            return super().faces(numbers)
        wide, high = numbers["width"][:, None], numbers["height"][:, None] / 2
        begin = (numbers["phase"] % 360.0)[:, None] / 90.0  # quarters of a wave
        many = 2 * int(self.waves) + 2
        corner = np.ceil((begin - 1) / 2) * 2 + 1 + 2 * np.arange(many)  # odd quarters are crests and troughs
        quarter = np.concatenate([begin, np.minimum(np.maximum(corner, begin), begin + 4 * self.waves), begin + 4 * self.waves], 1)
        level = 1 - np.abs((quarter + 1) % 4 - 2)
        x = ((quarter - begin) / (4 * self.waves) - 0.5) * wide
        return ((bytes([MOVE] + [LINE] * (quarter.shape[1] - 1)), np.stack([x, -high * level], -1)),)

    def key_line(self, unit: str) -> str:
        """Return waves and length."""
        return f"{int(self.waves)} waves, {describe(self.width, unit)} long"
