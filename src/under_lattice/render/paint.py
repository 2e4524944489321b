"""The painter: a scene and a view become premultiplied pixels, band by band, in threads."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import numpy as np

from under_lattice.core.affine import Array, compose
from under_lattice.core.colour import bytes_of
from under_lattice.core.errors import LimitError
from under_lattice.core.marks import Marks
from under_lattice.core.outline import flatten, steps_for
from under_lattice.render import kernels
from under_lattice.render.blending import lay
from under_lattice.render.scene import Scene, SceneGroup, SceneLayer, View
from under_lattice.work.evaluate import Picture

BAND = 64
PIXELS_MOST = 400_000_000
JOINS = {"mitre": 0, "round": 1, "bevel": 2}
KERNEL_TYPES = {
    "shape": np.int64,
    "half": np.float64,
    "join": np.int64,
    "colour": np.float32,
    "bounds": np.float64,
    "xform": np.float64,
    "contour_of": np.int64,
    "contours": np.int64,
    "points": np.float64,
}
HAIR = 0.35  # half a hairline, px: thinner lines are drawn this wide


class Stopped(Exception):
    """Painting was given up between two bands."""


@dataclass(frozen=True, eq=False)
class Items:
    """What one layer paints, in order from back to front: fills and strokes as flat arrays (see `kernels.paint_items`)."""

    shape: Array
    half: Array
    join: Array
    colour: Array
    bounds: Array
    xform: Array
    contour_of: Array
    contours: Array
    points: Array
    runs: tuple[tuple[bool, Array], ...]

    def __post_init__(self) -> None:
        """Hold to one memory layout, so that one compiled kernel serves all."""
        for name, kind in KERNEL_TYPES.items():
            object.__setattr__(self, name, np.require(getattr(self, name), kind, ["C", "W"]))


def paint(
    scene: Scene,
    view: View,
    stop: Callable[[], bool] = lambda: False,
    progress: Callable[[float], None] | None = None,
    threads: int = 2,
) -> Array:
    """Return premultiplied RGBA (height, width, 4) uint8; the same scene gives the same bytes for any number of threads.

    Raises
    ------
    Stopped
        When `stop` says so between two bands.
    LimitError
        When the picture has more pixels than allowed.
    """
    if view.width * view.height > PIXELS_MOST:
        raise LimitError(f"a picture of {view.width} × {view.height} px is too large; at most {PIXELS_MOST:,} px in all")  # noqa: RUF001
    prepared = [_prepare(layer, view) for layer in scene.layers]
    out = np.zeros((view.height, view.width, 4), np.uint8)
    page = _page_rows(scene, view)
    tops = list(range(0, view.height, BAND))
    done = 0

    def band(top: int) -> None:
        nonlocal done
        if stop():
            raise Stopped
        high = min(BAND, view.height - top)
        pixels = np.zeros((high, view.width, 4), np.float32)
        if scene.background:
            pixels[:] = bytes_of((scene.background,))[0].astype(np.float32) / np.float32(255.0)
        for layer in prepared:
            _paint_layer(layer, pixels, top)
        clip = _coverage(page, view, top, high)
        if clip.min() < 1.0:
            pixels *= clip[..., None]
        kernels.to_bytes(pixels, out[top : top + high])
        done += 1
        if progress:
            progress(done / len(tops))

    if threads <= 1 or len(tops) == 1:
        for top in tops:
            band(top)
    else:
        with ThreadPoolExecutor(threads) as pool:
            for _ in pool.map(band, tops):
                pass
    return out


Prepared = tuple[Items | list["Prepared"], float, str]


def _prepare(layer: SceneLayer | SceneGroup, view: View) -> Prepared:
    if isinstance(layer, SceneGroup):
        return [_prepare(member, view) for member in layer.members], layer.opacity, layer.blend
    return items_of(layer.picture, view), layer.opacity, layer.blend


def _paint_layer(layer: Prepared, pixels: Array, top: int) -> None:
    what, opacity, blend = layer
    if isinstance(what, Items) and opacity >= 1.0 and blend == "normal":
        _paint_items(what, pixels, top)
        return
    own = np.zeros_like(pixels)
    if isinstance(what, Items):
        _paint_items(what, own, top)
    else:
        for member in what:
            _paint_layer(member, own, top)
    pixels[:] = lay(own * np.float32(opacity), pixels, blend)


def _paint_items(items: Items, pixels: Array, top: int) -> None:
    high, wide = pixels.shape[:2]
    acc = np.zeros((high, wide + 2), np.float32)
    lo, hi = np.full(high, kernels.FAR, np.int64), np.full(high, -1, np.int64)
    for opaque, order in items.runs:
        near = order[(items.bounds[order, 1] > top) & (items.bounds[order, 0] < top + high)]
        if not len(near):
            continue
        into = np.zeros_like(pixels) if opaque else pixels
        kernels.paint_items(
            into,
            acc,
            lo,
            hi,
            top,
            near,
            opaque,
            items.shape,
            items.half,
            items.join,
            items.colour,
            items.bounds,
            items.xform,
            items.contour_of,
            items.contours,
            items.points,
        )
        if opaque:
            kernels.under(pixels, into)


def items_of(picture: Picture, view: View) -> Items:
    """Flatten a picture for a view: curves to a tenth of a pixel, coats as items in order."""
    marks = picture.marks
    xform = compose(view.page_to_pixels()[None], marks.xform)
    scale = float(np.sqrt(np.abs(np.linalg.det(xform[:, :, :2]))).max()) if marks.count else 1.0
    first, contour_of, contours, points, radius = _flat(marks, 0.1 / max(scale, 1e-9))
    shape = first[marks.family] + marks.variant
    shown = marks.variant >= 0
    columns: list[tuple[Array, Array, Array, Array, Array]] = []
    count = 2 * len(picture.coats)
    for k, coat in enumerate(picture.coats):
        for stroke, colour in ((False, coat.fill), (True, coat.stroke)):
            visible = shown & (np.broadcast_to(colour[:, 3] > 0, marks.count))
            mark = np.flatnonzero(visible)
            if not len(mark):
                continue
            half = np.full(len(mark), -1.0)
            if stroke:
                half = np.maximum(np.broadcast_to(coat.width, marks.count)[mark] * view.scale / 2, HAIR)
            paint_of = colour[mark] if len(colour) > 1 else np.broadcast_to(colour, (len(mark), 4))
            columns.append((mark, half, paint_of, np.full(len(mark), JOINS[coat.join]), mark * count + 2 * k + stroke))
    return _ordered(columns, shape, xform, radius, contour_of, contours, points)


def _ordered(
    columns: list[tuple[Array, Array, Array, Array, Array]],
    shape: Array,
    xform: Array,
    radius: Array,
    contour_of: Array,
    contours: Array,
    points: Array,
) -> Items:
    if not columns:
        none = np.zeros(0)
        return Items(
            none, none, none, none.reshape(0, 4), none.reshape(0, 2), none.reshape(0, 2, 3), contour_of, contours, points, ()
        )
    mark, half, rgba, join, rank = (np.concatenate(part) for part in zip(*columns, strict=True))
    if len(columns) > 1:
        order = np.argsort(rank, kind="stable")
        mark, half, rgba, join = mark[order], half[order], rgba[order], join[order]
    colour = rgba.astype(np.float32) / np.float32(255.0)
    colour[:, :3] *= colour[:, 3:]
    where, own = xform[mark], shape[mark]
    size = np.hypot(where[:, 1, 0], where[:, 1, 1]) * radius[own] + np.maximum(half, 0) * 4 + 1
    bounds = np.stack([where[:, 1, 2] - size, where[:, 1, 2] + size], 1)
    return Items(own, half, join, colour, bounds, where, contour_of, contours, points, _runs(rgba[:, 3] == 255))


def _runs(opaque: Array) -> tuple[tuple[bool, Array], ...]:
    """Stretches of opaque and of translucent items; the opaque ones in reverse, to be painted front to back."""
    cuts = np.flatnonzero(np.diff(opaque.astype(np.int8))) + 1
    out = []
    for part in np.split(np.arange(len(opaque)), cuts):
        clear = bool(opaque[part[0]])
        out.append((clear, part[::-1].copy() if clear else part))
    return tuple(out)


def _flat(marks: Marks, tolerance: float) -> tuple[Array, Array, Array, Array, Array]:
    """All variants of all families as flat contours, with the radius of each shape about its origin."""
    first, pieces, lengths, per_shape, radius = [], [], [], [], []
    shapes = 0
    for family in marks.families:
        first.append(shapes)
        rings = flatten(family.verbs, family.points, steps_for(family.verbs, family.points, tolerance))
        many = len(family.points)
        for ring in rings if len(rings) == 1 else []:
            pieces.append(ring.reshape(-1, 2))
            lengths.append(np.full(many, ring.shape[1]))
        if len(rings) > 1:
            pieces.append(np.concatenate(rings, 1).reshape(-1, 2))
            lengths.append(np.tile([ring.shape[1] for ring in rings], many))
        per_shape.append(np.full(many, len(rings)))
        joined = np.concatenate(rings, 1)
        radius.append(np.hypot(joined[..., 0], joined[..., 1]).max(1))
        shapes += many
    contour_of = np.concatenate([[0], np.cumsum(np.concatenate(per_shape))]).astype(np.int64)
    contours = np.concatenate([[0], np.cumsum(np.concatenate(lengths))]).astype(np.int64)
    return np.array(first), contour_of, contours, np.concatenate(pieces), np.concatenate(radius)


def _page_rows(scene: Scene, view: View) -> tuple[float, float, float, float]:
    x, y = scene.width / 2 * view.scale, scene.height / 2 * view.scale
    return view.left - x, view.left + x, view.top - y, view.top + y


def _coverage(page: tuple[float, float, float, float], view: View, top: int, high: int) -> Array:
    """How much of each pixel of a band the page covers."""
    left, right, upper, lower = page
    x, y = np.arange(view.width), np.arange(top, top + high)
    across = np.clip(np.minimum(x + 1, right) - np.maximum(x, left), 0, 1)
    down = np.clip(np.minimum(y + 1, lower) - np.maximum(y, upper), 0, 1)
    return (down[:, None] * across[None]).astype(np.float32)
