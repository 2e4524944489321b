"""Pictures as paint: a fill taken from pixels."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import cached_property, lru_cache

import numpy as np

from under_lattice.core.errors import InputError
from under_lattice.geometry.affine import IDENTITY, Array

LEVELS_MOST = 16


@dataclass(frozen=True, eq=False)
class Texture:
    """A picture that fills shapes.

    Attributes
    ----------
    pixels : (H, W, 4) uint8 or float32
        Premultiplied; bytes, or 0..1.
    to_picture : (2, 3)
        The place the picture lives in -> 0..1 of its width and height.
    of_marks : bool
        It lives in each mark's own place and travels, turns and shrinks with it; otherwise on the sheet.
    repeat : bool
        Repeated without end; otherwise its outermost pixels go on.
    shrinks : bool
        It may be seen smaller than it is; what was painted at the very size it is seen at never is.
    """

    pixels: Array
    to_picture: Array = field(default_factory=lambda: IDENTITY)
    of_marks: bool = True
    repeat: bool = False
    shrinks: bool = True

    def __post_init__(self) -> None:
        """Refuse what is not a picture.

        Raises
        ------
        InputError
        """
        if self.pixels.ndim != 3 or self.pixels.shape[2] != 4 or not self.pixels.size:
            raise InputError(f"a picture needs rows, columns and four channels, not {self.pixels.shape}")

    @cached_property
    def opaque(self) -> bool:
        """Whether nothing shines through it, wherever it is looked at."""
        return bool(self.pixels[..., 3].min() >= (255 if self.pixels.dtype == np.uint8 else 1.0))

    @cached_property
    def levels(self) -> tuple[Array, ...]:
        """The picture and ever smaller copies (h, w, 4) float32, each texel the mean of what it stands for."""
        level = self.pixels.astype(np.float32)
        if self.pixels.dtype == np.uint8:
            level /= np.float32(255.0)
        out = [level]
        while self.shrinks and max(level.shape[:2]) > 1 and len(out) < LEVELS_MOST:
            level = _halved(_halved(level).swapaxes(0, 1)).swapaxes(0, 1)
            out.append(np.ascontiguousarray(level))
        return tuple(out)


def _halved(level: Array) -> Array:
    """Half as many rows (rounded up), each the mean of those it covers, by area."""
    rows = len(level)
    if rows == 1:
        return level
    new = (rows + 1) // 2
    edges = np.arange(new + 1) * rows / new
    total = np.concatenate([np.zeros((1, *level.shape[1:])), np.cumsum(level, 0, dtype=np.float64)])
    whole = np.minimum(edges.astype(int), rows - 1)
    upto = total[whole] + level[whole] * (edges - whole)[:, None, None]
    return np.asarray(np.diff(upto, axis=0) * new / rows, np.float32)


def covering(wide: int, high: int, width: float, height: float) -> Array:
    """Return the map (2, 3) from a sheet about its middle to shares of a picture, so many px large, that covers it unstretched."""
    scale = max(width / wide, height / high)
    return np.array([(1 / (wide * scale), 0.0, 0.5), (0.0, 1 / (high * scale), 0.5)])


def premultiplied(pixels: Array) -> Array:
    """Return pixels (H, W, 4) uint8 premultiplied; worked out once for the last few pictures."""
    return _premultiplied(_Held(pixels))


class _Held:
    """Pixels as a key: the array itself, told by identity."""

    def __init__(self, pixels: Array) -> None:
        self.pixels = pixels

    def __hash__(self) -> int:
        return id(self.pixels)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Held) and other.pixels is self.pixels


@lru_cache(maxsize=8)
def _premultiplied(held: _Held) -> Array:
    pixels = held.pixels.astype(np.float32)
    pixels[..., :3] *= pixels[..., 3:] / np.float32(255.0)
    return np.rint(pixels).astype(np.uint8)
