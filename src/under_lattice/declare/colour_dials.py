"""Dials of colours: one, or a palette."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

from under_lattice.colour.colour import checked, checked_or_none
from under_lattice.core.errors import InputError
from under_lattice.declare.dials import Dial
from under_lattice.declare.moving import Push, at_half, coloured, mixed_colours


@dataclass(frozen=True)
class Palette(Dial):
    """One to twelve colours."""

    kind: ClassVar[str] = "palette"

    def moved(self, value: tuple[str, ...], push: Push) -> tuple[str, ...]:
        """Return the colours, each moved in Oklch."""
        return tuple(coloured(one, push, str(k)) for k, one in enumerate(value))

    def mixed(self, one: tuple[str, ...], other: tuple[str, ...], share: float) -> tuple[str, ...]:
        """Return the colours `share` (0..1) of the way between two palettes, in Oklab."""
        return mixed_colours(one, other, share)

    def read(self, text: str) -> tuple[str, ...]:
        """Read colours with commas between."""
        return tuple(part.strip() for part in text.split(","))

    def check(self, value: tuple[str, ...]) -> tuple[str, ...]:
        """Hold to one to twelve colours."""
        if not 1 <= len(value) <= 12:
            raise InputError("a palette has from 1 to 12 colours", self.label)
        return tuple(checked(colour) for colour in value)


@dataclass(frozen=True)
class Colour(Dial):
    """One colour, or none."""

    kind: ClassVar[str] = "colour"

    def moved(self, value: str, push: Push) -> str:
        """Return the colour moved in Oklch; none stays none."""
        return coloured(value, push) if value else value

    def mixed(self, one: str, other: str, share: float) -> str:
        """Return the colour `share` (0..1) of the way between two, in Oklab; the nearer where one is none."""
        return mixed_colours((one,), (other,), share)[0] if one and other else at_half(one, other, share)

    def read(self, text: str) -> str:
        """Read a colour, or none."""
        return "" if text == "none" else text

    def check(self, value: str) -> str:
        """Hold to a colour or nothing."""
        return checked_or_none(value)
