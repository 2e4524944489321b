"""Which colour of a palette each mark takes: by part, by what is read of a rule, in turn, or by chance."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
import shapely

from under_lattice.colour.ramp import Ramp
from under_lattice.core.errors import InputError
from under_lattice.declare.dials import Text
from under_lattice.geometry.affine import Array, apply, inverse
from under_lattice.geometry.chance import lots_of_keys
from under_lattice.geometry.outline import flatten
from under_lattice.pattern.marks import MarkAsk, Marks
from under_lattice.pattern.stage import Stage

STEPS = 4  # straight pieces for each curve where it is asked which shapes touch
NEAR = 1e-5  # of the size of a shape, by which others may be away and touch it
SIDE = 1e-3  # of its size, that they have in common at least: corners alone do not count
APART_MOST = 20_000  # marks that are kept apart; of more each takes what falls to it


def chosen(ink: Any, ask: MarkAsk, marks: Marks, rule: str) -> Array:
    """Return whole numbers (N,) that choose from the palette of an ink, counted in the copies of a rule."""
    if ink.colours == "in turn":
        return np.arange(marks.count)
    stage = ask.stage(rule)
    if ink.colours == "part" or stage is None:
        return marks.family
    index = ask.ancestors(rule)[marks.copy]
    if ink.colours == "chance":
        return _by_chance(ink, marks, stage.key, index)
    if ink.colours in stage.channels:
        counted = np.asarray(stage.channels[ink.colours])
    elif ink.colours in ("ring", "parity", "diagonal"):
        counted = np.asarray(stage.channels.get("row", 0)) + np.asarray(stage.channels.get("column", 0))
        if ink.colours != "diagonal":
            counted = stage.reading(ink.colours, stage.xform[..., 2], np.arange(stage.n))
    else:  # a place: as many even stretches as there are colours
        u = ask.read(rule, ink.colours, None, ink.seed, ink.picture)
        assert u is not None
        return np.asarray(np.minimum((u[:, 0] * len(ink.palette)).astype(np.int64), len(ink.palette) - 1))
    return np.asarray(np.rint(counted[index]).astype(np.int64))


def read_weights(text: str, label: str = "Weights") -> list[float]:
    """Return the weights a text means, none where it is empty.

    Raises
    ------
    InputError
    """
    out = []
    for part in (one.strip() for one in text.split(",") if one.strip()):
        try:
            value = float(part)
        except ValueError:
            raise InputError(f"“{part[:20]}” is not a number; write for instance 3, 1, 1", label) from None
        if not 0 <= value <= 1e6:
            raise InputError(f"“{part[:20]}” is no weight; each is from 0 to 1,000,000", label)
        out.append(value)
    if out and not sum(out) > 0:
        raise InputError("at least one weight must be above 0", label)
    return out


@dataclass(frozen=True)
class Weights(Text):
    """Weights as text."""

    def check(self, value: str) -> str:
        """Hold to numbers that are no less than 0.

        Raises
        ------
        InputError
        """
        read_weights(value, self.label)
        return super().check(value)


def colours_at(ramp: Ramp, seat: Array | None, ask: MarkAsk, marks: Marks, rule: str) -> Array:
    """Return the colours (N, 4) in bytes a ramp has where copies stand, the same for all that belongs to one copy of a rule.

    Parameters
    ----------
    ramp : Ramp
    seat : (N, 2, 3) or (1, 2, 3), optional
        The place it is laid in -> the sheet; the marks' own places without it.
    ask, marks
        As of `chosen`.
    rule : str
        Id of the rule; nothing for each copy by itself.
    """
    horizon = ask.horizon
    ring = horizon.body_ring
    middles = apply(horizon.xform, (ring.min(0) + ring.max(0))[None, None] / 2)[:, 0]
    group = _copies_of(horizon, rule)
    count = np.maximum(np.bincount(group), 1)
    at = np.stack([np.bincount(group, middles[:, axis]) / count for axis in (0, 1)], 1)[group][marks.copy]
    into = inverse(marks.xform if seat is None else seat)
    own = np.einsum("nij,nj->ni", np.broadcast_to(into[:, :, :2], (marks.count, 2, 2)), at) + into[:, :, 2]
    own = own @ ramp.to_ramp[:, :2].T + ramp.to_ramp[:, 2]
    table = ramp.table()
    u = np.clip(np.round(ramp.along(own), 9), 0.0, 1.0)  # places that are one but for their last figures are one
    rows = table[np.floor(u * (len(table) - 1) + 0.5 + 1e-6).astype(np.int64)].astype(float)
    colours = np.column_stack([rows[:, :3] / np.maximum(rows[:, 3:], 1e-9), rows[:, 3]])
    return np.rint(colours * 255).astype(np.uint8)


def _copies_of(horizon: Stage, rule: str) -> Array:
    """To which copy of a rule each copy (n,) belongs: those that differ only by what stands above it are of one."""
    keys, index, stage = [], np.arange(horizon.n), horizon
    while rule and stage.rule != rule and stage.above is not None:
        keys.append(stage.key[index])
        index, stage = stage.parent[index], stage.above
    if not rule or stage.rule != rule:
        return np.arange(horizon.n)
    return np.unique(np.column_stack([*keys, stage.key[index]]), axis=0, return_inverse=True)[1].ravel()


def _by_chance(ink: Any, marks: Marks, keys: Array, index: Array) -> Array:
    """Colours by lots of the copies (n, 2) of a rule, each as often as its weight says; where asked no two that touch alike."""
    count = len(ink.palette)
    said = read_weights(ink.weights)[:count]
    weights = np.array([*said, *[1.0] * (count - len(said))])
    weights = weights if weights.sum() > 0 else np.ones(count)
    bounds = np.cumsum(weights) / weights.sum()
    faces = len(marks.families)
    lots = np.stack([lots_of_keys(keys, ink.seed + 101 * part) for part in range(faces)], 1)  # (n, faces)
    fell = np.minimum(np.searchsorted(bounds, lots, "right"), count - 1)
    if ink.neighbours == "never alike" and count > 1 and marks.count <= APART_MOST:
        node = index * faces + marks.family
        order = np.lexsort((np.tile(np.arange(faces), len(keys)), np.repeat(keys[:, 1], faces), np.repeat(keys[:, 0], faces)))
        fell = _kept_apart(fell.ravel(), weights, *_touching(marks, node), order).reshape(fell.shape)
    return np.asarray(fell[index, marks.family])


def _touching(marks: Marks, node: Array) -> tuple[Array, Array]:
    """Pairs of nodes (k,) whose marks have a stretch of their outlines in common; `node` (N,) says of which each mark is."""
    shown = np.flatnonzero(marks.variant >= 0)
    shapes, sizes = [], np.empty(len(shown))
    for k, mark in enumerate(shown):
        family = marks.families[marks.family[mark]]
        ring = flatten(family.verbs, family.points[marks.variant[mark]][None], STEPS)[0][0]
        placed = apply(marks.xform[mark], ring)
        sizes[k] = float(np.ptp(placed, 0).max())
        shapes.append(shapely.Polygon(placed) if len(placed) > 2 else shapely.LineString(np.repeat(placed, 2, 0)))
    areas = np.array(shapes, object)
    one, other = (
        shapely.STRtree(areas).query(areas, predicate="dwithin", distance=NEAR * sizes) if len(areas) else np.zeros((2, 0), int)
    )
    one, other = one[one < other], other[one < other]
    hair = shapely.buffer(areas[one], NEAR * sizes[one], quad_segs=2)
    shared = shapely.length(shapely.intersection(hair, shapely.boundary(areas[other])))
    sides = shared > SIDE * np.minimum(sizes[one], sizes[other])
    pairs = np.stack([node[shown[one[sides]]], node[shown[other[sides]]]])
    return pairs[0][pairs[0] != pairs[1]], pairs[1][pairs[0] != pairs[1]]


def _kept_apart(fell: Array, weights: Array, one: Array, other: Array, order: Array) -> Array:
    """Colours (m,) of nodes in an order, each the one that fell to it, or the next by weight that no touching one before it has."""
    beside: dict[int, list[int]] = {}
    for a, b in zip(one.tolist(), other.tolist(), strict=True):
        beside.setdefault(a, []).append(b)
        beside.setdefault(b, []).append(a)
    out, done = fell.copy(), np.zeros(len(fell), bool)
    count = len(weights)
    for at in order.tolist():
        taken = {int(out[near]) for near in beside.get(at, ()) if done[near]}
        mine = int(fell[at])
        if mine in taken:
            free = [k for k in ((mine + step) % count for step in range(1, count)) if k not in taken and weights[k] > 0]
            mine = max(free, key=lambda k: weights[k]) if free else mine
        out[at], done[at] = mine, True
    return out
