"""Arc length: places and headings along a contour, by the length walked."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from under_lattice.geometry.affine import Array
from under_lattice.geometry.outline import CLOSE, CURVE, LINE, MOVE, Outline, contours, flatten, steps_for

TURNS = 12.0  # degrees by which a closed line turns at a corner
SMOOTH = 8.0  # degrees: two pieces that meet at less belong to one curve, not to a corner
ERROR = 2e-6  # of the size of an outline, by which its flattened pieces may stray


@dataclass(frozen=True, eq=False)
class Path:
    """A contour as straight pieces.

    Attributes
    ----------
    points : (P, 2)
        Where pieces meet, the first again at the end where it is closed.
    along : (P,)
        The length walked to each.
    closed : bool
    """

    points: Array
    along: Array
    closed: bool

    @property
    def length(self) -> float:
        """Length of the whole, in its unit."""
        return float(self.along[-1])

    def at(self, s: Array) -> tuple[Array, Array]:
        """Return places (n, 2) and headings (n,), degrees clockwise as seen, after lengths `s` (n,).

        On a curve the heading runs on smoothly between the pieces; right on a corner it is the one halfway between the sides.
        """
        s = np.asarray(s, float)
        s = s % self.length if self.closed else np.clip(s, 0.0, self.length)
        run = np.diff(self.points, axis=0)
        step = np.diff(self.along)
        piece = np.clip(np.searchsorted(self.along, s, "right") - 1, 0, len(step) - 1)
        share = (s - self.along[piece]) / step[piece]
        places = self.points[piece] + run[piece] * share[:, None]
        return places, self._headings(np.degrees(np.arctan2(run[:, 1], run[:, 0])), step, piece, share)

    def _headings(self, heading: Array, step: Array, piece: Array, share: Array) -> Array:
        """Between the middles of two pieces that belong to one curve the heading goes evenly from one to the other."""
        last = len(step) - 1
        later = share >= 0.5
        other = np.where(later, piece + 1, piece - 1)
        there = (other >= 0) & (other <= last)
        other = other % (last + 1) if self.closed else np.clip(other, 0, last)
        turn = (heading[other] - heading[piece] + 180.0) % 360.0 - 180.0
        near = np.where(later, share - 0.5, 0.5 - share) * step[piece] / ((step[piece] + step[other]) / 2)
        corner = np.abs(turn) > SMOOTH
        at_corner = np.minimum(share, 1 - share) * step[piece] < 1e-9 * self.length
        weight = np.where(corner, np.where(at_corner, 0.5, 0.0), near)
        return np.asarray(heading[piece] + turn * np.where(there | self.closed, weight, 0.0))


def paths_of(verbs: bytes, points: Array, tolerance: float = 0.0) -> list[Path]:
    """Return the contours of an outline (K, 2) that have a length, by straight pieces that stray by no more than `tolerance`."""
    size = float(np.ptp(points, 0).max()) if len(points) else 0.0
    if size <= 0:
        return []
    steps = steps_for(verbs, points[None], tolerance or ERROR * size)
    flat = flatten(verbs, points[None], steps)
    out = []
    for ring, (part, _) in zip(flat, contours(verbs), strict=True):
        own, closed = ring[0], part[-1] == CLOSE
        if closed:
            own = np.concatenate([own, own[:1]])
        step = np.hypot(*np.diff(own, axis=0).T)
        keep = np.concatenate([[True], step > 1e-12 * size])
        own, step = own[keep], step[keep[1:]]
        if len(own) > 1:
            if CURVE in part:
                kinds = np.frombuffer(part, np.uint8)[1:] == CURVE
                curved = np.repeat(kinds, np.where(kinds, steps, 1))[: len(keep) - 1][keep[1:]]
                step = step * (1 + np.where(curved, _bent(own, closed), 0.0) ** 2 / 24)
            out.append(Path(own, np.concatenate([[0.0], np.cumsum(step)]), closed))
    return out


def _bent(line: Array, closed: bool) -> Array:
    """By how much (n - 1,) the curve turns over each straight piece of it, in radians; an arc is a 24th of its square longer."""
    run = np.diff(line, axis=0)
    heading = np.arctan2(run[:, 1], run[:, 0])
    turn = np.abs((np.diff(heading, append=heading[:1]) + np.pi) % (2 * np.pi) - np.pi)  # at the end of each piece
    turn[turn > np.radians(SMOOTH)] = 0.0
    if not closed:
        turn[-1] = 0.0
    return np.minimum(turn, np.roll(turn, 1))


def corners_of(path: Path) -> Array:
    """Return the lengths walked to the corners of a closed path, in its unit."""
    run = np.diff(path.points, axis=0)
    heading = np.degrees(np.arctan2(run[:, 1], run[:, 0]))
    turn = np.abs((heading - np.roll(heading, 1) + 180) % 360 - 180)
    return path.along[:-1][turn > TURNS]


def line_through(points: Array, closed: bool, smooth: bool) -> Outline:
    """Return a line through `points` (n, 2): straight pieces, or one smooth curve as cubics.

    Each tangent is that between a point's neighbours (“A class of local interpolating splines”, 1974).
    """
    n = len(points)
    if not smooth or n < 3:
        verbs = bytes([MOVE] + [LINE] * (n - 1) + [CLOSE] * closed)
        return Outline(points, verbs)
    before = np.roll(points, 1, 0) if closed else np.concatenate([points[:1], points[:-1]])
    after = np.roll(points, -1, 0) if closed else np.concatenate([points[1:], points[-1:]])
    lead = (after - before) / 6
    curves = [(points[k] + lead[k], points[k1] - lead[k1], points[k1]) for k, k1 in _pairs(n, closed)]
    return Outline(
        np.concatenate([points[:1], np.array(curves).reshape(-1, 2)]), bytes([MOVE] + [CURVE] * len(curves) + [CLOSE] * closed)
    )


def _pairs(n: int, closed: bool) -> list[tuple[int, int]]:
    return [(k, (k + 1) % n) for k in range(n if closed else n - 1)]
