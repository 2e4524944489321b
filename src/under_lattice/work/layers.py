"""The tree of layers: chains, groups and veils on one base, with one kind of end.

Who asks a layer asks the base: what rules it has, what members, what it is called. Only this room, the evaluator and the scene know
which kinds there are.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import cached_property
from typing import Annotated, Any, ClassVar, Literal, Self

from pydantic import BeforeValidator, Discriminator, Field, SerializeAsAny, Tag, field_validator, model_validator

from under_lattice.core.errors import InputError
from under_lattice.core.plain import Name
from under_lattice.declare.frozen import Frozen, edited
from under_lattice.rules import KINDS
from under_lattice.rules.base import Rule
from under_lattice.rules.end import EndRule
from under_lattice.rules.unknown import SHARED_FIELDS, UnknownRule


def read_rule(value: Any) -> Any:
    """Return a rule of its kind from plain data; one of an unknown kind is kept as it is."""
    if not isinstance(value, dict):
        return value
    kind = value.get("kind")
    if isinstance(kind, str) and kind in KINDS:
        return KINDS[kind].model_validate(value)
    if not isinstance(kind, str):
        raise ValueError("a rule needs a kind")
    return UnknownRule(kind=kind, settings=value, **{name: value[name] for name in SHARED_FIELDS if name in value})


def read_end(value: Any) -> Any:
    """Return the end of a layer from plain data."""
    return KINDS[END].model_validate(value) if isinstance(value, dict) else value


GROUPS_DEEP_MOST = 40
END = "layer"  # the kind of the fixed end
AnyEnd = Annotated[SerializeAsAny[EndRule], BeforeValidator(read_end)]
AnyRule = Annotated[SerializeAsAny[Rule], BeforeValidator(read_rule)]


class Layer(Frozen):
    """What all layers share.

    Attributes
    ----------
    id : str
        Hidden, made once.
    handle : str
        Unique in the work; used on the command line.
    name : str
    end : EndRule
        How it lies over what is beneath; its number may vary, follow a named dial and be set like any other.
    hidden, locked, source_only : bool
        A locked layer changes in nothing but whether it is seen; one that is a source only is used by others and not painted.
    """

    noun: ClassVar[str] = "layer"
    ruled: ClassVar[bool] = False  # it may have rules of its own
    veils: ClassVar[bool] = False  # it has no shapes, and changes what lies beneath

    kind: str
    id: str
    handle: str
    name: Name
    end: AnyEnd = read_end({})
    hidden: bool = False
    locked: bool = False
    source_only: bool = False

    @model_validator(mode="after")
    def _end_has_an_id(self) -> Self:
        if not self.end.id:
            object.__setattr__(self, "end", self.end.model_copy(update={"id": f"{self.id}-layer"}))
        return self

    @property
    def own_rules(self) -> tuple[Rule, ...]:
        """The rules of the layer itself, without its end."""
        return ()

    @property
    def members(self) -> tuple[AnyLayer, ...]:
        """The layers in it, front first."""
        return ()

    @cached_property
    def reads(self) -> frozenset[str]:
        """The ids of the layers and groups that its rules, or its end, read."""
        return frozenset(one for rule in self.every_rule for one in rule.layers())

    @cached_property
    def every_rule(self) -> tuple[Rule, ...]:
        """Its rules and its end."""
        return (*self.own_rules, self.end)

    def walk(self) -> Iterator[AnyLayer]:
        """Yield the layer and all that are in it, front to back, a group before its members."""
        yield self  # type: ignore[misc]
        for member in self.members:
            yield from member.walk()

    def chains(self) -> tuple[Chain, ...]:
        """Return the chains in it, front first: itself, or those of a group."""
        return tuple(chain for member in self.members for chain in member.chains())

    def rule(self, rule_id: str) -> Rule:
        """Return one of its rules, or its end.

        Raises
        ------
        InputError
        """
        for rule in self.every_rule:
            if rule.id == rule_id:
                return rule
        raise InputError("this rule is gone")

    def with_members(self, members: tuple[AnyLayer, ...]) -> Self:
        """Return the layer with other members; one that has none stays as it is."""
        return self

    def with_rules(self, rules: tuple[Rule, ...]) -> Self:
        """Return the layer with other rules.

        Raises
        ------
        InputError
            When it is of a kind that has none.
        """
        raise InputError(f"the {self.noun} {self.name} has no rules of its own")

    def with_rule(self, rule_id: str, change: Callable[[Rule], Rule]) -> Self:
        """Return the layer with one of its rules, or its end, changed.

        Raises
        ------
        InputError
        """
        if rule_id == self.end.id:
            return edited(self, end=change(self.end))
        self.rule(rule_id)
        return self.with_rules(tuple(change(rule) if rule.id == rule_id else rule for rule in self.own_rules))

    def with_each_rule(self, change: Callable[[Rule], Rule]) -> Self:
        """Return the layer and all that is in it with each rule and end changed."""
        made = edited(self, end=change(self.end))
        if self.own_rules:
            made = made.with_rules(tuple(map(change, self.own_rules)))
        return made.with_members(tuple(member.with_each_rule(change) for member in self.members))


class Chain(Layer):
    """A layer that is a chain: a motif, then rules, then the fixed end."""

    ruled: ClassVar[bool] = True

    kind: Literal["chain"] = "chain"
    rules: tuple[AnyRule, ...]

    @field_validator("rules")
    @classmethod
    def _motif_first(cls, rules: tuple[Rule, ...]) -> tuple[Rule, ...]:
        known = [rule for rule in rules if not isinstance(rule, UnknownRule)]
        if not rules or (known and rules[0] is known[0] and rules[0].family != "motif"):
            raise ValueError("a chain begins with a motif")
        if any(rule.family == "motif" for rule in rules[1:]):
            raise ValueError("a chain has one motif")
        return rules

    @property
    def own_rules(self) -> tuple[Rule, ...]:
        """The motif and the rules below it."""
        return self.rules

    def chains(self) -> tuple[Chain, ...]:
        """Return itself."""
        return (self,)

    def with_rules(self, rules: tuple[Rule, ...]) -> Self:
        """Return the chain with other rules."""
        return edited(self, rules=rules)


class Group(Layer):
    """Layers taken together."""

    noun: ClassVar[str] = "group"

    kind: Literal["group"] = "group"
    end: AnyEnd = read_end({"isolated": "yes"})
    layers: tuple[AnyLayer, ...] = ()

    @model_validator(mode="after")
    def _not_too_deep(self) -> Self:
        if self.deep > GROUPS_DEEP_MOST:
            raise ValueError(f"groups may lie in each other {GROUPS_DEEP_MOST} deep")
        return self

    @cached_property
    def deep(self) -> int:
        """How many groups lie in each other, itself included."""
        return 1 + max((one.deep for one in self.layers if isinstance(one, Group)), default=0)

    @property
    def members(self) -> tuple[AnyLayer, ...]:
        """The layers in it, front first."""
        return self.layers

    def with_members(self, members: tuple[AnyLayer, ...]) -> Self:
        """Return the group with other members; the same object where they are the same."""
        same = len(members) == len(self.layers) and all(a is b for a, b in zip(members, self.layers, strict=True))
        return self if same else edited(self, layers=members)


class Veil(Layer):
    """Finishes over everything beneath in its group, or on the sheet."""

    noun: ClassVar[str] = "veil"
    ruled: ClassVar[bool] = True
    veils: ClassVar[bool] = True

    kind: Literal["veil"] = "veil"
    rules: tuple[AnyRule, ...] = ()

    @property
    def own_rules(self) -> tuple[Rule, ...]:
        """Its rules."""
        return self.rules

    def with_rules(self, rules: tuple[Rule, ...]) -> Self:
        """Return the veil with other rules."""
        return edited(self, rules=rules)


def _kind(value: Any) -> str:
    return str(value.get("kind", "chain") if isinstance(value, dict) else getattr(value, "kind", "chain"))


AnyLayer = Annotated[
    Annotated[Chain, Tag("chain")] | Annotated[Group, Tag("group")] | Annotated[Veil, Tag("veil")],
    Discriminator(_kind),
    Field(title="Layer"),
]
Group.model_rebuild()
