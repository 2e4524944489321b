"""Motif: a picture, PNG, JPEG, WebP or TIFF, stored once in the work."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Any, ClassVar, Literal

import numpy as np

from under_lattice.colour.colour import bytes_of
from under_lattice.colour.texture import Texture, premultiplied
from under_lattice.core.errors import RuleRefused
from under_lattice.declare.dials import Angle, Choice, Length, Picture, Ratio, When
from under_lattice.geometry.affine import linear
from under_lattice.geometry.outline import polygon_verbs
from under_lattice.pattern.inked import Inked
from under_lattice.pattern.marks import Coat
from under_lattice.pattern.stage import Stage
from under_lattice.rules.base import describe
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Drag, Handle, HandleSet
from under_lattice.rules.shared.inked_motif import COLOURS, Colours, InkedMotif

CLEAR = np.zeros((1, 4), np.uint8)
OPAQUE = bytes_of(("#FFFFFF",))


Fits = Literal["by its width", "fits the sheet", "fills the sheet", "stretched over the sheet"]
BY_WIDTH = When(field="fits", values=("by its width",), reason="the sheet gives its size")


class PictureMotif(InkedMotif):
    """A picture as the shape that is repeated."""

    words: ClassVar[str] = "A picture: from a PNG, JPEG, WebP or TIFF file; what is clear in it stays clear."
    search: ClassVar[str] = "image photo bitmap raster png jpeg jpg webp import texture"
    sized: ClassVar[str] = "width"

    kind: Literal["picture"] = "picture"
    picture: Annotated[str, Picture("Picture", "Stored once in the work, however often it is used.")] = ""
    fits: Annotated[
        Fits,
        Choice(
            "Size",
            "By its own width, or by the sheet: whole on it, filling it, or stretched over it.",
            options=("by its width", "fits the sheet", "fills the sheet", "stretched over the sheet"),
            search="cover contain fill background photo layer",
        ),
    ] = "by its width"
    width: Annotated[float, Length("Width", "From side to side.", least=0.001, most=1e5, slides=(1.0, 120.0), when=(BY_WIDTH,))] = (
        40.0
    )
    stretch: Annotated[
        float,
        Ratio(
            "Height",
            "Height in parts of the height it came with.",
            least=0.1,
            most=10000.0,
            slides=(20.0, 200.0),
            main=False,
            when=(BY_WIDTH,),
        ),
    ] = 100.0
    turn: Annotated[float, Angle("Turn", "About its middle.", main=False, group="Place")] = 0.0
    colours: Annotated[Colours, COLOURS] = "its own"

    @classmethod
    def noun(cls) -> str:
        """Return what it is called where motifs are chosen."""
        return "Picture"

    def inked(self, ground: Ground) -> Inked:
        """Return its rectangle, filled with its pixels.

        Raises
        ------
        RuleRefused
            When no picture is chosen.
        """
        pixels = ground.pixels(self.picture) if self.picture else None
        if pixels is None:
            raise RuleRefused("choose a picture, or bring one in from a file")
        high, wide = pixels.shape[:2]
        x, y = self._half(wide, high, ground)
        corners = np.array([(-x, -y), (x, -y), (x, y), (-x, y)])
        turned = linear(self.turn)
        to_picture = np.array([(1 / (2 * x), 0.0, 0.5), (0.0, 1 / (2 * y), 0.5)])
        coat = Coat(OPAQUE, CLEAR, np.zeros(1), paint=Texture(premultiplied(pixels), to_picture), seat=turned[None])
        return Inked(((polygon_verbs(4), corners @ turned[:, :2].T),), (coat,))

    def _half(self, wide: int, high: int, ground: Ground) -> tuple[float, float]:
        """Half its width and height; as the sheet gives them turned by quarters as nearly as it is turned."""
        if self.fits == "by its width":
            return self.width / 2, self.width * high / wide * self.stretch / 200
        across, down = ground.width, ground.height
        if round(self.turn / 90) % 2:
            across, down = down, across
        if self.fits == "stretched over the sheet":
            return across / 2, down / 2
        scale = (min if self.fits == "fits the sheet" else max)(across / wide, down / high)
        return wide * scale / 2, high * scale / 2

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return beads for width, height and turn."""
        plain = super().handles(above, stage, ground, unit)
        assert plain is not None
        if self.fits != "by its width":
            return replace(plain, handles=tuple(one for one in plain.handles if one.name == "turn"))
        down = linear(self.turn)[:, 1]
        bead = Handle("stretch", down * float((stage.body_ring @ down).max()), f"{describe(self.stretch, '%', 0)} height", "bead")
        return HandleSet((*plain.handles, bead), None, stage.body_ring)

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Set width, height or turn."""
        if drag.name != "stretch":
            return super().dragged(drag, above, stage, ground)
        down = linear(self.turn)[:, 1]
        share = float(drag.to @ down) / max(float((stage.body_ring @ down).max()), 1e-9)
        return {"stretch": float(np.clip(round(self.stretch * share, 1), 0.1, 10000.0))}

    def key_line(self, unit: str) -> str:
        """Return its width."""
        if not self.picture:
            return "No picture chosen"
        return f"{describe(self.width, unit)} wide" if self.fits == "by its width" else self.fits
