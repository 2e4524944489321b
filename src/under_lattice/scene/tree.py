"""The scene: a neutral list of painted layers, front last; what painters and file writers read."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from under_lattice.colour.colour import bytes_of
from under_lattice.core.progress import QUIET, Progress
from under_lattice.evaluate.evaluator import ChainResult, Evaluator
from under_lattice.geometry.affine import Array
from under_lattice.pattern.marks import Coat, Picture
from under_lattice.work.model import Chain, Design, Group, Veil


@dataclass(frozen=True, eq=False)
class Mask:
    """Layers that are not seen themselves: their opacity, or their lightness, says how much of another is."""

    layers: tuple[SceneLayer | SceneGroup, ...]
    by: Literal["opacity", "lightness"] = "opacity"


@dataclass(frozen=True, eq=False)
class SceneLayer:
    """One chain's picture, laid over what is beneath; nothing of it is seen outside the outlines of `clip`."""

    name: str
    picture: Picture
    opacity: float = 1.0
    blend: str = "normal"
    layer: str = ""  # id of the chain
    clip: Picture | None = None
    mask: Mask | None = None


@dataclass(frozen=True, eq=False)
class SceneGroup:
    """Layers painted together, then laid over what is beneath.

    Blend modes of the members of an isolated group do not see what is beneath the group.
    """

    name: str
    members: tuple[SceneLayer | SceneGroup, ...]
    opacity: float = 1.0
    blend: str = "normal"
    isolated: bool = True
    clip: Picture | None = None
    mask: Mask | None = None


@dataclass(frozen=True, eq=False)
class Scene:
    """What is painted on a page of `width` x `height` units, origin in its middle; the back layer first."""

    width: float
    height: float
    background: str
    layers: tuple[SceneLayer | SceneGroup, ...]


def make_scene(
    design: Design, results: dict[str, ChainResult], evaluator: Evaluator, bones: bool = False, construction: bool = False,
    progress: Progress = QUIET,
) -> Scene:  # fmt: skip
    """Return the scene of an evaluated design; `bones` shows outlines only, `construction` shows what never goes out as such.

    Raises
    ------
    GivenUp
    """

    def one(layer: Chain | Group | Veil) -> SceneLayer | SceneGroup | None:
        if layer.hidden or isinstance(layer, Veil):
            return None
        if isinstance(layer, Group):
            if layer.source_only:
                return None
            members = tuple(m for m in map(one, reversed(layer.layers)) if m)
            return SceneGroup(layer.name, members, layer.opacity / 100, layer.blend)
        picture = None if layer.source_only else evaluator.picture(results[layer.id], progress=progress)
        if picture is None or (picture.bones and not construction):
            return None
        if bones or picture.bones:
            picture = as_bones(picture, design.sheet.background, min(design.sheet.width, design.sheet.height) / 700)
        return SceneLayer(layer.name, picture, layer.end.opacity / 100, layer.end.blend, layer.id)

    layers = tuple(made for made in map(one, reversed(design.layers)) if made)
    return Scene(design.sheet.width, design.sheet.height, design.sheet.background, layers)


def as_bones(picture: Picture, ground: str, width: float) -> Picture:
    """Outlines only: one thin line round each mark, dark or light by the ground."""
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


def whole_page(scene: Scene, width: int, height: int | None = None) -> View:
    """Return the view of the whole page in `width` px."""
    scale = width / scene.width
    high = max(1, round(scene.height * scale)) if height is None else height
    return View(width, high, scale, width / 2, high / 2)
