"""How a design looks, small: whether there is anything on it, and how far it is from another.

Always of one size and painted exactly, so that it tells the same on any machine.
"""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from functools import cached_property, partial

import numpy as np

from under_lattice.colour.colour import bytes_of, linear_of, oklab_of_linear
from under_lattice.core.errors import LimitError, RuleRefused
from under_lattice.core.progress import QUIET, Progress
from under_lattice.evaluate.cache import SHARED, Cache
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.evaluate.result import ChainResult
from under_lattice.geometry.affine import Array
from under_lattice.loop.moment import at_moment
from under_lattice.scene.close_up import close_up, only_seen, span_of
from under_lattice.scene.tree import Scene, leaves, make_scene
from under_lattice.work.model import Design
from under_lattice.work.reading import needed

LONGER = 72  # px of the longer side of a look
BLUR = 1 / 40  # of its width
SAME = 0.004  # mean Oklab distance below which two are the same
PLAIN = 0.02  # Oklab distance within which all is one colour
BARE = 0.004  # of the sheet that must be covered at least
THINNED, FLATTENED = 0.5, 0.45  # of what was covered, and of the grain there was, that must be left
COPIES_LEAST, MARKS_LEAST = 12_000, 40_000  # what a sibling may have in any case
MORE = 3  # times as many as now it may have


@dataclass(frozen=True, eq=False)
class Look:
    """A small picture of a design: Oklab (H, W, 3), the same blurred, copies and marks in all, and what could not act."""

    lab: Array
    blurred: Array
    covered: float
    copies: int
    marks: int
    problems: frozenset[str]
    span: float

    def away(self, other: Look) -> float:
        """Return the mean Oklab distance from another of the same size after a blur, from 0 to about 1."""
        return float(np.sqrt(((self.blurred - other.blurred) ** 2).sum(-1)).mean())

    @cached_property
    def grain(self) -> float:
        """How much it changes from place to place, mean Oklab distance from what lies round it."""
        return float(np.sqrt(((self.lab - self.blurred) ** 2).sum(-1)).mean())

    @property
    def plain(self) -> bool:
        """Whether it is of one colour."""
        return bool(np.abs(self.lab - self.lab.mean((0, 1))).max() < PLAIN)

    @property
    def bare(self) -> bool:
        """Whether next to nothing stands on the sheet."""
        return self.covered < BARE


@dataclass
class Looks:
    """Looks at designs, one after another; what they have in common is worked out once.

    Parameters
    ----------
    cache : Cache
    like : Look or None
        Of the design whose relatives are looked at: they are seen as near, may have a few times as many copies and marks, and are
        given up at the first rule that cannot act though it could there.
    """

    cache: Cache = field(default_factory=lambda: SHARED)
    like: Look | None = None

    def __post_init__(self) -> None:
        self.evaluator = Evaluator(self.cache)
        self._last: tuple[Design, Look] | None = None

    def scene(self, design: Design, progress: Progress = QUIET, time: float = 0.0) -> tuple[Scene, dict[str, ChainResult]]:
        """Return what is seen of a design at a time of the loop, 0..1, and its chains evaluated.

        Raises
        ------
        GivenUp
        LimitError, RuleRefused
            When it has more copies than its relatives may have, or a rule cannot act.
        """
        if self.like is not None:
            progress = replace(progress, stood=partial(_allowed, self.like))
        design = at_moment(design, time)
        results = self.evaluator.design(design, progress, time, needed(design))
        return make_scene(design, results, self.evaluator, progress=progress), results

    def look(self, design: Design, progress: Progress = QUIET) -> Look:
        """Return the look of a design.

        Raises
        ------
        GivenUp, LimitError, RuleRefused
        """
        if self._last is not None and self._last[0] is design:
            return self._last[1]
        from scipy.ndimage import gaussian_filter  # loads much

        scene, results = self.scene(design, progress)
        marks = sum(one.picture.marks.count for one in leaves(scene.layers))
        if self.like is not None and marks > max(MARKS_LEAST, MORE * self.like.marks):
            raise LimitError(f"{marks:,} marks are more than are looked at here")
        stages = [result.last.stage for result in results.values() if result.last is not None]
        copies = sum(stage.n for stage in stages if stage is not None)
        problems = frozenset(problem.sentence for result in results.values() for problem in result.problems)
        span = self.like.span if self.like is not None else span_of(scene)
        lab = _seen(scene, span, progress)
        ground = oklab_of_linear(linear_of(bytes_of((scene.background or "#FFFFFF",))[0, :3] / 255.0))
        covered = float((np.abs(lab - ground).max(-1) > PLAIN).mean())
        blurred = gaussian_filter(lab, max(lab.shape[1] * BLUR, 0.5), mode="nearest", axes=(0, 1))
        look = Look(lab, blurred, covered, copies, marks, problems, span)
        self._last = (design, look)
        return look

    def allowing(self, now: Look) -> Looks:
        """Return the same for relatives of a design that looks so."""
        return Looks(self.cache, now)


def _allowed(now: Look, copies: int, problem: str) -> None:
    """Refuse a relative with too many copies, or a rule that cannot act."""
    if copies > max(COPIES_LEAST, MORE * now.copies):
        raise LimitError(f"{copies:,} copies are more than are looked at here")
    if problem and problem not in now.problems:
        raise RuleRefused(problem)


def _seen(scene: Scene, span: float, progress: Progress) -> Array:
    """The middle of a page, or all of it, in Oklab (H, W, 3)."""
    from under_lattice.render.paint import paint  # loads the compiled kernels

    scale = LONGER / max(scene.width, scene.height)
    wide, high = max(8, round(scene.width * scale)), max(8, round(scene.height * scale))
    view = close_up(scene, span, wide, high)
    return _lab(paint(only_seen(scene, view), view, progress, threads=1, depth="float"))


def fault(look: Look, now: Look, away: float = SAME) -> str:
    """Return why a sibling that looks so is not hung beside what is `now`; nothing when it may be.

    `away` is how far from `now` it must look, Oklab.
    """
    if look.problems - now.problems:
        return "refused"
    if look.bare and not now.bare:
        return "bare"
    if look.plain and not now.plain:
        return "plain"
    if look.covered < THINNED * now.covered or look.grain < FLATTENED * now.grain:
        return "faint"
    if look.away(now) < away:
        return "same"
    return ""


def _lab(pixels: Array) -> Array:
    """Oklab (H, W, 3) of premultiplied pixels 0..1 on white."""
    colour = pixels[..., :3] + (1.0 - pixels[..., 3:])
    return np.asarray(oklab_of_linear(linear_of(np.clip(colour, 0.0, 1.0).astype(np.float64))))
