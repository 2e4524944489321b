"""Motif: lettering in a shipped or system font, as outlines."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, ClassVar, Literal

import numpy as np

from under_lattice.core.errors import InputError, RuleRefused
from under_lattice.declare.dials import Choice, Font, LayerChoice, Length, Ratio, Text, When
from under_lattice.geometry.lettering import letters
from under_lattice.pattern.stage import Shape, Stage
from under_lattice.rules.base import describe
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import HandleSet
from under_lattice.rules.motifs.lettering_along import AlongLine, first_line
from under_lattice.rules.shared.measure_spots import Spot, Values
from under_lattice.rules.shared.measured import TURN, Face, Grip, MeasuredMotif, MeasuredShape, Numbers, extent
from under_lattice.vary.numbers import Number

STRAIGHT = When(field="runs", values=("straight",), reason="the line says how it is turned")
ALONG = When(field="runs", values=("along a line",), reason="it runs straight")


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

    spots: ClassVar[tuple[Spot, ...]] = (Spot("spacing", _right_end, even=True),)

    kind: Literal["lettering"] = "lettering"
    text: Annotated[str, Text("Text", "One line, up to 200 letters.")] = "tern"
    font: Annotated[str, Font("Font", "A font that comes with the program, or one of this machine.")] = "Clear Sans Bold"
    size: Annotated[Number, extent("Size", "Size of the type; capitals are about 0.7 of it.")] = 40.0
    spacing: Annotated[
        float,
        Ratio(
            "Spacing", "How much is added after each letter, in parts of the size.", least=-50.0, most=500.0, slides=(-20.0, 60.0)
        ),
    ] = 0.0
    turn: Annotated[float, replace(TURN, when=(STRAIGHT,))] = 0.0
    runs: Annotated[
        Literal["straight", "along a line"],
        Choice(
            "Runs",
            "Straight on, or along a line of another layer.",
            options=("straight", "along a line"),
            search="path curve circle text",
        ),
    ] = "straight"
    line: Annotated[
        str, LayerChoice("Line", "The layer along whose first outline it runs; it may be kept as a source only.", when=(ALONG,))
    ] = ""
    line_at: Annotated[
        float,
        Ratio(
            "Middle at",
            "How far along the line the middle of the text stands.",
            slides=(0.0, 100.0),
            least=-1000.0,
            most=1000.0,
            when=(ALONG,),
        ),
    ] = 50.0
    line_above: Annotated[
        float,
        Length(
            "Above", "How far the text stands off the line; below zero beneath it.", slides=(-20.0, 20.0), main=False, when=(ALONG,)
        ),
    ] = 0.0
    line_side: Annotated[
        Literal["as it runs", "other side"],
        Choice(
            "On",
            "On the left of the line as it runs, or on the other side.",
            options=("as it runs", "other side"),
            main=False,
            when=(ALONG,),
        ),
    ] = "as it runs"

    def layers(self) -> tuple[str, ...]:
        """Return the layer along whose line it runs."""
        return (self.line,) if self.runs == "along a line" and self.line else ()

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
            When the font is not there or has no glyph for a letter, or there is no line to run along.
        """
        try:
            parts = letters(self.text, self.font, self.spacing / 100)
        except InputError as error:
            raise RuleRefused(error.message) from None
        if self.runs == "straight":
            return super().shape_on(ground)
        if not self.line:
            raise RuleRefused("choose the layer along whose line the lettering runs")
        path = first_line(ground.layers.get(self.line))
        if path is None:
            raise RuleRefused("the layer along whose line the lettering runs is gone or empty, or it follows this one")
        against = self.line_side == "other side"
        return MeasuredShape(AlongLine(self.numbers(), path, parts, self.line_at, self.line_above, against))

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return beads for size, spacing and turn; none along a line, which says where each letter stands."""
        return super().handles(above, stage, ground, unit) if self.runs == "straight" else HandleSet((), None, stage.body_ring)

    def key_line(self, unit: str) -> str:
        """Return the text and its size."""
        return f"“{self.text}”, {describe(self.size, unit)}"
