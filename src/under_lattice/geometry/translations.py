"""Lattices of translations: their shortest vectors, what two have in common, the rectangles they hold, whole pixels for these.

A lattice is given by one or two independent vectors as rows (k, 2), in the unit of the work; all their whole multiples and sums
are its translations.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from under_lattice.geometry.affine import Array

SAME = 1e-7  # of the shorter vector, by which two translations may differ and are one
MULTIPLES = 60  # repeats of either lattice within which what they have in common is looked for
LEAST = 0.8  # of the px asked for, that a picture has at least
CELLS_MOST = 600  # smallest cells that a rectangle may be made of
NOTHING = np.zeros((0, 2))


class Oblong(NamedTuple):
    """Two translations nearest to the sides of an upright rectangle: `across` (2,) and `down` (2,); the sides they stand for.

    `miss` is by how much they are beside those sides at most, in the unit of the work; 0 where they lie on them.
    """

    across: Array
    down: Array
    miss: float

    @property
    def width(self) -> float:
        """Of the rectangle, in the unit of the work."""
        return float(self.across[0])

    @property
    def height(self) -> float:
        """Of the rectangle, in the unit of the work."""
        return float(self.down[1])


class Pixels(NamedTuple):
    """A rectangle in whole px, and by how much, of 1, its height is out of proportion to its width."""

    width: int
    height: int
    error: float


def reduced(basis: Array) -> Array:
    """Return the shortest vectors (k, 2) of a lattice, by Lagrange and Gauss; level ones before others as long, right or down."""
    out = np.asarray(basis, float).reshape(-1, 2).copy()
    for _ in range(200 if len(out) == 2 else 0):
        if np.dot(out[0], out[0]) > np.dot(out[1], out[1]):
            out = out[::-1].copy()
        share = round(float(np.dot(out[0], out[1]) / np.dot(out[0], out[0])))
        if not share:
            break
        out[1] -= share * out[0]
    if not len(out):
        return out
    size = np.hypot(*out.T).min()
    every = np.array([out[0]] if len(out) == 1 else [out[0], out[1], out[0] + out[1], out[0] - out[1]])
    every[np.abs(every) < SAME * size] = 0.0
    every *= np.where((every[:, :1] < 0) | ((every[:, :1] == 0) & (every[:, 1:] < 0)), -1.0, 1.0)
    every = every[np.lexsort((np.abs(every[:, 1]), np.rint(np.hypot(*every.T) / (SAME * size))))][: len(out)]
    return np.asarray(every[np.argsort(np.abs(every[:, 1]) / np.hypot(*every.T), kind="stable")])


def common(one: Array, other: Array) -> Array:
    """Return the translations two lattices have in common, as a lattice (k, 2); none within `MULTIPLES` repeats: (0, 2).

    With B the basis of the one as columns, those sums v of the vectors of the other for which B⁻¹v is whole; Hermite's normal form
    makes a basis of them.
    """
    if len(one) < len(other):
        one, other = other, one
    if not len(other):
        return NOTHING
    reach = np.arange(-MULTIPLES, MULTIPLES + 1)
    z = np.stack(np.meshgrid(*[reach] * len(other), indexing="ij"), -1).reshape(-1, len(other))
    there = z @ other
    away = there - np.rint(there @ np.linalg.pinv(one)) @ one
    z = z[(np.hypot(*away.T) < SAME * np.hypot(*one.T).min()) & z.any(1)]
    if not len(z):
        return NOTHING
    if np.linalg.matrix_rank(z) == 1:
        found = z @ other
        return reduced(found[np.argmin(np.hypot(*found.T))][None])
    return reduced(_hermite(z) @ other)


def _hermite(vectors: Array) -> Array:
    """Return a basis (2, 2) of the lattice that whole vectors (m, 2) make: Euclid's steps on the first figures, then the second."""
    rows = [row for row in vectors.astype(int).tolist() if any(row)]
    first, rest = [0, 0], list[list[int]]()
    for row in rows:
        while row[0]:
            share = first[0] // row[0]
            first, row = row, [first[0] - share * row[0], first[1] - share * row[1]]
        rest.append(row)
    second = int(np.gcd.reduce([row[1] for row in rest])) if rest else 0
    return np.array([first, [0, second]], float)


def nearest_miss(one: Array, other: Array, most: int = 12) -> tuple[Array, Array]:
    """Return a translation of each of two lattices (2,) that nearly agree within some repeats, along the side that agrees least."""
    nearest = [min((_near(k * vector, other) for k in range(1, most + 1)), key=_apart) for vector in one]
    return max(nearest, key=_apart)


def _near(row: Array, other: Array) -> tuple[Array, Array]:
    """A translation (2,), and the nearest one of a lattice that is not nothing."""
    whole = np.rint(row @ np.linalg.pinv(other))
    near = whole @ other
    return row, near if near.any() else other[0]


def _apart(pair: tuple[Array, Array]) -> float:
    """How far two translations are apart, as a share of the first."""
    return round(float(np.hypot(*(pair[1] - pair[0])) / np.hypot(*pair[0])), 9)  # so that of equals the first is taken


def oblong(basis: Array) -> Oblong:
    """Return the smallest upright rectangle a lattice (2, 2) holds, or where that would be large the one nearest to being upright.

    Parameters
    ----------
    basis : array (2, 2)
        Reduced.
    """
    size, area = np.hypot(*basis.T).min(), abs(np.linalg.det(basis))
    reach = np.arange(-MULTIPLES, MULTIPLES + 1)
    z = np.stack(np.meshgrid(reach, reach, indexing="ij"), -1).reshape(-1, 2)
    every = z @ basis
    sides = [_side(every, axis, size) for axis in (0, 1)]
    exact = [side[np.abs(side[:, 1 - axis]) < SAME * size] for axis, side in enumerate(sides)]
    if all(map(len, exact)) and exact[0][0, 0] * exact[1][0, 1] < CELLS_MOST * area:
        across, down = exact[0][0].copy(), exact[1][0].copy()
        across[1] = down[0] = 0.0
        return Oblong(across, down, 0.0)
    longest = float(np.sqrt(CELLS_MOST * area))
    across, down = (_nearest(side[side[:, axis] <= longest], axis) for axis, side in enumerate(sides))
    return Oblong(across, down, float(max(abs(across[1]), abs(down[0]))))


def _side(every: Array, axis: int, size: float) -> Array:
    """The translations (m, 2) that go along an axis more than aside, the shortest first."""
    along = every[every[:, axis] > np.maximum(np.abs(every[:, 1 - axis]), SAME * size)]
    return np.asarray(along[np.argsort(along[:, axis], kind="stable")])


def _nearest(side: Array, axis: int) -> Array:
    """That of some translations which leans least; of those that lean about as little, the shortest."""
    lean = np.abs(side[:, 1 - axis] / side[:, axis])
    return np.asarray(side[np.flatnonzero(lean <= 1.05 * lean.min() + 1e-12)[0]])


def whole_pixels(width: float, height: float, most: int) -> Pixels:
    """Return the whole px, at most so many across and not much fewer, whose proportions are nearest to those of a rectangle.

    Hexagons side by side, 1 to √3, at most 120 across: 97 by 168, 0.0053 %.
    """
    most = max(1, int(most))
    across = np.arange(max(1, int(np.ceil(LEAST * most))), most + 1)
    down = np.maximum(1, np.rint(across * (height / width)))
    error = np.abs(down / across * (width / height) - 1)
    best = int(np.flatnonzero(error <= error.min() + 1e-12)[-1])
    return Pixels(int(across[best]), int(down[best]), float(error[best]))
