"""Rule: Trim, all copies are cut off at the edge of the sheet or of another layer."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal

import numpy as np
import shapely

from under_lattice.core.errors import LimitError, RuleRefused
from under_lattice.core.progress import Progress
from under_lattice.core.units import short
from under_lattice.declare.dials import Choice, LayerChoice, Length, When
from under_lattice.geometry.affine import IDENTITY, Array, apply, inverse
from under_lattice.pattern.clipping import of_rings, rings_of
from under_lattice.pattern.marks import Marks, draw
from under_lattice.pattern.pieces import areas_of_marks, grid_of, stage_of_outlines
from under_lattice.pattern.recurve import Chords, chords_of, contours_of_areas, of_contours
from under_lattice.pattern.stage import Stage
from under_lattice.rules.base import describe
from under_lattice.rules.families import CopyRule
from under_lattice.rules.ground import Ground

AREAS_MOST = 20_000
OF_SHEET = When(field="at", values=("the sheet",), reason="only at the sheet")
OF_LAYER = When(field="at", values=("another layer",), reason="only at another layer")


class Trim(CopyRule):
    """Cut off at an edge."""

    title: ClassVar[str] = "Trim"
    words: ClassVar[str] = "All copies are cut off at the edge of the sheet or of another layer; what is left stays closed."
    search: ClassVar[str] = "crop clip cut edge border mask inside stencil"
    sees_sheet: ClassVar[bool] = True

    kind: Literal["trim"] = "trim"
    at: Annotated[
        Literal["the sheet", "another layer"],
        Choice(
            "At", "Whose edge cuts: the sheet's or a layer's.", unsought=("another layer",), options=("the sheet", "another layer")
        ),
    ] = "the sheet"
    inset: Annotated[
        float,
        Length(
            "Inset",
            "How far inside the sheet's edge the cut lies; outside it below zero.",
            least=-1e4,
            slides=(-10, 60),
            when=(OF_SHEET,),
        ),
    ] = 10.0
    layer: Annotated[str, LayerChoice("Layer", "The layer that cuts: all that its copies cover.", when=(OF_LAYER,))] = ""
    keeps: Annotated[
        Literal["inside", "outside"], Choice("Keeps", "What lies inside the edge, or outside.", options=("inside", "outside"))
    ] = "inside"

    def layers(self) -> tuple[str, ...]:
        """Return the layer at whose edge is cut."""
        return (self.layer,) if self.at == "another layer" and self.layer else ()

    def place(self, above: Stage, ground: Ground) -> Stage:
        """Return the copies of which something is left, as they are cut; open lines stay whole.

        Raises
        ------
        RuleRefused
            When nothing is left, or no edge is given.
        LimitError
        """
        marks = draw(above, ground.known, ground.progress)
        if marks.count > AREAS_MOST:
            raise LimitError(f"there are {marks.count:,} areas; at most {AREAS_MOST:,} can be trimmed")
        edge = [] if self.at == "the sheet" else [self._edge(ground)]
        grid = grid_of(marks, *edge)
        region = shapely.union_all(areas_of_marks(edge[0], grid)) if edge else self._sheet(ground)
        areas = np.array(areas_of_marks(marks, grid), object)
        left = shapely.intersection(areas, region) if self.keeps == "inside" else shapely.difference(areas, region)
        size = float(np.sqrt(max(shapely.area(areas).max(initial=0.0), 1e-12)))
        faces = len(marks.families)
        chords = chords_of(grid, marks, *edge)
        whole = of_rings if chords is None else of_contours
        rings = [rings_of(one, size) for one in left] if chords is None else _contours(left, size, chords, ground.progress)
        kept = np.flatnonzero(np.array([bool(ring) for ring in rings]).reshape(-1, faces).any(1))
        if not len(kept):
            raise RuleRefused(f"nothing is left {self.keeps} the edge")
        parts = [whole([rings[k * faces + f] for k in kept], np.arange(len(kept), dtype=np.int32)) for f in range(faces)]
        for f, part in enumerate(parts):  # what is gone of a copy lies where the rest of it is
            other = parts[(f + 1) % faces].points[:, :1]
            parts[f] = part._replace(points=np.where((part.variant < 0)[:, None, None], other, part.points))
        return stage_of_outlines(self.id, above, kept, parts, bent=IDENTITY)

    def _sheet(self, ground: Ground) -> Any:
        corners = ground.sheet(-self.inset)
        if np.ptp(corners, 0).min() <= 0:
            raise RuleRefused(
                f"an inset of {short(self.inset)} leaves nothing of the sheet, {short(ground.width)} by {short(ground.height)}"
            )
        return shapely.Polygon(apply(inverse(ground.back), corners))

    def _edge(self, ground: Ground) -> Marks:
        if self.layer not in ground.layers:
            raise RuleRefused("no other layer is chosen, or it shows nothing")
        return ground.layers[self.layer]

    def seen_through(self, above: Stage, ground: Ground) -> Array | None:
        """Return the map (2, 3) that changes nothing: what is cut stays where it is."""
        return IDENTITY

    @property
    def at_rest(self) -> str:
        """Why nothing changes."""
        return "no copy passes the edge"

    def key_line(self, unit: str) -> str:
        """Return at what, and what is kept."""
        return f"{self.keeps} {self.at}" + (f", inset {describe(self.inset, unit)}" if self.at == "the sheet" else "")


def _contours(areas: Array, size: float, chords: Chords, progress: Progress) -> list[list[Array]]:
    """The contours of each area, the curves its edges come of found again; next to nothing is left out."""
    pieces = [[p for p in shapely.get_parts(one) if p.geom_type == "Polygon" and p.area > 1e-12 * size * size] for one in areas]
    flat = [piece for own in pieces for piece in own]
    made = iter(contours_of_areas(flat, chords, progress) if flat else [])
    return [[contour for _ in own for contour in next(made)] for own in pieces]
