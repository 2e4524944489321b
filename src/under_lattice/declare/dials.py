"""Declarations: what a dial is, said once in the annotation of a rule's field.

A rule writes ``gap: Annotated[Number, Length("Gap", "...", least=-1e4)] = 0.0``; forms, file format, command line,
schema and reference page read it from there. The kinds of dial are the classes below, a closed list.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, ClassVar

from under_lattice.core.errors import InputError
from under_lattice.core.plain import one_line
from under_lattice.core.units import short
from under_lattice.declare.moving import (
    Push,
    at_half,
    between,
    mixed_angle,
    mixed_evenly,
    mixed_ratio,
    multiplied,
    stepped,
    tidied,
)


@dataclass(frozen=True, kw_only=True)
class When:
    """A dial has an effect only while another setting has one of these values."""

    field: str
    values: tuple[Any, ...]
    reason: str


@dataclass(frozen=True, kw_only=True)
class Tied:
    """A number follows from a choice while `field` has `value`; typing it sets `free`, and `others` stay as they are."""

    field: str
    value: str
    free: str
    others: tuple[str, ...] = ()


@dataclass(frozen=True)
class Dial:
    """What all dials share.

    Attributes
    ----------
    label : str
    words : str
        Help, in a sentence.
    main : bool
        Stands in the open card; others are folded under More.
    search : str
        Everyday words that find it.
    group : str
        The heading it stands under where many are folded.
    when : tuple of When
    """

    label: str
    words: str
    main: bool = True
    search: str = ""
    group: str = ""
    when: tuple[When, ...] = ()
    kind: ClassVar[str] = ""
    unit: ClassVar[str] = ""

    def check(self, value: Any) -> Any:
        """Return the value as it is kept.

        Raises
        ------
        InputError
            When it is not allowed; the sentence says what is.
        """
        return value

    def read(self, text: str) -> Any:
        """Return the value a text means, as it is typed in an order; what names parts of a work is read where that is known."""
        return text

    def in_unit(self, value: Any, factor: float) -> Any:
        """Return a value, other than a number, whose lengths are `factor` times as many in another unit."""
        return value

    def moved(self, value: Any, push: Push) -> Any:
        """Return a value moved by chance on its natural scale; the same one where it has none."""
        return value

    def mixed(self, one: Any, other: Any, share: float) -> Any:
        """Return what lies `share` (0..1) of the way between two values; the nearer one where nothing lies between."""
        return at_half(one, other, share)

    def colours(self, value: Any) -> tuple[str, ...]:
        """Return the colours a value holds."""
        return ()

    def with_colours(self, value: Any, change: Mapping[str, str]) -> Any:
        """Return the value with colours in place of others."""
        return value

    def idle(self, settings: Any) -> str:
        """Return why this dial has no effect now, or nothing."""
        for when in self.when:
            if getattr(settings, when.field) not in when.values:
                return when.reason
        return ""


@dataclass(frozen=True)
class NumberDial(Dial):
    """A number with a range and a natural step.

    As long as it equals the dial `beside` it, both are moved as one, called `both`. One that `stays` only stands or turns aside:
    chance leaves it alone.
    """

    least: float = -1e6
    most: float = 1e6
    step: float = 0.1
    digits: int = 2
    vary: bool = False
    slides: tuple[float, float] = (0.0, 100.0)
    tied: Tied | None = None
    beside: str = ""
    both: str = ""
    stays: bool = False

    def check(self, value: float) -> float:
        """Hold a number to its range, in the unit of the dial."""
        value = float(value)
        if not self.least <= value <= self.most:  # also refuses what is not a number
            raise InputError(self.allowed(), self.label)
        return value

    def moved(self, value: float, push: Push) -> float:
        """Return a number moved by chance, within its range, in its unit."""
        return self.held(tidied(self._moved(value, push)))

    def _moved(self, value: float, push: Push) -> float:
        """A number further on its natural scale; one that may lie on either side of zero leaves it by a part of its slide."""
        if value:
            return multiplied(value, push.by())
        return (self.slides[1] - self.slides[0]) / 4 * push.by()

    def held(self, value: float) -> float:
        """Return the nearest number in range, in the unit of the dial."""
        return min(max(value, self.least), self.most)

    def mixed(self, one: float, other: float, share: float) -> float:
        """Return the number `share` (0..1) of the way between two, by ratio where both are above zero."""
        return self.held(mixed_ratio(one, other, share))

    def allowed(self, unit: str = "") -> str:
        """Return the allowed range in a sentence; `unit` is that of the work, for lengths."""
        said = self.unit or unit
        tail = "" if not said else said if said == "°" else f" {said}"
        return f"from {short(self.least)} to {short(self.most)}{tail} is allowed".replace("-", "−")  # noqa: RUF001


@dataclass(frozen=True)
class Length(NumberDial):
    """A length in the unit of the work."""

    kind: ClassVar[str] = "length"

    def _moved(self, value: float, push: Push) -> float:
        return multiplied(value, push.by()) if value else push.size / 4 * push.by()


@dataclass(frozen=True)
class Angle(NumberDial):
    """An angle in degrees, clockwise as seen.

    It moves by at most `roams` degrees where variations are looked for; with `winds` a whole turn is not the same as none.
    """

    kind: ClassVar[str] = "angle"
    unit: ClassVar[str] = "°"
    least: float = -3600.0
    most: float = 3600.0
    step: float = 1.0
    slides: tuple[float, float] = (-180.0, 180.0)
    roams: float = 90.0
    winds: bool = False

    def _moved(self, value: float, push: Push) -> float:
        return value + min(self.roams, push.period) * push.by()

    def mixed(self, one: float, other: float, share: float) -> float:
        """Return the angle `share` (0..1) of the way between two, the short way round unless it winds, in degrees."""
        return self.held((mixed_evenly if self.winds else mixed_angle)(one, other, share))


@dataclass(frozen=True)
class Ratio(NumberDial):
    """A ratio in per cent."""

    kind: ClassVar[str] = "ratio"
    unit: ClassVar[str] = "%"
    least: float = 0.0
    most: float = 100.0
    step: float = 1.0
    digits: int = 0
    whole: str = ""  # what a hundred per cent are, in a word

    @property
    def bounded(self) -> bool:
        """Whether it lies between nothing and a whole."""
        return self.least >= 0 and self.most <= 100

    def _moved(self, value: float, push: Push) -> float:
        if self.bounded:
            return between(value, self.least, self.most, push.by())
        low, high = self.slides
        if low > 0 and high < 2 * low:  # a little makes much of it
            return min(max(value + (high - low) / 2 * push.by(), low), high)
        return super()._moved(value, push)

    def mixed(self, one: float, other: float, share: float) -> float:
        """Return the ratio `share` (0..1) of the way between two, in per cent."""
        return self.held(mixed_evenly(one, other, share)) if self.bounded else super().mixed(one, other, share)


@dataclass(frozen=True)
class Count(NumberDial):
    """A whole number."""

    kind: ClassVar[str] = "count"
    least: float = 1
    most: float = 1000
    step: float = 1
    digits: int = 0
    slides: tuple[float, float] = (1, 40)

    def moved(self, value: float, push: Push) -> int:
        """Return a count moved by chance, at least one step, within its range."""
        moved = self.held(stepped(round(value), push.by()))
        return round(moved if moved != value else self.held(2 * value - stepped(round(value), push.by())))

    def mixed(self, one: float, other: float, share: float) -> int:
        """Return the count `share` (0..1) of the way between two, by ratio."""
        return round(super().mixed(one, other, share))

    def check(self, value: float) -> float:
        """Hold to whole numbers in range, in the unit of the dial."""
        value = super().check(value)
        if value != round(value):
            raise InputError(f"a whole number {self.allowed()}", self.label)
        return value


@dataclass(frozen=True)
class Seed(Count):
    """A seed of chance."""

    kind: ClassVar[str] = "seed"
    least: float = 0
    most: float = 99999

    def moved(self, value: float, push: Push) -> int:
        """Return another seed."""
        return push.picked(1000, "seed")

    def mixed(self, one: float, other: float, share: float) -> int:
        """Return the nearer of two seeds."""
        return round(at_half(one, other, share))


@dataclass(frozen=True)
class Choice(Dial):
    """One of a list of words; variations by chance do not go to those that are `unsought`, since they need something more."""

    kind: ClassVar[str] = "choice"
    options: tuple[str, ...] = ()
    unsought: tuple[str, ...] = ()
    pictures: bool = False
    shows: str = ""  # a derived number that stands at the end of its row
    spoken: tuple[str, ...] = ()  # the options as they are said on screen, where a standard has other words in files

    def moved(self, value: str, push: Push) -> str:
        """Return another of the list."""
        others = [option for option in self.options if option != value and option not in self.unsought]
        return others[push.picked(len(others), "choice")] if others else value

    def read(self, text: str) -> str:
        """Read a word of the list, as it stands in files or as it is said."""
        return self.options[self.spoken.index(text)] if text in self.spoken else text

    def check(self, value: str) -> str:
        """Hold to the list."""
        if value not in self.options:
            raise InputError(f"“{str(value)[:40]}” is not one of: {', '.join(self.options)}", self.label)
        return value


@dataclass(frozen=True)
class RuleChoice(Dial):
    """A rule of the chain, by id; nothing for the nearest."""

    kind: ClassVar[str] = "rule"
    nearest: str = "nearest repeat"
    others: tuple[tuple[str, str], ...] = ()


@dataclass(frozen=True)
class LayerChoice(Dial):
    """Another layer of the work, or with `groups` also a group of layers, by id; nothing when none is chosen."""

    kind: ClassVar[str] = "layer"
    groups: bool = False


@dataclass(frozen=True)
class Picture(Dial):
    """A picture of the work, by id; nothing when none is chosen."""

    kind: ClassVar[str] = "picture"


@dataclass(frozen=True)
class Point(Dial):
    """A spot of the motif or the sheet, with an offset."""

    kind: ClassVar[str] = "point"

    def moved(self, value: Any, push: Push) -> Any:
        """Return a neighbouring spot, or a point moved by a part of the sheet."""
        return value.moved(push)

    def mixed(self, one: Any, other: Any, share: float) -> Any:
        """Return the point `share` (0..1) of the way between two of one spot; else the nearer."""
        return one.mixed(other, share)


@dataclass(frozen=True)
class Text(Dial):
    """A short text with its own grammar."""

    kind: ClassVar[str] = "text"

    def check(self, value: str) -> str:
        """Hold to one line of 400 characters."""
        if len(value) > 400:
            raise InputError("at most 400 characters are allowed", self.label)
        return one_line(value)


@dataclass(frozen=True)
class Font(Dial):
    """A font by its full name."""

    kind: ClassVar[str] = "font"

    def check(self, value: str) -> str:
        """Hold to a name."""
        if not 0 < len(value) <= 120:
            raise InputError("a font has a name of at most 120 letters", self.label)
        return value
