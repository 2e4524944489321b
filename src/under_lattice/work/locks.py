"""Locks: what variations by chance leave alone; whole rules, all but one, none."""

from __future__ import annotations

from under_lattice.declare.frozen import edited
from under_lattice.rules.base import EVERY
from under_lattice.work.edits import with_rule
from under_lattice.work.model import Design


def lock_rule(design: Design, layer: str, rule: str, locked: bool) -> Design:
    """Return the design with a whole rule locked, or with nothing of it locked.

    Raises
    ------
    InputError
        When its layer is locked.
    """
    return with_rule(design, layer, rule, lambda one: edited(one, locked=(EVERY,) if locked else ()))


def lock_all_but(design: Design, rule: str, dial: str = "") -> Design:
    """Return the design with every rule locked but one, or every dial but one of its dials; locked layers stay as they are."""
    for layer, one in design.every_rule():
        if any(above.locked for above in design.tree.around(layer.id)):
            continue
        own = tuple(name for name in one.dials() if name != dial) if dial else ()
        locked = own if one.id == rule else (EVERY,)
        if one.locked != locked:
            design = with_rule(design, layer.id, one.id, lambda it, locked=locked: edited(it, locked=locked))  # type: ignore[misc]
    return design


def unlock_all(design: Design) -> Design:
    """Return the design without locks of dials and rules; the same object where there are none. Locked layers stay as they are."""
    for layer, one in design.every_rule():
        if one.locked and not any(above.locked for above in design.tree.around(layer.id)):
            design = with_rule(design, layer.id, one.id, lambda it: edited(it, locked=()))
    return design
