"""Declarations: what a dial is, said once in the annotation of a rule's field.

A rule writes ``gap: Annotated[Number, Length("Gap", "...", least=-1e4)] = 0.0``; forms, file format, command line,
schema and reference page read it from there. The kinds of dial are the classes below, a closed list.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, ClassVar

from under_lattice.colour.colour import checked
from under_lattice.core.errors import InputError
from under_lattice.core.units import short
from under_lattice.declare.shape_list import shapes_of_text, text_of_shapes
from under_lattice.geometry.path_text import parts_of_text, text_of_parts


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
    when : tuple of When
    """

    label: str
    words: str
    main: bool = True
    search: str = ""
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

    def idle(self, settings: Any) -> str:
        """Return why this dial has no effect now, or nothing."""
        for when in self.when:
            if getattr(settings, when.field) not in when.values:
                return when.reason
        return ""


@dataclass(frozen=True)
class NumberDial(Dial):
    """A number with a range and a natural step."""

    least: float = -1e6
    most: float = 1e6
    step: float = 0.1
    digits: int = 2
    vary: bool = False
    slides: tuple[float, float] = (0.0, 100.0)
    tied: Tied | None = None

    def check(self, value: float) -> float:
        """Hold a number to its range, in the unit of the dial."""
        value = float(value)
        if not self.least <= value <= self.most:  # also refuses what is not a number
            raise InputError(self.allowed(), self.label)
        return value

    def allowed(self, unit: str = "") -> str:
        """Return the allowed range in a sentence; `unit` is that of the work, for lengths."""
        said = self.unit or unit
        tail = "" if not said else said if said == "°" else f" {said}"
        return f"from {short(self.least)} to {short(self.most)}{tail} is allowed".replace("-", "−")  # noqa: RUF001


@dataclass(frozen=True)
class Length(NumberDial):
    """A length in the unit of the work."""

    kind: ClassVar[str] = "length"


@dataclass(frozen=True)
class Angle(NumberDial):
    """An angle in degrees, clockwise as seen."""

    kind: ClassVar[str] = "angle"
    unit: ClassVar[str] = "°"
    least: float = -3600.0
    most: float = 3600.0
    step: float = 1.0
    slides: tuple[float, float] = (-180.0, 180.0)


@dataclass(frozen=True)
class Ratio(NumberDial):
    """A ratio in per cent."""

    kind: ClassVar[str] = "ratio"
    unit: ClassVar[str] = "%"
    least: float = 0.0
    most: float = 100.0
    step: float = 1.0
    digits: int = 0


@dataclass(frozen=True)
class Count(NumberDial):
    """A whole number."""

    kind: ClassVar[str] = "count"
    least: float = 1
    most: float = 1000
    step: float = 1
    digits: int = 0
    slides: tuple[float, float] = (1, 40)

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


@dataclass(frozen=True)
class Choice(Dial):
    """One of a list of words."""

    kind: ClassVar[str] = "choice"
    options: tuple[str, ...] = ()
    pictures: bool = False
    shows: str = ""  # a derived number that stands at the end of its row

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
class OutlineText(Dial):
    """An outline as path data, one line for each part."""

    kind: ClassVar[str] = "outline"

    def check(self, value: str) -> str:
        """Hold to outlines that can be read.

        Raises
        ------
        InputError
        """
        parts_of_text(value)
        return value


@dataclass(frozen=True)
class DrawnLine(OutlineText):
    """An outline drawn on the sheet, in the work's unit."""

    def in_unit(self, value: str, factor: float) -> str:
        """Return the outline in another unit."""
        return text_of_parts([(verbs, points * factor) for verbs, points in parts_of_text(value)], 7)


@dataclass(frozen=True)
class ShapeList(Dial):
    """Outlines with their own colours, one on each line."""

    kind: ClassVar[str] = "shapes"

    def check(self, value: str) -> str:
        """Hold to what can be read.

        Raises
        ------
        InputError
        """
        shapes_of_text(value)
        return value

    def in_unit(self, value: str, factor: float) -> str:
        """Return the shapes in another unit."""
        parts, fill, stroke, width, ramps = shapes_of_text(value)
        sized = [(verbs, points * factor) for verbs, points in parts]
        laid = [one and one._replace(seat=one.seat * factor) for one in ramps]
        return text_of_shapes(zip(fill, stroke, width * factor, sized, laid, strict=True))


@dataclass(frozen=True)
class Pixels(Dial):
    """A small drawing of squares: rows with / between, a digit or letter for the colour of each square, a dot where it is clear."""

    kind: ClassVar[str] = "pixels"
    most: int = 64

    def check(self, value: str) -> str:
        """Hold to rows of one length, colours 1 to 9 and a to c.

        Raises
        ------
        InputError
        """
        rows = value.split("/")
        if not 1 <= len(rows) <= self.most or not 1 <= len(rows[0]) <= self.most:
            raise InputError(f"a drawing has from 1 to {self.most} squares each way", self.label)
        for k, row in enumerate(rows, 1):
            if len(row) != len(rows[0]):
                raise InputError(f"row {k} has {len(row)} squares and row 1 has {len(rows[0])}; all have as many", self.label)
            wrong = next((one for one in row if one not in PIXEL_SIGNS), "")
            if wrong:
                raise InputError(f"“{wrong}” in row {k} is no colour; 1 to 9, a to c and a dot are allowed", self.label)
        return value


PIXEL_SIGNS = ".123456789abc"


@dataclass(frozen=True)
class Touches(Dial):
    """Copies picked by hand; with `moves` each may be moved, turned and sized."""

    kind: ClassVar[str] = "touch-ups"
    moves: bool = True
    most: int = 2000

    def check(self, value: tuple[Any, ...]) -> tuple[Any, ...]:
        """Hold to a number that can be looked for."""
        if len(value) > self.most:
            raise InputError(f"at most {self.most:,} copies can be picked", self.label)
        return value

    def in_unit(self, value: tuple[Any, ...], factor: float) -> tuple[Any, ...]:
        """Return the touches with their moves in another unit."""
        return tuple(one.scaled(factor) for one in value)


@dataclass(frozen=True)
class Point(Dial):
    """A spot of the motif or the sheet, with an offset."""

    kind: ClassVar[str] = "point"


@dataclass(frozen=True)
class Text(Dial):
    """A short text with its own grammar."""

    kind: ClassVar[str] = "text"

    def check(self, value: str) -> str:
        """Hold to 400 characters."""
        if len(value) > 400:
            raise InputError("at most 400 characters are allowed", self.label)
        return value


@dataclass(frozen=True)
class Font(Dial):
    """A font by its full name."""

    kind: ClassVar[str] = "font"

    def check(self, value: str) -> str:
        """Hold to a name."""
        if not 0 < len(value) <= 120:
            raise InputError("a font has a name of at most 120 letters", self.label)
        return value


@dataclass(frozen=True)
class Palette(Dial):
    """One to twelve colours."""

    kind: ClassVar[str] = "palette"

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

    def read(self, text: str) -> str:
        """Read a colour, or none."""
        return "" if text == "none" else text

    def check(self, value: str) -> str:
        """Hold to a colour or nothing."""
        return checked(value) if value else ""
