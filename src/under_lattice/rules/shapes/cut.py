"""Rule: Cut, open an outline at corners, angles or in even parts, and keep chosen pieces."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise
from typing import Annotated, ClassVar, Literal

import numpy as np

from under_lattice.core.errors import InputError, RuleRefused
from under_lattice.declare.dials import Choice, Count, Ratio, Text, When
from under_lattice.geometry.affine import Array
from under_lattice.geometry.cutting import as_outline, cubics_of, part_between, places_by_angle, places_by_corner, places_by_length
from under_lattice.geometry.outline import CURVE, MOVE
from under_lattice.pattern.ask import Ask
from under_lattice.pattern.stage import Family, Over, Shape, start
from under_lattice.rules.families import ShapeRule
from under_lattice.rules.ground import Ground

PIECES_MOST = 200
EVEN = When(field="at", values=("even parts",), reason="only for even parts")
ANGLED = When(field="at", values=("angles",), reason="only for angles")


def read_numbers(text: str, label: str, whole: bool = False) -> list[float]:
    """Read numbers without a unit, with commas between.

    Raises
    ------
    InputError
    """
    out = []
    for part in (p.strip() for p in text.split(",") if p.strip()):
        try:
            value = float(part)
        except ValueError:
            raise InputError(f"“{part[:20]}” is not a number; write for instance 1, 3", label) from None
        if not np.isfinite(value) or (whole and (value != round(value) or value < 1)):
            raise InputError(f"“{part[:20]}” is not {'a whole number from 1' if whole else 'a number'}", label)
        out.append(value)
    if len(out) > PIECES_MOST:
        raise InputError(f"at most {PIECES_MOST} numbers are allowed", label)
    return out


@dataclass(frozen=True)
class NumberList(Text):
    """Numbers as text."""

    whole: bool = False

    def check(self, value: str) -> str:
        """Hold to numbers.

        Raises
        ------
        InputError
        """
        read_numbers(value, self.label, self.whole)
        return super().check(value)


@dataclass(frozen=True, eq=False)
class CutShape(Over):
    """Each face as open pieces; every piece is a part."""

    rule: Cut
    curved: bool = True

    @property
    def faces(self) -> int:
        """How many pieces, at most."""
        return len(self.draw(Ask(start(self.of))))

    def reach(self) -> float:
        """As far as before, in units of the shape."""
        return self.of.reach()

    def draw(self, ask: Ask) -> tuple[Family, ...]:
        """Return the pieces of each face; those of a kind have as many cubics, shorter ones end in pieces of no length."""
        out: list[Family] = []
        for face in self.of.draw(ask):
            cut = [self.rule.pieces(face.verbs, points) for points in face.points]
            for k in range(max(map(len, cut))):
                pieces = [one[k] if k < len(one) else None for one in cut]
                longest = max(len(one) for one in pieces if one is not None)
                points = np.stack([_padded(one, longest) for one in pieces])
                gone = np.array([one is None for one in pieces])
                variant = np.where((face.variant >= 0) & gone[np.maximum(face.variant, 0)], -1, face.variant)
                out.append(Family(bytes([MOVE] + [CURVE] * longest), points, variant.astype(np.int32)))
        return tuple(out)


def _padded(cubics: Array | None, count: int) -> Array:
    if cubics is None:
        return np.zeros((1 + 3 * count, 2))
    points = as_outline(cubics)[1]
    return np.concatenate([points, np.repeat(points[-1:], 1 + 3 * count - len(points), 0)])


class Cut(ShapeRule):
    """Open an outline."""

    title: ClassVar[str] = "Cut"
    words: ClassVar[str] = "Open an outline at its corners, at angles or in even parts, and keep chosen pieces."
    search: ClassVar[str] = "open break segment arc part of outline scissors split path trim"

    kind: Literal["cut"] = "cut"
    at: Annotated[
        Literal["even parts", "corners", "angles"],
        Choice("At", "At even lengths of the outline, at its corners, or where rays from the middle meet it.",
               options=("even parts", "corners", "angles")),
    ] = "even parts"  # fmt: skip
    parts: Annotated[
        int,
        Count(
            "Parts",
            "Into how many parts the outline is cut.",
            most=PIECES_MOST,
            slides=(1, 24),
            when=(When(field="at", values=("even parts",), reason="only for even parts"),),
        ),
    ] = 6
    shift: Annotated[
        float,
        Ratio("Begins at", "How far along the outline the first cut lies.", slides=(0, 100), main=False, when=(EVEN,)),
    ] = 0.0
    angles: Annotated[
        str,
        NumberList("Angles", "Directions of the rays in degrees, clockwise from straight up.", when=(ANGLED,)),
    ] = "45, 135, 225, 315"
    keep: Annotated[str, NumberList("Keep", "Numbers of pieces that stay, such as 1, 3; empty for all.", whole=True)] = "1, 3, 5"

    def pieces(self, verbs: bytes, points: Array) -> list[Array]:
        """Return the pieces that stay of an outline (K, 2), as cubics (S, 4, 2) each."""
        wanted = {int(one) for one in read_numbers(self.keep, "Keep", True)}
        box = points.min(0), points.max(0)
        out: list[Array] = []
        number = 0
        for cubics, closed in cubics_of(verbs, points):
            places = np.unique(np.round(self._places(cubics, closed, (box[0] + box[1]) / 2), 9))
            stops = [*places, places[0] + len(cubics)] if closed and len(places) else [0.0, *places, float(len(cubics))]
            for begin, end in pairwise(stops):
                piece = part_between(cubics, begin, end)
                if len(piece):
                    number += 1
                    if not wanted or number in wanted:
                        out.append(piece)
        return out

    def _places(self, cubics: Array, closed: bool, middle: Array) -> Array:
        if self.at == "corners":
            return places_by_corner(cubics, closed)
        if self.at == "angles":
            return places_by_angle(cubics, middle, np.array(read_numbers(self.angles, "Angles")))
        parts = int(self.parts)
        shares = (np.arange(parts) / parts + self.shift / 100) % 1.0 if closed else np.arange(1, parts) / parts
        return places_by_length(cubics, np.sort(shares))

    def reshape(self, shape: Shape, ground: Ground) -> Shape:
        """Return the pieces; refuses numbers of pieces that are not there."""
        made = CutShape(shape, self)
        if not any(self.pieces(face.verbs, points) for face in shape.draw(Ask(start(shape))) for points in face.points[:1]):
            raise RuleRefused(f"none of the pieces {self.keep} is there; there are fewer, or no place to cut at")
        return made

    def key_line(self, unit: str) -> str:
        """Return where it is cut and what stays."""
        where = {"even parts": f"{int(self.parts)} even parts", "corners": "at corners", "angles": f"at {self.angles}°"}[self.at]
        return f"{where}, {'all stay' if not self.keep.strip() else f'{self.keep} stay'}"
