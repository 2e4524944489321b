"""Finishes in a scene: a layer that has them, and a veil with all beneath it, become a picture that lies on the sheet."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import replace

import numpy as np

from under_lattice.colour.effects import Effect
from under_lattice.colour.texture import Texture
from under_lattice.core.progress import Progress
from under_lattice.geometry.affine import Array
from under_lattice.pattern.marks import Closed, Picture, Plate
from under_lattice.render.finish import finished
from under_lattice.render.finish.kept import FINISHED
from under_lattice.render.finish.units import plated
from under_lattice.render.items import MODE_OF
from under_lattice.render.kernel_blend import fade, lay_layer
from under_lattice.scene.painted import over_sheet
from under_lattice.scene.tree import Node, Scene, SceneGroup, SceneLayer, SceneVeil, View

PIXELS_MOST = 24_000_000  # of a picture that is finished; a larger one is painted coarser
ROUND_MOST, ROUND_LEAST = 6.0, 2_000_000  # times those of the view, and pixels at least, with all round it that a finish reaches
BAND, ROUND_BAND = 4_000_000, 2.0  # px of a band of a large picture, and how much may be needed round it, in bands
Painted = Callable[[Sequence[Node], View, str], Array]  # layers, front first, in a view, on a ground: premultiplied floats


def has_finishes(layers: Iterable[Node]) -> bool:
    """Tell whether anything of a tree, or of its masks, has a finish."""
    return any(_has_finishes(layer) for layer in layers)


def _has_finishes(layer: Node) -> bool:
    if isinstance(layer, SceneVeil) or (layer.mask is not None and has_finishes(layer.mask.layers)):
        return True
    if isinstance(layer, SceneGroup):
        return has_finishes(layer.members)
    return bool(layer.picture.closed) or _fills_have_finishes(layer.picture)


def _fills_have_finishes(picture: Picture) -> bool:
    """Whether what shapes or lines are filled with has finishes."""
    return any(isinstance(coat.paint, Plate) and bool(coat.paint.closed) for coat in picture.coats)


def rows_at_once(scene: Scene, view: View) -> int:
    """Return how many rows of a view are finished at once: all, or of a large picture a band, with all round it that is needed.

    A finish that must see far beyond a band, such as streaks from a middle, takes all of it.
    """
    bands = math.ceil(view.width * view.height / BAND)
    if bands < 2 or not has_finishes(scene.layers):
        return view.height
    rows = math.ceil(view.height / bands)
    effects = tuple(_effects_of(scene.layers))
    high = max(
        _needed(replace(view, height=rows, top=view.top - top), effects)
        for top in (0, (view.height - rows) / 2, view.height - rows)
    )
    return rows if high <= (ROUND_BAND + 1) * rows else view.height


def _needed(band: View, effects: Iterable[tuple[float, Effect]]) -> float:
    """How many rows must be seen so that a band can be finished by effects, each of a size."""
    box = band.box
    for size, effect in effects:
        x0, y0, x1, y1 = (value / size for value in box)
        x0, y0, x1, y1 = effect.needs((x0, y0, x1, y1))
        box = x0 * size, y0 * size, x1 * size, y1 * size
    return (box[3] - box[1]) * band.scale


def _effects_of(layers: Iterable[Node]) -> Iterator[tuple[float, Effect]]:
    """All effects of a tree that are done on the whole sheet, and how large they are there."""
    for layer in layers:
        if layer.mask is not None:
            yield from _effects_of(layer.mask.layers)
        if isinstance(layer, SceneGroup):
            yield from _effects_of(layer.members)
        elif isinstance(layer, SceneVeil):
            yield from ((1.0, effect) for effect in layer.effects)
        else:
            whole = [one for one in layer.picture.closed if _is_whole(one)]
            yield from ((float(one.place[0, 0, 0]), effect) for one in whole for effect in one.effects)


class Closing:
    """Paints what has finishes, for one view.

    Parameters
    ----------
    view : View
    paint : callable
        Paints layers without finishes.
    progress : Progress
        Told what is painted coarser.
    leave : callable or None
        For files, which know no plates: what has finishes copy by copy becomes one picture too, and layers of which this says so
        stay as they are.
    """

    def __init__(self, view: View, paint: Painted, progress: Progress, leave: Callable[[SceneLayer], bool] | None = None) -> None:
        self.view, self.paint, self.progress, self.leave = view, paint, progress, leave

    def layers(self, layers: Sequence[Node], ground: str = "") -> tuple[SceneLayer | SceneGroup, ...]:
        """Return layers, front first, without finishes: those beneath a veil are one picture, with the `ground` they lie on.

        Raises
        ------
        GivenUp
        """
        stretches = [self]  # between veils, the front one first: each is seen as far beyond the view as the veils before it reach
        for layer in layers:
            if isinstance(layer, SceneVeil):
                last = stretches[-1]
                stretches.append(Closing(last._larger(layer.effects, layer.name), self.paint, self.progress, self.leave))
        out: list[SceneLayer | SceneGroup] = []  # from the back
        for k, layer in enumerate(reversed(layers)):
            self.progress.step(k / len(layers))
            if isinstance(layer, SceneVeil):
                out = [stretches.pop()._veiled(layer, tuple(reversed(out)), ground)]
            else:
                out.append(stretches[-1].layer(layer))
        return tuple(reversed(out))

    def layer(self, layer: SceneLayer | SceneGroup) -> SceneLayer | SceneGroup:
        """Return a layer without finishes.

        Raises
        ------
        GivenUp
        """
        if not _has_finishes(layer):
            return layer
        if layer.mask is not None:
            layer = replace(layer, mask=replace(layer.mask, layers=self.layers(layer.mask.layers)))
        if isinstance(layer, SceneGroup):
            return replace(layer, members=self.layers(layer.members))
        filled = self.leave is not None and _fills_have_finishes(layer.picture)
        if not (layer.picture.closed or filled) or (self.leave is not None and not filled and self.leave(layer)):
            return layer
        return replace(layer, picture=self._finished(layer.picture, layer.name))

    def _finished(self, picture: Picture, name: str) -> Picture:
        """A picture without finishes: copies that have some of their own as plates, and all of it as one picture on the sheet."""

        def unit(own: Picture, view: View, effects: tuple[Effect, ...]) -> Array:
            return FINISHED.get(
                (own, view, effects), lambda: finished(self.paint((SceneLayer("", own),), view, ""), effects, view, self.progress)
            )

        def note(words: str) -> None:
            self.progress.note(f"{name}: {words}")

        whole = picture.closed[-1] if picture.closed and _is_whole(picture.closed[-1]) else None
        large, view = self._seen_by(whole, name) if whole is not None else (self.view, self.view)
        while picture.closed and not (len(picture.closed) == 1 and _is_whole(picture.closed[0])):
            picture = plated(picture, view, unit, note)
            self.progress.check()
        if whole is None or not picture.closed:
            return on_sheet(self.paint((SceneLayer("", picture),), view, ""), view) if self.leave is not None else picture
        alone, effects = (SceneLayer("", replace(picture, closed=())),), whole.effects
        made = FINISHED.get((picture, view, large), lambda: finished(self.paint(alone, view, ""), effects, large, self.progress))
        return on_sheet(made, view)

    def _seen_by(self, whole: Closed, name: str) -> tuple[View, View]:
        """What finishes of all together need to see, as a view of the place they are in and of the sheet."""
        size, (x, y) = float(whole.place[0, 0, 0]), whole.place[0, :, 2] * self.view.scale
        own = replace(self.view, scale=self.view.scale * size, left=self.view.left + x, top=self.view.top + y)
        large = Closing(own, self.paint, self.progress)._larger(whole.effects, name)
        share = large.scale / own.scale
        return large, replace(large, scale=large.scale / size, left=large.left - x * share, top=large.top - y * share)

    def _veiled(self, veil: SceneVeil, beneath: tuple[SceneLayer | SceneGroup, ...], ground: str) -> SceneLayer:
        """What lies beneath a veil, in this view, as it is seen through it."""
        pixels = FINISHED.get((veil, beneath, ground, self.view), lambda: self._through(veil, beneath, ground))
        return SceneLayer(veil.name, on_sheet(pixels, self.view))

    def _through(self, veil: SceneVeil, beneath: tuple[SceneLayer | SceneGroup, ...], ground: str) -> Array:
        """The same as pixels (H, W, 4)."""
        seen = self.paint(beneath, self.view, ground)
        through = finished(seen, veil.effects, self.view, self.progress)
        share = self._share(veil)
        if veil.blend == "normal":
            whole = np.float32(veil.opacity)
            seen = seen + (through - seen) * (whole if share is None else share[..., None] * whole)
        else:
            through = np.array(through, np.float32)
            if share is not None:
                fade(through, share)
            lay_layer(seen, through, veil.opacity, MODE_OF[veil.blend])
        return np.asarray(seen)

    def _share(self, veil: SceneVeil) -> Array | None:
        """How much of each pixel clip and mask of a veil let through (H, W), or None for all."""
        if veil.clip is None and veil.mask is None:
            return None
        stencil = SceneLayer("", over_sheet(2 * self.view.reach, 2 * self.view.reach), clip=veil.clip, mask=veil.mask)
        return self.paint((self.layer(stencil),), self.view, "")[..., 3]

    def _larger(self, effects: Sequence[Effect], name: str) -> View:
        """The view with as much round it as finishes need to see; coarser where it would have too many pixels."""
        view, scale = self.view, self.view.scale
        own = box = view.box
        for effect in reversed(effects):
            box = effect.needs(box)
        most = 4 * max(view.width, view.height)
        left, top, right, bottom = (
            min(math.ceil(abs(far - near) * scale) + 1, most) if far != near else 0 for far, near in zip(box, own, strict=True)
        )
        wide, high = view.width + left + right, view.height + top + bottom
        large = replace(view, width=wide, height=high, left=view.left + left, top=view.top + top)
        share = min(1.0, (min(PIXELS_MOST, max(ROUND_MOST * view.width * view.height, ROUND_LEAST)) / (wide * high)) ** 0.5)
        if share == 1.0:
            return large
        self.progress.note(f"{name}: painted coarser, its finish reaches far")
        return View(max(1, int(wide * share)), max(1, int(high * share)), scale * share, large.left * share, large.top * share)


def _is_whole(closed: Closed) -> bool:
    """Whether a finish takes all together where they lie, unturned."""
    if len(closed.place) > 1 or (closed.unit < 0).any():
        return False
    (a, b, _), (c, d, _) = closed.place[0]
    return bool(abs(b) + abs(c) + abs(a - d) < 1e-9 * abs(a) and a > 0)


def on_sheet(pixels: Array, view: View) -> Picture:
    """Return premultiplied pixels (H, W, 4) of a view as a picture that lies on the sheet."""
    texture = Texture(np.ascontiguousarray(pixels, np.float32), view.page_to_picture(), of_marks=False, shrinks=False)
    wide, high = view.width / view.scale, view.height / view.scale
    return over_sheet(wide, high, texture, middle=(wide / 2 - view.left / view.scale, high / 2 - view.top / view.scale))
