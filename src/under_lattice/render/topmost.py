"""Which mark is seen at a pixel, by the painter's own coverage."""

from __future__ import annotations

from under_lattice.pattern.marks import Picture
from under_lattice.render.flat import flat_of
from under_lattice.render.items import items_of
from under_lattice.render.kernel_place import Flat
from under_lattice.render.kernels import topmost
from under_lattice.scene.tree import View


def flat_for(picture: Picture, view: View) -> Flat:
    """Return the flat arrays of a picture in a view, to be asked any number of times."""
    return flat_of(items_of(picture, view), view)


def mark_at(flat: Flat, x: float, y: float) -> int:
    """Return the topmost mark that covers at least half of the pixel at (x, y), or -1."""
    item = topmost(x, y, flat)
    return int(flat.mark[item]) if item >= 0 else -1
