"""Addresses: one name for every number of a work, the same on the command line, in ties and wherever a number is meant.

As text an address is made of handles: ``floor.lattice.gap``, ``floor.lattice.gap.end`` for one end of a number that varies, and
``walls.layer.opacity`` for the end of a layer or group.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any, TypeVar

from under_lattice.core.errors import InputError
from under_lattice.declare.dials import Dial
from under_lattice.rules.base import Rule
from under_lattice.vary.parts import NAMED_PARTS
from under_lattice.work.layers import AnyLayer
from under_lattice.work.model import Design

Thing = TypeVar("Thing")


@dataclass(frozen=True)
class Address:
    """Where a number stands.

    Attributes
    ----------
    layer, rule : str
        Ids; the end of a layer is one of its rules.
    dial : str
    end : str
        A part of a number that varies: ``start`` or ``end``, its ``curve``, its ``seed``; or nothing.
    """

    layer: str
    rule: str
    dial: str
    end: str = ""

    def text(self, design: Design) -> str:
        """Return the address in handles.

        Raises
        ------
        InputError
            When what it names is gone.
        """
        layer, rule = self.found(design)
        return ".".join(filter(None, (layer.handle, rule.handle, self.dial, self.end)))

    def found(self, design: Design) -> tuple[AnyLayer, Rule]:
        """Return the layer and the rule it names.

        Raises
        ------
        InputError
        """
        layer = design.layer(self.layer)
        return layer, layer.rule(self.rule)

    def declared(self, design: Design) -> Dial:
        """Return the declaration of the dial it names.

        Raises
        ------
        InputError
        """
        return NAMED_PARTS.get(self.end, self.own_dial(self.found(design)[1]))

    def own_dial(self, rule: Rule) -> Dial:
        """Return the dial of the whole number it names.

        Raises
        ------
        InputError
            When the rule, since exchanged for another, has none of that name.
        """
        dials = rule.dials()
        if self.dial not in dials:
            raise InputError(f"{rule.shown_name()} has no “{self.dial}” any more")
        return dials[self.dial]

    def value(self, design: Design) -> Any:
        """Return what stands there.

        Raises
        ------
        InputError
        """
        rule = self.found(design)[1]
        self.own_dial(rule)
        value = getattr(rule, self.dial)
        return getattr(value, self.end) if self.end else value


def read_address(design: Design, text: str) -> Address:
    """Return the address a text means.

    Raises
    ------
    InputError
        Says which part is not there, and what is.
    """
    parts = text.strip().split(".")
    if len(parts) not in (3, 4) or not {*parts[3:]} <= {"start", "end", *NAMED_PARTS}:
        after = ", ".join(f".{name}" for name in ("start", "end", *NAMED_PARTS))
        raise InputError(f"“{text}” is not LAYER.RULE.NUMBER, for instance floor.lattice.gap, or with one of {after} behind it")
    layer = picked(((one.handle, one) for one in design.all_layers()), parts[0], "layer")
    rule = picked(((one.handle, one) for one in layer.every_rule), parts[1], f"rule of {layer.handle}")
    picked(rule.dials().items(), parts[2], f"number of {rule.handle}")
    return Address(layer.id, rule.id, parts[2], *parts[3:])


def picked(things: Iterable[tuple[str, Thing]], name: str, what: str) -> Thing:
    """Return the thing of that name.

    Raises
    ------
    InputError
        Says what there is.
    """
    there = dict(things)
    if name not in there:
        raise InputError(f"there is no {what} “{name}”; there is: {', '.join(there) or 'none'}")
    return there[name]
