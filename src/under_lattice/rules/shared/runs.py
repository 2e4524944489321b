"""What the repeats that go step by step have in common: laying out the copies, their order on the sheet, touching bodies."""

from __future__ import annotations

from dataclasses import replace
from typing import Any, ClassVar, Literal, get_args

import numpy as np
import shapely

from under_lattice.declare.dials import Choice, Ratio, When
from under_lattice.geometry.affine import IDENTITY, Array, apply, compose, inverse
from under_lattice.geometry.body import hull
from under_lattice.pattern.ask import Ask
from under_lattice.pattern.stage import Stage, limit_copies, repeat
from under_lattice.rules.base import RuleFamily
from under_lattice.rules.families import CopyRule
from under_lattice.rules.ground import Ground

BY_LEVEL = "by level"
Stacking = Literal["smaller on top", "last on top", "first on top", "by level"]
PlainStacking = Literal["last on top", "first on top", "by level"]
STACKING = Choice(
    "Stacking",
    "Which copies lie over which.",
    options=get_args(Stacking),
    main=False,
    group="Order",
    search="order front back z overlap",
)
PLAIN_STACKING = replace(STACKING, options=get_args(PlainStacking))
LEVEL = Ratio(
    "Level",
    "Copies of a higher level lie over those of a lower one; let it vary by what decides.",
    least=-1000.0,
    most=1000.0,
    slides=(0.0, 100.0),
    main=False,
    group="Order",
    vary=True,
    when=(When(field="stacking", values=(BY_LEVEL,), reason="only for stacking by level"),),
)
FEW = 200  # bodies up to which the shape of all is exact, not their hull
ROUNDS = 60


class Repeat(CopyRule):
    """A rule that makes copies; a `level` that varies may decide which lie over which."""

    family: ClassVar[RuleFamily] = "repeat"
    sees_sheet: ClassVar[bool] = True
    own_steps: ClassVar[tuple[str, ...]] = ("level",)
    turns_back: ClassVar[bool] = False  # `place` lays the last on top, whatever `stacking` says

    @property
    def at_rest(self) -> str:
        """Why nothing changes."""
        return "there is one copy only"

    def seen_through(self, above: Stage, ground: Ground) -> Array | None:
        """Return the map (2, 3) that changes nothing: the motif's own copy stays where it is."""
        return IDENTITY

    def laid(self, above: Stage, ground: Ground) -> Stage:
        """Return the copies, by their levels where these decide."""
        stage, how = self.place(above, ground), getattr(self, "stacking", "")
        if how == BY_LEVEL:
            level = Ask(stage, ground.known).each(getattr(self, "level", 0.0))
            return relaid(stage, np.argsort(np.broadcast_to(level, stage.n), kind="stable"))
        return relaid(stage, np.arange(stage.n)[::-1]) if self.turns_back and how == "first on top" else stage


def relaid(stage: Stage, order: Array) -> Stage:
    """Return the same copies in another order (n,), the topmost last."""
    return replace(
        stage,
        xform=stage.xform[order],
        step=stage.step[order],
        parent=stage.parent[order],
        key=stage.key[order],
        channels={name: np.asarray(values)[order] for name, values in stage.channels.items()},
        counted=None if stage.counted is None else stage.counted[order],
    )


def stacked(steps: Array, how: str) -> Array:
    """Return the order (K,) in which steps (K, ..., 2, 3) are laid, the topmost last."""
    count = len(steps)
    size = np.abs(steps[..., 0, 0] * steps[..., 1, 1] - steps[..., 0, 1] * steps[..., 1, 0]).reshape(count, -1).mean(1)
    if how == "first on top" or (how == "smaller on top" and count > 1 and size[-1] > size[0] * (1 + 1e-9)):
        return np.arange(count)[::-1]
    return np.arange(count)


def laid_out(above: Stage, rule: str, steps: Array, stacking: str, counts: Array | None, **more: Any) -> Stage:
    """Return the stage of a repeat from its steps.

    Parameters
    ----------
    above : Stage
    rule : str
    steps : (K, 1 or n, 2, 3)
        For each step, and each copy above where they differ: the place above -> this place.
    stacking : str
    counts : (n,) or None
        How many steps each copy above takes; None for all.
    **more
        Other attributes of the stage.

    Raises
    ------
    LimitError
    """
    order = stacked(steps, stacking)
    steps = steps[order]
    if counts is None and steps.shape[1] == 1:
        key, channels = keys_of(order)
        return repeat(above, rule, steps[:, 0], key, channels, **more)
    limit_copies(float(len(steps)) * above.n)
    index, group = (v.ravel() for v in np.meshgrid(np.arange(len(steps)), np.arange(above.n), indexing="ij"))
    if counts is not None:
        keep = order[index] < counts[group]
        index, group = index[keep], group[keep]
    made = steps[index, group if steps.shape[1] > 1 else 0]
    key, channels = keys_of(order[index])
    return repeat(above, rule, made, key, channels, group=group, **more)


def keys_of(k: Array) -> tuple[Array, dict[str, Array]]:
    """Lasting names (n, 2) and readings of steps `k` (n,)."""
    return np.stack([np.zeros_like(k), k], 1), {"step": k.astype(float), "column": k.astype(float), "row": np.zeros(len(k))}


def ring_bodies(above: Stage, ragged: bool) -> Array:
    """Corners (n, V, 2) of what a step repeats: all that stands above, or the motif where each copy goes its own way."""
    if ragged:
        return above.bodies(np.array([above.origin]))
    return above.together if above.n > FEW else above.bodies()


def union_of(bodies: Array) -> Any:
    """Bodies as one shape; their hull where there are very many, in their unit."""
    if len(bodies) > FEW:
        return shapely.Polygon(hull(bodies.reshape(-1, 2)))
    return shapely.union_all(shapely.polygons(bodies))


def least_apart(one: Any, other: Any, gap: float, largest: float) -> float | None:
    """Return the least t from which on `one` and ``other(t)`` keep `gap`, found by halving; None if they never do."""
    size = float(np.sqrt(one.area)) or 1.0

    def clear(t: float) -> bool:
        moved = other(t)
        if gap > 0:
            return bool(shapely.distance(one, moved) >= gap)
        grown = one.buffer(gap / 2, join_style="mitre") if gap < 0 else one
        away = moved.buffer(gap / 2, join_style="mitre") if gap < 0 else moved
        return overlap_area(grown, away) <= 1e-12 * size * size

    if not clear(largest):
        return None
    low, high = 0.0, largest
    if clear(low):
        return 0.0
    for _ in range(ROUNDS):
        middle = (low + high) / 2
        low, high = (low, middle) if clear(middle) else (middle, high)
    return high


def overlap_area(one: Any, other: Any) -> float:
    """Return the area two shapes have in common, in the square of their unit; shapes that cross themselves are parted first."""
    try:
        return float(shapely.area(shapely.intersection(one, other)))
    except shapely.errors.GEOSException:
        return float(shapely.area(shapely.intersection(shapely.make_valid(one), shapely.make_valid(other))))


def placed(shape: Any, xform: Array) -> Any:
    """Return a shape through a map (2, 3)."""
    return shapely.transform(shape, lambda points: apply(xform, points))


def meets_sheet(steps: Array, bodies: Array, ground: Ground, margin: float = 0.0) -> Array:
    """Tell for each step (K, 2, 3) whether what it repeats may meet the sheet (K,) bool; by the circle round all of it."""
    points = bodies.reshape(-1, 2)
    middle = (points.min(0) + points.max(0)) / 2
    reach = float(np.hypot(*(points - middle).T).max())
    seen = compose(ground.back[None], steps)
    at = apply(seen, middle[None, None])[:, 0]
    size = np.sqrt(np.maximum(np.einsum("kij,kij->k", seen[:, :, :2], seen[:, :, :2]) / 2, 0.0)) * reach
    half = np.array([ground.width, ground.height]) / 2 + margin
    return np.asarray((np.abs(at) - size[:, None] < half).all(1))


def own_centred(own: Array, frames: Array, xform: Array) -> Array:
    """Return `xform` (n, 2, 3) with `own` (K, 1 or n, 2, 3) done first in the place of each scope: (K, n, 2, 3)."""
    return compose(compose(compose(xform, inverse(frames))[None], own), frames[None])
