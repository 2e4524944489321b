"""Motif: bar strip, bars side by side whose widths follow a code."""

from __future__ import annotations

from itertools import pairwise
from typing import Annotated, ClassVar, Literal

import numpy as np

from under_lattice.declare.dials import Choice, Count
from under_lattice.geometry.outline import Outline, polygon, polygon_verbs
from under_lattice.rules.base import describe
from under_lattice.rules.motifs.weave import LengthCode, proportions
from under_lattice.rules.shared.measured import TURN, Face, Grip, MeasuredMotif, Numbers, extent
from under_lattice.vary.numbers import Number


class BarStrip(MeasuredMotif):
    """Upright bars side by side, each a part of its own."""

    words: ClassVar[str] = "A strip of bars: their widths from a code; each bar is a part."
    piecewise: ClassVar[bool] = True
    search: ClassVar[str] = "stripes barcode ribbon tartan band rhythm"
    grips: ClassVar[tuple[Grip, ...]] = (Grip("width", 0.0), Grip("height", 90.0))

    kind: Literal["bar-strip"] = "bar-strip"
    code: Annotated[str, LengthCode("Code", "Proportions of the widths, such as 5 : 2 : 3.")] = "5 : 2 : 3 : 1"
    rounds: Annotated[int, Count("Times", "How often the code is gone through.", least=1, most=60, slides=(1, 8))] = 1
    taken: Annotated[
        Literal["again", "mirrored"],
        Choice(
            "And then",
            "After its end the code begins again, or is gone through backwards.",
            options=("again", "mirrored"),
            main=False,
        ),
    ] = "again"
    shown: Annotated[
        Literal["all bars", "every second"],
        Choice("Shown", "All bars, or every second one, the others being gaps.", options=("all bars", "every second")),
    ] = "all bars"
    width: Annotated[Number, extent("Width", "Width of the whole strip.", 200)] = 40.0
    height: Annotated[Number, extent("Height", "Height of each bar.", 200)] = 40.0
    turn: Annotated[float, TURN] = 0.0

    def widths(self) -> list[float]:
        """Return the proportions of all bars, those that are gaps included, without unit."""
        code, out = proportions(self.code), []
        for k in range(int(self.rounds)):
            out += code[::-1] if self.taken == "mirrored" and k % 2 else code
        return out

    def faces(self, numbers: Numbers) -> tuple[Face, ...]:
        """Return one face for each bar that is shown, from the left."""
        ends = np.concatenate([[0.0], np.cumsum(self.widths())])
        ends = ends / ends[-1] - 0.5
        half, out = numbers["height"] / 2, []
        for left, right in list(pairwise(ends))[:: 1 if self.shown == "all bars" else 2]:
            x0, x1 = left * numbers["width"], right * numbers["width"]
            corners = (x0, -half), (x1, -half), (x1, half), (x0, half)
            out.append((polygon_verbs(4), np.stack([np.stack(corner, -1) for corner in corners], 1)))
        return tuple(out)

    def body(self, faces: tuple[Face, ...]) -> Outline:
        """Return the whole strip, gaps included."""
        first, last = faces[0][1][0], faces[-1][1][0]
        if self.shown == "every second" and len(self.widths()) % 2 == 0:  # it ends with a gap
            last = last + (last[1] - last[0]) * (self.widths()[-1] / self.widths()[-2])
        return polygon(np.stack([first[0], last[1], last[2], first[3]]))

    def key_line(self, unit: str) -> str:
        """Return the code and the width."""
        return f"Bars {self.code}, {describe(self.width, unit)} wide"
