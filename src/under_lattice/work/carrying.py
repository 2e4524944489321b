"""A layer, or one rule, as it is carried from one work to another, or put once more into its own."""

from __future__ import annotations

from typing import Any

from under_lattice.core.errors import InputError
from under_lattice.declare.dials import LayerChoice, RuleChoice
from under_lattice.declare.frozen import edited
from under_lattice.rules.base import Rule
from under_lattice.vary.numbers import Varied
from under_lattice.work.edits import add_rule, exchange_motif, with_picture, with_rule
from under_lattice.work.grouping import add_layer
from under_lattice.work.layers import Chain
from under_lattice.work.model import Design
from under_lattice.work.moving_too import moving_as
from under_lattice.work.sheets import set_unit
from under_lattice.work.suggest import sources_of


def layer_alone(design: Design, layer: str) -> Design:
    """Return a design of one layer or group as it stands; what it reads of others goes along by name only."""
    one = edited(design.layer(layer), locked=False, hidden=False)
    return _with_own_pictures(edited(design, layers=(one.with_each_rule(_loose),), dials=()), design)


def rule_alone(design: Design, layer: str, rule: str) -> Design:
    """Return a design whose one chain is the motif and a rule, or the motif alone.

    Raises
    ------
    InputError
    """
    chain = design.chain(layer)
    rules = tuple(_loose(one) for one in chain.rules if one.id in (chain.rules[0].id, rule))
    if not any(one.id == rule for one in rules):
        raise InputError("the end of a layer cannot be copied alone; copy the layer")
    return _with_own_pictures(edited(design, layers=(edited(chain, rules=rules, locked=False),), dials=()), design)


def with_layer_of(design: Design, carried: Design) -> tuple[Design, str]:
    """Return the design with a carried layer in front, in its own unit, and the id of that layer.

    Raises
    ------
    InputError
        When there is none.
    """
    if not carried.layers:
        raise InputError("no layer was copied")
    carried = set_unit(carried, design.sheet.unit)
    there = {one.id for one in design.all_layers()} | {one.id for one in carried.all_layers()}
    layer = carried.layers[0].with_each_rule(lambda rule: _reading(rule, there))
    for picture in carried.pictures:
        design = with_picture(design, picture)
    design = add_layer(design, layer)
    return moving_as(design, carried.motions, layer, design.layers[0]), design.layers[0].id


def with_rule_of(design: Design, layer: str, after: str, carried: Design) -> Design:
    """Return the design with a carried rule after another; a carried motif takes the place of the layer's own.

    Numbers that vary by a repeat which is not there vary by the nearest one that is, or rest at their start.

    Raises
    ------
    InputError
    """
    chains = set_unit(carried, design.sheet.unit).chains()
    if not chains:
        raise InputError("no rule was copied")
    rule = _reading(chains[0].rules[-1], {one.id for one in design.all_layers()})
    for picture in carried.pictures:
        design = with_picture(design, picture)
    if rule.family == "motif":
        return exchange_motif(design, layer, rule)
    made = add_rule(design, layer, rule, after)
    chain, before = made.chain(layer), {one.id for one in design.chain(layer).rules}
    put = next(one for one in chain.rules if one.id not in before)
    return with_rule(made, layer, put.id, lambda one: edited(one, **_at_home(one, chain)))


def _at_home(rule: Rule, chain: Chain) -> dict[str, Any]:
    """What of a rule named rules of another chain, as it can be in this one."""
    there, changes = {one.id for one in chain.rules}, {}  # type: tuple[set[str], dict[str, Any]]
    for name, dial in rule.dials().items():
        value = getattr(rule, name)
        if isinstance(value, Varied) and value.rule not in there and value.channel != "loop":
            sources = sources_of(chain, rule, name)
            changes[name] = edited(value, rule=sources[-1].id) if sources else value.start
        elif isinstance(dial, RuleChoice) and value and value not in there and value not in dict(dial.others):
            changes[name] = type(rule).model_fields[name].default
    return changes


def _loose(rule: Rule) -> Rule:
    """A rule that follows no named dial."""
    return edited(rule, ties=(), locked=()) if rule.ties or rule.locked else rule


def _reading(rule: Rule, there: set[str]) -> Rule:
    """A rule that reads only layers that are there."""
    gone = {name: "" for name, dial in rule.dials().items() if isinstance(dial, LayerChoice) and getattr(rule, name) not in there}
    return edited(rule, **gone) if gone else rule


def _with_own_pictures(alone: Design, design: Design) -> Design:
    used = alone.picture_ids()
    return edited(alone, pictures=tuple(one for one in design.pictures if one.id in used))
