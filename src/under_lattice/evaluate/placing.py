"""Where layers are brought as wholes, by their own ends and those of the groups they are in."""

from __future__ import annotations

from under_lattice.geometry.affine import IDENTITY, Array, compose
from under_lattice.pattern.known import Known
from under_lattice.work.layers import AnyLayer
from under_lattice.work.model import Design


def place_of(design: Design, layer: AnyLayer | None, known: Known) -> Array:
    """Return where a layer is brought as a whole, a map (2, 3) of the sheet; the work itself, which is None, stays."""
    place = IDENTITY
    while layer is not None:
        place, layer = compose(layer.end.place(known), place), design.tree.parents.get(layer.id)
    return place


def common_place(design: Design, one: AnyLayer, other: AnyLayer, known: Known) -> Array:
    """Return where the innermost group that two layers are in is brought: within it they stand to each other as if it were not."""
    parents = design.tree.parents
    around: set[str] = set()
    here: AnyLayer | None = one
    while (here := parents.get(here.id) if here is not None else None) is not None:
        around.add(here.id)
    group = parents.get(other.id)
    while group is not None and group.id not in around:
        group = parents.get(group.id)
    return place_of(design, group, known)
