"""Motif: a small drawing of squares, edited on a grid."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np
import shapely

from under_lattice.colour.colour import bytes_of
from under_lattice.core.errors import RuleRefused
from under_lattice.declare.colour_dials import Palette
from under_lattice.declare.dials import Angle, Length
from under_lattice.declare.drawn_dials import PIXEL_SIGNS, Pixels
from under_lattice.geometry.affine import linear
from under_lattice.pattern.clipping import of_rings, rings_of
from under_lattice.pattern.inked import Inked, Part
from under_lattice.pattern.marks import Coat
from under_lattice.rules.base import describe
from under_lattice.rules.ground import Ground
from under_lattice.rules.shared.inked_motif import COLOURS, Colours, InkedMotif

SHELL = "...11.../..1221../.122221./.122221./11222211/12133121/.113311./...11..."
CLEAR = np.zeros((1, 4), np.uint8)


class PixelMotif(InkedMotif):
    """Squares of a few colours; all squares of a colour are one part."""

    words: ClassVar[str] = "A small drawing of squares: edited on a grid, each colour a part."
    search: ClassVar[str] = "pixel sprite mosaic cross stitch knit icon squares"
    sized: ClassVar[str] = "side"

    kind: Literal["pixels"] = "pixels"
    drawing: Annotated[str, Pixels("Drawing", "Press or drag over squares; the chosen colour is put, or taken away again.")] = SHELL
    palette: Annotated[tuple[str, ...], Palette("Palette", "What colour 1, colour 2 and so on look like.")] = (
        "#26374F",
        "#E9DCC3",
        "#C2694C",
    )
    side: Annotated[float, Length("Square", "Side of one square.", least=0.001, most=1e4, slides=(0.5, 20.0))] = 4.0
    turn: Annotated[float, Angle("Turn", "About its middle.", main=False, group="Place")] = 0.0
    colours: Annotated[Colours, COLOURS] = "its own"

    @classmethod
    def noun(cls) -> str:
        """Return what it is called where motifs are chosen."""
        return "Pixel drawing"

    def inked(self, ground: Ground) -> Inked:
        """Return the squares of each colour as one outline.

        Raises
        ------
        RuleRefused
            When all squares are clear.
        """
        signs = np.array([list(row) for row in self.drawing.split("/")])
        middle, turned = np.array(signs.shape[::-1]) / 2, linear(self.turn)[:, :2].T
        parts: list[Part] = []
        colours = []
        for k, sign in enumerate(PIXEL_SIGNS[1:]):
            row, column = np.nonzero(signs == sign)
            if not len(row):
                continue
            area = shapely.union_all(shapely.box(column, row, column + 1, row + 1)).simplify(0)
            family = of_rings([rings_of(area, float(max(signs.shape)))], np.zeros(1, np.int32))
            parts.append((family.verbs, (family.points[0] - middle) * self.side @ turned))
            colours.append(self.palette[k % len(self.palette)])
        if not parts:
            raise RuleRefused("all squares are clear; put a colour on one of them")
        return Inked(tuple(parts), (Coat(bytes_of(tuple(colours)), CLEAR, np.zeros(1)),))

    def key_line(self, unit: str) -> str:
        """Return rows and columns."""
        rows = self.drawing.split("/")
        return f"{len(rows[0])} by {len(rows)} squares of {describe(self.side, unit)}"
