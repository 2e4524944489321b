"""A chain evaluated: its steps, what could not act in it, and where its places lie on the sheet."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from types import MappingProxyType

from under_lattice.geometry.affine import IDENTITY, Array, compose, inverse
from under_lattice.pattern.known import Known
from under_lattice.pattern.marks import Picture
from under_lattice.pattern.stage import Stage
from under_lattice.rules.base import Rule
from under_lattice.rules.ground import Standing
from under_lattice.vary.numbers import Varied
from under_lattice.work.layers import Chain

NONE: Mapping[str, Picture] = MappingProxyType({})


@dataclass(frozen=True)
class Problem:
    """Something that needs attention: a rule that could not act, or a number whose source is gone."""

    layer: str
    rule: str
    sentence: str


@dataclass(frozen=True, eq=False)
class Step:
    """The work after one rule of a chain: its copies and the inks so far."""

    rule: Rule
    stage: Stage | None
    inks: tuple[tuple[Rule, Standing], ...] = ()
    problem: str = ""

    @property
    def in_force(self) -> bool:
        """Whether its rule is on and could act."""
        return self.stage is not None and not self.problem and (self.rule.on or self.rule.family == "motif")

    @property
    def acted(self) -> bool:
        """Whether the copies are those its own rule made."""
        return self.stage is not None and not self.problem and self.stage.rule == self.rule.id


@dataclass(frozen=True, eq=False)
class ChainResult:
    """A chain evaluated: its steps, and what number sources are known."""

    chain: Chain
    steps: tuple[Step, ...]
    known: Known
    problems: tuple[Problem, ...] = ()
    others: Mapping[str, Picture] = field(default_factory=lambda: NONE)  # the layers and groups its rules read
    placed: Stage | None = None  # the copies in the end, where the layer or a group it is in is moved as a whole

    @property
    def counts(self) -> dict[str, int]:
        """How many copies there are after each repeat, by its id, a whole number."""
        return {step.rule.id: step.stage.n for step in self.steps if step.stage is not None and step.rule.family == "repeat"}

    @property
    def last(self) -> Step | None:
        """The last step that left copies, as they stand on the sheet in the end."""
        last = next((step for step in reversed(self.steps) if step.stage is not None), None)
        return last if last is None or self.placed is None else replace(last, stage=self.placed)


def keeps_its_own(chain: Chain) -> bool:
    """Whether the motif of a chain keeps its own colours, so that inks have no say."""
    return chain.rules[0].keeps_colours


def is_construction(chain: Chain) -> bool:
    """Whether a chain is a construction that never goes out."""
    return any(rule.on and rule.construction == frozenset() for rule in chain.rules)


def construction_parts(chain: Chain) -> frozenset[int]:
    """Return which parts of a chain, numbers from 1 on, are a construction that never goes out."""
    return frozenset[int]().union(*(rule.construction for rule in chain.rules if rule.on and rule.construction))


def place_on_sheet(result: ChainResult, stage: Stage) -> Array:
    """Return the map (2, 3) from the place of `stage` to the sheet, as the motif's own copy takes it."""
    last = result.last
    if last is None or last.stage is None or not last.stage.n:
        return IDENTITY
    whole = last.stage
    index, here = whole.origin, whole
    while here.xform is not stage.xform and here.above is not None:
        index, here = int(here.parent[index]), here.above
    return compose(whole.xform[whole.origin], inverse(here.xform[index]))


def nearest_repeat(chain: Chain, at: int) -> str:
    """Return the id of the nearest repeat above place `at`, a whole number, or else the nearest below it."""
    above = [r.id for r in chain.rules[:at] if r.on and r.family == "repeat"]
    below = [r.id for r in chain.rules[at + 1 :] if r.on and r.family == "repeat"]
    return above[-1] if above else (below[0] if below else "")


def gone_sources(chain: Chain, known: Known) -> tuple[Problem, ...]:
    """Return the numbers that vary by a rule that is off or gone."""
    names = {rule.id: rule.shown_name() for rule in chain.rules}
    out = []
    for rule in chain.rules:
        for name, dial in rule.dials().items():
            value = getattr(rule, name)
            if rule.on and isinstance(value, Varied) and value.rule not in known.rules and value.channel != "loop":
                whose = f"{names[value.rule]}, which is off" if value.rule in names else "a rule that is gone"
                out.append(Problem(chain.id, rule.id, f"{dial.label} varies by {whose}; it rests at its start"))
    return tuple(out)


def refused_on_tiles(chain: Chain, steps: list[Step]) -> tuple[Problem, ...]:
    """Return the rules that rest on the copies of others."""
    stages = {step.stage.rule: step.stage for step in steps if step.stage is not None}
    said = ((step.rule, step.rule.rests(stages, nearest_below(chain, step.rule))) for step in steps if step.rule.on)
    return tuple(Problem(chain.id, rule.id, sentence) for rule, sentence in said if sentence)


def nearest_below(chain: Chain, rule: Rule) -> str:
    """Return the id of the nearest repeat below `rule`."""
    at = chain.rules.index(rule)
    return next((r.id for r in chain.rules[at + 1 :] if r.on and r.family == "repeat"), "")
