"""Rule: Relief, faces along edges or heights by lightness, in the light."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Any, ClassVar, Literal

import numpy as np

from under_lattice.colour.blend import BLENDS, RARE, SPOKEN, Blend
from under_lattice.colour.effects import Relief as ReliefEffect
from under_lattice.colour.effects.light import Shine
from under_lattice.declare.colour_dials import Colour
from under_lattice.declare.dials import Angle, Choice, Length, Ratio, When
from under_lattice.pattern.stage import Stage
from under_lattice.rules.base import describe
from under_lattice.rules.families import FinishRule
from under_lattice.rules.finishes.parts import LIGHT_KEEPS, circle, degrees, line, rgb, tip_of
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Drag, Handle, HandleSet, polar
from under_lattice.rules.surroundings import Surroundings

BY_EDGE = (When(field="by", values=("edge",), reason="only by the edge"),)
SKY = 0.3  # radius of the sky its light is dragged on, of the shorter side of the sheet
BLENDED = Choice("", "", main=False, options=BLENDS, spoken=SPOKEN, unsought=RARE)


class Relief(FinishRule):
    """Raises what stands above in the light."""

    title: ClassVar[str] = "Relief"
    words: ClassVar[str] = (
        "Raises what stands above, with faces along its edges or by how light it is, in a light that can be dragged."
    )
    along_edges: ClassVar[bool] = True
    search: ClassVar[str] = "emboss bevel carved raised 3d depth light chisel engraved"

    kind: Literal["relief"] = "relief"
    size: Annotated[
        float,
        Length("Size", "How wide the face along an edge is; by lightness, over what distance it is evened out.",
               least=0.0, most=10_000.0, step=0.1, slides=(0.0, 12.0)),
    ] = 3.0  # fmt: skip
    slope: Annotated[
        float,
        Angle(
            "Slope",
            "How steep the face is; by lightness, the slope from black to white over the size.",
            least=-89.0,
            most=89.0,
            slides=(-80.0, 80.0),
        ),
    ] = 45.0
    direction: Annotated[float, Angle("Light from", "Where the light comes from, clockwise from the right.")] = -120.0
    height: Annotated[
        float, Angle("Light height", "How high the light stands above the sheet.", least=0.0, most=90.0, slides=(0.0, 90.0))
    ] = 40.0
    profile: Annotated[
        Literal["straight", "round", "hollow", "soft"],
        Choice(
            "Profile", "The face along the edge is crisp, or curved.", options=("straight", "round", "hollow", "soft"), when=BY_EDGE
        ),
    ] = "straight"
    by: Annotated[
        Literal["edge", "lightness"],
        Choice("By", "What raises it: the distance to its edge, or how light it is.", options=("edge", "lightness")),
    ] = "edge"
    side: Annotated[
        Literal["inside", "outside", "both"],
        Choice(
            "Face lies",
            "Within the edge, beyond it, or half and half.",
            main=False,
            options=("inside", "outside", "both"),
            when=BY_EDGE,
        ),
    ] = "inside"
    light: Annotated[str, Colour("Lit", "The colour of faces in the light.", main=False)] = "#FFFFFF"
    light_opacity: Annotated[float, Ratio("Lit opacity", "How strong light is.", main=False)] = 75.0
    light_blend: Annotated[Blend, replace(BLENDED, label="Lit blend", words="How light mixes with what is lit.")] = "normal"
    shade: Annotated[str, Colour("Shade", "The colour of faces away from the light.", main=False)] = "#000000"
    shade_opacity: Annotated[float, Ratio("Shade opacity", "How strong shade is.", main=False)] = 70.0
    shade_blend: Annotated[Blend, replace(BLENDED, label="Shade blend", words="How shade mixes with what lies in it.")] = "normal"
    keeps: Annotated[Literal["stays", "turns"], LIGHT_KEEPS] = "stays"

    @classmethod
    def suggested(cls, around: Surroundings) -> dict[str, Any]:
        """Return its lengths; on a veil heights come from lightness, since all that lies beneath has no edge."""
        return super().suggested(around) | ({"by": "lightness"} if around.veil else {})

    def effect(self) -> ReliefEffect:
        """Return what it does to pixels."""
        lit = Shine(rgb(self.light), self.light_opacity / 100 if self.light else 0.0, self.light_blend)
        shade = Shine(rgb(self.shade), self.shade_opacity / 100 if self.shade else 0.0, self.shade_blend)
        depth = self.size * float(np.tan(np.radians(self.slope)))
        return ReliefEffect(
            self.size, depth, self.height, self.direction, self.profile, self.side, self.by == "lightness", lit, shade,
            self.keeps == "turns",
        )  # fmt: skip

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return the light on a sky about the middle: the nearer to it, the higher."""
        sky, middle = self._sky(ground), np.zeros(2)
        at = tip_of(sky * float(np.cos(np.radians(self.height))), self.direction, middle)
        words = f"light from {degrees(self.direction)}, {self.height:g}° high"
        return HandleSet((Handle("light", at, words, "bead"),), lines=(circle(middle, sky), line(middle, at)))

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Return where the light stands."""
        far, degrees = polar(drag.to)
        height = float(np.degrees(np.arccos(min(far / self._sky(ground), 1.0))))
        return {"height": round(height), "direction": drag.angle(degrees)}

    def _sky(self, ground: Ground) -> float:
        return SKY * min(ground.known.width, ground.known.height)

    def key_line(self, unit: str) -> str:
        """Return how wide its faces are and where the light is."""
        size = f"face {describe(self.size, unit)}" if self.by == "edge" else "by lightness"
        return f"{size}, light from {degrees(self.direction)}"
