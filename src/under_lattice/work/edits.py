"""Edits: each makes a new design that shares all that did not change, and validates what did."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from itertools import pairwise
from typing import Any

from under_lattice.core.errors import InputError
from under_lattice.declare.drawn_dials import Touches
from under_lattice.declare.frozen import edited
from under_lattice.rules.base import Rule
from under_lattice.rules.shared.touches import Touch
from under_lattice.vary.numbers import Varied
from under_lattice.work.layers import AnyLayer, Chain
from under_lattice.work.model import Design, new_id
from under_lattice.work.pictures import StoredPicture
from under_lattice.work.reading import refuse_circle

PICKS = "picks"  # the dial of copies picked by hand


def with_picture(design: Design, picture: StoredPicture) -> Design:
    """Return the design with a picture its rules may use; the same one is there once."""
    if any(one.id == picture.id for one in design.pictures):
        return design
    return edited(design, pictures=(*design.pictures, picture))


def refuse_locked(design: Design, layer_id: str, inside: bool = False) -> None:
    """Refuse a change of a layer that is locked, or is in a locked group; with `inside` also one that has a locked member.

    Raises
    ------
    InputError
    """
    concerned = design.tree.around(layer_id)
    if inside:
        concerned += list(design.layer(layer_id).walk())
    for layer in concerned:
        if layer.locked:
            raise InputError(f"the {layer.noun} {layer.name} is locked; unlock it first")


def replaced(design: Design, layer_id: str, change: Callable[[AnyLayer], AnyLayer]) -> Design:
    """Return the design with one layer changed, locked or not, and with it the groups it is in."""
    around = design.tree.around(layer_id)
    made = change(around[0])
    for old, group in pairwise(around):
        made = group.with_members(tuple(made if one is old else one for one in group.members))
    return edited(design, layers=tuple(made if one is around[-1] else one for one in design.layers))


def with_layer(design: Design, layer_id: str, change: Callable[[AnyLayer], AnyLayer]) -> Design:
    """Return the design with one layer of the tree changed.

    Raises
    ------
    InputError
        When it is gone, or locked.
    """
    design.layer(layer_id)
    refuse_locked(design, layer_id)
    return replaced(design, layer_id, change)


def show_layer(design: Design, layer_id: str, hidden: bool) -> Design:
    """Return the design with a layer hidden or seen; a lock does not stand against it."""
    return replaced(design, layer_id, lambda layer: edited(layer, hidden=hidden))


def lock_layer(design: Design, layer_id: str, locked: bool) -> Design:
    """Return the design with a layer locked or unlocked."""
    return replaced(design, layer_id, lambda layer: edited(layer, locked=locked))


def _with_rules(design: Design, layer_id: str, change: Callable[[tuple[Rule, ...]], tuple[Rule, ...]]) -> Design:
    """Return the design with the rules of one layer changed."""
    layer = design.layer(layer_id)
    layer.with_rules(layer.own_rules)  # says so if it is of a kind that has none
    return with_layer(design, layer_id, lambda layer: layer.with_rules(change(layer.own_rules)))


def with_rule(design: Design, layer_id: str, rule_id: str, change: Callable[[Rule], Rule]) -> Design:
    """Return the design with one rule of a layer, or its end, changed.

    Raises
    ------
    InputError
    """
    return refuse_circle(with_layer(design, layer_id, lambda layer: layer.with_rule(rule_id, change)), layer_id)


def set_dial(design: Design, layer_id: str, rule_id: str, name: str, value: Any) -> Design:
    """Return the design with one dial of a rule set; settings that hang together follow.

    Raises
    ------
    InputError
    """
    return with_rule(design, layer_id, rule_id, lambda rule: edited(rule, **rule.converted(name, value)))


def set_dials(design: Design, layer_id: str, rule_id: str, changes: dict[str, Any]) -> Design:
    """Return the design with several dials of a rule set at once.

    Raises
    ------
    InputError
    """
    return with_rule(design, layer_id, rule_id, lambda rule: edited(rule, **changes))


def add_rule(design: Design, layer_id: str, rule: Rule, after: str) -> Design:
    """Return the design with `rule` put after the rule `after`; gives it an id and a handle."""

    def put(rules: tuple[Rule, ...]) -> tuple[Rule, ...]:
        named = edited(rule, id=new_id(), handle=free_handle(rule.kind, (r.handle for r in rules)))
        at = next((k for k, r in enumerate(rules) if r.id == after), len(rules) - 1)
        return (*rules[: at + 1], named, *rules[at + 1 :])

    return _with_rules(design, layer_id, put)


def remove_rule(design: Design, layer_id: str, rule_id: str) -> Design:
    """Return the design without a rule; the motif stays."""
    if design.layer(layer_id).rule(rule_id).family == "motif":
        raise InputError("a chain keeps its motif")

    def drop(rules: tuple[Rule, ...]) -> tuple[Rule, ...]:
        return tuple(r for r in rules if r.id != rule_id)

    return _with_rules(design, layer_id, drop)


def move_rule(design: Design, layer_id: str, rule_id: str, to: int) -> Design:
    """Return the design with a rule moved to place `to` of the chain, counted without it; the motif stays first."""
    rule = design.layer(layer_id).rule(rule_id)
    if rule.family == "motif":
        raise InputError("the motif stays first")
    if rule.family == "end":
        raise InputError("the end of a layer stays last")

    def move(rules: tuple[Rule, ...]) -> tuple[Rule, ...]:
        rest = [r for r in rules if r.id != rule_id]
        at = min(max(1 if rest[0].family == "motif" else 0, to), len(rest))
        return (*rest[:at], rule, *rest[at:])

    return _with_rules(design, layer_id, move)


def duplicate_rule(design: Design, layer_id: str, rule_id: str) -> Design:
    """Return the design with a rule put once more after itself."""
    rule = design.layer(layer_id).rule(rule_id)
    if rule.family == "motif":
        raise InputError("a chain has one motif")
    return add_rule(design, layer_id, rule, rule_id)


def by_hand(chain: Chain, kind: type[Rule]) -> Rule | None:
    """Return the rule that takes copies picked by hand at the end of a chain, after all its repeats, if there is one."""
    for rule in reversed(chain.rules):
        if isinstance(rule, kind) and rule.on and rule.takes_picks:
            return rule
        if rule.family == "repeat":
            break
    return None


def add_pick(design: Design, layer_id: str, kind: type[Rule], touch: Touch) -> Design:
    """Return the design with one more copy picked by hand, in a rule at the end of the chain that is made where it is missing.

    Raises
    ------
    InputError
    """
    chain = design.chain(layer_id)
    rule = by_hand(chain, kind)
    if rule is None:
        design = add_rule(design, layer_id, kind.for_picks(), chain.rules[-1].id)
        rule = by_hand(design.chain(layer_id), kind)
        assert rule is not None
    picks = getattr(rule, PICKS)
    if any(one.at == touch.at for one in picks):
        raise InputError("this copy is picked already")
    return set_dial(design, layer_id, rule.id, PICKS, (*picks, touch))


def exchange_motif(design: Design, layer_id: str, motif: Rule) -> Design:
    """Return the design with another motif at the head of a layer; id, handle and name stay, and with them all that refers to it.

    A layer that is called after its motif is called after the new one.

    Raises
    ------
    InputError
    """
    chain = design.chain(layer_id)
    old = chain.rules[0]
    kept = edited(motif, id=old.id, handle=old.handle, name=old.name)
    name = motif.called() if chain.name == old.called() else chain.name
    return with_layer(design, layer_id, lambda one: edited(one.with_rules((kept, *chain.rules[1:])), name=name))


def copy_rules(design: Design, layer_id: str, rule_ids: tuple[str, ...], to: str) -> Design:
    """Return the design with rules of one layer put at the end of another, their numbers naming each other as before.

    Raises
    ------
    InputError
    """
    rules = [r for r in design.chain(layer_id).rules if r.id in rule_ids and r.family != "motif"]
    ids = {rule.id: new_id() for rule in rules}

    def put(there: tuple[Rule, ...]) -> tuple[Rule, ...]:
        handles, put_in = [one.handle for one in there], []
        for rule in rules:
            handles.append(free_handle(rule.handle, handles))
            put_in.append(edited(renamed(rule, ids), handle=handles[-1]))
        return (*there, *put_in)

    return _with_rules(design, to, put)


def renamed(rule: Rule, ids: dict[str, str]) -> Rule:
    """Return a rule with other ids, its own and those its numbers and picks name."""
    changes: dict[str, Any] = {"id": ids.get(rule.id, rule.id)}
    for name, dial in rule.dials().items():
        value = getattr(rule, name)
        if isinstance(value, Varied):
            second = value.second and edited(value.second, rule=ids.get(value.second.rule, value.second.rule))
            changes[name] = edited(value, rule=ids.get(value.rule, value.rule), second=second)
        elif isinstance(value, str) and value in ids:
            changes[name] = ids[value]
        elif isinstance(dial, Touches):
            changes[name] = tuple(edited(one, at=tuple((ids.get(r, r), a, b) for r, a, b in one.at)) for one in value)
    return edited(rule, **changes)


def free_handle(wanted: str, taken: Iterable[str]) -> str:
    """Return a handle that is not taken yet: the wanted one, or with a number."""
    taken, k, handle = set(taken), 1, wanted
    while handle in taken:
        k += 1
        handle = f"{wanted}-{k}"
    return handle
