"""The tree of layers of one design, walked once: each layer, its parent, and which layers it reads."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from under_lattice.core.errors import InputError
from under_lattice.work.layers import AnyLayer, Chain


@dataclass(frozen=True)
class Tree:
    """Attributes
    ----------
    layers : tuple of Layer
        All, front to back, groups before their members.
    chains : tuple of Chain
        Those among them, front to back.
    by_id : mapping of Layer
    parents : mapping of Layer
        The group each member is in, by the member's id.
    reads : mapping of set of str
        Ids of the layers and groups that the rules of a layer, or its end, read, by its id; none where it reads none.
    """

    layers: tuple[AnyLayer, ...]
    chains: tuple[Chain, ...]
    by_id: Mapping[str, AnyLayer]
    parents: Mapping[str, AnyLayer]
    reads: Mapping[str, frozenset[str]]

    def layer(self, layer_id: str) -> AnyLayer:
        """Return the layer with this id.

        Raises
        ------
        InputError
        """
        if layer_id not in self.by_id:
            raise InputError("this layer is gone")
        return self.by_id[layer_id]

    def around(self, layer_id: str) -> list[AnyLayer]:
        """Return a layer and the groups it is in, the closest first."""
        out, here = [], self.by_id.get(layer_id)
        while here is not None:
            out.append(here)
            here = self.parents.get(here.id)
        return out


def tree_of(layers: Iterable[AnyLayer]) -> Tree:
    """Return the tree of a design's outermost layers, front first."""
    every: list[AnyLayer] = []
    parents: dict[str, AnyLayer] = {}
    waiting = list(layers)[::-1]
    while waiting:
        layer = waiting.pop()
        every.append(layer)
        members = layer.members
        parents.update({member.id: layer for member in members})
        waiting += members[::-1]
    chains = tuple(layer for layer in every if isinstance(layer, Chain))
    reads = {layer.id: layer.reads for layer in every}
    return Tree(tuple(every), chains, {layer.id: layer for layer in every}, parents, {k: v for k, v in reads.items() if v})
