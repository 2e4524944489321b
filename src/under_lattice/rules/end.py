"""The fixed end of every layer, whatever its dials are: how the layer lies over what is beneath it."""

from __future__ import annotations

from typing import ClassVar, Literal, NamedTuple

from under_lattice.colour.ramp import Ramp
from under_lattice.declare.mask_strokes import MaskStroke
from under_lattice.geometry.affine import IDENTITY, Array
from under_lattice.pattern.known import Known
from under_lattice.rules.base import Rule, RuleFamily


class Lies(NamedTuple):
    """How a layer lies over what is beneath, at one time of the loop.

    `opacity` is 0..1; `clip` and `mask` are ids of layers, or nothing; `mask_by` says what of the mask counts. In place of a layer
    `mask_ramp` lies on the sheet, `strokes` are painted there, or the picture of the id `mask_picture` covers it. What an inverted
    mask hides is seen, and the other way round. Clip and mask may move with the place of the layer,
    and the mask goes over within `feather`, in the unit of the work.
    """

    opacity: float = 1.0
    blend: str = "normal"
    isolated: bool = False
    clip: str = ""
    mask: str = ""
    mask_by: Literal["opacity", "lightness"] = "lightness"
    mask_ramp: Ramp | None = None
    inverted: bool = False
    strokes: tuple[MaskStroke, ...] = ()
    mask_picture: str = ""
    mask_moves: bool = False
    feather: float = 0.0

    @property
    def masked(self) -> bool:
        """Whether anything says how much of the layer is seen."""
        return bool(self.mask) or self.mask_ramp is not None or bool(self.strokes) or bool(self.mask_picture)


class EndRule(Rule):
    """The last rule of a layer."""

    family: ClassVar[RuleFamily] = "end"

    def lies(self, known: Known) -> Lies:
        """Return how the layer lies, by what is `known` of the work."""
        return Lies()

    def place(self, known: Known) -> Array:
        """Return where the whole layer is brought, a map (2, 3) of the sheet."""
        return IDENTITY
