"""What masks are made of besides layers: a sheet filled with a ramp, and strokes of a soft brush."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import groupby

import numpy as np
import shapely

from under_lattice.colour.colour import bytes_of
from under_lattice.colour.ramp import Ramp
from under_lattice.colour.texture import Texture
from under_lattice.declare.mask_strokes import MaskStroke
from under_lattice.geometry.affine import IDENTITY, Array
from under_lattice.geometry.outline import LINE, MOVE, polygon_verbs
from under_lattice.pattern.marks import Coat, Marks, Picture
from under_lattice.pattern.stage import Family

RINGS = 32  # strokes of different widths that make one soft edge
SPOTS = 300  # places at most of a stroke whose width follows the pressure
ROUND = 24  # sides of the polygon that stands for the brush where the pressure varies


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
    out = list[Picture]()
    for (hides, pressed), run in groupby(strokes, lambda stroke: (stroke.hides, stroke.pressure is not None)):
        together = list(run)
        out += [_pressed(one) for one in together] if pressed else [_picture(together, hides)]
    return out[::-1]


def _picture(strokes: list[MaskStroke], hides: bool) -> Picture:
    """Strokes of one colour: each is drawn in ever narrower widths that add up to its soft edge."""
    count = len(strokes)
    most = max(2, *(len(stroke.points) for stroke in strokes)) if strokes else 2
    points = np.stack([_padded(stroke.points, most, stroke.size) for stroke in strokes])
    which = np.arange(count, dtype=np.int32)
    family = Family(bytes([MOVE] + [LINE] * (most - 1)), points, which)
    marks = Marks((family,), np.zeros(count, np.int32), which, np.broadcast_to(IDENTITY, (count, 2, 3)), which)
    size, soft, strength = (np.array([getattr(one, name) for one in strokes]) for name in ("size", "soft", "strength"))
    width, alpha = _rings(soft, strength)
    clear = np.zeros((1, 4), np.uint8)
    coats = tuple(Coat(clear, _ink(alpha[k], hides), np.maximum(size * width[k], 1e-6), "round", "round") for k in range(RINGS))
    return Picture(marks, coats)


def _rings(soft: Array, strength: Array) -> tuple[Array, Array]:
    """The widths of rings (RINGS, n), as shares of the brush, and alphas in whole bytes; one over the other they make its edge."""
    done, widths, alphas = np.zeros(len(soft)), [], []
    for k in range(1, RINGS + 1):
        share = k / RINGS
        wanted = strength * np.where(soft > 0, share * share * (3 - 2 * share), 1.0)
        alpha = np.rint(255 * np.clip(1 - (1 - wanted) / np.maximum(1 - done, 1e-9), 0.0, 1.0)) / 255
        alpha = np.where(done >= 1.0, 0.0, alpha)
        done = 1 - (1 - done) * (1 - alpha)
        alphas.append(np.rint(255 * alpha))
        widths.append(1 - soft * (share - 0.5 / RINGS))
    return np.array(widths), np.array(alphas)


def _ink(alpha: Array, hides: bool) -> Array:
    """Black, or white, of alphas (n,) in whole bytes."""
    ink = np.full((len(alpha), 4), 0 if hides else 255, np.uint8)
    ink[:, 3] = alpha
    return ink


def _pressed(stroke: MaskStroke) -> Picture:
    """A stroke that is as wide at each place as it was pressed: its rings are areas, each over the one before."""
    assert stroke.pressure is not None
    some = np.unique(np.linspace(0, len(stroke.points) - 1, SPOTS).astype(int))
    width, alpha = _rings(np.array([stroke.soft]), np.array([stroke.strength]))
    shown = np.flatnonzero(alpha[:, 0])
    families = list[Family]()
    for ring in shown:
        radius = np.maximum(stroke.size * stroke.pressure[some] * width[ring, 0] / 2, 1e-4 * stroke.size)
        verbs, points = _swept(stroke.points[some], radius)
        families.append(Family(verbs, points[None], np.zeros(1, np.int32)))
    count = len(shown)
    which, one = np.arange(count, dtype=np.int32), np.zeros(count, np.int32)
    marks = Marks(tuple(families), which, one, np.broadcast_to(IDENTITY, (count, 2, 3)), which)
    return Picture(marks, (Coat(_ink(alpha[shown, 0], stroke.hides), np.zeros((1, 4), np.uint8), np.zeros(1)),))


def _swept(points: Array, radius: Array) -> tuple[bytes, Array]:
    """The outline, verbs and points, of what discs (n,) of that radius cover while they go straight from point to point (n, 2)."""
    angle = 2 * np.pi * (np.arange(ROUND) + 0.5) / ROUND
    rim = points[:, None] + radius[:, None, None] * np.stack([np.cos(angle), np.sin(angle)], 1) / np.cos(np.pi / ROUND)
    pairs = np.concatenate([rim[:-1], rim[1:]], 1) if len(points) > 1 else rim
    whole = shapely.orient_polygons(shapely.union_all(shapely.convex_hull(shapely.multipoints(pairs))))
    rings = [shapely.get_coordinates(ring)[:-1] for part in shapely.get_parts(whole) for ring in (part.exterior, *part.interiors)]
    return b"".join(polygon_verbs(len(ring)) for ring in rings), np.concatenate(rings)


def _padded(points: Array, most: int, size: float) -> Array:
    """Points (most, 2), the last repeated; a single spot is a line of next to no length, so that it has round ends."""
    if len(points) == 1 or not np.ptp(points, 0).any():
        points = np.array([points[0], points[0] + (1e-4 * size, 0.0)])
    return np.concatenate([points, np.repeat(points[-1:], most - len(points), 0)])
