"""Motif: tiling, the tiles of one cell of a tiling by regular polygons, or of its dual."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

import numpy as np

from under_lattice.declare.dials import Choice
from under_lattice.geometry.affine import Array, linear
from under_lattice.geometry.outline import polygon_verbs
from under_lattice.geometry.tilings import CONFIGURATIONS, Cell, Configuration, dual, uniform
from under_lattice.pattern.ask import rest
from under_lattice.pattern.stage import Shape
from under_lattice.rules.base import describe
from under_lattice.rules.shared.measure_spots import Spot
from under_lattice.rules.shared.measured import TURN, Face, MeasuredMotif, MeasuredShape, Numbers, extent
from under_lattice.vary.numbers import Number


@dataclass(frozen=True, eq=False)
class TilingShape(MeasuredShape):
    """The tiles of a cell; what repeats them asks for the vectors of the cell."""

    alike: ClassVar[bool] = False  # the hull of a cell overlaps its neighbours': it says nothing of gaps

    @property
    def cell(self) -> Array:
        """The two vectors (2, 2) by which the cell repeats, in the shape's own place."""
        assert isinstance(self.motif, Tiling)
        return np.asarray(self.motif.cell.vectors * float(rest(self.motif.size)) @ linear(self.motif.turn)[:, :2].T)

    @property
    def curved(self) -> bool:
        """Its tiles have straight sides."""
        return False


class Tiling(MeasuredMotif):
    """Tiles that fit together."""

    words: ClassVar[str] = "A tiling: regular polygons that meet alike at every corner, or its dual; a Lattice repeats the cell."
    search: ClassVar[str] = "archimedean laves uniform semiregular tessellation floor pavement cairo snub"
    spots: ClassVar[tuple[Spot, ...]] = (Spot("size", lambda n: (n["size"], 0.0)),)

    piecewise: ClassVar[bool] = True
    tiles: ClassVar[bool] = True

    kind: Literal["tiling"] = "tiling"
    meets: Annotated[
        Configuration,
        Choice("Corners", "How many sides the polygons have that meet at each corner, in turn.", options=CONFIGURATIONS),
    ] = "4.8.8"
    shows: Annotated[
        Literal["the polygons", "the dual"],
        Choice("Tiles", "The polygons, or tiles from middle to middle of them.", options=("the polygons", "the dual")),
    ] = "the polygons"
    size: Annotated[Number, extent("Side", "Length of each side of the polygons.")] = 16.0
    turn: Annotated[float, TURN] = 0.0

    @property
    def cell(self) -> Cell:
        """The tiles that repeat, with polygons of side 1."""
        return uniform(self.meets) if self.shows == "the polygons" else dual(self.meets)

    def shape(self) -> Shape:
        """Return the lazy shape."""
        return TilingShape(self)

    def faces(self, numbers: Numbers) -> tuple[Face, ...]:
        """Return a face for each tile of the cell, the largest polygons first."""
        size = numbers["size"][:, None, None]
        return tuple((polygon_verbs(len(tile)), tile[None] * size) for tile in self.cell.tiles)

    def key_line(self, unit: str) -> str:
        """Return the configuration and the side."""
        name = self.meets if self.shows == "the polygons" else f"dual of {self.meets}"
        return f"{name}, {len(self.cell.tiles)} tiles in a cell, side {describe(self.size, unit)}"


def cell_of_shape(shape: Shape) -> Array | None:
    """Return the vectors (2, 2) by which a shape asks to be repeated, through all that has reshaped it; None if it does not."""
    here: object = shape
    while here is not None:
        cell = getattr(here, "cell", None)
        if cell is not None:
            return np.asarray(cell)
        here = getattr(here, "of", None)
    return None
