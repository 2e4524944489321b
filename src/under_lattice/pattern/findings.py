"""What a rule finds while it places its copies: numbers that follow from a choice, words beside its dials, warnings."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from types import MappingProxyType
from typing import Any

from under_lattice.geometry.affine import Array

NOTHING: Mapping[str, Any] = MappingProxyType({})


@dataclass(frozen=True)
class Findings:
    """Found by one rule; a kind of rule that needs more of its own result extends it.

    Attributes
    ----------
    values : mapping of float
        Numbers that follow from a choice, by dial; lengths in the work's unit.
    said : mapping of str
        Words beside a dial, by dial.
    warnings : tuple of (str, rings)
        What needs attention, and outlines (k, 2) in the rule's place that show where.
    """

    values: Mapping[str, float] = field(default_factory=lambda: NOTHING)
    said: Mapping[str, str] = field(default_factory=lambda: NOTHING)
    warnings: tuple[tuple[str, tuple[Array, ...]], ...] = ()


NOTHING_FOUND = Findings()
