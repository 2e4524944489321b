"""What needs attention in a chain: what its rules say, what a rule of some kind would mend, and rules without effect."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
import shapely

from under_lattice.core.progress import QUIET, Progress
from under_lattice.evaluate.result import ChainResult, place_on_sheet
from under_lattice.geometry.affine import apply
from under_lattice.geometry.outline import CLOSE
from under_lattice.measure.gaps import Gaps
from under_lattice.pattern.drawn import Drawn
from under_lattice.pattern.marks import draw
from under_lattice.pattern.pieces import areas_of_marks
from under_lattice.pattern.stage import Stage
from under_lattice.rules import RULES
from under_lattice.rules.findings import SHOWN_MOST, Placed, Site, Warn
from under_lattice.work.model import Sheet

COMPARED_MOST = 500  # copies whose outlines are compared


def attention(result: ChainResult, gaps: Gaps, sheet: Sheet, drawn: Drawn, progress: Progress = QUIET) -> list[Warn]:
    """Return what needs attention in an evaluated chain; `gaps` are those between neighbours, `drawn` what is drawn of its end.

    Raises
    ------
    GivenUp
    """
    end = result.last.stage if result.last is not None else None
    if end is None:
        return []
    if end.n == 0:
        return [*_idle_rules(result), Warn("no copy meets the sheet; move the motif or choose another extent")]
    last = result.steps[-1].rule.id
    on = tuple(step.rule for step in result.steps if step.in_force)
    stages = {step.rule.id: step.stage for step in result.steps if step.stage is not None}
    site = Site(end, drawn, last, on, stages, gaps.least, sheet.unit, sheet.width, sheet.height, gaps.corners, progress)
    return [*_of_kinds(result, site), *_idle_rules(result), *_found(result), *_left_aside(result)]


def _of_kinds(result: ChainResult, site: Site) -> Iterator[Warn]:
    """What only kinds of rules know: first those in the chain, then those that would mend something."""
    for above, step in zip((None, *result.steps), result.steps, strict=False):
        if step.in_force and step.stage is not None:
            placed = Placed(above.stage if above is not None else None, step.stage)
            yield from step.rule.warnings(placed, site)
    for kind in RULES:
        yield from kind.mends(site)


def _left_aside(result: ChainResult) -> Iterator[Warn]:
    """What of another layer does not come along where it is the motif, or shapes are filled with it."""
    for rule in result.chain.rules:
        where = {"motif": "that is the motif", "paint": "that shapes are filled with"}.get(rule.family, "")
        for layer in rule.layers() if rule.on and where else ():
            aside = result.others[layer].aside if layer in result.others else ()
            if aside:
                yield Warn(f"{', '.join(aside)} of the layer {where} is left aside", rule.id)
            elif layer not in result.others and rule.family == "paint":
                yield Warn(f"the layer {where} is gone or shows nothing", rule.id)


def _found(result: ChainResult) -> Iterator[Warn]:
    """What rules have found while they placed their copies."""
    for step in result.steps:
        if step.acted and step.stage is not None:
            for sentence, rings in step.stage.found.warnings:
                place = place_on_sheet(result, step.stage)
                yield Warn(sentence, step.rule.id, None, tuple(apply(place, ring) for ring in rings[:SHOWN_MOST]))


def _idle_rules(result: ChainResult) -> list[Warn]:
    """Rules that are on and leave every copy, its shapes and its inks as they were."""
    out = []
    for before, step in zip(result.steps, result.steps[1:], strict=False):
        if before.stage is None or step.stage is None or before.stage is step.stage or step.problem:
            continue
        rule = step.rule
        if not rule.at_rest or rule.family not in ("copies", "repeat"):
            continue
        alike = step.stage.n == before.stage.n and len(step.inks) == len(before.inks)
        alike = alike and np.allclose(step.stage.xform, before.stage.xform, rtol=0, atol=1e-9)
        alike = alike and (step.stage.shape is before.stage.shape or step.stage.shape.faces == before.stage.shape.faces)
        if alike and _drawn_alike(before.stage, step.stage):
            out.append(Warn(f"{rule.shown_name()} changes nothing: {rule.at_rest}", rule.id))
    return out


def _drawn_alike(one: Stage, other: Stage) -> bool:
    """Whether two stages with as many copies in the same places show the same outlines."""
    if one.shape is other.shape:
        return True
    if one.n > COMPARED_MOST:
        return False
    here, there = draw(one), draw(other)
    if not all(CLOSE in family.verbs for family in (*here.families, *there.families)):  # lines are told by their points
        pairs = zip(here.families, there.families, strict=True)
        return all(a.points.shape == b.points.shape and np.allclose(a.points, b.points, rtol=0, atol=1e-9) for a, b in pairs)
    before, after = areas_of_marks(here), areas_of_marks(there)
    return bool((shapely.area(shapely.symmetric_difference(before, after)) <= 1e-6 * shapely.area(before)).all())
