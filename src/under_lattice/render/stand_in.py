"""A plain painter for the minute in which the kernels are compiled for the first time: oversampled, with few blend modes."""

from __future__ import annotations

from functools import partial

import numpy as np
from PIL import Image, ImageChops, ImageDraw

from under_lattice.colour.ramp import Ramp
from under_lattice.colour.texture import Texture
from under_lattice.core.progress import QUIET, Progress
from under_lattice.geometry.affine import Array, apply, compose, inverse
from under_lattice.pattern.marks import Picture, Plate
from under_lattice.render.items import Items, items_of, paint_maps
from under_lattice.scene.along import pieced
from under_lattice.scene.aside import left_aside
from under_lattice.scene.tree import Node, Scene, SceneGroup, SceneLayer, SceneVeil, View

OVER = 2
PLATE_MOST = 600  # px of the longer side of what shapes are filled with
MOST = 20_000  # items; the rest of a large work waits for the kernels
MIXED = {  # modes of a layer that can be had by painting it on what changes nothing; exact on an opaque backdrop for the first two
    "multiply": ("white", ImageChops.multiply),
    "screen": ("black", ImageChops.screen),
    "darken": ("white", ImageChops.darker),
    "lighten": ("black", ImageChops.lighter),
    "plus-lighter": ("black", ImageChops.add),
}


def paint_plainly(scene: Scene, view: View, progress: Progress = QUIET, over: int = OVER) -> Array:
    """Return premultiplied RGBA (height, width, 4) uint8 of about the right picture, painted `over` times as large.

    Raises
    ------
    GivenUp
    """
    said = left_aside("the plain picture", scene.layers)
    if said:
        progress.note(said)
    if scene.background:
        seen, cover = _on(scene, scene.background, view, progress, over), np.full((view.height, view.width), 255, np.uint8)
    else:  # what is clear differs on black and on white
        seen, light = (_on(scene, ground, view, progress, over) for ground in ("black", "white"))
        cover = 255 - np.clip(light.astype(int) - seen, 0, 255).max(2).astype(np.uint8)
    pixels = np.dstack([seen, cover])
    x, y = scene.width / 2 * view.scale, scene.height / 2 * view.scale
    page = Image.new("L", (view.width, view.height))
    ImageDraw.Draw(page).rectangle((view.left - x, view.top - y, view.left + x - 1, view.top + y - 1), fill=255)
    pixels[np.asarray(page) == 0] = 0
    return np.minimum(pixels, pixels[..., 3:])


def _on(scene: Scene, ground: str, view: View, progress: Progress, over: int) -> Array:
    """The picture (height, width, 3) on a ground, which reaches beyond the page."""
    large = View(view.width * over, view.height * over, view.scale * over, view.left * over, view.top * over)
    picture = Image.new("RGB", (large.width, large.height), ground)
    for layer in reversed(scene.layers):
        _layer(picture, layer, large, progress)
    return np.asarray(picture.resize((view.width, view.height), Image.Resampling.BOX))


def _layer(picture: Image.Image, layer: Node, view: View, progress: Progress) -> None:
    if isinstance(layer, SceneVeil):
        return
    if layer.blend not in MIXED:
        _painted(picture, layer, view, progress)
        return
    neutral, mixed_by = MIXED[layer.blend]
    own = Image.new("RGB", picture.size, neutral)
    _painted(own, layer, view, progress)
    picture.paste(mixed_by(picture, own))


def _painted(picture: Image.Image, layer: SceneLayer | SceneGroup, view: View, progress: Progress) -> None:
    if isinstance(layer, SceneGroup):
        for member in reversed(layer.members):
            _layer(picture, member, view, progress)
        return
    items = items_of(pieced(layer.picture), view, partial(_texture_of, progress=progress))
    maps = paint_maps(items.paints, view)
    means = [_mean_of(paint) if isinstance(paint, Ramp) else paint.levels[-1].mean((0, 1)) for paint in items.paints]
    pen = ImageDraw.Draw(picture, "RGBA")
    shown = np.flatnonzero(_within(items, view))[:MOST]
    for k, at in enumerate(shown.tolist()):
        if k % 500 == 0:
            progress.check()
        _item(picture, pen, items, at, layer.opacity, maps, means)


def _within(items: Items, view: View) -> Array:
    """Which items (I,) may reach into the picture."""
    middle = items.xform[items.mark][:, :, 2]
    reach = items.shapes.radius[items.kind[:, 1]] * items.size[items.mark] + 4 * np.maximum(items.half, 0.0)
    far = np.array([view.width, view.height])
    return np.asarray(((middle + reach[:, None] >= 0) & (middle - reach[:, None] <= far)).all(1))


def _texture_of(plate: Plate, scale: float, *, exact: bool, part: View, progress: Progress) -> Texture:
    """What a shape is filled with, plainly painted: as the view sees it, or at a size in its own place."""
    left, top, right, bottom = plate.box
    if plate.of_marks:
        scale = min(scale, PLATE_MOST / max(right - left, bottom - top, 1e-9))
        wide, high = (max(1, round(side * scale)) for side in (right - left, bottom - top))
        part = View(wide, high, scale, -left * scale, -top * scale)
    side = 4 * max(part.width, part.height) / part.scale + 2 * max(map(abs, plate.box))
    scene = Scene(side, side, "", (SceneLayer("", Picture(plate.marks, plate.coats)),))
    pixels = paint_plainly(scene, part, progress, over=1)  # for a picture that is painted larger already
    to_picture = np.array(
        [(part.scale / part.width, 0.0, part.left / part.width), (0.0, part.scale / part.height, part.top / part.height)]
    )
    return Texture(pixels, to_picture, of_marks=plate.of_marks)


def _textured(picture: Image.Image, paint: Texture, to_picture: Array, rings: list[Array], strength: float) -> None:
    """Fill the first of some rings with a picture; `to_picture` (2, 3) takes pixels to shares of it."""
    low = np.maximum(np.floor(rings[0].min(0)), 0).astype(int)
    high = np.minimum(np.ceil(rings[0].max(0)) + 1, picture.size).astype(int)
    if (high <= low).any():
        return
    rows, columns = paint.pixels.shape[:2]
    share = to_picture.copy()
    share[:, 2] += to_picture[:, :2] @ low
    own = Image.fromarray(np.rint(paint.pixels * (255.0 if paint.pixels.dtype != np.uint8 else 1.0)).astype(np.uint8), "RGBA")
    size = int(high[0] - low[0]), int(high[1] - low[1])
    places = (share * np.array([[columns], [rows]])).ravel().tolist()
    laid = np.asarray(own.transform(size, Image.Transform.AFFINE, places, Image.Resampling.BILINEAR)).astype(float)
    alpha = laid[..., 3:]
    mask = Image.new("L", size)
    ImageDraw.Draw(mask).polygon([(float(x), float(y)) for x, y in rings[0] - low], fill=255)
    mask = Image.fromarray(np.uint8(np.asarray(mask) * (alpha[..., 0] / 255.0) * strength))
    plain = Image.fromarray(np.uint8(np.clip(laid[..., :3] * 255.0 / np.maximum(alpha, 1.0), 0, 255)), "RGB")
    picture.paste(plain, (int(low[0]), int(low[1])), mask)


def _item(
    picture: Image.Image, pen: ImageDraw.ImageDraw, items: Items, at: int, opacity: float, maps: Array, means: list[Array]
) -> None:
    colour = items.rgba[at] / 255.0
    paint = items.paints[items.kind[at, 2]] if items.kind[at, 2] >= 0 else None
    if paint is not None:
        mean = means[items.kind[at, 2]]
        colour = np.append(mean[:3] / max(float(mean[3]), 1e-6), mean[3] * colour[3])
    rgba = (*(int(255 * float(v)) for v in colour[:3]), int(255 * float(colour[3]) * opacity))
    shapes, shape = items.shapes, items.kind[at, 1]
    rings = []
    for contour in range(shapes.contour_of[shape], shapes.contour_of[shape + 1]):
        ring = apply(items.xform[items.mark[at]], shapes.points[shapes.contours[contour] : shapes.contours[contour + 1]])
        if len(ring) < 2:
            continue
        if items.half[at] >= 0:
            corners = [(float(x), float(y)) for x, y in ring]
            width = max(1, round(2 * float(items.half[at])))
            pen.line(corners + corners[:1] * int(shapes.closed[contour]), fill=rgba, width=width, joint="curve")
        elif len(ring) > 2:
            rings.append(ring)
    if isinstance(paint, Texture) and rings:
        own = maps[items.kind[at, 2]]
        to_picture = compose(own, inverse(items.xform[items.kind[at, 9]])) if paint.of_marks else own
        _textured(picture, paint, to_picture, rings, float(colour[3] > 0) * opacity)
    elif len(rings) == 1:
        pen.polygon([(float(x), float(y)) for x, y in rings[0]], fill=rgba)
    elif rings:
        _with_holes(picture, rings, rgba)


def _mean_of(ramp: Ramp) -> Array:
    """The colour (4,), premultiplied, that a ramp has on the mean; a round one has more of what is farther out."""
    table = ramp.table()
    return np.asarray(np.average(table, axis=0, weights=np.arange(len(table)) if ramp.form == "radial" else None))


def _with_holes(picture: Image.Image, rings: list[Array], rgba: tuple[int, ...]) -> None:
    """Fill several rings; those that run the other way than the first are holes."""
    joined = np.concatenate(rings)
    low = np.maximum(np.floor(joined.min(0)), 0).astype(int)
    high = np.minimum(np.ceil(joined.max(0)) + 1, picture.size).astype(int)
    if (high <= low).any():
        return
    mask = Image.new("L", (int(high[0] - low[0]), int(high[1] - low[1])))
    pen, ways = ImageDraw.Draw(mask), [_runs_round(ring) for ring in rings]
    for ring, way in zip(rings, ways, strict=True):
        pen.polygon([(float(x), float(y)) for x, y in ring - low], fill=rgba[3] if way == ways[0] else 0)
    picture.paste(rgba[:3], (int(low[0]), int(low[1])), mask)


def _runs_round(ring: Array) -> bool:
    """Whether a ring runs clockwise as seen."""
    after = np.roll(ring, -1, 0)
    return bool((ring[:, 0] * after[:, 1] - after[:, 0] * ring[:, 1]).sum() > 0)
