"""Edges: how far each pixel lies within what is there or beyond it, and lines along that."""

from __future__ import annotations

import numpy as np

from under_lattice.colour.effects import Contour
from under_lattice.geometry.affine import Array
from under_lattice.render.finish.atop import atop, beneath
from under_lattice.render.finish.blur import gaussian
from under_lattice.render.finish.rows import by_rows
from under_lattice.render.kernel_pixels import distance_rows, nearest_columns, nearest_in_rows

SMOOTH, ROOM = 1.0, 6  # px of deviation, and beyond the picture, where its outermost pixels go on
NONE = 1e6  # px, where there is no edge at all


def inwards(alpha: Array, most: float = NONE) -> Array:
    """Return how far within an edge each pixel of `alpha` (H, W) lies, in px; below zero beyond it.

    Edges lie between pixels as alpha says; the distance is exact to a twentieth of a pixel in the mean, and farther than `most` px
    to a pixel.
    """
    alpha = np.ascontiguousarray(np.clip(alpha, 0.0, 1.0), np.float32)
    within = alpha >= 0.5
    sites = _sites(within)
    if not sites.any():
        return np.where(within, np.float32(NONE), np.float32(-NONE))
    points = _points(alpha, sites)
    row_of, column_of = np.empty(alpha.shape, np.int64), np.empty(alpha.shape, np.int64)
    nearest_columns(sites, row_of)
    by_rows(len(alpha), lambda first, last: nearest_in_rows(row_of, first, last, column_of))
    far = np.empty(alpha.shape, np.float32)
    by_rows(len(alpha), lambda first, last: distance_rows(row_of, column_of, points, most + 2.0, first, last, far))
    return np.where(within, far, -far)


def coverage(distance: Array) -> Array:
    """Return how much of a pixel lies within an edge, 0..1, by how far its middle lies within, in px."""
    return np.asarray(np.clip(distance + np.float32(0.5), 0.0, 1.0))


def contoured(pixels: Array, contour: Contour, scale: float) -> Array:
    """Return premultiplied pixels (H, W, 4) with lines round all of what is there; `scale` is px per unit."""
    if contour.width <= 0 or contour.opacity <= 0:
        return pixels
    far = inwards(pixels[..., 3])
    width, gap = contour.width * scale, contour.gap * scale
    if contour.side == "both":
        line = np.clip(coverage(width / 2 - np.abs(far)) * np.float32(contour.opacity), 0, 1)
        whole = np.array([*contour.colour, 1.0], np.float32)
        return np.asarray(pixels * (1 - line[..., None]) + line[..., None] * whole)
    away = far if contour.side == "inside" else -far
    line = np.zeros_like(away)
    for k in range(contour.count):
        begin = gap + k * (width + gap)
        first = np.float32(1.0) if not begin else coverage(away - begin)  # with no gap it begins beneath the edge itself
        line = np.maximum(line, first - coverage(away - begin - width))
    line = np.clip(line, 0, 1) * np.float32(contour.opacity)
    return atop(pixels, contour.colour, line) if contour.side == "inside" else beneath(pixels, contour.colour, line)


def _sites(within: Array) -> Array:
    """The pixels (H, W) with an edge between them and one beside them."""
    sites = np.zeros_like(within)
    across, down = within[:, 1:] != within[:, :-1], within[1:] != within[:-1]
    sites[:, 1:] |= across
    sites[:, :-1] |= across
    sites[1:] |= down
    sites[:-1] |= down
    return sites


def _points(alpha: Array, sites: Array) -> Array:
    """Where in px the edge is nearest to the middles of pixels, and the direction across it (H, W, 4), of those that have one.

    Across a straight edge alpha, smoothed, goes over as a normal distribution does: its inverse says how far the edge is. On alpha
    as it is, the places of neighbours would differ by a tenth of a pixel, which shows as rays on the faces of a relief.
    """
    from scipy.special import ndtri  # takes a while to load, and few works need it

    y, x = np.nonzero(sites)
    smooth = gaussian(np.pad(alpha, ROOM, mode="edge"), SMOOTH)
    room = smooth[ROOM - 1 : 1 - ROOM, ROOM - 1 : 1 - ROOM]
    gx, gy = room[y + 1, x + 2] - room[y + 1, x], room[y + 2, x + 1] - room[y, x + 1]
    size = np.hypot(gx, gy)
    gx, gy = (np.divide(g, size, out=np.zeros_like(g), where=size > 0) for g in (gx, gy))
    wide = np.sqrt(SMOOTH**2 + 1 / 12)  # of a pixel's own box too
    off = np.clip(-wide * ndtri(np.clip(room[y + 1, x + 1], 0.01, 0.99)), -1.0, 1.0)
    out = np.zeros((*alpha.shape, 4), np.float32)
    out[y, x] = np.stack([x + gx * off, y + gy * off, gx, gy], 1)
    return out
