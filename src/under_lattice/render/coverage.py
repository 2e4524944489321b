"""How much of a sheet is covered, and by which colours, read off a small picture of it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from under_lattice.colour.colour import bytes_of
from under_lattice.core.progress import QUIET, Progress
from under_lattice.geometry.affine import Array
from under_lattice.pattern.marks import Coat, Picture
from under_lattice.render.painter import paint_now
from under_lattice.scene.tree import Node, Scene, SceneGroup, SceneLayer, SceneVeil, View

SIDE = 240  # px of the longer side of the picture


def coverage(picture: Picture, width: float, height: float, progress: Progress = QUIET) -> float:
    """Return how much of a sheet `width` x `height`, in the unit of the work, is covered by what is painted, in per cent.

    Raises
    ------
    GivenUp, LimitError
    """
    return float(_pixels(picture, width, height, progress)[..., 3].mean() / 2.55)


def _pixels(picture: Picture, width: float, height: float, progress: Progress) -> Array:
    return paint_now(Scene(width, height, "", (SceneLayer("", picture),)), _view(width, height), progress)


def _view(width: float, height: float) -> View:
    """The whole sheet, so many pixels large."""
    scale = SIDE / max(width, height)
    across, down = max(1, round(width * scale)), max(1, round(height * scale))
    return View(across, down, scale, across / 2, down / 2)


def shares_of_colours(
    picture: Picture, colours: Sequence[str], width: float, height: float, progress: Progress = QUIET
) -> dict[str, float]:
    """Return how much of a sheet each of some colours of a layer is seen on, in per cent, by their hexadecimal figures.

    Three at a time: marks of one are painted all red, of another green, of the third blue, and all others black; what hides what
    stays as it is. Ramps and pictures count for none.

    Raises
    ------
    GivenUp, LimitError
    """
    return shares_in_scene(Scene(width, height, "", (SceneLayer("", picture),)), colours, progress)


def shares_in_scene(scene: Scene, colours: Sequence[str], progress: Progress = QUIET) -> dict[str, float]:
    """Return the same of all layers together, as they hide each other; what a ground has of a colour is seen where it is bare.

    Raises
    ------
    GivenUp, LimitError
    """
    found: dict[str, float] = {}
    wanted = bytes_of(tuple(colours))[:, :3] if colours else np.zeros((0, 3), np.uint8)
    view = _view(scene.width, scene.height)
    for at in range(0, len(colours), 3):
        some = wanted[at : at + 3]
        ground = ["FF" if scene.background == colour else "00" for colour in (*colours[at : at + 3], "", "")][:3]
        layers = _told_apart_in(scene.layers, some)
        told = replace(scene, background="#" + "".join(ground) if scene.background else "", layers=layers)
        pixels = paint_now(told, view, progress)
        for k, colour in enumerate(colours[at : at + 3]):
            found[colour] = float(pixels[..., k].mean() / 2.55)
    return found


def _layer_told_apart(layer: SceneLayer | SceneGroup, some: Array) -> SceneLayer | SceneGroup:
    """A layer or group whose marks of some colours (k, 3) are of one channel each; finishes are left aside."""
    if isinstance(layer, SceneGroup):
        return replace(layer, members=_told_apart_in(layer.members, some), blend="normal")
    coats = tuple(_told_apart(coat, some) for coat in layer.picture.coats)
    return replace(layer, picture=replace(layer.picture, coats=coats, closed=()), blend="normal")


def _told_apart_in(layers: tuple[Node, ...], some: Array) -> tuple[SceneLayer | SceneGroup, ...]:
    return tuple(_layer_told_apart(one, some) for one in layers if not isinstance(one, SceneVeil))


def _told_apart(coat: Coat, some: Array) -> Coat:
    """A coat in which marks of one of some colours (k, 3) are all of one channel, and all others black."""

    def painted(rgba: Array, by_paint: bool) -> Array:
        out = np.zeros_like(rgba)
        out[:, 3] = rgba[:, 3]
        for k, colour in enumerate(some if not by_paint else ()):
            out[(rgba[:, :3] == colour).all(1), k] = 255
        return out

    return coat._replace(
        fill=painted(coat.fill, coat.paint is not None and not coat.lines),
        stroke=painted(coat.stroke, coat.paint is not None and coat.lines),
        blend="normal",
        paint=None,
        seat=None,
    )
