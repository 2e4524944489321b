"""Small scenes of one shape, for the tests of the painter."""

import numpy as np

from under_lattice.pattern.marks import Marks, Picture
from under_lattice.pattern.stage import Family
from under_lattice.scene.tree import Scene, SceneLayer, View

NONE = np.zeros((1, 4), np.uint8)
BLACK = np.array([[0, 0, 0, 255]], np.uint8)
VIEW = View(120, 100, 1.0, 60.0, 50.0)


def scene(verbs, points, coat, maps=None, ground="#FFFFFF"):
    points = np.asarray(points, float)
    maps = np.eye(2, 3)[None] if maps is None else maps
    none, count = np.zeros(len(maps), np.int32), np.arange(len(maps), dtype=np.int32)
    marks = Marks((Family(verbs, points[None], none),), none, none, maps, count)
    return Scene(1e6, 1e6, ground, (SceneLayer("", Picture(marks, (coat,))),))


def darkness(painted):
    """Area painted black, in px."""
    return float((255 - painted[..., 0].astype(float)).sum() / 255)


BOX = [(-40, -30), (40, -30), (40, 30), (-40, 30)]
