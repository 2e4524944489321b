"""How a design looks, small: whether there is anything on it, and how far it is from another.

Always of one size and painted exactly, so that it tells the same on any machine.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field, replace

import numpy as np
from scipy.ndimage import gaussian_filter

from under_lattice.colour.colour import bytes_of, linear_of, oklab_of_linear
from under_lattice.core.errors import LimitError
from under_lattice.core.progress import QUIET, Progress
from under_lattice.evaluate.cache import SHARED, Cache
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.evaluate.result import ChainResult
from under_lattice.geometry.affine import Array
from under_lattice.render.paint import paint
from under_lattice.scene.tree import Scene, leaves, make_scene, whole_page
from under_lattice.work.model import Design
from under_lattice.work.reading import needed

LONGER = 72  # px of the longer side of a look
BLUR = 1 / 40  # of its width
SAME = 0.004  # mean Oklab distance below which two are the same
PLAIN = 0.02  # Oklab distance within which all is one colour
BARE = 0.004  # of the sheet that must be covered at least
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
    problems: frozenset[tuple[str, str]]

    def away(self, other: Look) -> float:
        """Return the mean Oklab distance from another of the same size after a blur, from 0 to about 1."""
        return float(np.sqrt(((self.blurred - other.blurred) ** 2).sum(-1)).mean())

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
    most : (copies, marks)
        More are not made; nothing for any number.
    """

    cache: Cache = field(default_factory=lambda: SHARED)
    most: tuple[int, int] | None = None

    def __post_init__(self) -> None:
        self.evaluator = Evaluator(self.cache)

    def scene(self, design: Design, progress: Progress = QUIET) -> tuple[Scene, dict[str, ChainResult]]:
        """Return what is seen of a design, and its chains evaluated.

        Raises
        ------
        GivenUp
        LimitError
            When it has more copies or marks than allowed.
        """
        if self.most is not None:
            progress = replace(progress, counted=self._limit)
        results = self.evaluator.design(design, progress, only=needed(design))
        return make_scene(design, results, self.evaluator, progress=progress), results

    def _limit(self, copies: int) -> None:
        if self.most is not None and copies > self.most[0]:
            raise LimitError(f"{copies:,} copies are more than are looked at here")

    def look(self, design: Design, progress: Progress = QUIET) -> Look:
        """Return the look of a design.

        Raises
        ------
        GivenUp, LimitError
        """
        scene, results = self.scene(design, progress)
        shown = tuple(leaves(scene.layers))
        marks = sum(one.picture.marks.count for one in shown)
        if self.most is not None and marks > self.most[1]:
            raise LimitError(f"{marks:,} marks are more than are looked at here")
        scale = LONGER / max(scene.width, scene.height)
        wide, high = max(8, round(scene.width * scale)), max(8, round(scene.height * scale))
        pixels = paint(scene, whole_page(scene, wide, high), progress, depth="float")
        lab = _lab(pixels)
        ground = oklab_of_linear(linear_of(bytes_of((scene.background or "#FFFFFF",))[0, :3] / 255.0))
        covered = float((np.abs(lab - ground).max(-1) > PLAIN).mean())
        copies = sum(
            result.last.stage.n for result in results.values() if result.last is not None and result.last.stage is not None
        )
        problems = frozenset((problem.rule, problem.sentence) for result in results.values() for problem in result.problems)
        blurred = gaussian_filter(lab, max(wide * BLUR, 0.5), mode="nearest", axes=(0, 1))
        return Look(lab, blurred, covered, copies, marks, problems)

    def allowing(self, now: Look) -> Looks:
        """Return the same for relatives of a design that looks so: they may have a few times as many copies and marks."""
        return Looks(self.cache, (max(COPIES_LEAST, MORE * now.copies), max(MARKS_LEAST, MORE * now.marks)))


def fault(look: Look, now: Look, others: Iterable[Look]) -> str:
    """Return why a sibling that looks so is not hung beside what is `now` and the others; nothing when it may be."""
    if look.problems - now.problems:
        return "refused"
    if look.bare and not now.bare:
        return "bare"
    if look.plain and not now.plain:
        return "plain"
    if any(look.away(other) < SAME for other in (now, *others)):
        return "same"
    return ""


def _lab(pixels: Array) -> Array:
    """Oklab (H, W, 3) of premultiplied pixels 0..1 on white."""
    colour = pixels[..., :3] + (1.0 - pixels[..., 3:])
    return np.asarray(oklab_of_linear(linear_of(np.clip(colour, 0.0, 1.0).astype(np.float64))))
