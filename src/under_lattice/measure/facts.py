"""Facts: what is measured of a work and said under the sheet."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np
import shapely

from under_lattice.core.progress import QUIET, Progress
from under_lattice.evaluate.derived import values_of
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.evaluate.result import ChainResult, Problem
from under_lattice.geometry.affine import Array
from under_lattice.geometry.body import hull
from under_lattice.geometry.outline import MOVE
from under_lattice.measure.attention import attention
from under_lattice.pattern.marks import Marks
from under_lattice.pattern.stage import Stage
from under_lattice.rules.findings import Placed, Warn
from under_lattice.vary.numbers import Varied
from under_lattice.work.layers import Chain
from under_lattice.work.model import Sheet

NEAR_COPIES = 300
AT_A_TIME = 32  # pairs of bodies that are compared between two looks at the progress
TOUCH = 1e-6


@dataclass(frozen=True)
class Facts:
    """Measured of one chain, `of`; lengths in the work's unit."""

    of: Chain | None = None
    copies: int = 0
    pieces: int = 0  # that all copies are made of, where the motif is a heap of them
    distinct: int = 0
    pitch: float | None = None
    gap: float | None = None
    gap_words: str = ""
    bounds: tuple[float, float, float, float] | None = None
    cell: dict[str, Any] | None = None
    warnings: tuple[Warn, ...] = ()
    derived: dict[str, dict[str, str]] = field(default_factory=dict)
    values: dict[str, dict[str, float]] = field(default_factory=dict)
    steps: dict[str, int] = field(default_factory=dict)


def measure(result: ChainResult, evaluator: Evaluator, sheet: Sheet, progress: Progress = QUIET) -> Facts:
    """Return the facts of an evaluated chain.

    Raises
    ------
    GivenUp
        When `progress` says that they are not wanted any more.
    """
    last = result.last
    if last is None or last.stage is None:
        return Facts(result.chain, warnings=tuple(_said(problem) for problem in result.problems))
    stage = last.stage
    marks = evaluator.marks(stage, result.known, progress)
    on_net = next((s for s in reversed(result.steps) if s.rule.on_net and s.in_force), None)
    nested = stage.n > 1 and _nested(stage, progress)
    gap = None if nested or not _alike(stage.shape) else closest_gap(stage, progress)
    pitch = on_net.stage.found.values["pitch"] if on_net and on_net.stage else None
    progress.check()
    warnings = [_said(problem) for problem in result.problems]
    warnings += attention(result, gap, sheet, marks)
    return Facts(
        result.chain,
        stage.n,
        _pieces(marks) if result.chain.rules[0].piecewise else 0,
        marks.distinct,
        pitch,
        gap,
        "copies stand within copies" if nested else gap_in_words(gap, sheet.unit),
        _bounds(stage),
        _cell(result),
        tuple(warnings),
        _derived(result, sheet.unit),
        values_of(result),
        {s.rule.id: int(s.stage.span("step")[1]) + 1 for s in result.steps if s.stage is not None and s.rule.family == "repeat"},
    )


def measure_together(results: Sequence[ChainResult]) -> Facts:
    """Return the facts of a group: how much there is in it, and what its layers have to say."""
    lasts = [result.last.stage for result in results if result.last is not None and result.last.stage is not None]
    said = tuple(_said(problem) for result in results for problem in result.problems)
    words = f"{len(results)} {'layer' if len(results) == 1 else 'layers'} together"
    return Facts(copies=sum(stage.n for stage in lasts), gap_words=words, warnings=said)


def _pieces(marks: Marks) -> int:
    """How many outlines are drawn."""
    contours = np.array([family.verbs.count(MOVE) for family in marks.families])
    return int(contours[marks.family].sum()) if len(contours) else 0


def _nested(stage: Stage, progress: Progress) -> bool:
    """Whether copies stand within others, as in a stack: then a gap says nothing."""
    some = slice(0, min(stage.n, NEAR_COPIES))
    shapes: Any = shapely.polygons(stage.bodies(some))
    tree = shapely.STRtree(shapes)
    for at in range(0, len(shapes), AT_A_TIME):
        progress.check()
        one, other = tree.query(shapes[at : at + AT_A_TIME], predicate="contains_properly")
        if (one + at != other).any():
            return True
    return False


def _alike(shape: object) -> bool:
    """Whether what is drawn is as its body says, so that distances between bodies mean something."""
    while shape is not None:
        if not getattr(shape, "alike", True):
            return False
        shape = getattr(shape, "of", None)
    return True


def _said(problem: Problem) -> Warn:
    return Warn(problem.sentence, problem.rule)


def gap_in_words(gap: float | None, unit: str) -> str:
    """Say a gap: touching, gap or overlap, in the given unit."""
    if gap is None:
        return ""
    if abs(gap) < TOUCH:
        return f"gap 0.00 {unit}, touching"
    return f"gap {gap:.2f} {unit}" if gap > 0 else f"overlap {-gap:.2f} {unit}"


def closest_gap(stage: Stage, progress: Progress = QUIET) -> float | None:
    """Return the least distance between the bodies of neighbours; below zero how deep they overlap, in the unit of the work.

    Measured on up to 300 copies nearest the middle, each with its eight nearest neighbours.
    """
    if stage.n < 2:
        return None
    from scipy.spatial import cKDTree  # takes a third of a second to load, and the first picture does not need it

    centres = stage.xform[..., 2] if stage.n == 1 else _centres(stage)
    middle: Array = np.argsort(np.hypot(*(centres - np.median(centres, 0)).T), kind="stable")[:NEAR_COPIES]
    count = min(9, stage.n)
    near = np.asarray(cKDTree(centres).query(centres[middle], count)[1])
    pairs = np.stack([np.repeat(middle, count - 1), near[:, 1:].ravel()], 1)
    pairs = np.unique(np.sort(pairs[pairs[:, 0] != pairs[:, 1]], 1), axis=0)
    if not len(pairs):
        return None
    pairs = _unlike(stage, pairs)
    least, deepest = np.inf, 0.0
    for some in (pairs[at : at + AT_A_TIME] for at in range(0, len(pairs), AT_A_TIME)):
        progress.check()
        one, other = stage.bodies(some[:, 0]), stage.bodies(some[:, 1])
        apart = shapely.distance(shapely.polygons(one), shapely.polygons(other))
        least, meet = min(least, float(apart.min())), apart <= TOUCH
        if meet.any():
            deepest = max(deepest, float(_depths(one[meet], other[meet]).max()))
    return least if least > TOUCH else _noise_free(-deepest)


def _unlike(stage: Stage, pairs: Array) -> Array:
    """One pair (k, 2) of each kind: how one copy lies as seen from the other, up to a turn of both, says how far apart they are."""
    own, other = stage.xform[pairs[:, 0]], stage.xform[pairs[:, 1]]
    back = np.swapaxes(own[:, :, :2], 1, 2)  # of turned and evenly sized copies the inverse, up to the size
    shift = (other[:, :, 2] - own[:, :, 2])[..., None]
    seen = np.concatenate([back @ own[:, :, :2], back @ other[:, :, :2], back @ shift], 2).reshape(len(pairs), -1)
    scale = max(float(np.abs(seen).max()), 1e-12)
    _, first = np.unique(np.rint(seen / scale * 1e9), axis=0, return_index=True)
    return np.asarray(pairs[np.sort(first)])


def _noise_free(value: float) -> float:
    return 0.0 if abs(value) < TOUCH else value


def _centres(stage: Stage) -> Array:
    middle = stage.body_ring.mean(0)
    x = stage.xform
    return np.asarray(x[:, :, 0] * middle[0] + x[:, :, 1] * middle[1] + x[:, :, 2])


def _depths(one: Array, other: Array) -> Array:
    """How deep pairs of convex bodies (k, V, 2) overlap (k,): the least way out along a side's normal."""
    least = np.full(len(one), np.inf)
    for a, b in ((one, other), (other, one)):
        run = np.roll(a, -1, 1) - a
        length = np.hypot(run[..., 0], run[..., 1])
        inward = np.stack([-run[..., 1], run[..., 0]], -1) / np.maximum(length, 1e-12)[..., None]
        middle = a.mean(1, keepdims=True)
        inward *= np.sign(np.einsum("kvc,kvc->kv", inward, middle - a).sum(1))[:, None, None]
        height = np.einsum("kvc,kvc->kv", inward, a)
        reach = np.einsum("kvc,kwc->kvw", inward, b).max(2) - height
        least = np.minimum(least, np.where(length > 1e-9, reach, np.inf).min(1))
    return np.maximum(least, 0.0)


def _bounds(stage: Stage) -> tuple[float, float, float, float] | None:
    if not stage.n:
        return None
    ring = hull(stage.body_ring)
    flat = np.concatenate([stage.xform[:, :, 0] * x + stage.xform[:, :, 1] * y + stage.xform[:, :, 2] for x, y in ring])
    return (*flat.min(0).tolist(), *flat.max(0).tolist())


def _cell(result: ChainResult) -> dict[str, Any] | None:
    """The smallest cell that repeats the chain's one repeat, if nothing varies over it."""
    repeats = [s for s in result.steps if s.rule.on and s.rule.family == "repeat" and s.stage is not None and not s.problem]
    varies = any(isinstance(getattr(s.rule, name), Varied) for s in result.steps if s.rule.on for name in s.rule.dials())
    if len(repeats) != 1 or varies or repeats[0].stage is None:
        return None
    return repeats[0].rule.repeating_cell(repeats[0].stage)


def _derived(result: ChainResult, unit: str) -> dict[str, dict[str, str]]:
    """Computed values shown in place of dials, by rule and dial."""
    out: dict[str, dict[str, str]] = {}
    for before, step in zip((None, *result.steps), result.steps, strict=False):
        if step.in_force and step.stage is not None and (step.acted or step.rule.family == "shape"):
            said = step.rule.said(Placed(before.stage if before is not None else None, step.stage), unit)
            out[step.rule.id] = {name: words for name, words in said.items() if words}
    return out
