"""What a tile is painted on: the desk of a thread, and what was painted before and lies beneath and above."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from under_lattice.geometry.affine import Array
from under_lattice.render.flat import TILE
from under_lattice.render.kernel_sweep import BLOCKS, ROOM


@dataclass(frozen=True, eq=False)
class Between:
    """Premultiplied floats (H, W, 4) of a view that a scene lies between: what is beneath it, and what is above."""

    beneath: Array | None = None
    above: Array | None = None

    def part(self, at: slice | tuple[slice, slice]) -> Between:
        """Return some rows of it, or some columns of them."""
        parts = [None if one is None else one[at] for one in (self.beneath, self.above)]
        return Between(*parts)


OPEN = Between()


@dataclass(frozen=True, eq=False)
class Desk:
    """What one thread paints on, tile after tile; as wide as a tile, so that kernels see whole rows and are compiled once."""

    pixels: Array
    run: Array
    acc: Array
    mask: Array
    solid: Array

    @staticmethod
    def new(wide: int) -> Desk:
        """Return a clean one."""
        high = TILE[0]
        return Desk(
            np.zeros((high, wide, 4), np.float32), np.zeros(high * BLOCKS * ROOM, np.float32),
            np.zeros((high, (wide + 2 + 7) & ~7), np.float32),
            np.zeros(high, np.uint64), np.zeros(high, np.uint64),
        )  # fmt: skip
