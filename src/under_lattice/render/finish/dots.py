"""Many small parts: grain, halftone dots and lines, cells of one colour, all fixed to the page."""

from __future__ import annotations

from functools import cache

import numpy as np

from under_lattice.colour.effects import Cells, Grain, Halftone
from under_lattice.colour.effects.dots import Net
from under_lattice.geometry.affine import Array
from under_lattice.render.finish.blur import gaussian
from under_lattice.render.finish.edge import coverage
from under_lattice.render.finish.straight import in_coded_values, in_linear_light
from under_lattice.render.finish.tone import LUMINANCE
from under_lattice.scene.tree import View

MOST = np.float32(np.sqrt(6.0))  # deviations, that chance goes from its mean
SUB = (np.arange(4) + 0.5) / 4 - 0.5  # places within a pixel, where a cell's edge passes through it
ROW = np.sqrt(3.0) / 2  # from row to row of hexagons, in pitches
FEWEST = 0.75  # px between middles; below, parts are too small to be seen and the picture stays as it is


def grained(pixels: Array, grain: Grain, view: View) -> Array:
    """Return premultiplied pixels (H, W, 4) of a view with grain, whose mean in linear light is that of what is there."""
    if grain.amount <= 0 or grain.size <= 0:
        return pixels
    linear = in_linear_light(pixels)
    alpha = linear[..., 3]
    for channel in range(3):
        if channel == 0 or grain.coloured:
            noise = _noise(view, grain.size, grain.seed * 3 + channel)
        own = np.divide(linear[..., channel], alpha, out=np.zeros_like(alpha), where=alpha > 0)
        strong = np.minimum(
            np.float32(4 * grain.amount) * own * (1 - own), np.minimum(own, 1 - own) / MOST
        )  # so that none is cut off
        linear[..., channel] = np.clip(own + noise * strong, 0, 1) * alpha
    return in_coded_values(linear)


def celled(pixels: Array, cells: Cells, view: View) -> Array:
    """Return premultiplied pixels (H, W, 4) of a view in cells, each of the mean of what is in it."""
    if cells.pitch * view.scale < FEWEST:
        return pixels
    linear = in_linear_light(pixels)
    lattice = _Lattice(view, cells.net, cells.pitch, cells.angle)
    means = lattice.means(linear)
    out = means[lattice.own]
    rows, columns = np.nonzero(lattice.edges())
    total = np.zeros((len(rows), 4), np.float32)
    for dy in SUB:
        for dx in SUB:
            total += means[lattice.near(dx, dy, (rows, columns))]
    out[rows, columns] = total / (len(SUB) ** 2)
    return in_coded_values(out)


def halftoned(pixels: Array, tone: Halftone, view: View) -> Array:
    """Return premultiplied pixels (H, W, 4) of a view as dots or lines, whose share of a cell is its darkness (or its light)."""
    linear = in_linear_light(pixels)
    light = linear[..., :3] @ LUMINANCE.astype(np.float32)
    dense = light if tone.light else linear[..., 3] - light
    if tone.pitch * view.scale < 2 * FEWEST:
        return _evenly(linear, dense, tone, view)
    if tone.net == "lines":
        within = _lines(dense, tone, view)
        own = gaussian(linear, tone.pitch * view.scale / 3) if tone.ink is None else None
    else:
        lattice = _Lattice(view, tone.net, tone.pitch, tone.angle)
        radius = _radius(np.clip(lattice.means(dense[..., None])[:, 0], 0, 1), tone.net) * tone.pitch
        within = coverage((radius[lattice.own] - lattice.away) * np.float32(view.scale))
        within *= radius[lattice.own] > 0
        own = lattice.means(linear)[lattice.own] if tone.ink is None else None
    ground = _solid(tone.ground, view)
    ink = _solid(tone.ink, view) if own is None else in_coded_values(_opaque(own))
    return np.asarray(ground + (ink - ground) * within[..., None].astype(np.float32))


def _evenly(linear: Array, dense: Array, tone: Halftone, view: View) -> Array:
    """Dots too small to be seen: as much of the ink in each pixel, in linear light, as they would cover of it."""
    ground = in_linear_light(_solid(tone.ground, view))
    ink = _opaque(linear) if tone.ink is None else in_linear_light(_solid(tone.ink, view))
    return in_coded_values(ground + (ink - ground) * np.clip(dense, 0, 1)[..., None].astype(np.float32))


def _solid(colour: tuple[float, float, float] | None, view: View) -> Array:
    """One colour, or nothing, all over a view."""
    out = np.zeros((view.height, view.width, 4), np.float32)
    out[:] = 0.0 if colour is None else (*colour, 1.0)
    return out


def _opaque(pixels: Array) -> Array:
    """Premultiplied pixels at full alpha, where there is any."""
    alpha = pixels[..., 3:]
    return np.divide(pixels, alpha, out=np.zeros_like(pixels), where=alpha > 0)


def _lines(dense: Array, tone: Halftone, view: View) -> Array:
    """How much of each pixel (H, W) lies on a line, as wide as what is there is dense."""
    wide = np.clip(gaussian(dense, tone.pitch * view.scale / 3), 0, 1) * np.float32(tone.pitch)
    _, v = _turned(view, tone.angle)
    off = np.abs(v - np.round(v / tone.pitch) * tone.pitch)
    within = coverage((wide / 2 - off) * np.float32(view.scale)) - coverage((-wide / 2 - off) * np.float32(view.scale))
    other = coverage((wide / 2 - (tone.pitch - off)) * np.float32(view.scale))  # the line beside it, where they meet
    return np.where(wide >= tone.pitch * (1 - 1e-6), 1.0, np.clip(within + other, 0, 1))


def _turned(
    view: View, angle: float, dx: float = 0.0, dy: float = 0.0, at: tuple[Array, Array] | None = None
) -> tuple[Array, Array]:
    """Places of pixels, moved by parts of one, in a lattice turned by an angle; all (H, W), or those `at` rows and columns."""
    rows, columns = at if at is not None else (np.arange(view.height)[:, None], np.arange(view.width)[None])
    x, y = (columns + 0.5 + dx - view.left) / view.scale, (rows + 0.5 + dy - view.top) / view.scale
    c, s = np.cos(np.radians(angle)), np.sin(np.radians(angle))
    return x * c + y * s, y * c - x * s


class _Lattice:
    """Which cell of a lattice about the middle of the page each pixel of a view lies in.

    `own` (H, W) are rows of what `means` gives, `away` (H, W) is how far a pixel lies from the middle of its cell.
    """

    def __init__(self, view: View, net: Net, pitch: float, angle: float) -> None:
        self.view, self.net, self.pitch, self.angle = view, net, pitch, angle
        u, v = _turned(view, angle)
        i, j, away = self._cell(u, v)
        edge = 1  # cells beyond those of pixels' middles, that their corners may lie in
        self.low = int(i.min()) - edge, int(j.min()) - edge
        self.wide = int(i.max()) - self.low[0] + 1 + edge
        self.count = self.wide * (int(j.max()) - self.low[1] + 1 + edge)
        self.own, self.away = self._row(i, j), away.astype(np.float32)

    def _cell(self, u: Array, v: Array) -> tuple[Array, Array, Array]:
        """Column and row of the cell of places, and how far they are from its middle; columns count by halves in hexagons."""
        if self.net == "squares":
            i, j = np.rint(u / self.pitch), np.rint(v / self.pitch)
            return i.astype(np.int64), j.astype(np.int64), np.hypot(u - i * self.pitch, v - j * self.pitch)
        high = 2 * ROW * self.pitch
        one = np.rint(u / self.pitch), np.rint(v / high)
        two = np.rint(u / self.pitch - 0.5), np.rint(v / high - 0.5)
        far_one = np.hypot(u - one[0] * self.pitch, v - one[1] * high)
        far_two = np.hypot(u - (two[0] + 0.5) * self.pitch, v - (two[1] + 0.5) * high)
        first = far_one <= far_two
        i, j = np.where(first, 2 * one[0], 2 * two[0] + 1), np.where(first, 2 * one[1], 2 * two[1] + 1)
        return i.astype(np.int64), j.astype(np.int64), np.minimum(far_one, far_two)

    def _row(self, i: Array, j: Array) -> Array:
        return np.asarray((j - self.low[1]) * self.wide + i - self.low[0])

    def edges(self) -> Array:
        """Return the pixels (H, W) with one of another cell beside them."""
        out = np.zeros(self.own.shape, bool)
        for dy, dx in ((0, 1), (1, 0), (1, 1)):
            high, wide = self.view.height - dy, self.view.width - dx
            other = self.own[dy:, dx:] != self.own[:high, :wide]
            out[dy:, dx:] |= other
            out[:high, :wide] |= other
        return out

    def near(self, dx: float, dy: float, at: tuple[Array, Array]) -> Array:
        """Return the cells of some pixels, by rows and columns (k,), a part of one further on."""
        row = self._row(*self._cell(*_turned(self.view, self.angle, dx, dy, at))[:2])
        return np.asarray(np.clip(row, 0, self.count - 1))

    def means(self, pixels: Array) -> Array:
        """Return the mean of pixels (H, W, C) in each cell (cells, C) float32."""
        own = self.own.ravel()
        count = np.maximum(np.bincount(own, minlength=self.count), 1)
        flat = pixels.reshape(len(own), -1)
        return np.stack([np.bincount(own, flat[:, c], self.count) / count for c in range(flat.shape[1])], 1).astype(np.float32)


@cache
def _areas(net: Net) -> tuple[Array, Array]:
    """How much of a cell of pitch 1 a disc about its middle covers (k,), and the radius (k,): circles until they touch, then gaps.

    Of the circle, as many equal sectors as the cell has sides each lose a segment beyond the side.
    """
    sides, touch = (4, 0.5) if net == "squares" else (6, 0.5)
    whole = 1.0 if net == "squares" else ROW
    corner = touch / np.cos(np.pi / sides)
    radius = np.linspace(0.0, corner, 4001)
    half = np.arccos(np.minimum(touch / np.maximum(radius, touch), 1.0))
    lost = sides * radius**2 * (half - np.sin(half) * np.cos(half))
    return (np.pi * radius**2 - lost) / whole, radius


def _radius(share: Array, net: Net) -> Array:
    """The radius, in pitches, of a disc that covers a share of its cell."""
    areas, radius = _areas(net)
    return np.interp(share, areas, radius).astype(np.float32)


def _noise(view: View, size: float, seed: int) -> Array:
    """Chance of mean 0 and deviation 1 (H, W) on the page, in grains of a size; of smaller grains than pixels, their mean."""
    x = (np.arange(view.width) + 0.5 - view.left) / view.scale / size
    y = (np.arange(view.height) + 0.5 - view.top) / view.scale / size
    left, top = np.floor(x).astype(np.int64), np.floor(y).astype(np.int64)
    u, v = x - left, y - top
    out = np.zeros((view.height, view.width), np.float32)
    for dy, down in ((0, 1 - v), (1, v)):
        for dx, across in ((0, 1 - u), (1, u)):
            out += _chance(left + dx, top + dy, seed) * (down[:, None] * across[None]).astype(np.float32)
    out /= np.sqrt((v**2 + (1 - v) ** 2)[:, None] * (u**2 + (1 - u) ** 2)[None]).astype(np.float32)
    return out * np.float32(min(1.0, size * view.scale))


def _chance(columns: Array, rows: Array, seed: int) -> Array:
    """Chance (H, W) of mean 0 and deviation 1 for each column and row: a hash (the end of murmur3), two halves of it added up."""
    mixed = columns.astype(np.uint64)[None] * np.uint64(0x9E3779B97F4A7C15) ^ rows.astype(np.uint64)[:, None] * np.uint64(
        0xC2B2AE3D27D4EB4F
    )
    mixed ^= np.uint64(seed * 0x165667B19E3779F9 & 0xFFFFFFFFFFFFFFFF)
    for by in (0xFF51AFD7ED558CCD, 0xC4CEB9FE1A85EC53):
        mixed ^= mixed >> np.uint64(33)
        mixed *= np.uint64(by)
    mixed ^= mixed >> np.uint64(33)
    halves = (mixed & np.uint64(0xFFFF)).astype(np.float32) + ((mixed >> np.uint64(16)) & np.uint64(0xFFFF)).astype(np.float32)
    return np.asarray((halves / np.float32(65535.0) - 1) * MOST)
