"""Rule: Colour balance, of white, shadows and lights."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from under_lattice.colour.effects import Balance as BalanceEffect
from under_lattice.declare.colour_dials import Colour
from under_lattice.declare.dials import Ratio
from under_lattice.rules.families import FinishRule
from under_lattice.rules.finishes.parts import rgb


class Balance(FinishRule):
    """Warmer, cooler, with coloured shadows and lights."""

    title: ClassVar[str] = "Colour balance"
    words: ClassVar[str] = "Makes white warmer or cooler in linear light, its luminance the same, and colours shadows and lights."
    works_in: ClassVar[str] = "linear light for white, coded values for shadows and lights"
    search: ClassVar[str] = "white balance warm cool temperature tint split toning grade shadows highlights"

    kind: Literal["balance"] = "balance"
    warmth: Annotated[
        float, Ratio("Warmth", "Above 0 towards amber, below towards blue.", least=-100.0, slides=(-100.0, 100.0))
    ] = 25.0
    tint: Annotated[float, Ratio("Tint", "Above 0 towards magenta, below towards green.", least=-100.0, slides=(-100.0, 100.0))] = (
        0.0
    )
    dark: Annotated[str, Colour("Shadows", "What black goes towards.")] = "#1B2A6B"
    dark_share: Annotated[float, Ratio("Shadows by", "How far shadows go towards their colour.")] = 0.0
    light: Annotated[str, Colour("Lights", "What white goes towards.")] = "#FFE3B0"
    light_share: Annotated[float, Ratio("Lights by", "How far lights go towards theirs.")] = 0.0

    def effect(self) -> BalanceEffect:
        """Return what it does to pixels."""
        dark, light = (
            share / 100 if colour else 0.0 for share, colour in ((self.dark_share, self.dark), (self.light_share, self.light))
        )
        return BalanceEffect(self.warmth / 100, self.tint / 100, rgb(self.dark), dark, rgb(self.light), light)

    def key_line(self, unit: str) -> str:
        """Return what is not as it was."""
        told = [f"{words} {value:g} %" for words, value in (("warmth", self.warmth), ("tint", self.tint)) if value]
        told += [f"{words} {value:g} %" for words, value in (("shadows", self.dark_share), ("lights", self.light_share)) if value]
        return ", ".join(told).replace("-", "−") or "as it was"  # noqa: RUF001
