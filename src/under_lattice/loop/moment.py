"""The work at a moment of the loop: a work like any other, in which all that moves has the value it has then.

What does not move stays the same object, so that nothing of it is worked out again.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator
from functools import lru_cache, partial
from typing import Any

from under_lattice.core.errors import InputError
from under_lattice.declare.dials import Count, Dial, NumberDial, Seed
from under_lattice.declare.frozen import edited
from under_lattice.rules.base import Rule
from under_lattice.vary.motion import Motion, Passing, Place
from under_lattice.vary.numbers import Varied
from under_lattice.work.edits import replaced
from under_lattice.work.layers import AnyLayer
from under_lattice.work.model import Design, NamedDial
from under_lattice.work.named import following

Changes = dict[tuple[str, str], dict[str, Any]]  # by layer and rule: dials and their values


def at_moment(design: Design, time: float, waves: bool = True) -> Design:
    """Return the design as it is at a time of the loop, 0..1, with nothing that moves; the same one where nothing does.

    Locks do not hold what moves; what a motion moved and is gone is passed over. Without `waves` what is behind in some copies is
    taken as it is in the first.
    """
    live = [motion for motion in design.motions if motion.on]
    if not live:
        return design
    changes: Changes = defaultdict(dict)
    dials = {one.id: one for one in design.dials}
    for motion in live:
        for place in motion.places:
            if not place.layer:
                if place.dial in dials:
                    dials[place.dial] = _named_then(design, motion, dials[place.dial], time)
            elif (found := found_at(design, place)) is not None:
                changes[place.layer, place.rule] |= _then(design, motion, place, found, time, changes, waves)
    turned = [dials[one.id] for one in design.dials if dials[one.id] is not one]
    for layer, rule in design.every_rule() if turned else ():
        for one in turned:
            changes[layer.id, rule.id] |= following(rule, one, one.value)
    return _with(edited(design, motions=(), dials=tuple(dials[one.id] for one in design.dials)), changes)


def _with(design: Design, changes: Changes) -> Design:
    """The design with dials of many rules set at once."""
    by_layer: dict[str, dict[str, dict[str, Any]]] = defaultdict(dict)
    for (layer, rule), own in changes.items():
        if own:
            by_layer[layer][rule] = own
    for layer, rules in by_layer.items():

        def changed(here: AnyLayer, rules: dict[str, dict[str, Any]] = rules) -> AnyLayer:
            for rule_id, own in rules.items():
                here = here.with_rule(rule_id, partial(_turned, own))
            return here

        design = replaced(design, layer, changed)
    return design


def _turned(changes: dict[str, Any], rule: Rule) -> Rule:
    """A rule with dials at other values, one after the other where one refuses; those that are not allowed together stay."""
    try:
        return edited(rule, **changes)
    except InputError:
        for name, value in changes.items():
            try:
                rule = edited(rule, **{name: value})
            except InputError:
                continue
        return rule


def found_at(design: Design, place: Place) -> tuple[Rule, Dial] | None:
    """Return the rule and the dial a place names, or None where they are gone."""
    layer = design.tree.by_id.get(place.layer)
    rule = next((one for one in layer.every_rule if one.id == place.rule), None) if layer is not None else None
    dial = rule.dials().get(place.dial) if rule is not None else None
    if rule is None or dial is None or (place.end and not isinstance(getattr(rule, place.dial), Varied)):
        return None
    return rule, dial


def stored(design: Design, place: Place) -> Any:
    """Return what stands at a place in the work itself, or None where it is gone."""
    if not place.layer:
        return next((one.value for one in design.dials if one.id == place.dial), None)
    found = found_at(design, place)
    if found is None:
        return None
    value = getattr(found[0], place.dial)
    return getattr(value, place.end) if place.end else value


def is_number(value: Any) -> bool:
    """Tell whether a value of a dial is one that can be reckoned with."""
    return isinstance(value, (int, float)) and not isinstance(value, bool)


def value_at(design: Design, motion: Motion, place: Place, time: float) -> Any:
    """Return what stands at a place of a motion at a time of the loop, a lag left aside; None where the place is gone."""
    if not place.layer:
        one = next((one for one in design.dials if one.id == place.dial), None)
        return None if one is None else _named_then(design, motion, one, time).value
    found = found_at(design, place)
    return None if found is None else _value(design, motion, place, found, time)


def moving(design: Design) -> Iterator[tuple[Motion, Place]]:
    """Yield each motion with each of its places that is there."""
    for motion in design.motions:
        for place in motion.places:
            if stored(design, place) is not None:
                yield motion, place


def motion_at(design: Design, place: Place) -> Motion | None:
    """Return the motion that moves a place, if one does."""
    return next((motion for motion in design.motions if place in motion.places), None)


def _then(
    design: Design, motion: Motion, place: Place, found: tuple[Rule, Dial], time: float, changes: Changes, waves: bool
) -> dict[str, Any]:  # fmt: skip
    """What a motion changes in a rule at a time."""
    rule, dial = found
    value = _value(design, motion, place, found, time)
    if waves and motion.lag is not None and not place.end and isinstance(dial, NumberDial) and dial.vary and is_number(value):
        value = _passing(design, motion, rule, place, dial, time)
    if place.end:
        number = changes[place.layer, place.rule].get(place.dial, getattr(rule, place.dial))
        return {place.dial: edited(number, **{place.end: value})}
    return rule.converted(place.dial, value)


def _passing(design: Design, motion: Motion, rule: Rule, place: Place, dial: NumberDial, time: float) -> Passing:
    """A number that runs through the copies."""
    rest = float(getattr(rule, place.dial))
    assert motion.lag is not None
    return Passing(
        rule=motion.lag.rule, channel=motion.lag.channel, start=rest, end=rest, seed=motion.lag.seed, motion=motion, time=time,
        closed=design.loop.closed, most=(dial.least, dial.most), rest_value=rest, whole=isinstance(dial, Count),
    )  # fmt: skip


def _named_then(design: Design, motion: Motion, one: NamedDial, time: float) -> NamedDial:
    closed = design.loop.closed
    value = one.value + float(motion.numbers(time, closed) - motion.numbers(0.0, closed))
    return edited(one, value=float(round(value)) if one.measure in ("count", "seed") else value)


def _value(design: Design, motion: Motion, place: Place, found: tuple[Rule, Dial], time: float) -> Any:
    """What stands at a place at a time; the second and later places of a motion are moved as much as the first."""
    rule, dial = found
    own, closed = stored(design, place), design.loop.closed
    if isinstance(dial, NumberDial) and not isinstance(dial, Seed):
        if not is_number(own) or not all(is_number(bead.value) for bead in motion.beads):
            return own
        value = dial.held(own + float(motion.numbers(time, closed) - motion.numbers(0.0, closed)))
        return round(value) if isinstance(dial, Count) else value
    _, rest = motion.within(time, closed)
    if motion.course == "hung":
        one, other, share = motion.between(float(rest), closed)
    else:
        one, other, share = motion.beads[0], motion.beads[-1], float(motion.share(rest))
    first, last = seated(rule, place.dial, one.value), seated(rule, place.dial, other.value)
    if first is None or last is None:
        return own
    if switches(dial):
        return first if motion.course == "hung" or share < 0.5 else last
    return first if share == 0 or first == last else dial.mixed(first, last, share)


def switches(dial: Dial) -> bool:
    """Tell whether nothing lies between two values of a dial: it goes from one to the next at its time."""
    return isinstance(dial, Seed) or type(dial).mixed is Dial.mixed


def seated(rule: Rule, name: str, value: Any) -> Any:
    """Return a value of a bead as the dial `name` of a rule holds it; None where it is not allowed there."""
    try:
        return value if isinstance(value, (str, float)) else _seated(type(rule), name, _hashed(value))
    except TypeError:
        return None


def _hashed(value: Any) -> Any:
    return ("of", *((key, _hashed(one)) for key, one in value.items())) if isinstance(value, dict) else value


def _plain(value: Any) -> Any:
    return {key: _plain(one) for key, one in value[1:]} if isinstance(value, tuple) and value[:1] == ("of",) else value


@lru_cache(maxsize=1024)
def _seated(kind: type[Rule], name: str, value: Any) -> Any:
    try:
        bare = kind.model_validate({"kind": kind.model_fields["kind"].default})
        return getattr(edited(bare, **{name: _plain(value)}), name)
    except (InputError, ValueError):
        return None
