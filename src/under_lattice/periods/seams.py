"""The picture of a cell in whole px, and its seams: what goes on beyond an edge against what comes in at the other."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from under_lattice.colour.premultiplied import on_ground
from under_lattice.core.progress import QUIET, Progress
from under_lattice.core.units import short
from under_lattice.geometry.affine import Array
from under_lattice.geometry.translations import Oblong, Pixels, whole_pixels
from under_lattice.periods.cell import Cell, cell_scene
from under_lattice.periods.cropped import cropped_scene
from under_lattice.render.painter import paint_now
from under_lattice.scene.tree import Scene, View
from under_lattice.work.model import Sheet

BESIDE = 2  # px that are compared beyond each edge
SEEN = 2  # of 255: a seam of no more is none to the eye


@dataclass(frozen=True, eq=False)
class Tile:
    """A painted cell.

    Attributes
    ----------
    pixels : (H, W, 4) uint8
        Premultiplied, over the ground of the work.
    size : Pixels
    across, down : int
        The largest difference, of 255, across the upright and across the level edges.
    """

    pixels: Array
    size: Pixels
    across: int
    down: int

    def words(self, cell: Cell) -> str:
        """Return what is found at the seams along which a cell repeats."""
        across = self.across if not cell.along_one or cell.basis[0, 0] else 0
        down = self.down if not cell.along_one or cell.basis[0, 1] else 0
        if max(across, down) <= SEEN:
            return "no seams"
        sides = [f"{value} of 255 {side}" for value, side in ((across, "left to right"), (down, "top to bottom")) if value > SEEN]
        return f"seams differ by up to {' and '.join(sides)}"


def sheet_as_cell(scene: Scene, sheet: Sheet) -> Cell:
    """Return the sheet itself as a cell, whatever is on it."""
    box = Oblong(np.array([sheet.width, 0.0]), np.array([0.0, sheet.height]), 0.0)
    return Cell(np.array([box.across, box.down]), box, scene, sheet)


def pixels_of(cell: Cell, most: int) -> Pixels:
    """Return in how many whole px a cell is shown, at most so many across."""
    return whole_pixels(cell.box.width, cell.box.height, most)


def painted_tile(cell: Cell, size: Pixels, progress: Progress = QUIET) -> Tile:
    """Return the picture of a cell, painted together with what lies just beyond its edges.

    Raises
    ------
    GivenUp, LimitError
    """
    wide, high = size.width + 2 * BESIDE, size.height + 2 * BESIDE
    scene = replace(cell_scene(cell, float(size.width), float(size.height)), width=float(wide), height=float(high))
    scene = cropped_scene(scene)
    painted = paint_now(scene, View(wide, high, 1.0, wide / 2, high / 2), progress)
    pixels = on_ground(painted, scene.background) if scene.background else painted
    signed = pixels.astype(np.int16)
    b, rows, columns = BESIDE, slice(BESIDE, BESIDE + size.height), slice(BESIDE, BESIDE + size.width)
    across = max(
        _apart(signed[rows, size.width + b :], signed[rows, b : 2 * b]),
        _apart(signed[rows, :b], signed[rows, size.width : size.width + b]),
    )
    down = max(
        _apart(signed[size.height + b :, columns], signed[b : 2 * b, columns]),
        _apart(signed[:b, columns], signed[size.height : size.height + b, columns]),
    )
    return Tile(np.ascontiguousarray(pixels[rows, columns]), size, across, down)


def _apart(one: Array, other: Array) -> int:
    """The largest difference of two pictures as large as each other, as far as both go."""
    high, wide = min(len(one), len(other)), min(one.shape[1], other.shape[1])
    return int(np.abs(one[:high, :wide] - other[:high, :wide]).max(initial=0))


def report(cell: Cell, tile: Tile) -> str:
    """Return what there is to say of a cell: how large, how many px and how far out of proportion, and its seams."""
    error = f", {short(100 * tile.size.error, 4)} % out of proportion" if tile.size.error > 5e-7 else ""
    return f"{cell.words()} = {tile.size.width} × {tile.size.height} px{error}; {tile.words(cell)}"  # noqa: RUF001
