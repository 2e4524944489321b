"""What numbers may know of the work besides the copies: which rules there are, the time of the loop, and pictures."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from types import MappingProxyType

import numpy as np

from under_lattice.geometry.affine import Array

LUMA = np.array([0.2126, 0.7152, 0.0722])


@dataclass(frozen=True, eq=False)
class Brightness:
    """How light a picture is, from 0 (black) to 1 (white), at any place.

    Attributes
    ----------
    values : (H, W)
        Of its pixels.
    """

    values: Array

    def at(self, points: Array) -> Array:
        """Return readings (...) at `points` (..., 2) of the picture, from 0 to 1 across and down; bilinear, held past its edges."""
        high, wide = self.values.shape
        x = np.clip(points[..., 0] * wide - 0.5, 0.0, wide - 1.0)
        y = np.clip(points[..., 1] * high - 0.5, 0.0, high - 1.0)
        i, j = np.floor(x).astype(np.int64), np.floor(y).astype(np.int64)
        k, m = np.minimum(i + 1, wide - 1), np.minimum(j + 1, high - 1)
        u, v = x - i, y - j
        upper = self.values[j, i] * (1 - u) + self.values[j, k] * u
        lower = self.values[m, i] * (1 - u) + self.values[m, k] * u
        return np.asarray(upper * (1 - v) + lower * v)

    def over(self, points: Array, width: float, height: float) -> Array:
        """Return readings (...) at `points` (..., 2) of a sheet about its middle that the picture covers, its proportions kept."""
        high, wide = self.values.shape
        scale = max(width / wide, height / high)
        return self.at(points / (wide * scale, high * scale) + 0.5)


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


NOTHING_KNOWN = Known()
