"""Rule: Tones to colours, each lightness takes a colour of a ramp."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from under_lattice.colour.effects import ToneMap
from under_lattice.colour.ramp import Ramp
from under_lattice.colour.ramp_text import stops_of_text
from under_lattice.declare.colour_dials import RampStops
from under_lattice.declare.dials import Choice, Count, Ratio
from under_lattice.rules.families import FinishRule


class TonesToColours(FinishRule):
    """Dark to light becomes one end of a ramp to the other."""

    title: ClassVar[str] = "Tones to colours"
    words: ClassVar[str] = (
        "Gives each lightness of what stands above the colour a ramp has there: dark its beginning, light its end."
    )
    search: ClassVar[str] = "gradient map tint duotone false colour ramp recolour posterise"

    kind: Literal["tones-to-colours"] = "tones-to-colours"
    ramp: Annotated[str, RampStops("Ramp", "The colours, from dark to light.")] = "0 #102040; 40 #E08030; 100 #FFFFFF"
    cycles: Annotated[int, Count("Cycles", "How many times the ramp is gone through.", least=1, most=100, slides=(1, 8))] = 1
    goes: Annotated[
        Literal["again and again", "there and back"],
        Choice(
            "Goes",
            "Each time from the ramp's beginning, or there and back.",
            main=False,
            options=("again and again", "there and back"),
        ),
    ] = "again and again"

    shift: Annotated[
        float,
        Ratio(
            "Shift",
            "How far along the ramp black begins; after its end comes its beginning.",
            main=False,
            stays=True,
            whole="cycle",
        ),
    ] = 0.0

    def effect(self) -> ToneMap:
        """Return what it does to pixels."""
        stops = stops_of_text(self.ramp) if self.ramp else stops_of_text("0 #000000; 100 #FFFFFF")
        return ToneMap(Ramp(stops), self.cycles, self.goes, self.shift / 100)

    def key_line(self, unit: str) -> str:
        """Return how many colours, and how often."""
        count = len(stops_of_text(self.ramp)) if self.ramp else 2
        return f"{count} colours" + (f", {self.cycles} times {self.goes}" if self.cycles > 1 else "")
