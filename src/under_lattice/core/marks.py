"""Marks: what ink and painter see, one row for each face of each copy."""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from under_lattice.core.affine import Array
from under_lattice.core.ask import Ask
from under_lattice.core.ramp import Ramp
from under_lattice.core.stage import Family, Stage, share
from under_lattice.core.texture import Texture


@dataclass(frozen=True, eq=False)
class Marks:
    """One row for each face of each copy, copy by copy.

    family, variant, copy are (N,) int32; xform is (N, 2, 3), the shape's own place -> the sheet.
    `family` is also the part.
    """

    families: tuple[Family, ...]
    family: Array
    variant: Array
    xform: Array
    copy: Array

    @property
    def count(self) -> int:
        """How many marks."""
        return len(self.family)

    @property
    def distinct(self) -> int:
        """How many distinct shapes are drawn, sizes by transform not counted."""
        if not self.count:
            return 0
        of_copies = self.variant.reshape(-1, len(self.families))
        return len(share(of_copies.astype(float), 1.0)[0])


class Dash(NamedTuple):
    """Lengths of dash and gap by turns, in the work's unit; `fit` sizes them so that a whole number fits each line."""

    lengths: tuple[float, ...]
    offset: float = 0.0
    fit: bool = False


class Coat(NamedTuple):
    """One layer of ink on all marks.

    fill and stroke are RGBA bytes (N, 4), or (1, 4) when all are alike; an alpha of 0 paints nothing.
    width is (N,) or (1,), in the work's unit. join is mitre, round or bevel; cap is butt, round or square. With a paint (a ramp, a
    picture or a plate) the fill's alpha is its strength. blend is how each mark mixes with what is beneath it.
    """

    fill: Array
    stroke: Array
    width: Array
    join: str = "mitre"
    cap: str = "butt"
    blend: str = "normal"
    even_odd: bool = False
    paint: Ramp | Texture | Plate | None = None
    dash: Dash | None = None


@dataclass(frozen=True, eq=False)
class Plate:
    """Marks that are painted once for each size they are needed at, and then placed like a picture.

    Attributes
    ----------
    marks, coats
        What is painted.
    box : (4,)
        Left, top, right and bottom in the place of `marks`, which is also the own place of the marks it fills.
    clip : Marks or None
        Nothing is painted outside these.
    """

    marks: Marks
    coats: tuple[Coat, ...]
    box: tuple[float, float, float, float]
    clip: Marks | None = None


def draw(stage: Stage, known: frozenset[str] = frozenset()) -> Marks:
    """Draw the shapes at last, for the copies of `stage`."""
    families = stage.shape.draw(Ask(stage, known))
    faces = len(families)
    part = np.tile(np.arange(faces, dtype=np.int32), stage.n)
    if faces == 1:
        return Marks(families, part, families[0].variant, stage.xform, np.arange(stage.n, dtype=np.int32))
    return Marks(
        families,
        part,
        np.stack([family.variant for family in families], 1).ravel(),
        np.repeat(stage.xform, faces, 0),
        np.repeat(np.arange(stage.n, dtype=np.int32), faces),
    )
