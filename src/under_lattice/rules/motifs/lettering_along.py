"""Lettering along a line of another layer: each letter stands upright on it, as rigid as it is."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from under_lattice.geometry.affine import Array, apply
from under_lattice.geometry.outline import Outline
from under_lattice.geometry.path import Path, paths_of
from under_lattice.pattern.marks import Marks
from under_lattice.rules.shared.measured import Face, Numbers, hull_of


def first_line(marks: Marks | None) -> Path | None:
    """Return the first contour that marks show, as it lies on the sheet; None where there is none with a length."""
    for k in np.flatnonzero(marks.variant >= 0) if marks is not None else ():
        family = marks.families[marks.family[k]]  # type: ignore[union-attr]
        paths = paths_of(family.verbs, apply(marks.xform[k], family.points[marks.variant[k]]))  # type: ignore[union-attr]
        if paths:
            return paths[0]
    return None


@dataclass(frozen=True, eq=False)
class AlongLine:
    """Lettering on a path, as a motif of measures draws itself.

    Attributes
    ----------
    measures : mapping
        Those that may vary, by dial.
    path : Path
        Of the sheet.
    parts : tuple of (verbs, points (K, 2))
        The letters on a straight base line from x = 0 on, one unit being the size of the type.
    middle : float
        Where on the line the middle of the text stands, in per cent of its length.
    above : float
        How far it stands off the line, in the unit of the work.
    against : bool
        It runs against the line, on its other side.
    """

    measures: Mapping[str, Any]
    path: Path
    parts: tuple[tuple[bytes, Array], ...]
    middle: float
    above: float
    against: bool
    turn: float = 0.0

    def numbers(self) -> dict[str, Any]:
        """Return the measures that may vary."""
        return dict(self.measures)

    def body(self, faces: tuple[Face, ...]) -> Outline:
        """Return the hull of all letters."""
        return hull_of(faces)

    def faces(self, numbers: Numbers) -> tuple[Face, ...]:
        """Return each letter where it stands on the line; those beyond an open line go on straight."""
        size, way = numbers["size"], -1.0 if self.against else 1.0
        every = np.concatenate([points[:, 0] for _, points in self.parts])
        middle = (every.min() + every.max()) / 2
        out = []
        for verbs, points in self.parts:
            own = (points[:, 0].min() + points[:, 0].max()) / 2
            at, heading = self._at(self.middle / 100 * self.path.length + way * (own - middle) * size)
            c, s = np.cos(heading)[:, None], np.sin(heading)[:, None]
            x, y = way * (points[:, 0] - own) * size[:, None], way * (points[:, 1] * size[:, None] - self.above)
            out.append((verbs, np.stack([at[:, :1] + x * c - y * s, at[:, 1:] + x * s + y * c], -1)))
        return tuple(out)

    def _at(self, far: Array) -> tuple[Array, Array]:
        """Places (M, 2) and headings (M,), in radians, so far along the line (M,); an open one goes on straight."""
        at, heading = self.path.at(far)
        heading = np.radians(heading)
        if not self.path.closed:
            over = far - np.clip(far, 0.0, self.path.length)
            at = at + over[:, None] * np.stack([np.cos(heading), np.sin(heading)], -1)
        return at, heading
