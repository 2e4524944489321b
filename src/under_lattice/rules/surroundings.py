"""What a fresh rule may know of the place it is put into, and the named starts it can offer there."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from under_lattice.geometry.affine import Array


@dataclass(frozen=True)
class Surroundings:
    """Of a chain a rule is put into; lengths in the work's unit.

    Attributes
    ----------
    corners : (k, 2) or None
        Of the motif, where it is a straight polygon.
    size : float
        The greater of the motif's width and height.
    width, height : float
        Of the sheet.
    spread : bool
        Whether a repeat stands in the chain.
    tiles : bool
        Whether the motif is a cell of tiles that says how it is laid.
    veil : bool
        Whether it is no chain but a veil, which has no edges.
    source : str
        Id of the nearest repeat the rule's numbers may vary by, or nothing.
    """

    corners: Array | None
    size: float
    width: float
    height: float
    spread: bool = False
    tiles: bool = False
    source: str = ""
    veil: bool = False

    @property
    def least(self) -> float:
        """The lesser side of the sheet, in the unit of the work."""
        return min(self.width, self.height)


@dataclass(frozen=True)
class Start:
    """One start: its name, what it makes, and the numbers that differ from those of a fresh rule."""

    name: str
    words: str
    changes: dict[str, Any]


def tidy(length: float) -> float:
    """Round a length in any unit to two significant figures; at least 0.001."""
    digits = 1 - int(np.floor(np.log10(max(abs(length), 1e-9))))
    return max(round(length, digits), 0.001)
