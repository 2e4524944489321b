"""Close-ups: the part of a page that small pictures show, so that one can tell what is on it."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from under_lattice.geometry.affine import Array
from under_lattice.pattern.marks import Picture
from under_lattice.scene.tree import Node, Scene, SceneGroup, SceneVeil, View, leaves, reach_of

ACROSS = 14  # copies that stand side by side in a close-up
INSIDE = 0.8  # of half the page: what keeps within it is a figure on the page, not a cover that goes on beyond
BINS, EVEN = 5, 0.12  # how many parts of a page each way are compared, and their greatest standard deviation, of 1
MANY = 400  # marks; of fewer none are left out


def stands_alone(scene: Scene) -> bool:
    """Tell whether all that is drawn is a figure on the page, not a cover that goes on beyond it."""
    half = np.array([scene.width, scene.height]) / 2
    return all((np.abs(one.picture.marks.xform[:, :, 2]) < half * INSIDE).all() for one in leaves(scene.layers))


def span_of(scene: Scene) -> float:
    """Return how much of the page's longer side a close-up shows, in the unit of the work.

    All of it where copies are few, where they make a figure, and where they are not alike all over.
    """
    half, most = np.array([scene.width, scene.height]) / 2, 1
    for one in leaves(scene.layers):
        marks = one.picture.marks
        inside = (np.abs(marks.xform[:, :, 2]) < half).all(1)
        most = max(most, len(np.unique(marks.copy[inside])))
    apart = float(np.sqrt(scene.width * scene.height / most))
    longer = max(scene.width, scene.height)
    return min(longer, apart * ACROSS) if apart * ACROSS < longer and not stands_alone(scene) and is_even(scene) else longer


def is_even(scene: Scene) -> bool:
    """Tell whether marks are as large and as coloured all over the page, so that any part of it tells as much as all."""
    half = np.array([scene.width, scene.height]) / 2
    for one in leaves(scene.layers):
        marks = one.picture.marks
        at = ((marks.xform[:, :, 2] + half) / (2 * half) * BINS).astype(np.int64)
        inside = ((at >= 0) & (at < BINS)).all(1)
        where = at[inside, 0] * BINS + at[inside, 1]
        size = np.abs(marks.xform[:, 0, 0] * marks.xform[:, 1, 1] - marks.xform[:, 0, 1] * marks.xform[:, 1, 0])[inside]
        fill = one.picture.coats[-1].fill if one.picture.coats else np.zeros((1, 4), np.uint8)
        shown = np.broadcast_to(fill, (marks.count, 4))[inside]
        for values in (size / max(float(size.max(initial=0.0)), 1e-12), *(shown.T / 255.0)):
            counts = np.maximum(np.bincount(where, minlength=BINS * BINS), 1)
            if (np.bincount(where, values, BINS * BINS) / counts).std() > EVEN:
                return False
    return True


def close_up(scene: Scene, span: float, width: int, height: int) -> View:
    """Return the view of the middle of a page in `width` x `height` px: `span` of its longer side, filled with the page."""
    scale = max(max(width, height) / span, width / scene.width, height / scene.height)
    return View(width, height, scale, width / 2, height / 2)


def only_seen(scene: Scene, view: View) -> Scene:
    """Return the scene without marks that lie wholly outside a view."""
    middle = np.array([view.width / 2 - view.left, view.height / 2 - view.top]) / view.scale
    half = np.array([view.width, view.height]) / view.scale / 2
    half = half + reach_of(scene.layers)
    return replace(scene, layers=tuple(_only_seen(layer, middle, half) for layer in scene.layers))


def _only_seen(layer: Node, middle: Array, half: Array) -> Node:
    if isinstance(layer, SceneVeil):
        return layer
    if isinstance(layer, SceneGroup):
        return replace(layer, members=tuple(_only_seen(member, middle, half) for member in layer.members))
    picture = layer.picture
    half = half + sum(
        effect.reach * float(np.abs(one.place[:, :, :2]).max(initial=0.0)) for one in picture.closed for effect in one.effects
    )
    if picture.marks.count < MANY:
        return layer
    xform, (wide, high) = picture.marks.xform, half + _reach(picture)
    near = np.flatnonzero((np.abs(xform[:, 0, 2] - middle[0]) < wide) & (np.abs(xform[:, 1, 2] - middle[1]) < high))
    return replace(layer, picture=picture.some(near)) if len(near) < picture.marks.count else layer


def _reach(picture: Picture) -> float:
    """How far any mark with its lines may reach from its origin, in the unit of the work."""
    radius = max((float(np.abs(family.points).max(initial=0.0)) for family in picture.marks.families), default=0.0)
    size = float(np.abs(picture.marks.xform[:, :, :2]).max(initial=0.0))
    line = max((float(coat.width.max(initial=0.0)) for coat in picture.coats), default=0.0)
    return 2 * np.sqrt(2) * radius * size + 4 * max(line, 0.0)
