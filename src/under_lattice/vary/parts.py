"""The parts of a number that varies, besides its two ends, as dials of their own: its curve, its chance, values in turn."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

from under_lattice.declare.dials import Choice, Dial, NumberDial, Seed
from under_lattice.declare.moving import Push, mixed_evenly
from under_lattice.vary.numbers import CURVES, Varied

DRAWN = "drawn"
CHANCY = frozenset({"chance", "noise"})  # readings that a seed changes
Points = tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class CurvePoints(Dial):
    """The points of a drawn curve, each 0..1 along and 0..1 high."""

    kind: ClassVar[str] = "curve-points"

    def moved(self, value: Points, push: Push) -> Points:
        """Return the curve bent: each point higher or lower."""
        bent = [min(max(y + push.by(f"height {k}") / 4, 0.0), 1.0) for k, (_, y) in enumerate(value)]
        return tuple((x, round(y, 3)) for (x, _), y in zip(value, bent, strict=True))

    def mixed(self, one: Points, other: Points, share: float) -> Points:
        """Return the curve `share` (0..1) of the way between two of as many points; else the nearer."""
        if len(one) != len(other):
            nearer: Points = super().mixed(one, other, share)
            return nearer
        return tuple((mixed_evenly(a, c, share), mixed_evenly(b, d, share)) for (a, b), (c, d) in zip(one, other, strict=True))


@dataclass(frozen=True)
class Several(Dial):
    """Several values of one number, moved together."""

    kind: ClassVar[str] = "several"
    of: NumberDial | None = None

    def moved(self, value: tuple[float, ...], push: Push) -> tuple[float, ...]:
        """Return the values, each moved by the same draw."""
        assert self.of is not None
        return tuple(self.of.moved(one, push) for one in value)

    def mixed(self, one: tuple[float, ...], other: tuple[float, ...], share: float) -> tuple[float, ...]:
        """Return the values `share` (0..1) of the way between as many others; else the nearer."""
        if len(one) != len(other) or self.of is None:
            nearer: tuple[float, ...] = super().mixed(one, other, share)
            return nearer
        return tuple(self.of.mixed(a, b, share) for a, b in zip(one, other, strict=True))


CURVE = Choice("Curve", "How it goes from its start to its end.", options=tuple(one for one in CURVES if one != DRAWN))
SEED = Seed("Chance", "The seed of chance it varies by.")
POINTS = CurvePoints("Curve", "The points of its drawn curve.")
NAMED_PARTS: dict[str, Dial] = {"curve": CURVE, "seed": SEED}  # those that an address names


def parts_of(value: Varied, dial: NumberDial) -> dict[str, Dial]:
    """Return the parts of a number that varies which have a say, by their names, its ends among them."""
    if value.formula:
        return {}
    found: dict[str, Dial] = {"taken": Several(dial.label, dial.words, of=dial)} if value.taken else {"start": dial, "end": dial}
    if value.midway is not None:
        found["midway"] = Several(dial.label, dial.words, of=dial)
    if not value.taken:
        found |= {"points": POINTS} if value.curve == DRAWN and value.points else {"curve": CURVE}
    return found | ({"seed": SEED} if value.channel in CHANCY else {})
