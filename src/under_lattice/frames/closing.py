"""Whether a loop closes: the picture at its end against the one at its beginning, told in words, and what would make it close."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from under_lattice.core.errors import LatticeError
from under_lattice.core.progress import QUIET, Progress
from under_lattice.core.units import short
from under_lattice.declare.dials import Angle, Dial, Length, Ratio
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.frames.frames import Frames
from under_lattice.loop.hanging import motion_of, set_bead, told
from under_lattice.loop.moment import is_number
from under_lattice.periods.cell import find_cell
from under_lattice.scene.tree import View
from under_lattice.vary.motion import Motion
from under_lattice.work.model import Design

WIDE = 320  # px of the pictures that are compared
SAME = 1.5 / 255  # by which a pixel may differ: what rounding does to edges
PARTS = (1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 12, 15, 16, 18, 20, 24, 30, 36)  # of a turn that are tried
TRIED_MOST, CURES_MOST = 14, 3
NAMES = {2: "half", 3: "a third of", 4: "a quarter of", 5: "a fifth of", 6: "one sixth of", 7: "one seventh of", 8: "an eighth of",
         9: "one ninth of", 10: "a tenth of", 12: "a twelfth of"}  # fmt: skip


@dataclass(frozen=True)
class Cure:
    """A value for the last bead with which a motion closes, and what it is in words."""

    value: float
    words: str


@dataclass(frozen=True)
class Closing:
    """Whether a motion, or a whole loop, closes; `away` is the largest difference of a pixel, 0..1."""

    closes: bool
    words: str
    away: float = 0.0
    cures: tuple[Cure, ...] = ()


def closing_of(design: Design, motion_id: str, progress: Progress = QUIET, cures: bool = True) -> Closing:
    """Return whether a motion closes, found by painting its end and its beginning.

    Raises
    ------
    GivenUp, InputError
    """
    motion = motion_of(design, motion_id)
    if not design.loop.closed:
        return Closing(True, "runs once")
    if motion.course != "hung" or motion.beads[-1].time < 1.0 or len(motion.beads) < 2:
        return Closing(True, "comes back by itself")
    first, last = motion.beads[0].value, motion.beads[-1].value
    if first == last:
        return Closing(True, "ends where it begins")
    if not is_number(first) or not is_number(last):
        return Closing(False, "jumps at the end: its last value is not its first", 1.0)
    dial = told(design, motion.places[0]).dial
    alone = _alone(design, motion)
    away = _away(alone, progress)
    if away <= SAME:
        return Closing(True, f"closes after {_in_words(dial, last - first, design.sheet.unit)}", away)
    found = tuple(_cures(alone, motion, dial, progress)) if cures else ()
    return Closing(False, "jumps at the end", away, found)


def loop_closes(design: Design, progress: Progress = QUIET) -> Closing:
    """Return whether the loop of a work closes as a whole, what runs by formulas included.

    Raises
    ------
    GivenUp
    """
    if not design.loop.closed:
        return Closing(True, "runs once")
    away = _away(design, progress)
    if away <= SAME:
        return Closing(True, "the end of the loop is its beginning", away)
    return Closing(False, "the loop jumps at its end", away)


def _alone(design: Design, motion: Motion) -> Design:
    """A design in which one motion alone moves."""
    return edited(design, motions=(motion,))


def _away(design: Design, progress: Progress) -> float:
    """By how much the picture at the end differs from that at the beginning, largest difference of a pixel 0..1."""
    sheet = design.sheet
    scale = WIDE / max(sheet.width, sheet.height)
    wide, high = max(8, round(sheet.width * scale)), max(8, round(sheet.height * scale))
    frames = Frames(design, View(wide, high, scale, wide / 2, high / 2))
    begin, end = (frames.picture(time, progress, 2).astype(np.int16) for time in (0.0, 1.0))
    return float(np.abs(end - begin).max(initial=0)) / 255


def _cures(alone: Design, motion: Motion, dial: Dial | None, progress: Progress) -> Iterator[Cure]:
    """Values near the last one with which it closes, each tried by picture."""
    first, last = float(motion.beads[0].value), float(motion.beads[-1].value)
    wanted = last - first
    tried = sorted(set(_periods(alone, dial, progress)), key=lambda period: (abs(abs(wanted) - period), period))
    found = 0
    for period in (*tried[:TRIED_MOST], *tried[TRIED_MOST:][-1:]):  # the longest too: after a whole turn all is as it was
        value = first + (period if wanted >= 0 else -period)
        try:
            away = _away(set_bead(alone, motion.id, len(motion.beads) - 1, value=value), progress)
        except LatticeError:
            continue
        if away <= SAME:
            yield Cure(value, _in_words(dial, value - first, alone.sheet.unit))
            found += 1
        if found == CURES_MOST:
            return


def _periods(design: Design, dial: Dial | None, progress: Progress) -> Iterator[float]:
    """By how much a dial may be turned until all looks the same, to be tried."""
    if isinstance(dial, Angle) or dial is None:
        yield from (360.0 / part for part in PARTS)
    if isinstance(dial, Ratio):
        yield from (100.0 * k for k in range(1, 13))
    if isinstance(dial, Length):
        for _, rule in design.every_rule():
            if rule.family == "repeat":
                lengths = {name for name, own in rule.dials().items() if isinstance(own, Length) and not rule.idle(name)}
                yield from (float(value) for name in lengths if is_number(value := getattr(rule, name)) and value > 0)
        try:
            box = find_cell(edited(design, motions=()), progress, Evaluator()).box
        except LatticeError:
            return
        yield from (box.width, box.height, box.width / 2, box.height / 2)


def _in_words(dial: Dial | None, by: float, unit: str) -> str:
    """How far something has gone."""
    size = abs(by)
    if isinstance(dial, Angle) and size > 0:
        turns, part = size / 360.0, 360.0 / size
        if abs(turns - round(turns)) < 1e-9:
            return "one turn" if round(turns) == 1 else f"{round(turns)} turns"
        if abs(part - round(part)) < 1e-9:
            return f"{NAMES.get(round(part), f'1/{round(part)} of')} a turn"
        return f"{short(size)}°"
    if isinstance(dial, Ratio):
        count = size / 100
        many = "" if count == 1 else "s"
        return f"{round(count)} {dial.whole}{many}" if dial.whole and count == round(count) else f"{short(size)} %"
    return f"{short(size)} {unit}".strip() if isinstance(dial, Length) else short(size)
