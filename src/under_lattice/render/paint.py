"""The painter: a scene and a view become premultiplied pixels, band by band, in threads."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor

import numpy as np

from under_lattice.core.affine import Array
from under_lattice.core.colour import bytes_of
from under_lattice.core.errors import LimitError
from under_lattice.render import kernels
from under_lattice.render.items import MODE_OF, Items, items_of
from under_lattice.render.kernel_blend import lay_layer
from under_lattice.render.scene import Scene, SceneGroup, SceneLayer, Stopped, View

BAND = 64
PIXELS_MOST = 400_000_000


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
    colour = bytes_of((scene.background,))[0] / 255.0 if scene.background else np.zeros(4)
    ground = np.tile(colour.astype(np.float32), (view.width, 1))
    tops = list(range(0, view.height, BAND))
    done = 0

    def band(top: int) -> None:
        nonlocal done
        if stop():
            raise Stopped
        high = min(BAND, view.height - top)
        pixels = np.empty((high, view.width, 4), np.float32)
        pixels[:] = ground
        for layer in prepared:
            _paint_layer(layer, pixels, top)
        left, right, upper, lower = page
        if left > 0 or right < view.width or upper > top or lower < top + high:
            pixels *= _coverage(page, view, top, high)[..., None]
        kernels.to_bytes(pixels.reshape(-1), out[top : top + high].reshape(-1))
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
    lay_layer(pixels, own, opacity, MODE_OF[blend])


def _paint_items(items: Items, pixels: Array, top: int) -> None:
    high, wide = pixels.shape[:2]
    acc = np.zeros((high, wide + 2), np.float32)
    mask, shift = np.zeros(high, np.uint64), max(0, (wide + 1).bit_length() - 6)
    for opaque, order in items.runs:
        near = order[(items.bounds[order, 1] > top) & (items.bounds[order, 0] < top + high)]
        if not len(near):
            continue
        into = np.zeros_like(pixels) if opaque else pixels
        kernels.paint_items(into, acc, mask, shift, top, near, opaque, *items.arrays())
        if opaque:
            kernels.under(pixels, into)


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
