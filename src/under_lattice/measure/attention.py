"""What needs attention: overlaps, doubles, slivers, bare parts of the sheet, copies beside it, lines with a miss, idle rules."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

import numpy as np

from under_lattice.evaluate.evaluator import ChainResult, keeps_its_own, place_on_sheet
from under_lattice.geometry.affine import Array, apply
from under_lattice.geometry.outline import CLOSE
from under_lattice.pattern.ask import rest
from under_lattice.pattern.inked import inked_by
from under_lattice.pattern.marks import Marks
from under_lattice.pattern.stage import Stage
from under_lattice.rules.base import CopyRule
from under_lattice.rules.copies.leave_out import LeaveOut, beside_sheet
from under_lattice.rules.copies.loosen import Loosen
from under_lattice.rules.motifs.tiling import Tiling
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.along_curve import AlongCurve
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.lattice_net import AS_TILES
from under_lattice.rules.repeats.progression import Progression
from under_lattice.rules.repeats.rosette import Rosette
from under_lattice.rules.repeats.seed_head import SeedHead
from under_lattice.rules.repeats.symmetry import Symmetry
from under_lattice.rules.shapes.push_edges import PushEdges, first_crossing
from under_lattice.work.model import Sheet

TOUCH = 1e-6
SLIVER = 0.02  # of the pitch: a gap as thin as this is meant to be none
SAMPLES = 26  # places across the sheet, and down it, that are looked at
BARE = 1.5  # so many distances of neighbours without a copy is bare
MEANT = 0.15  # of a copy's size: a deeper overlap is meant
MOSTLY = 0.6  # of the sheet: what covers less is a figure on it, not a cover
SHOWN_MOST = 200
LOOKED_MOST = 20_000  # copies among which bare parts are looked for


@dataclass(frozen=True)
class Cure:
    """One number that ends a warning; or, as `value` without a dial, a rule that does when it stands after `rule`."""

    rule: str
    dial: str
    value: Any
    words: str


@dataclass(frozen=True)
class Warn:
    """A warning in words, with its cure if there is one, and outlines (k, 2) on the sheet that show where."""

    sentence: str
    rule: str = ""
    cure: Cure | None = None
    rings: tuple[Array, ...] = field(default=(), compare=False)


def attention(result: ChainResult, gap: float | None, lattice: Lattice | None, sheet: Sheet, marks: Marks) -> list[Warn]:
    """Return what needs attention in an evaluated chain; `gap` is the least one between neighbours, `marks` those of its end."""
    last = result.last
    stage = last.stage if last is not None else None
    if stage is None:
        return []
    if stage.n == 0:
        return [*_idle_rules(result), Warn("no copy meets the sheet; move the motif or choose another extent")]
    return [
        *_gap_warning(gap, lattice, sheet.unit),
        *_tiles_apart(result),
        *_slight_overlap(gap, lattice, result, stage, sheet.unit),
        *_sliver(gap, lattice, result, sheet.unit),
        *_doubles(result, stage, marks),
        *_crossings(result, sheet.unit),
        *_misses(result, sheet.unit),
        *_bare(stage, lattice, sheet),
        *_outside(result, stage, sheet),
        *_idle_rules(result),
        *_idle_inks(result),
        *_of_rules(result),
    ]


def _idle_inks(result: ChainResult) -> list[Warn]:
    """Inks that have no say, because the motif keeps its own colours."""
    if not keeps_its_own(result.chain):
        return []
    cure = Cure(result.chain.rules[0].id, "colours", "from the inks", "let inks speak")
    inks = [step for step in result.steps if isinstance(step.rule, Ink) and step.rule.on and step.stage is not None]
    return [
        Warn(f"{step.rule.shown_name()} changes nothing: the motif keeps its own colours", step.rule.id, cure)
        for step in inks[:1]
        if step.stage is not None and inked_by(step.stage)[0] is not None
    ]


def _of_rules(result: ChainResult) -> list[Warn]:
    """What rules themselves have found, each in its own place."""
    out = []
    for step in result.steps:
        if step.stage is not None and step.stage.rule == step.rule.id and not step.problem:
            for sentence, rings in step.stage.notes.get("attention", ()):
                place = place_on_sheet(result, step.stage)
                out.append(Warn(sentence, step.rule.id, None, tuple(apply(place, ring) for ring in rings[:SHOWN_MOST])))
    return out


def _gap_warning(gap: float | None, rule: Lattice | None, unit: str) -> list[Warn]:
    if gap is None or gap >= -TOUCH or rule is None:
        return []
    sentence = f"overlap {-gap:.2f} {unit}"
    if rule.spacing == "free":
        return [Warn(sentence, rule.id, Cure(rule.id, "spacing", "touching", "pitch touching ends it"))]
    if rest(rule.gap) < 0:
        return [Warn(sentence, rule.id, Cure(rule.id, "gap", 0.0, "gap 0 ends it"))]
    return [Warn(sentence, rule.id)]


def _tiles_apart(result: ChainResult) -> list[Warn]:
    """A motif of tiles on a lattice that does not ask it how they lie."""
    lattice = next((step.rule for step in result.steps if isinstance(step.rule, Lattice) and step.rule.on), None)
    if lattice is None or lattice.form == AS_TILES or not isinstance(result.steps[0].rule, Tiling):
        return []
    cure = Cure(lattice.id, "form", AS_TILES, "lay them as they lie")
    return [Warn("the tiles of the motif do not fit each other on this lattice", lattice.id, cure)]


def _slight_overlap(gap: float | None, lattice: Lattice | None, result: ChainResult, stage: Stage, unit: str) -> list[Warn]:
    """An overlap of copies that are not on a lattice, so small that it is hardly meant."""
    steps = [step for step in result.steps if step.rule.on and step.rule.family == "repeat" and step.stage is not None]
    size = float(np.ptp(stage.body_ring, 0).min()) * float(np.sqrt(np.abs(np.linalg.det(stage.xform[0, :, :2]))))
    if gap is None or lattice is not None or not steps or not -MEANT * size < gap < -TOUCH:
        return []
    rule, last = steps[-1].rule, result.steps[-1].rule.id
    cure = Cure(last, "", LeaveOut(which="overlapping ones"), "leave them out")
    if isinstance(rule, Progression) and rule.spacing == "free":
        cure = Cure(rule.id, "spacing", "touching", "spacing touching ends it")
    elif isinstance(rule, Rosette) and rule.radius_by == "free":
        cure = Cure(rule.id, "radius_by", "touching", "radius touching ends it")
    elif isinstance(rule, SeedHead):
        cure = Cure(last, "", Loosen(), "loosen them")
    elif isinstance(rule, AlongCurve) and rule.spacing == "by number" and rule.count > 2:
        pitch = float(steps[-1].stage.notes["pitch"]) if steps[-1].stage is not None else 0.0
        fewer = max(2, int(rule.count * pitch / (pitch - gap)))
        cure = Cure(rule.id, "count", fewer, f"{fewer} copies end it")
    return [Warn(f"overlap {-gap:.2f} {unit}", rule.id, cure)]


def _sliver(gap: float | None, rule: Lattice | None, result: ChainResult, unit: str) -> list[Warn]:
    """A gap so thin that it is left over, not meant."""
    if gap is None or rule is None or rule.spacing != "free":
        return []
    step = next((one for one in result.steps if one.rule is rule), None)
    pitch = float(step.stage.notes["pitch"]) if step is not None and step.stage is not None else 0.0
    if not TOUCH < gap < SLIVER * pitch:
        return []
    cure = Cure(rule.id, "spacing", "touching", "pitch touching closes it")
    return [Warn(f"a gap of {gap:.3g} {unit} is left between neighbours", rule.id, cure)]


def _doubles(result: ChainResult, stage: Stage, marks: Marks) -> list[Warn]:
    """Copies at the same place that show the same shape."""
    rows = np.rint(stage.xform.reshape(-1, 6) / 1e-6).astype(np.int64)
    shown = marks.variant.reshape(stage.n, -1).astype(np.int64)
    mixed = (rows * np.array([1, 31, 961, 29791, 923521, 28629151], np.int64)).sum(1)
    mixed += (shown * (887503681 * np.arange(1, shown.shape[1] + 1))).sum(1)
    _, first = np.unique(mixed, return_index=True)
    twice = np.setdiff1d(np.arange(stage.n), first)
    if not len(twice):
        return []
    rings = tuple(stage.bodies(twice[:SHOWN_MOST]))
    cure = Cure(result.steps[-1].rule.id, "", LeaveOut(which="exact doubles"), "leave them out")
    return [Warn(f"{len(twice)} {'copy lies' if len(twice) == 1 else 'copies lie'} exactly on another", "", cure, rings)]


def _bare(stage: Stage, rule: Lattice | None, sheet: Sheet) -> list[Warn]:
    """Parts of the sheet without a copy, where copies cover most of it: often a count that is too small."""
    if rule is None or not 12 <= stage.n <= LOOKED_MOST or not getattr(stage.shape, "alike", True):
        return []
    from scipy.spatial import cKDTree  # takes a third of a second to load, and the first picture does not need it

    tree = cKDTree(stage.xform[..., 2])
    apart = np.asarray(tree.query(stage.xform[:2000, :, 2], 2)[0])[:, 1]
    step = float(np.median(apart[apart > TOUCH])) if (apart > TOUCH).any() else 0.0
    if step <= 0:
        return []
    at = (np.arange(SAMPLES) + 0.5) / SAMPLES - 0.5
    places = np.stack(np.meshgrid(at * sheet.width, at * sheet.height), -1).reshape(-1, 2)
    away = np.asarray(tree.query(places)[0])
    bare = np.asarray(away > BARE * step)
    if not bare.any() or (away <= step).mean() < MOSTLY:
        return []
    cure = None
    if rule.extent != "covers the sheet":
        cure = Cure(rule.id, "extent", "covers the sheet", "cover the sheet")
    half = np.array([sheet.width, sheet.height]) / SAMPLES / 2
    square = np.array([(-1, -1), (1, -1), (1, 1), (-1, 1)]) * half
    rings = tuple(place + square for place in places[bare][:SHOWN_MOST])
    share, where = max(1, round(100 * float(bare.mean()))), _whereabouts(places[bare].mean(0), sheet)
    return [Warn(f"about {share} % of the sheet is bare, {where}", rule.id, cure, rings)]


def _whereabouts(at: Array, sheet: Sheet) -> str:
    """Say where on the sheet a place is."""
    across = "" if abs(at[0]) < sheet.width / 8 else "left" if at[0] < 0 else "right"
    down = "" if abs(at[1]) < sheet.height / 8 else "top" if at[1] < 0 else "bottom"
    return " ".join(filter(None, (down, across))) or "all round"


def _outside(result: ChainResult, stage: Stage, sheet: Sheet) -> list[Warn]:
    """Copies that lie wholly beside the sheet; of a cover, whose edge may shrink away from it, only where they are many."""
    rules = [step.rule for step in result.steps if step.rule.on]
    if any(isinstance(rule, Symmetry) for rule in rules):  # it goes on beyond the sheet by whole motifs
        return []
    beside = np.flatnonzero(beside_sheet(stage, sheet.width, sheet.height))
    covers = any(isinstance(rule, Lattice) and rule.extent == "covers the sheet" for rule in rules)
    if len(beside) <= (0.1 * stage.n if covers else 0):
        return []
    words = "copy lies" if len(beside) == 1 else "copies lie"
    cure = Cure(result.steps[-1].rule.id, "", LeaveOut(which="beside the sheet"), "leave them out")
    return [Warn(f"{len(beside):,} {words} outside the sheet", "", cure, tuple(stage.bodies(beside[:SHOWN_MOST])))]


def _misses(result: ChainResult, unit: str) -> list[Warn]:
    """A line of pieces, each beginning where the last ended, that comes round nearly to where it began."""
    out = []
    for before, step in zip(result.steps, result.steps[1:], strict=False):
        rule, above, stage = step.rule, before.stage, step.stage
        if not isinstance(rule, Progression) or rule.spacing != "each begins where the last ended" or step.problem:
            continue
        if above is None or stage is None or above.n > 1 or above.shape.body().verbs[-1] == CLOSE:
            continue
        ends = above.shape.body().points[[0, -1]]
        run = apply(stage.xform[np.argsort(stage.key[:, 1], kind="stable")], ends[None])
        miss = float(np.hypot(*(run[-1, 1] - run[0, 0])))
        size = float(np.ptp(run.reshape(-1, 2), 0).max())
        if TOUCH * max(size, 1.0) < miss < 0.25 * size:
            ring = np.stack([run[-1, 1], run[0, 0]])
            out.append(Warn(f"the line misses itself by {miss:.3g} {unit}", rule.id, _closing(rule, len(run)), (ring,)))
    return out


def _closing(rule: Progression, count: int) -> Cure | None:
    """The turn nearest to the present one at which so many alike pieces come round to where they began."""
    numbers: tuple[Any, ...] = (rule.turn, rule.across, rule.along, rule.skew)
    if not all(isinstance(one, (int, float)) for one in numbers) or (rule.across, rule.along, rule.skew) != (100.0, 100.0, 0.0):
        return None
    rounds = round(count * float(rest(rule.turn)) / 360.0)
    if rounds == 0 or rounds % count == 0:
        return None
    turn = round(360.0 * rounds / count, 9)
    return Cure(rule.id, "turn", turn, f"turn {turn:.6g}° closes it")


def _idle_rules(result: ChainResult) -> list[Warn]:
    """Rules that are on and leave every copy as it was."""
    out = []
    for before, step in zip(result.steps, result.steps[1:], strict=False):
        if before.stage is None or step.stage is None or before.stage is step.stage or step.problem:
            continue
        rule = step.rule
        alike = step.stage.n == before.stage.n and len(step.inks) == len(before.inks)
        alike = alike and step.stage.shape.faces == before.stage.shape.faces
        if isinstance(rule, CopyRule) and alike and np.allclose(step.stage.xform, before.stage.xform, rtol=0, atol=1e-9):
            out.append(Warn(f"{rule.shown_name()} changes nothing: {rule.at_rest}", rule.id))
    return out


def _crossings(result: ChainResult, unit: str) -> list[Warn]:
    out = []
    for before, step in zip(result.steps, result.steps[1:], strict=False):
        if isinstance(step.rule, PushEdges) and step.rule.on and not step.problem and before.stage is not None:
            limit = first_crossing(before.stage.shape, step.rule.outline())
            if step.rule.greatest() > limit + 1e-6:
                least = np.floor(limit * 100) / 100
                cure = None
                if isinstance(step.rule.amount, float) and step.rule.classes == "tied":
                    value = float(np.copysign(least, step.rule.amount))
                    cure = Cure(step.rule.id, "amount", value, f"amount {value:.2f} keeps clear")
                out.append(Warn(f"edges cross themselves from {limit:.2f} {unit} on", step.rule.id, cure))
    return out
