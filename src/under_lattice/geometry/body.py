"""Measures of bodies: how far apart copies touch, and which places meet a sheet.

A body is given by its straight edges (E, 2, 2) or its corners (V, 2). All of it is exact for bodies with straight sides.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

import numpy as np
import shapely

from under_lattice.core.progress import QUIET, Progress
from under_lattice.core.units import short
from under_lattice.geometry.affine import Array, apply, linear
from under_lattice.geometry.outline import flatten, on_outline

STRAIGHT = 1e-8  # of the size of a ring, by which a corner may lie beside the line between its neighbours
EDGES_MOST = 600
DISC_POINTS = 121  # more corners than a polygon may have
DISC_EVEN = 1e-6  # of its radius, by which points of a disc may be nearer to its middle
AT_A_TIME = 100_000  # points that are looked at between two questions whether they are still wanted
MANY_PAIRS = 1_000_000
LOOKS_THE_SAME = "looks the same"
SAME_ANGLE = 0.005  # degrees: what two decimals do not show
SOME = 7  # corners of an outline that are looked at before all


def edges_of(rings: Array) -> Array:
    """Edges (E, 2, 2) of closed rings (n, V, 2); of their hull when there are more than `EDGES_MOST`."""
    if rings.shape[0] * rings.shape[1] > EDGES_MOST:
        rings = hull(rings.reshape(-1, 2))[None]
    return np.stack([rings, np.roll(rings, -1, 1)], 2).reshape(-1, 2, 2)


def together(xform: Array, ring: Array) -> Array:
    """Return the copies (n, 2, 3) of a body (V, 2) as bodies (n, V, 2); of very many corners the hull alone (1, H, 2)."""
    if len(xform) * len(ring) <= EDGES_MOST:
        return apply(xform, ring[None])
    ring = hull(ring)
    middle = (ring.min(0) + ring.max(0)) / 2
    at = apply(xform, middle[None, None])[:, 0]
    reach = float(np.hypot(*(ring - middle).T).max()) * np.sqrt(np.einsum("nij,nij->n", xform[:, :, :2], xform[:, :, :2]))
    left = np.argsort(-np.hypot(*(at - at.mean(0)).T) - reach, kind="stable")  # those that stand out farthest tell most
    corners, at_once = np.zeros((0, 2)), max(1, AT_A_TIME // len(ring) // 8)
    while len(left):
        corners = hull(np.concatenate([corners, apply(xform[left[:at_once]], ring[None]).reshape(-1, 2)]))
        left, at_once = left[at_once:], min(2 * at_once, max(1, 10 * AT_A_TIME // len(ring)))
        if len(corners) > 2:  # a circle that crosses no side lies within
            normal, height = half_planes(corners)
            out = np.zeros(len(left), bool)
            for n, h in zip(normal, height, strict=True):
                out |= at[left] @ n + reach[left] > h
            left = left[out]
    return corners[None]


def hull(points: Array) -> Array:
    """Corners (V, 2) of the convex hull, clockwise as seen (y down), without doubled corners."""
    line = points if len(points) > 1 else points[[0, 0]]  # one line costs less than many points
    shape: Any = shapely.convex_hull(shapely.linestrings(line))
    if shape.geom_type != "Polygon":
        return np.asarray(shapely.get_coordinates(shape))
    return np.asarray(shapely.get_coordinates(shapely.orient_polygons(shape))[:-1])


def hull_of_outlines(outlines: Iterable[tuple[bytes, Array]], steps: int) -> Array:
    """Corners (V, 2) of the convex hull of outlines, whose curves are `steps` straight pieces each.

    Parameters
    ----------
    outlines : of (verbs, points (K, 2))
        Those of the same verbs are gone through together.
    steps : int

    Notes
    -----
    A curve lies in the hull of its four points: an outline whose points all lie within what is known already adds nothing.
    """
    alike: dict[bytes, list[Array]] = {}
    for verbs, points in outlines:
        alike.setdefault(verbs, []).append(points)
    stacks = [(verbs, np.stack(some)) for verbs, some in alike.items()]
    known = hull(np.concatenate([points[:, on_outline(verbs)].reshape(-1, 2) for verbs, points in stacks]))
    found = [known]
    if len(known) > 2:
        area = shapely.Polygon(known)
        shapely.prepare(area)
        stacks = [(v, points[~shapely.contains_xy(area, points[..., 0], points[..., 1]).all(1)]) for v, points in stacks]
    for verbs, points in stacks:
        found += [ring.reshape(-1, 2) for ring in flatten(verbs, points, steps)] if len(points) else []
    return hull(np.concatenate(found))


def needless(ring: Array) -> Array:
    """Tell which corners (V,) of a closed ring (V, 2) lie on the line between their neighbours."""
    before, after = np.roll(ring, 1, 0), np.roll(ring, -1, 0)
    along, here, on = after - before, ring - before, after - ring
    length = np.hypot(*along.T)
    aside = np.abs(along[:, 0] * here[:, 1] - along[:, 1] * here[:, 0])
    size = float(np.ptp(ring, 0).max(initial=0.0))
    return np.asarray((aside <= STRAIGHT * size * length) & (np.einsum("vc,vc->v", here, on) > 0) & (length > 0))


def disc_of(points: Array) -> tuple[Array, float] | None:
    """Return middle (2,) and radius of the disc that points (V, 2) stand for; None for other bodies.

    A disc has more of them than any polygon one may ask for; its radius is that at which its curves meet, the least.
    """
    if len(points) < DISC_POINTS:
        return None
    middle = points.mean(0)
    away = np.hypot(*(points - middle).T)
    return (middle, float(away.min())) if float(np.ptp(away)) <= DISC_EVEN * float(away.max()) else None


def grown(corners: Array, by: float) -> Array:
    """Corners of a convex body (V, 2) with every side moved outwards by `by`, corners kept sharp; negative shrinks."""
    if by == 0.0:
        return corners
    disc = disc_of(corners)
    if disc is not None and disc[1] + by > 0:
        return disc[0] + (corners - disc[0]) * ((disc[1] + by) / disc[1])
    ring = shapely.Polygon(corners).buffer(by, join_style="mitre", mitre_limit=100.0)
    if ring.is_empty:
        return corners.mean(0)[None]
    return np.asarray(shapely.get_coordinates(shapely.orient_polygons(ring))[:-1])


def clearance(edges: Array, direction: float, shift: tuple[float, float] = (0.0, 0.0), other: Array | None = None) -> float:
    """Least distance t along a direction from which on a body and its moved copy never overlap.

    Along each line in the direction the body covers a stretch; the copy, shifted, is clear once its least end has passed
    the body's greatest. Both ends are linear between corners, so the greatest need stands at a corner. For a convex
    body without shift this is its longest chord.

    Parameters
    ----------
    edges : (E, 2, 2)
    direction : float
        Degrees, clockwise as seen.
    shift : (float, float)
        The copy is moved by this as well.
    other : (F, 2, 2), optional
        Edges of the copy, when it is not the same body.

    Returns
    -------
    float
        0 when no line in the direction meets both.
    """
    angle = np.radians(direction)
    discs = disc_of(edges[:, 0]), disc_of((edges if other is None else other)[:, 0])
    if discs[0] is not None and discs[1] is not None:
        return _disc_clearance(discs[0], discs[1], np.array([np.cos(angle), np.sin(angle)]), np.asarray(shift))
    d, across = np.array([np.cos(angle), np.sin(angle)]), np.array([-np.sin(angle), np.cos(angle)])
    mine, copy = edges, (edges if other is None else other) + np.asarray(shift)
    breaks = np.unique(np.concatenate([(mine @ across).ravel(), (copy @ across).ravel()]))
    size = float(np.ptp(breaks)) or 1.0
    breaks = breaks[np.concatenate([[True], np.diff(breaks) > 1e-10 * size])]
    if len(breaks) < 2:
        return 0.0
    top = _reach(mine, d, across, breaks, greatest=True)
    low = _reach(copy, d, across, breaks, greatest=False)
    need = top - low
    need = need[np.isfinite(need)]
    return max(0.0, float(need.max())) if need.size else 0.0


def _disc_clearance(one: tuple[Array, float], other: tuple[Array, float], d: Array, shift: Array) -> float:
    """The same of two discs: where their middles are as far apart as their radii together."""
    away, radii = other[0] + shift - one[0], one[1] + other[1]
    along, aside = float(away @ d), float(away[0] * d[1] - away[1] * d[0])
    return max(0.0, float(np.sqrt(radii**2 - aside**2)) - along) if abs(aside) < radii else 0.0


def _reach(edges: Array, d: Array, across: Array, breaks: Array, greatest: bool) -> Array:
    """Ends along `d` at both sides of each interval between breaks, (2, K); infinite where the body is not."""
    s, t = edges @ across, edges @ d
    order = np.argsort(s, 1)
    s, t = np.take_along_axis(s, order, 1), np.take_along_axis(t, order, 1)
    middle = (breaks[:-1] + breaks[1:]) / 2
    spans = (s[:, :1] <= middle) & (middle <= s[:, 1:])
    with np.errstate(divide="ignore", invalid="ignore"):
        slope = (t[:, 1] - t[:, 0]) / (s[:, 1] - s[:, 0])
        ends = np.stack([t[:, :1] + slope[:, None] * (at - s[:, :1]) for at in (breaks[:-1], breaks[1:])])
    none = -np.inf if greatest else np.inf
    ends = np.where(spans, ends, none)
    return np.asarray(ends.max(1) if greatest else ends.min(1))


def half_planes(corners: Array) -> tuple[Array, Array]:
    """Outward normals (V, 2) and heights (V,) of a convex body given clockwise as seen or the other way."""
    run = np.roll(corners, -1, 0) - corners
    length = np.hypot(run[:, 0], run[:, 1])
    keep = length > 1e-12 * max(1.0, float(np.abs(corners).max()))
    run, at = run[keep] / length[keep, None], corners[keep]
    normal = np.stack([run[:, 1], -run[:, 0]], 1)
    if np.einsum("vc,vc->v", normal, at - corners.mean(0)).sum() < 0:
        normal = -normal
    return normal, np.einsum("vc,vc->v", normal, at)


def meeting(sheet: Array, body: Array, reach: float) -> tuple[Array, Array]:
    """Half planes of the offsets at which `body` (V, 2), grown by `reach`, meets the convex region `sheet` (Q, 2).

    The offsets form the Minkowski sum of the region with the mirrored body.
    """
    sums = (sheet[:, None] - body[None]).reshape(-1, 2)
    normal, height = half_planes(hull(sums))
    return normal, height + reach


def inside(sheet: Array, body: Array, reach: float) -> tuple[Array, Array]:
    """Half planes of the offsets at which `body`, grown by `reach`, lies whole inside the convex region `sheet`."""
    normal, height = half_planes(sheet)
    return normal, height - (body @ normal.T).max(0) - reach


def within(points: Array, normal: Array, height: Array, slack: float, progress: Progress = QUIET) -> Array:
    """Tell which `points` (n, 2) are inside all half planes by more than `slack`, (n,) bool.

    What lies in a circle that touches the nearest of them needs no look at the others.

    Raises
    ------
    GivenUp
    """
    keep = np.ones(len(points), bool)
    middle = _middle_of(normal, height)
    clear = (float((height - normal @ middle).min()) - slack) * (1 - 1e-9)
    for at in range(0, len(points), AT_A_TIME):
        progress.check()
        own = points[at : at + AT_A_TIME]
        far = np.flatnonzero(~(np.hypot(own[:, 0] - middle[0], own[:, 1] - middle[1]) < clear))
        left = far
        for (nx, ny), h in zip(normal, height, strict=True):
            left = left[own[left, 0] * nx + own[left, 1] * ny < h - slack]
        keep[at + far] = False
        keep[at + left] = True
    return keep


def _middle_of(normal: Array, height: Array) -> Array:
    """A point (2,) well inside half planes: as far from those across as down."""
    x, y = normal[:, 0], normal[:, 1]
    ends = [(height[side.argmax()] / max(side.max(), 1e-12)) for side in (x, -x, y, -y)]
    return np.array([(ends[0] - ends[1]) / 2, (ends[2] - ends[3]) / 2])


def symmetry_of(ring: Array) -> int:
    """Return by how many turns a body (V, 2) looks the same, up to 24; 1 for none."""
    away = ring - ring.mean(0)
    size = float(np.abs(away).max()) or 1.0
    for turns in range(24, 1, -1):
        turned = away @ linear(360.0 / turns)[:, :2].T
        few = turned[:: max(1, len(turned) // SOME)]  # mostly they tell
        if all(_farthest(some, away) < 1e-6 * size for some in (few, turned)):
            return turns
    return 1


def looks_turned(ring: Array, degrees: float) -> str:
    """Return what a body (V, 2) turned by some degrees looks like, in words; nothing where it looks as it is turned.

    The angle is that from 0 to the one of its symmetry.
    """
    if disc_of(ring) is not None:
        return LOOKS_THE_SAME
    times = symmetry_of(ring)
    looks = degrees % (360 / times)
    looks = 0.0 if 360 / times - looks < SAME_ANGLE else looks
    if times == 1 or abs(looks - degrees) < SAME_ANGLE:
        return ""
    return f"looks like {short(looks, 2)}°" if looks > SAME_ANGLE else LOOKS_THE_SAME


def _farthest(some: Array, others: Array) -> float:
    """How far the one of some points (k, 2) that is farthest from all others (n, 2) is from the nearest of them."""
    if len(some) * len(others) < MANY_PAIRS:
        return float(np.hypot(*(some[:, None] - others[None]).transpose(2, 0, 1)).min(1).max())
    from scipy.spatial import cKDTree  # takes a third of a second to load, and most outlines are short

    return float(np.asarray(cKDTree(others).query(some)[0]).max())
