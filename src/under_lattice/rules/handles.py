"""Handles: what of an open rule can be seen and dragged on the sheet; all points in the place of the rule."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any, Literal

import numpy as np

from under_lattice.core.errors import InputError
from under_lattice.geometry.affine import Array
from under_lattice.vary.numbers import Varied

Form = Literal["pivot", "tip", "bead", "frame", "point"]
NEAR_ANGLE = 3.0  # degrees within which a tidy angle is taken
TIDY_ANGLE = 15.0


@dataclass(frozen=True, eq=False)
class Handle:
    """One handle: its name, where it stands (2,), what is written beside it, and how it is drawn.

    One that belongs to another is seen while that, or one of its others, is picked; a thin line joins it to its `tail` (2,).
    """

    name: str
    at: Array
    words: str
    form: Form
    of: str = ""
    tail: Array | None = None


@dataclass(frozen=True, eq=False)
class Arrow:
    """A step, drawn from one point (2,) to another with its length and angle."""

    start: Array
    end: Array
    words: str


@dataclass(frozen=True, eq=False)
class HandleSet:
    """All handles of a rule.

    ghost is the motif's outline (V, 2), frame that of its first copy (V, 2); lines (k, 2) are thin, such as mirrors.
    """

    handles: tuple[Handle, ...]
    ghost: Array | None = None
    frame: Array | None = None
    arrows: tuple[Arrow, ...] = ()
    lines: tuple[Array, ...] = ()

    def shifted(self, by: Array) -> HandleSet:
        """Return all of them moved `by` (2,), in the unit of the work."""
        tails = [None if one.tail is None else one.tail + by for one in self.handles]
        handles = tuple(replace(one, at=one.at + by, tail=tail) for one, tail in zip(self.handles, tails, strict=True))
        arrows = tuple(Arrow(one.start + by, one.end + by, one.words) for one in self.arrows)
        ghost, frame = (None if ring is None else ring + by for ring in (self.ghost, self.frame))
        return HandleSet(handles, ghost, frame, arrows, tuple(line + by for line in self.lines))

    def seen(self, picked: str) -> tuple[Handle, ...]:
        """Return the handles that are seen while one is picked."""
        owner = next((one.of or one.name for one in self.handles if one.name == picked), "")
        return tuple(one for one in self.handles if not one.of or one.of == owner)


@dataclass(frozen=True, eq=False)
class Drag:
    """A handle on its way.

    Attributes
    ----------
    name : str
        Of the handle.
    to : (2,)
        Where it is now, in the place of the rule.
    near : float
        Lengths below this snap.
    free : bool
        Nothing snaps.
    whole : bool
        Angles keep to whole steps.
    grid : callable or None
        Gives the crossing of the construction grid that is nearest to a point (2,), in the place of the rule.
    """

    name: str
    to: Array
    near: float
    free: bool = False
    whole: bool = False
    grid: Callable[[Array], Array] | None = None

    def shifted(self, by: Array) -> Drag:
        """Return it in a place that lies `by` (2,) to this one, in the unit of the work."""
        grid = self.grid
        return replace(self, to=self.to - by, grid=None if grid is None else lambda at: grid(at + by) - by)

    def angle(self, degrees: float) -> float:
        """Return an angle within half a turn, snapped, in degrees."""
        degrees = (degrees + 180.0) % 360.0 - 180.0
        tidy = round(degrees / TIDY_ANGLE) * TIDY_ANGLE
        if self.whole or (not self.free and abs(degrees - tidy) < NEAR_ANGLE):
            return tidy
        return round(degrees, 2)

    def on_grid(self) -> Array:
        """Return the place (2,), on the construction grid where that is near."""
        to = self.to
        if self.grid is not None and not self.free:
            crossing = self.grid(to)
            to = crossing if np.hypot(*(crossing - to)) <= self.near else to
        return np.round(to, 3)

    def length(self, value: float, *tidy: float) -> float:
        """Return a length, snapped to any of the tidy ones, in the unit of the work."""
        for one in tidy:
            if not self.free and abs(value - one) < self.near:
                return one
        return round(value, 2)


def polar(vector: Array) -> tuple[float, float]:
    """Length and angle, degrees clockwise as seen, of a vector (2,)."""
    return float(np.hypot(*vector)), float(np.degrees(np.arctan2(vector[1], vector[0])))


def with_start(number: Any, value: float) -> Any:
    """Return a number with a new value; of one that varies, its start.

    Raises
    ------
    InputError
        When a formula says what it is.
    """
    if isinstance(number, Varied) and number.formula:
        raise InputError(f"this number follows the formula “{number.formula}”; change that, or let it stop varying")
    return number.model_copy(update={"start": value}) if isinstance(number, Varied) else value


def length_words(vector: Array, unit: str) -> str:
    """Return length and angle in words, in the given unit and degrees."""
    length, angle = polar(vector)
    return f"{length:.2f} {unit}, {angle:.0f}°" if abs(angle - round(angle)) < 0.05 else f"{length:.2f} {unit}, {angle:.1f}°"
