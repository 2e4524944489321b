"""Which finishes of a layer are in force, and why others are not."""

from __future__ import annotations

from under_lattice.colour.effects import Effect
from under_lattice.evaluate.result import Problem
from under_lattice.rules.base import Rule
from under_lattice.rules.families import FinishRule
from under_lattice.work.layers import AnyLayer, Chain


def finishes_of(rules: tuple[Rule, ...]) -> tuple[FinishRule, ...]:
    """Return the finishes that are on and below all other rules that are."""
    live = [rule for rule in rules if rule.on or rule.family == "motif"]
    last = next((k for k in range(len(live), 0, -1) if not isinstance(live[k - 1], FinishRule)), 0)
    return tuple(rule for rule in live[last:] if isinstance(rule, FinishRule))


def effects_of(layer: AnyLayer) -> tuple[Effect, ...]:
    """Return what the finishes of a layer do to its pixels, one after the other."""
    return tuple(rule.effect() for rule in finishes_of(layer.own_rules))


def effects_down_to(chain: Chain, rule: Rule) -> tuple[Effect, ...]:
    """Return the same of the finishes down to a rule of a chain, which may be its end."""
    at = next((k for k, one in enumerate(chain.rules) if one.id == rule.id), len(chain.rules))
    above = {one.id for one in chain.rules[: at + 1]}
    return tuple(one.effect() for one in finishes_of(chain.rules) if one.id in above)


def finishes_above_others(chain: Chain) -> tuple[Problem, ...]:
    """Return the finishes that are not in force, since rules of other families stand below them."""
    force = finishes_of(chain.rules)
    idle = (rule for rule in chain.rules if rule.on and isinstance(rule, FinishRule) and rule not in force)
    said = "it finishes all copies together; put it below the rules that make, reshape and colour them"
    return tuple(Problem(chain.id, rule.id, said) for rule in idle)
