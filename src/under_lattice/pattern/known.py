"""What numbers may know of the work besides the copies: which rules there are, the time of the loop, and pictures."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from types import MappingProxyType
from typing import Any

import numpy as np

from under_lattice.colour.texture import covering
from under_lattice.geometry.affine import Array, apply

LUMA = np.array([0.2126, 0.7152, 0.0722])


@dataclass(frozen=True, eq=False)
class Brightness:
    """How light a picture is, from 0 (black) to 1 (white), at any place.

    Attributes
    ----------
    values : (H, W)
        Of its pixels.
    pixels : (H, W, 4) uint8, optional
        Its colours, not premultiplied.
    """

    values: Array
    pixels: Array | None = None

    def at(self, points: Array) -> Array:
        """Return readings (...) at `points` (..., 2) of the picture, from 0 to 1 across and down; bilinear, held past its edges."""
        return self._between(self.values, points)

    @staticmethod
    def _between(values: Array, points: Array) -> Array:
        """Values (H, W) or (H, W, C) at points (..., 2), from 0 to 1 across and down: (...) or (..., C)."""
        high, wide = values.shape[:2]
        x = np.clip(points[..., 0] * wide - 0.5, 0.0, wide - 1.0)
        y = np.clip(points[..., 1] * high - 0.5, 0.0, high - 1.0)
        i, j = np.floor(x).astype(np.int64), np.floor(y).astype(np.int64)
        k, m = np.minimum(i + 1, wide - 1), np.minimum(j + 1, high - 1)
        u, v = (part.reshape(*part.shape, *[1] * (values.ndim - 2)) for part in (x - i, y - j))
        upper = values[j, i] * (1 - u) + values[j, k] * u
        lower = values[m, i] * (1 - u) + values[m, k] * u
        return np.asarray(upper * (1 - v) + lower * v)

    def over(self, points: Array, width: float, height: float) -> Array:
        """Return readings (...) at `points` (..., 2) of a sheet about its middle that the picture covers, its proportions kept."""
        return self.at(self._covering(points, width, height))

    def colours_over(self, points: Array, width: float, height: float) -> Array:
        """Return its colours (..., 4) uint8 at the same places, between pixels as they are premultiplied."""
        assert self.pixels is not None
        strong = self.pixels.astype(float)
        strong[..., :3] *= strong[..., 3:] / 255
        found = self._between(strong, self._covering(points, width, height))
        found[..., :3] *= 255 / np.maximum(found[..., 3:], 1e-6)
        return np.asarray(np.rint(np.clip(found, 0, 255)), np.uint8)

    def _covering(self, points: Array, width: float, height: float) -> Array:
        """Points (..., 2) of a sheet as shares of the picture that covers it."""
        high, wide = self.values.shape
        return apply(covering(wide, high, width, height), points)


NO_PICTURES: Mapping[str, Brightness] = MappingProxyType({})


@dataclass(frozen=True)
class Known:
    """What numbers may know of the work besides the copies.

    Attributes
    ----------
    rules : frozenset of str
        Ids of all rules of the chain that are on, also those below a stage.
    time : float
        Of the loop, 0..1.
    seconds : float
        The same in seconds.
    pictures : mapping of Brightness
        By id.
    width, height : float
        Of the sheet, which pictures cover.
    """

    rules: frozenset[str] = frozenset()
    time: float = 0.0
    pictures: Mapping[str, Brightness] = field(default_factory=lambda: NO_PICTURES)
    width: float = 1.0
    height: float = 1.0
    seconds: float = 0.0


NOTHING_KNOWN = Known()


FACTS = ("rules", "time", "seconds", "width", "height")


class Watched(Known):
    """The same, which notes in `read` what of it is read: names of `FACTS`, and pictures by their ids."""

    def __init__(self, known: Known, read: set[str]) -> None:
        super().__init__(known.rules, known.time, _WatchedPictures(known.pictures, read), known.width, known.height, known.seconds)
        object.__setattr__(self, "_read", read)

    def __getattribute__(self, name: str) -> Any:
        if name in FACTS:
            object.__getattribute__(self, "_read").add(name)
        return object.__getattribute__(self, name)


class _WatchedPictures(Mapping[str, Brightness]):
    """Pictures of which it is noted which were looked at."""

    def __init__(self, pictures: Mapping[str, Brightness], read: set[str]) -> None:
        self._pictures, self._read = pictures, read

    def __getitem__(self, key: str) -> Brightness:
        self._read.add(f"picture {key}")
        return self._pictures[key]

    def __iter__(self) -> Iterator[str]:
        return iter(self._pictures)

    def __len__(self) -> int:
        return len(self._pictures)


def alike(one: Known, other: Known, read: set[str]) -> bool:
    """Whether what was read of one is the same in the other."""
    return all(_fact(one, name) == _fact(other, name) for name in tuple(read))


def _fact(known: Known, name: str) -> Any:
    return getattr(known, name) if name in FACTS else known.pictures.get(name.removeprefix("picture "))
