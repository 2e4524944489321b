"""Effects made of many small parts: grain, halftone, cells."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar, Literal

from under_lattice.colour.effects.base import Box, Effect, Rgb, grown

Net = Literal["squares", "hexagons"]


@dataclass(frozen=True)
class Grain(Effect):
    """Chance in linear light, whose mean is nothing.

    Attributes
    ----------
    amount : float
        Deviation, as a share of the light there is.
    size : float
        Of a grain.
    coloured : bool
        Each channel by itself.
    seed : int
    """

    anywhere: ClassVar[bool] = False
    amount: float
    size: float
    coloured: bool = False
    seed: int = 0


@dataclass(frozen=True)
class Halftone(Effect):
    """Dots or lines of one colour on a lattice, each as large as what it stands for is dark (or light).

    Attributes
    ----------
    net : str
        squares, hexagons or lines.
    pitch : float
    angle : float
        Degrees the lattice is turned by.
    ink, ground : (float, float, float) or None
        Colours; without `ink` each dot has the colour of what it stands for, without `ground` it is clear between them.
    light : bool
        Dots stand for light.
    """

    anywhere: ClassVar[bool] = False
    net: Literal["squares", "hexagons", "lines"]
    pitch: float
    angle: float = 0.0
    ink: Rgb | None = None
    ground: Rgb | None = None
    light: bool = False

    @property
    def reach(self) -> float:
        """How far it carries what is there."""
        return self.pitch

    def needs(self, box: Box) -> Box:
        """Return the box with whole cells at its edge; in the unit of the work."""
        return grown(box, 2.0 * self.pitch)


@dataclass(frozen=True)
class Cells(Effect):
    """Each cell of a lattice takes the mean of what is in it, in linear light.

    Attributes
    ----------
    net : str
        squares or hexagons.
    pitch : float
        From middle to middle.
    angle : float
        Degrees the lattice is turned by.
    """

    anywhere: ClassVar[bool] = False
    net: Net
    pitch: float
    angle: float = 0.0

    @property
    def reach(self) -> float:
        """How far it carries what is there."""
        return self.pitch

    def needs(self, box: Box) -> Box:
        """Return the box with whole cells at its edge; in the unit of the work."""
        return grown(box, 1.5 * self.pitch)
