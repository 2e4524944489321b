"""Named dials: numbers of the work that any number of dials share.

A dial that follows one holds its value as well, so that nothing else need know; every change of a named dial is written to all
that follow it. `ties` of a rule say what follows: a place (``size``, or ``turn.start`` of a number that varies) and the dial's id.
"""

from __future__ import annotations

import keyword
import re
from typing import Any

from under_lattice.core.errors import InputError
from under_lattice.declare.dials import NumberDial
from under_lattice.declare.frozen import edited
from under_lattice.rules.base import Rule
from under_lattice.vary.formula import FUNCTIONS, NAMES, read_formula
from under_lattice.vary.numbers import Varied
from under_lattice.work.edits import set_dials, with_rule
from under_lattice.work.model import Design, NamedDial, new_id

DIALS_MOST = 60


def named(design: Design, dial: str) -> NamedDial:
    """Return a named dial by its id.

    Raises
    ------
    InputError
    """
    for one in design.dials:
        if one.id == dial:
            return one
    raise InputError("this named dial is gone")


def tie_of(rule: Rule, place: str) -> str:
    """Return the id of the named dial that a place of a rule follows, or nothing."""
    return dict(rule.ties).get(place, "")


def add_named(design: Design, layer: str, rule_id: str, place: str, name: str) -> Design:
    """Return the design with a new named dial that has the value of a place, which follows it from now on.

    Raises
    ------
    InputError
    """
    if len(design.dials) >= DIALS_MOST:
        raise InputError(f"a work has at most {DIALS_MOST} named dials")
    rule = design.layer(layer).rule(rule_id)
    taken = {one.handle for one in design.dials} | NAMES.keys() | FUNCTIONS.keys()
    dial = NamedDial(
        id=new_id(),
        handle=_handle(name, taken),
        name=name.strip() or "Dial",
        measure=_dial(rule, place).kind,
        value=value_at(rule, place),
    )
    return tie(edited(design, dials=(*design.dials, dial)), layer, rule_id, place, dial.id)


def tie(design: Design, layer: str, rule_id: str, place: str, dial: str) -> Design:
    """Return the design with a place of a rule following a named dial.

    Raises
    ------
    InputError
        When it measures something else, or its value is not allowed there.
    """
    one, own = named(design, dial), _dial(design.layer(layer).rule(rule_id), place)
    if one.measure != own.kind:
        raise InputError(f"{one.name} is a {one.measure}, {own.label} is a {own.kind}")
    design = with_rule(design, layer, rule_id, lambda rule: edited(rule, ties=(*_others(rule, place), (place, dial))))
    return set_named(design, dial, one.value)


def untie(design: Design, layer: str, rule_id: str, place: str) -> Design:
    """Return the design with a place going its own way again, from the value it has."""
    return with_rule(design, layer, rule_id, lambda rule: edited(rule, ties=_others(rule, place)))


def set_named(design: Design, dial: str, value: float) -> Design:
    """Return the design with a named dial turned, and all that follows it, in the unit of its measure.

    Raises
    ------
    InputError
        When one of those that follow does not allow the value; it says which.
    """
    one = named(design, dial)
    value = float(round(value)) if one.measure in ("count", "seed") else float(value)
    changed = edited(design, dials=tuple(edited(d, value=value) if d.id == dial else d for d in design.dials))
    for layer, rule in changed.every_rule():
        changes = following(rule, one, value)
        if changes:
            try:
                changed = set_dials(changed, layer.id, rule.id, changes)
            except InputError as error:
                raise InputError(f"{one.name} turns {rule.shown_name()} of {layer.name}: {error.message}") from None
    return changed


def rename_named(design: Design, dial: str, name: str) -> Design:
    """Return the design with a named dial called otherwise; formulas go by its handle, which stays."""
    named(design, dial)
    return edited(design, dials=tuple(edited(d, name=name.strip() or d.name) if d.id == dial else d for d in design.dials))


def remove_named(design: Design, dial: str) -> Design:
    """Return the design without a named dial; what followed it keeps its value, formulas on it the last one it had."""
    design = edited(design, dials=tuple(d for d in design.dials if d.id != dial))
    for layer, rule in design.every_rule():
        kept = tuple((place, to) for place, to in rule.ties if to != dial)
        if kept != rule.ties:
            design = set_dials(design, layer.id, rule.id, {"ties": kept})
    return design


def followers(design: Design, dial: str) -> list[str]:
    """Return in words what follows a named dial."""
    handle, out = named(design, dial).handle, []
    for layer, rule in design.every_rule():
        for name, one in rule.dials().items():
            value = getattr(rule, name)
            tied = any(to == dial and place.split(".")[0] == name for place, to in rule.ties)
            if tied or (isinstance(value, Varied) and handle in dict(value.named)):
                out.append(f"{layer.name}, {rule.shown_name()}: {one.label}")
    return out


def named_in(design: Design, text: str) -> tuple[tuple[str, float], ...]:
    """Return the named dials a formula uses, handle and value.

    Raises
    ------
    InputError
        When the formula cannot be read.
    """
    known = {one.handle: one.value for one in design.dials}
    used = read_formula(text, frozenset(known)).names & known.keys()
    return tuple(sorted((name, known[name]) for name in used))


def retied(design: Design) -> Design:
    """Return the design with all that follows a named dial at its value, as after reading a file that was changed by hand.

    Raises
    ------
    InputError
    """
    for one in design.dials:
        design = set_named(design, one.id, one.value)
    return design


def following(rule: Rule, one: NamedDial, value: float) -> dict[str, Any]:
    """Return what changes in a rule when a named dial has a new value, in the unit of its measure."""
    changes: dict[str, Any] = {}
    for place, to in rule.ties:
        name, _, end = place.partition(".")
        if to != one.id:
            continue
        if end:
            number = changes.get(name, getattr(rule, name))
            if isinstance(number, Varied) and getattr(number, end) != value:
                changes[name] = edited(number, **{end: value})
        elif not isinstance(getattr(rule, name), Varied) and getattr(rule, name) != value:
            changes[name] = int(value) if _dial(rule, place).kind in ("count", "seed") else value
    for name in rule.dials():
        number = changes.get(name, getattr(rule, name))
        own = value / number.reads if isinstance(number, Varied) and one.measure == "length" else value  # in the formula's unit
        if isinstance(number, Varied) and dict(number.named).get(one.handle, own) != own:
            fresh = dict(number.named) | {one.handle: own}
            number = edited(number, named=tuple(sorted(fresh.items())))
            changes[name] = edited(number, start=number.ends()[0])
    return changes


def _dial(rule: Rule, place: str) -> NumberDial:
    dial = rule.dials()[place.split(".")[0]]
    if not isinstance(dial, NumberDial):
        raise InputError(f"{dial.label} is not a number")
    return dial


def value_at(rule: Rule, place: str) -> float:
    """Return the number at a place of a rule; of one that varies its start, in the unit of its dial."""
    name, _, end = place.partition(".")
    value = getattr(rule, name)
    if isinstance(value, Varied):
        return float(getattr(value, end or "start"))
    return float(value)


def _others(rule: Rule, place: str) -> tuple[tuple[str, str], ...]:
    return tuple((at, to) for at, to in rule.ties if at != place)


def _handle(name: str, taken: set[str]) -> str:
    """A name that can stand in a formula and is not taken."""
    base = re.sub(r"\W+", "_", name.strip().lower(), flags=re.ASCII).strip("_") or "dial"
    base = f"d_{base}" if base[0].isdigit() or keyword.iskeyword(base) else base
    handle, k = base[:30], 2
    while handle in taken:
        handle, k = f"{base[:30]}_{k}", k + 1
    return handle
