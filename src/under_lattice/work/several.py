"""Edits of several layers at once: moved into a group or out of it, grouped, hidden, laid over, removed; one shown alone."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any

from under_lattice.core.errors import InputError
from under_lattice.declare.frozen import edited
from under_lattice.work.edits import refuse_locked, set_dials, show_layer, with_layer
from under_lattice.work.grouping import group_of, remove_layer, without_layer
from under_lattice.work.layers import AnyLayer
from under_lattice.work.model import Design
from under_lattice.work.reading import parent_of, refuse_circle


def outermost(design: Design, layer_ids: Iterable[str]) -> tuple[str, ...]:
    """Return those of some layers that are in none of the others, front first."""
    wanted = set(layer_ids)
    return tuple(
        one.id for one in design.all_layers() if one.id in wanted and not wanted & {up.id for up in design.tree.around(one.id)[1:]}
    )


def moved_into(design: Design, layer_ids: Sequence[str], group: str, at: int) -> Design:
    """Return the design with layers moved into a group, or out of all with none, to a place counted in its members as they stood.

    They keep their order. A group left empty goes.

    Raises
    ------
    InputError
        When one is locked, or would come to stand in itself.
    """
    ids = outermost(design, layer_ids)
    moved = [design.layer(one) for one in ids]
    for one in ids:
        refuse_locked(design, one)
    if group and any(group in {inner.id for inner in layer.walk()} for layer in moved):
        raise InputError("a group cannot be put into itself")
    if group:
        refuse_locked(design, group)
    members = design.layer(group).members if group else design.layers
    after = [one.id for one in members[at:] if one.id not in ids]
    rest = design.layers
    for one in ids:
        rest = without_layer(rest, one)
    made = edited(design, layers=rest)
    if group and group not in made.tree.by_id:  # it held nothing else
        raise InputError("these layers are all that is in this group")
    here = made.layer(group).members if group else made.layers
    place = next((k for k, one in enumerate(here) if after and one.id == after[0]), len(here))
    whole = (*here[:place], *moved, *here[place:])
    made = with_layer(made, group, lambda one: one.with_members(whole)) if group else edited(made, layers=whole)
    return refuse_circle(made, ids[0]) if ids else made


def grouped(design: Design, layer_ids: Sequence[str]) -> tuple[Design, str]:
    """Return the design with layers in one group, where the front one stood, and the id of the group.

    Raises
    ------
    InputError
        When there are fewer than two, or one is locked.
    """
    ids = outermost(design, layer_ids)
    if len(ids) < 2:
        raise InputError("choose two layers or more to be grouped")
    for one in ids:
        refuse_locked(design, one)
    front = parent_of(design, ids[0])
    made = group_of(design, " and ".join(design.layer(one).name for one in ids[:2])[:60], tuple(design.layer(one) for one in ids))
    siblings = front.members if front is not None else design.layers
    at = next(k for k, one in enumerate(siblings) if one.id == ids[0])
    kept = tuple(one for one in (*siblings[:at], made, *siblings[at:]) if one.id not in ids)
    design = with_layer(design, front.id, lambda one: one.with_members(kept)) if front is not None else edited(design, layers=kept)
    layers = design.layers
    for one in ids[1:]:  # those that stood elsewhere
        layers = tuple(_without_outside(layers, one, made.id))
    return edited(design, layers=layers), made.id


def _without_outside(layers: tuple[AnyLayer, ...], layer_id: str, group: str) -> list[AnyLayer]:
    """Layers without one of an id, but not in a group."""
    out = []
    for layer in layers:
        if layer.id == group:
            out.append(layer)
        elif layer.id != layer_id:
            kept = layer.with_members(tuple(_without_outside(layer.members, layer_id, group)))
            if kept.members or not layer.members:
                out.append(kept)
    return out


def hidden_together(design: Design, layer_ids: Iterable[str], hidden: bool) -> Design:
    """Return the design with layers hidden, or shown; locks do not stand against it."""
    for one in layer_ids:
        design = show_layer(design, one, hidden)
    return design


def laid_together(design: Design, layer_ids: Iterable[str], **changes: Any) -> Design:
    """Return the design with dials of the ends of layers set alike: opacity, blend.

    Raises
    ------
    InputError
    """
    for one in layer_ids:
        design = set_dials(design, one, design.layer(one).end.id, changes)
    return design


def removed_together(design: Design, layer_ids: Iterable[str]) -> Design:
    """Return the design without some layers; one chain stays.

    Raises
    ------
    InputError
    """
    ids = outermost(design, layer_ids)
    gone = {chain.id for one in ids for chain in design.layer(one).chains()}
    if len(gone) >= len(design.chains()):
        raise InputError("a work keeps one layer")
    for one in ids:
        design = remove_layer(design, one)
    return design


def shown_alone(design: Design, layer_id: str) -> Design:
    """Return the design with all layers hidden but one, what it is in and what is in it; sources stay what they are."""
    if layer_id not in design.tree.by_id:
        return design
    seen = {one.id for one in design.tree.around(layer_id)} | {one.id for one in design.layer(layer_id).walk()}
    others = [one.id for one in design.all_layers() if one.id not in seen]
    design = hidden_together(design, (one for one in others if not design.layer(one).hidden), True)
    return hidden_together(design, (one.id for one in design.tree.around(layer_id) if one.hidden), False)
