"""Numbers that vary: from a start to an end, by a reading of a rule, along a curve."""

from __future__ import annotations

from typing import Annotated, Any, Literal, get_args

import numpy as np
from pydantic import BaseModel, ConfigDict, Discriminator, Field, Tag, field_validator

from under_lattice.core.affine import Array
from under_lattice.core.ask import Ask
from under_lattice.core.errors import InputError
from under_lattice.vary.formula import LENGTH_MOST, read_formula

Channel = Literal[
    "step", "row", "column", "diagonal", "distance", "direction", "x", "y", "ring", "parity", "facing", "noise", "chance"
]
Curve = Literal["straight", "smooth", "slow start", "slow end", "there and back"]
CHANNELS: tuple[str, ...] = get_args(Channel)
CURVES: tuple[str, ...] = get_args(Curve)
SENTENCES = {
    "step": "by step, first → last",
    "row": "by row, top → bottom",
    "column": "by column, left → right",
    "diagonal": "by diagonal, first → last",
    "distance": "with distance from the pivot",
    "direction": "by direction round the pivot",
    "x": "from left to right",
    "y": "from top to bottom",
    "ring": "by ring round the motif",
    "parity": "by turns, even and odd",
    "facing": "with the way each copy is turned",
    "noise": "in smooth waves of chance",
    "chance": "by chance between the two",
}


def curved(curve: str, u: Array) -> Array:
    """Return the curve's height 0..1 at `u` 0..1."""
    if curve == "smooth":
        return np.asarray(u * u * (3 - 2 * u))
    if curve == "slow start":
        return np.asarray(u * u)
    if curve == "slow end":
        return np.asarray(u * (2 - u))
    if curve == "there and back":
        return np.asarray(1 - np.abs(2 * u - 1))
    return u


class Varied(BaseModel):
    """From `start` to `end` by a channel of a rule, named by its hidden id so that it survives moving and renaming.

    `repeats` is how many times it runs from start to end over all copies. With a `formula` on the readings of that rule, `start`
    and `end` are what it gives for the first and the last step, and the channel has no say.
    """

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    rule: str
    channel: Channel
    start: float
    end: float
    curve: Curve = "straight"
    seed: int = 1
    repeats: float = Field(1.0, ge=1.0, le=1000.0)
    formula: str = Field("", max_length=LENGTH_MOST)

    @field_validator("formula")
    @classmethod
    def _readable(cls, text: str) -> str:
        try:
            return read_formula(text).text if text.strip() else ""
        except InputError as error:
            raise ValueError(error.message) from None

    def over(self, ask: Ask, points: Array | None) -> Array:
        """Return values (n, E) at own-place `points` (n, E, 2), or (n, 1) for the copies."""
        if self.formula:
            return self._by_formula(ask, points)
        u = ask.read(self.rule, self.channel, points, self.seed)
        if u is None:
            return np.full((1, 1), self.start)
        return self.start + (self.end - self.start) * curved(self.curve, self.run(u))

    def run(self, u: Array) -> Array:
        """Return readings 0..1 as often as it repeats; a whole last run ends at its end."""
        if self.repeats == 1.0:
            return u
        return np.asarray((u * self.repeats) % 1.0 + (u >= 1.0) * (self.repeats % 1.0 == 0))

    def _by_formula(self, ask: Ask, points: Array | None) -> Array:
        formula = read_formula(self.formula)
        known = {name: ask.raw(self.rule, name, points, self.seed) for name in formula.names if name != "pi"}
        if any(value is None for value in known.values()):
            return np.full((1, 1), self.start)
        values = formula.values({name: value for name, value in known.items() if value is not None})
        return values if values.ndim == 2 else np.full((1, 1), float(values))

    @property
    def rest(self) -> float:
        """The value at the start."""
        return self.start

    @property
    def largest(self) -> float:
        """The greater size of the two ends."""
        return max(abs(self.start), abs(self.end))

    def sentence(self) -> str:
        """Say what it varies by."""
        if self.formula:
            return f"= {self.formula}"
        return SENTENCES[self.channel]


def _tag(value: Any) -> str:
    return "varied" if isinstance(value, (dict, Varied)) else "constant"


Number = Annotated[Annotated[float, Tag("constant")] | Annotated[Varied, Tag("varied")], Discriminator(_tag)]
