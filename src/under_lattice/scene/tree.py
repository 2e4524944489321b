"""The scene: one tree of painted layers, the front first; what painters and file writers read."""

from __future__ import annotations

import math
from collections.abc import Collection, Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Any, Literal

import numpy as np

from under_lattice.colour.colour import bytes_of
from under_lattice.colour.effects import Effect
from under_lattice.colour.texture import Texture, covering, premultiplied
from under_lattice.core.progress import QUIET, Progress
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.evaluate.finishing import effects_of
from under_lattice.evaluate.placing import place_of
from under_lattice.evaluate.result import ChainResult
from under_lattice.geometry.affine import IDENTITY, Array, compose, inverse
from under_lattice.pattern.inked import moved
from under_lattice.pattern.known import Known
from under_lattice.pattern.marks import Coat, Picture
from under_lattice.rules.end import Lies
from under_lattice.scene.painted import over_sheet, painted
from under_lattice.work.layers import AnyLayer
from under_lattice.work.model import Design

BEYOND = 5.0  # times the sheet, that masks go on beyond it: they may be moved
VEIL, VEILED = "#16286B", 0.62  # over what a mask hides, where masks are shown: dark blue, which every eye tells from red and green


@dataclass(frozen=True, eq=False)
class Mask:
    """Layers that are not seen themselves: their opacity, or their lightness, says how much of another is, or is not.

    With `feather`, in the unit of the work, what it says goes over evenly (a Gaussian of half as much deviation).
    """

    layers: tuple[Node, ...]
    by: Literal["opacity", "lightness"] = "opacity"
    inverted: bool = False
    feather: float = 0.0


@dataclass(frozen=True, eq=False)
class SceneLayer:
    """One chain's picture, laid over what is beneath; nothing of it is seen outside the outlines of `clip`.

    Blend modes of its marks see what is beneath the layer, unless it is isolated, blended itself, faded, clipped or masked.
    """

    name: str
    picture: Picture
    opacity: float = 1.0
    blend: str = "normal"
    layer: str = ""  # id of the chain
    isolated: bool = False
    clip: Picture | None = None
    mask: Mask | None = None


@dataclass(frozen=True, eq=False)
class SceneGroup:
    """Layers painted together, then laid over what is beneath.

    Blend modes of the members of an isolated group do not see what is beneath the group.
    """

    name: str
    members: tuple[Node, ...]
    opacity: float = 1.0
    blend: str = "normal"
    isolated: bool = True
    clip: Picture | None = None
    mask: Mask | None = None


@dataclass(frozen=True, eq=False)
class SceneVeil:
    """Effects on all that lies beneath in the same group, or on the sheet with its ground; as far as it is clear, that stays."""

    name: str
    effects: tuple[Effect, ...]
    opacity: float = 1.0
    blend: str = "normal"
    clip: Picture | None = None
    mask: Mask | None = None


Node = SceneLayer | SceneGroup | SceneVeil


@dataclass(frozen=True, eq=False)
class Scene:
    """What is painted on a page of `width` x `height` units, origin in its middle; the front layer first, as in the work."""

    width: float
    height: float
    background: str
    layers: tuple[Node, ...]


def reach_of(layers: Iterable[Node]) -> float:
    """Return how far the veils of a tree carry what lies beneath them, in the unit of the work."""
    own = sum(effect.reach for layer in layers if isinstance(layer, SceneVeil) for effect in layer.effects)
    return own + sum(reach_of(layer.members) for layer in layers if isinstance(layer, SceneGroup))


def leaves(layers: Iterable[Node]) -> Iterator[SceneLayer]:
    """Yield the chains' pictures of a tree, from back to front; what is wholly clear is passed over."""
    for layer in reversed(tuple(layers)):
        if layer.opacity > 0 and isinstance(layer, SceneGroup):
            yield from leaves(layer.members)
        elif layer.opacity > 0 and isinstance(layer, SceneLayer):
            yield layer


def make_scene(
    design: Design, results: dict[str, ChainResult], evaluator: Evaluator, bones: bool = False, construction: bool = False,
    progress: Progress = QUIET, mask_of: str = "", only: Collection[str] | None = None,
) -> Scene:  # fmt: skip
    """Return the scene of an evaluated design; `bones` shows outlines only, `construction` shows what never goes out as such.

    The layer of the id `mask_of` is shown whole, with a veil over what its mask hides of it. With `only`, ids of outermost layers,
    just those are in it.

    Raises
    ------
    GivenUp
    """
    make = _Making(design, results, evaluator, bones, construction, progress, mask_of)
    chosen = [layer for layer in design.layers if only is None or layer.id in only]
    layers = tuple(made for made in map(make.node, chosen) if made)
    return Scene(design.sheet.width, design.sheet.height, design.sheet.background, layers)


@dataclass(frozen=True)
class _Making:
    """A scene on its way from the tree of layers."""

    design: Design
    results: Mapping[str, ChainResult]
    evaluator: Evaluator
    bones: bool
    construction: bool
    progress: Progress
    mask_of: str = ""

    def node(self, layer: AnyLayer, asked: bool = False) -> Node | None:
        """Return what is painted of a layer, if anything; with `asked` also where it is hidden or a source only."""
        made = self._node(layer, asked)
        if made is None or made.mask is None or layer.id != self.mask_of or isinstance(made, SceneVeil):
            return made
        hidden = replace(made.mask, inverted=not made.mask.inverted)
        sheet = self.design.sheet
        veil = SceneLayer("", over_sheet(sheet.width, sheet.height, colour=VEIL), opacity=VEILED, mask=hidden)
        return SceneGroup(layer.name, (veil, replace(made, mask=None)), isolated=False)

    def _node(self, layer: AnyLayer, asked: bool) -> Node | None:
        """The same as it is painted in the end."""
        self.progress.check()
        if (layer.hidden or layer.source_only) and not asked:
            return None
        how = self._how(layer)
        if layer.veils:
            how.pop("isolated")
            effects = () if self.bones else effects_of(layer)
            return SceneVeil(layer.name, effects, **how) if effects else None
        if layer.members:
            members = tuple(made for made in map(self.node, layer.members) if made)
            return SceneGroup(layer.name, members, **how)
        picture = self.evaluator.picture(self.results[layer.id], progress=self.progress) if layer.id in self.results else None
        if picture is None or (picture.bones and not self.construction):
            return None
        sheet = self.design.sheet
        thin = min(sheet.width, sheet.height) / 700
        if self.bones or picture.bones:
            picture = as_bones(picture, sheet.background, thin)
        elif picture.thin is not None and self.construction:
            (line,) = as_bones(picture, sheet.background, thin).coats
            stroke = line.stroke * picture.thin[:, None].astype(np.uint8)
            picture = replace(picture, coats=(*picture.coats, line._replace(stroke=stroke)))
        return SceneLayer(layer.name, picture, layer=layer.id, **how)

    def _how(self, layer: AnyLayer) -> dict[str, Any]:
        """How a layer lies over what is beneath."""
        sheet, end = self.design.sheet, layer.end
        known = next((result.known for result in self.results.values()), Known(width=sheet.width, height=sheet.height))
        lies = end.lies(known)
        how: dict[str, Any] = {"opacity": lies.opacity, "blend": lies.blend, "isolated": lies.isolated}
        if self.bones:
            if end.layers():
                self.progress.note("outlines alone are shown, so clips and masks are left aside")
            return how
        there = self.design.tree.by_id if end.layers() else {}
        around = place_of(self.design, self.design.tree.parents.get(layer.id), known)
        own = end.place(known) if lies.mask_moves else IDENTITY
        among = compose(around, compose(own, inverse(around)))  # where what lies on the sheet is moved with the layer
        if lies.clip in there:
            clip = self.evaluator.seen_as(there[lies.clip], self.results, self.progress)
            how["clip"] = clip if clip is None else moved(clip, among)
        if lies.mask in there:
            mask = self.node(there[lies.mask], asked=True)
            how["mask"] = Mask((brought(mask, among),) if mask else (), lies.mask_by, lies.inverted, lies.feather)
        elif pictures := self._pictures_of_mask(lies):
            layers = tuple(SceneLayer("", moved(one, compose(around, own))) for one in pictures)
            how["mask"] = Mask(layers, "lightness", lies.inverted, lies.feather)
        return how

    def _pictures_of_mask(self, lies: Lies) -> tuple[Picture, ...]:
        """What a layer is masked by where that is no other layer, front first; nothing where it is not masked."""
        wide, high = self.design.sheet.width, self.design.sheet.height
        beyond = BEYOND * wide, BEYOND * high
        if lies.mask_ramp is not None:
            return (over_sheet(*beyond, lies.mask_ramp),)
        if (pixels := self.evaluator.pixels(lies.mask_picture)) is not None:
            to_picture = covering(pixels.shape[1], pixels.shape[0], wide, high)
            return (over_sheet(*beyond, Texture(premultiplied(pixels), to_picture)),)
        return (*painted(lies.strokes), over_sheet(*beyond)) if lies.strokes else ()


def brought(node: Node, through: Array) -> Node:
    """A layer or group brought through a map (2, 3) of the sheet, with its clips and masks."""
    if np.array_equal(through, IDENTITY):
        return node
    clip = None if node.clip is None else moved(node.clip, through)
    mask = None if node.mask is None else replace(node.mask, layers=tuple(brought(one, through) for one in node.mask.layers))
    if isinstance(node, SceneGroup):
        return replace(node, members=tuple(brought(one, through) for one in node.members), clip=clip, mask=mask)
    if isinstance(node, SceneVeil):
        return replace(node, clip=clip, mask=mask)
    return replace(node, picture=moved(node.picture, through), clip=clip, mask=mask)


def as_bones(picture: Picture, ground: str, width: float) -> Picture:
    """Outlines only: one thin line round each mark, dark or light by the ground, `width` in the unit of the work."""
    from under_lattice.colour.colour import luminance

    dark = not ground or luminance(ground) > 0.3
    line = bytes_of(("#1C1C1C" if dark else "#EDEDED",))
    return Picture(picture.marks, (Coat(np.zeros((1, 4), np.uint8), line, np.array([width])),))


@dataclass(frozen=True)
class View:
    """A page box seen in pixels: `scale` px per unit; the page's point (x, y) stands at pixel scale·(x, y) + (left, top)."""

    width: int
    height: int
    scale: float
    left: float
    top: float

    def page_to_pixels(self) -> Array:
        """Return the map (2, 3)."""
        return np.array([(self.scale, 0.0, self.left), (0.0, self.scale, self.top)])

    def page_to_picture(self) -> Array:
        """Return the map (2, 3) to shares of its width and height."""
        return self.page_to_pixels() / np.array([[self.width], [self.height]])

    @property
    def box(self) -> tuple[float, float, float, float]:
        """Left, top, right and bottom of what is seen, in the unit of the work."""
        right, bottom = (self.width - self.left) / self.scale, (self.height - self.top) / self.scale
        return -self.left / self.scale, -self.top / self.scale, right, bottom

    @property
    def reach(self) -> float:
        """How far from the middle of the page all that is seen lies at most, in the unit of the work."""
        return float(np.hypot(self.width, self.height) + abs(self.left) + abs(self.top)) / self.scale


def whole_page(scene: Scene, width: int, height: int | None = None) -> View:
    """Return the view of the whole page in `width` px."""
    scale = width / scene.width
    high = max(1, round(scene.height * scale)) if height is None else height
    return View(width, high, scale, width / 2, high / 2)


def page_rows(scene: Scene, view: View) -> tuple[float, float, float, float]:
    """Return where the page lies in a view: its left, right, upper and lower edge, in px."""
    x, y = scene.width / 2 * view.scale, scene.height / 2 * view.scale
    return view.left - x, view.left + x, view.top - y, view.top + y


def page_in(scene: Scene, view: View) -> tuple[View, tuple[slice, slice]]:
    """Return what of a view the page lies in, beside which nothing is seen, and which rows and columns of the view these are."""
    left, right, upper, lower = page_rows(scene, view)
    x, y = min(max(0, math.floor(left)), view.width), min(max(0, math.floor(upper)), view.height)
    wide, high = max(0, min(view.width, math.ceil(right)) - x), max(0, min(view.height, math.ceil(lower)) - y)
    seen = replace(view, width=wide, height=high, left=view.left - x, top=view.top - y)
    return seen, np.s_[y : y + high, x : x + wide]
