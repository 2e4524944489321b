"""Rule: Smear, as a brush draws paint out along edges."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from under_lattice.colour.effects import Smear as SmearEffect
from under_lattice.declare.dials import Length
from under_lattice.rules.base import describe
from under_lattice.rules.families import FinishRule


class Smear(FinishRule):
    """Strokes along edges."""

    title: ClassVar[str] = "Smear"
    words: ClassVar[str] = "Draws colours out along their edges, as a brush does in wet paint."
    along_edges: ClassVar[bool] = True
    works_in: ClassVar[str] = "linear light"
    search: ClassVar[str] = "paint brush painterly oil watercolour flow stroke"

    kind: Literal["smear"] = "smear"
    length: Annotated[
        float, Length("Length", "How far a stroke carries colour.", least=0.0, most=1000.0, step=0.1, slides=(0.0, 20.0))
    ] = 4.0
    size: Annotated[
        float,
        Length("Edges", "Over what distance directions of edges are evened out.", least=0.0, most=1000.0,
               step=0.1, slides=(0.0, 10.0)),
    ] = 1.0  # fmt: skip

    def effect(self) -> SmearEffect:
        """Return what it does to pixels."""
        return SmearEffect(self.length, self.size)

    def key_line(self, unit: str) -> str:
        """Return how long strokes are."""
        return f"strokes {describe(self.length, unit)}"
