"""Which layer reads which, and what is in a group."""

from __future__ import annotations

from under_lattice.core.errors import InputError
from under_lattice.work.model import Chain, Design, Group, Veil

AnyLayer = Chain | Group | Veil


def parent_of(design: Design, layer_id: str) -> Group | None:
    """Return the group a layer is a member of, or None for one that stands outermost."""
    groups = [layer for layer in design.all_layers() if isinstance(layer, Group)]
    return next((group for group in groups if any(one.id == layer_id for one in group.layers)), None)


def read_by(design: Design, layer_id: str) -> list[Chain]:
    """Return the chains that read a layer, or the group it is in, by any of their rules."""
    wanted, group = {layer_id}, parent_of(design, layer_id)
    while group is not None:
        wanted.add(group.id)
        group = parent_of(design, group.id)
    return [chain for chain in design.chains() if chain.id != layer_id and any(wanted & {*rule.layers()} for rule in chain.rules)]


def members_of(design: Design, layer_id: str) -> tuple[Chain, ...]:
    """Return the chains of a group, front first, or the chain itself."""
    layer = next((one for one in design.all_layers() if one.id == layer_id), None)
    return () if layer is None else chains_in(layer)


def chains_in(layer: AnyLayer) -> tuple[Chain, ...]:
    """Return the chains of a layer, front to back: itself, or those of a group."""
    if isinstance(layer, Group):
        return tuple(chain for member in layer.layers for chain in chains_in(member))
    return (layer,) if isinstance(layer, Chain) else ()


def may_read(design: Design, layer_id: str, groups: bool = False) -> list[AnyLayer]:
    """Return the layers (and groups) that a layer may read without a circle."""
    out: list[AnyLayer] = []
    for layer in design.all_layers():
        if not isinstance(layer, Chain) and not (groups and isinstance(layer, Group)):
            continue
        members = {one.id for one in members_of(design, layer.id)}
        if layer_id not in members and not any(layer_id in _reads(design, one) for one in members):
            out.append(layer)
    return out


def _reads(design: Design, layer_id: str) -> set[str]:
    """The chains a chain reads, and those they read in turn."""
    found: set[str] = set()
    waiting = [layer_id]
    while waiting:
        chain = design.chain(waiting.pop())
        for wanted in {one for rule in chain.rules for one in rule.layers()}:
            new = [one.id for one in members_of(design, wanted) if one.id not in found]
            found.update(new)
            waiting += new
    return found


def refuse_circle(design: Design, layer_id: str) -> Design:
    """Return the design; refuses a layer that reads itself through others.

    Raises
    ------
    InputError
    """
    if layer_id in _reads(design, layer_id):
        name = design.chain(layer_id).name
        raise InputError(f"{name} would read itself: a layer cannot be made of what is made of it")
    return design
