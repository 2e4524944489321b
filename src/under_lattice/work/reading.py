"""Which layer reads which: as a motif, along its lines, at its edge, as a clip or a mask."""

from __future__ import annotations

from under_lattice.core.errors import InputError
from under_lattice.work.layers import AnyLayer, Chain
from under_lattice.work.model import Design


def parent_of(design: Design, layer_id: str) -> AnyLayer | None:
    """Return the group a layer is a member of, or None for one that stands outermost."""
    return design.tree.parents.get(layer_id)


def read_by(design: Design, layer_id: str) -> list[AnyLayer]:
    """Return the layers that read a layer, or the group it is in, by any of their rules."""
    tree = design.tree
    wanted = {one.id for one in tree.around(layer_id)}
    return [tree.by_id[reader] for reader, read in tree.reads.items() if reader != layer_id and wanted & read]


def members_of(design: Design, layer_id: str) -> tuple[Chain, ...]:
    """Return the chains of a group, front first, or the chain itself."""
    layer = design.tree.by_id.get(layer_id)
    return () if layer is None else layer.chains()


def may_read(design: Design, layer_id: str, groups: bool = False) -> list[AnyLayer]:
    """Return the layers (and groups) that a layer may read without a circle."""
    own = {one.id for one in design.layer(layer_id).walk()}
    out: list[AnyLayer] = []
    for layer in design.all_layers():
        if not layer.chains() or (layer.members and not groups):
            continue
        inside = {one.id for one in layer.walk()}
        if not inside & own and not any(own & all_read(design, one) for one in inside):
            out.append(layer)
    return out


def all_read(design: Design, layer_id: str) -> set[str]:
    """Return the ids of all layers that a layer reads, those in groups and those read in turn included."""
    tree = design.tree
    found: set[str] = set()
    waiting = [layer_id]
    while waiting:
        for wanted in tree.reads.get(waiting.pop(), frozenset()) & tree.by_id.keys():
            new = [one.id for one in tree.by_id[wanted].walk() if one.id not in found]
            found.update(new)
            waiting += new
    return found


def needed(design: Design, *also: str) -> set[str]:
    """Return the ids of the chains that are seen, that others read, or that are asked for; the rest cost nothing."""
    layers = design.tree.by_id
    found: set[str] = set()
    waiting = [*also, *(layer.id for layer in design.layers if not layer.hidden)]
    while waiting:
        layer = layers.get(waiting.pop())
        if layer is None or layer.id in found or (layer.source_only and layer.id not in also and not _is_read(design, layer)):
            continue
        found.add(layer.id)
        waiting += [*(member.id for member in layer.members if not member.hidden), *layer.reads]
    return found


def _is_read(design: Design, layer: AnyLayer) -> bool:
    return any(layer.id in read for read in design.tree.reads.values())


def refuse_circle(design: Design, layer_id: str) -> Design:
    """Return the design; refuses a layer that reads itself through others, or a group it is in.

    Raises
    ------
    InputError
    """
    layer = design.layer(layer_id)
    if not design.tree.reads:
        return design
    if any(one.id in all_read(design, layer_id) for one in layer.walk()):
        raise InputError(f"{layer.name} would read itself: a {layer.noun} cannot be made of what is made of it")
    return design
