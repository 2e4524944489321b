"""Rule: Stroke to shape, outlines and lines become closed bands of a width."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Literal

import numpy as np
import shapely

from under_lattice.declare.dials import Choice, Length
from under_lattice.geometry.affine import Array
from under_lattice.geometry.fitting import smoothed
from under_lattice.geometry.outline import CLOSE, CURVE, contours, flatten, steps_for
from under_lattice.pattern.ask import Ask, largest
from under_lattice.pattern.ask import Number as AnyNumber
from under_lattice.pattern.clipping import of_rings, rings_of
from under_lattice.pattern.recurve import of_contours
from under_lattice.pattern.stage import Family, Over, Shape, share
from under_lattice.rules.base import describe
from under_lattice.rules.families import ShapeRule
from under_lattice.rules.ground import Ground
from under_lattice.rules.shapes.offset import FINE, JOINS, MITRE, QUARTER
from under_lattice.vary.numbers import Number

NO_LENGTH = 1e-12  # of the size of a face
CAPS: dict[str, Any] = {"cut": "flat", "round": "round", "square": "square"}


@dataclass(frozen=True, eq=False)
class BandShape(Over):
    """The strokes of another shape's faces, as areas."""

    width: AnyNumber
    joins: str
    ends: str
    curved: bool = True

    def reach(self) -> float:
        """How far a band passes the body; mitred ones by their tips, in units of the shape."""
        return self.of.reach() + largest(self.width) / 2 * (MITRE if self.joins == "mitred" else 1.5)

    def draw(self, ask: Ask) -> tuple[Family, ...]:
        """Return the bands, made once for each distinct face and width."""
        width = ask.each(self.width)
        out = []
        for face in self.of.draw(ask):
            told = np.broadcast_to(width, len(face.variant))
            first, variant = share(np.stack([face.variant.astype(float), told], 1))
            bands = [self._band(face, int(face.variant[at]), float(told[at])) for at in first]
            shown = np.where(face.variant < 0, -1, variant).astype(np.int32)
            if CURVE in face.verbs or "round" in (self.joins, self.ends):  # curves are found again
                sizes = [float(np.ptp(face.points[max(int(face.variant[at]), 0)], 0).max()) or 1.0 for at in first]
                pieces = [[smoothed(ring, size) for ring in band] for band, size in zip(bands, sizes, strict=True)]
                out.append(of_contours(pieces, shown))
            else:
                out.append(of_rings(bands, shown))
        return tuple(out)

    def _band(self, face: Family, variant: int, width: float) -> list[Array]:
        """The rings of one band."""
        if variant < 0:
            return []
        points = face.points[variant : variant + 1]
        size = float(np.ptp(points[0], 0).max()) or 1.0
        flat = flatten(face.verbs, points, steps_for(face.verbs, points, FINE * size))
        lines = []
        for ring, (verbs, _) in zip(flat, contours(face.verbs), strict=True):
            line = ring[0][np.append(True, np.abs(np.diff(ring[0], axis=0)).max(1) > NO_LENGTH * size)]  # ends are cut along pieces
            kind = shapely.LinearRing if verbs[-1] == CLOSE and len(line) > 2 else shapely.LineString
            lines.append(kind(line if len(line) > 1 else ring[0]))
        with np.errstate(divide="ignore", invalid="ignore"):  # the library divides by lengths that may be none
            bands = shapely.buffer(
                np.array(lines, object), width / 2, quad_segs=QUARTER, cap_style=CAPS[self.ends], join_style=JOINS[self.joins],
                mitre_limit=MITRE,
            )  # fmt: skip
        return rings_of(shapely.union_all(bands), size)


class StrokeToShape(ShapeRule):
    """Lines as areas."""

    title: ClassVar[str] = "Stroke to shape"
    words: ClassVar[str] = "Outlines and open lines become closed bands of a width, for cutting, combining and filling."
    search: ClassVar[str] = "expand outline stroke band thick line path convert"

    kind: Literal["stroke-to-shape"] = "stroke-to-shape"
    width: Annotated[Number, Length("Width", "Width of the bands.", least=0.001, most=1e5, vary=True, slides=(0.2, 20))] = 2.0
    joins: Annotated[
        Literal["mitred", "round", "cut"], Choice("Corners", "Pointed, round or cut off.", options=("mitred", "round", "cut"))
    ] = "round"
    ends: Annotated[
        Literal["cut", "round", "square"], Choice("Ends", "How open lines end.", options=("cut", "round", "square"))
    ] = "round"

    def reshape(self, shape: Shape, ground: Ground) -> Shape:
        """Return the bands."""
        return BandShape(shape, self.width, self.joins, self.ends)

    def key_line(self, unit: str) -> str:
        """Return the width."""
        return f"{describe(self.width, unit)} wide"
