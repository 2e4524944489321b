"""Rule: Push edges, so that tiles which share whole edges stay tiles."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Annotated, ClassVar, Literal

import numpy as np
import shapely

from under_lattice.core.affine import Array
from under_lattice.core.ask import Ask, largest
from under_lattice.core.ask import Number as AnyNumber
from under_lattice.core.declare import Choice, Length, RuleChoice, When
from under_lattice.core.errors import RuleRefused
from under_lattice.core.outline import CLOSE, CURVE, MOVE, flatten, is_straight_polygon
from under_lattice.core.stage import Family, Over, Shape, share
from under_lattice.rules.base import Ground, ShapeRule, describe
from under_lattice.vary.numbers import Number

# heights of the two handles for a greatest push of 1: a cubic with both at 4/3 is a parabola of height 1;
# with handles at +-2 sqrt(3) its greatest height is 1, at t = (3 - sqrt 3) / 6
PROFILES = {"S": (2 * np.sqrt(3), -2 * np.sqrt(3)), "bow": (4 / 3, 4 / 3)}
ODD_ANGLE = 21.3  # keeps edges of tidy angle off the change
OWN = (When(field="classes", values=("each its own",), reason="the classes of edges are tied"),)


def forward(run: Array) -> Array:
    """+1 or -1 for edges (..., 2): which way along an edge is forward.

    Opposite ways get opposite signs, and thirds of a turn the same sign, so a hexagon's three rhombs are treated alike.
    """
    angle = np.degrees(np.arctan2(run[..., 1], run[..., 0])) + ODD_ANGLE
    return np.where(angle % 120 < 60, 1.0, -1.0)


def edge_class(run: Array) -> Array:
    """Class 0, 1 or 2 of edges (..., 2) by their direction: a hexagon has three, a square two."""
    angle = np.degrees(np.arctan2(run[..., 1], run[..., 0])) + ODD_ANGLE
    return (angle % 180 // 60).astype(np.int8)


def pushed(corners: Array, amount: Array, linear: Array, profile: str) -> Array:
    """Return closed cubics (M, 1 + 3 V, 2) through `corners` (M, V, 2), each edge pushed sideways.

    Parameters
    ----------
    corners : (M, V, 2)
    amount : (M, V)
        Greatest push of each edge.
    linear : (M, 2, 2)
        Own place -> the counted place of the tiling rule, where lengths and forward are told.
    profile : str
        ``S`` or ``bow``.
    """
    ends = np.roll(corners, -1, 1)
    run = through(ends - corners, linear)
    way = forward(run)
    length = np.maximum(np.hypot(run[..., 0], run[..., 1]), 1e-300)  # edges without length stay points
    normal = np.stack([-run[..., 1], run[..., 0]], -1) / length[..., None]
    push = through(normal, np.linalg.inv(linear)) * (way * amount)[..., None]
    one, two = PROFILES[profile]
    near, far = np.where(way > 0, one, two)[..., None], np.where(way > 0, two, one)[..., None]
    third = (ends - corners) / 3
    curve = np.stack([corners + third + near * push, corners + 2 * third + far * push, ends], 2)
    return np.concatenate([corners[:, :1], curve.reshape(len(corners), 3 * corners.shape[1], 2)], 1)


def through(vectors: Array, linear: Array) -> Array:
    """Vectors (M, V, 2) through linear maps (M, 2, 2)."""
    x, y = vectors[..., 0], vectors[..., 1]
    return np.stack(
        [linear[:, None, 0, 0] * x + linear[:, None, 0, 1] * y, linear[:, None, 1, 0] * x + linear[:, None, 1, 1] * y], -1
    )


@dataclass(frozen=True, eq=False)
class PushedShape(Over):
    """A shape whose edges are pushed by an amount asked at their middles."""

    amounts: tuple[AnyNumber, ...]
    profile: str
    tiling: str
    curved: bool = True

    def reach(self) -> float:
        """How far a pushed edge may pass the body."""
        return self.of.reach() + max(largest(amount) for amount in self.amounts)

    def draw(self, ask: Ask) -> tuple[Family, ...]:
        """One family for each face; untouched where the tiles' edges are not shared whole."""
        families = self.of.draw(ask)
        stage = ask.stage(self.tiling)
        if stage is not None and stage.refuses:
            return families
        return tuple(self._face(family, ask) for family in families)

    def _face(self, face: Family, ask: Ask) -> Family:
        place = ask.place(self.tiling)
        linear = place[..., :2].reshape(-1, 4)
        turned = bool(np.ptp(linear, 0).any())
        own = face.points[face.variant] if len(face.points) > 1 else face.points
        ends = np.roll(own, -1, 1)
        amount = self._amount(ask, (own + ends) / 2, ends - own, linear)
        told = [amount] + ([linear] if turned else []) + ([face.variant[:, None]] if len(face.points) > 1 else [])
        rows = max(len(t) for t in told)
        if rows == 1:
            points = pushed(face.points, amount, linear[:1].reshape(-1, 2, 2), self.profile)
            return Family(_verbs(face), points, np.zeros(ask.n, np.int32))
        first, variant = share(np.concatenate([np.broadcast_to(t, (rows, t.shape[1])) for t in told], 1))
        corners = own[first] if len(own) > 1 else np.broadcast_to(own, (len(first), *own.shape[1:]))
        amounts = amount[first] if len(amount) > 1 else np.broadcast_to(amount, (len(first), amount.shape[1]))
        maps = linear[first] if len(linear) > 1 else np.broadcast_to(linear, (len(first), 4))
        return Family(_verbs(face), pushed(corners, amounts, maps.reshape(-1, 2, 2), self.profile), variant)

    def _amount(self, ask: Ask, middles: Array, runs: Array, linear: Array) -> Array:
        """Amounts (n, V) at the middles of the edges, or (1, V) when they are the same for all copies."""
        count = middles.shape[1]
        varying = not all(isinstance(amount, float) for amount in self.amounts)
        if varying and len(middles) != ask.n:
            middles = np.broadcast_to(middles, (ask.n, count, 2))
        values = [np.asarray(ask.at(amount, middles)) for amount in self.amounts]
        if len(values) == 1:
            return np.broadcast_to(values[0], (len(values[0]), count))
        classes = edge_class(through(runs, linear.reshape(-1, 2, 2)))
        rows = max(len(classes), *(len(v) for v in values))
        out = np.broadcast_to(values[0], (rows, count))
        for k, value in enumerate(values[1:], 1):
            out = np.where(classes == k, value, out)
        return out


def _verbs(face: Family) -> bytes:
    return bytes([MOVE] + [CURVE] * face.points.shape[1] + [CLOSE])


@lru_cache(maxsize=64)
def first_crossing(shape: Shape, profile: str) -> float:
    """Return the least constant amount at which an outline of `shape` first crosses itself, by bisection.

    Found on outlines flattened to 96 pieces an edge, to 1e-4 of the body's size; infinite if none does within twice it.
    """
    from under_lattice.core.stage import start

    families = shape.draw(Ask(start(shape)))
    size = float(np.ptp(families[0].points[0], 0).max()) or 1.0

    def crosses(amount: float) -> bool:
        for family in families:
            push = np.full((1, family.points.shape[1]), amount)
            points = pushed(family.points[:1], push, np.eye(2)[None], profile)
            if _least_corner(points[0]) <= 0:
                return True
            ring = flatten(_verbs(family), points, 96)[0][0]
            if not shapely.is_valid(shapely.Polygon(ring)):
                return True
        return False

    steps = np.linspace(0.0, size, 33)[1:]
    high = next((step for step in steps if crosses(float(step))), None)
    if high is None:
        return float("inf")
    low = high - steps[0]
    while high - low > 1e-5 * size:
        middle = (low + high) / 2
        low, high = (low, middle) if crosses(float(middle)) else (middle, high)
    return float(high)


def _least_corner(points: Array) -> float:
    """Least inner angle, degrees, between the tangents at the corners of one closed run of cubics (1 + 3 V, 2)."""
    corners, leaving = points[:-1:3], points[1::3] - points[:-1:3]
    arriving = np.roll(points[3::3] - points[2:-1:3], 1, 0)
    straight = np.roll(corners, -1, 0) - corners
    before = np.roll(straight, 1, 0)
    side = np.sign(np.sum(corners[:, 0] * np.roll(corners[:, 1], -1) - corners[:, 1] * np.roll(corners[:, 0], -1)))
    inner = _between(straight, -before) * side % 360
    return float((inner + side * (_between(-before, -arriving) - _between(straight, leaving))).min())


def _between(one: Array, other: Array) -> Array:
    """Signed angles (V,) from `one` to `other` (V, 2), degrees within half a turn."""
    cross = one[:, 0] * other[:, 1] - one[:, 1] * other[:, 0]
    return np.degrees(np.arctan2(cross, (one * other).sum(1)))


class PushEdges(ShapeRule):
    """Bend each edge into one curve; what one tile gains its neighbour loses."""

    title: ClassVar[str] = "Push edges"
    words: ClassVar[str] = "Bend the edges shared by tiles, so that the tiles still fit."
    search: ClassVar[str] = "wavy curve bend interlock bulge round puzzle"

    kind: Literal["push-edges"] = "push-edges"
    profile: Annotated[
        Literal["S", "bow"], Choice("Profile", "S: one wave on each edge. Bow: one arch.", options=("S", "bow"), pictures=True)
    ] = "S"
    amount: Annotated[
        Number,
        Length("Amount", "How far each edge is pushed at most.", vary=True, least=-1e4, most=1e4, slides=(-8.0, 8.0)),
    ] = 2.0
    classes: Annotated[
        Literal["tied", "each its own"],
        Choice("Edges", "Edges of one direction form a class.", options=("tied", "each its own"), main=False),
    ] = "tied"
    second: Annotated[
        Number, Length("Second class", "Push of the second class of edges.", main=False, vary=True, when=OWN, slides=(-8.0, 8.0))
    ] = 2.0
    third: Annotated[
        Number, Length("Third class", "Push of the third class of edges.", main=False, vary=True, when=OWN, slides=(-8.0, 8.0))
    ] = 2.0
    tiling: Annotated[
        str, RuleChoice("Tiles of", "The repeat whose tiles must fit.", main=False, nearest="the nearest repeat below")
    ] = ""

    def reshape(self, shape: Shape, ground: Ground) -> Shape:
        """Return the pushed shape; refuses edges that are already curved."""
        if getattr(shape, "curved", False) or not is_straight_polygon(shape.body().verbs):
            raise RuleRefused("Push edges needs straight edges; put it above the rule that bends them")
        amounts = (self.amount,) if self.classes == "tied" else (self.amount, self.second, self.third)
        return PushedShape(shape, amounts, self.profile, self.tiling or ground.repeat_below)

    def greatest(self) -> float:
        """Return the greatest push any edge may get."""
        return max(largest(a) for a in ((self.amount,) if self.classes == "tied" else (self.amount, self.second, self.third)))

    def key_line(self, unit: str) -> str:
        """Return the amount and the profile."""
        return f"{describe(self.amount, unit)}, {'S wave' if self.profile == 'S' else 'bow'}"
