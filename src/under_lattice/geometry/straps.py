"""Straps that lie across each other: what shows of one between those that lie over it."""

from __future__ import annotations

import numpy as np
import shapely

from under_lattice.geometry.affine import Array, apply, turns

LEAST = 1e-9  # a piece shorter than this is none


def stretches(hidden: Array, bands: Array, long: float) -> tuple[Array, Array]:
    """Return what shows of straps between bands that lie over them.

    Parameters
    ----------
    hidden
        bool (straps, bands): whether the band lies over the strap.
    bands
        float (bands, 2), begin and end of each along the straps, in order.
    long
        Length of the straps.

    Returns
    -------
    int (n,) the strap of each stretch, and float (n, 2) where it begins and ends.
    """
    ends = np.ones((len(hidden), 1), bool)
    strap, at = np.nonzero(np.hstack([ends, hidden, ends]))  # what hides a strap, with its beginning and its end
    begin = np.concatenate([[0.0], bands[:, 1], [long]])[at[:-1]]
    end = np.concatenate([[0.0], bands[:, 0], [long]])[at[1:]]
    shows = (strap[:-1] == strap[1:]) & (end - begin > LEAST)
    return strap[:-1][shows], np.stack([begin, end], 1)[shows]


def merged(bands: Array) -> Array:
    """Return bands (n, 2), begin and end, with those that touch made one, in order."""
    bands = bands[np.argsort(bands[:, 0], kind="stable")]
    reach = np.maximum.accumulate(bands[:, 1])
    alone = bands[1:, 0] > reach[:-1]  # begins after all before have ended
    return np.stack([bands[np.append(True, alone)[: len(bands)], 0], reach[np.append(alone, True)[: len(bands)]]], 1)


def crossed(bands: Array, over: Array, way: float, way_over: float, rim: shapely.Polygon) -> list[Array]:
    """Return what shows of straps in one direction between straps in another that lie over all of them.

    Parameters
    ----------
    bands, over
        float (n, 2), begin and end of each strap across itself, in order; those that lie over apart from each other.
    way, way_over
        Degrees by which straps that lie level are turned.
    rim
        Convex; nothing shows beyond it.

    Returns
    -------
    Rings (k, 2).
    """
    far = float(np.abs(rim.bounds).max()) * 2
    gaps = np.stack([np.append(-far, over[:, 1]), np.append(over[:, 0], far)], 1)
    gaps = gaps[gaps[:, 1] - gaps[:, 0] > LEAST]
    across = apply(turns(np.array([way, way_over])), np.array([[0.0, 1.0]]))[:, 0]  # the bands are measured along
    meet = np.linalg.inv(across)
    low, high = bands[:, None, :].repeat(len(gaps), 1).reshape(-1, 2).T
    begin, end = np.tile(gaps, (len(bands), 1)).T
    corners = np.stack([[low, begin], [high, begin], [high, end], [low, end]]).transpose(2, 0, 1) @ meet.T
    return _clipped(corners, rim)


def _clipped(corners: Array, rim: shapely.Polygon) -> list[Array]:
    """The parts of convex pieces (n, k, 2) within a convex rim; only those that it crosses are cut."""
    ring = shapely.get_coordinates(shapely.orient_polygons(rim))
    edge = np.diff(ring, axis=0)
    out = np.stack([edge[:, 1], -edge[:, 0]], 1)
    beyond = corners @ out.T > (out * ring[:-1]).sum(1)  # (n, k, edges)
    inside = ~beyond.any((1, 2))
    crossing = ~inside & ~beyond.all(1).any(1)
    parts = shapely.get_parts(shapely.intersection(shapely.polygons(corners[crossing]), rim))
    rings = [shapely.get_coordinates(one)[:-1] for one in parts[shapely.area(parts) > 0]]
    return [*corners[inside], *rings]
