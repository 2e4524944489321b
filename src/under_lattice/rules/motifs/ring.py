"""Motif: ring, a disc or an ellipse with a hole."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from under_lattice.declare.dials import Ratio
from under_lattice.geometry.affine import Array
from under_lattice.geometry.outline import Outline
from under_lattice.rules.base import describe
from under_lattice.rules.motifs.ellipse import ROUND, VERBS, unit_circle
from under_lattice.rules.shared.measure_spots import Spot
from under_lattice.rules.shared.measured import TURN, Face, Grip, MeasuredMotif, Numbers, extent
from under_lattice.vary.numbers import Number


class Ring(MeasuredMotif):
    """A ring."""

    words: ClassVar[str] = "A ring: a disc or an ellipse with a hole."
    search: ClassVar[str] = "annulus donut washer circle hole hoop"
    grips: ClassVar[tuple[Grip, ...]] = (Grip("width", 0.0), Grip("inner", 45.0, 0.005, "width"))
    spots: ClassVar[tuple[Spot, ...]] = (Spot("roundness", lambda n: (0.0, n["width"] * n["roundness"] / 200)),)

    kind: Literal["ring"] = "ring"
    width: Annotated[Number, extent("Width", "From side to side.")] = 28.0
    inner: Annotated[
        Number, Ratio("Hole", "Width of the hole as a part of the width.", least=0.1, most=99.9, vary=True, slides=(5.0, 95.0))
    ] = 62.0
    roundness: Annotated[
        Number,
        Ratio(
            "Height",
            "Height as a part of the width; 100 % is round.",
            least=0.1,
            most=10000.0,
            vary=True,
            slides=(5.0, 200.0),
            main=False,
        ),
    ] = 100.0
    turn: Annotated[float, TURN] = 0.0

    def faces(self, numbers: Numbers) -> tuple[Face, ...]:
        """Return the outer outline and the hole, which runs the other way."""
        half = np.stack([numbers["width"], numbers["width"] * numbers["roundness"] / 100], -1)[:, None] / 2
        outer: Array = unit_circle()[None] * half
        hole = outer[:, ::-1] * (numbers["inner"] / 100)[:, None, None]
        return ((VERBS + VERBS, np.concatenate([outer, hole], 1)),)

    def body(self, faces: tuple[Face, ...]) -> Outline:
        """Return the outer outline."""
        return Outline(faces[0][1][0, : 3 * ROUND + 1], VERBS)

    def key_line(self, unit: str) -> str:
        """Return width and hole."""
        return f"Ring, {describe(self.width, unit)} wide, hole {describe(self.inner, '%', 0)}"
