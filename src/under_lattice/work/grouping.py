"""Edits of the tree of layers: groups and compounds."""

from __future__ import annotations

from under_lattice.core.errors import InputError
from under_lattice.rules.motifs.layer_motif import LayerMotif
from under_lattice.work.edits import edited, free_handle, with_layer
from under_lattice.work.model import Chain, Design, Group, new_id, slug
from under_lattice.work.reading import AnyLayer, chains_in, parent_of, read_by


def _siblings(design: Design, layer_id: str) -> tuple[AnyLayer, ...]:
    parent = parent_of(design, layer_id)
    return parent.layers if parent is not None else design.layers


def _with_siblings(design: Design, layer_id: str, layers: tuple[AnyLayer, ...]) -> Design:
    parent = parent_of(design, layer_id)
    if parent is None:
        return edited(design, layers=layers)
    return with_layer(design, parent.id, lambda group: edited(group, layers=layers))


def group_with_next(design: Design, layer_id: str) -> Design:
    """Return the design with a layer and the one behind it in a group; one that is a group takes the layer in.

    Raises
    ------
    InputError
        When there is none behind it.
    """
    siblings = _siblings(design, layer_id)
    at = next(k for k, one in enumerate(siblings) if one.id == layer_id)
    if at + 1 >= len(siblings):
        raise InputError("there is no layer behind this one to be grouped with")
    front, behind = siblings[at], siblings[at + 1]
    if isinstance(behind, Group):
        made: AnyLayer = edited(behind, layers=(front, *behind.layers))
    else:
        made = _group(design, f"{front.name} and {behind.name}"[:60], (front, behind))
    return _with_siblings(design, layer_id, (*siblings[:at], made, *siblings[at + 2 :]))


def _group(design: Design, name: str, members: tuple[AnyLayer, ...], source_only: bool = False) -> Group:
    handle = free_handle(slug(name), (one.handle for one in design.all_layers()))
    return Group(id=new_id(), handle=handle, name=name, layers=members, source_only=source_only)


def ungroup(design: Design, group_id: str) -> Design:
    """Return the design with the members of a group in its place.

    Raises
    ------
    InputError
        When another layer has the group as its motif.
    """
    group = next(one for one in design.all_layers() if one.id == group_id)
    user = read_by(design, group_id)
    if user:
        raise InputError(f"{user[0].name} has this group as its motif")
    assert isinstance(group, Group)
    siblings = _siblings(design, group_id)
    at = next(k for k, one in enumerate(siblings) if one.id == group_id)
    return _with_siblings(design, group_id, (*siblings[:at], *group.layers, *siblings[at + 1 :]))


def taken_out(design: Design, layer_id: str) -> Design:
    """Return the design with a member of a group put in front of it; a group left empty goes."""
    group = parent_of(design, layer_id)
    if group is None:
        return design
    layer = next(one for one in group.layers if one.id == layer_id)
    rest = tuple(one for one in group.layers if one.id != layer_id)
    siblings = _siblings(design, group.id)
    at = next(k for k, one in enumerate(siblings) if one.id == group.id)
    left = (edited(group, layers=rest),) if rest else ()
    return _with_siblings(design, group.id, (*siblings[:at], layer, *left, *siblings[at + 1 :]))


def made_compound(design: Design, layer_id: str) -> tuple[Design, str]:
    """Return the design with a layer, or the group it is in, as the motif of a new layer in front; and the id of that layer.

    What becomes the motif is kept as a source only; inks go with it.
    """
    layer = next(one for one in design.all_layers() if one.id == layer_id)
    group = layer if isinstance(layer, Group) else parent_of(design, layer_id)
    source = edited(group, source_only=True) if group is not None else _group(design, f"{layer.name}, members", (layer,), True)
    of = group.id if group is not None else layer_id
    name = f"{layer.name} as motif"[:60]
    handle = free_handle(slug(name), (one.handle for one in design.all_layers()))
    motif = LayerMotif(id=new_id(), handle="layer-motif", layer=source.id, stands="as it lies")
    chain = Chain(id=new_id(), handle=handle, name=name, rules=(motif,))
    return put_before(design, of, chain, source), chain.id


def put_before(design: Design, layer_id: str, front: AnyLayer, behind: AnyLayer) -> Design:
    """Return the design with two layers in the place of one."""
    siblings = _siblings(design, layer_id)
    at = next(k for k, one in enumerate(siblings) if one.id == layer_id)
    return _with_siblings(design, layer_id, (*siblings[:at], front, behind, *siblings[at + 1 :]))


def moved_to(design: Design, layer_id: str, to: int) -> Design:
    """Return the design with a layer moved among its siblings so that it is the chain at place `to`, front first, or near it."""
    chains = [one.id for one in design.chains() if one.id != layer_id]
    siblings = [one for one in _siblings(design, layer_id) if one.id != layer_id]
    before = set(chains[: max(0, to)])

    def passed(layer: AnyLayer) -> bool:
        inside = chains_in(layer)
        return bool(inside) and inside[0].id in before

    layer = next(one for one in _siblings(design, layer_id) if one.id == layer_id)
    at = sum(map(passed, siblings))
    return _with_siblings(design, layer_id, (*siblings[:at], layer, *siblings[at:]))
