"""Motif: regular polygon."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Literal, get_args

import numpy as np

from under_lattice.declare.dials import Angle, Choice, Count, Length
from under_lattice.geometry.affine import Array
from under_lattice.geometry.outline import Outline, polygon, polygon_verbs
from under_lattice.pattern.ask import Ask, largest, rest
from under_lattice.pattern.ask import Number as AnyNumber
from under_lattice.pattern.stage import Family, Shape, Stage, share
from under_lattice.rules.base import describe
from under_lattice.rules.families import MotifRule
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Drag, Handle, HandleSet, with_start
from under_lattice.rules.shared.measure_spots import turn_dragged, turn_handle
from under_lattice.vary.numbers import Number, Varied

Measure = Literal["across flats", "circumradius", "side", "apothem"]
MEASURES: tuple[str, ...] = get_args(Measure)
NAMES = {3: "Triangle", 4: "Square", 5: "Pentagon", 6: "Hexagon", 8: "Octagon", 12: "Dodecagon"}


def circumradius_of(measure: str, sides: int) -> float:
    """Return the circumradius of the polygon whose `measure` is 1 unit.

    Across flats is twice the apothem for an even number of sides, the height for an odd one.
    """
    half = np.pi / sides
    apothem = float(np.cos(half))
    across = 2 * apothem if sides % 2 == 0 else 1 + apothem
    return 1 / {"circumradius": 1.0, "apothem": apothem, "side": 2 * float(np.sin(half)), "across flats": across}[measure]


@dataclass(frozen=True, eq=False)
class PolygonShape:
    """A regular polygon; its circumradius may vary."""

    sides: int
    radius: AnyNumber
    factor: float
    first: float  # direction of the first corner, degrees
    faces: int = 1

    def _unit(self) -> Array:
        angle = np.radians(self.first + 360 / self.sides * np.arange(self.sides))
        return self.factor * np.stack([np.cos(angle), np.sin(angle)], -1)

    def body(self) -> Outline:
        """Return the polygon at its start size."""
        return polygon(rest(self.radius) * self._unit())

    def reach(self) -> float:
        """How far a grown size passes the start size, in units of the shape."""
        return max(0.0, largest(self.radius) - rest(self.radius)) * self.factor

    def draw(self, ask: Ask) -> tuple[Family, ...]:
        """One face, a variant for each size."""
        radius = ask.each(self.radius)
        first, variant = share(radius[:, None])
        if len(variant) != ask.n:
            variant = np.zeros(ask.n, np.int32)
        return (Family(polygon_verbs(self.sides), radius[first, None, None] * self._unit(), variant),)


class Polygon(MotifRule):
    """A regular polygon on a point or on a flat."""

    title: ClassVar[str] = "Motif"
    words: ClassVar[str] = "A regular polygon: triangle, square, hexagon and so on."
    search: ClassVar[str] = "shape triangle square hexagon diamond octagon"

    kind: Literal["polygon"] = "polygon"
    sides: Annotated[int, Count("Sides", "How many sides.", least=3, most=120, slides=(3, 12))] = 6
    measure: Annotated[Measure, Choice("Measure", "Which measure of the polygon the size gives.", options=MEASURES)] = (
        "across flats"
    )
    size: Annotated[
        Number,
        Length("Size", "The chosen measure.", least=0.001, most=1e5, vary=True, slides=(1, 120), search="radius width big"),
    ] = 36.0
    stands: Annotated[
        Literal["on a point", "on a flat"], Choice("Stands", "What points down.", options=("on a point", "on a flat"))
    ] = "on a point"
    turn: Annotated[float, Angle("Turn", "Turned from its stand.", main=False, group="Place")] = 0.0

    def shape(self) -> Shape:
        """Return the lazy polygon."""
        down = 90.0 + (180.0 / self.sides if self.stands == "on a flat" else 0.0)
        turned = down + self.turn
        first = (turned + 90) % (360 / self.sides) - 90  # the corner at or next after straight up
        return PolygonShape(self.sides, self.size, circumradius_of(self.measure, self.sides), first)

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return the corner that sizes it."""
        ring = stage.body_ring
        corner = ring[int(np.lexsort((ring[:, 1].round(6), -ring[:, 0].round(6)))[0])]
        bead = Handle("size", corner, f"{describe(rest(self.size), unit)} {self.measure}", "bead")
        turned = turn_handle(self, ring, unit)
        assert turned is not None
        return HandleSet((bead, turned), None, ring)

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Size by the distance of the corner from the middle."""
        if drag.name == "turn":
            return turn_dragged(drag)
        radius = float(np.hypot(*drag.to)) / circumradius_of(self.measure, self.sides)
        return {"size": with_start(self.size, max(0.01, drag.length(radius)))}

    def converted(self, name: str, value: Any) -> dict[str, Any]:
        """Keep the real size when another measure is chosen."""
        if name == "measure" and value in MEASURES:
            factor = circumradius_of(self.measure, self.sides) / circumradius_of(value, self.sides)
            size = self.size
            if isinstance(size, Varied):
                return {name: value, "size": size.model_copy(update={"start": size.start * factor, "end": size.end * factor})}
            return {name: value, "size": size * factor}
        return {name: value}

    def called(self) -> str:
        """Return what a layer with this motif is called at first."""
        return self.key_line("").split(",")[0].split(" ")[0]

    def key_line(self, unit: str) -> str:
        """Return the shape and its measure."""
        return f"{NAMES.get(self.sides, f'{self.sides} sides')}, {describe(self.size, unit)} {self.measure}"
