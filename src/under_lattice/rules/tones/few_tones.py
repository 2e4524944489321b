"""Rule: Few tones, even steps of each channel, or two colours."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from under_lattice.colour.effects import FewTones as FewTonesEffect
from under_lattice.declare.colour_dials import Colour
from under_lattice.declare.dials import Choice, Count, Ratio, When
from under_lattice.rules.families import FinishRule
from under_lattice.rules.finishes.parts import rgb

STEPS = (When(field="way", values=("steps",), reason="only for steps"),)
TWO = (When(field="way", values=("two colours",), reason="only for two colours"),)


class FewTones(FinishRule):
    """Flat areas in place of soft ones."""

    title: ClassVar[str] = "Few tones"
    words: ClassVar[str] = "Keeps a few even steps of each channel, or two colours, one for what is lighter than a value."
    search: ClassVar[str] = "posterise threshold steps flat black and white stencil linocut"

    kind: Literal["few-tones"] = "few-tones"
    way: Annotated[
        Literal["steps", "two colours"], Choice("Keeps", "Steps of each channel, or two colours.", options=("steps", "two colours"))
    ] = "steps"
    count: Annotated[int, Count("Steps", "How many steps each channel keeps.", least=2, most=64, slides=(2, 12), when=STEPS)] = 4
    at: Annotated[float, Ratio("At", "The lightness from which on it is light.", when=TWO)] = 50.0
    dark: Annotated[str, Colour("Dark", "What is darker becomes this.", when=TWO)] = "#1C1C1C"
    light: Annotated[str, Colour("Light", "What is lighter becomes this.", when=TWO)] = "#FFFFFF"

    def effect(self) -> FewTonesEffect:
        """Return what it does to pixels."""
        at = None if self.way == "steps" else self.at / 100
        return FewTonesEffect(self.count, at, rgb(self.dark), rgb(self.light))

    def key_line(self, unit: str) -> str:
        """Return how many, or where they part."""
        return f"{self.count} steps" if self.way == "steps" else f"two colours, at {self.at:g} %"
