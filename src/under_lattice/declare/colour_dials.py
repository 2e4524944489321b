"""Dials of colours: one, or a palette."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import ClassVar

from under_lattice.colour.colour import checked, checked_or_none
from under_lattice.colour.ramp import Stop
from under_lattice.colour.ramp_text import stops_of_text, text_of_stops
from under_lattice.core.errors import InputError
from under_lattice.declare.dials import Dial, Ratio
from under_lattice.declare.moving import Push, at_half, between, coloured, mixed_colours, mixed_evenly


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

    def colours(self, value: tuple[str, ...]) -> tuple[str, ...]:
        """Return the colours themselves."""
        return value

    def with_colours(self, value: tuple[str, ...], change: Mapping[str, str]) -> tuple[str, ...]:
        """Return the palette with colours in place of others."""
        return tuple(change.get(one, one) for one in value)

    def read(self, text: str) -> tuple[str, ...]:
        """Read colours with commas between."""
        return tuple(part.strip() for part in text.split(","))

    def check(self, value: tuple[str, ...]) -> tuple[str, ...]:
        """Hold to one to twelve colours."""
        if not 1 <= len(value) <= 12:
            raise InputError("a palette has from 1 to 12 colours", self.label)
        return tuple(checked(colour) for colour in value)


@dataclass(frozen=True)
class RampStops(Dial):
    """The stops of a ramp as text; nothing where a palette is spread evenly."""

    kind: ClassVar[str] = "ramp"

    def moved(self, value: str, push: Push) -> str:
        """Return the stops with their colours moved in Oklch, and those between the ends in their places."""
        stops = stops_of_text(value) if value else ()
        out = []
        for k, stop in enumerate(stops):
            place = stop.place if k in (0, len(stops) - 1) else between(stop.place, 0.0, 1.0, push.by(f"place {k}") / 4)
            out.append(stop._replace(place=round(place, 4), colour=coloured(stop.colour, push, str(k))))
        return text_of_stops(out)

    def mixed(self, one: str, other: str, share: float) -> str:
        """Return the stops `share` (0..1) of the way between as many others, colours in Oklab; else the nearer."""
        here, there = (stops_of_text(text) if text else () for text in (one, other))
        if len(here) != len(there):
            return at_half(one, other, share)
        colours = [mixed_colours((p.colour,), (q.colour,), share)[0] for p, q in zip(here, there, strict=True)]
        rows = zip(here, there, colours, strict=True)
        return text_of_stops(Stop(mixed_evenly(p.place, q.place, share), colour, *_mean(p, q, share)) for p, q, colour in rows)

    def colours(self, value: str) -> tuple[str, ...]:
        """Return the colours of the stops."""
        return tuple(stop.colour for stop in stops_of_text(value)) if value else ()

    def with_colours(self, value: str, change: Mapping[str, str]) -> str:
        """Return the stops with colours in place of others."""
        return (
            text_of_stops(one._replace(colour=change.get(one.colour, one.colour)) for one in stops_of_text(value)) if value else ""
        )

    def check(self, value: str) -> str:
        """Hold to stops that can be read.

        Raises
        ------
        InputError
        """
        return text_of_stops(stops_of_text(value)) if value.strip() else ""


@dataclass(frozen=True)
class RampPlace(Ratio):
    """Where the middle of a ramp lies, of what it runs over; it may lie beside it."""

    least: float = -200.0
    most: float = 300.0
    slides: tuple[float, float] = (0.0, 100.0)


@dataclass(frozen=True)
class RampReach(Ratio):
    """How much of what it runs over a ramp takes."""

    least: float = 1.0
    most: float = 1000.0
    slides: tuple[float, float] = (10.0, 200.0)


def _mean(one: Stop, other: Stop, share: float) -> tuple[float, float]:
    """Opacity and middle of a stop between two."""
    return mixed_evenly(one.alpha, other.alpha, share), mixed_evenly(one.middle, other.middle, share)


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

    def colours(self, value: str) -> tuple[str, ...]:
        """Return the colour."""
        return (value,) if value else ()

    def with_colours(self, value: str, change: Mapping[str, str]) -> str:
        """Return the colour that stands for it."""
        return change.get(value, value)

    def read(self, text: str) -> str:
        """Read a colour, or none."""
        return "" if text == "none" else text

    def check(self, value: str) -> str:
        """Hold to a colour or nothing."""
        return checked_or_none(value)
