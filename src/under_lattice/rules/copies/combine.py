"""Rule: Combine, areas of copies, of parts or of two layers become one: together, in common, apart, or less the rest."""

from __future__ import annotations

import itertools
from collections.abc import Callable
from typing import Annotated, Any, ClassVar, Literal, get_args

import numpy as np
import shapely

from under_lattice.core.errors import LimitError, RuleRefused
from under_lattice.declare.dials import Choice, LayerChoice, When
from under_lattice.geometry.affine import Array
from under_lattice.pattern.findings import Findings
from under_lattice.pattern.marks import draw
from under_lattice.pattern.pieces import areas_of_marks, grid_of, stage_of_pieces
from under_lattice.pattern.recurve import chords_of
from under_lattice.pattern.stage import Stage
from under_lattice.rules.base import RuleFamily
from under_lattice.rules.families import CopyRule
from under_lattice.rules.ground import Ground

How = Literal["union", "intersection", "exclusion", "first less the rest"]
AREAS_MOST = 20_000
THIN = 1e-9  # of all: what is smaller is left over from reckoning
TOGETHER = 1024  # areas united at a time
LOOKED_AT = 64  # areas that tell how many others each meets
MEET_MOST = 64  # others in the mean; of more, all are taken to meet
ORIGIN = shapely.Point(0, 0)
Step = Callable[[float], None]
LAYERED = When(field="of", values=("another layer",), reason="only with another layer")


class Combine(CopyRule):
    """One area from many."""

    title: ClassVar[str] = "Combine"
    words: ClassVar[str] = "Areas become one: their union, what they share, where they do not overlap, or the first less the rest."
    search: ClassVar[str] = "boolean union unite merge subtract difference intersect xor exclude weld cut out"
    family: ClassVar[RuleFamily] = "repeat"

    kind: Literal["combine"] = "combine"
    how: Annotated[
        How,
        Choice(
            "How",
            "Union: all of them. Intersection: where all lie. Exclusion: where an odd number lies.",
            options=get_args(How),
        ),
    ] = "union"
    of: Annotated[
        Literal["all copies", "the parts of each copy", "another layer"],
        Choice(
            "Of",
            "All copies; the parts of each copy; or all copies as one area with all of another layer as the other.",
            unsought=("another layer",),
            options=("all copies", "the parts of each copy", "another layer"),
        ),
    ] = "all copies"
    layer: Annotated[str, LayerChoice("Layer", "The layer that is the other area; it is not changed by this.", when=(LAYERED,))] = (
        ""
    )

    def layers(self) -> tuple[str, ...]:
        """Return the layer it is combined with."""
        return (self.layer,) if self.of == "another layer" and self.layer else ()

    def place(self, above: Stage, ground: Ground) -> Stage:
        """Return what is left, each separate piece a copy; ink laid above is laid on them by row and column.

        Raises
        ------
        RuleRefused
            When nothing is left.
        LimitError
        """
        marks = draw(above, ground.known, ground.progress)
        if marks.count > AREAS_MOST:
            raise LimitError(f"there are {marks.count:,} areas; at most {AREAS_MOST:,} can be combined")
        overlaid, step = [marks], ground.progress.step
        if self.of == "another layer":
            other = ground.layers.get(self.layer)
            if other is None or not other.count:
                raise RuleRefused("no other layer is chosen, or it shows nothing")
            overlaid = [marks, other]
        grid = grid_of(*overlaid)
        areas, *others = (areas_of_marks(one, grid) for one in overlaid)
        if others:
            groups = [[_union(areas, step), _union(others[0], step)]]
        elif self.of == "all copies":
            groups = [areas]
        else:
            groups = [[areas[k] for k in np.flatnonzero(marks.copy == copy)] for copy in range(above.n)]
        whole = sum(area.area for area in areas) or 1.0
        rows = []
        for k, group in enumerate(groups):
            step(k / len(groups))
            rows.append([p for p in shapely.get_parts(self._combined(group, step)) if _counts(p, whole)])
        if not any(rows):
            raise RuleRefused(f"nothing is left: the {self.how} of these areas is empty")
        count = sum(map(len, rows))
        found = Findings(said={"how": self._said(count)})
        return stage_of_pieces(self.id, rows, found, chords_of(grid, *overlaid), progress=ground.progress)

    def _said(self, count: int) -> str:
        """How many pieces there are, and whose ink they have."""
        pieces = "one piece" if count == 1 else f"{count:,} pieces"
        whose = "that of the other layer goes" if self.of == "another layer" else "as one part"
        return f"{pieces}, with the ink of this layer, {whose}"

    def _combined(self, areas: list[Any], step: Step) -> Any:
        some = [area for area in areas if not area.is_empty]
        if not some:
            return shapely.Polygon()
        if self.how == "union":
            return _union(some, step)
        if self.how == "exclusion":
            return _exclusion(some, step)
        if self.how == "intersection":
            return shapely.intersection_all(areas)
        return areas[0].difference(_union(areas[1:], step))

    @property
    def at_rest(self) -> str:
        """Why nothing changes."""
        return "there is one area only"

    def key_line(self, unit: str) -> str:
        """Return how and of what."""
        return f"{self.how} of {self.of}"


def _exclusion(areas: list[Any], step: Step) -> Any:
    """Where an odd number of areas lies, taken in pairs of pairs."""
    total = len(areas)
    while len(areas) > 1:
        step(1 - len(areas) / total)
        odd = areas[-1:] if len(areas) % 2 else []
        areas = [*shapely.symmetric_difference(areas[: len(areas) - len(odd) : 2], areas[1::2]), *odd]
    return areas[0]


def _union(areas: list[Any], step: Step) -> Any:
    """All areas together; those that meet nothing are left as they are, which takes no time."""
    if len(areas) <= TOGETHER:
        return shapely.union_all(areas)
    group = _meeting(areas)
    order = np.argsort(group, kind="stable")
    bounds = np.flatnonzero(np.diff(group[order], prepend=-1))
    parts: list[Any] = []
    for begin, end in itertools.pairwise([*bounds.tolist(), len(order)]):
        step(begin / len(order))
        own = [areas[k] for k in order[begin:end]]
        parts += shapely.get_parts(own[0] if len(own) == 1 else _union_near(own, step)).tolist()
    return shapely.multipolygons([part for part in parts if part.geom_type == "Polygon" and not part.is_empty])


def _meeting(areas: list[Any]) -> Array:
    """Number areas (n,) so that those that meet, one by way of the next, have the same number; all have it where most meet many."""
    tree, some = shapely.STRtree(areas), np.linspace(0, len(areas) - 1, LOOKED_AT).astype(np.int64)
    if tree.query([areas[k] for k in some]).shape[1] > MEET_MOST * LOOKED_AT:
        return np.zeros(len(areas), np.int64)
    one, other = tree.query(areas, "intersects")
    from scipy.sparse import coo_array  # takes a while to load
    from scipy.sparse.csgraph import connected_components

    met = coo_array((np.ones(len(one), bool), (one, other)), shape=(len(areas), len(areas)))
    return np.asarray(connected_components(met, directed=False)[1])


def _union_near(areas: list[Any], step: Step) -> Any:
    """Areas that meet together, neighbours first and so many at a time that it can be given up in between."""
    if len(areas) <= TOGETHER:
        return shapely.union_all(areas)
    middles = shapely.get_coordinates(shapely.centroid([one if not one.is_empty else ORIGIN for one in areas]))
    band = max(float(np.ptp(middles[:, 1])) / np.sqrt(len(areas) / TOGETHER), 1e-12)
    order = np.lexsort((middles[:, 0], np.floor(middles[:, 1] / band)))
    parts = []
    for begin in range(0, len(areas), TOGETHER):
        step(begin / len(areas))
        parts.append(shapely.union_all([areas[k] for k in order[begin : begin + TOGETHER]]))
    return shapely.union_all(parts)


def _counts(piece: Any, whole: float) -> bool:
    return piece.geom_type == "Polygon" and piece.area > THIN * whole
