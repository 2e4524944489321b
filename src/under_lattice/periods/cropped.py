"""Scenes without what lies wholly beside their page."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from under_lattice.geometry.affine import Array
from under_lattice.pattern.coats import line_room
from under_lattice.pattern.drawn import Drawn
from under_lattice.pattern.marks import Picture
from under_lattice.scene.tree import Node, Scene, SceneGroup, SceneVeil, reach_of


def cropped_scene(scene: Scene, room: float = 0.0) -> Scene:
    """Return a scene without the marks that do not come within its page, and some room about it, in the unit of the page."""
    half = np.array([scene.width, scene.height]) / 2
    room += reach_of(scene.layers)
    return replace(scene, layers=tuple(cropped(layer, half, room) for layer in scene.layers))


def cropped(layer: Node, half: Array, room: float = 0.0) -> Node:
    """Return a layer without the marks that do not come within a page of so much to each side (2,), and some room about it."""
    if isinstance(layer, SceneVeil):
        return layer
    if isinstance(layer, SceneGroup):
        return replace(layer, members=tuple(cropped(one, half, room) for one in layer.members))
    return replace(layer, picture=_cropped(layer.picture, half, room))


def _cropped(picture: Picture, half: Array, room: float) -> Picture:
    drawn = Drawn(picture.marks)
    if not len(drawn.rows):
        return picture
    sizes = [float(np.sqrt(np.abs(np.linalg.det(closed.place[:, :, :2])).max())) for closed in picture.closed]
    carried = sum(size * effect.reach for size, closed in zip(sizes, picture.closed, strict=True) for effect in closed.effects)
    room += carried + line_room(picture.coats)
    x, y = half
    met = drawn.meeting((-x, -y, x, y), room)
    return replace(picture, marks=replace(picture.marks, variant=np.where(met, picture.marks.variant, -1).astype(np.int32)))
