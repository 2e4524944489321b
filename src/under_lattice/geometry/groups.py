"""Symmetry groups of the plane by their crystallographic names: general positions as in International Tables for Crystallography A.

Each operation is a whole matrix (2, 2) and a shift (2,), in parts of the cell's two vectors.
"""

from __future__ import annotations

from typing import Literal

import numpy as np

from under_lattice.geometry.affine import Array

Plane = Literal[
    "p1", "p2", "pm", "pg", "cm", "pmm", "pmg", "pgg", "cmm", "p4", "p4m", "p4g", "p3", "p3m1", "p31m", "p6", "p6m"
]  # fmt: skip
Frieze = Literal["p1", "p11g", "p1m1", "p2", "p2mg", "p11m", "p2mm"]
_HALF = 0.5
Operation = tuple[tuple[int, int, int, int], tuple[float, float]]
_TWO: list[Operation] = [((-1, 0, 0, -1), (0, 0))]
_THREE: list[Operation] = [((0, -1, 1, -1), (0, 0)), ((-1, 1, -1, 0), (0, 0))]
_FOUR: list[Operation] = [*_TWO, ((0, -1, 1, 0), (0, 0)), ((0, 1, -1, 0), (0, 0))]
_SIX: list[Operation] = [*_THREE, *_TWO, ((0, 1, -1, 1), (0, 0)), ((1, -1, 1, 0), (0, 0))]
_M1: list[Operation] = [((0, -1, -1, 0), (0, 0)), ((-1, 1, 0, 1), (0, 0)), ((1, 0, 1, -1), (0, 0))]
_1M: list[Operation] = [((0, 1, 1, 0), (0, 0)), ((1, -1, 0, -1), (0, 0)), ((-1, 0, -1, 1), (0, 0))]
_UPRIGHT, _LEVEL = (-1, 0, 0, 1), (1, 0, 0, -1)
_MM: list[Operation] = [*_TWO, (_UPRIGHT, (0, 0)), (_LEVEL, (0, 0))]
_PLANE: dict[str, list[Operation]] = {
    "p1": [],
    "p2": _TWO,
    "pm": [(_UPRIGHT, (0, 0))],
    "pg": [(_UPRIGHT, (0, _HALF))],
    "cm": [(_UPRIGHT, (0, 0))],
    "pmm": _MM,
    "pmg": [*_TWO, (_UPRIGHT, (_HALF, 0)), (_LEVEL, (_HALF, 0))],
    "pgg": [*_TWO, (_UPRIGHT, (_HALF, _HALF)), (_LEVEL, (_HALF, _HALF))],
    "cmm": _MM,
    "p4": _FOUR,
    "p4m": [*_FOUR, (_UPRIGHT, (0, 0)), (_LEVEL, (0, 0)), ((0, 1, 1, 0), (0, 0)), ((0, -1, -1, 0), (0, 0))],
    "p4g": [
        *_FOUR,
        *((matrix, (_HALF, _HALF)) for matrix in (_UPRIGHT, _LEVEL, (0, 1, 1, 0), (0, -1, -1, 0))),
    ],
    "p3": _THREE,
    "p3m1": [*_THREE, *_M1],
    "p31m": [*_THREE, *_1M],
    "p6": _SIX,
    "p6m": [*_SIX, *_M1, *_1M],
}
_FRIEZE: dict[str, list[Operation]] = {
    "p1": [],
    "p11g": [(_LEVEL, (_HALF, 0))],
    "p1m1": [(_UPRIGHT, (0, 0))],
    "p2": _TWO,
    "p2mg": [*_TWO, (_UPRIGHT, (_HALF, 0)), (_LEVEL, (_HALF, 0))],
    "p11m": [(_LEVEL, (0, 0))],
    "p2mm": _MM,
}
CENTRED = ("cm", "cmm")
SQUARE = ("p4", "p4m", "p4g")
HEXAGONAL = ("p3", "p3m1", "p31m", "p6", "p6m")
OBLIQUE = ("p1", "p2")


def operations(group: str, frieze: bool = False) -> list[Operation]:
    """Return the operations of a group in one cell, the identity first; a centred cell has those of its middle as well."""
    found: list[Operation] = [((1, 0, 0, 1), (0, 0)), *(_FRIEZE if frieze else _PLANE)[group]]
    if not frieze and group in CENTRED:
        found += [(matrix, (shift[0] + _HALF, shift[1] + _HALF)) for matrix, shift in found]
    return found


def cell_of(group: str, width: float, height: float, angle: float) -> Array:
    """Return the cell's two vectors as columns (2, 2); square and hexagonal groups take the width alone."""
    if group in SQUARE:
        height, angle = width, 90.0
    elif group in HEXAGONAL:
        height, angle = width, 120.0
    elif group not in OBLIQUE:
        angle = 90.0
    turn = np.radians(angle)
    return np.array([(width, height * np.cos(turn)), (0.0, height * np.sin(turn))])


def maps_of(group: str, cell: Array, frieze: bool = False) -> Array:
    """Return the operations (k, 2, 3) in real lengths, about the cell's corner."""
    back = np.linalg.inv(cell)
    out = np.empty((0, 2, 3))
    for matrix, shift in operations(group, frieze):
        linear = cell @ np.array(matrix, float).reshape(2, 2) @ back
        out = np.concatenate([out, np.concatenate([linear, (cell @ np.array(shift))[:, None]], 1)[None]])
    return out


def mirror_lines(maps: Array) -> list[tuple[Array, Array, bool]]:
    """Return a point (2,), a direction (2,) and whether it is a glide, for each reflection among maps (k, 2, 3)."""
    found = []
    for one in maps:
        linear, shift = one[:, :2], one[:, 2]
        if np.linalg.det(linear) > 0:
            continue
        along = linear @ (1.0, 0.0) + (1.0, 0.0)
        if np.hypot(*along) < 1e-6:
            along = linear @ (0.0, 1.0) + (0.0, 1.0)
        along = along / np.hypot(*along)
        glide = float(shift @ along)
        found.append((np.asarray((shift - glide * along) / 2), np.asarray(along), abs(glide) > 1e-9))
    return found
