"""Kinds of dial that options of formats have: what is on or off, numbers of pixels, dots per inch."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, ClassVar

from under_lattice.colour.palette_text import palette_of_text
from under_lattice.core.errors import InputError
from under_lattice.declare.dials import Count, Dial, NumberDial


@dataclass(frozen=True)
class PixelCount(Count):
    """A whole number of pixels."""

    kind: ClassVar[str] = "pixel-count"
    unit: ClassVar[str] = "px"


@dataclass(frozen=True)
class Density(NumberDial):
    """Dots per inch."""

    kind: ClassVar[str] = "density"
    unit: ClassVar[str] = "dpi"
    least: float = 0.0
    most: float = 10_000.0
    step: float = 1.0
    digits: int = 0


@dataclass(frozen=True)
class Seconds(NumberDial):
    """A time in seconds."""

    kind: ClassVar[str] = "seconds"
    unit: ClassVar[str] = "s"
    least: float = 0.0
    most: float = 3600.0
    step: float = 0.5
    digits: int = 2


@dataclass(frozen=True)
class Switch(Dial):
    """On or off."""

    kind: ClassVar[str] = "switch"

    def read(self, text: str) -> Any:
        """Read on or off."""
        return {"on": True, "off": False}.get(text, text)

    def check(self, value: bool) -> bool:
        """Hold to on and off."""
        if not isinstance(value, bool):
            raise InputError("on or off is allowed", self.label)
        return value


@dataclass(frozen=True)
class Colours(Dial):
    """Some colours as text, or none."""

    kind: ClassVar[str] = "colours"

    def check(self, value: str) -> str:
        """Hold to twelve colours at most, as figures with commas between."""
        try:
            return ", ".join(palette_of_text(value, "the list")) if value.strip() else ""
        except InputError as error:
            raise InputError(error.message.removeprefix("the list: "), self.label) from None
