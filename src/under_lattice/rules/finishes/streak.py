"""Rule: Streaks, what is there drawn out from a middle or round it."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from under_lattice.colour.effects import Streak as StreakEffect
from under_lattice.declare.dials import Angle, Choice, Length, Ratio, When
from under_lattice.rules.base import describe
from under_lattice.rules.finishes.parts import Centred

OUTWARDS = When(field="way", values=("outwards",), reason="only for streaks outwards")
OUT = (OUTWARDS,)
BY_SHARE = (OUTWARDS, When(field="measured", values=("share of the way",), reason="only for a share of the way"))
BY_LENGTH = (OUTWARDS, When(field="measured", values=("length",), reason="only for a length"))
ROUND = (When(field="way", values=("round",), reason="only for streaks round"),)


class Streaks(Centred):
    """Draws all out along rays or arcs."""

    title: ClassVar[str] = "Streaks"
    words: ClassVar[str] = "Draws what stands above out from a middle, or round it; nothing at the middle, most at the edge."
    works_in: ClassVar[str] = "linear light"
    search: ClassVar[str] = "radial blur zoom spin motion rays speed lines"

    kind: Literal["streaks"] = "streaks"
    way: Annotated[Literal["outwards", "round"], Choice("Goes", "Along rays, or along arcs.", options=("outwards", "round"))] = (
        "outwards"
    )
    measured: Annotated[
        Literal["share of the way", "length"],
        Choice(
            "Long by",
            "Each streak is a part of its way from the middle, or a length.",
            options=("share of the way", "length"),
            when=OUT,
        ),
    ] = "share of the way"
    share: Annotated[
        float, Ratio("Share", "How much of the way from the middle each streak is long.", slides=(0.0, 60.0), when=BY_SHARE)
    ] = 15.0
    length: Annotated[
        float,
        Length("Length", "Of each streak, at most all its way from the middle.", least=0.0, slides=(0.0, 60.0), when=BY_LENGTH),
    ] = 12.0
    arc: Annotated[float, Angle("Arc", "The angle of each streak.", least=0.0, most=360.0, slides=(0.0, 90.0), when=ROUND)] = 20.0

    def effect(self) -> StreakEffect:
        """Return what it does to pixels."""
        if self.way == "round":
            return StreakEffect(True, self.arc, self.across, self.down)
        if self.measured == "length":
            return StreakEffect(False, 1.0, self.across, self.down, self.length)
        return StreakEffect(False, self.share / 100, self.across, self.down)

    def key_line(self, unit: str) -> str:
        """Return how long."""
        if self.way == "round":
            return f"round, {self.arc:g}°"
        return f"outwards, {describe(self.length, unit)}" if self.measured == "length" else f"outwards, {self.share:g} % of the way"
