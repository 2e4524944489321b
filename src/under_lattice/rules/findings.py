"""What a rule has to say of a work: warnings with their cures, where they are, and what it may look at to find them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from under_lattice.core.progress import QUIET, Progress
from under_lattice.geometry.affine import IDENTITY, Array
from under_lattice.pattern.drawn import Drawn
from under_lattice.pattern.stage import Stage

SHOWN_MOST = 200  # outlines that show where
SMALLEST = 1e-4  # of the longer side of the sheet


@dataclass(frozen=True)
class Cure:
    """A number that ends a warning, with others it needs; or, as `value` without a dial, a rule that does after `rule`."""

    rule: str
    dial: str
    value: Any
    words: str
    also: Mapping[str, Any] = field(default_factory=dict, hash=False)


@dataclass(frozen=True)
class Warn:
    """A warning in words, with its cure if there is one, and outlines (k, 2) on the sheet that show where."""

    sentence: str
    rule: str = ""
    cure: Cure | None = None
    rings: tuple[Array, ...] = field(default=(), compare=False)


@dataclass(frozen=True)
class NoEffect:
    """Why a dial changes nothing as the others stand, and the settings that would give it an effect, in words."""

    words: str
    cure: str = ""
    changes: Mapping[str, Any] = field(default_factory=dict)
    rule: str = ""  # whose settings those are, if another's


@dataclass(frozen=True)
class Site:
    """The end of an evaluated chain, as its rules look at it.

    Attributes
    ----------
    end : Stage
        The copies that are shown.
    drawn : Drawn
        What is drawn of them.
    last : str
        Id of the last rule.
    on : sequence of Rule
        The rules that are on and act.
    stages : mapping of Stage
        The copies after each rule that made some, by its id.
    gap : float or None
        Least between neighbours, in the work's unit; below zero they overlap; None where it means nothing.
    unit : str
        Of lengths in words.
    width, height : float
        Of the sheet, in that unit.
    corners : bool
        Neighbours that touch do so in points only.
    progress : Progress
        For what takes long.
    """

    end: Stage
    drawn: Drawn
    last: str
    on: Sequence[Any]
    stages: Mapping[str, Stage]
    gap: float | None
    unit: str
    width: float
    height: float
    corners: bool = False
    progress: Progress = QUIET

    def too_small(self, stage: Stage) -> Array:
        """Tell which copies (n,) bool of a stage are too small to be seen: below `SMALLEST` of the longer side of the sheet."""
        size = np.sqrt(np.abs(np.linalg.det(stage.xform[:, :, :2]))) * float(np.ptp(stage.body_ring, 0).max())
        return np.asarray(size < SMALLEST * max(self.width, self.height))

    @property
    def alike(self) -> bool:
        """Whether copies show what their body says, so that sizes of bodies mean something."""
        shape: Any = self.end.shape
        while shape is not None:
            if not getattr(shape, "alike", True):
                return False
            shape = getattr(shape, "of", None)
        return True

    @property
    def on_net(self) -> Any:
        """The last rule that lays copies on a net of equal cells, or None."""
        return next((rule for rule in reversed(self.on) if rule.on_net), None)

    @property
    def last_repeat(self) -> Any:
        """The last repeat, or None."""
        return next((rule for rule in reversed(self.on) if rule.family == "repeat"), None)


@dataclass(frozen=True)
class Placed:
    """One rule's own place in an evaluated chain: the copies before and after it, and the map (2, 3) from there to the sheet."""

    above: Stage | None
    stage: Stage
    to_sheet: Array = field(default_factory=lambda: IDENTITY)
