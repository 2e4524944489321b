"""Edits of the tree of layers: layers added, removed, moved and doubled, groups and compounds."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

from under_lattice.core.errors import InputError
from under_lattice.declare.frozen import edited
from under_lattice.rules.made import motif_of_layer
from under_lattice.work.edits import free_handle, refuse_locked, renamed, with_layer
from under_lattice.work.layers import AnyLayer, Chain, Group, Layer, read_end
from under_lattice.work.model import Design, new_id, slug
from under_lattice.work.moving_too import moving_along
from under_lattice.work.reading import all_read, parent_of, read_by

COUNTED = ("by number", "fits a box", "until a size is reached")  # extents that the sheet has no part in
ASIDE = 0.04  # of the shorter side of the sheet, from a figure to its copy
Kind = TypeVar("Kind", bound=Layer)


def _siblings(design: Design, layer_id: str) -> tuple[AnyLayer, ...]:
    parent = parent_of(design, layer_id)
    return parent.members if parent is not None else design.layers


def _with_siblings(design: Design, layer_id: str, layers: tuple[AnyLayer, ...]) -> Design:
    parent = parent_of(design, layer_id)
    if parent is None:
        return edited(design, layers=layers)
    return with_layer(design, parent.id, lambda group: group.with_members(layers))


def _place(siblings: tuple[AnyLayer, ...], layer_id: str) -> int:
    return next(k for k, one in enumerate(siblings) if one.id == layer_id)


def with_new_ids(layer: Kind) -> Kind:
    """Return a copy of a layer whose ids, and those of all that is in it, are new; what names them inside follows."""
    ids = {rule.id: new_id() for one in layer.walk() for rule in one.every_rule} | {one.id: new_id() for one in layer.walk()}
    return _each(layer.with_each_rule(lambda rule: renamed(rule, ids)), lambda one: {"id": ids[one.id]})


def _each(layer: Kind, changes: Callable[[Layer], dict[str, str]]) -> Kind:
    """A layer and all that is in it, each changed."""
    made = edited(layer, **changes(layer))
    return made.with_members(tuple(_each(member, changes) for member in layer.members))


def _fresh(design: Design, layer: Kind) -> Kind:
    """A layer with ids and handles that are new in the design, its members' too."""
    handles = [one.handle for one in design.all_layers()]

    def named(one: Layer) -> dict[str, str]:
        handles.append(free_handle(slug(one.name), handles))
        return {"handle": handles[-1]}

    return _each(with_new_ids(layer), named)


def free_name(design: Design, name: str) -> str:
    """Return a name that no layer has yet: the wanted one, or that with a number."""
    taken, name = {one.name for one in design.all_layers()}, name[:56]
    return name if name not in taken else next(f"{name} {k}" for k in range(2, len(taken) + 3) if f"{name} {k}" not in taken)


def add_layer(design: Design, layer: AnyLayer, at: int = 0) -> Design:
    """Return the design with a layer put at place `at`, front first; ids inside are made anew, a whole number from 0 on."""
    fresh = _fresh(design, edited(layer, name=free_name(design, layer.name)))
    return edited(design, layers=(*design.layers[:at], fresh, *design.layers[at:]))


def duplicated(design: Design, layer_id: str) -> tuple[Design, str]:
    """Return the design with a copy of a layer, or of a group, in front of it, in the same group; and the id of the copy.

    The copy of a figure stands a little beside it; that of a group, or of what covers the sheet, lies on top.
    """
    layer = design.layer(layer_id)
    copy = _fresh(design, edited(layer, name=free_name(design, f"{layer.name} copy"), locked=False))
    if stands_aside(layer):
        motif, by = copy.own_rules[0], round(min(design.sheet.width, design.sheet.height) * ASIDE, 2)
        moved = edited(motif, place_x=getattr(motif, "place_x", 0.0) + by, place_y=getattr(motif, "place_y", 0.0) + by)
        copy = copy.with_rules((moved, *copy.own_rules[1:]))
    siblings = _siblings(design, layer_id)
    at = _place(siblings, layer_id)
    design = _with_siblings(design, layer_id, (*siblings[:at], copy, *siblings[at:]))
    return moving_along(design, layer, copy), copy.id


def stands_aside(layer: AnyLayer) -> bool:
    """Tell whether the copy of a layer is put beside it: a figure, which covers no sheet."""
    rules = layer.own_rules
    return bool(rules and layer.chains()) and all(getattr(rule, "extent", COUNTED[0]) in COUNTED for rule in rules if rule.on)


def filled_with(design: Design, shape: str, layer_id: str) -> Design:
    """Return the design with a layer seen within the outlines of another only, right in front of that.

    Raises
    ------
    InputError
        When it is locked, or the other one reads it.
    """
    refuse_locked(design, layer_id)
    layer = design.layer(layer_id)
    clipped = layer.with_rule(layer.end.id, lambda end: edited(end, clip=shape))
    rest = edited(design, layers=without_layer(design.layers, layer_id))
    siblings = _siblings(rest, shape)
    at = _place(siblings, shape)
    return _with_siblings(rest, shape, (*siblings[:at], clipped, *siblings[at:]))


def remove_layer(design: Design, layer_id: str) -> Design:
    """Return the design without a layer; a group left empty goes with it.

    Raises
    ------
    InputError
        When it is locked.
    """
    refuse_locked(design, layer_id, inside=True)
    return edited(design, layers=without_layer(design.layers, layer_id))


def without_layer(layers: tuple[AnyLayer, ...], layer_id: str) -> tuple[AnyLayer, ...]:
    """Return layers without one of an id, wherever it stands; groups left empty go."""
    out = []
    for layer in layers:
        kept = layer.with_members(without_layer(layer.members, layer_id))
        if layer.id != layer_id and (kept.members or not layer.members):
            out.append(kept)
    return tuple(out)


def group_with_next(design: Design, layer_id: str) -> Design:
    """Return the design with a layer and the one behind it in a group; a painted one that is a group takes the layer in.

    A group that the layer is made of, in any way, stays whole and comes into a new one with it.

    Raises
    ------
    InputError
        When there is none behind it, or one of them is locked.
    """
    siblings = _siblings(design, layer_id)
    at = _place(siblings, layer_id)
    if at + 1 >= len(siblings):
        raise InputError("there is no layer behind this one to be grouped with")
    front, behind = siblings[at], siblings[at + 1]
    for one in (front, behind):
        refuse_locked(design, one.id)
    if behind.members and not behind.source_only and not all_read(design, layer_id) & {one.id for one in behind.walk()}:
        made = behind.with_members((front, *behind.members))
    else:
        made = group_of(design, f"{front.name} and {behind.name}"[:60], (front, behind))
    return _with_siblings(design, layer_id, (*siblings[:at], made, *siblings[at + 2 :]))


def group_of(design: Design, name: str, members: tuple[AnyLayer, ...], source_only: bool = False) -> Group:
    """Return a new group of layers, its handle new in the design.

    It leaves the picture as it is: what is blended inside still sees what is beneath. Where there is a veil in it,
    it stands apart, since a veil is for what lies beneath it in its group.
    """
    handle = free_handle(slug(name), (one.handle for one in design.all_layers()))
    end = read_end({"isolated": "yes" if any(one.veils for one in members) else "no"})
    return Group(id=new_id(), handle=handle, name=name, end=end, layers=members, source_only=source_only)


def ungroup(design: Design, group_id: str) -> Design:
    """Return the design with the members of a group in its place.

    Raises
    ------
    InputError
        When another layer has the group as its motif, or it is locked.
    """
    group = design.layer(group_id)
    refuse_locked(design, group_id)
    user = read_by(design, group_id)
    if user:
        raise InputError(f"{user[0].name} has this group as its motif")
    siblings = _siblings(design, group_id)
    at = _place(siblings, group_id)
    return _with_siblings(design, group_id, (*siblings[:at], *group.members, *siblings[at + 1 :]))


def taken_out(design: Design, layer_id: str) -> Design:
    """Return the design with a member of a group put in front of it; a group left empty goes."""
    group = parent_of(design, layer_id)
    if group is None:
        return design
    refuse_locked(design, layer_id)
    layer = design.layer(layer_id)
    rest = tuple(one for one in group.members if one.id != layer_id)
    siblings = _siblings(design, group.id)
    at = _place(siblings, group.id)
    left = (group.with_members(rest),) if rest else ()
    return _with_siblings(design, group.id, (*siblings[:at], layer, *left, *siblings[at + 1 :]))


def made_compound(design: Design, layer_id: str) -> tuple[Design, str]:
    """Return the design with a layer, or the group it is in, as the motif of a new layer in front; and the id of that layer.

    What becomes the motif is kept as a source only; inks go with it.
    """
    refuse_locked(design, layer_id)
    layer = design.layer(layer_id)
    group = layer if layer.members else parent_of(design, layer_id)
    source = edited(group, source_only=True) if group is not None else group_of(design, f"{layer.name}, members", (layer,), True)
    of = group.id if group is not None else layer_id
    name = f"{layer.name} as motif"[:60]
    handle = free_handle(slug(name), (one.handle for one in (*design.all_layers(), source)))
    motif = edited(motif_of_layer(source.id), id=new_id())
    chain = Chain(id=new_id(), handle=handle, name=name, rules=(motif,))
    return put_before(design, of, chain, source), chain.id


def put_before(design: Design, layer_id: str, front: AnyLayer, behind: AnyLayer) -> Design:
    """Return the design with two layers in the place of one."""
    siblings = _siblings(design, layer_id)
    at = _place(siblings, layer_id)
    return _with_siblings(design, layer_id, (*siblings[:at], front, behind, *siblings[at + 1 :]))


def put_in_front(design: Design, layer_id: str, front: AnyLayer) -> tuple[Design, str]:
    """Return the design with a new layer right in front of another, in the same group, and its id; ids inside are made anew."""
    fresh = _fresh(design, edited(front, name=free_name(design, front.name)))
    return put_before(design, layer_id, fresh, design.layer(layer_id)), fresh.id


def moved_to(design: Design, layer_id: str, to: int) -> Design:
    """Return the design with a layer moved among its siblings to place `to` of all layers that are shown in a row, or near it.

    `to` counts all layers of the tree, front first, without the moved one and what is in it.

    Raises
    ------
    InputError
        When it is locked.
    """
    refuse_locked(design, layer_id)
    layer = design.layer(layer_id)
    inside = {one.id for one in layer.walk()}
    before = {one.id for one in [one for one in design.all_layers() if one.id not in inside][: max(0, to)]}
    siblings = tuple(one for one in _siblings(design, layer_id) if one.id != layer_id)
    at = sum(one.id in before for one in siblings)
    return _with_siblings(design, layer_id, (*siblings[:at], layer, *siblings[at:]))
