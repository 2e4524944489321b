"""Which painter paints: the compiled one, or the plain one while that is being made ready for the first time."""

from __future__ import annotations

from under_lattice.core.progress import QUIET, Progress
from under_lattice.geometry.affine import Array
from under_lattice.render.warm import is_warm
from under_lattice.scene.tree import Scene, View


def paint_now(scene: Scene, view: View, progress: Progress = QUIET) -> Array:
    """Return premultiplied RGBA (height, width, 4) uint8 without waiting for anything to be compiled.

    Raises
    ------
    GivenUp, LimitError
    """
    if is_warm():
        from under_lattice.render.paint import paint  # loads the compiled kernels

        return paint(scene, view, progress)
    from under_lattice.render.stand_in import paint_plainly

    return paint_plainly(scene, view, progress)
