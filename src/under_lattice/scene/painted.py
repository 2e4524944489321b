"""What masks are made of besides layers: a sheet filled with a ramp, and strokes of a soft brush."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import groupby

import numpy as np

from under_lattice.colour.colour import bytes_of
from under_lattice.colour.ramp import Ramp
from under_lattice.colour.texture import Texture
from under_lattice.declare.mask_strokes import MaskStroke
from under_lattice.geometry.affine import IDENTITY, Array
from under_lattice.geometry.outline import LINE, MOVE, polygon_verbs
from under_lattice.pattern.marks import Coat, Marks, Picture
from under_lattice.pattern.stage import Family

RINGS = 32  # strokes of different widths that make one soft edge


def over_sheet(
    width: float,
    height: float,
    paint: Ramp | Texture | None = None,
    colour: str = "#FFFFFF",
    middle: tuple[float, float] = (0.0, 0.0),
) -> Picture:
    """Return the whole sheet in one colour, or filled with a ramp or a picture; or as much of it about another middle."""
    x, y = width / 2, height / 2
    points = np.array([[(-x, -y), (x, -y), (x, y), (-x, y)]]) + np.array(middle)
    one = np.zeros(1, np.int32)
    marks = Marks((Family(polygon_verbs(4), points, one),), one, one, IDENTITY[None], one)
    return Picture(marks, (Coat(bytes_of((colour,)), np.zeros((1, 4), np.uint8), np.zeros(1), paint=paint),))


def painted(strokes: Sequence[MaskStroke]) -> list[Picture]:
    """Return pictures of strokes in black and white, the last ones first; those that follow each other in one colour are one."""
    return [_picture(list(run), hides) for hides, run in groupby(strokes, lambda stroke: stroke.hides)][::-1]


def _picture(strokes: list[MaskStroke], hides: bool) -> Picture:
    """Strokes of one colour: each is drawn in ever narrower widths that add up to its soft edge."""
    count = len(strokes)
    most = max(2, *(len(stroke.points) for stroke in strokes)) if strokes else 2
    points = np.stack([_padded(stroke.points, most, stroke.size) for stroke in strokes])
    which = np.arange(count, dtype=np.int32)
    family = Family(bytes([MOVE] + [LINE] * (most - 1)), points, which)
    marks = Marks((family,), np.zeros(count, np.int32), which, np.broadcast_to(IDENTITY, (count, 2, 3)), which)
    size, soft, strength = (np.array([getattr(one, name) for one in strokes]) for name in ("size", "soft", "strength"))
    done, coats = np.zeros(count), []
    for k in range(1, RINGS + 1):
        share = k / RINGS
        wanted = strength * np.where(soft > 0, share * share * (3 - 2 * share), 1.0)
        alpha = np.rint(255 * np.clip(1 - (1 - wanted) / np.maximum(1 - done, 1e-9), 0.0, 1.0)) / 255
        alpha = np.where(done >= 1.0, 0.0, alpha)
        done = 1 - (1 - done) * (1 - alpha)
        ink = np.zeros((count, 4), np.uint8) if hides else np.full((count, 4), 255, np.uint8)
        ink[:, 3] = np.rint(255 * alpha)
        width = size * (1 - soft * (share - 0.5 / RINGS))
        coats.append(Coat(np.zeros((1, 4), np.uint8), ink, np.maximum(width, 1e-6), "round", "round"))
    return Picture(marks, tuple(coats))


def _padded(points: Array, most: int, size: float) -> Array:
    """Points (most, 2), the last repeated; a single spot is a line of next to no length, so that it has round ends."""
    if len(points) == 1 or not np.ptp(points, 0).any():
        points = np.array([points[0], points[0] + (1e-4 * size, 0.0)])
    return np.concatenate([points, np.repeat(points[-1:], most - len(points), 0)])
