"""Layers of the demo works: rules get their ids and handles from the layer's name and their kinds."""

from __future__ import annotations

from under_lattice.rules import LayerEnd
from under_lattice.rules.base import Rule
from under_lattice.work.layers import Chain, Veil

COMMISSION = "Tern Harbour Bathhouse"


def veil(name: str, *rules: Rule) -> Veil:
    """Return a veil whose finishes have ids and handles made from its name and their kinds."""
    handle = name.lower().replace(" ", "-")
    named = tuple(rule.model_copy(update={"id": f"{handle}-{rule.kind}", "handle": rule.kind}) for rule in rules)
    return Veil(id=handle, handle=handle, name=name, rules=named)


def chain(name: str, *rules: Rule, end: LayerEnd | None = None) -> Chain:
    """Return a layer whose rules have ids and handles made from the layer's name and their kinds."""
    handle, seen, named = name.lower().replace(" ", "-"), {}, []  # type: tuple[str, dict[str, int], list[Rule]]
    for rule in rules:
        seen[rule.kind] = seen.get(rule.kind, 0) + 1
        own = rule.kind if seen[rule.kind] == 1 else f"{rule.kind}-{seen[rule.kind]}"
        own = "motif" if rule.family == "motif" else own
        named.append(rule.model_copy(update={"id": f"{handle}-{own}", "handle": own}))
    ended = (end or LayerEnd()).model_copy(update={"id": f"{handle}-layer"})
    return Chain(id=handle, handle=handle, name=name, rules=tuple(named), end=ended)
