"""What motifs that bring their own ink have in common."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from under_lattice.core.declare import Choice
from under_lattice.core.errors import RuleRefused
from under_lattice.core.inked import Inked
from under_lattice.core.stage import Shape
from under_lattice.rules.base import PLAIN, Ground, MotifRule
from under_lattice.rules.rectangle import Rectangle

STANDS_FOR = 40.0  # side of the square that stands for a picture or a layer where the work is not known

Colours = Literal["its own", "from the inks"]
COLOURS = Choice(
    "Colours", "Its own, whatever inks say; or those of the inks below it.", options=("its own", "from the inks"), main=False
)


class InkedMotif(MotifRule):
    """A motif with colours of its own."""

    title: ClassVar[str] = "Motif"
    colours: Annotated[Colours, COLOURS] = "its own"

    def inked(self, ground: Ground) -> Inked:
        """Return the outlines with their coats.

        Raises
        ------
        RuleRefused
        """
        raise RuleRefused("this motif draws itself")

    def shape(self) -> Shape:
        """Return the shape where nothing is known of the work; a square stands for what is in it."""
        try:
            return self.inked(PLAIN)
        except RuleRefused:
            return Rectangle(width=STANDS_FOR, height=STANDS_FOR).shape()

    def shape_on(self, ground: Ground) -> Shape:
        """Return the shape on a sheet of a work."""
        return self.inked(ground)
