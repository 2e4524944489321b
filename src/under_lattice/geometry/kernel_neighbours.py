"""Compiled kernel: the nearest of some points to some places, by a grid of cells that hold few points each."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from under_lattice.core.kernel_compiler import njit

IN_CELL = 2.0  # points in each cell, on the average


@njit(nogil=True, cache=True)
def grid(points: Any, cells: Any, order: Any, begin: Any, across: int, down: int, left: float, top: float, cell: float) -> int:
    """Sort points (n, 2) into cells: `order` (n,) lists them cell by cell, from `begin` (across * down + 1) on.

    `cells` (n,) is room. Returns how many points the fullest cell holds.
    """
    for k in range(len(points)):
        x = min(across - 1, max(0, int((points[k, 0] - left) / cell)))
        y = min(down - 1, max(0, int((points[k, 1] - top) / cell)))
        cells[k] = y * across + x
        begin[cells[k] + 1] += 1
    most = 0
    for c in range(across * down):
        most = max(most, begin[c + 1])
        begin[c + 1] += begin[c]
    filled = np.zeros(across * down, np.int64)
    for k in range(len(points)):
        order[begin[cells[k]] + filled[cells[k]]] = k
        filled[cells[k]] += 1
    return most


@njit(nogil=True, cache=True)
def nearest(
    points: Any, order: Any, begin: Any, across: int, down: int, left: float, top: float, cell: float, places: Any, out: Any
) -> None:
    """Write which points are nearest to each place (m, 2), nearest first (m, k); there are at least k.

    Cells are looked through ring by ring, until no point beyond them can be nearer.
    """
    count = out.shape[1]
    away = np.empty(count)
    for p in range(len(places)):
        px, py = places[p, 0], places[p, 1]
        x = min(across - 1, max(0, int((px - left) / cell)))
        y = min(down - 1, max(0, int((py - top) / cell)))
        edge = min(px - left - x * cell, py - top - y * cell, (x + 1) * cell - (px - left), (y + 1) * cell - (py - top))
        found, ring = 0, 0
        while ring <= max(across, down):
            for cy in range(max(0, y - ring), min(down - 1, y + ring) + 1):
                whole = cy == y - ring or cy == y + ring
                for cx in range(max(0, x - ring), min(across - 1, x + ring) + 1):
                    if not whole and cx != x - ring and cx != x + ring:
                        continue
                    for at in range(begin[cy * across + cx], begin[cy * across + cx + 1]):
                        k = order[at]
                        dx, dy = points[k, 0] - px, points[k, 1] - py
                        far = dx * dx + dy * dy
                        if found == count and far >= away[count - 1]:
                            continue
                        slot = min(found, count - 1)
                        while slot > 0 and away[slot - 1] > far:
                            away[slot], out[p, slot] = away[slot - 1], out[p, slot - 1]
                            slot -= 1
                        away[slot], out[p, slot] = far, k
                        found = min(found + 1, count)
            sure = ring * cell + edge
            if found == count and sure > 0.0 and math.sqrt(away[count - 1]) <= sure:
                break
            ring += 1
