"""What motifs that bring their own ink have in common."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal

import numpy as np

from under_lattice.core.errors import RuleRefused
from under_lattice.declare.dials import Choice, NumberDial
from under_lattice.geometry.affine import Array, linear
from under_lattice.pattern.inked import Inked
from under_lattice.pattern.stage import Shape, Stage
from under_lattice.rules.base import describe
from under_lattice.rules.families import MotifRule
from under_lattice.rules.ground import PLAIN, Ground
from under_lattice.rules.handles import Drag, Handle, HandleSet
from under_lattice.rules.motifs.rectangle import Rectangle
from under_lattice.rules.shared.measure_spots import turn_dragged, turn_handle

STANDS_FOR = 40.0  # side of the square that stands for a picture or a layer where the work is not known

Colours = Literal["its own", "from the inks"]
COLOURS = Choice(
    "Colours", "Its own, whatever inks say; or those of the inks below it.", options=("its own", "from the inks"), main=False
)


class InkedMotif(MotifRule):
    """A motif with colours of its own."""

    title: ClassVar[str] = "Motif"
    colours: Annotated[Colours, COLOURS] = "its own"

    @property
    def keeps_colours(self) -> bool:
        """Whether inks below it have no say."""
        return self.colours == "its own"

    def inked(self, ground: Ground) -> Inked:
        """Return the outlines with their coats.

        Raises
        ------
        RuleRefused
        """
        raise RuleRefused("this motif draws itself")

    sized: ClassVar[str] = ""  # the dial that sizes it evenly

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return a bead for the size, at the right of what is drawn, and one for the turn."""
        ring, beads = stage.body_ring, []
        if self.sized:
            dial: Any = self.dials()[self.sized]
            words = f"{describe(getattr(self, self.sized), dial.unit or unit)} {dial.label.lower()}"
            beads.append(Handle(self.sized, self._right(ring), words, "bead"))
        turned = turn_handle(self, ring, unit)
        return HandleSet((*beads, *([turned] if turned is not None else [])), None, ring)

    def _right(self, ring: Array) -> Array:
        """The farthest place to the right, as the motif is turned, on a level with its origin."""
        way = linear(float(getattr(self, "turn", 0.0)))[:, 0]
        return np.asarray(way * max(float((ring @ way).max()), 1e-6))

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Turn, or size by how far the bead is pulled."""
        if drag.name == "turn":
            return turn_dragged(drag)
        if drag.name != self.sized:
            return {}
        bead, dial = self._right(stage.body_ring), self.dials()[self.sized]
        value = getattr(self, self.sized) * float(drag.to @ bead) / float(bead @ bead)
        value = drag.length(value) if dial.kind == "length" else round(value, 1)
        assert isinstance(dial, NumberDial)
        return {self.sized: float(np.clip(value, dial.least, dial.most))}

    def shape(self) -> Shape:
        """Return the shape where nothing is known of the work; a square stands for what is in it."""
        try:
            return self.inked(PLAIN)
        except RuleRefused:
            return Rectangle(width=STANDS_FOR, height=STANDS_FOR).shape()

    def shape_on(self, ground: Ground) -> Shape:
        """Return the shape on a sheet of a work."""
        return self.inked(ground)
