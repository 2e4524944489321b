"""Motif: another layer or a group of layers, linked: what is changed there changes here."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from under_lattice.core.errors import RuleRefused
from under_lattice.core.units import short
from under_lattice.declare.dials import Angle, Choice, LayerChoice, Ratio
from under_lattice.geometry.affine import linear
from under_lattice.geometry.outline import flatten
from under_lattice.pattern.inked import Inked, of_picture, turned_and_sized
from under_lattice.rules.ground import Ground
from under_lattice.rules.shared.inked_motif import COLOURS, Colours, InkedMotif

SHAPES_MOST = 4_000


class LayerMotif(InkedMotif):
    """A layer or group as the shape that is repeated."""

    words: ClassVar[str] = "Another layer or a group of this work, linked: what is changed there changes here."
    search: ClassVar[str] = "compound group symbol instance clone reuse nested members link"
    sized: ClassVar[str] = "size"

    kind: Literal["layer-motif"] = "layer-motif"
    layer: Annotated[
        str, LayerChoice("Layer", "The layer or group that is repeated; it may be kept as a source only.", groups=True)
    ] = ""
    stands: Annotated[
        Literal["about its middle", "as it lies"],
        Choice(
            "Stands", "Its middle on the motif's place, or where it lies on its sheet.", options=("about its middle", "as it lies")
        ),
    ] = "about its middle"
    size: Annotated[
        float, Ratio("Size", "In parts of the size it has on its own.", least=0.1, most=10000.0, slides=(5.0, 200.0))
    ] = 100.0
    turn: Annotated[float, Angle("Turn", "About its middle.", main=False, group="Place")] = 0.0
    colours: Annotated[Colours, COLOURS] = "its own"

    @classmethod
    def noun(cls) -> str:
        """Return what it is called where motifs are chosen."""
        return "Layer or group"

    def layers(self) -> tuple[str, ...]:
        """Return the layer or group it shows."""
        return (self.layer,) if self.layer else ()

    @property
    def linked(self) -> str:
        """The layer or group it shows, where it shows it as it lies and nothing is changed."""
        numbers = (self.size, self.turn, self.place_x, self.place_y)
        same = self.stands == "as it lies" and numbers == (100.0, 0.0, 0.0, 0.0) and self.keeps_colours
        return self.layer if same else ""

    def inked(self, ground: Ground) -> Inked:
        """Return all shapes of the layer with their inks.

        Raises
        ------
        RuleRefused
            Without a layer, when it shows nothing, or too much.
        """
        picture = ground.drawn.get(self.layer)
        if not self.layer:
            raise RuleRefused("choose the layer or group that is the motif")
        if picture is None or not (picture.marks.variant >= 0).any():
            raise RuleRefused("the layer or group that is the motif shows nothing, is gone, or would show itself in turn")
        count = int((picture.marks.variant >= 0).sum())
        if count > SHAPES_MOST:
            raise RuleRefused(f"that layer shows {count:,} shapes; at most {SHAPES_MOST:,} can be a motif. Combine makes them one")
        if self.stands == "as it lies":
            return of_picture(picture, linear(self.turn, self.size / 100, self.size / 100))
        lying = of_picture(picture, linear(0.0))
        rings = np.concatenate([ring[0] for verbs, points in lying.parts for ring in flatten(verbs, points[None], 12)])
        return of_picture(picture, turned_and_sized((rings.min(0) + rings.max(0)) / 2, self.turn, self.size / 100))

    def key_line(self, unit: str) -> str:
        """Return its size."""
        if not self.layer:
            return "No layer chosen"
        return "Linked" if self.size == 100 else f"Linked, {short(self.size)} %"
