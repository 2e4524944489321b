"""Motif: superellipse, |x/a|^n + |y/b|^n = 1."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from under_lattice.declare.dials import Ratio
from under_lattice.geometry.affine import Array
from under_lattice.geometry.curves import Curve, hermite, pieces_for
from under_lattice.geometry.outline import CLOSE, CURVE, MOVE, Outline
from under_lattice.pattern.ask import largest
from under_lattice.rules.base import describe
from under_lattice.rules.shared.measure_spots import Spot, Values
from under_lattice.rules.shared.measured import ROUNDNESS, TURN, CurveMotif, Face, Grip, Numbers, extent
from under_lattice.vary.numbers import Number

BLUNT = 2.0  # from here on it is drawn by its direction, below by powers of sine and cosine


def _corner(values: Values) -> tuple[float, float]:
    """Where the outline crosses the diagonal of its box, up on the right."""
    share = 0.5 ** (100 / values["fullness"])
    return values["width"] / 2 * share, -values["width"] * values["roundness"] / 200 * share


class Superellipse(CurveMotif):
    """Between a star, a rhomb, an ellipse and a rectangle."""

    words: ClassVar[str] = "A superellipse: from pinched star by rhomb and ellipse to rectangle."
    search: ClassVar[str] = "squircle lame astroid rounded pillow"
    grips: ClassVar[tuple[Grip, ...]] = (Grip("width", 0.0),)
    spots: ClassVar[tuple[Spot, ...]] = (
        Spot("roundness", lambda n: (0.0, n["width"] * n["roundness"] / 200)),
        Spot("fullness", _corner),
    )

    kind: Literal["superellipse"] = "superellipse"
    width: Annotated[Number, extent("Width", "From side to side.")] = 30.0
    roundness: Annotated[Number, ROUNDNESS] = 100.0
    fullness: Annotated[
        Number,
        Ratio(
            "Fullness",
            "100 % is a rhomb, 200 % an ellipse; below it is pinched, above it comes near a rectangle.",
            least=40.0,
            most=2000.0,
            vary=True,
            slides=(50, 800),
        ),
    ] = 350.0
    turn: Annotated[float, TURN] = 0.0

    def pieces(self) -> int:
        """Return how many cubics a quarter takes, at the fullest, the thinnest and the start."""
        numbers, found = self.numbers(), 2
        for n in {float(v) for v in _ends(numbers["fullness"])}:
            most = {name: np.array([float(largest(number))]) for name, number in numbers.items()} | {"fullness": np.array([n])}
            found = max(found, pieces_for(self.curve(most), 0.0, np.pi / 2, 2))
        return found

    def curve(self, numbers: Numbers) -> Curve:
        """Return the first quarter, from the right downwards."""
        n = (numbers["fullness"] / 100)[:, None]
        half = np.stack([numbers["width"], numbers["width"] * numbers["roundness"] / 100], -1)[:, None] / 2
        return lambda t: _quarter(t, n, half)

    def faces(self, numbers: Numbers) -> tuple[Face, ...]:
        """Return four quarters, each a mirrored first one."""
        pieces = self.pieces()
        first = hermite(self.curve(numbers), 0.0, np.pi / 2, pieces)
        first[:, 0, 1] = first[:, -1, 0] = 0.0
        back = first[:, -2::-1]
        quarters = first, back * (-1, 1), first[:, 1:] * (-1, -1), back * (1, -1)
        return ((bytes([MOVE] + [CURVE] * (4 * pieces) + [CLOSE]), np.concatenate(quarters, 1)),)

    def body(self, faces: tuple[Face, ...]) -> Outline:
        """Return the outline itself, which does not cross itself."""
        return Outline(faces[0][1][0], faces[0][0])

    def key_line(self, unit: str) -> str:
        """Return width and fullness."""
        return f"Superellipse, {describe(self.width, unit)} wide, {describe(self.fullness, '%', 0)} full"


def _ends(number: Number) -> tuple[float, ...]:
    return (number.start, number.end, *number.taken) if not isinstance(number, (int, float)) else (float(number),)


def _quarter(t: Array, n: Array, half: Array) -> tuple[Array, Array]:
    """Places and derivatives (M, N, 2) from the right (t = 0) to below (t = pi/2)."""
    cos, sin = np.clip(np.cos(t), 0.0, 1.0)[None], np.clip(np.sin(t), 0.0, 1.0)[None]
    low, high = np.minimum(n, BLUNT), np.maximum(n, BLUNT)
    e = 2 / low  # at least 1
    x, y = cos**e, sin**e
    dx, dy = -e * cos ** (e - 1) * sin, e * sin ** (e - 1) * cos
    sum_ = cos**high + sin**high  # by direction: r = (cos^n + sin^n)^(-1/n)
    r = sum_ ** (-1 / high)
    slope = -(r / sum_) * (sin ** (high - 1) * cos - cos ** (high - 1) * sin)
    blunt = n > BLUNT
    x, dx = np.where(blunt, r * cos, x), np.where(blunt, slope * cos - r * sin, dx)
    y, dy = np.where(blunt, r * sin, y), np.where(blunt, slope * sin + r * cos, dy)
    return np.stack([x, y], -1) * half, np.stack([dx, dy], -1) * half
