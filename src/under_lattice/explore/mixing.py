"""Two designs of the same build mixed: each number, colour and point part of the way from one to the other."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from under_lattice.core.errors import InputError
from under_lattice.declare.dials import Dial, NumberDial
from under_lattice.declare.frozen import edited
from under_lattice.declare.moving import at_half, mixed_colours, mixed_evenly, mixed_ratio
from under_lattice.explore.movable import MEASURES
from under_lattice.rules.base import Rule
from under_lattice.vary.numbers import Varied
from under_lattice.vary.parts import POINTS, Several
from under_lattice.work.edits import renamed
from under_lattice.work.layers import AnyLayer, Layer
from under_lattice.work.model import Design, NamedDial, Sheet
from under_lattice.work.named import retied

SAID_MOST = 6


def mix(one: Design, other: Design, share: float) -> Design:
    """Return the design `share` (0..1) of the way from one to another; at 0 and 1 these themselves.

    Raises
    ------
    InputError
        When they are not of the same build; it says where they differ.
    """
    if share <= 0 or share >= 1:
        return one if share <= 0 else other
    apart = differences(one, other)
    if apart:
        more = f" and {len(apart) - SAID_MOST} more" if len(apart) > SAID_MOST else ""
        raise InputError(f"these two are not of the same build: {'; '.join(apart[:SAID_MOST])}{more}")
    other = _in_ids_of(one, other)
    pictures = {picture.id: picture for picture in (*one.pictures, *other.pictures)}
    return retied(
        edited(
            at_half(one, other, share),
            sheet=_sheet(one.sheet, other.sheet, share),
            layers=tuple(_layer(a, b, share) for a, b in zip(one.layers, other.layers, strict=True)),
            dials=tuple(_named(a, b, share) for a, b in zip(one.dials, other.dials, strict=True)),
            pictures=tuple(pictures.values()),
        )
    )


def differences(one: Design, other: Design) -> tuple[str, ...]:
    """Return in words which layers and rules two designs do not have in common; nothing when they are of the same build."""
    said = [] if one.sheet.unit == other.sheet.unit else [f"one is in {one.sheet.unit}, the other in {other.sheet.unit}"]
    if [dial.measure for dial in one.dials] != [dial.measure for dial in other.dials]:
        said.append("their named dials differ")
    return (*said, *_apart(one.layers, other.layers))


def _apart(ones: tuple[AnyLayer, ...], others: tuple[AnyLayer, ...]) -> Iterable[str]:
    for k in range(max(len(ones), len(others))):
        if k >= min(len(ones), len(others)):
            yield f"{(ones if k < len(ones) else others)[k].name} is in one only"
            continue
        a, b = ones[k], others[k]
        if a.kind != b.kind:
            yield f"{a.name} is a {a.noun}, {b.name} a {b.noun}"
            continue
        yield from _rules_apart(a, b)
        yield from _apart(a.members, b.members)


def _rules_apart(a: Layer, b: Layer) -> Iterable[str]:
    kinds = [[rule.kind for rule in layer.own_rules] for layer in (a, b)]
    if kinds[0] == kinds[1]:
        return
    for k in range(max(len(kinds[0]), len(kinds[1]))):
        if k >= min(len(kinds[0]), len(kinds[1])):
            longer = a if k < len(kinds[0]) else b
            yield f"{longer.name} has {longer.own_rules[k].shown_name()} in one only"
        elif kinds[0][k] != kinds[1][k]:
            names = [layer.own_rules[k].name or layer.own_rules[k].noun() for layer in (a, b)]
            yield f"{a.name} has {names[0]} in one, {names[1]} in the other"


def _in_ids_of(one: Design, other: Design) -> Design:
    """The other design, its parts named as those of the first."""
    ids = {b.id: a.id for a, b in zip(one.all_layers(), other.all_layers(), strict=True)}
    for (_, a), (_, b) in zip(one.every_rule(), other.every_rule(), strict=True):
        ids[b.id] = a.id
    if all(old == new for old, new in ids.items()):
        return other
    renaming = tuple(_renamed(layer, ids) for layer in other.layers)
    return edited(other, layers=renaming)


def _renamed(layer: AnyLayer, ids: dict[str, str]) -> AnyLayer:
    made = edited(layer.with_each_rule(lambda rule: renamed(rule, ids)), id=ids[layer.id])
    return made.with_members(tuple(_renamed(member, ids) for member in made.members)) if made.members else made


def _sheet(one: Sheet, other: Sheet, share: float) -> Sheet:
    sizes = {name: mixed_ratio(getattr(one, name), getattr(other, name), share) for name in ("width", "height")}
    there = one.background and other.background
    ground = mixed_colours((one.background,), (other.background,), share)[0] if there else at_half(one, other, share).background
    return edited(at_half(one, other, share), background=ground, **sizes)


def _named(one: NamedDial, other: NamedDial, share: float) -> NamedDial:
    dial = MEASURES[one.measure](one.name, "")
    return edited(at_half(one, other, share), value=dial.mixed(one.value, other.value, share))


def _layer(one: AnyLayer, other: AnyLayer, share: float) -> AnyLayer:
    nearer = at_half(one, other, share)
    made = edited(nearer, end=_rule(one.end, other.end, share))
    if one.own_rules:
        made = made.with_rules(tuple(_rule(a, b, share) for a, b in zip(one.own_rules, other.own_rules, strict=True)))
    return made.with_members(tuple(_layer(a, b, share) for a, b in zip(one.members, other.members, strict=True)))


def _rule(one: Rule, other: Rule, share: float) -> Rule:
    if one == other:
        return one
    changes = {
        name: mixed_value(dial, getattr(one, name), getattr(other, name), share)
        for name, dial in one.dials().items()
        if getattr(one, name) != getattr(other, name)
    }
    return edited(at_half(one, other, share), **changes)


def mixed_value(dial: Dial, one: Any, other: Any, share: float) -> Any:
    """Return the value of a dial `share` (0..1) of the way between two, numbers that vary among them, in its unit."""
    if not isinstance(dial, NumberDial) or not (isinstance(one, Varied) or isinstance(other, Varied)):
        return dial.mixed(one, other, share)
    nearer = at_half(one, other, share)
    if any(isinstance(value, Varied) and value.formula for value in (one, other)):
        return nearer
    form = nearer if isinstance(nearer, Varied) else one if isinstance(one, Varied) else other
    ends: dict[str, Any] = {name: dial.mixed(_end(one, name), _end(other, name), share) for name in ("start", "end")}
    if isinstance(one, Varied) and isinstance(other, Varied):
        several = Several(dial.label, dial.words, of=dial)
        ends |= {
            "points": POINTS.mixed(one.points, other.points, share),
            "taken": several.mixed(one.taken, other.taken, share),
            "repeats": mixed_evenly(one.repeats, other.repeats, share),
        }
        if one.midway is not None and other.midway is not None:
            ends["midway"] = several.mixed(one.midway, other.midway, share)
    return edited(form, **ends)


def _end(value: Any, name: str) -> float:
    """An end of a number that varies; one that does not is the same at both."""
    return float(getattr(value, name) if isinstance(value, Varied) else value)
