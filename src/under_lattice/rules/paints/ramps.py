"""Ramps inside a scope: over each shape, each copy of a rule, all that stands where the ink is laid, or the sheet."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from under_lattice.colour.colour import CLEAR
from under_lattice.colour.ramp import Ramp, RampForm, Stop
from under_lattice.geometry.affine import Array, apply, compose, inverse
from under_lattice.pattern.ask import Ask
from under_lattice.pattern.marks import Marks
from under_lattice.pattern.stage import Stage
from under_lattice.rules.ground import Standing
from under_lattice.rules.shared.scope import scope_frames, scope_stage

SHAPE, SO_FAR, SHEET = "each shape", "all copies", "the sheet"
FLAT = 1e-3  # of its longer side, that the shorter side of what a ramp runs over counts for at least: lines are flat
SCOPES = ((SHAPE, "each shape"), (SO_FAR, "all so far"), (SHEET, "the sheet"))


@dataclass(frozen=True)
class Span:
    """What a ramp runs over: the box from `low` to `high` (2,) of a place, and that place -> the sheet for each mark.

    `places` is (N, 2, 3) or (1, 2, 3), or None where it is each mark's own.
    """

    low: Array
    high: Array
    places: Array | None


def span_of(scope: str, ask: Ask, marks: Marks, standing: Standing) -> Span:
    """Return what a ramp over a scope runs over."""
    if scope == SHEET:
        return sheet_span(ask.known.width, ask.known.height)
    if scope == SHAPE:
        points = np.concatenate([family.points.reshape(-1, 2) for family in marks.families])
        return Span(points.min(0), points.max(0), None)
    horizon = ask.horizon
    laid_on = ask.stage(standing.stage) or horizon
    stage = laid_on if scope == SO_FAR else scope_stage(scope, horizon)
    low, high = box_of(stage)
    if stage is horizon:
        return Span(low, high, np.eye(2, 3)[None])
    return Span(low, high, compose(horizon.xform, inverse(scope_frames(stage, horizon)))[marks.copy])


def sheet_span(width: float, height: float) -> Span:
    """Return the span of a sheet, sizes in the unit of the work."""
    half = np.array([width, height]) / 2
    return Span(-half, half, np.eye(2, 3)[None])


def box_of(stage: Stage) -> tuple[Array, Array]:
    """Return the box, from (2,) to (2,), of the bodies of all copies of a stage; of very many, from the circles round them."""
    if stage.n <= 4096:
        points = stage.bodies().reshape(-1, 2)
        return points.min(0), points.max(0)
    ring = stage.body_ring
    middle = (ring.min(0) + ring.max(0)) / 2
    at = apply(stage.xform, middle[None, None])[:, 0]
    reach = float(np.hypot(*(ring - middle).T).max()) * np.sqrt(np.abs(np.linalg.det(stage.xform[:, :, :2])))[:, None]
    return (at - reach).min(0), (at + reach).max(0)


def upright(span: Span, own: Array) -> Array:
    """Return places (N, 2, 3) at the same spots of the sheet and as large, but not turned; `own` are those of the marks."""
    places = own if span.places is None else span.places
    middle = (span.low + span.high) / 2
    size = np.sqrt(np.abs(np.linalg.det(places[:, :, :2])))
    seats = np.zeros((len(places), 2, 3))
    seats[:, 0, 0] = seats[:, 1, 1] = size
    seats[:, :, 2] = apply(places, middle[None, None])[:, 0] - size[:, None] * middle
    return seats


def stops_of(palette: Sequence[str]) -> tuple[Stop, ...]:
    """Return the colours of a palette as evenly spread stops; what is clear has the colour of the one beside it."""
    seen = [k for k, one in enumerate(palette) if one != CLEAR] or [0]
    stops = []
    for k, (place, one) in enumerate(zip(np.linspace(0, 1, len(palette)), palette, strict=True)):
        beside = palette[seen[int(np.abs(np.array(seen) - k).argmin())]]
        stops.append(Stop(float(place), beside[:7], 0.0 if one == CLEAR else 1.0))
    return tuple(stops)


class RampLay(NamedTuple):
    """How a ramp is laid over a span.

    `angle` is the way a straight one runs, or where one round a point begins, in degrees; `at` (2,) its middle and `reach` its
    length in shares of the span. The first colour of a round one stands `focus` of its reach off its middle, by the angle.
    """

    form: RampForm
    angle: float
    at: Array
    reach: float = 1.0
    focus: float = 0.0


def spread(span: Span, lay: RampLay) -> tuple[Array, Array, float]:
    """Return the middle (2,) of a ramp over a span, the way (2,) it runs, and how far it takes from its first to its last stop."""
    half = (span.high - span.low) / 2
    half = np.maximum(half, max(FLAT * float(half.max()), 1e-9))
    way = np.array([np.cos(np.radians(lay.angle)), np.sin(np.radians(lay.angle))])
    reach = float(half.max())
    if lay.form == "linear":
        reach = 2 * float(np.abs(way) @ half) * lay.reach
    elif lay.form == "radial":
        reach = (reach if span.places is None else float(np.hypot(*half))) * lay.reach
    return span.low + 2 * half * lay.at, way, reach


def ramp_over(span: Span, stops: tuple[Stop, ...], lay: RampLay, oklab: bool) -> Ramp:
    """Return a ramp over a span: along its angle, outwards from its point or round it; the place is of the marks."""
    middle, way, reach = spread(span, lay)
    if lay.form == "linear":
        to = np.array([(*(way / reach), 0.5 - float(way @ middle) / reach), (-way[1] / reach, way[0] / reach, 0.0)])
        return Ramp(stops, "linear", to, True, oklab)
    if lay.form == "radial":
        x, y = way if lay.focus else (1.0, 0.0)
        turn = np.array([(x, y), (-y, x)]) / reach
        return Ramp(stops, "radial", np.column_stack([turn, -turn @ middle]), True, oklab, lay.focus)
    turn = np.array([(way[0], way[1]), (-way[1], way[0])]) / reach
    return Ramp(stops, "around", np.column_stack([turn, -turn @ middle]), True, oklab)
