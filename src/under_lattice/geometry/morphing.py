"""Outlines in between two: places matched by the length walked from matched starts, every one a weighted mean."""

from __future__ import annotations

import numpy as np

from under_lattice.geometry.affine import Array
from under_lattice.geometry.arc_length import Walk
from under_lattice.geometry.curves import LOOKED_AT
from under_lattice.geometry.cutting import as_outline, cubics_of, parts_between, places_by_angle, points_of
from under_lattice.geometry.outline import CLOSE, areas

EVEN = (12, 24, 48, 96, 192)  # even places on curves: as few of these as bring both outlines within `NEAR`
NEAR = 1e-6  # of the size of an outline
JOINTS_MOST = 400  # so many joints of an outline are places of their own
STRAIGHT = 1e-9  # of the size, by which handles may lie beside the thirds of a straight line
LITTLE = 1e-4  # of a cubic: over so much it is seen where a handle of no length heads


class Loop:
    """A closed outline walked once round, clockwise as seen, from its first place after straight up.

    Parameters
    ----------
    cubics : (S, 4, 2)
        Closed, each with a length.
    """

    def __init__(self, cubics: Array) -> None:
        if areas(*_outline(cubics))[0] < 0:
            cubics = cubics[::-1, ::-1]
        self.box = box_of(cubics)
        begin = _start(cubics, self.box.mean(0))
        self.walk = Walk(parts_between(cubics, np.array([begin]), np.array([begin + len(cubics)]))[0])
        self.size = float(np.ptp(self.box, 0).max())

    def shares(self) -> Array:
        """Return the shares (n,) of the length at which its joints lie, of very many none."""
        if len(self.walk.cubics) > JOINTS_MOST:
            return np.zeros(1)
        return self.walk.joints()[:-1] / self.walk.length

    def bends(self, shares: Array) -> Array:
        """Tell on which stretches between shares (n,) and the next, the last one 1, it is no straight line, (n - 1,) bool."""
        curved = ~_straight(self.walk.cubics, self.size)
        before = np.concatenate([[0], np.cumsum(curved)])
        places = self.walk.places(shares * self.walk.length)
        low, high = np.floor(places[:-1] + 1e-9).astype(int), np.ceil(places[1:] - 1e-9).astype(int)
        return np.asarray((before[np.maximum(high, low)] > before[low]) | (high - low > 1))

    def stretches(self, shares: Array) -> Array:
        """Return it as cubics (n - 1, 4, 2) between shares (n,), each with the headings it has there, a third of the way long."""
        places = self.walk.places(shares * self.walk.length)
        points = points_of(self.walk.cubics, places)
        third = (np.diff(shares) * self.walk.length / 3)[:, None]
        leaves, arrives = self._headings(places[:-1], 1), self._headings(places[1:], -1)
        return np.stack([points[:-1], points[:-1] + leaves * third, points[1:] - arrives * third, points[1:]], 1)

    def at(self, shares: Array) -> Array:
        """Return the points (n, 2) at shares of the length."""
        return points_of(self.walk.cubics, self.walk.places(shares * self.walk.length))

    def _headings(self, places: Array, side: int) -> Array:
        """In which direction (n, 2) it goes right after places, or right before them."""
        cubics = self.walk.cubics
        k = np.floor(places + 1e-9).astype(int) if side > 0 else np.ceil(places - 1e-9).astype(int) - 1
        t = places - k
        d = 3 * np.diff(cubics[k % len(cubics)], axis=1)
        s, u = (1 - t)[:, None], t[:, None]
        moving = s * s * d[:, 0] + 2 * s * u * d[:, 1] + u * u * d[:, 2]
        still = np.hypot(*moving.T) < 1e-9 * self.size
        if still.any():
            other = points_of(cubics, (k + np.clip(t + side * LITTLE, 0, 1 - 1e-12))[still])
            moving[still] = (other - points_of(cubics, (k + np.clip(t, 0, 1 - 1e-12))[still])) * side
        return moving / np.maximum(np.hypot(*moving.T), 1e-300)[:, None]


def first_loop(verbs: bytes, points: Array) -> Loop | None:
    """Return the longest closed contour of an outline (K, 2)."""
    found = []
    for cubics, closed in cubics_of(verbs, points):
        size = float(np.ptp(cubics.reshape(-1, 2), 0).max())
        long = np.abs(cubics - cubics[:, :1]).max((1, 2)) > 1e-12 * size
        if closed and size > 0:
            found.append(cubics[long])
    return Loop(max(found, key=lambda one: Walk(one).length)) if found else None


def matched(one: Loop, other: Loop) -> tuple[Array, Array, bool]:
    """Return both outlines as cubics (n, 4, 2) between the same shares of their lengths, and whether all of them are straight.

    Shares are those of the joints of either; where one is curved even ones besides, as many as it needs.
    """
    joints = np.unique(np.round(np.concatenate([one.shares(), other.shares(), [0.0, 1.0]]), 9))
    bent = one.bends(joints) | other.bends(joints)
    if not bent.any():
        return one.stretches(joints), other.stretches(joints), True
    for even in EVEN:
        shares = np.arange(1, even) / even
        inside = bent[np.searchsorted(joints, shares, "right") - 1]
        shares = np.unique(np.round(np.concatenate([joints, shares[inside]]), 9))
        pair = one.stretches(shares), other.stretches(shares)
        if all(_strays(loop, cubics, shares) <= NEAR * loop.size for loop, cubics in zip((one, other), pair, strict=True)):
            break
    return *pair, False


def _strays(loop: Loop, cubics: Array, shares: Array) -> float:
    """How far cubics between shares are from the outline at most."""
    u = np.array(LOOKED_AT)[:, None]
    on = points_of(cubics, (np.arange(len(cubics)) + u).ravel())
    return float(np.hypot(*(on - loop.at((shares[:-1] + np.diff(shares) * u).ravel())).T).max())


def fitted_to(cubics: Array, box: Array, onto: Array) -> Array:
    """Return cubics (n, 4, 2) brought from their box (2, 2) into another: about its middle, as large as fits, in proportion."""
    scale = float(((onto[1] - onto[0]) / np.maximum(box[1] - box[0], 1e-12)).min())
    return np.asarray((cubics - box.mean(0)) * scale + onto.mean(0))


def box_of(cubics: Array) -> Array:
    """Return least and greatest coordinates (2, 2) of cubics (S, 4, 2): at their ends, and where they turn back."""
    p = cubics
    a, b, c = p[:, 3] - 3 * p[:, 2] + 3 * p[:, 1] - p[:, 0], 2 * (p[:, 2] - 2 * p[:, 1] + p[:, 0]), p[:, 1] - p[:, 0]
    with np.errstate(divide="ignore", invalid="ignore"):
        root = np.sqrt(b * b - 4 * a * c)
        shares = np.stack([(-b + root) / (2 * a), (-b - root) / (2 * a), -c / b])
    low, high = p.min((0, 1)), p.max((0, 1))
    if np.array_equal(low, p[:, ::3].min((0, 1))) and np.array_equal(high, p[:, ::3].max((0, 1))):
        return np.stack([low, high])
    shares = np.where((shares > 0) & (shares < 1), shares, 0.0)
    s = 1 - shares
    turns = s**3 * p[:, 0] + 3 * s * s * shares * p[:, 1] + 3 * s * shares**2 * p[:, 2] + shares**3 * p[:, 3]
    ends = np.concatenate([turns.reshape(-1, 2), p[:, 0], p[:, 3]])
    return np.stack([ends.min(0), ends.max(0)])


def _start(cubics: Array, middle: Array) -> float:
    """The place of the first joint clockwise from straight up, or straight up itself on a curve."""
    away = cubics[:, 0] - middle
    angle = np.round((np.degrees(np.arctan2(away[:, 1], away[:, 0])) + 90 + 1e-4) % 360, 3)
    size = float(np.ptp(cubics.reshape(-1, 2), 0).max())
    for place in places_by_angle(cubics, middle, np.zeros(1)):
        if angle.min() > 0 and not _straight(cubics, size)[int(place) % len(cubics)]:
            return float(place)
    return float(angle.argmin())


def _straight(cubics: Array, size: float) -> Array:
    """Tell which cubics are straight lines walked evenly, (S,) bool."""
    thirds = cubics[:, :1] + (cubics[:, 3:] - cubics[:, :1]) * np.array([1 / 3, 2 / 3])[None, :, None]
    return np.asarray(np.abs(cubics[:, 1:3] - thirds).max((1, 2)) <= STRAIGHT * size)


def _outline(cubics: Array) -> tuple[bytes, Array]:
    """Closed cubics as an outline, (1, K, 2)."""
    verbs, points = as_outline(cubics)
    return verbs + bytes([CLOSE]), points[None]
