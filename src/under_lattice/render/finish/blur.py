"""Blur: a Gaussian in linear light, at any size in about the same time.

Weights are those of the Gaussian over whole pixels, so that a step between two pixels becomes the normal distribution itself.
A wide one is done on a coarser picture: the mean over blocks of f pixels, the blocks under the Gaussian, and the straight lines
between their middles are blurs themselves, of a variance of `(f² - 1) / 3` together, which is taken off that of the Gaussian.
"""

from __future__ import annotations

import numpy as np

from under_lattice.colour.effects import WIDE
from under_lattice.geometry.affine import Array
from under_lattice.render.finish.rows import by_rows
from under_lattice.render.finish.straight import in_coded_values, in_linear_light
from under_lattice.render.kernel_pixels import between_blocks, block_means, moved_rows, weigh_columns, weigh_rows

FINE = 4.0  # px of deviation; for twice as much a picture half as fine will do
STRIP = 1024  # numbers of a row that are summed up together
SEEN = 0.02  # px of deviation, below which nothing is seen


def blurred(pixels: Array, deviation: float, along: float | None = None) -> Array:
    """Return premultiplied pixels (H, W, 4) blurred in linear light by a deviation in px; beyond their edge all is clear."""
    if deviation < SEEN:
        return pixels
    linear = in_linear_light(pixels)
    linear = gaussian(linear, deviation) if along is None else _along(linear, deviation, along)
    return in_coded_values(linear)


def gaussian(picture: Array, deviation: float) -> Array:
    """Return a picture (H, W) or (H, W, C) float32 under a Gaussian of a deviation in px."""
    if deviation < SEEN:
        return picture
    block = max(1, int(deviation / FINE))
    if block == 1:
        return _weighted(_weighted(picture, deviation, 0), deviation, 1)
    own = (deviation**2 - (block**2 - 1) / 3) ** 0.5 / block
    small = _means(picture, block)
    return _between(_weighted(_weighted(small, own, 0), own, 1), block, picture)


def _weighted(picture: Array, deviation: float, axis: int) -> Array:
    """Rows or columns under a Gaussian of a deviation in px."""
    from scipy.special import ndtr  # takes a while to load, and few works need it

    far = int(np.ceil(WIDE * deviation))
    weights = np.diff(ndtr((np.arange(2 * far + 2) - far - 0.5) / deviation))
    kernel = np.zeros(-(-(2 * far + 1) // 8) * 8 + 8, np.float32)  # its middle is that of the weights
    kernel[len(kernel) // 2 - far :][: 2 * far + 1] = weights / weights.sum()
    flat = np.ascontiguousarray(picture, np.float32).reshape(len(picture), -1)
    out, wide = np.empty_like(flat), flat.shape[1]
    if axis == 0:
        by_rows(wide, lambda first, last: weigh_rows(flat, kernel, first, last, out), STRIP)
        return out.reshape(picture.shape)
    channels = wide // picture.shape[1]

    def rows(first: int, last: int) -> None:
        weigh_columns(flat, channels, kernel, first, last, np.zeros(wide + len(kernel) * channels, np.float32), out)

    by_rows(len(flat), rows)
    return out.reshape(picture.shape)


def _means(picture: Array, block: int) -> Array:
    """The means over blocks of so many px each way, with one more block all round."""
    high, wide = (-(-count // block) + 2 for count in picture.shape[:2])
    flat = np.ascontiguousarray(picture, np.float32).reshape(len(picture), -1)
    channels = flat.shape[1] // picture.shape[1]
    out = np.empty((high, wide * channels), np.float32)
    by_rows(high, lambda first, last: block_means(flat, channels, block, first, last, out))
    return out.reshape(high, wide, *picture.shape[2:])


def _between(small: Array, block: int, like: Array) -> Array:
    """A picture of the shape of another on the straight lines between the middles of blocks."""
    out = np.empty((len(like), like.size // len(like)), np.float32)
    flat, channels = small.reshape(len(small), -1), out.shape[1] // like.shape[1]

    def rows(first: int, last: int) -> None:
        between_blocks(flat, channels, block, first, last, np.empty(flat.shape[1], np.float32), out)

    by_rows(len(out), rows)
    return out.reshape(like.shape)


def _along(picture: Array, deviation: float, degrees: float) -> Array:
    """A picture (H, W, C) under a Gaussian along one direction: many copies of it, each moved and of its weight."""
    angle = np.radians(degrees)
    count = 2 * int(np.ceil(WIDE * deviation)) + 1
    far = np.linspace(-WIDE, WIDE, count) * deviation
    weight = np.exp(-0.5 * (far / deviation) ** 2)
    out = np.zeros_like(picture)
    for away, share in zip(far, weight / weight.sum(), strict=True):
        out += moved(picture, float(away * np.cos(angle)), float(away * np.sin(angle))) * np.float32(share)
    return out


def moved(picture: Array, across: float, down: float) -> Array:
    """Return a picture (H, W) or (H, W, C) moved by px to the right and down, between pixels along straight lines."""
    flat = np.ascontiguousarray(picture, np.float32).reshape(len(picture), -1)
    out, channels = np.empty_like(flat), flat.shape[1] // picture.shape[1]
    (wide, u), (high, v) = ((int(np.floor(by)), float(by - np.floor(by))) for by in (across, down))
    by_rows(len(flat), lambda first, last: moved_rows(flat, channels, wide, high, u, v, first, last, out))
    return out.reshape(picture.shape)
