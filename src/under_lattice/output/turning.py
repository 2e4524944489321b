"""Ramps round a point as pictures, for formats that have no such ramp."""

from __future__ import annotations

import numpy as np

from under_lattice.colour.ramp import Ramp
from under_lattice.colour.texture import Texture
from under_lattice.geometry.affine import Array, apply, compose, inverse
from under_lattice.pattern.marks import Coat, Marks

SIDE = 1024  # px
FINER = 4  # looks at each pixel, across and down
ROOM = 1.02  # of what is painted, that the picture covers


def turning_picture(coat: Coat, ramp: Ramp, marks: Marks) -> Texture:
    """Return a ramp that runs round its middle as a picture of all that the marks show of it."""
    reach = max(_reach(coat, ramp, marks) * ROOM, 1e-9)
    at = (np.arange(SIDE * FINER) + 0.5) / (SIDE * FINER) * 2 - 1
    table = ramp.table()
    pixels = np.empty((SIDE, SIDE, 4), np.uint8)
    for row in range(SIDE):  # row by row, so that it stays small
        y = at[row * FINER : (row + 1) * FINER, None]
        u = np.arctan2(y, at[None]) / (2 * np.pi) % 1.0
        seen = table[np.rint(u * (len(table) - 1)).astype(np.int64)]
        pixels[row] = np.rint(seen.reshape(FINER, SIDE, FINER, 4).mean((0, 2)) * 255)
    onto = np.array([[0.5 / reach, 0.0, 0.5], [0.0, 0.5 / reach, 0.5]])
    return Texture(pixels, compose(onto, ramp.to_ramp), ramp.of_marks)


def _reach(coat: Coat, ramp: Ramp, marks: Marks) -> float:
    """How far from the middle of the ramp the marks go, in its own unit."""
    best = 0.0
    for k, family in enumerate(marks.families):
        own = np.flatnonzero((marks.family == k) & (marks.variant >= 0))
        if not len(own):
            continue
        corners = _corners(family.points)[marks.variant[own]]
        if coat.seat is not None:
            seat = np.broadcast_to(coat.seat, (marks.count, 2, 3))[own]
            corners = apply(inverse(seat), apply(marks.xform[own], corners))
        elif not ramp.of_marks:
            corners = apply(marks.xform[own], corners)
        best = max(best, float(np.hypot(*np.moveaxis(apply(ramp.to_ramp, corners.reshape(-1, 2)), -1, 0)).max()))
    return best


def _corners(points: Array) -> Array:
    """The corners (M, 4, 2) of boxes round outlines (M, K, 2)."""
    low, high = points.min(1), points.max(1)
    return np.stack([low, np.stack([high[:, 0], low[:, 1]], 1), high, np.stack([low[:, 0], high[:, 1]], 1)], 1)
