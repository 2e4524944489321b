"""Facts: what is measured of a work and said under the sheet."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from under_lattice.core.progress import QUIET, Progress
from under_lattice.evaluate.derived import values_of
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.evaluate.result import ChainResult, Problem
from under_lattice.geometry.body import LOOKS_THE_SAME
from under_lattice.geometry.outline import MOVE
from under_lattice.measure.attention import attention
from under_lattice.measure.extent import Box, outlines_box, strokes_box
from under_lattice.measure.gaps import Gaps, gaps_of
from under_lattice.pattern.drawn import Drawn
from under_lattice.pattern.marks import Marks, Picture
from under_lattice.rules.findings import Placed, Warn
from under_lattice.vary.numbers import Varied
from under_lattice.vary.walk import Walk
from under_lattice.work.layers import Chain
from under_lattice.work.model import Sheet


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
    gap_inked: float | None = None  # between the strokes of neighbours, where all have one width
    corners: bool = False  # neighbours touch in points only
    bounds: Box | None = None  # of the outlines
    inked: Box | None = None  # with their strokes
    coverage: float | None = None  # of the sheet, in per cent
    shares: dict[str, float] = field(default_factory=dict)  # of the sheet, in per cent, that each colour of its inks is seen on
    cell: dict[str, Any] | None = None
    warnings: tuple[Warn, ...] = ()
    derived: dict[str, dict[str, str]] = field(default_factory=dict)
    values: dict[str, dict[str, float]] = field(default_factory=dict)
    walks: dict[str, Walk] = field(default_factory=dict)  # over the copies of each repeat, by rule
    tones: dict[str, Any] = field(default_factory=dict)  # (4, 64) by rule: how often lightness, red, green, blue have each value
    veils: bool = False  # of a veil, which has no copies


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
    picture = evaluator.picture(result, last, progress)
    on_net = next((s for s in reversed(result.steps) if s.rule.on_net and s.in_force), None)
    drawn = Drawn(marks)
    gaps = gaps_of(drawn, progress) if stage.n > 1 else Gaps()
    pitch = on_net.stage.found.values["pitch"] if on_net and on_net.stage else None
    progress.check()
    warnings = [_said(problem) for problem in result.problems]
    warnings += attention(result, gaps, sheet, drawn, progress)
    return Facts(
        result.chain,
        copies=stage.n,
        pieces=_pieces(marks) if result.chain.rules[0].piecewise else 0,
        distinct=marks.distinct,
        pitch=pitch,
        gap=gaps.least,
        gap_words=gaps.words(sheet.unit),
        gap_inked=_between_strokes(gaps.least, picture),
        corners=gaps.corners,
        bounds=outlines_box(drawn),
        inked=strokes_box(drawn, picture.coats) if picture is not None else None,
        cell=_cell(result),
        warnings=tuple(warnings),
        derived=_derived(result, marks, sheet.unit),
        values=values_of(result),
        walks={s.rule.id: Walk(s.stage) for s in result.steps if s.stage is not None and s.rule.family == "repeat"},
    )


def _between_strokes(gap: float | None, picture: Picture | None) -> float | None:
    """The least gap between strokes, half of which lie outside the outlines, where all are as wide."""
    widths: set[float] = set()
    for coat in picture.coats if picture else ():
        drawn = coat.stroked()
        widths |= set(np.unique(np.broadcast_to(coat.width, drawn.shape)[drawn]).tolist())
    return gap - widths.pop() if gap is not None and len(widths) == 1 else None


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


def _said(problem: Problem) -> Warn:
    return Warn(problem.sentence, problem.rule)


def _cell(result: ChainResult) -> dict[str, Any] | None:
    """The smallest cell that repeats the chain's one repeat, if nothing varies over it."""
    repeats = [s for s in result.steps if s.rule.on and s.rule.family == "repeat" and s.stage is not None and not s.problem]
    varies = any(isinstance(getattr(s.rule, name), Varied) for s in result.steps if s.rule.on for name in s.rule.dials())
    if len(repeats) != 1 or varies or repeats[0].stage is None or result.placed is not None:
        return None
    return repeats[0].rule.repeating_cell(repeats[0].stage)


def _derived(result: ChainResult, marks: Marks, unit: str) -> dict[str, dict[str, str]]:
    """Computed values shown in place of dials, by rule and dial; that a turn is not seen only where parts do not change places."""
    out: dict[str, dict[str, str]] = {}
    parted = len(marks.families) > 1
    for before, step in zip((None, *result.steps), result.steps, strict=False):
        if step.in_force and step.stage is not None and (step.acted or step.rule.family == "shape"):
            said = step.rule.said(Placed(before.stage if before is not None else None, step.stage), unit)
            out[step.rule.id] = {name: words for name, words in said.items() if words and not (parted and words == LOOKS_THE_SAME)}
    return out
