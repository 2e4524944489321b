"""Motif: weave, straps that pass over and under; where one goes under it is cut, so that the edge of the upper one shows."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Literal, get_args

import numpy as np
import shapely

from under_lattice.core.errors import InputError
from under_lattice.core.units import short
from under_lattice.declare.dials import Choice, Count, Length, Text, When
from under_lattice.declare.moving import Push, at_half, mixed_ratio, multiplied, tidied
from under_lattice.geometry.affine import Array, apply, turns
from under_lattice.geometry.outline import Outline, polygon, polygon_verbs
from under_lattice.geometry.straps import crossed, merged, stretches
from under_lattice.pattern.ask import Ask
from under_lattice.pattern.stage import Family, Shape, Stage
from under_lattice.rules.base import describe
from under_lattice.rules.families import MotifRule
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Drag, Handle, HandleSet

Order = Literal["plain", "twill", "satin"]
WIDTHS = When(field="gives", values=("widths",), reason="the code gives what lies between straps")
SPACINGS = When(field="gives", values=("spacings",), reason="the code gives the widths")
TWO_WAYS = When(field="ways", values=("two",), reason="three directions have one order")
TWILL = (TWO_WAYS, When(field="order", values=("twill",), reason="only for twill"))
SATIN = (TWO_WAYS, When(field="order", values=("satin",), reason="only for satin"))
CODE_MOST = 12


@dataclass(frozen=True)
class LengthCode(Text):
    """A list of proportions such as ``5 : 2 : 3``."""

    def moved(self, value: str, push: Push) -> str:
        """Return the code with one of its numbers moved."""
        found = proportions(value)
        at = push.picked(len(found), "code")
        found[at] = min(max(tidied(multiplied(found[at], push.by())), 0.001), 1000.0)
        return _code(found)

    def mixed(self, one: str, other: str, share: float) -> str:
        """Return the code `share` (0..1) of the way between two with as many numbers; else the nearer."""
        parts = proportions(one), proportions(other)
        if len(parts[0]) != len(parts[1]):
            return at_half(one, other, share)
        return _code([mixed_ratio(a, b, share) for a, b in zip(*parts, strict=True)])

    def check(self, value: str) -> str:
        """Hold to one to twelve numbers above zero.

        Raises
        ------
        InputError
        """
        proportions(value)
        return value


def _code(numbers: list[float]) -> str:
    return " : ".join(short(one, 3) for one in numbers)


def proportions(code: str) -> list[float]:
    """Return the numbers of a code such as ``5 : 2 : 3``, without unit.

    Raises
    ------
    InputError
    """
    parts = [part for part in re.split(r"[:,;\s]+", code.strip()) if part]
    try:
        found = [float(part) for part in parts]
    except ValueError:
        found = []
    if not 1 <= len(found) <= CODE_MOST or not all(0.001 <= one <= 1000 for one in found):
        raise InputError(f"“{code[:30]}” is not a code; 1 to {CODE_MOST} numbers above zero, for instance 5 : 2 : 3")
    return found


def _whole(width: float, height: float) -> Outline:
    x, y = width / 2, height / 2
    return polygon(np.array([(-x, -y), (x, -y), (x, y), (-x, y)]))


@dataclass(frozen=True, eq=False)
class WeaveShape:
    """The visible pieces of all straps, one face for each kind of strap: of the code's numbers, upright ones first."""

    families: tuple[tuple[bytes, Array], ...]
    width: float
    height: float

    @property
    def faces(self) -> int:
        """How many kinds of strap."""
        return len(self.families)

    def body(self) -> Outline:
        """The whole woven piece."""
        return _whole(self.width, self.height)

    def reach(self) -> float:
        """Nothing passes the body, in units of the shape."""
        return 0.0

    def draw(self, ask: Ask) -> tuple[Family, ...]:
        """One face for each kind of strap, its pieces as contours."""
        none = np.zeros(ask.n, np.int32)
        return tuple(Family(verbs, points[None], none) for verbs, points in self.families)


class Weave(MotifRule):
    """Straps over and under."""

    title: ClassVar[str] = "Motif"
    words: ClassVar[str] = "A weave: straps over and under, widths from a code."
    piecewise: ClassVar[bool] = True
    search: ClassVar[str] = "plaid tartan basket braid textile cloth twill satin mat strap"

    kind: Literal["weave"] = "weave"
    ways: Annotated[
        Literal["two", "three"],
        Choice("Directions", "Upright and level straps, or three sets a third of a turn apart.", options=("two", "three")),
    ] = "two"
    columns: Annotated[
        int,
        Count(
            "Upright straps",
            "How many straps stand upright; with three directions, how many run in each.",
            most=200,
            slides=(1, 40),
        ),
    ] = 8
    rows: Annotated[int, Count("Level straps", "How many straps lie level.", most=200, slides=(1, 40), when=(TWO_WAYS,))] = 8
    gives: Annotated[
        Literal["widths", "spacings"],
        Choice(
            "Code gives",
            "Whether the code gives the widths of the straps, or of what lies open between them.",
            options=("widths", "spacings"),
            main=False,
        ),
    ] = "widths"
    code: Annotated[str, LengthCode("Code", "Proportions taken in turn, such as 5 : 2 : 3.")] = "5 : 2 : 3"
    mirrored: Annotated[
        Literal["repeated", "mirrored"],
        Choice(
            "Code is",
            "After its end the code begins again, or is gone through backwards.",
            options=("repeated", "mirrored"),
            main=False,
        ),
    ] = "mirrored"
    size: Annotated[float, Length("Unit", "Width of one part of the code.", least=0.001, slides=(0.5, 20.0))] = 3.0
    spacing: Annotated[
        float,
        Length(
            "Between straps", "How much is left open between one strap and the next.", least=0.0, slides=(0.0, 20.0), when=(WIDTHS,)
        ),
    ] = 2.0
    strap: Annotated[
        float, Length("Strap width", "Width of every strap.", least=0.001, slides=(0.5, 30.0), when=(SPACINGS,), main=False)
    ] = 6.0
    cut: Annotated[
        float, Length("Cut", "How much is left bare beside the upper strap, where one goes under.", least=0.0, slides=(0.0, 5.0))
    ] = 0.6
    order: Annotated[Order, Choice("Order", "Which strap lies on top.", options=get_args(Order), when=(TWO_WAYS,))] = "plain"
    over: Annotated[
        int, Count("Over", "How many level straps an upright one passes over in a row.", most=20, slides=(1, 8), when=TWILL)
    ] = 2
    under: Annotated[
        int, Count("Under", "How many level straps it passes under after that.", most=20, slides=(1, 8), when=TWILL)
    ] = 2
    repeat: Annotated[
        int, Count("Repeat", "After how many straps the satin begins again.", least=5, most=40, slides=(5, 16), when=SATIN)
    ] = 5
    step: Annotated[
        int,
        Count(
            "Step", "How many straps the crossing moves on from one row to the next.", least=2, most=38, slides=(2, 12), when=SATIN
        ),
    ] = 2

    def own_body(self) -> Outline:
        """Return the whole woven piece; its straps, tens of thousands of pieces, are not asked for."""
        return _whole(*self._size())

    def _size(self) -> tuple[float, float]:
        """Width and height of the whole, mm."""
        code = np.array(proportions(self.code))
        upright = self.straps(self.columns, code)
        if self.ways == "three":
            x, y = np.abs(self._rim(self._pitch(upright) * len(upright))).max(0)
            return 2 * float(x), 2 * float(y)
        return float(upright[-1, 1]), float(self.straps(self.rows, code)[-1, 1])

    def shape(self) -> Shape:
        """Return the pieces of all straps.

        Raises
        ------
        InputError
            When the cut leaves nothing of them.
        """
        code = np.array(proportions(self.code))
        families = self._three_ways(code) if self.ways == "three" else self._two_ways(code)
        if not families:
            raise InputError(f"a cut of {short(self.cut)} leaves nothing of the straps", "Cut")
        return WeaveShape(tuple(families), *self._size())

    def _two_ways(self, code: Array) -> list[tuple[bytes, Array]]:
        """Upright straps and level ones, over and under by their order."""
        upright, level = self.straps(self.columns, code), self.straps(self.rows, code)
        ends, on_top = np.array([upright[-1, 1], level[-1, 1]]), self.on_top()
        families = []
        for across, (straps, others) in enumerate(((upright, level), (level, upright))):
            hidden = on_top if across else ~on_top.T
            strap, shown = stretches(hidden, others[:, :2] + [-self.cut, self.cut], float(ends[1 - across]))
            low, high, kinds = straps[strap].T
            begin, end = shown.T
            corners = np.stack([[low, begin], [high, begin], [high, end], [low, end]]).transpose(2, 0, 1)
            corners = (corners[..., ::-1] if across else corners) - ends / 2
            found = [corners[kinds == kind] for kind in range(len(code))]
            families += [(polygon_verbs(4) * len(one), one.reshape(-1, 2)) for one in found if len(one)]
        return families

    def _three_ways(self, code: Array) -> list[tuple[bytes, Array]]:
        """Straps in three directions, each over the next and under the one before.

        Their middles stand at even distances, one set moved by half of that where three would else meet in a point; the whole ends
        in a hexagon.
        """
        straps = self.straps(int(self.columns), code)
        pitch, half = self._pitch(straps), (straps[:, 1] - straps[:, 0]) / 2
        middle = (np.arange(len(half)) - (len(half) - 1) / 2) * pitch
        shift = pitch / 2 if len(half) % 2 else 0.0
        sets = [np.stack([middle - half, middle + half], 1) + shift * (d == 2) for d in range(3)]
        rim, families = shapely.Polygon(self._rim(pitch * len(half))), []
        for d in range(3):
            over = merged(sets[d - 1] + [-self.cut, self.cut])
            for kind in range(len(code)):
                rings = crossed(merged(sets[d][straps[:, 2] == kind]), over, 120.0 * d, 120.0 * ((d - 1) % 3), rim)
                if rings:
                    families.append((b"".join(polygon_verbs(len(ring)) for ring in rings), np.concatenate(rings)))
        return families

    def _pitch(self, straps: Array) -> float:
        """From the middle of a strap to that of the next where they run in three directions, mm."""
        wide = float(straps[0, 1] - straps[0, 0])
        return float(np.diff(straps[:, 0]).mean()) if len(straps) > 1 else wide + self.spacing

    @staticmethod
    def _rim(high: float) -> Array:
        """The hexagon that straps in three directions end in, (6, 2)."""
        return np.asarray(apply(turns(np.arange(6) * 60.0), np.array([[0.0, high / np.sqrt(3)]]))[:, 0])

    def straps(self, count: int, code: Array) -> Array:
        """Begin, end and place in the code of each strap (count, 3)."""
        many = len(code)
        k = np.arange(count)
        if self.mirrored == "mirrored" and many > 1:
            round_trip = 2 * (many - 1)
            kind = np.minimum(k % round_trip, round_trip - k % round_trip)
        else:
            kind = k % many
        coded = code[kind] * self.size
        wide, open_part = (coded, self.spacing) if self.gives == "widths" else (np.full(count, self.strap), coded)
        begin = np.cumsum(wide + open_part) - wide - open_part
        return np.stack([begin, begin + wide, kind], 1)

    def on_top(self) -> Array:
        """Tell for each crossing (rows, columns) whether the upright strap lies on top."""
        j, i = np.mgrid[: self.rows, : self.columns]
        if self.order == "plain":
            return np.asarray((i + j) % 2 == 0)
        if self.order == "twill":
            return np.asarray((j - i) % (self.over + self.under) < self.over)
        return np.asarray((i - j * self.step) % self.repeat == 0)

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return the corner that sizes the whole."""
        ring = stage.body_ring
        return HandleSet((Handle("size", ring[2], f"unit {describe(self.size, unit)}", "bead"),), None, ring)

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Size the unit by the distance of the corner from the middle; what lies between straps stays as it is."""
        corner = stage.body_ring[2]
        many = np.array([self.columns, self.rows])
        open_part = self.spacing * (many - 1) / 2 if self.gives == "widths" else self.strap * many / 2
        factor = float(np.hypot(*np.maximum(drag.to - open_part, 0.0)) / max(float(np.hypot(*(corner - open_part))), 1e-9))
        return {"size": max(0.01, drag.length(self.size * factor))}

    def key_line(self, unit: str) -> str:
        """Return the order and the number of straps."""
        if self.ways == "three":
            return f"Weave, three ways, {self.columns} straps each"
        return f"Weave, {self.order}, {self.columns} by {self.rows} straps"
