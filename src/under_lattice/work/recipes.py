"""What can be taken from one work to another: a recipe without its motif, a motif, a palette, one repeat as a cell.

A recipe is a chain whose motif is only a sample: on another motif its lengths are in proportion to that, its spots are found anew.
"""

from __future__ import annotations

from typing import Any

from under_lattice.core.errors import InputError
from under_lattice.core.units import convert
from under_lattice.declare.colour_dials import Palette
from under_lattice.declare.dials import LayerChoice
from under_lattice.declare.frozen import edited
from under_lattice.rules.base import Rule
from under_lattice.work.edits import exchange_motif, renamed, set_dial, with_layer, with_picture
from under_lattice.work.grouping import with_new_ids
from under_lattice.work.layers import AnyLayer
from under_lattice.work.model import Design
from under_lattice.work.sheets import scaled, set_unit
from under_lattice.work.suggest import surroundings


def recipe_of(design: Design, layer: str) -> Design:
    """Return a design of one layer alone: its rules, with its motif as a sample.

    Raises
    ------
    InputError
        When the layer is no chain.
    """
    chain = design.chain(layer)
    alone = edited(chain, rules=tuple(_alone(rule) for rule in chain.rules), end=_alone(chain.end), locked=False, hidden=False)
    found = edited(design, layers=(with_new_ids(alone),), dials=(), name=chain.name)
    used = found.picture_ids()
    return edited(found, pictures=tuple(one for one in design.pictures if one.id in used))


def motif_of(design: Design, layer: str) -> Design:
    """Return a design of a layer's motif alone, with the first rule that colours it.

    Raises
    ------
    InputError
    """
    chain = design.chain(layer)
    inks = [rule for rule in chain.rules[1:] if rule.family == "paint"][:1]
    bare = with_layer(unlocked(design), layer, lambda one: one.with_rules((chain.rules[0], *inks)))
    return recipe_of(bare, layer)


def palette_of(design: Design, layer: str, rule: str = "") -> tuple[str, ...]:
    """Return the palette of a rule, or else of the first rule of a layer that has one.

    Raises
    ------
    InputError
        When there is none.
    """
    one, name = _with_palette(design, layer, rule)
    palette: tuple[str, ...] = getattr(one, name)
    return palette


def with_recipe(design: Design, layer: str, recipe: Design) -> Design:
    """Return the design with the rules of a recipe in place of a layer's own; its motif stays.

    Raises
    ------
    InputError
        When the layer is locked or no chain, or the recipe is empty.
    """
    if not recipe.chains():
        raise InputError("this recipe is empty")
    recipe = set_unit(recipe, design.sheet.unit)
    chain, other = design.chain(layer), with_new_ids(recipe.chains()[0])
    factor = surroundings(chain, design.sheet).size / surroundings(other, recipe.sheet).size
    ids = {other.rules[0].id: chain.rules[0].id}
    rules = tuple(renamed(scaled(rule, factor), ids) for rule in other.rules[1:])
    end = edited(other.end, id=chain.end.id)
    for picture in recipe.pictures:
        design = with_picture(design, picture)
    return with_layer(design, layer, lambda one: edited(one.with_rules((chain.rules[0], *rules)), end=end))


def with_motif(design: Design, layer: str, motif: Design) -> Design:
    """Return the design with the motif of another at the head of a layer; what stands below it stays.

    Raises
    ------
    InputError
    """
    if not motif.chains():
        raise InputError("there is no motif in this")
    for picture in motif.pictures:
        design = with_picture(design, picture)
    factor = convert(1.0, motif.sheet.unit, design.sheet.unit, design.sheet.resolution)
    return exchange_motif(design, layer, scaled(motif.chains()[0].rules[0], factor))


def with_palette(design: Design, layer: str, colours: tuple[str, ...], rule: str = "") -> Design:
    """Return the design with a palette in a rule, or else in the first rule of a layer that has one.

    Raises
    ------
    InputError
    """
    one, name = _with_palette(design, layer, rule)
    return set_dial(design, layer, one.id, name, colours)


def cell_of(design: Design, cell: dict[str, Any] | None) -> Design:
    """Return the design on a sheet of one repeat, as rules say it (`Rule.repeating_cell`).

    Raises
    ------
    InputError
        When it has no rectangle that repeats.
    """
    if cell is None or cell.get("kind") != "rectangle" or cell.get("turn"):
        raise InputError("no upright rectangle repeats this layer; a Lattice that is not turned, alike all over, has one")
    return edited(design, sheet=edited(design.sheet, width=cell["width"], height=cell["height"]), name=f"{design.name}, cell"[:80])


def unlocked(design: Design) -> Design:
    """Return the design with no layer locked."""
    return edited(design, layers=tuple(map(_unlocked, design.layers)))


def _unlocked(layer: AnyLayer) -> AnyLayer:
    made = edited(layer, locked=False) if layer.locked else layer
    return made.with_members(tuple(map(_unlocked, made.members))) if made.members else made


def _alone(rule: Rule) -> Rule:
    """A rule that stands for itself: it reads no other layer and follows no named dial."""
    loose: dict[str, Any] = {name: "" for name, dial in rule.dials().items() if isinstance(dial, LayerChoice)}
    return edited(rule, ties=(), locked=(), **loose)


def _with_palette(design: Design, layer: str, rule: str) -> tuple[Rule, str]:
    rules = design.layer(layer).every_rule
    ordered = [one for one in rules if one.id == rule] + [one for one in rules if one.id != rule]
    for one in ordered:
        for name, dial in one.dials().items():
            if isinstance(dial, Palette) and not one.idle(name):
                return one, name
    raise InputError("no rule of this layer has a palette; add an Ink first")
