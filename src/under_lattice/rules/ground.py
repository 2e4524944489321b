"""What a rule may know of the work around it, and where in the chain an ink stands."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace

import numpy as np

from under_lattice.core.progress import QUIET, Progress
from under_lattice.geometry.affine import IDENTITY, Array
from under_lattice.pattern.known import NOTHING_KNOWN, Known
from under_lattice.pattern.marks import Marks, Picture


@dataclass(frozen=True)
class Ground:
    """What a rule may know of the work around it.

    Attributes
    ----------
    back : (2, 3)
        The place of the rule -> the sheet, through what stands below it.
    known : Known
        What numbers may know.
    repeat_below : str
        Id of the nearest repeat below the rule, or nothing.
    layers : mapping of Marks
        Other layers a rule has asked for, by id, as they lie on the sheet.
    drawn : mapping of Picture
        The same with their inks.
    pixels : callable
        Gives the pixels (H, W, 4) uint8 of a picture of the work by its id, or None.
    here : str
        Id of the rule whose copies stand above.
    progress : Progress
        For what takes long.
    """

    back: Array
    known: Known = NOTHING_KNOWN
    repeat_below: str = ""
    layers: Mapping[str, Marks] = field(default_factory=dict)
    drawn: Mapping[str, Picture] = field(default_factory=dict)
    pixels: Callable[[str], Array | None] = lambda _: None
    here: str = ""
    progress: Progress = QUIET

    @staticmethod
    def on(width: float, height: float) -> Ground:
        """Return the ground of a sheet of that size, in the work's unit, with nothing else on it."""
        return Ground(IDENTITY, replace(NOTHING_KNOWN, width=width, height=height))

    @property
    def width(self) -> float:
        """Of the sheet, in the work's unit."""
        return self.known.width

    @property
    def height(self) -> float:
        """Of the sheet, in the work's unit."""
        return self.known.height

    def sheet(self, margin: float = 0.0) -> Array:
        """Corners (4, 2) of the sheet grown by `margin`."""
        x, y = max(0.0, self.width / 2 + margin), max(0.0, self.height / 2 + margin)
        return np.array([(-x, -y), (x, -y), (x, y), (-x, y)])


PLAIN = Ground.on(100.0, 100.0)


@dataclass(frozen=True, eq=False)
class Filling:
    """A layer that shapes are filled with: as it lies in the group both are in, and where that group is brought, (2, 3)."""

    picture: Picture
    place: Array


@dataclass(frozen=True)
class Standing:
    """Where in the chain an ink stands.

    Attributes
    ----------
    nearest : str
        Id of the repeat whose rows are counted when none is named.
    stage : str
        Id of the rule that made the copies it is laid on; what stands below repeats the inked copies.
    fillings : tuple of (str, Filling)
        The layers it fills shapes or lines with, by their ids.
    """

    nearest: str = ""
    stage: str = ""
    fillings: tuple[tuple[str, Filling], ...] = ()

    def filled_with(self, layer: str) -> Filling | None:
        """Return what a layer is as a filling, or None where it is not there."""
        return dict(self.fillings).get(layer)
