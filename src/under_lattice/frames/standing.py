"""Which outermost layers of a work stand still over the loop: none of their rules is moved, reads the time, or reads what does."""

from __future__ import annotations

from under_lattice.rules.base import Rule
from under_lattice.vary.formula import read_formula
from under_lattice.vary.numbers import Varied
from under_lattice.work.layers import AnyLayer
from under_lattice.work.model import Design
from under_lattice.work.reading import all_read

TIMES = frozenset({"t", "s"})


def reads_time(rule: Rule) -> bool:
    """Tell whether a number of a rule runs over the loop of itself."""
    return any(isinstance(value, Varied) and _runs(value) for value in (getattr(rule, name) for name in rule.dials()))


def _runs(number: Varied) -> bool:
    if number.formula:
        return bool(TIMES & read_formula(number.formula, frozenset(name for name, _ in number.named)).names)
    second = number.second is not None and number.second.channel == "loop"
    return number.channel == "loop" or second or number.midway is not None


def moved_layers(design: Design) -> set[str]:
    """Return the ids of the layers in which something moves: by a motion, by a number of theirs, or by what they read."""
    dials = {place.dial for motion in design.motions if motion.on for place in motion.places if not place.layer}
    handles = {one.handle for one in design.dials if one.id in dials}
    own = {place.layer for motion in design.motions if motion.on for place in motion.places if place.layer}
    for layer, rule in design.every_rule():
        if layer.id not in own and (reads_time(rule) or _follows(rule, dials, handles)):
            own.add(layer.id)
    return {layer.id for layer in design.all_layers() if own & ({one.id for one in layer.walk()} | all_read(design, layer.id))}


def _follows(rule: Rule, dials: set[str], handles: set[str]) -> bool:
    """Whether a rule follows a named dial that moves, in a dial or in a formula."""
    if not dials:
        return False
    numbers = [value for value in (getattr(rule, name) for name in rule.dials()) if isinstance(value, Varied)]
    return any(to in dials for _, to in rule.ties) or any(name in handles for number in numbers for name, _ in number.named)


def standing(design: Design) -> tuple[list[AnyLayer], list[AnyLayer], list[AnyLayer]]:
    """Return the outermost layers that are seen, front first, in three: those that stand still in front, those that move with all
    that stands between them, and those that stand still at the back.

    A veil changes what lies beneath it: in front of what moves it moves too, and then all beneath it is painted anew.
    """
    seen = [layer for layer in design.layers if not layer.hidden and not layer.source_only]
    moved = moved_layers(design)
    moves = [layer.id in moved for layer in seen]
    if not any(moves):
        return [], [], seen
    first = moves.index(True)
    last = len(seen) - 1 - moves[::-1].index(True)
    veils = [k for k, layer in enumerate(seen[: last + 1]) if layer.veils]
    if veils:
        first, last = min(first, veils[0]), len(seen) - 1
    return seen[:first], seen[first : last + 1], seen[last + 1 :]
