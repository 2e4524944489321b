"""Rule: Streaks, what is there drawn out from a middle or round it."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from under_lattice.colour.effects import Streak as StreakEffect
from under_lattice.declare.dials import Angle, Choice, Ratio, When
from under_lattice.rules.finishes.parts import Centred

OUT = (When(field="way", values=("outwards",), reason="only for streaks outwards"),)
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
    share: Annotated[
        float, Ratio("Length", "How much of the way from the middle each streak is long.", slides=(0.0, 60.0), when=OUT)
    ] = 15.0
    arc: Annotated[float, Angle("Arc", "The angle of each streak.", least=0.0, most=360.0, slides=(0.0, 90.0), when=ROUND)] = 20.0

    def effect(self) -> StreakEffect:
        """Return what it does to pixels."""
        around = self.way == "round"
        return StreakEffect(around, self.arc if around else self.share / 100, self.across, self.down)

    def key_line(self, unit: str) -> str:
        """Return how long."""
        return f"outwards, {self.share:g} % of the way" if self.way == "outwards" else f"round, {self.arc:g}°"
