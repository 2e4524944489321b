"""Outlines of straight lines and cubic curves as flat arrays, and their exact measures."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from under_lattice.geometry.affine import Array, apply, frozen

MOVE, LINE, CURVE, CLOSE = range(4)
POINTS_OF = (1, 1, 3, 0)
_TAKEN = np.array(POINTS_OF)
SAME_POINT = 1e-12  # of the greatest coordinate, by which a last point may be beside the first one and is it
FEW = 20_000  # curves that are worked out at once
LONG = 8  # straight pieces for each curve, from which they are worked out along the curve


@dataclass(frozen=True, eq=False)
class Outline:
    """One or more contours.

    Attributes
    ----------
    points : (K, 2) float64, read-only
        Control points in the order of the verbs; a CLOSE takes none.
    verbs : bytes
        MOVE, LINE, CURVE, CLOSE.
    """

    points: Array
    verbs: bytes

    def __post_init__(self) -> None:
        object.__setattr__(self, "points", frozen(self.points))

    def through(self, xform: Array) -> Outline:
        """Return the outline mapped by `xform` (2, 3)."""
        return Outline(apply(xform, self.points), self.verbs)

    def box(self) -> tuple[float, float, float, float]:
        """Left, top, right, bottom of the flattened outline, in its unit."""
        flat = np.concatenate(flatten(self.verbs, self.points[None], 64), 1)[0]
        return (*flat.min(0).tolist(), *flat.max(0).tolist())


def polygon(corners: Array) -> Outline:
    """Closed straight outline through `corners` (V, 2)."""
    return Outline(corners, polygon_verbs(len(corners)))


def polygon_verbs(corners: int) -> bytes:
    """Verbs of one closed contour of straight lines; how many corners it has is a whole number from 3 on."""
    return bytes([MOVE] + [LINE] * (corners - 1) + [CLOSE])


def is_straight_polygon(verbs: bytes) -> bool:
    """Tell whether the verbs are one closed contour of straight lines."""
    return len(verbs) > 3 and verbs == polygon_verbs(len(verbs) - 1)


def contours(verbs: bytes) -> list[tuple[bytes, slice]]:
    """Verbs and the range of points of each contour."""
    if verbs.count(MOVE) == 1:
        return [(verbs, slice(0, len(verbs) - verbs.count(CLOSE) + 2 * verbs.count(CURVE)))]
    kinds, first = _places(verbs)
    begin = np.flatnonzero(kinds == MOVE)
    begin[:1] = 0
    end = np.concatenate([begin[1:], [len(kinds)]])
    point = [*first[begin].tolist(), int(first[-1]) + POINTS_OF[verbs[-1]]] if len(verbs) else [0, 0]
    return [(verbs[a:b], slice(point[k], point[k + 1])) for k, (a, b) in enumerate(zip(begin.tolist(), end.tolist(), strict=True))]


def _places(verbs: bytes) -> tuple[Array, Array]:
    """Verbs (V,) as numbers and the place of the first point of each (V,)."""
    kinds = np.frombuffer(verbs, np.uint8)
    taken = _TAKEN[kinds]
    return kinds, np.cumsum(taken) - taken


def _together(curves: Array, outlines: int) -> list[Array]:
    """Indices of curves in parts that are worked out at once: as many as `FEW` of all outlines allow, one of each at least."""
    step = max(1, FEW // max(outlines, 1))
    return [curves[at : at + step] for at in range(0, len(curves), step)]


def steps_for(verbs: bytes, points: Array, tolerance: float) -> int:
    """Straight pieces for each curve so that none strays by more than `tolerance`.

    The bound is that of the second difference of a cubic: ``sqrt(3 d / (4 tolerance))``.
    """
    if CURVE not in verbs or not points.size:
        return 1
    return int(np.clip(np.ceil(np.sqrt(0.75 * float(_bends(verbs, points).max()) / tolerance)), 1, 512))


def strays(verbs: bytes, points: Array, steps: int) -> Array:
    """How far curves of outlines (M, K, 2) may be from `steps` straight pieces each: a bound (M,), as for `steps_for`."""
    return 0.75 * _bends(verbs, points) / steps**2 if CURVE in verbs else np.zeros(len(points))


def _bends(verbs: bytes, points: Array) -> Array:
    """The greatest second difference of the curves of each outline (M,)."""
    kinds, first = _places(verbs)
    worst = np.zeros(len(points))
    for at in _together(first[kinds == CURVE], len(points)):
        (ax, ay), (bx, by), (cx, cy), (dx, dy) = ((points[:, at + k, 0], points[:, at + k, 1]) for k in (-1, 0, 1, 2))
        for x, y in ((ax - 2 * bx + cx, ay - 2 * by + cy), (bx - 2 * cx + dx, by - 2 * cy + dy)):
            worst = np.maximum(worst, np.hypot(x, y).max(1))
    return worst


def flatten(verbs: bytes, points: Array, steps: int) -> list[Array]:
    """Contours as straight lines, one array (M, P, 2) for each contour.

    Even steps in the parameter, so an edge shared by two tiles gets the same corners from either end.

    Parameters
    ----------
    verbs : bytes
    points : (M, K, 2)
        M outlines with the same verbs.
    steps : int
        Straight pieces for each curve.
    """
    if CURVE not in verbs and verbs.count(MOVE) == 1:
        return [points]
    joined, lengths, _ = flat_rings(verbs, points, steps)
    ends = np.cumsum(lengths)
    return [joined[:, end - length : end] for end, length in zip(ends.tolist(), lengths.tolist(), strict=True)]


def flat_rings(verbs: bytes, points: Array, steps: int) -> tuple[Array, Array, Array]:
    """Contours as straight lines, end to end.

    Parameters
    ----------
    verbs, points, steps
        As of `flatten`.

    Returns
    -------
    joined : (M, P, 2)
    lengths : (C,)
        Points of each contour.
    closed : (C,) bool
    """
    kinds, first = _places(verbs)
    taken = np.where(kinds == CURVE, steps, _TAKEN[kinds])
    place = np.cumsum(taken) - taken
    joined = np.empty((len(points), int(taken.sum()), 2))
    straight = (kinds == MOVE) | (kinds == LINE)
    joined[:, place[straight]] = points[:, first[straight]]
    curves = np.flatnonzero(kinds == CURVE)
    for one in _together(curves, len(points)):
        _put_curves(joined, place[one], points, first[one], steps)
    moves = np.flatnonzero(kinds == MOVE)
    closed: Array = kinds[np.concatenate([moves[1:], [len(kinds)]]) - 1] == CLOSE
    begin = place[moves]
    end = np.concatenate([begin[1:], [joined.shape[1]]])
    doubled = closed & (end - begin > 1)
    apart = np.abs(joined[:, begin[doubled]] - joined[:, end[doubled] - 1])
    doubled[doubled] = (apart <= SAME_POINT * np.abs(joined).max(initial=0.0)).all((0, 2))
    if doubled.any():  # a contour that comes back to its first point has it once
        joined = np.delete(joined, end[doubled] - 1, 1)
    return joined, end - begin - doubled, closed


def _put_curves(joined: Array, onto: Array, points: Array, at: Array, steps: int) -> None:
    """Write curves, whose second points are `at` (C,), as `steps` straight pieces each into places from `onto` (C,) on."""
    t = np.arange(1, steps + 1) / steps
    weights = ((1 - t) ** 3, 3 * (1 - t) ** 2 * t, 3 * (1 - t) * t * t, t**3)
    in_a_row = bool((np.diff(onto) == steps).all())
    if steps < LONG:  # step by step, both coordinates at once: inner loops are as long as can be
        a, b, c, d = (points[:, at + k] for k in (-1, 0, 1, 2))
        for k, (p, q, r, s) in enumerate(zip(*weights, strict=True)):
            to = slice(onto[0] + k, onto[0] + k + steps * len(onto), steps) if in_a_row else onto + k
            joined[:, to] = a * p + b * q + c * r + d * s
        return
    to = slice(onto[0], onto[0] + steps * len(onto)) if in_a_row else (onto[:, None] + np.arange(steps)).ravel()
    for xy in (0, 1):
        whole = sum(points[:, at + i - 1, xy, None] * weight for i, weight in enumerate(weights))
        joined[:, to, xy] = np.reshape(whole, (len(points), -1))


def on_outline(verbs: bytes) -> Array:
    """Tell which points (K,) of an outline lie on it; the others pull its curves towards them."""
    kinds, first = _places(verbs)
    curves = first[kinds == CURVE]
    on = np.ones(int(_TAKEN[kinds].sum()), bool)
    on[curves], on[curves + 1] = False, False
    return on


def farthest(verbs: bytes, heights: Array) -> Array:
    """Return how far outlines reach in directions (M, W), exactly: curves turn back where their derivative is zero.

    Parameters
    ----------
    verbs : bytes
    heights : (M, K, W)
        How far each of their points lies in each direction; K is not zero.
    """
    kinds, first = _places(verbs)
    curves = first[kinds == CURVE]
    if not len(curves):
        return np.asarray(heights.max(1))
    best = np.asarray(heights[:, on_outline(verbs)].max(1))
    able = np.maximum(heights[:, curves], heights[:, curves + 1]) > best[:, None]  # a curve reaches no farther than its points
    row, curve, way = np.nonzero(able)
    if len(row):
        tops = _top(*(heights[row, curves[curve] + at, way] for at in (-1, 0, 1, 2)))
        np.maximum.at(best, (row, way), tops)
    return best


def _top(a: Array, b: Array, c: Array, d: Array) -> Array:
    """The greatest value (k,) of cubic Bezier curves of numbers, ends aside."""
    square, linear, constant = d - a + 3 * (b - c), a - 2 * b + c, b - a
    root = np.sqrt(np.maximum(linear * linear - square * constant, 0.0))
    lead = -(linear + np.copysign(root, linear))
    best = np.full(len(a), -np.inf)
    with np.errstate(divide="ignore", invalid="ignore"):
        for t in (lead / square, constant / lead):
            t = np.where((t > 0) & (t < 1), t, 0.0)
            s = 1 - t
            best = np.maximum(best, s**3 * a + 3 * s * s * t * b + 3 * s * t * t * c + t**3 * d)
    return best


GAUSS_NODES, GAUSS_WEIGHTS = np.polynomial.legendre.leggauss(3)


def areas(verbs: bytes, points: Array) -> Array:
    """Signed areas (M,) of outlines (M, K, 2), exact for cubics; clockwise as seen is positive.

    Green's formula with three-point Gauss quadrature, which is exact for the degree five of ``x dy`` on a cubic.
    """
    if CURVE not in verbs and verbs.count(MOVE) == 1:
        return _cross(points, np.roll(points, -1, 1)).sum(1) / 2
    total = np.zeros(len(points))
    for part, where in contours(verbs):
        own, at = points[:, where], 0
        pen = own[:, 0]
        for verb in part:
            if verb == LINE:
                total += _cross(pen, own[:, at]) / 2
                pen = own[:, at]
            elif verb == CURVE:
                total += _under(pen, own[:, at], own[:, at + 1], own[:, at + 2])
                pen = own[:, at + 2]
            at += POINTS_OF[verb]
        total += _cross(pen, own[:, 0]) / 2
    return total


def backwards(verbs: bytes, points: Array) -> tuple[bytes, Array]:
    """Return an outline (K, 2) of closed contours run through the other way, from the last point of each."""
    parts = contours(verbs)
    turned = b"".join(part[:1] + part[-2:0:-1] + part[-1:] for part, _ in parts)
    return turned, np.concatenate([points[where][::-1] for _, where in parts])


def _cross(p: Array, q: Array) -> Array:
    return np.asarray(p[..., 0] * q[..., 1] - p[..., 1] * q[..., 0])


def _under(a: Array, b: Array, c: Array, d: Array) -> Array:
    total = np.zeros(len(a))
    for t, w in zip((GAUSS_NODES + 1) / 2, GAUSS_WEIGHTS / 2, strict=True):
        s = 1 - t
        at = s**3 * a + 3 * s * s * t * b + 3 * s * t * t * c + t**3 * d
        speed = 3 * (s * s * (b - a) + 2 * s * t * (c - b) + t * t * (d - c))
        total += w * _cross(at, speed) / 2
    return total
