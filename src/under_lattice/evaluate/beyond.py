"""Patterns that go on beyond the sheet, for shapes that are filled with them: which do, and how far one may go."""

from __future__ import annotations

from collections.abc import Iterable

from under_lattice.declare.frozen import edited
from under_lattice.evaluate.result import ChainResult
from under_lattice.vary.numbers import Varied
from under_lattice.work.layers import Chain
from under_lattice.work.model import Sheet

COPIES_MOST = 60_000  # of all layers of a pattern together
FARTHEST = 12.0  # times the size of the sheet
ANYWHERE = ("loop", "chance", "noise")  # readings that stay what they are where there are more copies


def goes_on(chains: Iterable[Chain]) -> bool:
    """Tell whether a pattern is only continued on a larger sheet: nothing in it runs from its first copy to its last."""
    numbers = (getattr(rule, name) for chain in chains for rule in chain.rules if rule.on for name in rule.dials())
    return not any(isinstance(value, Varied) and (value.formula or value.channel not in ANYWHERE) for value in numbers)


def larger(sheet: Sheet, by: float, results: Iterable[ChainResult]) -> Sheet:
    """Return a sheet as many times as large as wanted, or as its copies allow; the same where there would be too many."""
    copies = sum(result.last.stage.n for result in results if result.last is not None and result.last.stage is not None)
    by = min(by, FARTHEST, (COPIES_MOST / max(copies, 1)) ** 0.5)
    return edited(sheet, width=sheet.width * by, height=sheet.height * by) if by > 1 else sheet
