"""Outlines filled by the even-odd rule, turned so that the winding rule fills the same."""

from __future__ import annotations

import numpy as np
import shapely

from under_lattice.geometry.affine import Array
from under_lattice.geometry.outline import CLOSE, CURVE, LINE, MOVE, areas, contours, flatten
from under_lattice.geometry.path_text import Part

STEPS = 8  # straight pieces for each curve where it is asked what lies in what
CONTOURS_MOST = 2_000


def with_winding(part: Part) -> Part:
    """Return an outline whose contours run one way or the other as they lie within an even or odd number of others.

    Contours that cross each other are left as they are in between: where they overlap, the winding rule fills too.
    """
    verbs, points = part
    pieces = [(own, points[where]) for own, where in contours(verbs)]
    if not 1 < len(pieces) <= CONTOURS_MOST:
        return part
    rings = [flatten(own, at[None], STEPS)[0][0] for own, at in pieces]
    polygons = np.array([shapely.Polygon(ring) if len(ring) > 2 else shapely.Polygon() for ring in rings], object)
    inner = shapely.points([ring[0] for ring in rings])
    tree = shapely.STRtree(polygons)
    at, around = tree.query(inner, predicate="within")
    depth = np.bincount(at[at != around], minlength=len(pieces))
    turned = [
        _reversed(own, at) if own[-1] == CLOSE and (areas(own, at[None])[0] > 0) == bool(depth[k] % 2) else (own, at)
        for k, (own, at) in enumerate(pieces)
    ]
    return b"".join(own for own, _ in turned), np.concatenate([at for _, at in turned])


def _reversed(verbs: bytes, points: Array) -> Part:
    """One closed contour, the other way round."""
    middle = [verb for verb in verbs if verb in (LINE, CURVE)]
    return bytes([MOVE, *middle[::-1], CLOSE]), points[::-1]
