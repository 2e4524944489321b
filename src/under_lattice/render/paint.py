"""The painter: a scene and a view become premultiplied pixels, tile by tile, in threads."""

from __future__ import annotations

import itertools
import math
import threading
from collections.abc import Callable, Sequence
from concurrent.futures import FIRST_EXCEPTION, Future, ThreadPoolExecutor, wait
from dataclasses import dataclass, replace
from functools import partial
from typing import Any, Literal

import numpy as np

from under_lattice.colour.colour import bytes_of
from under_lattice.colour.texture import Texture
from under_lattice.core.errors import GivenUp, LimitError
from under_lattice.core.progress import QUIET, Progress
from under_lattice.geometry.affine import Array
from under_lattice.pattern.known import LUMA
from under_lattice.pattern.marks import Picture, Plate
from under_lattice.render import kernels
from under_lattice.render.desk import OPEN, Between, Desk
from under_lattice.render.finish.closing import Closing, has_finishes, on_sheet, rows_at_once
from under_lattice.render.flat import TILE, Ready, ready_of, tiles_of
from under_lattice.render.items import MODE_OF, items_of
from under_lattice.render.kernel_blend import fade, lay_layer
from under_lattice.scene.along import pieced
from under_lattice.scene.tree import Mask, Node, Scene, SceneGroup, SceneLayer, SceneVeil, View, page_in, page_rows

PIXELS_MOST = 400_000_000
FEATHER_MOST = 600.0  # px of deviation; beyond it nothing more is seen
PLATE_MOST = 4096  # px of a plate's longer side
PLATE_PIXELS = 32_000_000  # of one that lies on the sheet
POLL = 0.01  # seconds between two questions whether a picture is still wanted


def paint(
    scene: Scene,
    view: View,
    progress: Progress = QUIET,
    threads: int = 2,
    depth: Literal["bytes", "float"] = "bytes",
    between: Between = OPEN,
) -> Array:
    """Return premultiplied RGBA (height, width, 4); the same scene gives the same bytes for any number of threads.

    Parameters
    ----------
    scene, view
    progress
        Asked every few milliseconds, from the thread that calls, whether the picture is still wanted; told the share that is done,
        and in words what could not be painted.
    threads
        With 0 it is painted in the thread that calls: for those who paint several pictures side by side.
    depth
        ``bytes`` gives uint8, ``float`` float32 in 0..1.
    between
        What was painted before and lies beneath the scene, in place of its ground, and over it.

    Raises
    ------
    GivenUp
        When the picture is not wanted any more.
    LimitError
        When the picture has more pixels than allowed.
    """
    if view.width * view.height > PIXELS_MOST:
        raise LimitError(f"a picture of {view.width} × {view.height} px is too large; at most {PIXELS_MOST:,} px in all")  # noqa: RUF001
    seen, part = page_in(scene, view)
    if seen != view:
        out = np.zeros((view.height, view.width, 4), np.uint8 if depth == "bytes" else np.float32)
        if seen.width and seen.height:
            out[part] = paint(scene, seen, progress, threads, depth, between.part(part))
        return out
    if (rows := rows_at_once(scene, view)) < view.height:
        return _in_bands(scene, view, progress, threads, depth, rows, between)
    flag = np.zeros(1, np.uint8)
    if not threads:
        return _in_this_thread(_job(scene, view, flag, depth, progress, between), progress)
    with ThreadPoolExecutor(threads) as pool:
        _wait([job := pool.submit(_job, scene, view, flag, depth, progress, between)], flag, progress)
        _wait(_tiles(job.result(), flag, pool, progress), flag, progress)
    return job.result().out


def _in_this_thread(job: _Job, progress: Progress) -> Array:
    """Paint all tiles, one after the other."""
    desks: dict[int, Desk] = {}
    for at in range(job.tiles):
        progress.check()
        job.tile(at, desks)
    return job.out


def _in_bands(
    scene: Scene, view: View, progress: Progress, threads: int, depth: Literal["bytes", "float"], rows: int, between: Between
) -> Array:  # fmt: skip
    """Paint so many rows at a time, so that memory stays bounded whatever the size of what is finished."""
    out = np.empty((view.height, view.width, 4), np.uint8 if depth == "bytes" else np.float32)
    for top in range(0, view.height, rows):
        high = min(rows, view.height - top)
        band, done = replace(view, height=high, top=view.top - top), (top, high)

        def tell(name: str, share: float, done: tuple[int, int] = done) -> None:
            progress.tell(name, (done[0] + share * done[1]) / view.height)

        out[top : top + high] = paint(
            scene, band, replace(progress, tell=tell), threads, depth, between.part(np.s_[top : top + high])
        )
    return out


def _wait(begun: Sequence[Future[Any]], flag: Array, progress: Progress) -> None:
    """Wait for what threads do; when it is not wanted any more, `flag` (1,) is raised, which kernels see too."""
    left: set[Future[Any]] = set(begun)
    while left and not flag[0]:
        done, left = wait(left, POLL, FIRST_EXCEPTION)
        flag[0] = any(one.exception() for one in done) or progress.stop()
    wait(left)
    for one in begun:
        one.result()
    if flag[0]:
        raise GivenUp


def _job(scene: Scene, view: View, flag: Array, depth: str, progress: Progress, between: Between = OPEN) -> _Job:
    ground = (bytes_of((scene.background,))[0] / 255.0 if scene.background else np.zeros(4)).astype(np.float32)
    layers = scene.layers
    if has_finishes(layers):
        layers = Closing(view, partial(_for_finish, flag=flag), progress).layers(layers, scene.background)
    prepared = tuple(_prepare(layer, view, flag, progress) for layer in reversed(layers))
    out = np.zeros((view.height, view.width, 4), np.uint8 if depth == "bytes" else np.float32)
    return _Job(prepared, ground, page_rows(scene, view), out, tiles_of(view)[1], between)


def _tiles(job: _Job, flag: Array, pool: ThreadPoolExecutor, progress: Progress) -> list[Future[None]]:
    """Begin to paint all tiles, each thread on desks of its own."""
    own, count, done = threading.local(), job.tiles, itertools.count(1)

    def tile(at: int) -> None:
        if flag[0]:
            raise GivenUp
        if not hasattr(own, "desks"):
            own.desks = {}
        job.tile(at, own.desks)
        share = next(done) / count
        if not flag[0]:
            progress.tell(progress.name, share)

    return [pool.submit(tile, at) for at in range(count)]


@dataclass(frozen=True, eq=False)
class _Place:
    """One tile: its first column and row, which tile it is, and the desk it is painted on."""

    left: int
    top: int
    tile: int
    desk: Desk


@dataclass(frozen=True, eq=False)
class _Prepared:
    what: Ready | tuple[_Prepared, ...]
    opacity: float
    blend: int
    isolated: bool
    loose: bool  # blend modes inside may see what is beneath
    clip: Ready | None
    mask: tuple[_Prepared, ...] | None
    by_lightness: bool
    inverted: bool

    @property
    def plain(self) -> bool:
        """Whether it can be painted straight onto what is beneath."""
        return self.loose and self.opacity >= 1.0 and self.blend == 0 and self.clip is None and self.mask is None


@dataclass(frozen=True, eq=False)
class _Job:
    """A picture on its way: what is painted, on which ground and page, and where it goes."""

    prepared: tuple[_Prepared, ...]
    ground: Array
    page: tuple[float, float, float, float]
    out: Array
    columns: int
    between: Between

    @property
    def tiles(self) -> int:
        """How many tiles there are."""
        return -(-len(self.out) // TILE[0]) * self.columns

    def tile(self, at: int, desks: dict[int, Desk]) -> None:
        """Paint one tile on one of a thread's `desks`, by their widths; a new one where none is as wide."""
        row, column = divmod(at, self.columns)
        high, wide = min(TILE[0], self.out.shape[0] - row * TILE[0]), min(TILE[1], self.out.shape[1] - column * TILE[1])
        desk = desks.get(wide) or desks.setdefault(wide, Desk.new(wide))
        place = _Place(column * TILE[1], row * TILE[0], at, desk)
        pixels = desk.pixels[:high]
        here = np.s_[place.top : place.top + high, place.left : place.left + wide]
        if self.between.beneath is not None:
            pixels[:] = self.between.beneath[here]
        else:
            kernels.flood(pixels, self.ground)
        for layer in self.prepared:
            _paint_layer(layer, pixels, place)
        if self.between.above is not None:
            lay_layer(pixels, np.ascontiguousarray(self.between.above[here]), 1.0, MODE_OF["normal"])
        cover = _coverage(self.page, place, wide, high)
        if cover is not None:
            pixels *= cover[..., None]
        if self.out.dtype == np.uint8:
            kernels.to_bytes(pixels.reshape(high, -1), self.out.reshape(len(self.out), -1), place.left, place.top)
        else:
            self.out[here] = pixels


def _prepare(layer: Node, view: View, flag: Array, progress: Progress) -> _Prepared:
    if flag[0]:
        raise GivenUp
    what: Ready | tuple[_Prepared, ...]
    assert not isinstance(layer, SceneVeil)  # those are closed before
    if isinstance(layer, SceneGroup):
        what = tuple(_prepare(member, view, flag, progress) for member in reversed(layer.members))
        isolated = layer.isolated or layer.blend != "normal"
        loose = not isolated
    else:
        what, isolated, loose = _ready(layer.picture, view, flag, progress, layer.name), True, not layer.isolated
    clip = _ready(layer.clip, view, flag, progress, "the clip") if layer.clip is not None else None
    parts, mask = None, layer.mask
    if mask is not None and mask.feather > 0:
        mask = _feathered(mask, view, flag)
    if mask is not None:
        parts = tuple(_prepare(member, view, flag, progress) for member in reversed(mask.layers))
    by_lightness = mask is not None and mask.by == "lightness"
    inverted = mask is not None and mask.inverted
    return _Prepared(what, layer.opacity, MODE_OF[layer.blend], isolated, loose, clip, parts, by_lightness, inverted)


def _ready(picture: Picture, view: View, flag: Array, progress: Progress, name: str) -> Ready:
    items = items_of(pieced(picture), view, partial(texture_of, flag=flag))
    if items.dropped:
        progress.note(f"{name}: {items.dropped}" if name else items.dropped)
    return ready_of(items, view, stop=flag)


def texture_of(plate: Plate, scale: float, exact: bool, part: View, flag: Array) -> Texture:
    """Paint a plate at `scale` px per unit, with a clear line round it so that its own edge stays smooth.

    One that is seen at no other size (`exact`) is painted twice as fine, so that it stays sharp between pixels. One that lies on
    the sheet is painted as `part` of the view sees it, pixel for pixel; beyond `PLATE_PIXELS` coarser.

    Raises
    ------
    GivenUp
        Once `flag` (1,) is raised.
    """
    x0, y0, x1, y1 = plate.box
    if plate.of_marks:
        scale = min(scale * (1 + exact), PLATE_MOST / max(x1 - x0, y1 - y0, 1e-9))
        wide, high = max(1, int(np.ceil((x1 - x0) * scale))) + 2, max(1, int(np.ceil((y1 - y0) * scale))) + 2
        view = View(wide, high, scale, 1 - x0 * scale, 1 - y0 * scale)
    else:
        share = min(1.0, (PLATE_PIXELS / (part.width * part.height)) ** 0.5)
        wide, high = max(1, int(part.width * share)), max(1, int(part.height * share))
        view = replace(part, width=wide, height=high, scale=part.scale * share, left=part.left * share, top=part.top * share)
    scale = view.scale
    clip = Picture(plate.clip, plate.coats[:1]) if plate.clip is not None else None
    pixels = _floats(
        (SceneLayer("", Picture(plate.marks, plate.coats, closed=plate.closed), clip=clip),), view, max(map(abs, plate.box)), flag
    )
    return Texture(pixels, view.page_to_picture(), of_marks=plate.of_marks, shrinks=not exact)


def without_finishes(
    scene: Scene, view: View, progress: Progress = QUIET, leave: Callable[[SceneLayer], bool] | None = None
) -> Scene:
    """Return a scene in which layers with finishes, and all beneath a veil, are pictures as large as they are in a view.

    Layers of which `leave` says so stay as they are, unless they lie beneath a veil.

    Raises
    ------
    GivenUp
    """
    if not has_finishes(scene.layers):
        return scene
    flag = np.zeros(1, np.uint8)
    with ThreadPoolExecutor(1) as pool:
        closing = Closing(view, partial(_for_finish, flag=flag), progress, leave or (lambda _: False))
        _wait([job := pool.submit(closing.layers, scene.layers, scene.background)], flag, progress)
    return replace(scene, layers=job.result())


def _for_finish(layers: Sequence[Node], view: View, ground: str, flag: Array) -> Array:
    """Layers on a ground that goes on beyond the page, as premultiplied floats (H, W, 4)."""
    return _floats(tuple(layers), view, view.reach, flag, ground)


def _floats(layers: tuple[Node, ...], view: View, beyond: float, flag: Array, ground: str = "") -> Array:
    """Layers as premultiplied floats (H, W, 4) on a page that ends beyond a view, and so far from its middle, in one thread."""
    side = 4 * max(view.width, view.height) / view.scale + 2 * beyond
    job = _job(Scene(side, side, ground, layers), view, flag, "float", QUIET)
    desks: dict[int, Desk] = {}
    for at in range(job.tiles):
        job.tile(at, desks)
        if flag[0]:
            raise GivenUp
    return job.out


def _feathered(mask: Mask, view: View, flag: Array) -> Mask:
    """A mask by opacity that goes over evenly where the given one does at once."""
    from scipy.ndimage import gaussian_filter  # takes a while to load, and few works need it

    deviation = min(mask.feather * view.scale / 2, FEATHER_MOST)
    room = math.ceil(3 * deviation) + 1
    large = replace(view, width=view.width + 2 * room, height=view.height + 2 * room, left=view.left + room, top=view.top + room)
    share = _let_through(_floats(mask.layers, large, large.reach, flag), mask.by == "lightness", mask.inverted)
    soft = gaussian_filter(share, deviation, mode="nearest", truncate=3.0)[room:-room, room:-room]
    return Mask((SceneLayer("", on_sheet(np.repeat(soft[..., None], 4, 2), view)),), "opacity")


def _let_through(seen: Array, by_lightness: bool, inverted: bool) -> Array:
    """How much of each pixel a painted mask (H, W, 4) lets through (H, W)."""
    own = seen[..., :3] @ LUMA.astype(np.float32) if by_lightness else seen[..., 3]
    return np.asarray(1 - own if inverted else own)


def _paint_layer(layer: _Prepared, pixels: Array, place: _Place) -> None:
    if layer.plain:
        _paint_what(layer, pixels, place)
        return
    own = np.zeros_like(pixels) if layer.isolated else pixels.copy()
    _paint_what(layer, own, place)
    share = _share_of(layer, pixels.shape, place)
    if not layer.isolated:  # between what was there and what the members have made of it
        kept = np.float32(layer.opacity) if share is None else share[..., None] * np.float32(layer.opacity)
        pixels += (own - pixels) * kept
        return
    if share is not None:
        fade(own, share)
    lay_layer(pixels, own, layer.opacity, layer.blend)


def _share_of(layer: _Prepared, shape: tuple[int, ...], place: _Place) -> Array | None:
    """How much of each pixel clip and mask let through (H, W), or None for all."""
    share: Array | None = None
    if layer.clip is not None:
        cut = np.zeros(shape, np.float32)
        _paint_items(layer.clip, cut, place)
        share = cut[..., 3]
    if layer.mask is not None:
        seen = np.zeros(shape, np.float32)
        for member in layer.mask:
            _paint_layer(member, seen, place)
        own = _let_through(seen, layer.by_lightness, layer.inverted)
        share = own if share is None else share * own
    return share


def _paint_what(layer: _Prepared, pixels: Array, place: _Place) -> None:
    if isinstance(layer.what, Ready):
        _paint_items(layer.what, pixels, place)
    else:
        for member in layer.what:
            _paint_layer(member, pixels, place)


def _paint_items(ready: Ready, pixels: Array, place: _Place) -> None:
    order = ready.order(place.tile)
    if not len(order):
        return
    high, desk = len(pixels), place.desk
    kernels.paint_tile(
        pixels, desk.run, desk.acc[:high], desk.mask[:high], desk.solid[:high], place.left, place.top, ready.flat, order
    )


def _coverage(page: tuple[float, float, float, float], place: _Place, wide: int, high: int) -> Array | None:
    """How much of each pixel of a tile the page covers, or None if all of it."""
    left, right, upper, lower = page
    if left <= place.left and right >= place.left + wide and upper <= place.top and lower >= place.top + high:
        return None
    x, y = np.arange(place.left, place.left + wide), np.arange(place.top, place.top + high)
    across = np.clip(np.minimum(x + 1, right) - np.maximum(x, left), 0, 1)
    down = np.clip(np.minimum(y + 1, lower) - np.maximum(y, upper), 0, 1)
    return (down[:, None] * across[None]).astype(np.float32)
