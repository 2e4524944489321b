"""Bodies whose sides lean inwards, so that they leave a mould: as high above each point as that is far from the edge allows."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

import numpy as np
import shapely

from under_lattice.geometry.affine import Array

LEVELS = 24  # heights between which sides are plain; a narrow part ends at the last one it reaches
LEAST = 1e-6  # mm²: a smaller part is none
ROOM = 2e-4  # mm, by which parts of one contour are kept apart
GRID = 1e-4  # mm, on which corners lie: files of single precision keep them apart
MITRE = 8.0  # times the way inwards, that a corner may be moved


def leaning(solids: Any, area: Any, begin: float, end: float, degrees: float) -> Any:
    """Return an area raised from 0 to one height with upright sides, and from there to another, in mm, leaning by so many degrees.

    Above each point it is as high as ``distance to the edge / tan(degrees)``, the whole height at most. Insets of the area at even
    heights are its contours; what lies between two of them is filled with triangles.

    Parameters
    ----------
    solids : module
        The library of bodies.
    area : shapely geometry
        Polygons that meet nowhere, in mm.
    """
    contours = _contours(area, (end - begin) * float(np.tan(np.radians(degrees))))
    foot = contours[0][1]
    corners, triangles, first = [], [_filled(solids, foot)[:, ::-1]], 0  # seen from beneath
    if begin > 0:
        corners.append(_at(foot, 0.0))
        triangles.append(_upright(foot))
        first = len(corners[0])
    for k, (share, below) in enumerate(contours):
        corners.append(_at(below, begin + (end - begin) * share))
        above = contours[k + 1][1] if k + 1 < len(contours) else []
        triangles.append(_filled(solids, below + [ring[::-1] for ring in above], len(corners[-1])) + first)
        first += len(corners[-1])
    mesh = solids.Mesh64(vert_properties=np.concatenate(corners), tri_verts=np.concatenate(triangles).astype(np.uint64))
    return solids.Manifold(mesh)


def _at(rings: list[Array], high: float) -> Array:
    """The corners (n, 3) of rings at a height."""
    return np.insert(np.concatenate(rings), 2, high, axis=1)


def _upright(rings: list[Array]) -> Array:
    """Triangles (m, 3) between rings and the same rings above them, whose corners come next."""
    count, out, begin = sum(map(len, rings)), [], 0
    for ring in rings:
        here = begin + np.arange(len(ring))
        there = np.roll(here, -1)
        out += [np.stack([here, there, there + count], 1), np.stack([here, there + count, here + count], 1)]
        begin += len(ring)
    return np.concatenate(out)


def _contours(area: Any, inwards: float) -> list[tuple[float, list[Array]]]:
    """The rings of an area at shares of its height, 0..1, `inwards` at the top; two where no corner is lost on the way up."""

    def inset(share: float) -> list[Array]:
        how: dict[str, Any] = {"join_style": "mitre", "mitre_limit": MITRE}
        apart = shapely.buffer(shapely.buffer(area, -share * inwards - 2 * ROOM, **how), ROOM, **how) if share else area
        return _rings(shapely.set_precision(apart, GRID))

    foot, top = inset(0.0), inset(1.0)
    if [len(ring) for ring in foot] == [len(ring) for ring in top]:
        return [(0.0, foot), (1.0, top)]
    found = [(level / LEVELS, inset(level / LEVELS)) for level in range(1, LEVELS)]
    return [(0.0, foot), *[one for one in found if one[1]], *([(1.0, top)] if top else [])]


def _rings(area: Any) -> list[Array]:
    """The rings (k, 2) of polygons, not closed: outer ones to the left, holes to the right."""
    parts = [one for one in shapely.get_parts(shapely.orient_polygons(area)) if one.geom_type == "Polygon" and one.area > LEAST]
    return [np.asarray(ring.coords)[:-1] for one in parts for ring in (one.exterior, *one.interiors)]


def _filled(solids: Any, rings: list[Array], mine: int = 0) -> Array:
    """Triangles (m, 3) over rings, by the places of their corners; those of rings turned round, from `mine` on, by theirs."""
    made = np.asarray(solids.triangulate(rings)).reshape(-1, 3).astype(np.int64)
    ends = np.cumsum([0, *map(len, rings)]).tolist()
    places = [np.arange(a, b) if a < mine or not mine else np.arange(a, b)[::-1] for a, b in pairwise(ends)]
    return np.concatenate(places)[made]
