"""Palettes made from one colour, or sampled from pixels: by angle in Oklch, by even lightness, by groups in Oklab."""

from __future__ import annotations

import numpy as np

from under_lattice.colour.colour import companded, from_oklch, linear_of, linear_of_oklab, luminance, oklab_of_linear, to_oklch
from under_lattice.geometry.affine import Array

ANGLES: dict[str, tuple[float, ...]] = {  # degrees round the circle of hues
    "Beside it": (0.0, 30.0, -30.0),
    "Opposite": (0.0, 180.0),
    "Beside the opposite": (0.0, 150.0, 210.0),
    "Three round": (0.0, 120.0, 240.0),
    "Four round": (0.0, 90.0, 180.0, 270.0),
}
DARKEST, LIGHTEST = 20.0, 92.0  # L* of the ends of shades
PIXELS_MOST, ROUNDS = 20_000, 40
APART = 0.015  # in Oklab, nearer than which two sampled colours are one


def harmony(colour: str, angles: tuple[float, ...]) -> tuple[str, ...]:
    """Return colours as light and strong as one, at angles in degrees from its hue in Oklch; 0 is the colour itself."""
    lightness, chroma, hue = to_oklch(colour)
    return tuple(colour if angle == 0 else from_oklch(lightness, chroma, hue + angle) for angle in angles)


def lightness_of(colour: str) -> float:
    """Return the lightness L* of a colour, 0..100 (CIE 1976), under D65."""
    y = luminance(colour)
    return 116 * y ** (1 / 3) - 16 if y > (6 / 29) ** 3 else y * (29 / 3) ** 3


def shades(colour: str, count: int) -> tuple[str, ...]:
    """Return so many colours of the hue of one, light to dark, in even steps of L*; chroma is lowered where sRGB has less.

    Parameters
    ----------
    colour : str
    count : int
        At least 2.
    """
    _, chroma, hue = to_oklch(colour)
    return tuple(_of_lightness(float(wanted), chroma, hue) for wanted in np.linspace(LIGHTEST, DARKEST, count))


def _of_lightness(wanted: float, chroma: float, hue: float) -> str:
    """The colour of an L*, found by halving: L* grows with the lightness of Oklch."""
    low, high = 0.0, 1.0
    for _ in range(20):
        middle = (low + high) / 2
        if lightness_of(from_oklch(middle, chroma, hue)) < wanted:
            low = middle
        else:
            high = middle
    return from_oklch(high, chroma, hue)


def sampled(pixels: Array, count: int) -> tuple[str, ...]:
    """Return up to so many colours that stand for pixels, those of most pixels first; the same for the same pixels.

    Parameters
    ----------
    pixels : (..., 4) uint8
        Not premultiplied; what is more clear than opaque is left out.
    count : int

    Notes
    -----
    k-means in Oklab, begun at the mean and then at the pixel farthest from all chosen ones, each weighed by how many are like it.
    """
    rows = pixels.reshape(-1, 4)
    rows = rows[rows[:, 3] > 127][:, :3]
    rows = rows[:: max(1, len(rows) // PIXELS_MOST)]
    if not len(rows):
        return ()
    unique, counts = np.unique(rows, axis=0, return_counts=True)
    lab = oklab_of_linear(linear_of(unique / 255.0))
    centres = _begun(lab, counts, count)
    for _ in range(ROUNDS):
        of = _nearest(lab, centres)
        weight = np.bincount(of, counts, len(centres))
        sums = np.stack([np.bincount(of, counts * lab[:, k], len(centres)) for k in range(3)], 1)
        moved = np.where(weight[:, None] > 0, sums / np.maximum(weight, 1e-9)[:, None], centres)
        if np.abs(moved - centres).max() < 1e-5:
            break
        centres = moved
    weight = np.bincount(_nearest(lab, centres), counts, len(centres))
    order = np.argsort(-weight, kind="stable")
    return tuple(dict.fromkeys(_hex(centres[k]) for k in order if weight[k] > 0))


def _begun(lab: Array, counts: Array, count: int) -> Array:
    """Centres (k, 3) to begin with, far from each other."""
    mean = np.average(lab, axis=0, weights=counts)
    centres = [lab[np.argmin(((lab - mean) ** 2).sum(1))]]
    while len(centres) < count:
        away = np.min([((lab - one) ** 2).sum(1) for one in centres], axis=0)
        if away.max() < APART**2:
            break
        centres.append(lab[np.argmax(away * np.sqrt(counts))])
    return np.array(centres)


def _nearest(lab: Array, centres: Array) -> Array:
    return np.asarray(np.argmin(((lab[:, None] - centres[None]) ** 2).sum(2), axis=1))


def _hex(lab: Array) -> str:
    channels = companded(np.clip(linear_of_oklab(lab), 0.0, 1.0))
    return "#" + "".join(f"{round(float(one) * 255):02X}" for one in channels)
