"""Rule: Offset, lines parallel to an outline, inwards or outwards, one or many."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Literal

import numpy as np
import shapely

from under_lattice.core.errors import RuleRefused
from under_lattice.declare.dials import Choice, Count, Length
from under_lattice.geometry.affine import Array
from under_lattice.geometry.fitting import smoothed
from under_lattice.geometry.outline import CLOSE, CURVE, steps_for
from under_lattice.pattern.ask import Ask, largest, rest
from under_lattice.pattern.ask import Number as AnyNumber
from under_lattice.pattern.clipping import area_of, of_rings, rings_of
from under_lattice.pattern.recurve import of_contours
from under_lattice.pattern.stage import Family, Over, Shape, share, start
from under_lattice.rules.base import describe
from under_lattice.rules.families import ShapeRule
from under_lattice.rules.ground import Ground
from under_lattice.vary.numbers import Number

JOINS: dict[str, Any] = {"mitred": "mitre", "round": "round", "cut": "bevel"}
QUARTER = 24  # pieces of a round corner's quarter turn
MITRE = 6.0
FINE = 1e-5  # of the size of a face, by which straight pieces may stray from its curves


@dataclass(frozen=True, eq=False)
class OffsetShape(Over):
    """Faces with parallels, from the outermost to the innermost; each parallel is a face of its own."""

    distance: AnyNumber
    rings: int
    joins: str
    keeps: bool
    curved: bool = True

    @property
    def faces(self) -> int:
        """How many: the parallels of each face, and the face."""
        return self.of.faces * (self.rings + self.keeps)

    def reach(self) -> float:
        """How far the outermost parallel passes the body; mitred ones by their tips, in units of the shape."""
        out = max(0.0, rest(self.distance), largest(self.distance) if rest(self.distance) >= 0 else 0.0)
        return self.of.reach() + out * self.rings * (MITRE if self.joins == "mitred" else 1.0)

    def draw(self, ask: Ask) -> tuple[Family, ...]:
        """Return the parallels of each face, made once for each distinct face and distance."""
        distance = ask.each(self.distance)
        out: list[Family] = []
        for face in self.of.draw(ask):
            if face.verbs[-1] != CLOSE:
                out += [face] * (self.rings + self.keeps)
                continue
            told = np.broadcast_to(distance, len(face.variant))
            first, variant = share(np.stack([face.variant.astype(float), told], 1))
            shown = np.where(face.variant < 0, -1, variant).astype(np.int32)
            round_ = CURVE in face.verbs or self.joins == "round"
            measured = _fine if round_ else area_of
            areas = {int(v): measured(face, int(v)) for v in np.unique(face.variant[first]) if v >= 0}
            levels = []
            for k, at in enumerate(first):
                ask.progress.named("Offset").step(k / len(first))
                levels.append(self._parallels(areas.get(int(face.variant[at])), float(told[at])))
            sizes = [areas[int(face.variant[at])][1] if int(face.variant[at]) in areas else 1.0 for at in first]
            made = [_family([level[k] for level in levels], sizes, shown, round_) for k in range(self.rings)]
            inwards = rest(self.distance) < 0
            whole = [face] if self.keeps else []
            out += [*whole, *made] if inwards else [*made[::-1], *whole]
        return tuple(out)

    def _parallels(self, area: tuple[Any, float] | None, distance: float) -> list[list[Array]]:
        """The rings of each parallel of an area of a size, the nearest first."""
        if area is None:
            return [[]] * self.rings
        whole, size = area
        away = distance * np.arange(1, self.rings + 1)
        with np.errstate(divide="ignore", invalid="ignore"):  # the library divides by lengths that may be none
            found = shapely.buffer(whole, away, quad_segs=QUARTER, join_style=JOINS[self.joins], mitre_limit=MITRE)
        return [rings_of(one, size) for one in found]


def _fine(face: Family, variant: int) -> tuple[Any, float]:
    """What a face covers, its curves in fine pieces, and its size."""
    points = face.points[variant : variant + 1]
    size = float(np.ptp(points[0], 0).max()) or 1.0
    return area_of(face, variant, steps_for(face.verbs, points, FINE * size))


def _family(parallels: list[list[Array]], sizes: list[float], variant: Array, round_: bool) -> Family:
    """One parallel of each face as a family; where there are curves they are found again."""
    if not round_:
        return of_rings(parallels, variant)
    pieces = [[smoothed(ring, size) for ring in rings] for rings, size in zip(parallels, sizes, strict=True)]
    return of_contours(pieces, variant)


class Offset(ShapeRule):
    """Parallels of outlines."""

    title: ClassVar[str] = "Offset"
    words: ClassVar[str] = "Lines parallel to an outline, inwards or outwards, one or many; each is a part."
    search: ClassVar[str] = "parallel inset outset contour echo concentric border margin grow shrink"

    kind: Literal["offset"] = "offset"
    distance: Annotated[
        Number,
        Length("Distance", "How far one line lies from the next; inwards below zero.", least=-1e4, vary=True, slides=(-12, 12)),
    ] = -2.5
    rings: Annotated[int, Count("Parallels", "How many parallel lines.", least=1, most=40, slides=(1, 12))] = 3
    joins: Annotated[
        Literal["mitred", "round", "cut"], Choice("Corners", "Pointed, round or cut off.", options=("mitred", "round", "cut"))
    ] = "mitred"
    keeps: Annotated[
        Literal["the shape too", "the parallels only"],
        Choice("Shows", "The shape with its parallels, or these alone.", options=("the shape too", "the parallels only")),
    ] = "the shape too"

    def reshape(self, shape: Shape, ground: Ground) -> Shape:
        """Return the parallels; refuses lines that enclose nothing, and inward parallels none of which is left."""
        faces = shape.draw(Ask(start(shape)))
        closed = [face for face in faces if face.verbs[-1] == CLOSE]
        if not closed:
            raise RuleRefused("Offset needs closed outlines; an open line has no inside")
        made = OffsetShape(shape, self.distance, int(self.rings), self.joins, self.keeps == "the shape too")
        deepest = min((float(shapely.minimum_bounding_radius(area_of(face, 0)[0])) for face in closed), default=0.0)
        if rest(self.distance) < 0 and -rest(self.distance) > deepest and self.keeps != "the shape too":
            raise RuleRefused(f"nothing is left {-rest(self.distance):g} inside the outline; a smaller distance is wanted")
        return made

    def key_line(self, unit: str) -> str:
        """Return how many and how far."""
        return f"{int(self.rings)} every {describe(self.distance, unit)}, {self.joins}"
