"""Finishes of a chain: which copies each takes together, and of a veil."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np

from under_lattice.colour.effects import Effect
from under_lattice.evaluate.result import ChainResult, Problem, Step
from under_lattice.geometry.affine import IDENTITY, Array, compose, inverse
from under_lattice.pattern.marks import Closed, Marks
from under_lattice.pattern.stage import Stage
from under_lattice.rules.families import FinishRule
from under_lattice.work.layers import AnyLayer, Chain


def effects_of(layer: AnyLayer) -> tuple[Effect, ...]:
    """Return what the finishes of a layer do to pixels, one after the other."""
    return tuple(rule.effect() for rule in layer.own_rules if rule.on and isinstance(rule, FinishRule))


def effects_down_to(result: ChainResult, step: Step) -> tuple[Effect, ...]:
    """Return the same of those down to a step."""
    return tuple(rule.effect() for _, rule in _finishes(result.steps, step))


def closed_of(result: ChainResult, step: Step, marks: Marks) -> tuple[Closed, ...]:
    """Return the finishes of a chain down to a step, as they take its marks together.

    A finish takes together what the repeats below it multiply, as that is in the end: below all repeats everything.
    """
    whole, out = step.stage, list[Closed]()
    assert whole is not None
    repeats = {one.id for one in result.chain.rules if one.family == "repeat"}
    for stage, rule in _finishes(result.steps, step):
        below = _down_from(stage, whole)
        if below is None:
            continue
        unit, place = _units(stage, below, repeats)
        if below and below[-1].rule == result.chain.end.id:  # the whole layer is moved
            place = compose(below[-1].step[:1], place)
        of_marks = unit[marks.copy]
        if out and np.array_equal(out[-1].unit, of_marks):
            out[-1] = Closed((*out[-1].effects, rule.effect()), of_marks, place)
        else:
            out.append(Closed((rule.effect(),), of_marks, place))
    return tuple(out)


def cut_off(chain: Chain, steps: Sequence[Step]) -> tuple[Problem, ...]:
    """Return the finishes whose copies another rule below makes new ones of, so that they are not in force."""
    last = next((step for step in reversed(steps) if step.stage is not None), None)
    if last is None or last.stage is None:
        return ()
    said = "a rule below makes new shapes of all copies; put it below that"
    idle = (rule for stage, rule in _finishes(steps, last) if _down_from(stage, last.stage) is None)
    return tuple(Problem(chain.id, rule.id, said) for rule in idle)


def _finishes(steps: Sequence[Step], last: Step) -> Iterator[tuple[Stage, FinishRule]]:
    """The finishes that are on, down to a step, and the copies each stands below."""
    for step in steps:
        if step.stage is not None and step.rule.on and isinstance(step.rule, FinishRule):
            yield step.stage, step.rule
        if step.rule is last.rule:
            return


def _down_from(stage: Stage, whole: Stage) -> list[Stage] | None:
    """The stages below one, down to another; None where that is not made of it copy by copy."""
    path, here = list[Stage](), whole
    while here.xform is not stage.xform:
        if here.above is None:
            return None
        path.append(here)
        here = here.above
    return path[::-1]


def _units(stage: Stage, below: Sequence[Stage], repeats: set[str]) -> tuple[Array, Array]:
    """For each copy in the end which repetition of a stage it belongs to (n,), and where repetitions lie (U, 2, 3)."""
    unit, own, place = np.zeros(stage.n, np.int64), np.arange(stage.n), IDENTITY[None]
    for one in below:
        own, unit = own[one.parent], unit[one.parent]
        if one.rule in repeats:
            pairs = np.stack([unit, _ordinals(one.parent)], 1)
            _, first, unit = np.unique(pairs, axis=0, return_index=True, return_inverse=True)
            unit = unit.reshape(-1)
            place = compose(one.xform[first], inverse(stage.xform[own[first]]))
    return unit, place


def _ordinals(parent: Array) -> Array:
    """For each copy (n,) how many of the same parent come before it."""
    order = np.argsort(parent, kind="stable")
    ranked = parent[order]
    first = np.searchsorted(ranked, ranked)
    out = np.empty(len(parent), np.int64)
    out[order] = np.arange(len(parent)) - first
    return out
