"""Outlines whose edges are pushed sideways: which way is forward, the lazy shape, and when an outline first crosses itself."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import shapely

from under_lattice.geometry.affine import IDENTITY, Array
from under_lattice.geometry.outline import CLOSE, CURVE, LINE, MOVE, flatten
from under_lattice.geometry.profiles import Profile
from under_lattice.pattern.ask import Ask, largest
from under_lattice.pattern.ask import Number as AnyNumber
from under_lattice.pattern.stage import Family, Over, Shape, share, start

ODD_ANGLE = 21.3  # keeps edges of tidy angle off the change


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


def pushed(corners: Array, amount: Array, linear: Array, profile: Profile, way: Array | None = None) -> Array:
    """Return closed outlines (M, 1 + K V, 2) through `corners` (M, V, 2), each edge pushed sideways.

    Parameters
    ----------
    corners : (M, V, 2)
    amount : (M, V)
        Greatest push of each edge.
    linear : (M, 2, 2)
        Own place -> the counted place of the tiling rule, where lengths and forward are told.
    profile : Profile
        Of K points.
    way : (M, V), optional
        1 or -1: which way along an edge is forward; by its direction when not given.
    """
    ends = np.roll(corners, -1, 1)
    run = through(ends - corners, linear)
    way = forward(run) if way is None else way
    length = np.maximum(np.hypot(run[..., 0], run[..., 1]), 1e-300)  # edges without length stay points
    normal = np.stack([-run[..., 1], run[..., 0]], -1) / length[..., None]
    push = through(normal, np.linalg.inv(linear)) * (way * amount)[..., None]
    along = np.where(way[..., None] > 0, profile.points[:, 0], profile.turned[:, 0])[..., None]
    aside = np.where(way[..., None] > 0, profile.points[:, 1], profile.turned[:, 1])[..., None]
    curve = corners[:, :, None] + (ends - corners)[:, :, None] * along + push[:, :, None] * aside
    curve[:, :, -1] = ends
    return np.concatenate([corners[:, :1], curve.reshape(len(corners), -1, 2)], 1)


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
    profile: Profile
    tiling: str
    by_turns: bool = False
    curved: bool = True

    def reach(self) -> float:
        """How far a pushed edge may pass the body, in units of the shape."""
        height = float(np.abs(self.profile.points[:, 1]).max()) if self.profile.verb == LINE else 1.0
        return self.of.reach() + max(largest(amount) for amount in self.amounts) * max(1.0, height)

    def draw(self, ask: Ask) -> tuple[Family, ...]:
        """One family for each face; untouched where the tiles' edges are not shared whole."""
        families = self.of.draw(ask)
        stage = ask.stage(self.tiling)
        if stage is not None and stage.refuses:
            return families
        return tuple(self._face(family, ask) for family in families)

    def _face(self, face: Family, ask: Ask) -> Family:
        place = ask.place(self.tiling) if ask.n else IDENTITY[None]
        linear = place[..., :2].reshape(-1, 4)
        turned = bool(np.ptp(linear, 0).any())
        own = face.points[face.variant] if len(face.points) > 1 else face.points
        ends = np.roll(own, -1, 1)
        amount = self._amount(ask, (own + ends) / 2, ends - own, linear)
        way = self._ways(ask, own, linear) if self.by_turns else None
        told = [amount] + ([linear] if turned else []) + ([face.variant[:, None]] if len(face.points) > 1 else [])
        told += [] if way is None else [way]
        rows = max(len(t) for t in told)
        if rows == 1:
            points = pushed(face.points, amount, linear[:1].reshape(-1, 2, 2), self.profile, way)
            return Family(_verbs(face.points.shape[1], self.profile), points, np.zeros(ask.n, np.int32))
        first, variant = share(np.concatenate([np.broadcast_to(t, (rows, t.shape[1])) for t in told], 1))
        corners = own[first] if len(own) > 1 else np.broadcast_to(own, (len(first), *own.shape[1:]))
        amounts = amount[first] if len(amount) > 1 else np.broadcast_to(amount, (len(first), amount.shape[1]))
        maps = linear[first] if len(linear) > 1 else np.broadcast_to(linear, (len(first), 4))
        ways = None if way is None else way[first] if len(way) > 1 else np.broadcast_to(way, amounts.shape)
        points = pushed(corners, amounts, maps.reshape(-1, 2, 2), self.profile, ways)
        return Family(_verbs(face.points.shape[1], self.profile), points, variant)

    def _ways(self, ask: Ask, corners: Array, linear: Array) -> Array:
        """Forward (n, V) by turns: upright edges of a tile with sides in two directions lie towards odd tiles, level ones away
        from them; of triangles all edges of those that stand one way lie outwards.
        """
        stage = ask.stage(self.tiling)
        maps = linear.reshape(-1, 2, 2)
        run = through(np.roll(corners, -1, 1) - corners, maps)
        mirrored = np.where(np.linalg.det(maps) < 0, -1.0, 1.0)
        x, y = corners[..., 0], corners[..., 1]
        wound = np.sign((x * np.roll(y, -1, 1) - y * np.roll(x, -1, 1)).sum(1)) * mirrored  # 1: the normal of a run points inwards
        if corners.shape[1] == 3:
            upwards = np.abs(_facing(ask, self.tiling)) < 90.0
            outwards = np.where(upwards, 1.0, -1.0)[:, None]
        else:
            even = np.ones(1, bool) if stage is None else stage.key.sum(1)[ask.ancestors(self.tiling)] % 2 == 0
            upright = np.abs(run[..., 1]) > np.abs(run[..., 0])
            outwards = np.where(upright, 1.0, -1.0) * np.where(even, 1.0, -1.0)[:, None]
        return np.asarray(-outwards * wound[:, None] * np.ones(run.shape[:2]))

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


def _facing(ask: Ask, rule: str) -> Array:
    """How far (n,) or (1,) copies are turned in the place of a rule, degrees within half a turn."""
    place = ask.place(rule)
    return np.asarray(np.degrees(np.arctan2(place[:, 1, 0], place[:, 0, 0])))


def _verbs(corners: int, profile: Profile) -> bytes:
    return bytes([MOVE] + [profile.verb] * (profile.pieces * corners) + [CLOSE])


HALVINGS = 16
ALIKE = 9  # decimals of an outline about 1 across, to which two are compared


def first_crossing(shape: Shape, profile: Profile) -> float:
    """Return the least constant amount at which an outline of `shape` first crosses itself, by bisection, in the unit of the work.

    Found on outlines flattened to 96 pieces an edge, and then to 1536; infinite if none does within the body's size. It grows with
    the outline, so it is looked for once for all outlines that are alike.
    """
    families = shape.draw(Ask(start(shape)))
    size = float(np.ptp(families[0].points[0], 0).max()) or 1.0
    outlines = [np.round((family.points[0] - family.points[0, :1]) / size, ALIKE) for family in families]
    return size * _first_crossing(tuple(dict.fromkeys(points.tobytes() for points in outlines)), profile)


@lru_cache(maxsize=256)
def _first_crossing(outlines: tuple[bytes, ...], profile: Profile) -> float:
    """The same of corners (V, 2), as bytes, of outlines about 1 across."""
    corners = [np.frombuffer(one).reshape(1, -1, 2) for one in outlines]

    def crosses(amount: float, steps: int = 96) -> bool:
        for own in corners:
            points = pushed(own, np.full(own.shape[:2], amount), np.eye(2)[None], profile)
            if profile.verb == CURVE and profile.pieces == 1 and _least_corner(points[0]) <= 0:
                return True
            ring = flatten(_verbs(own.shape[1], profile), points, steps)[0][0]
            if not shapely.is_valid(shapely.Polygon(ring)):
                return True
        return False

    steps = np.linspace(0.0, 1.0, 33)[1:]
    high = next((step for step in steps if crosses(float(step))), None)
    if high is None:
        return float("inf")
    low, near = high - steps[0], 1e-4
    while high - low > near:
        middle = (low + high) / 2
        low, high = (low, middle) if crosses(float(middle)) else (middle, high)
    low, high = low - near, high + near  # finer pieces may cross a little sooner or later
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        low, high = (low, middle) if crosses(float(middle), 1536) else (middle, high)
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
