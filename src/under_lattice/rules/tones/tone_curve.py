"""Rule: Tone curve, coded values through a curve of points."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from under_lattice.colour.effects import ToneCurve as ToneCurveEffect
from under_lattice.declare.curve_dial import CurvePoints, points_of_text
from under_lattice.declare.dials import Choice
from under_lattice.rules.families import FinishRule


class ToneCurve(FinishRule):
    """Each value becomes another."""

    title: ClassVar[str] = "Tone curve"
    words: ClassVar[str] = (
        "Sends every value from 0 to 255 through a curve of points that never turns back, of all channels or one."
    )
    by_tones: ClassVar[bool] = True
    search: ClassVar[str] = "curves levels gradation s-curve contrast channel"

    kind: Literal["tone-curve"] = "tone-curve"
    curve: Annotated[
        str, CurvePoints("Curve", "Points from what value to what, 0 to 255: a histogram of what comes in lies beneath.")
    ] = "0 0; 80 50; 180 210; 255 255"
    channels: Annotated[
        Literal["all", "red", "green", "blue"],
        Choice("Channels", "All alike, or one alone.", options=("all", "red", "green", "blue")),
    ] = "all"

    def effect(self) -> ToneCurveEffect:
        """Return what it does to pixels."""
        return ToneCurveEffect(tuple((x / 255, y / 255) for x, y in points_of_text(self.curve)), self.channels)

    def key_line(self, unit: str) -> str:
        """Return how many points, and of what."""
        count = len(points_of_text(self.curve))
        return f"{count} points" + (f", {self.channels} only" if self.channels != "all" else "")
