"""Profiles of edges: how far a bent edge lies aside, from its beginning (0) to its end (1), in parts of the greatest push."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from under_lattice.core.errors import InputError
from under_lattice.core.units import parted
from under_lattice.geometry.affine import Array
from under_lattice.geometry.outline import CURVE, LINE
from under_lattice.geometry.path import line_through

ROOT = 2 * np.sqrt(3)  # handles of a cubic whose greatest height is 1, at t = (3 - sqrt 3) / 6
DRAWN_MOST = 24


@dataclass(frozen=True, eq=False)
class Profile:
    """Points (K, 2) of t and height after the beginning, in the order of a contour: lines, or cubics of three points each."""

    verb: int
    points: Array

    @property
    def turned(self) -> Array:
        """The same seen from the far end: t runs the other way, along the edge from 0 to 1."""
        whole = np.concatenate([[(0.0, 0.0)], self.points])[::-1]
        return np.asarray(np.stack([1 - whole[1:, 0], whole[1:, 1]], -1))

    @property
    def pieces(self) -> int:
        """How many lines or cubics."""
        return len(self.points) // (3 if self.verb == CURVE else 1)


def read_drawn(text: str) -> Array:
    """Return places (n, 2), parts of the edge and of the push, of a text in per cent: ``25 60; 60 -40``.

    Raises
    ------
    InputError
    """
    rows = []
    for part in (p.strip() for p in text.split(";") if p.strip()):
        try:
            words = parted(part)
            t, height = (float(one.replace(",", ".")) for one in (words if len(words) > 1 else part.split(",")))
        except ValueError:
            raise InputError(f"“{part[:20]}” is not a place; write two numbers such as 25 60", "Drawn") from None
        rows.append((t / 100, height / 100))
    if not 1 <= len(rows) <= DRAWN_MOST:
        raise InputError(f"a drawn profile has from 1 to {DRAWN_MOST} places, with semicolons between", "Drawn")
    places = np.array(rows)
    if not (np.diff([0.0, *places[:, 0], 1.0]) > 1e-6).all():
        raise InputError("places go along the edge, each further than the one before, between 0 and 100", "Drawn")
    if np.abs(places[:, 1]).max() > 10:
        raise InputError("heights go from -1000 to 1000", "Drawn")
    return places


@lru_cache(maxsize=64)
def profile_of(name: str, teeth: int = 4, drawn: str = "50 100", smooth: bool = True) -> Profile:
    """Return a profile by name: S, bow, peak, sawtooth, step or drawn.

    Raises
    ------
    InputError
    """
    if name == "S":
        return Profile(CURVE, np.array([(1 / 3, ROOT), (2 / 3, -ROOT), (1.0, 0.0)]))
    if name == "bow":  # a parabola: both handles at 4/3
        return Profile(CURVE, np.array([(1 / 3, 4 / 3), (2 / 3, 4 / 3), (1.0, 0.0)]))
    if name == "peak":
        return Profile(LINE, np.array([(0.5, 1.0), (1.0, 0.0)]))
    if name == "sawtooth":
        steps = [(k + 0.8, 1.0) if up else (k + 1.0, 0.0) for k in range(teeth) for up in (True, False)]
        return Profile(LINE, np.array(steps) / (teeth, 1))
    if name == "step":
        return Profile(LINE, np.array([(0.25, 0.0), (0.25, 1.0), (0.75, 1.0), (0.75, 0.0), (1.0, 0.0)]))
    line = line_through(np.concatenate([[(0.0, 0.0)], read_drawn(drawn), [(1.0, 0.0)]]), False, smooth)
    return Profile(CURVE if smooth else LINE, line.points[1:])
