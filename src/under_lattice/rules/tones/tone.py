"""Rule: Tone, the lightness and colour of every pixel by itself."""

from __future__ import annotations

import math
from typing import Annotated, ClassVar, Literal

from under_lattice.colour.effects import Tone as ToneEffect
from under_lattice.declare.curve_dial import TonePoint
from under_lattice.declare.dials import Angle, Choice, Ratio
from under_lattice.rules.families import FinishRule

LEAST_SPAN = 0.002  # of all values, between the black point and the white point


class Tone(FinishRule):
    """Lightness, contrast, saturation and hue."""

    title: ClassVar[str] = "Tone"
    words: ClassVar[str] = "Moves lightness, contrast, saturation and hue of all that stands above it, on the coded values of sRGB."
    by_tones: ClassVar[bool] = True
    works_in: ClassVar[str] = "coded values, for light in linear light"
    search: ClassVar[str] = (
        "levels brightness contrast saturation exposure gamma curve hue invert negative black white point colour correction"
    )

    kind: Literal["tone"] = "tone"
    exposure: Annotated[
        float,
        Ratio(
            "Light",
            "How many times as much light, in linear light; 100 % is as it was.",
            least=1.0,
            most=3200.0,
            slides=(25.0, 400.0),
        ),
    ] = 100.0
    contrast: Annotated[
        float,
        Ratio(
            "Contrast",
            "How many times as far each value stands from a grey; 100 % is as it was.",
            least=0.0,
            most=1000.0,
            slides=(0.0, 200.0),
        ),
    ] = 120.0
    about: Annotated[float, Ratio("About", "The grey that contrast leaves as it is.", main=False)] = 50.0
    saturation: Annotated[
        float, Ratio("Saturation", "How many times as saturated, by HSL; 0 % is grey.", least=0.0, most=1000.0, slides=(0.0, 200.0))
    ] = 120.0
    favours: Annotated[
        Literal["all", "pale colours"],
        Choice("Saturates", "All evenly, or pale colours more than strong ones.", main=False, options=("all", "pale colours")),
    ] = "all"
    hue: Annotated[float, Angle("Hue", "How far all hues are turned.")] = 0.0
    black: Annotated[float, TonePoint("Black point", "What is as dark as this becomes black.", main=False)] = 0.0
    white: Annotated[float, Ratio("White point", "What is as light as this becomes white.", main=False)] = 100.0
    mid: Annotated[
        float,
        Ratio("Middle", "Above 100 % the middle tones grow lighter, black and white stay.", least=10.0, most=1000.0,
              slides=(25.0, 400.0), main=False),
    ] = 100.0  # fmt: skip
    invert: Annotated[
        Literal["no", "yes"], Choice("Inverted", "Light becomes dark, each hue its opposite.", main=False, options=("no", "yes"))
    ] = "no"

    def effect(self) -> ToneEffect:
        """Return what it does to pixels."""
        black, white = self.black / 100, self.white / 100
        if abs(white - black) < LEAST_SPAN:
            white = black + LEAST_SPAN
        return ToneEffect(
            math.log2(self.exposure / 100), black, white, self.mid / 100, self.contrast / 100, self.about / 100,
            self.saturation / 100, self.favours != "all", self.hue, self.invert == "yes",
        )  # fmt: skip

    def key_line(self, unit: str) -> str:
        """Return what is not as it was."""
        told = [
            f"{words} {value:g} %"
            for words, value in (("light", self.exposure), ("contrast", self.contrast), ("saturation", self.saturation))
            if value != 100
        ]
        told += [f"hue {self.hue:g}°"] if self.hue else []
        told += ["inverted"] if self.invert == "yes" else []
        return ", ".join(told) or "as it was"
