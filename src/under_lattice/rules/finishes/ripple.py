"""Rule: Ripple, waves that carry pixels to and fro."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Any, ClassVar, Literal

from under_lattice.colour.effects import Ripple as RippleEffect
from under_lattice.declare.dials import Angle, Choice, Length, When
from under_lattice.pattern.stage import Stage
from under_lattice.rules.base import describe
from under_lattice.rules.finishes.parts import Centred, line, pulled_tip, tip_of
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Drag, Handle, HandleSet

STRAIGHT = (When(field="form", values=("straight",), reason="only for straight waves"),)


class Ripple(Centred):
    """Bends ramps and pictures too."""

    title: ClassVar[str] = "Ripple"
    words: ClassVar[str] = "Carries pixels to and fro in waves, straight or in rings; ramps and pictures are bent too."
    search: ClassVar[str] = "wave water displace distort rings undulate"

    kind: Literal["ripple"] = "ripple"
    form: Annotated[Literal["straight", "rings"], Choice("Waves", "Straight waves, or rings.", options=("straight", "rings"))] = (
        "straight"
    )
    length: Annotated[float, Length("Length", "From crest to crest.", least=0.01, most=10_000.0, step=0.1, slides=(1.0, 100.0))] = (
        30.0
    )
    height: Annotated[
        float, Length("Height", "How far a crest carries.", least=-1000.0, most=1000.0, step=0.1, slides=(0.0, 20.0))
    ] = 3.0
    direction: Annotated[float, Angle("Direction", "In which waves run, clockwise from the right.", when=STRAIGHT)] = 0.0
    carries: Annotated[
        Literal["across", "along"],
        Choice(
            "Carries",
            "Across the direction in which waves run, or along it.",
            main=False,
            options=("across", "along"),
            when=STRAIGHT,
        ),
    ] = "across"
    phase: Annotated[float, Angle("Phase", "Where a wave begins.", main=False)] = 0.0

    def effect(self) -> RippleEffect:
        """Return what it does to pixels."""
        return RippleEffect(
            self.length,
            self.height,
            self.direction,
            self.phase,
            self.form == "rings",
            self.carries == "along",
            self.across,
            self.down,
        )

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return its middle and one wave."""
        found = super().handles(above, stage, ground, unit) or HandleSet(())
        tip = tip_of(self.length, self._way, self.middle)
        one = Handle("wave", tip, f"one wave, {describe(self.length, unit)}", "bead")
        return replace(found, handles=(*found.handles, one), lines=(line(self.middle, tip),))

    @property
    def _way(self) -> float:
        return self.direction if self.form == "straight" else 0.0

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Return the middle, or length and direction of a wave."""
        if drag.name != "wave":
            return super().dragged(drag, above, stage, ground)
        length, degrees = pulled_tip(drag, self.middle)
        return {"length": max(length, 0.01)} | ({"direction": degrees} if self.form == "straight" else {})

    def key_line(self, unit: str) -> str:
        """Return length and height of waves."""
        return f"{self.form}, {describe(self.length, unit)} long, {describe(self.height, unit)} high"
