"""Effects of softness, light and edge: blur, shadow, relief, contour."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any, Literal, Self

from under_lattice.colour.effects.base import WIDE, Box, Effect, Rgb, brought_back, grown

Profile = Literal["straight", "round", "hollow", "soft"]
Side = Literal["inside", "outside", "both"]


@dataclass(frozen=True)
class Blur(Effect):
    """A Gaussian in linear light, of one deviation in all directions, or along one alone.

    Attributes
    ----------
    deviation : float
    along : float or None
        Degrees, clockwise from the right.
    """

    deviation: float
    along: float | None = None

    @property
    def reach(self) -> float:
        """How far it carries what is there."""
        return WIDE * self.deviation


@dataclass(frozen=True)
class Shadow(Effect):
    """What is there in one colour, moved and blurred: beneath it, or within it from its edge inwards.

    Attributes
    ----------
    distance, deviation : float
    direction : float
        In which it falls, degrees clockwise from the right.
    colour : (float, float, float)
        Coded, 0..1.
    opacity : float
    inside : bool
    spread : float
        How much larger what throws it is than what is there.
    blend : str
        How it mixes with what lies within; only inside.
    turns : bool
        It turns with what throws it.
    """

    distance: float
    direction: float
    deviation: float
    colour: Rgb
    opacity: float
    inside: bool = False
    spread: float = 0.0
    blend: str = "normal"
    turns: bool = True

    @property
    def reach(self) -> float:
        """How far it carries what is there."""
        return self.distance + WIDE * self.deviation + abs(self.spread)

    def placed(self, place: Any) -> Self:
        """Return it falling so that after a map (2, 3) it falls as told."""
        return self if self.turns else replace(self, direction=brought_back(self.direction, place))


@dataclass(frozen=True)
class Shine:
    """A colour laid where light falls or fails, with its opacity and mode of blending."""

    colour: Rgb
    opacity: float
    blend: str = "normal"


@dataclass(frozen=True)
class Relief(Effect):
    """Faces along the edge of what is there, or heights by its lightness, in the light.

    Attributes
    ----------
    size : float
        How wide the face along an edge is; with `by_lightness` over what distance lightness is evened out first.
    depth : float
        How high what is there stands at the end of its face, or how high white stands above black.
    height, direction : float
        Of the light: degrees above the plane, and clockwise from the right, where it comes from.
    profile : str
        Of the face: straight (crisp), round, hollow, soft.
    side : str
        Of the edge on which the face lies.
    by_lightness : bool
    light, shade : Shine
    turns : bool
        The light turns with what it falls on.
    """

    size: float
    depth: float
    height: float
    direction: float
    profile: Profile = "straight"
    side: Side = "inside"
    by_lightness: bool = False
    light: Shine = Shine((1.0, 1.0, 1.0), 0.75)
    shade: Shine = Shine((0.0, 0.0, 0.0), 0.75)
    turns: bool = False

    @property
    def reach(self) -> float:
        """How far it carries what is there."""
        if self.by_lightness:
            return WIDE * self.size
        return self.size if self.side == "outside" else self.size / 2 if self.side == "both" else 0.0

    def needs(self, box: Box) -> Box:
        """Return the box with all edges whose faces reach into it; in the unit of the work."""
        return grown(box, WIDE * self.size if self.by_lightness else self.size)

    def placed(self, place: Any) -> Self:
        """Return it in a light that after a map (2, 3) comes from where it was told."""
        return self if self.turns else replace(self, direction=brought_back(self.direction, place))


@dataclass(frozen=True)
class Contour(Effect):
    """Lines round all of what is there.

    Attributes
    ----------
    width, gap : float
        Of each line, and between the edge and the first, and between lines.
    colour : (float, float, float)
    opacity : float
    side : str
        Of the edge; a line on both lies over it.
    count : int
    """

    width: float
    gap: float
    colour: Rgb
    opacity: float
    side: Side = "outside"
    count: int = 1

    @property
    def far(self) -> float:
        """How far from the edge the last line ends."""
        return self.width / 2 if self.side == "both" else self.count * (self.width + self.gap)

    @property
    def reach(self) -> float:
        """How far it carries what is there."""
        return 0.0 if self.side == "inside" else self.far

    def needs(self, box: Box) -> Box:
        """Return the box with all edges whose lines reach into it; in the unit of the work."""
        return grown(box, self.far)
