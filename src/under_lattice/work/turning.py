"""The one way a number of a work is turned by hand: in a field, by a handle, from the command line.

It knows ranges, locks and ties, and that a number which follows from a choice is freed when it is turned itself.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from under_lattice.core.errors import InputError
from under_lattice.declare.dials import Choice, NumberDial
from under_lattice.declare.frozen import edited
from under_lattice.rules.base import Rule
from under_lattice.vary.numbers import Varied
from under_lattice.work.address import Address
from under_lattice.work.edits import set_dials
from under_lattice.work.model import Design
from under_lattice.work.named import named, set_named, untie, value_at

Derived = Callable[[Design, str, str], Mapping[str, float]]  # of a design, a layer and a rule: the numbers that follow from choices


def turned(design: Design, address: Address, value: Any, derived: Derived, carries: bool = False) -> Design:
    """Return the design with one dial, or one end of a number that varies, turned.

    Parameters
    ----------
    design, address
    value
        As the dial takes it.
    derived : callable
        Asked only when a number is turned that follows from a choice: what the others that follow are now, so that they stay.
    carries : bool
        A choice that gives numbers back to the hand leaves them as they followed till now, so that nothing jumps.

    Raises
    ------
    InputError
        When it is out of range, its layer is locked, or what it names is gone.
    """
    _, rule = address.found(design)
    dial = address.own_dial(rule)
    if address.end:
        now = getattr(rule, address.dial)
        if not isinstance(now, Varied):
            raise InputError(f"{dial.label} does not vary, so it has no “{address.end}”")
        value = edited(now, **{address.end: value})
    changes: dict[str, Any] = {}
    tied = getattr(dial, "tied", None)
    if tied is not None and getattr(rule, tied.field) == tied.value:
        known = derived(design, address.layer, address.rule)
        changes = {name: known[name] for name in tied.others if name in known} | {tied.field: tied.free}
    elif carries and isinstance(dial, Choice):
        changes = _carried_over(rule, address.dial, value, lambda: derived(design, address.layer, address.rule))
    given = edited(rule, **changes) if changes else rule
    return turned_together(design, address.layer, address.rule, changes | given.converted(address.dial, value))


def _carried_over(rule: Rule, name: str, value: Any, derived: Callable[[], Mapping[str, float]]) -> dict[str, Any]:
    """The numbers that have no effect yet and will have one when a choice is made, as they follow from another till then."""
    freed = rule.idle_dials() - edited(rule, **{name: value}).idle_dials()
    dials = {one: dial for one, dial in rule.dials().items() if one in freed and isinstance(dial, NumberDial)}
    dials = {one: dial for one, dial in dials.items() if not isinstance(getattr(rule, one), Varied)}
    known = derived() if dials else {}
    return {one: dial.held(known[one]) for one, dial in dials.items() if one in known}


def turned_together(design: Design, layer: str, rule_id: str, changes: Mapping[str, Any]) -> Design:
    """Return the design with dials of a rule set by hand; a place that follows a named dial turns that, and all that follows it.

    Raises
    ------
    InputError
    """
    before = design.layer(layer).rule(rule_id)
    design = set_dials(design, layer, rule_id, dict(changes))
    for place, dial in before.ties:
        if place.split(".")[0] in changes:
            design = _after_a_tie(design, layer, rule_id, place, dial)
    return design


def _after_a_tie(design: Design, layer: str, rule_id: str, place: str, dial: str) -> Design:
    """The design once a place that follows a named dial has been turned by hand."""
    rule: Rule = design.layer(layer).rule(rule_id)
    if isinstance(getattr(rule, place.split(".")[0]), Varied) != ("." in place):
        return untie(design, layer, rule_id, place)  # it has begun to vary, or has stopped: there is nothing left that could follow
    value = value_at(rule, place)
    return set_named(design, dial, value) if value != named(design, dial).value else design
