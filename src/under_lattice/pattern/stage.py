"""Copies first, shapes late: the copies after a rule, and the lazy shape they show."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from types import MappingProxyType
from typing import Any, NamedTuple, Protocol

import numpy as np

from under_lattice.core.errors import LimitError
from under_lattice.geometry.affine import IDENTITY, Array, apply, compose
from under_lattice.geometry.body import together
from under_lattice.geometry.chance import ODD
from under_lattice.geometry.outline import CURVE, Outline, flatten, steps_for
from under_lattice.pattern.findings import NOTHING_FOUND, Findings

COPIES_MOST = 2_000_000
SHAPES_MOST = 6_000_000  # parts of all copies together, about 130 bytes each
DISC_STEPS = 12  # straight pieces for each curve of an outline without sides
Fields = Callable[[Array], Mapping[str, Array]]  # points (..., 2) in a rule's place -> named readings (...)
NOTHING: Mapping[str, Array] = MappingProxyType({})


class Family(NamedTuple):
    """One face of a shape: outlines that share their verbs.

    points is (M, K, 2); variant (n,) says which of the M each copy shows, -1 for not shown; M = 1 when all share one.
    """

    verbs: bytes
    points: Array
    variant: Array


class Shape(Protocol):
    """A lazy shape: nothing is drawn until copies ask. Frozen, compared by identity."""

    @property
    def faces(self) -> int:
        """How many faces (parts) it has."""

    def __hash__(self) -> int:
        """Hash by identity."""

    def body(self) -> Outline:
        """Return what touching, cover and pivots measure, with every number at its start."""

    def reach(self) -> float:
        """How far drawn outlines may pass the body, in units of the shape."""

    def draw(self, ask: Any) -> tuple[Family, ...]:
        """One family for each face, for the copies of `ask`, an `Ask`, which stands above this file."""


@dataclass(frozen=True, eq=False)
class Stage:
    """The n copies after a rule: where each stands, not what it looks like.

    Attributes
    ----------
    rule : str
        Id of the rule that made these copies.
    shape : Shape
    xform : (n, 2, 3)
        The shape's own place -> this rule's place.
    step : (n, 2, 3)
        The place of the stage above -> this place.
    parent : (n,) int32
        Index into the copies above.
    key : (n, 2) int64
        Whole, signed, from the pivot: a copy's lasting name.
    channels : mapping of (n,)
        Readings of this rule's own copies; others are read through parents.
    fields : callable or None
        Continuous readings at any place of this rule.
    pivot : (2,)
        In this rule's place.
    frame : (2, 3)
        This rule's place -> the place in which its directions are counted (a turned lattice counts unturned).
    counted : (n,) bool or None
        The copies from -> to runs over; None for all.
    refuses : str
        Why the edges of these tiles cannot be pushed, if they cannot.
    found : Findings
        What the rule found while it placed them.
    """

    rule: str
    shape: Shape
    xform: Array
    step: Array
    parent: Array
    key: Array
    above: Stage | None = None
    channels: Mapping[str, Array] = field(default_factory=lambda: NOTHING)
    fields: Fields | None = None
    pivot: Array = field(default_factory=lambda: np.zeros(2))
    frame: Array = field(default_factory=lambda: IDENTITY)
    counted: Array | None = None
    refuses: str = ""
    found: Findings = NOTHING_FOUND

    @property
    def n(self) -> int:
        """How many copies, a whole number."""
        return len(self.xform)

    def span(self, channel: str) -> tuple[float, float]:
        """Least and greatest reading over the counted copies: what from -> to runs over, in the unit of the reading."""
        if channel not in self._spans:
            values = self.reading(channel, self.xform[..., 2], np.arange(self.n))
            if self.counted is not None and self.counted.any():
                values = values[self.counted]
            self._spans[channel] = (float(values.min()), float(values.max())) if values.size else (0.0, 0.0)
        return self._spans[channel]

    @cached_property
    def _spans(self) -> dict[str, tuple[float, float]]:
        return {}

    def reading(self, channel: str, points: Array, index: Array) -> Array:
        """Return `channel` for copies `index` (...), at `points` (..., 2) in this rule's place."""
        if channel in self.channels and (self.fields is None or channel not in FIELD_CHANNELS):
            return np.broadcast_to(np.asarray(self.channels[channel])[index], points.shape[:-1])
        if channel in ("x", "y", "distance", "direction"):
            return self._place_reading(channel, points)
        if channel == "diagonal":
            return self.reading("row", points, index) + self.reading("column", points, index)
        if channel in ("ring", "parity", "facing"):
            return np.broadcast_to(self._of_copies(channel)[index], points.shape[:-1])
        readings = self.fields(points) if self.fields else NOTHING
        return readings[channel] if channel in readings else np.zeros(points.shape[:-1])

    def _of_copies(self, channel: str) -> Array:
        """Readings (n,) that belong to copies as wholes: which ring, even or odd, which way turned."""
        if channel == "ring":
            return np.abs(self.key).max(1)
        if channel == "parity":
            return self.key.sum(1) % 2
        return np.degrees(np.arctan2(self.xform[:, 1, 0], self.xform[:, 0, 0])) % 360.0

    def _place_reading(self, channel: str, points: Array) -> Array:
        away = points - self.pivot
        if channel in ("x", "y"):
            return np.asarray(away[..., "xy".index(channel)])
        if channel == "distance":
            return np.hypot(away[..., 0], away[..., 1])
        return np.degrees(np.arctan2(away[..., 1], away[..., 0])) % 360.0

    @cached_property
    def origin(self) -> int:
        """Index of the motif itself, the copy whose keys are all zero; else the first that came of it; else the first copy."""
        at_home = (self.key == 0).all(1)
        if self.above is None:
            return int(np.argmax(at_home))
        own = self.parent == self.above.origin
        return int(np.argmax(at_home & own)) if (at_home & own).any() else int(np.argmax(own))

    @cached_property
    def body_ring(self) -> Array:
        """The body in the shape's own place, straight (V, 2)."""
        body = self.shape.body()
        steps = steps_for(body.verbs, body.points[None], 1e-3)
        if body.verbs.count(CURVE) == len(body.verbs) - 2:  # curves all round: a disc is known by its many points
            steps = max(steps, DISC_STEPS)
        return np.concatenate(flatten(body.verbs, body.points[None], steps), 1)[0]

    def bodies(self, index: Array | slice = slice(None)) -> Array:
        """Bodies of the copies `index` in this rule's place (k, V, 2)."""
        return apply(self.xform[index], self.body_ring[None])

    @cached_property
    def together(self) -> Array:
        """The bodies of all copies (n, V, 2); where they have very many corners, their hull alone (1, H, 2)."""
        return together(self.xform, self.body_ring)


FIELD_CHANNELS = frozenset({"row", "column"})  # read continuously where a rule can


@dataclass(frozen=True, eq=False)
class Over:
    """A shape made of another: as many faces, and the body by which lattices are laid, as before."""

    of: Shape

    @property
    def faces(self) -> int:
        """As many as before."""
        return self.of.faces

    def body(self) -> Outline:
        """Return the body of what was there."""
        return self.of.body()


def start(shape: Shape, rule: str = "") -> Stage:
    """Return the stage of a motif: one copy, where it stands."""
    one = IDENTITY[None]
    return Stage(rule, shape, one, one, np.zeros(1, np.int32), np.zeros((1, 2), np.int64))


def reshaped(stage: Stage, shape: Shape) -> Stage:
    """Return the same copies with a taller shape tree. Nothing is drawn."""
    return replace(stage, shape=shape)


def placed(above: Stage, rule: str, through: Array) -> Stage:
    """Return all copies brought through one map (2, 3) as a whole."""
    same = np.arange(above.n, dtype=np.int32)
    xform = compose(through[None], above.xform)
    step = np.broadcast_to(through, xform.shape)
    return Stage(rule, above.shape, xform, step, same, above.key, above, {"step": same.astype(float)})


def limit_copies(count: float, most: int = COPIES_MOST) -> None:
    """Refuse more copies than memory should hold.

    Raises
    ------
    LimitError
        When `count` is above `most`.
    """
    if count > most:
        raise LimitError(f"this would make {count:,.0f} copies; at most {most:,} are allowed. Use a larger pitch or fewer.")


def limit_parts(stage: Stage) -> None:
    """Refuse copies of so many parts that their shapes could not be held, before any is drawn.

    Raises
    ------
    LimitError
    """
    parts = stage.shape.faces
    every = stage.n * parts
    if every > SHAPES_MOST:
        fits = f"{SHAPES_MOST // parts:,} such copies fit" if parts <= SHAPES_MOST else "not one such copy fits"
        raise LimitError(f"{stage.n:,} copies of {parts:,} parts are {every:,} shapes; at most {SHAPES_MOST:,} are allowed: {fits}")


def repeat(
    above: Stage, rule: str, steps: Array, key: Array, channels: Mapping[str, Array], group: Array | None = None, **more: object
) -> Stage:
    """Outer product of steps with the copies above, or a ragged repeat.

    Parameters
    ----------
    steps : (s, 2, 3)
        The place of the stage above -> this rule's place.
    key : (s, 2) int
    channels : mapping of (s,)
    group : (s,) int, optional
        Ragged: the one copy above that each step repeats. Without it every step repeats all copies above.
    **more
        Other attributes of the stage; ``counted`` is (s,) as well.

    Raises
    ------
    LimitError
    """
    s, m = len(steps), above.n
    if group is not None:
        xform, step, parent = compose(steps, above.xform[group]), steps, group.astype(np.int32)
        return Stage(rule, above.shape, xform, step, parent, key, above, channels, **more)  # type: ignore[arg-type]
    limit_copies(float(s) * m)
    if m == 1:
        own = above.xform[0]
        xform = steps if own is IDENTITY or np.array_equal(own, IDENTITY) else compose(steps, above.xform)
        return Stage(rule, above.shape, xform, steps, np.zeros(s, np.int32), key, above, channels, **more)  # type: ignore[arg-type]
    xform = compose(steps[:, None], above.xform[None]).reshape(s * m, 2, 3)
    spread = {name: np.repeat(value, m) for name, value in channels.items()}
    if more.get("counted") is not None:
        more["counted"] = np.repeat(np.asarray(more["counted"]), m)
    return Stage(
        rule,
        above.shape,
        xform,
        np.repeat(steps, m, 0),
        np.tile(np.arange(m, dtype=np.int32), s),
        np.repeat(key, m, 0),
        above,
        spread,
        **more,  # type: ignore[arg-type]
    )


def share(keys: Array, step: float = 1e-9) -> tuple[Array, Array]:
    """Find equal rows once.

    Parameters
    ----------
    keys : (n, C)
        What tells shapes apart.
    step : float
        Rows closer than this are equal.

    Returns
    -------
    first : (M,)
        A copy that shows each distinct row.
    variant : (n,) int32
        Which one each copy shows.
    """
    whole = np.rint(keys / step + ODD).astype(np.int64)
    mixed = np.zeros(len(whole), np.uint64)
    for column in whole.T.astype(np.uint64):
        mixed = (mixed ^ column) * np.uint64(0x9E3779B97F4A7C15)
        mixed ^= mixed >> np.uint64(29)
    order = np.argsort(mixed)  # in three steps, quicker than `unique`
    begins = np.flatnonzero(np.diff(mixed[order], prepend=~mixed[order[:1]]))
    variant = np.empty(len(mixed), np.int32)
    variant[order] = np.repeat(np.arange(len(begins), dtype=np.int32), np.diff(begins, append=len(mixed)))
    return np.minimum.reduceat(order, begins) if len(begins) else order, variant
