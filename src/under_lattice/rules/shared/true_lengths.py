"""Lengths of shape rules that stand below a repeat: those of the copies as they lie, whatever size each was given."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from under_lattice.declare.dials import Length
from under_lattice.geometry.affine import Array
from under_lattice.pattern.ask import Ask, Number, Varying, largest, rest
from under_lattice.pattern.stage import Stage
from under_lattice.rules.base import ShapeRule
from under_lattice.rules.shapes.push_edges import PushEdges

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
        """Its start, for the first copy."""
        return rest(self.number) / float(self.sizes[0])

    @property
    def largest(self) -> float:
        """Greatest size it takes, on the smallest copy."""
        return largest(self.number) / float(self.sizes.min())


def in_true_lengths(rule: ShapeRule, above: Stage) -> ShapeRule:
    """Return a shape rule whose lengths are those of the copies it stands below; the same rule where these have their own size.

    Lengths that cannot vary follow where all copies have one size. Push edges tells lengths in the place of its tiles by itself.
    """
    x = above.xform
    sizes = np.sqrt(np.abs(x[:, 0, 0] * x[:, 1, 1] - x[:, 0, 1] * x[:, 1, 0]))
    if isinstance(rule, PushEdges) or not len(sizes) or np.abs(sizes - 1).max() < SAME or sizes.min() < SAME:
        return rule
    changes: dict[str, Any] = {}
    for name, dial in rule.dials().items():
        if not isinstance(dial, Length):
            continue
        if dial.vary:
            changes[name] = AsItLies(getattr(rule, name), above.rule, sizes)
        elif np.ptp(sizes) < SAME:
            changes[name] = getattr(rule, name) / float(sizes[0])
    return rule.model_copy(update=changes) if changes else rule
