"""Rule: Contour, lines round all of what stands above together."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from under_lattice.colour.effects import Contour as ContourEffect
from under_lattice.declare.colour_dials import Colour
from under_lattice.declare.dials import Choice, Count, Length, Ratio, When
from under_lattice.rules.base import describe
from under_lattice.rules.families import FinishRule
from under_lattice.rules.finishes.parts import rgb

ONE_SIDE = (When(field="side", values=("outside", "inside"), reason="a line over the edge is one, without a gap"),)


class Contour(FinishRule):
    """A line round the whole."""

    title: ClassVar[str] = "Contour"
    words: ClassVar[str] = "Draws lines round all that stands above together, where shapes overlap round their union."
    along_edges: ClassVar[bool] = True
    search: ClassVar[str] = "outline round all border edge line stroke halo ring"

    kind: Literal["contour"] = "contour"
    width: Annotated[float, Length("Width", "Width of each line.", least=0.0, most=1000.0, step=0.1, slides=(0.0, 8.0))] = 1.0
    gap: Annotated[
        float,
        Length(
            "Gap",
            "How much is left between the edge and the first line, and between lines.",
            least=0.0,
            most=1000.0,
            step=0.1,
            slides=(0.0, 8.0),
            when=ONE_SIDE,
        ),
    ] = 0.0
    count: Annotated[int, Count("Lines", "How many lines.", most=50, slides=(1, 8), when=ONE_SIDE)] = 1
    colour: Annotated[str, Colour("Colour", "Of the lines.")] = "#1C1C1C"
    opacity: Annotated[float, Ratio("Opacity", "How opaque the lines are.")] = 100.0
    side: Annotated[
        Literal["outside", "inside", "both"],
        Choice("Lies", "Beyond the edge, within it, or over it.", options=("outside", "inside", "both")),
    ] = "outside"

    def effect(self) -> ContourEffect:
        """Return what it does to pixels."""
        over = self.side == "both"
        opacity = self.opacity / 100 if self.colour else 0.0
        return ContourEffect(self.width, 0.0 if over else self.gap, rgb(self.colour), opacity, self.side, 1 if over else self.count)

    def key_line(self, unit: str) -> str:
        """Return how wide, and how many."""
        return f"{describe(self.width, unit)} {self.side if self.side != 'both' else 'over the edge'}" + (
            f", {self.count} times" if self.count > 1 and self.side != "both" else ""
        )
