"""Lengths of shape rules that stand below a repeat: those of the copies as they lie, whatever size each was given."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from under_lattice.declare.dials import Dial, Length
from under_lattice.geometry.affine import Array
from under_lattice.pattern.ask import Ask, Number, Varying, largest, rest
from under_lattice.pattern.stage import Stage

SAME = 1e-9


@dataclass(frozen=True, eq=False)
class AsItLies:
    """A length in the place of a rule, asked in the own place of each of its copies.

    Attributes
    ----------
    number : number
    rule : str
        Id of the rule whose copies lie there.
    sizes : (n,)
        How large each copy is of its own shape.
    """

    number: Number
    rule: str
    sizes: Array

    def over(self, ask: Ask, points: Array | None) -> Array:
        """Return values (n, E) in the own place."""
        value = self.number.over(ask, points) if isinstance(self.number, Varying) else np.full((1, 1), float(self.number))
        if ask.stage(self.rule) is None:
            return np.asarray(value / self.sizes[0])
        return np.asarray(value / self.sizes[ask.ancestors(self.rule)][:, None])

    @property
    def rest(self) -> float:
        """Its start, for the first copy, in the unit of the number."""
        return rest(self.number) / float(self.sizes[0])

    @property
    def largest(self) -> float:
        """Greatest size it takes, on the smallest copy, in the unit of the number."""
        return largest(self.number) / float(self.sizes.min())


def true_lengths(values: Mapping[str, tuple[Dial, Any]], above: Stage) -> dict[str, Any]:
    """Return the lengths among a rule's `values`, dials by name, that the copies it stands below change; none of their own size.

    Lengths that cannot vary follow where all copies have one size.
    """
    x = above.xform
    sizes = np.sqrt(np.abs(x[:, 0, 0] * x[:, 1, 1] - x[:, 0, 1] * x[:, 1, 0]))
    if not len(sizes) or np.abs(sizes - 1).max() < SAME or sizes.min() < SAME:
        return {}
    changes: dict[str, Any] = {}
    for name, (dial, value) in values.items():
        if not isinstance(dial, Length):
            continue
        if dial.vary:
            changes[name] = AsItLies(value, above.rule, sizes)
        elif np.ptp(sizes) < SAME:
            changes[name] = value / float(sizes[0])
    return changes
