"""Makes the sample pictures that look like photographs, by arithmetic: the harbour, linen, wet plaster.

python -m tools.remake_photographs
"""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import numpy as np
import scipy.fft
from PIL import Image
from scipy.ndimage import gaussian_filter, map_coordinates

from under_lattice.geometry.affine import Array

WIDE, HIGH = 720, 560
HORIZON = 0.06


def clouded(shape: tuple[int, int], across: float, down: float, seed: int, octaves: int = 4) -> Array:
    """Return smooth noise (H, W) from 0 to 1 whose largest parts are so many px wide and high; it repeats at the edges."""
    rng, out = np.random.default_rng(seed), np.zeros(shape)
    v, u = scipy.fft.fftfreq(shape[0])[:, None], scipy.fft.rfftfreq(shape[1])[None]
    for k in range(octaves):
        kept = np.exp(-2 * np.pi**2 * ((down / 2**k * v) ** 2 + (across / 2**k * u) ** 2))  # a Gaussian, as its transform
        layer = scipy.fft.irfft2(scipy.fft.rfft2(rng.standard_normal(shape)) * kept, shape)
        out += layer / max(float(layer.std()), 1e-9) / 1.8**k
    return (out - out.min()) / max(float(np.ptp(out)), 1e-9)


def _mixed(one: tuple[float, ...] | Array, other: tuple[float, ...] | Array, share: Array) -> Array:
    return np.asarray(one) + (np.asarray(other) - np.asarray(one)) * np.clip(share, 0, 1)[..., None]


def _finished(light: Array, x: Array, y: Array, grain: float, seed: int) -> Array:
    """The picture with the darker corners of a lens and the grain of a film."""
    dim = 1 - 0.28 * np.clip(np.hypot(x / 0.75, y / 0.62) - 0.45, 0, 1)
    noise = gaussian_filter(np.random.default_rng(seed).standard_normal(light.shape), (0.6, 0.6, 0.0))
    return light * dim[..., None] + grain * noise


def _ripples(x: Array, far: Array, many: float, seed: int) -> Array:
    """Waves on water that lies flat: those farther off are seen smaller."""
    places = [1.4 * many / far, 12 * many * x / (far + 0.10)]
    return np.asarray(map_coordinates(clouded(x.shape, 10, 5, seed), places, order=1, mode="grid-wrap"))


def harbour(x: Array, y: Array) -> Array:
    """Evening over the harbour: clouds lit from below, hazy hills, the mole with its light, and rippled water."""
    cloud = clouded(x.shape, 60, 11, 3)
    height = np.clip((HORIZON - y) / 0.56, 0, 1)
    sun = np.hypot((x - 0.16) / 1.3, y - 0.0)
    sky = _mixed((0.98, 0.76, 0.50), (0.25, 0.38, 0.58), height**0.75)
    lit = _mixed((1.0, 0.72, 0.52), (0.55, 0.53, 0.62), height * 1.4)
    sky = sky + (lit - sky) * np.clip(2.4 * (cloud - 0.5), 0, 0.85)[..., None]
    sky = sky + np.exp(-((sun / 0.16) ** 2))[..., None] * (0.45, 0.34, 0.16)
    far = np.maximum(y - HORIZON, 1e-3)
    ripple = 0.6 * _ripples(x, far, 10, 5) + 0.4 * _ripples(x, far, 34, 6)
    mirrored = sky[np.clip(2 * int((0.5 + HORIZON) * HIGH) - np.arange(HIGH), 0, HIGH - 1)]
    glint = np.exp(-(((x - 0.16) / (0.03 + 0.45 * far)) ** 2)) * np.clip(3.2 * (ripple - 0.52), 0, 1)
    water = mirrored * (0.40 + 0.42 * ripple)[..., None] * (0.80, 0.92, 1.0) + glint[..., None] * (0.95, 0.72, 0.42)
    scene = np.where((y < HORIZON)[..., None], sky, water)
    column = np.arange(WIDE) / WIDE
    for depth, (tall, hue) in enumerate((((0.075, (0.62, 0.55, 0.58))), ((0.04, (0.38, 0.38, 0.46))))):
        ridge = tall * (0.35 + 0.65 * clouded((8, WIDE), 70 - 25 * depth, 1, 11 + depth)[0]) * (0.35 + np.abs(column - 0.62))
        scene = np.where(((y < HORIZON) & (y > HORIZON - ridge[None]))[..., None], hue, scene)
    mole = (y > 0.022) & (y < 0.076) & (x < -0.018 - 0.25 * np.maximum(0.034 - y, 0))
    tower = (np.abs(x + 0.06) < 0.018 - 0.03 * (y + 0.16)) & (y > -0.16) & (y < 0.03)
    stone = (0.10 + 0.10 * np.clip(12 * (x + 0.055), 0, 1) * tower)[..., None] * (1.25, 1.0, 0.9) * (0.7 + 0.6 * cloud)[..., None]
    scene = _mixed(scene, stone, gaussian_filter((mole | tower).astype(float), 0.8))
    lamp = np.hypot(x + 0.06, y + 0.176)
    scene = scene + np.exp(-((lamp / 0.018) ** 2))[..., None] * (1.0, 0.9, 0.6) + 0.25 * np.exp(-lamp / 0.05)[..., None]
    return _finished(scene, x, y, 0.022, 21)


def linen(x: Array, y: Array) -> Array:
    """Plain weave in a raking light: uneven threads, soft folds, and lint."""
    waved = 0.012 * (clouded(x.shape, 40, 40, 31) - 0.5)
    u, v = (x + waved) * 92, (y + waved[::-1]) * 92
    rng = np.random.default_rng(33)
    thick_u, thick_v = 0.75 + 0.5 * rng.random(400), 0.75 + 0.5 * rng.random(400)
    at_u, at_v = np.floor(u).astype(int) % 400, np.floor(v).astype(int) % 400
    over = (np.floor(u) + np.floor(v)) % 2 == 0
    across, along = np.abs(2 * (u % 1) - 1) / thick_u[at_u], np.abs(2 * (v % 1) - 1) / thick_v[at_v]
    round_ = np.sqrt(np.clip(1 - np.where(over, across, along) ** 2, 0, 1))
    dips = 1 - 0.35 * np.where(over, np.abs(2 * (v % 1) - 1), np.abs(2 * (u % 1) - 1)) ** 3
    folds = clouded(x.shape, 130, 90, 35, 2)
    slope = np.gradient(gaussian_filter(folds, 6), axis=1) * 38
    light = (0.34 + 0.66 * round_ * dips) * (0.86 + slope) * np.where(over, 1.0, 0.93)
    tint = _mixed((0.86, 0.80, 0.69), (0.95, 0.91, 0.83), rng.random(400)[np.where(over, at_u, at_v)])
    return _finished(light[..., None] * tint, x, y, 0.018, 37)


def wet_plaster(x: Array, y: Array) -> Array:
    """A wall that is drying: trowel marks in relief, dark wet patches with soft rims, a shine where the light falls."""
    sweep = 0.5 + 0.5 * np.sin(34 * (x * 0.5 + y) + 5 * clouded(x.shape, 90, 60, 41, 2))
    relief = 0.75 * clouded(x.shape, 30, 22, 43, 5) + 0.12 * sweep + 0.05 * clouded(x.shape, 2, 2, 45, 2)
    down, across = np.gradient(gaussian_filter(relief, 1.2) * 26)
    facing = np.clip(0.78 - 0.75 * across - 0.55 * down, 0, 1.6)
    wet = np.clip(3.4 * (clouded(x.shape, 120, 95, 47, 4) - 0.47), 0, 1)
    colour = _mixed((0.84, 0.79, 0.72), (0.47, 0.42, 0.37), wet)
    shine = wet * np.clip(facing - 0.98, 0, 1) * 1.6 * np.exp(-((np.hypot(x + 0.12, y + 0.10) / 0.5) ** 2))
    return _finished(colour * facing[..., None] + shine[..., None] * (1.0, 0.97, 0.92), x, y, 0.016, 49)


PHOTOGRAPHS: dict[str, Callable[[Array, Array], Array]] = {"harbour view": harbour, "linen": linen, "wet plaster": wet_plaster}


def photograph(name: str) -> Array:
    """Return one of them as pixels (H, W, 3) uint8."""
    x, y = np.meshgrid((np.arange(WIDE) + 0.5) / HIGH - WIDE / HIGH / 2, (np.arange(HIGH) + 0.5) / HIGH - 0.5)
    return np.rint(np.clip(PHOTOGRAPHS[name](x, y), 0, 1) * 255).astype(np.uint8)


def main() -> None:
    """Write them where the library finds them."""
    folder = Path(__file__).parent.parent / "src" / "under_lattice" / "library" / "samples"
    for name in PHOTOGRAPHS:
        Image.fromarray(photograph(name)).save(folder / f"{name.replace(' ', '-')}.jpg", quality=90)


if __name__ == "__main__":
    main()
