"""Areas as copies of a shape: what rules that need real outlines leave, closed into one new shape."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, ClassVar

import numpy as np
import shapely

from under_lattice.core.progress import QUIET, Progress
from under_lattice.geometry.affine import Array, apply, compose, inverse, moves
from under_lattice.geometry.body import needless
from under_lattice.geometry.fitting import smoothed
from under_lattice.geometry.outline import CLOSE, Outline, polygon
from under_lattice.pattern.ask import Ask
from under_lattice.pattern.clipping import area_of, of_rings, rings_of
from under_lattice.pattern.findings import NOTHING_FOUND, Findings
from under_lattice.pattern.marks import Marks
from under_lattice.pattern.recurve import Chords, contours_of_areas, of_contours
from under_lattice.pattern.stage import Family, Stage

GRID = 1e-9  # of the size of what is overlaid: sides that differ by less are one


def stage_of_pieces(
    rule: str,
    rows: Sequence[Sequence[Any]],
    found: Findings = NOTHING_FOUND,
    chords: Chords | None = None,
    smooth: bool = False,
    progress: Progress = QUIET,
) -> Stage:
    """Return the stage of areas, row by row: each a copy at its own middle, named by row and column.

    With `chords` the curves their edges come of are found again; where they are `smooth`, runs of short pieces become curves.

    Raises
    ------
    GivenUp
    """
    pieces = [piece for row in rows for piece in row]
    row = np.repeat(np.arange(len(rows)), [len(one) for one in rows])
    column = np.concatenate([np.arange(len(one)) for one in rows])
    n = len(pieces)
    size = float(np.sqrt(max(piece.area for piece in pieces))) or 1.0
    if smooth:
        rings = [rings_of(piece, size) for piece in progress.each(pieces)]
        outlines = of_contours([[smoothed(ring, _extent(own[0])) for ring in own] for own in rings], np.arange(n, dtype=np.int32))
    elif chords is None:
        outlines = of_rings([rings_of(_plain(piece), size) for piece in pieces], np.arange(n, dtype=np.int32))
    else:
        outlines = of_contours(contours_of_areas(pieces, chords, progress), np.arange(n, dtype=np.int32))
    middle = (outlines.points.min(1) + outlines.points.max(1)) / 2
    shape = OwnOutlines(rule, (outlines._replace(points=outlines.points - middle[:, None]),))
    channels = {"row": row.astype(float), "column": column.astype(float), "step": np.arange(n, dtype=float)}
    key = np.stack([row, column], 1)
    return Stage(rule, shape, moves(middle), moves(middle), np.arange(n, dtype=np.int32), key, None, channels, found=found)


def _extent(ring: Array) -> float:
    return float(np.ptp(ring, 0).max())


def _plain(area: Any) -> Any:
    """A polygon without corners on the lines between their neighbours."""
    rings = [np.asarray(ring.coords)[:-1] for ring in (area.exterior, *area.interiors)]
    needed = [ring[~needless(ring)] for ring in rings]
    if not any(len(one) < len(ring) for one, ring in zip(needed, rings, strict=True)) or any(len(one) < 3 for one in needed):
        return area
    return shapely.Polygon(needed[0], needed[1:])


def areas_of_marks(marks: Marks, grid: float = 0.0) -> list[Any]:
    """Return what each closed mark covers where it lies, its corners on a fine grid; each distinct outline is flattened once.

    On a grid, their own if none is given, because sides of neighbours that differ in their last figures are not taken for one by
    the library.
    """
    out = np.full(marks.count, shapely.Polygon(), object)
    closed = np.array([family.verbs[-1] == CLOSE for family in marks.families])
    drawn = (marks.variant >= 0) & closed[marks.family]
    grid = grid or grid_of(marks)
    kinds, which = np.unique(np.stack([marks.family, marks.variant], 1), axis=0, return_inverse=True)
    for kind, (family, variant) in enumerate(kinds):
        own = np.flatnonzero((which.ravel() == kind) & drawn)
        if not len(own):
            continue
        shape = area_of(marks.families[family], int(variant))[0]
        places = apply(marks.xform[own], shapely.get_coordinates(shape)[None])
        rounded = np.round(places.reshape(-1, 2) / grid) * grid
        out[own] = shapely.set_coordinates(np.repeat(np.array([shape], object), len(own)), rounded)
    broken = ~shapely.is_valid(out)
    out[broken] = shapely.make_valid(out[broken])
    return list(out)


def grid_of(*overlaid: Marks) -> float:
    """Return the fine grid on which corners of marks are put for overlays with each other, in their unit."""
    return GRID * max(1e-9, *(float(np.abs(marks.xform).max(initial=0.0)) for marks in overlaid))


@dataclass(frozen=True, eq=False)
class OwnOutlines:
    """Outlines of their own for each copy of a rule, about their middles."""

    alike: ClassVar[bool] = False  # a body says nothing of the others: distances between neighbours mean nothing
    curved: ClassVar[bool] = True
    rule: str
    families: tuple[Family, ...]
    under: Array | None = (
        None  # (n, 2, 3): the place of the shape each copy comes of -> its own, where paints go on lying as they did
    )

    @property
    def faces(self) -> int:
        """How many parts."""
        return len(self.families)

    def _half(self) -> Array:
        return np.max([np.abs(family.points).max((0, 1)) for family in self.families], 0)

    def body(self) -> Outline:
        """Return a box about the largest outline."""
        x, y = np.maximum(self._half(), 1e-9)
        return polygon(np.array([(-x, -y), (x, -y), (x, y), (-x, y)]))

    def reach(self) -> float:
        """No outline passes the box, in units of the shape."""
        return 0.0

    def draw(self, ask: Ask) -> tuple[Family, ...]:
        """Return the outlines of the copies that are asked for."""
        index = ask.ancestors(self.rule) if ask.stage(self.rule) is not None else np.zeros(ask.n, np.int64)  # by itself: the first
        return tuple(family._replace(variant=family.variant[index]) for family in self.families)


def stage_of_outlines(
    rule: str,
    above: Stage,
    kept: Array,
    faces: Sequence[Family],
    bent: Array | None = None,
    at: Array | None = None,
    **more: Any,
) -> Stage:
    """Return copies `kept` (k,) of a stage with outlines of their own: faces with points (k, K, 2), each at its own middle.

    What stands above goes on being read through the copies they were. More than one may come of a copy, if they are given a `key`
    (k, 2) and `channels` of their own. `bent` (k, 2, 3) says how the paints of each copy lie now, as seen from where they lay: with
    the identity they stay. With `at` (k, 2, 3) the outlines are about their middles already and lie where it says.
    """
    under, xform = None, at
    if xform is None:
        joined = np.concatenate([face.points for face in faces], 1)
        middle = (joined.min(1) + joined.max(1)) / 2
        xform = moves(middle)
        under = None if bent is None else compose(moves(-middle), compose(bent, above.xform[kept]))
        faces = [face._replace(points=face.points - middle[:, None]) for face in faces]
    shape = OwnOutlines(rule, tuple(faces), under)
    with np.errstate(invalid="ignore"):
        step = np.nan_to_num(compose(xform, inverse(above.xform[kept])), posinf=0.0, neginf=0.0)
    counted = None if above.counted is None else above.counted[kept]
    named: dict[str, Any] = {"key": above.key[kept], "channels": {"step": np.arange(len(kept), dtype=float)}} | more
    return Stage(rule, shape, xform, step, kept.astype(np.int32), above=above, counted=counted, **named)
