"""How much of a sheet is covered, read off a small picture of it."""

from __future__ import annotations

from under_lattice.core.progress import QUIET, Progress
from under_lattice.pattern.marks import Picture
from under_lattice.render.painter import paint_now
from under_lattice.scene.tree import Scene, SceneLayer, View

SIDE = 240  # px of the longer side of the picture


def coverage(picture: Picture, width: float, height: float, progress: Progress = QUIET) -> float:
    """Return how much of a sheet `width` x `height`, in the unit of the work, is covered by what is painted, in per cent.

    Raises
    ------
    GivenUp, LimitError
    """
    scale = SIDE / max(width, height)
    across, down = max(1, round(width * scale)), max(1, round(height * scale))
    view = View(across, down, scale, across / 2, down / 2)
    pixels = paint_now(Scene(width, height, "", (SceneLayer("", picture),)), view, progress)
    return float(pixels[..., 3].mean() / 2.55)
