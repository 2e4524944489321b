"""Blur: a Gaussian in linear light, at any size in about the same time.

Weights are those of the Gaussian over whole pixels, so that a step between two pixels becomes the normal distribution itself.
A wide one is done on a coarser picture: the mean over blocks of f pixels, the blocks under the Gaussian, and the straight lines
between their middles are blurs themselves, of a variance of `(f² - 1) / 3` together, which is taken off that of the Gaussian.
"""

from __future__ import annotations

import numpy as np

from under_lattice.colour.effects import WIDE
from under_lattice.geometry.affine import Array
from under_lattice.render.finish.straight import in_coded_values, in_linear_light

FINE = 4.0  # px of deviation; for twice as much a picture half as fine will do
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
    coarse = max(1, int(deviation / FINE))
    for axis in (0, 1):
        if coarse == 1:
            picture = _weighted(picture, deviation, axis)
        else:
            own = (deviation**2 - (coarse**2 - 1) / 3) ** 0.5 / coarse
            small = _weighted(_means(picture, coarse, axis), own, axis)
            picture = _between(small, coarse, picture.shape[axis], axis)
    return picture


def _weighted(picture: Array, deviation: float, axis: int) -> Array:
    """Rows or columns under a Gaussian of a deviation in px."""
    from scipy.ndimage import convolve1d  # takes a while to load, and few works need it
    from scipy.special import ndtr

    far = int(np.ceil(WIDE * deviation))
    weights = np.diff(ndtr((np.arange(2 * far + 2) - far - 0.5) / deviation))
    return np.asarray(convolve1d(picture, weights / weights.sum(), axis, mode="constant"))


def _means(picture: Array, block: int, axis: int) -> Array:
    """The means over blocks of so many rows or columns, one more block before and after."""
    room = [(0, 0)] * picture.ndim
    room[axis] = (block, block + -picture.shape[axis] % block)
    wide = np.pad(picture, room).swapaxes(0, axis)
    total = wide[::block].copy()
    for k in range(1, block):
        total += wide[k::block]
    return np.asarray((total / np.float32(block)).swapaxes(0, axis))


def _between(small: Array, block: int, count: int, axis: int) -> Array:
    """So many rows or columns on the straight lines between the middles of blocks."""
    at = (np.arange(count) + 0.5) / block + 0.5  # in blocks, from the middle of the one before the first
    first = np.minimum(at.astype(int), small.shape[axis] - 2)
    share = (at - first).astype(np.float32)
    share = share[:, None] if axis == 0 else share
    share = share[..., None] if small.ndim == 3 else share
    one, other = np.take(small, first, axis), np.take(small, first + 1, axis)
    one += (other - one) * share
    return one


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
    for axis, by in ((1, across), (0, down)):
        whole = int(np.floor(by))
        share = np.float32(by - whole)
        one = _shifted(picture, whole, axis)
        picture = one if share == 0 else one + (_shifted(picture, whole + 1, axis) - one) * share
    return picture


def _shifted(picture: Array, by: int, axis: int) -> Array:
    """A picture moved by whole rows or columns; what comes in is clear."""
    if by == 0:
        return picture
    out, count = np.zeros_like(picture), picture.shape[axis]
    if abs(by) < count:
        here = [slice(None)] * picture.ndim
        there = list(here)
        here[axis], there[axis] = slice(max(by, 0), count + min(by, 0)), slice(max(-by, 0), count - max(by, 0))
        out[tuple(here)] = picture[tuple(there)]
    return out
