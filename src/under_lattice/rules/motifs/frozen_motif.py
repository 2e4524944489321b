"""Motif: frozen copies, separate shapes that no rule makes any more."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from under_lattice.declare.drawn_dials import ShapeList
from under_lattice.declare.shape_list import Laid, shapes_of_text
from under_lattice.geometry.affine import IDENTITY, Array, moves
from under_lattice.pattern.inked import InkedCopies
from under_lattice.pattern.marks import Coat
from under_lattice.pattern.stage import Family, Shape, Stage
from under_lattice.rules.ground import PLAIN, Ground
from under_lattice.rules.shared.inked_motif import COLOURS, Colours, InkedMotif

DROPS = """\
#5E8C86FF none 0 M-30 14 C-30 3 -22 -4 -20 -14 C-18 -4 -10 3 -10 14 C-10 20 -14 24 -20 24 C-26 24 -30 20 -30 14 Z
#C2694CFF none 0 M-10 0 C-10 -11 -2 -18 0 -28 C2 -18 10 -11 10 0 C10 6 6 10 0 10 C-6 10 -10 6 -10 0 Z
#26374FFF none 0 M10 14 C10 3 18 -4 20 -14 C22 -4 30 3 30 14 C30 20 26 24 20 24 C14 24 10 20 10 14 Z"""

CLEAR = np.zeros(4, np.uint8)


class FrozenMotif(InkedMotif):
    """Separate shapes, each a copy with its own outline and colours."""

    words: ClassVar[str] = "Frozen copies: separate shapes with their own colours, as Freeze leaves them."
    search: ClassVar[str] = "expanded outlines separate baked loose objects"

    kind: Literal["frozen"] = "frozen"
    shapes: Annotated[str, ShapeList("Shapes", "One shape on each line: fill, stroke, width, outline.")] = DROPS
    colours: Annotated[Colours, COLOURS] = "its own"

    @classmethod
    def noun(cls) -> str:
        """Return what it is called where motifs are chosen."""
        return "Frozen copies"

    def shape(self) -> Shape:
        """Return the shape of the copies."""
        return self.begin(PLAIN).shape

    def begin(self, ground: Ground) -> Stage:
        """Return the shapes, each a copy at its own middle; those with the same verbs share a family."""
        parts, fill, stroke, width, ramps, rounded = shapes_of_text(self.shapes)
        n = len(parts)
        middle = np.stack([(points.min(0) + points.max(0)) / 2 for _, points in parts])
        kinds = list(dict.fromkeys(verbs for verbs, _ in parts))
        families = []
        for verbs in kinds:
            own = [k for k, part in enumerate(parts) if part[0] == verbs]
            variant = np.full(n, -1, np.int32)
            variant[own] = np.arange(len(own))
            families.append(Family(verbs, np.stack([parts[k][1] - middle[k] for k in own]), variant))
        flat = np.where(np.array([one is None for one in ramps])[:, None], fill, CLEAR)
        coats = [Coat(flat, np.where(rounded[:, None], CLEAR, stroke), width)] if not rounded.all() else []
        if rounded.any():
            bare = np.where(rounded[:, None], stroke, CLEAR)
            coats.append(Coat(CLEAR[None] if coats else flat, bare, width, join="round", cap="round"))
        shape = InkedCopies(self.id, tuple(families), coats=(*_ramped(fill, ramps, middle), *coats))
        step, key = np.arange(n, dtype=float), np.stack([np.arange(n), np.zeros(n, np.int64)], 1)
        return Stage(self.id, shape, moves(middle), moves(middle), np.zeros(n, np.int32), key, None, {"step": step, "column": step})

    def key_line(self, unit: str) -> str:
        """Return how many."""
        count = len(shapes_of_text(self.shapes).parts)
        return "one shape" if count == 1 else f"{count:,} shapes"


def _ramped(fill: Array, ramps: tuple[Laid | None, ...], middle: Array) -> list[Coat]:
    """A coat for each ramp, on the shapes that have it; strokes come with the flat fills above them."""
    out = []
    for ramp in dict.fromkeys(one.ramp for one in ramps if one is not None):
        own = np.array([one is not None and one.ramp is ramp for one in ramps])
        seats = np.stack([one.seat if one is not None else IDENTITY for one in ramps]).copy()
        seats[:, :, 2] -= middle
        out.append(Coat(np.where(own[:, None], fill, CLEAR), CLEAR[None], np.zeros(1), paint=ramp, seat=seats))
    return out
