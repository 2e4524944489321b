"""Rule: Bow, sides that bulge out or in, and rounded corners."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from under_lattice.declare.dials import Length, Ratio
from under_lattice.geometry.affine import Array
from under_lattice.geometry.outline import CLOSE, CURVE, MOVE
from under_lattice.pattern.ask import largest
from under_lattice.pattern.stage import Shape
from under_lattice.rules.base import describe
from under_lattice.rules.families import ShapeRule
from under_lattice.rules.ground import Ground
from under_lattice.rules.shared.edges import Edges
from under_lattice.rules.shared.reshaped import Made, Reshaped, straight_only
from under_lattice.vary.numbers import Number


class Bow(ShapeRule):
    """Bowed sides and rounded corners."""

    title: ClassVar[str] = "Bow"
    words: ClassVar[str] = "Sides bulge out or in, each a parabola; corners are rounded. Open lines bulge to their left."
    search: ClassVar[str] = "round fillet bulge pinch cushion pillow curve sides"

    kind: Literal["bow"] = "bow"
    amount: Annotated[
        Number, Length("Amount", "How far the middle of a side bulges out; below zero in.", least=-1e4, vary=True, slides=(-12, 12))
    ] = 3.0  # fmt: skip
    rounded: Annotated[
        Number, Ratio("Rounded", "How much of each side the corners take; 100 % leaves none.", least=0.0, most=100.0, vary=True)
    ] = 0.0  # fmt: skip

    def reshape(self, shape: Shape, ground: Ground) -> Shape:
        """Return the bowed shape."""
        straight_only(shape, self.title, lines=True)
        return Reshaped(shape, (self.amount, self.rounded), self._made, max(0.0, largest(self.amount)), lines=True)

    def _made(self, edges: Edges) -> list[Made]:
        amount, share = edges.values
        push = -edges.inward * amount[..., None] * 4 / 3  # handles at 4/3 of the height of a parabola's middle
        run = edges.runs
        start, end = edges.corners[:, : run.shape[1]], bytes([CLOSE] * edges.closed)
        sides = np.stack([start, start + run / 3 + push, start + 2 * run / 3 + push, start + run], 2)
        if largest(self.rounded) == 0.0:
            points = np.concatenate([start[:, :1], sides[:, :, 1:].reshape(len(start), -1, 2)], 1)
            return [(bytes([MOVE] + [CURVE] * start.shape[1]) + end, points)]
        low, high = np.broadcast_to(share / 200, start.shape[:2]).copy(), np.broadcast_to(1 - share / 200, start.shape[:2]).copy()
        if not edges.closed:  # its two ends are no corners
            low[:, 0], high[:, -1] = 0.0, 1.0
        kept = _between(sides, low, high)
        corner = _rounding(kept, _slope(sides, low), _slope(sides, high))
        points = np.concatenate([kept[:, :1, 0], np.concatenate([kept[:, :, 1:], corner], 2).reshape(len(start), -1, 2)], 1)
        if edges.closed:
            return [(bytes([MOVE] + [CURVE, CURVE] * start.shape[1]) + end, points)]
        return [(bytes([MOVE] + [CURVE, CURVE] * (start.shape[1] - 1) + [CURVE]), points[:, :-3])]

    def key_line(self, unit: str) -> str:
        """Return the amount and the rounding."""
        return f"{describe(self.amount, unit)}, corners {describe(self.rounded, '%', 0)} rounded"


def _between(cubics: Array, t0: Array, t1: Array) -> Array:
    """The stretch of cubics (M, V, 4, 2) from `t0` to `t1` (M, V), by the blossom."""

    def blossom(a: Array, b: Array, c: Array) -> Array:
        points = cubics
        for t in (a, b, c):
            points = points[..., :-1, :] + (points[..., 1:, :] - points[..., :-1, :]) * t[..., None, None]
        return points[..., 0, :]

    return np.stack([blossom(t0, t0, t0), blossom(t0, t0, t1), blossom(t0, t1, t1), blossom(t1, t1, t1)], 2)


def _slope(cubics: Array, t: Array) -> Array:
    """Directions (M, V, 2) of cubics (M, V, 4, 2) at `t` (M, V)."""
    points = np.diff(cubics, axis=2)
    for _ in range(2):
        points = points[..., :-1, :] + (points[..., 1:, :] - points[..., :-1, :]) * t[..., None, None]
    return np.asarray(points[..., 0, :])


def _rounding(kept: Array, begins: Array, ends: Array) -> Array:
    """Three control points (M, V, 3, 2) of a curve from the end of each side to the beginning of the next, in both directions.

    Handles of ``4/3 tan(turn / 4)`` of the radius of the circle that turns as far from end to end: that circle, if both are alike.
    """
    end, begin = kept[:, :, 3], np.roll(kept[:, :, 0], -1, 1)
    leaving, arriving = ends, np.roll(begins, -1, 1)
    angle = np.arctan2(leaving[..., 0] * arriving[..., 1] - leaving[..., 1] * arriving[..., 0], (leaving * arriving).sum(-1))
    chord = np.hypot(*np.moveaxis(begin - end, -1, 0))
    turn = np.clip(np.abs(angle), 1e-6, np.pi * 0.98)
    reach = (chord / (2 * np.sin(turn / 2)) * 4 / 3 * np.tan(turn / 4))[..., None]
    unit = [v / np.maximum(np.hypot(v[..., 0], v[..., 1]), 1e-300)[..., None] for v in (leaving, arriving)]
    return np.stack([end + unit[0] * reach, begin - unit[1] * reach, begin], 2)
