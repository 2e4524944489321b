"""What is seen of each shape: each point of the page in one of them, so that shapes that touch have their edges in common."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
import shapely

from under_lattice.core.progress import QUIET, Progress
from under_lattice.output.cut.gathered import Shape

HAIR = 2e-4  # of the size of a shape
MITRE = 4.0
SLIVER = 1e-7  # of the area of a shape: what is left of no more is nothing


def visible(shapes: Sequence[Shape], page: Any, progress: Progress = QUIET) -> list[Shape]:
    """Return shapes, from back to front, without what others lie over, cut off at the page.

    Raises
    ------
    GivenUp
    """
    areas = shapely.intersection(np.array([one.area for one in shapes], object), page)
    tree = shapely.STRtree(areas)
    below, above = tree.query(areas, predicate="intersects")
    over = above > below
    below, above = below[over], above[over]
    order = np.argsort(below, kind="stable")
    below, above = below[order], above[order]
    begin = np.searchsorted(below, np.arange(len(areas) + 1))
    out = []
    for k, one in enumerate(shapes):
        if k % 64 == 0:
            progress.step(k / max(len(shapes), 1))
        left, whole = areas[k], areas[k].area
        if begin[k + 1] > begin[k]:
            left = shapely.difference(left, shapely.union_all(areas[above[begin[k] : begin[k + 1]]]))
        left = polygons_of(left, SLIVER * whole)
        if not shapely.is_empty(left):
            out.append(one._replace(area=left))
    return out


def united(shapes: Sequence[Shape], by_colour: bool) -> list[Shape]:
    """Return shapes that touch or overlap as one; those of each colour of each layer by themselves, or all.

    Neighbours whose edges are the same curve in other straight pieces leave slits between them: all are made wider by a hair,
    united, and made narrower again.
    """
    groups: dict[tuple[str, str], list[Shape]] = {}
    for one in shapes:
        groups.setdefault((one.layer, one.colour) if by_colour else ("", ""), []).append(one)
    out = []
    for own in groups.values():
        areas = np.array([one.area for one in own], object)
        hair = HAIR * float(np.median(np.sqrt(shapely.area(areas))))
        joins: dict[str, Any] = {"join_style": "mitre", "mitre_limit": MITRE}
        area = shapely.buffer(shapely.union_all(shapely.buffer(areas, hair, **joins)), -hair, **joins)
        out.append(own[0]._replace(area=polygons_of(area, 0.0), of_line=True))
    return out


def polygons_of(area: Any, least: float) -> Any:
    """Return the polygons of a geometry that are larger than `least`, in square units of the page."""
    parts = [part for part in shapely.get_parts(area) if part.geom_type == "Polygon" and part.area > least]
    return parts[0] if len(parts) == 1 else shapely.MultiPolygon(parts)
