"""Strokes of a soft brush that paint a mask, as text: one on each line, in the unit of the work, so that any size is sharp."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from functools import lru_cache
from typing import ClassVar, NamedTuple

import numpy as np
import shapely

from under_lattice.core.errors import InputError
from under_lattice.core.units import short
from under_lattice.declare.dials import Dial
from under_lattice.geometry.affine import Array, frozen

STROKES_MOST, POINTS_MOST = 500, 2_000
TEXT_MOST = 2_000_000  # letters
STRAY = 0.02  # of the brush, by which what is kept of a stroke may be beside what was drawn
WORDS = {"hides": True, "shows": False}


class MaskStroke(NamedTuple):
    """A stroke of a brush `size` wide along points (n, 2), in the unit of the work; shares of it are soft and how much it does.

    pressure (n,) is the share of its size it has at each point, 0..1; None where it is as wide all along.
    """

    points: Array
    size: float
    soft: float
    strength: float
    hides: bool
    pressure: Array | None = None


@lru_cache(maxsize=32)
def strokes_of_text(text: str) -> tuple[MaskStroke, ...]:
    """Return the strokes a text means, in the order they were painted.

    Raises
    ------
    InputError
        Says on which line what cannot be read.
    """
    if len(text) > TEXT_MOST:
        raise InputError("there are far too many strokes")
    lines = [line for line in text.splitlines() if line.strip()]
    if len(lines) > STROKES_MOST:
        raise InputError(f"a mask has at most {STROKES_MOST} strokes; there are {len(lines)}")
    return tuple(_stroke(line, k) for k, line in enumerate(lines, 1))


def _stroke(line: str, k: int) -> MaskStroke:
    head, colon, tail = line.partition(":")
    words = head.split()
    try:
        hides, numbers = WORDS[words[0]], [float(one) for one in words[1:]]
        points = np.array([[float(v) for v in one.split(",")] for one in tail.split()], float)
        size, soft, strength = numbers
    except (ValueError, IndexError, KeyError):
        raise InputError(f"stroke {k} cannot be read; it is like hides 20 60 100: 0,0 5,8") from None
    if not colon or points.ndim != 2 or points.shape[1] not in (2, 3) or not 1 <= len(points) <= POINTS_MOST:
        raise InputError(f"stroke {k} needs from 1 to {POINTS_MOST} places, each an x and a y, or an x, a y and the pressure there")
    sane = np.isfinite(points).all() and np.abs(points).max() < 1e7 and 0 < size < 1e6
    pressure = points[:, 2] / 100 if points.shape[1] == 3 else None
    pressed = pressure is None or bool((pressure >= 0).all() and (pressure <= 1).all())
    if not sane or not pressed or not 0 <= soft <= 100 or not 0 <= strength <= 100:
        raise InputError(f"stroke {k} has a number that is not allowed")
    return MaskStroke(
        frozen(points[:, :2]), size, soft / 100, strength / 100, hides, None if pressure is None else frozen(pressure)
    )


def text_of_strokes(strokes: Iterable[MaskStroke], digits: int = 3) -> str:
    """Return strokes as text."""
    out = []
    for stroke in strokes:
        places = [f"{short(float(x), digits)},{short(float(y), digits)}" for x, y in stroke.points]
        if stroke.pressure is not None:
            places = [f"{at},{short(100 * float(share), 1)}" for at, share in zip(places, stroke.pressure, strict=True)]
        word = "hides" if stroke.hides else "shows"
        numbers = f"{short(stroke.size, digits)} {short(100 * stroke.soft, 1)} {short(100 * stroke.strength, 1)}"
        out.append(f"{word} {numbers}: {' '.join(places)}")
    return "\n".join(out)


def stroke_along(line: Array, size: float, soft: float, strength: float, hides: bool) -> MaskStroke:
    """Return a stroke along a drawn line, with as few places as keep near to it.

    Parameters
    ----------
    line : array (n, 2 or 3)
        Where it goes, and the pressure there, 0..1, where a tablet gives it.
    size, soft, strength : float
        In the unit of the work, and in per cent.
    hides : bool
    """
    points = np.asarray(line, float)
    pressure = np.clip(points[:, 2], 0.0, 1.0) if points.shape[1] == 3 and np.ptp(points[:, 2]) > 0 else None
    points = points[:, :2]
    if len(points) > 2:
        keep = _kept(points, STRAY * size)
        if pressure is not None:
            way = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))])
            keep = np.union1d(keep, _kept(np.stack([way, pressure * size], 1), STRAY * size))
        keep = keep[np.linspace(0, len(keep) - 1, POINTS_MOST).astype(int)] if len(keep) > POINTS_MOST else keep
        points, pressure = points[keep], None if pressure is None else pressure[keep]
    return MaskStroke(points, size, soft / 100, strength / 100, hides, pressure)


def _kept(points: Array, stray: float) -> Array:
    """Which points of a line (n, 2) are enough to keep that near to it; simplifying keeps what is told of each."""
    numbered = np.column_stack([points, np.arange(len(points))])
    found = shapely.get_coordinates(shapely.simplify(shapely.LineString(numbered), stray), include_z=True)
    return found[:, 2].astype(int)


@dataclass(frozen=True)
class PaintedMask(Dial):
    """The strokes of a painted mask as text."""

    kind: ClassVar[str] = "strokes"

    def check(self, value: str) -> str:
        """Hold to strokes that can be read.

        Raises
        ------
        InputError
        """
        strokes_of_text(value)
        return value

    def in_unit(self, value: str, factor: float) -> str:
        """Return the strokes in another unit."""
        strokes = strokes_of_text(value)
        return text_of_strokes((one._replace(points=one.points * factor, size=one.size * factor) for one in strokes), 6)
