"""Motif: lettering in a shipped or system font, as outlines."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from under_lattice.core.errors import InputError, RuleRefused
from under_lattice.declare.dials import Font, Ratio, Text
from under_lattice.geometry.lettering import letters
from under_lattice.pattern.stage import Shape
from under_lattice.rules.base import describe
from under_lattice.rules.ground import Ground
from under_lattice.rules.shared.measure_spots import Spot, Values
from under_lattice.rules.shared.measured import TURN, Face, Grip, MeasuredMotif, Numbers, extent
from under_lattice.vary.numbers import Number


def _right_end(values: Values) -> tuple[float, float]:
    """The right end of a line of text about its middle."""
    try:
        parts = letters(values["text"], values["font"], round(values["spacing"] / 100, 3))
    except InputError:
        return 0.0, 0.0
    across = np.concatenate([points[:, 0] for _, points in parts])
    return float(np.ptp(across)) / 2 * values["size"], 0.0


class Lettering(MeasuredMotif):
    """A line of text, each letter a part."""

    words: ClassVar[str] = "Lettering: a line of text in a shipped font or one of this machine; each letter is a part."
    search: ClassVar[str] = "text type font letters word typography glyph monogram initial"
    grips: ClassVar[tuple[Grip, ...]] = (Grip("size", 90.0, 0.36),)

    spots: ClassVar[tuple[Spot, ...]] = (Spot("spacing", _right_end),)

    kind: Literal["lettering"] = "lettering"
    text: Annotated[str, Text("Text", "One line, up to 200 letters.")] = "tern"
    font: Annotated[str, Font("Font", "Shipped, or of this machine.")] = "Clear Sans Bold"
    size: Annotated[Number, extent("Size", "Of the type; capitals are about 0.7 of it.")] = 40.0
    spacing: Annotated[
        float, Ratio("Spacing", "Added after each letter, in parts of the size.", least=-50.0, most=500.0, slides=(-20.0, 60.0))
    ] = 0.0
    turn: Annotated[float, TURN] = 0.0

    def faces(self, numbers: Numbers) -> tuple[Face, ...]:
        """Return each letter, about the middle of the whole."""
        parts = letters(self.text, self.font, self.spacing / 100)
        joined = np.concatenate([points for _, points in parts])
        middle = (joined.min(0) + joined.max(0)) / 2
        return tuple((verbs, (points - middle)[None] * numbers["size"][:, None, None]) for verbs, points in parts)

    def shape_on(self, ground: Ground) -> Shape:
        """Return the letters.

        Raises
        ------
        RuleRefused
            When the font is not there or has no glyph for a letter.
        """
        try:
            letters(self.text, self.font, self.spacing / 100)
        except InputError as error:
            raise RuleRefused(error.message) from None
        return super().shape_on(ground)

    def key_line(self, unit: str) -> str:
        """Return the text and its size."""
        return f"“{self.text}”, {describe(self.size, unit)}"
