"""A new rule with numbers that suit the work it is put into, named starts of a rule, what its numbers may vary by."""

from __future__ import annotations

import numpy as np

from under_lattice.core.errors import LatticeError
from under_lattice.declare.dials import Count
from under_lattice.declare.frozen import edited
from under_lattice.geometry.outline import is_straight_polygon
from under_lattice.rules.base import Rule
from under_lattice.rules.surroundings import Start, Surroundings
from under_lattice.work.edits import with_rule
from under_lattice.work.layers import AnyLayer, Chain
from under_lattice.work.model import Design, Sheet

UNKNOWN_SIZE = 9  # so many motifs of unknown size go across the sheet


def surroundings(chain: Chain, sheet: Sheet, source: str = "") -> Surroundings:
    """Return what a rule put into a chain may know of it."""
    motif, corners, size = chain.rules[0], None, min(sheet.width, sheet.height) / UNKNOWN_SIZE
    try:
        outline = motif.own_body()
    except LatticeError:  # without its shape the motif says nothing
        outline = None
    if outline is not None:
        low, top, right, bottom = outline.box()
        size = max(right - low, bottom - top, 1e-3)
        corners = outline.points if is_straight_polygon(outline.verbs) else None
        size = float(np.ptp(corners, 0).max()) if corners is not None else size
    spread = any(rule.family == "repeat" and rule.on for rule in chain.rules)
    return Surroundings(corners, size, sheet.width, sheet.height, spread, motif.tiles, source)


def place_for(kind: type[Rule], layer: AnyLayer, after: str) -> str:
    """Return the rule after which a new one of a kind stands best: what makes no repetition goes above finishes.

    It does the same there, and does not cut them off from the copies they take together.
    """
    if kind.family in ("finish", "repeat"):
        return after
    rules = layer.own_rules
    at = next((k for k, rule in enumerate(rules) if rule.id == after), -1)
    while at > 0 and rules[at].family == "finish":
        at -= 1
    return rules[at].id if at >= 0 else after


def suggested(kind: type[Rule], layer: AnyLayer, sheet: Sheet) -> Rule:
    """Return a rule of a kind, its lengths in proportion to the motif and its form as the motif suggests."""
    chain = next(iter(layer.chains()), None)
    around = Surroundings(None, 1.0, sheet.width, sheet.height, veil=layer.veils) if chain is None else surroundings(chain, sheet)
    fresh, changes = _fresh(kind), kind.suggested(around)
    return edited(fresh, **changes) if changes else fresh


def with_count(rule: Rule, number: float | None) -> Rule:
    """Return a rule with the first of its counts that has an effect at a number that was asked for, within its range."""
    if number is None:
        return rule
    idle = rule.idle_dials()
    counts = [(name, dial) for name, dial in rule.dials().items() if type(dial) is Count and name not in idle]
    if not counts:
        return rule
    name, dial = counts[0]
    return edited(rule, **{name: int(dial.held(round(number)))})


def starts_of(rule: Rule, chain: Chain, sheet: Sheet) -> tuple[Start, ...]:
    """Return the named starts of a rule where it stands; nothing for a kind that has none."""
    sources = sources_of(chain, rule, "")
    return rule.starts(surroundings(chain, sheet, sources[-1].id if sources else ""))


def begun(design: Design, layer: str, rule_id: str, start: Start) -> Design:
    """Return the design with a rule at a start; its id, handle, name and ties to nothing else stay.

    Raises
    ------
    InputError
    """

    def afresh(rule: Rule) -> Rule:
        return edited(_fresh(type(rule)), id=rule.id, handle=rule.handle, name=rule.name, on=rule.on, **start.changes)

    return with_rule(design, layer, rule_id, afresh)


def sources_of(layer: AnyLayer, rule: Rule, name: str) -> list[Rule]:
    """Return the repeats a number may vary by: all for shapes and ink, only those above for what makes copies.

    The rule itself comes last where its own steps may differ.
    """
    rules = layer.own_rules
    at = next((k for k, one in enumerate(rules) if one.id == rule.id), len(rules))
    among = rules[:at] if rule.family in ("repeat", "copies") else rules
    found = [one for one in among if one.family == "repeat" and one.id != rule.id]
    return [*found, rule] if name in rule.own_steps else found


def motif_of_size(kind: type[Rule], chain: Chain) -> Rule:
    """Return a motif of a kind, as wide as the present motif of the chain."""
    fresh = _fresh(kind)
    bodies = chain.rules[0].own_body(), fresh.own_body()
    measures = [name for name in ("width", "size", "length") if name in kind.dials() and kind.dials()[name].kind == "length"]
    if not measures or bodies[0] is None or bodies[1] is None:
        return fresh
    wide, dial = [box[2] - box[0] for box in (bodies[0].box(), bodies[1].box())], measures[0]
    return edited(fresh, **{dial: max(round(getattr(fresh, dial) * wide[0] / max(wide[1], 1e-9), 2), 0.001)})


def _fresh(kind: type[Rule]) -> Rule:
    return kind.model_validate({"kind": kind.model_fields["kind"].default})
