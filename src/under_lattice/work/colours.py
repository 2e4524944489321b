"""All colours of a work: where each stands, and the work with others in their place; no coordinate changes."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from typing import Any, NamedTuple

import numpy as np

from under_lattice.colour.colour import CLEAR, from_oklch, to_oklch
from under_lattice.declare.frozen import edited
from under_lattice.rules.base import Rule
from under_lattice.work.edits import set_dials
from under_lattice.work.model import Design


class Use(NamedTuple):
    """Where a colour stands: of a layer and rule by their ids, in a dial, the how manieth there from 0; the sheet has no rule."""

    layer: str
    rule: str
    dial: str
    at: int


def colours_in(rule: Rule) -> Iterator[tuple[str, int, str]]:
    """Yield dial, number and colour of all that a rule has, what is clear left out."""
    for name, dial in rule.dials().items():
        colours = dial.colours(getattr(rule, name))
        yield from ((name, k, colour) for k, colour in enumerate(colours) if colour != CLEAR)


def colours_of_rules(rules: Iterable[Rule]) -> tuple[str, ...]:
    """Return the distinct colours that have an effect of some rules, in the order they are met."""
    found: dict[str, None] = {}
    for rule in rules:
        idle = rule.idle_dials()
        found |= dict.fromkeys(colour for dial, _, colour in colours_in(rule) if dial not in idle)
    return tuple(found)


def uses_of(design: Design, layer: str = "") -> dict[str, list[Use]]:
    """Return every colour of a work, or of one layer of it, with where it stands; those with no effect now are left out."""
    found: dict[str, list[Use]] = {}
    if not layer and design.sheet.background:
        found[design.sheet.background] = [Use("", "", "background", 0)]
    for owner, rule in design.every_rule():
        if not rule.on or (layer and owner.id != layer):
            continue
        idle = rule.idle_dials()
        for dial, at, colour in colours_in(rule):
            if dial not in idle:
                found.setdefault(colour, []).append(Use(owner.id, rule.id, dial, at))
    return found


def recoloured(design: Design, change: Mapping[str, str], layer: str = "") -> Design:
    """Return the work, or one layer of it, with colours in place of others, wherever they stand.

    Raises
    ------
    InputError
    """
    for owner, rule in list(design.every_rule()):
        if layer and owner.id != layer:
            continue
        values = _changed(rule, change)
        if values:
            design = set_dials(design, owner.id, rule.id, values)
    ground = change.get(design.sheet.background, design.sheet.background)
    if not layer and ground != design.sheet.background:
        design = edited(design, sheet=edited(design.sheet, background=ground))
    return design


def _changed(rule: Rule, change: Mapping[str, str]) -> dict[str, Any]:
    """The dials of a rule that hold other colours now."""
    out: dict[str, Any] = {}
    for name, dial in rule.dials().items():
        value = getattr(rule, name)
        new = dial.with_colours(value, change)
        if new != value:
            out[name] = new
    return out


def by_lightness(colours: Sequence[str], palette: Sequence[str]) -> dict[str, str]:
    """Return for each colour the one of a palette that is as light among its own: darkest to darkest, lightest to lightest."""
    order = sorted(range(len(colours)), key=lambda k: to_oklch(colours[k])[0])
    others = sorted(palette, key=lambda one: to_oklch(one)[0])
    places = np.linspace(0, len(others) - 1, len(order)) if len(order) > 1 else np.array([(len(others) - 1) / 2])
    return {colours[k]: others[round(float(place))] for k, place in zip(order, places, strict=True)}


def in_order(colours: Sequence[str], palette: Sequence[str]) -> dict[str, str]:
    """Return for each colour the one of a palette that stands as far on, beginning anew at its end."""
    return {colour: palette[k % len(palette)] for k, colour in enumerate(colours)}


def moved(hue: float = 0.0, strength: float = 100.0, lightness: float = 0.0) -> Callable[[str], str]:
    """Return what turns a colour's hue by degrees, takes so much of its strength in per cent, and makes it so much lighter."""

    def one(colour: str) -> str:
        light, chroma, angle = to_oklch(colour)
        return from_oklch(min(max(light + lightness / 100, 0.0), 1.0), chroma * strength / 100, angle + hue)

    return one
