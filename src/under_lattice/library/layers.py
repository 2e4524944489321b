"""Layers of the demo works: rules get their ids and handles from the layer's name and their kinds."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from typing import Any

from under_lattice.rules import LayerEnd
from under_lattice.rules.base import Rule
from under_lattice.work.layers import Chain, Veil

COMMISSION = "Tern Harbour Bathhouse"


def veil(name: str, *rules: Rule) -> Veil:
    """Return a veil whose finishes have ids and handles made from its name and their kinds."""
    handle = name.lower().replace(" ", "-")
    return Veil(id=handle, handle=handle, name=name, rules=_named(handle, rules))


def chain(name: str, *rules: Rule, end: LayerEnd | None = None) -> Chain:
    """Return a layer whose rules have ids and handles made from the layer's name and their kinds."""
    handle = name.lower().replace(" ", "-")
    ended = (end or LayerEnd()).model_copy(update={"id": f"{handle}-layer"})
    return Chain(id=handle, handle=handle, name=name, rules=_named(handle, rules), end=ended)


def _named(layer: str, rules: Sequence[Rule]) -> tuple[Any, ...]:
    """Rules with ids and handles; those of a kind that is there already are numbered."""
    seen, named = Counter[str](), []
    for rule in rules:
        seen[rule.kind] += 1
        own = "motif" if rule.family == "motif" else rule.kind if seen[rule.kind] == 1 else f"{rule.kind}-{seen[rule.kind]}"
        named.append(rule.model_copy(update={"id": f"{layer}-{own}", "handle": own}))
    return tuple(named)
