"""Whether translations bring a picture of few shapes onto itself, told by all it covers: shapes that go on past the page do so."""

from __future__ import annotations

from typing import Any

import numpy as np
import shapely

from under_lattice.core.progress import QUIET, Progress
from under_lattice.geometry.affine import Array
from under_lattice.geometry.translations import NOTHING, reduced
from under_lattice.pattern.drawn import Drawn
from under_lattice.pattern.marks import Picture
from under_lattice.pattern.stage import share

MARKS_MOST = 400
TIMES = 12  # repeats of the others within which such a picture may come again
NEAR = 1e-5  # of the sides of the page: seams that are no wider are none


def held_by_outlines(picture: Picture, basis: Array, half: Array, progress: Progress = QUIET) -> Array:
    """Return those translations of a lattice (k, 2) that bring a picture onto itself, as a lattice; (0, 2) where none is found.

    Raises
    ------
    GivenUp
    """
    drawn = Drawn(picture.marks)
    if len(drawn.rows) > MARKS_MOST or any(coat.paint is not None for coat in picture.coats) or picture.closed:
        return NOTHING
    layers = _by_colour(picture, drawn)
    page = shapely.box(*-half, *half)
    kept = []
    for vector in basis:
        for k in range(1, TIMES + 1):
            progress.check()
            way = k * vector
            if (np.abs(way) > half).any():  # else what is in the middle would be brought off the page both ways
                break
            if all(_same(area, way, page) for area in layers):
                kept.append(way)
                break
    return reduced(np.array(kept)) if kept else NOTHING


def _by_colour(picture: Picture, drawn: Drawn) -> list[Any]:
    """What is covered by all marks that are painted alike, their lines apart."""
    count = len(drawn.rows)
    values = [one for coat in picture.coats for one in (coat.fill, coat.stroke, coat.width[:, None])]
    shown = [one[drawn.rows] if len(one) == drawn.marks.count else one for one in values]
    keys = [np.broadcast_to(one, (count, one.shape[1])) for one in shown]
    _, variant = share(np.concatenate(keys, 1).astype(float), 1e-6)
    shapes = drawn.placed(np.arange(len(drawn.rows)), fine=True)
    return [shapely.union_all(shapes[variant == kind]) for kind in np.unique(variant)]


def _same(area: Any, way: Array, page: Any) -> bool:
    """Whether what is covered of the part of a page that a translation brings onto the page is what is covered there."""
    brought = shapely.transform(area, lambda points: points + way)
    both = shapely.intersection(page, shapely.transform(page, lambda points: points + way))
    one, other = shapely.intersection(area, both), shapely.intersection(brought, both)
    side = float(np.sqrt(both.area))
    if area.area > 0:
        return bool(shapely.symmetric_difference(one, other).area <= NEAR * side * (one.length + side))
    if one.is_empty or other.is_empty:
        return bool(one.is_empty and other.is_empty)
    return bool(shapely.hausdorff_distance(one, other) <= 10 * NEAR * side)
