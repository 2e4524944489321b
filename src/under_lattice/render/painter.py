"""Which painter paints: the compiled one, or the plain one while that is being made ready for the first time."""

from __future__ import annotations

from collections.abc import Callable

from under_lattice.core.affine import Array
from under_lattice.render.scene import Scene, View
from under_lattice.render.warm import is_warm


def paint_now(
    scene: Scene, view: View, stop: Callable[[], bool] = lambda: False, note: Callable[[str], None] | None = None
) -> Array:
    """Return premultiplied RGBA (height, width, 4) uint8 without waiting for anything to be compiled.

    `note` is told in words what could not be painted.

    Raises
    ------
    Stopped, LimitError
    """
    if is_warm():
        from under_lattice.render.paint import paint  # loads the compiled kernels

        return paint(scene, view, stop, note=note)
    from under_lattice.render.stand_in import paint_plainly

    return paint_plainly(scene, view, stop)
