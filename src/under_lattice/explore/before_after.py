"""What a dial does, by example: the work as it is, and with that dial turned a good way."""

from __future__ import annotations

from typing import NamedTuple

from under_lattice.core.errors import LatticeError
from under_lattice.explore.strips import suggested_axis
from under_lattice.work.address import Address
from under_lattice.work.model import Design


class Turned(NamedTuple):
    """A design with a dial turned, and the dial's value before (nothing where that is none of its steps) and after in words."""

    design: Design
    before: str
    after: str


def turned_far(design: Design, address: Address) -> Turned | None:
    """Return the work with a dial at the last step of the test strip it is given to begin with, or the first one that is allowed.

    None of a dial that cannot be stepped, as a palette or a text.
    """
    try:
        axis = suggested_axis(design, address)
        now = axis.now(design)
    except LatticeError:
        return None
    before = axis.steps[now].words if now is not None else ""
    last = len(axis.steps) - 1
    for at in dict.fromkeys((last, 0, *range(last))):
        if at == now:
            continue
        try:
            return Turned(axis.put(design, at), before, axis.steps[at].words)
        except LatticeError:
            continue
    return None
