"""What of single outlines lies in a region, as outlines again: closed, in the order of their parts, their curves kept."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
import shapely

from under_lattice.geometry.affine import IDENTITY, Array
from under_lattice.geometry.outline import CLOSE, CURVE, LINE, MOVE, polygon_verbs
from under_lattice.geometry.path_text import Part
from under_lattice.pattern.marks import Marks
from under_lattice.pattern.pieces import areas_of_marks, grid_of
from under_lattice.pattern.recurve import chords_of, contours_of_areas
from under_lattice.pattern.stage import Family

STRAIGHT = 1e-9  # of a chord, by which handles lie beside its thirds where a curve is none


def marks_of(parts: Sequence[Part]) -> Marks:
    """Return outlines as marks that lie where they are; open ones are closed first, as every reader fills them."""
    families = []
    for verbs, points in parts:
        whole = verbs if verbs[-1] == CLOSE else verbs + bytes([CLOSE])
        families.append(Family(whole, points[None], np.zeros(1, np.int32)))
    count = len(parts)
    each = np.arange(count, dtype=np.int32)
    return Marks(
        tuple(families), each, np.zeros(count, np.int32), np.broadcast_to(IDENTITY, (count, 2, 3)), np.zeros(count, np.int32)
    )


def cut_out(part: Part, region: Any, edge: Marks | None = None) -> list[Part]:
    """Return what of an outline lies in a region (a geometry); its curves are kept, and those of the marks `edge` it is made of."""
    marks = marks_of([part])
    overlaid = [marks] if edge is None else [marks, edge]
    grid = grid_of(*overlaid)
    (area,) = areas_of_marks(marks, grid)
    left = area.intersection(region)
    parts = [one for one in shapely.get_parts(left) if one.geom_type == "Polygon" and one.area > 0]
    if not parts:
        return []
    chords = chords_of(grid, *overlaid)
    if chords is None:
        return [joined([_polygon(ring) for ring in (one.exterior, *one.interiors)]) for one in shapely.orient_polygons(parts)]
    return [joined([contour(cubics) for cubics in own]) for own in contours_of_areas(parts, chords)]


def _polygon(ring: Any) -> Part:
    """A ring of straight lines."""
    points = np.asarray(ring.coords)[:-1]
    return polygon_verbs(len(points)), points


def contour(cubics: Array, closes: bool = True) -> Part:
    """Return a contour of cubics (S, 4, 2), straight ones as lines."""
    verbs, points = bytearray([MOVE]), [cubics[0, :1]]
    for a, b, c, d in cubics:
        off = max(np.hypot(*(b - a - (d - a) / 3)), np.hypot(*(c - a - (d - a) * 2 / 3)))
        straight = off <= STRAIGHT * np.hypot(*(d - a))
        verbs.append(LINE if straight else CURVE)
        points.append(np.stack([d] if straight else [b, c, d]))
    return bytes([*verbs, CLOSE] if closes else verbs), np.concatenate(points)


def joined(parts: Sequence[Part]) -> Part:
    """Return outlines as one, contour after contour."""
    return b"".join(verbs for verbs, _ in parts), np.concatenate([points for _, points in parts])
