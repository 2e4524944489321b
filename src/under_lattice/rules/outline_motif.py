"""Motif: outline, brought in from a drawing or written as path data."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from under_lattice.core.declare import OutlineText, Ratio
from under_lattice.core.path_text import parts_of_text
from under_lattice.rules.base import describe
from under_lattice.rules.measured import TURN, Face, Grip, MeasuredMotif, Numbers, extent
from under_lattice.vary.numbers import Number

FISH = (
    "M-500 0 C-330 -270 60 -300 330 -50 L500 -190 C440 -60 440 60 500 190 L330 50 C60 300 -330 270 -500 0 Z "
    "M-300 -55 C-330 -55 -330 -10 -300 -10 C-270 -10 -270 -55 -300 -55 Z"
)


class Outline(MeasuredMotif):
    """Any outline, its parts kept apart."""

    words: ClassVar[str] = "An outline: brought in from an SVG file; each shape of it is a part."
    search: ClassVar[str] = "svg import vector drawing path logo custom file"
    grips: ClassVar[tuple[Grip, ...]] = (Grip("width", 0.0),)

    kind: Literal["outline"] = "outline"
    outline: Annotated[str, OutlineText("Outline", "From an SVG file; kept as path data of moves, lines, cubics and closings.")] = (
        FISH
    )
    width: Annotated[Number, extent("Width", "From side to side.")] = 40.0
    stretch: Annotated[
        Number, Ratio("Height", "Of its own height.", least=0.1, most=10000.0, vary=True, slides=(20.0, 200.0), main=False)
    ] = 100.0
    turn: Annotated[float, TURN] = 0.0

    def faces(self, numbers: Numbers) -> tuple[Face, ...]:
        """Return a face for each part, about the middle of the whole."""
        parts = parts_of_text(self.outline)
        joined = np.concatenate([points for _, points in parts])
        low, high = joined.min(0), joined.max(0)
        wide = float(high[0] - low[0]) or float((high - low).max())
        scale = (numbers["width"] / wide)[:, None] * np.stack([np.ones(len(numbers["width"])), numbers["stretch"] / 100], -1)
        return tuple((verbs, (points - (low + high) / 2)[None] * scale[:, None]) for verbs, points in parts)

    def key_line(self, unit: str) -> str:
        """Return parts and width."""
        count = len(parts_of_text(self.outline))
        return f"Outline, {'one part' if count == 1 else f'{count} parts'}, {describe(self.width, unit)} wide"
