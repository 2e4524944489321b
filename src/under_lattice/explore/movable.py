"""What can move in a design: every number, choice, colour, point, code and seed, read from the declarations."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import cache, cached_property, lru_cache
from typing import Any

from under_lattice.core.errors import LatticeError
from under_lattice.declare.colour_dials import Colour, Palette, RampStops
from under_lattice.declare.dials import (
    Angle,
    Choice,
    Count,
    Dial,
    Font,
    LayerChoice,
    Length,
    NumberDial,
    Picture,
    Ratio,
    RuleChoice,
    Seed,
)
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.derived import derived_values
from under_lattice.rules import KINDS
from under_lattice.rules.base import Rule
from under_lattice.vary.numbers import Varied
from under_lattice.vary.parts import parts_of
from under_lattice.work.address import Address
from under_lattice.work.edits import exchange_motif, set_dial
from under_lattice.work.layers import AnyLayer
from under_lattice.work.model import Design, NamedDial
from under_lattice.work.named import set_named, tie_of
from under_lattice.work.reading import needed
from under_lattice.work.suggest import motif_of_size
from under_lattice.work.turning import turned

MOTIF = "kind"  # stands for the motif itself in the address of what moves
MEASURES: dict[str, type[NumberDial]] = {"length": Length, "angle": Angle, "ratio": Ratio, "count": Count, "seed": Seed}
MEASURED = {"width", "size", "length"}  # what a motif has that can be made as wide as another
NAMING = (RuleChoice, LayerChoice, Picture, Font)  # what names a part of the work or of the machine
COLOURED = (Palette, Colour, RampStops)
KNOWN_MOST = 2048  # rules of which is remembered what can move


def steady(dial: Dial) -> bool:
    """Tell whether chance leaves a dial alone."""
    return isinstance(dial, NAMING) or (isinstance(dial, NumberDial) and dial.stays)


@dataclass(frozen=True)
class MotifChoice(Choice):
    """The kind of motif at the head of a chain."""


@dataclass(frozen=True)
class Scope:
    """Which part of a design may move: all of it, a layer with what is in it, a rule, or a chosen set of addresses."""

    layer: str = ""
    rule: str = ""
    chosen: frozenset[Address] = frozenset()

    def covers(self, design: Design, address: Address) -> bool:
        """Tell whether an address is in it; a dial chosen covers its parts."""
        if self.chosen:
            return address in self.chosen or replace(address, end="") in self.chosen
        if self.rule:
            return address.rule == self.rule
        return not self.layer or self.layer in {one.id for one in design.tree.around(address.layer)}


WHOLE = Scope()


@dataclass(frozen=True)
class Movable:
    """One thing that can move.

    Attributes
    ----------
    address : Address
        Of a named dial its id alone, as the dial.
    dial : Dial
        Its declaration: natural scale and range.
    value
        As it stands.
    rule : str
        The name of its rule, or of the named dial.
    held : str
        Why it may not move: what locks it; nothing when it is free.
    key : str
        The same for the same place in any design: the address in handles.
    weight : float
        How often it is chosen, against others.
    beside : tuple of str
        Other dials of its rule that are equal to it and move with it.
    """

    address: Address
    dial: Dial
    value: Any
    rule: str
    held: str
    key: str
    weight: float = 1.0
    beside: tuple[str, ...] = ()

    @property
    def label(self) -> str:
        """The name of its dial, of an end of one that varies with the end."""
        end = self.address.end
        return f"{self.dial.label}, {end}" if end in ("start", "end") else self.dial.label

    @property
    def is_colour(self) -> bool:
        """Whether it is a colour or several."""
        return isinstance(self.dial, COLOURED)

    @property
    def is_choice(self) -> bool:
        """Whether it goes from one word to another."""
        return isinstance(self.dial, Choice) and not self.address.end

    def put(self, design: Design, value: Any) -> Design:
        """Return the design with another value here.

        Raises
        ------
        InputError
        """
        if not self.address.layer:
            return set_named(design, self.address.dial, value)
        if isinstance(self.dial, MotifChoice):
            chain = design.chain(self.address.layer)
            return exchange_motif(design, chain.id, motif_of_size(KINDS[value], chain))
        if self.address.end in ("taken", "midway", "points"):
            number = edited(getattr(self.address.found(design)[1], self.address.dial), **{self.address.end: value})
            return set_dial(design, self.address.layer, self.address.rule, self.address.dial, number)
        for name in (self.address.dial, *self.beside):
            design = turned(design, replace(self.address, dial=name), value, derived_values)
        return design


@dataclass(frozen=True)
class Movables:
    """What can move in one design, found once."""

    design: Design
    scope: Scope = WHOLE

    @cached_property
    def all(self) -> tuple[Movable, ...]:
        """All of it, locked or free, in the order of the layers."""
        return tuple(self._found())

    @cached_property
    def free(self) -> tuple[Movable, ...]:
        """What no lock holds."""
        return tuple(one for one in self.all if not one.held)

    def _found(self) -> Iterator[Movable]:
        design, seen = self.design, set()
        shown = needed(design)
        for layer in design.all_layers():
            if layer.id not in shown:
                continue
            above = next((f"{one.noun} {one.name} is locked" for one in design.tree.around(layer.id) if one.locked), "")
            for rule in layer.every_rule:
                if rule.on or rule.family == "motif":
                    seen |= {to for _, to in rule.ties if self._in_rule(layer, rule)}
                    own = _of_rule(layer.id, layer.handle, _Itself(rule), above)
                    yield from (one for one in own if self.scope.covers(design, one.address))
        for dial in design.dials:
            if dial.id in seen or Address("", "", dial.id) in self.scope.chosen:
                yield self._of_named(dial)

    def _in_rule(self, layer: AnyLayer, rule: Rule) -> bool:
        """Whether any place of a rule that follows a named dial is in the scope."""
        return any(self.scope.covers(self.design, Address(layer.id, rule.id, *place.split("."))) for place, _ in rule.ties)

    def _of_named(self, one: NamedDial) -> Movable:
        following = [
            (layer, rule, place)
            for layer, rule in self.design.every_rule()
            for place, to in rule.ties
            if to == one.id and place.split(".")[0] in rule.dials()
        ]
        locked = [
            layer.name
            for layer, rule, place in following
            if rule.holds(place.split(".")[0]) or any(a.locked for a in self.design.tree.around(layer.id))
        ]
        held = f"a number of {locked[0]} that follows it is locked" if locked else ""
        own = [rule.dials()[place.split(".")[0]] for _, rule, place in following]
        numbers = [dial for dial in own if isinstance(dial, NumberDial)]
        dial: Dial = MEASURES[one.measure](one.name, "A number of the work that dials share.")
        if numbers:
            dial = replace(numbers[0], label=one.name, least=max(n.least for n in numbers), most=min(n.most for n in numbers))
        return Movable(Address("", "", one.id), dial, one.value, "Named dial", held, f"dials.{one.handle}", 3.0)


class _Itself:
    """A rule that is the same only if it is the very same object: rules never change."""

    def __init__(self, rule: Rule) -> None:
        self.rule = rule

    def __hash__(self) -> int:
        return id(self.rule)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Itself) and other.rule is self.rule


@lru_cache(maxsize=KNOWN_MOST)
def _of_rule(layer: str, handle: str, rule: _Itself, above: str) -> tuple[Movable, ...]:
    """What can move in a rule; most rules of a sibling are those of the work."""
    return tuple(_in(layer, handle, rule.rule, above))


def _in(layer: str, handle: str, rule: Rule, above: str) -> Iterator[Movable]:
    """What can move in a rule of a layer of this id and handle; `above` says what locks it all."""
    if rule.family == "motif":
        yield from _of_motif(layer, handle, rule, above)
    deciding = {own.tied.field for own in rule.dials().values() if isinstance(own, NumberDial) and own.tied is not None}
    for name, dial in rule.dials().items():
        value = getattr(rule, name)
        tied = getattr(dial, "tied", None)
        follows = tied is not None and getattr(rule, tied.field) == tied.value
        if steady(dial) or rule.idle(name) or follows or _moves_with_another(rule, name, dial):
            continue
        beside = tuple(
            other
            for other, its in rule.dials().items()
            if isinstance(its, NumberDial) and its.beside == name and _moves_with_another(rule, other, its)
        )
        if beside and isinstance(dial, NumberDial):
            dial = replace(dial, label=getattr(rule.dials()[beside[0]], "both", ""))
        held = above or (f"{dial.label} is locked" if rule.holds(name) else "")
        weight = (3.0 if dial.main else 1.0) * (0.3 if rule.family == "end" else 1.0) * _telling(dial, value)
        weight *= 0.1 if name in deciding else 1.0  # alone it changes nothing, or far too much
        parts = parts_of(value, dial) if isinstance(value, Varied) and isinstance(dial, NumberDial) else {"": dial}
        for end, own in parts.items():
            place = f"{name}.{end}" if end else name
            if not tie_of(rule, place):
                address = Address(layer, rule.id, name, end)
                here = getattr(value, end) if end else value
                key = f"{handle}.{rule.handle}.{place}"
                yield Movable(address, own, here, rule.shown_name(), held, key, weight / len(parts), beside)


def _of_motif(layer: str, handle: str, motif: Rule, above: str) -> Iterator[Movable]:
    """The motif itself, where it is one of those that are drawn from numbers alone."""
    if motif.kind in plain_motifs():
        dial = MotifChoice("Motif", "The shape that is repeated.", options=plain_motifs())
        held = above or ("a number of the motif is locked" if motif.locked else "")
        yield Movable(Address(layer, motif.id, MOTIF), dial, motif.kind, "Motif", held, f"{handle}.{motif.handle}.{MOTIF}", 1.5)


def _telling(dial: Dial, value: Any) -> float:
    """How much moving a dial tells, against others: what is whole and stays nearly so tells little."""
    if isinstance(dial, Ratio) and dial.bounded and value == dial.most:
        return 0.02
    return 0.3 if isinstance(dial, Choice) and not dial.main else 1.0


def _moves_with_another(rule: Rule, name: str, dial: Dial) -> bool:
    """Whether a number is equal to the one it usually equals; a lock or a tie of either parts them."""
    if not isinstance(dial, NumberDial) or not dial.beside or getattr(rule, name) != getattr(rule, dial.beside):
        return False
    places = {place.split(".")[0] for place, _ in rule.ties}
    return rule.holds(name) == rule.holds(dial.beside) and not places & {name, dial.beside}


@cache
def plain_motifs() -> tuple[str, ...]:
    """Return the kinds of motif that are drawn from numbers and choices alone."""
    return tuple(kind for kind, rule in KINDS.items() if rule.family == "motif" and _is_plain(rule))


def _is_plain(rule: type[Rule]) -> bool:
    dials = rule.dials()
    if rule.tiles or not MEASURED & dials.keys() or not all(isinstance(dial, (NumberDial, Choice)) for dial in dials.values()):
        return False
    try:
        return rule.model_validate({"kind": rule.model_fields["kind"].default}).own_body() is not None
    except LatticeError:
        return False
