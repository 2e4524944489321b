"""Linked layers: a layer that shows another as it lies, with what is added to it alone; and the same on its own again."""

from __future__ import annotations

from under_lattice.core.errors import InputError
from under_lattice.declare.frozen import edited
from under_lattice.rules.made import motif_of_layer
from under_lattice.work.edits import free_handle, refuse_locked, with_layer
from under_lattice.work.grouping import free_name, put_before, with_new_ids
from under_lattice.work.layers import AnyLayer, Chain, read_end
from under_lattice.work.model import Design, new_id, slug


def linked_copy(design: Design, layer_id: str) -> tuple[Design, str]:
    """Return the design with a layer in front of another (or a group) that shows it and follows it; and the id of the new one.

    What is added to the new one, rules, opacity, place, is its own.
    """
    layer = design.layer(layer_id)
    name = free_name(design, f"{layer.name} linked")
    handle = free_handle(slug(name), (one.handle for one in design.all_layers()))
    chain = Chain(id=new_id(), handle=handle, name=name, rules=(edited(motif_of_layer(layer_id), id=new_id()),))
    return put_before(design, layer_id, chain, layer), chain.id


def linked_to(layer: AnyLayer) -> str:
    """Return the id of the layer or group that a layer is linked to, or nothing."""
    return layer.own_rules[0].linked if layer.own_rules else ""


def unlinked(design: Design, layer_id: str) -> Design:
    """Return the design with a linked layer on its own: the rules it followed are its own, above those it had.

    Raises
    ------
    InputError
        When it is linked to nothing, to a group, or is locked.
    """
    refuse_locked(design, layer_id)
    chain = design.layer(layer_id)
    source = design.tree.by_id.get(linked_to(chain))
    if source is None:
        raise InputError(f"{chain.name} is linked to no layer")
    if source.members or not source.own_rules:
        raise InputError(f"{chain.name} is linked to the group {source.name}; duplicate the group instead")
    copy = with_new_ids(source)
    handles: list[str] = []
    rules = []
    for rule in (*copy.own_rules, *chain.own_rules[1:]):
        handles.append(free_handle(rule.handle, handles))
        rules.append(edited(rule, handle=handles[-1]))
    at_rest = edited(chain.end, id="") == edited(read_end({}), id="")
    end = edited(copy.end, id=chain.end.id) if at_rest else chain.end
    return with_layer(design, layer_id, lambda layer: edited(layer.with_rules(tuple(rules)), end=end))
