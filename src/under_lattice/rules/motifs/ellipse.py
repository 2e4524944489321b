"""Motif: ellipse, a disc when both measures are the same; curves all the way into the files."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Literal

import numpy as np

from under_lattice.declare.dials import Angle, Length, Ratio
from under_lattice.geometry.affine import Array
from under_lattice.geometry.curves import arc_pieces, arc_points, curve_verbs
from under_lattice.geometry.outline import Outline
from under_lattice.pattern.ask import Ask, largest, rest
from under_lattice.pattern.ask import Number as AnyNumber
from under_lattice.pattern.stage import Family, Shape, Stage, share
from under_lattice.rules.base import describe
from under_lattice.rules.families import MotifRule
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Drag, Handle, HandleSet, with_start
from under_lattice.rules.shared.measure_spots import Spot, spot_dragged, spot_handles, turn_dragged, turn_handle
from under_lattice.vary.numbers import Number

ROUND = arc_pieces(360.0)
VERBS = curve_verbs(ROUND, closed=True)


def unit_circle() -> Array:
    """Points (37, 2) of a circle of radius 1 as twelve cubics, clockwise as seen from the right; off by at most 3.7e-7."""
    one, whole = np.ones(1), np.full(1, 360.0)
    points = arc_points(one, 0 * one, whole, ROUND)[0]
    points[-1] = points[0]
    return np.asarray(points)


@dataclass(frozen=True, eq=False)
class EllipseShape:
    """An ellipse; width and height may vary."""

    width: AnyNumber
    height: AnyNumber
    turn: float
    faces: int = 1

    def _points(self, wide: Array, high: Array) -> Array:
        """Outlines (M, 37, 2) of ellipses `wide` and `high` (M,)."""
        angle = np.radians(self.turn)
        sized = unit_circle()[None] * np.stack([wide, high], -1)[:, None] / 2
        return np.asarray(sized @ np.array([(np.cos(angle), np.sin(angle)), (-np.sin(angle), np.cos(angle))]))

    def body(self) -> Outline:
        """Return the ellipse at its start size."""
        return Outline(self._points(np.array([rest(self.width)]), np.array([rest(self.height)]))[0], VERBS)

    def reach(self) -> float:
        """How far a grown size passes the start size, in units of the shape."""
        return max(0.0, *(largest(n) - rest(n) for n in (self.width, self.height))) / 2

    def draw(self, ask: Ask) -> tuple[Family, ...]:
        """One face, a variant for each size."""
        wide, high = np.broadcast_arrays(ask.each(self.width), ask.each(self.height))
        first, variant = share(np.stack([wide, high], 1))
        if len(variant) != ask.n:
            variant = np.zeros(ask.n, np.int32)
        return (Family(VERBS, self._points(wide[first], high[first]), variant),)


HEIGHT = (Spot("roundness", lambda n: (0.0, n["width"] * n["roundness"] / 200)),)


class Ellipse(MotifRule):
    """An ellipse or a disc."""

    title: ClassVar[str] = "Motif"
    words: ClassVar[str] = "An ellipse; a disc where width and height are the same."
    search: ClassVar[str] = "circle disc disk oval round dot petal"

    kind: Literal["ellipse"] = "ellipse"
    width: Annotated[Number, Length("Width", "From side to side.", least=0.001, most=1e5, vary=True, slides=(1, 120))] = 24.0
    roundness: Annotated[
        Number,
        Ratio("Height", "Height as a part of the width; 100 % is a disc.", least=0.1, most=10000.0, vary=True, slides=(5.0, 200.0)),
    ] = 100.0
    turn: Annotated[float, Angle("Turn", "About its middle.", main=False, group="Place")] = 0.0

    def shape(self) -> Shape:
        """Return the lazy ellipse."""
        return EllipseShape(self.width, Share(self.width, self.roundness), self.turn)

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return the bead that sizes it."""
        angle = np.radians(self.turn)
        at = rest(self.width) / 2 * np.array([np.cos(angle), np.sin(angle)])
        width = Handle("width", at, f"width {describe(rest(self.width), unit)}", "bead")
        turned = turn_handle(self, stage.body_ring, unit)
        assert turned is not None
        return HandleSet((width, *spot_handles(self, HEIGHT, unit), turned), None, stage.body_ring)

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Size by the distance from the middle, or turn."""
        if drag.name == "turn":
            return turn_dragged(drag)
        if drag.name == "roundness":
            return spot_dragged(self, HEIGHT, drag)
        return {"width": with_start(self.width, max(0.01, drag.length(2 * float(np.hypot(*drag.to)))))}

    def called(self) -> str:
        """Return what a layer with this motif is called at first."""
        return self.key_line("").split(",")[0].split(" ")[0]

    def key_line(self, unit: str) -> str:
        """Return disc or ellipse and its width."""
        return f"{'Disc' if self.roundness == 100.0 else 'Ellipse'}, {describe(self.width, unit)} wide"


@dataclass(frozen=True)
class Share:
    """A number times another in per cent."""

    number: AnyNumber
    per_cent: AnyNumber

    def over(self, ask: Ask, points: Array | None) -> Array:
        """Return the product (n, 1) or (1, 1)."""
        return (ask.each(self.number) * ask.each(self.per_cent) / 100)[:, None]

    @property
    def rest(self) -> float:
        """The product of both starts, in the unit of the number."""
        return rest(self.number) * rest(self.per_cent) / 100

    @property
    def largest(self) -> float:
        """The product of both greatest sizes, in the unit of the number."""
        return largest(self.number) * largest(self.per_cent) / 100
