"""Numbers that vary: from a start to an end, by a reading of a rule, along a curve."""

from __future__ import annotations

from typing import Annotated, Any, Literal, Self, get_args

import numpy as np
from pydantic import BaseModel, ConfigDict, Discriminator, Field, Tag, ValidationInfo, field_validator, model_validator

from under_lattice.core.errors import InputError
from under_lattice.geometry.affine import Array
from under_lattice.pattern.ask import Ask
from under_lattice.vary.bounds import bounds, readings_of
from under_lattice.vary.formula import LENGTH_MOST, read_formula
from under_lattice.vary.walk import ONE_COPY, Walk

Channel = Literal[
    "step", "row", "column", "diagonal", "distance", "direction", "x", "y", "ring", "parity", "facing", "noise", "chance",
    "picture", "part", "loop",
]  # fmt: skip
Curve = Literal["straight", "smooth", "slow start", "slow end", "there and back", "drawn"]
Mix = Literal["product", "mean", "sum", "smaller", "larger"]
CHANNELS: tuple[str, ...] = get_args(Channel)
CURVES: tuple[str, ...] = get_args(Curve)
MIXES: tuple[str, ...] = get_args(Mix)
WHOLE = frozenset({"step", "row", "column", "diagonal", "ring", "parity"})  # readings one can count by
POINTS_MOST, TAKEN_MOST = 12, 60
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
    "picture": "by a picture, dark → light",
    "part": "by part of the shape, first → last",
    "loop": "over the loop, its beginning → its end",
}


def curved(curve: str, u: Array, points: tuple[tuple[float, float], ...] = ()) -> Array:
    """Return the curve's height 0..1 at `u` 0..1; a drawn one goes straight from point to point and is held past its ends."""
    if curve == "drawn" and points:
        x, y = np.array(points).T
        return np.asarray(np.interp(u, x, y))
    if curve == "smooth":
        return np.asarray(u * u * (3 - 2 * u))
    if curve == "slow start":
        return np.asarray(u * u)
    if curve == "slow end":
        return np.asarray(u * (2 - u))
    if curve == "there and back":
        return np.asarray(1 - np.abs(2 * u - 1))
    return u


def mixed(how: str, u: Array, v: Array) -> Array:
    """Return two readings 0..1 taken together, 0..1."""
    if how == "mean":
        return np.asarray((u + v) / 2)
    if how == "sum":
        return np.minimum(u + v, 1.0)
    return np.asarray({"product": np.multiply, "smaller": np.minimum, "larger": np.maximum}[how](u, v))


class Second(BaseModel):
    """A second reading, taken together with the first before the curve."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    rule: str
    channel: Channel
    how: Mix = "product"
    seed: int = 1
    picture: str = ""

    def read(self, ask: Ask, points: Array | None) -> Array | None:
        """Return its readings 0..1, (n, E) or what is broadcast to that; None if its rule is gone."""
        return ask.read(self.rule, self.channel, points, self.seed, self.picture)


class Varied(BaseModel):
    """From `start` to `end` by a channel of a rule, named by its hidden id so that it survives moving and renaming.

    `repeats` is how many times it runs from start to end over all copies; `points` are those of a drawn curve. A `second` reading
    may be taken together with the first. Values `taken` in turn stand instead of the run; `start` and `end` are then the first and
    the last of them. With a `formula` on the readings of that rule and on `named` dials (handle and value), `start` and `end` are
    what it gives for the first and the last step, and the channel has no say. With `midway` both ends go, over the loop, to these
    values and back. `picture` is the id of the one whose brightness is read. A formula keeps the unit of length it was written in:
    one of its lengths is `reads` of the work's, and what it gives is `gives` times as much; `named` lengths stand in its own unit.
    """

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    rule: str
    channel: Channel
    start: float
    end: float
    curve: Curve = "straight"
    seed: int = 1
    picture: str = ""
    repeats: float = Field(1.0, ge=1.0, le=1000.0)
    points: tuple[tuple[float, float], ...] = ()
    second: Second | None = None
    taken: tuple[float, ...] = Field((), max_length=TAKEN_MOST)
    named: tuple[tuple[str, float], ...] = ()
    midway: tuple[float, float] | None = None
    formula: str = Field("", max_length=LENGTH_MOST)
    reads: float = Field(1.0, gt=0.0)
    gives: float = Field(1.0, gt=0.0)

    @field_validator("formula")
    @classmethod
    def _readable(cls, text: str, info: ValidationInfo) -> str:
        names = frozenset(name for name, _ in info.data.get("named", ()))
        try:
            return read_formula(text, names).text if text.strip() else ""
        except InputError as error:
            raise ValueError(error.message) from None

    @field_validator("points")
    @classmethod
    def _in_order(cls, points: tuple[tuple[float, float], ...]) -> tuple[tuple[float, float], ...]:
        across = [x for x, _ in points]
        if points and not (2 <= len(points) <= POINTS_MOST and across == sorted(set(across))):
            raise ValueError(f"a curve has from 2 to {POINTS_MOST} points, from left to right")
        if any(not (0 <= x <= 1 and 0 <= y <= 1) for x, y in points):
            raise ValueError("the points of a curve lie between 0 and 1")
        return points

    @model_validator(mode="after")
    def _ends(self) -> Self:
        if self.taken and (self.start, self.end) != (self.taken[0], self.taken[-1]):
            object.__setattr__(self, "start", self.taken[0])
            object.__setattr__(self, "end", self.taken[-1])
        return self

    def over(self, ask: Ask, points: Array | None) -> Array:
        """Return values (n, E) at own-place `points` (n, E, 2), or (n, 1) for the copies."""
        if self.formula:
            return self._by_formula(ask, points)
        u = ask.read(self.rule, self.channel, points, self.seed, self.picture)
        if u is None:
            return np.full((1, 1), self.start)
        if self.taken:
            return self._in_turn(ask, u, points)
        if self.second is not None:
            v = self.second.read(ask, points)
            u = mixed(self.second.how, u, v) if v is not None else u
        start, end = self.at_time(ask.known.time) if self.midway is not None else (self.start, self.end)
        return start + (end - start) * curved(self.curve, self.run(u), self.points)

    def at_time(self, time: float) -> tuple[float, float]:
        """Return both ends at a time of the loop 0..1, which goes there and back as evenly as a swing."""
        if self.midway is None:
            return self.start, self.end
        share = (1.0 - np.cos(2.0 * np.pi * time)) / 2.0
        return self.start + (self.midway[0] - self.start) * share, self.end + (self.midway[1] - self.end) * share

    def _in_turn(self, ask: Ask, u: Array, points: Array | None) -> Array:
        """The values one after the other by what can be counted, or as steps of equal width by what cannot."""
        count = len(self.taken)
        if self.channel in WHOLE:
            number = ask.counted(self.rule, self.channel, points)
            index = np.zeros((1, 1)) if number is None else np.rint(number) % count
        else:
            index = np.minimum(np.floor(u * count), count - 1)
        return np.array(self.taken)[index.astype(np.int64)]

    def run(self, u: Array) -> Array:
        """Return readings 0..1 as often as it repeats; a whole last run ends at its end."""
        if self.repeats == 1.0:
            return u
        return np.asarray((u * self.repeats) % 1.0 + (u >= 1.0) * (self.repeats % 1.0 == 0))

    def _by_formula(self, ask: Ask, points: Array | None) -> Array:
        named = dict(self.named)
        formula = read_formula(self.formula, frozenset(named))
        own = formula.names - named.keys() - {"pi"}
        known = {name: ask.raw(self.rule, name, points, self.seed) for name in own}
        if any(value is None for value in known.values()):
            return np.full((1, 1), self.start)
        here: dict[str, Array | float] = dict(named)
        for name, value in known.items():
            here[name] = np.asarray(value) / (self.reads if name in LENGTHS else 1.0)
        values = formula.values(here) * self.gives
        return values if values.ndim == 2 else np.full((1, 1), float(values))

    def ends(self, walk: Walk = ONE_COPY) -> tuple[float, float]:
        """Return the first and the last value; of a formula what it gives over the copies now, in the unit of the number.

        Raises
        ------
        InputError
            When the formula gives no number there.
        """
        if not self.formula:
            return self.start, self.end
        first, last = self.along(walk, 2).tolist()
        return first, last

    def along(self, walk: Walk, count: int) -> Array:
        """Return what the formula gives (count,), from the first copy to the last, in the unit of the number.

        Raises
        ------
        InputError
            When the formula gives no number there.
        """
        named = dict(self.named)
        formula = read_formula(self.formula, frozenset(named))
        found = walk.readings(formula.names - named.keys(), count, self.seed)
        values = formula.values(named | {name: value / (self.reads if name in LENGTHS else 1.0) for name, value in found.items()})
        return np.broadcast_to(values * self.gives, (count,))

    @property
    def rest(self) -> float:
        """The value at the start, in the unit of the number."""
        return self.start

    @property
    def largest(self) -> float:
        """The greater size of the two ends; of a formula, of all it can give, at most `LARGEST`, in the unit of the number."""
        if self.formula:
            named = dict(self.named)
            known = {
                n: (a / self.reads, b / self.reads) if n in LENGTHS else (a, b) for n, (a, b) in readings_of(self.rule).items()
            }
            low, high = bounds(read_formula(self.formula, frozenset(named)), named, known)
            return min(max(abs(low), abs(high)) * self.gives, LARGEST)
        return max(abs(value) for value in (self.start, self.end, *self.taken, *(self.midway or ())))

    def sentence(self) -> str:
        """Say what it varies by."""
        if self.formula:
            return f"= {self.formula}"
        if self.taken:
            return f"{len(self.taken)} values in turn, {SENTENCES[self.channel].split(',')[0]}"
        if self.second is not None:
            return f"{SENTENCES[self.channel].split(',')[0]}, {self.second.how} with {SENTENCES[self.second.channel].split(',')[0]}"
        return SENTENCES[self.channel]


LARGEST = 1e4  # what a formula that nothing bounds is taken to reach
LENGTHS = ("x", "y", "r")  # what formulas read that is a length


def _tag(value: Any) -> str:
    return "varied" if isinstance(value, (dict, Varied)) else "constant"


Number = Annotated[Annotated[float, Tag("constant")] | Annotated[Varied, Tag("varied")], Discriminator(_tag)]
