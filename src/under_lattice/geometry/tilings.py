"""The eleven edge-to-edge tilings by regular polygons, and their duals: the tiles of one cell, with sides of 1.

“Tilings and Patterns”, 1987, sections 2.1 and 2.7.
"""

from __future__ import annotations

from functools import cache
from itertools import combinations
from typing import Literal, NamedTuple, get_args

import numpy as np

from under_lattice.geometry.affine import Array

Configuration = Literal[
    "4.4.4.4", "3.3.3.3.3.3", "6.6.6", "4.8.8", "3.12.12", "3.6.3.6", "3.4.6.4", "4.6.12", "3.3.3.4.4", "3.3.4.3.4", "3.3.3.3.6"
]
CONFIGURATIONS: tuple[str, ...] = get_args(Configuration)
ROOT2, ROOT3 = float(np.sqrt(2)), float(np.sqrt(3))
NEAR = 1e-9


class Cell(NamedTuple):
    """What a tiling repeats: two vectors (2, 2), and the corners (V, 2) of each tile, the largest first."""

    vectors: Array
    tiles: tuple[Array, ...]


def _regular(sides: int, centre: Array, first: float) -> Array:
    angle = np.radians(first + 360 / sides * np.arange(sides))
    return centre + np.stack([np.cos(angle), np.sin(angle)], -1) / (2 * np.sin(np.pi / sides))


def _hexagonal(length: float) -> Array:
    return np.array([(length, 0.0), (length / 2, length * ROOT3 / 2)])


def _round_hexagons(length: float, sides: int, first: float, *, between: int, third: tuple[int, float, float]) -> Cell:
    """Large tiles on a hexagonal net, `between` (4, or 0 for none) them and at both thirds of the cell smaller ones."""
    vectors = _hexagonal(length)
    tiles = [_regular(sides, np.zeros(2), first)]
    ways = (vectors[0], vectors[1], vectors[1] - vectors[0]) if between else ()
    tiles += [_regular(between, way / 2, 45.0 + float(np.degrees(np.arctan2(way[1], way[0])))) for way in ways]
    small, one, other = third
    if small:
        tiles += [_regular(small, vectors.sum(0) * k / 3, turn) for k, turn in ((1, one), (2, other))]
    return Cell(vectors, tuple(tiles))


def _fill(cell: Cell) -> Cell:
    """Add the triangles that the corners of the other tiles leave between them."""
    places = np.array([i * cell.vectors[0] + j * cell.vectors[1] for i in range(-2, 3) for j in range(-2, 3)])
    corners = np.concatenate([tile[None] + places[:, None] for tile in cell.tiles], 1).reshape(-1, 2)
    corners = corners[np.unique(np.round(corners, 6), axis=0, return_index=True)[1]]
    near = corners[np.hypot(*corners.T) < 3.2]
    apart = np.abs(np.hypot(*(near[:, None] - near[None]).transpose(2, 0, 1)) - 1.0) < NEAR
    found = []
    for k in range(len(near)):
        for m, n in combinations(np.flatnonzero(apart[k] & (np.arange(len(near)) > k)), 2):
            if apart[m, n]:
                one, other = near[m] - near[k], near[n] - near[k]
                triangle = near[[k, m, n] if one[0] * other[1] > one[1] * other[0] else [k, n, m]]
                share = np.linalg.solve(cell.vectors.T, triangle.mean(0))
                if ((share > -0.5 - NEAR) & (share < 0.5 - NEAR)).all():
                    found.append(triangle)
    return Cell(cell.vectors, (*cell.tiles, *found))


@cache
def uniform(configuration: str) -> Cell:
    """Return the cell of the tiling with this vertex configuration."""
    none = (0, 0.0, 0.0)
    pointing, turned = (30.0, 210.0), (210.0, 30.0)
    if configuration == "4.4.4.4":
        return Cell(np.eye(2), (_regular(4, np.zeros(2), 45.0),))
    if configuration == "6.6.6":
        return Cell(_hexagonal(ROOT3), (_regular(6, np.zeros(2), 30.0),))
    if configuration == "3.3.3.3.3.3":
        vectors = _hexagonal(1.0)
        return Cell(vectors, tuple(_regular(3, vectors.sum(0) * (k / 3 - 0.5), first) for k, first in ((1, 210.0), (2, 30.0))))
    if configuration == "4.8.8":
        side = 1 + ROOT2
        return Cell(np.eye(2) * side, (_regular(8, np.zeros(2), 22.5), _regular(4, np.full(2, side / 2), 0.0)))
    if configuration == "3.12.12":
        return _round_hexagons(2 + ROOT3, 12, 15.0, between=0, third=(3, *pointing))
    if configuration == "3.6.3.6":
        return _round_hexagons(2.0, 6, 0.0, between=0, third=(3, *pointing))
    if configuration == "3.4.6.4":
        return _round_hexagons(1 + ROOT3, 6, 30.0, between=4, third=(3, *turned))
    if configuration == "4.6.12":
        return _round_hexagons(3 + ROOT3, 12, 15.0, between=4, third=(6, 0.0, 0.0))
    if configuration == "3.3.3.4.4":
        square = _regular(4, np.zeros(2), 45.0)
        return _fill(Cell(np.array([(1.0, 0.0), (0.5, 1 + ROOT3 / 2)]), (square,)))
    if configuration == "3.3.4.3.4":
        side = float(np.sqrt(2 + ROOT3))
        return _fill(Cell(np.eye(2) * side, (_regular(4, np.zeros(2), 60.0), _regular(4, np.full(2, side / 2), 30.0))))
    vectors = np.array([(2.5, ROOT3 / 2), (0.5, 1.5 * ROOT3)])
    return _fill(_round_hexagons(1.0, 6, 0.0, between=0, third=none)._replace(vectors=vectors))


@cache
def dual(configuration: str) -> Cell:
    """Return the cell of the dual: for each corner of the tiling a tile, from middle to middle of the tiles that meet there."""
    cell = uniform(configuration)
    places = np.array([i * cell.vectors[0] + j * cell.vectors[1] for i in range(-2, 3) for j in range(-2, 3)])
    patch = [tile + place for place in places for tile in cell.tiles]
    middles = np.array([tile.mean(0) for tile in patch])
    corners = np.concatenate(patch)
    share = np.linalg.solve(cell.vectors.T, corners.T).T
    inside = corners[((share > -0.5 - NEAR) & (share < 0.5 - NEAR)).all(1)]
    inside = inside[np.unique(np.round(inside, 6), axis=0, return_index=True)[1]]
    tiles = []
    for corner in inside:
        around = middles[[bool((np.hypot(*(tile - corner).T) < 1e-6).any()) for tile in patch]]
        away = around - corner
        tiles.append(around[np.argsort(np.arctan2(away[:, 1], away[:, 0]))])
    return Cell(cell.vectors, tuple(tiles))
