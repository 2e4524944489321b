"""Kinds of dial that hold what is drawn: outlines, lists of shapes, small drawings of squares, copies picked by hand."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, ClassVar

from under_lattice.core.errors import InputError
from under_lattice.declare.dials import Dial
from under_lattice.declare.moving import at_half
from under_lattice.declare.shape_list import Row, shapes_of_text, text_of_shapes
from under_lattice.geometry.affine import linear
from under_lattice.geometry.path_text import parts_of_text, text_of_parts


@dataclass(frozen=True)
class OutlineText(Dial):
    """An outline as path data, one line for each part."""

    kind: ClassVar[str] = "outline"

    def mixed(self, one: str, other: str, share: float) -> str:
        """Return the outline `share` (0..1) of the way between two drawn with the same strokes; else the nearer."""
        parts = parts_of_text(one), parts_of_text(other)
        if [verbs for verbs, _ in parts[0]] != [verbs for verbs, _ in parts[1]]:
            return at_half(one, other, share)
        pairs = zip(*parts, strict=True)
        return text_of_parts([(verbs, points * (1 - share) + others * share) for (verbs, points), (_, others) in pairs], 7)

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
        parts, fill, stroke, width, ramps, rounded = shapes_of_text(value)
        onto = linear(0.0, factor, factor)
        return text_of_shapes(row.through(onto) for row in map(Row, fill, stroke, width, parts, ramps, rounded))


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
