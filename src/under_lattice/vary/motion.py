"""Motions: a value over the loop, hung at times like beads on a string, or following a course between two of them."""

from __future__ import annotations

from itertools import pairwise
from typing import Any, Literal, Self, get_args

import numpy as np
from pydantic import BaseModel, ConfigDict, Field, field_validator, model_validator

from under_lattice.core.plain import Name
from under_lattice.geometry.affine import Array
from under_lattice.geometry.chance import lots_of_keys
from under_lattice.vary.numbers import Channel, Varied, curved

Course = Literal["hung", "there and back", "swing", "pulse", "wander"]
Way = Literal["even", "gentle", "hold", "drawn"]
COURSES: tuple[str, ...] = get_args(Course)
WAYS: tuple[str, ...] = get_args(Way)
BEADS_MOST, TIMES_MOST, PLACES_MOST = 200, 100, 200
SPOTS = 4  # of chance in each round of a motion that wanders
NEAR = 1e-6  # of the loop, within which two beads hang at one time


def _plain(value: Any) -> Any:
    """A value as it stands in files, lists as tuples: one that was read is equal to the one that was written."""
    if isinstance(value, BaseModel):
        return _plain(value.model_dump(mode="json"))
    if isinstance(value, (list, tuple)):
        return tuple(map(_plain, value))
    if isinstance(value, dict):
        return {key: _plain(one) for key, one in value.items()}
    return value


class Bead(BaseModel):
    """A value hung at a time of the loop, 0..1, and the way from it to the next; `points` are those of a drawn way."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    time: float = Field(ge=0.0, le=1.0)
    value: Any
    way: Way = "even"
    points: tuple[tuple[float, float], ...] = ()

    @field_validator("value")
    @classmethod
    def _kept(cls, value: Any) -> Any:
        return _plain(value)

    @field_validator("points")
    @classmethod
    def _curve(cls, points: tuple[tuple[float, float], ...]) -> tuple[tuple[float, float], ...]:
        return Varied._in_order(points)


class Lag(BaseModel):
    """By how much copies are behind: so many loops from the first to the last of them, by a reading of a rule."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    rule: str
    channel: Channel = "step"
    loops: float = Field(1.0, ge=-100.0, le=100.0)
    seed: int = 1

    @field_validator("channel")
    @classmethod
    def _of_copies(cls, channel: Channel) -> Channel:
        if channel in ("loop", "part", "picture"):
            raise ValueError("copies are behind by step, row, place or chance")
        return channel


class Place(BaseModel):
    """What a motion moves: a dial of a rule, by ids, or one end of a number that varies; without layer and rule a named dial."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    layer: str = ""
    rule: str = ""
    dial: str
    end: Literal["", "start", "end"] = ""


class Motion(BaseModel):
    """A value over the loop.

    With the course ``hung`` it goes from bead to bead, each way as the bead says; on a closed string from the last on to the first,
    unless a bead hangs at the very end: there it may stand a whole period later. Other courses go between the first value and the
    last, `times` in each loop: there and back evenly, as a swing, as a pulse of `width` (share of its time), or wander by chance
    (`seed`) and come back. All `places` move by it, the second and later ones as much as the first.
    """

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    id: str
    name: Name = ""
    places: tuple[Place, ...] = Field(max_length=PLACES_MOST)
    beads: tuple[Bead, ...] = Field(min_length=1, max_length=BEADS_MOST)
    course: Course = "hung"
    times: int = Field(1, ge=1, le=TIMES_MOST)
    width: float = Field(0.5, gt=0.0, le=1.0)
    seed: int = Field(1, ge=0, le=99999)
    lag: Lag | None = None
    on: bool = True

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        ordered = tuple(sorted(self.beads, key=lambda bead: bead.time))
        if ordered != self.beads:
            object.__setattr__(self, "beads", ordered)
        times = [bead.time for bead in ordered]
        if any(b - a < NEAR for a, b in pairwise(times)):
            raise ValueError("two values hang at one time")
        return self

    def within(self, time: float | Array, closed: bool) -> tuple[Array, Array]:
        """Return times of any size as whole rounds and the rest 0..1; on a string that runs once they are held at its ends."""
        along = np.asarray(time, float) if closed else np.clip(time, 0.0, 1.0)
        along = along * (1 if self.course == "hung" else self.times)
        rounds = np.floor(along)
        if not closed:
            rounds = np.where((along == rounds) & (along > 0), rounds - 1, rounds)
        return rounds, along - rounds

    def share(self, rest: Array) -> Array:
        """Return how far, 0..1, a course other than ``hung`` is from its first value to its last at times 0..1 of a round."""
        if self.course == "there and back":
            return curved("there and back", rest)
        if self.course == "swing":
            return np.asarray((1.0 - np.cos(2.0 * np.pi * rest)) / 2.0)
        if self.course == "pulse":
            return np.asarray(np.where(rest < self.width, np.sin(np.pi * np.minimum(rest / self.width, 1.0)) ** 2, 0.0))
        lots = lots_of_keys(np.stack([np.zeros(SPOTS, np.int64), np.arange(SPOTS) + 1], 1), self.seed)
        lots = np.concatenate([[0.0], lots[1:]])  # it begins at its first value
        at = rest * SPOTS
        first = np.floor(at).astype(np.int64) % SPOTS
        u = at - np.floor(at)
        return np.asarray(lots[first] + (lots[(first + 1) % SPOTS] - lots[first]) * u * u * (3 - 2 * u))

    def between(self, rest: float, closed: bool) -> tuple[Bead, Bead, float]:
        """Return the beads before and after a time 0..1 of a round, and how far it is between them by the way of the first."""
        beads = self.beads
        after = next((k for k, bead in enumerate(beads) if bead.time > rest), len(beads))
        if 0 < after < len(beads):
            one, other = beads[after - 1], beads[after]
            begin, end = one.time, other.time
        elif not closed or len(beads) == 1 or self._ends or (after == len(beads) and beads[-1].time >= 1.0 - NEAR):
            only = beads[-1] if after else beads[0]
            return only, only, 0.0
        else:
            one, other = beads[-1], beads[0]
            begin, end = (one.time, other.time + 1.0) if after else (one.time - 1.0, other.time)
        return one, other, float(eased(one, np.array((rest - begin) / (end - begin))))

    @property
    def _ends(self) -> bool:
        """Whether a bead hangs at the very end, so that the last way does not lead to the first bead."""
        return self.beads[-1].time >= 1.0 - NEAR

    @property
    def gained(self) -> float:
        """By how much a number is further at the end than at the beginning: of one that closes by itself 0."""
        if self.course != "hung" or len(self.beads) < 2 or not self._ends:
            return 0.0
        return float(self.beads[-1].value) - float(self.beads[0].value)

    def numbers(self, time: float | Array, closed: bool) -> Array:
        """Return a number at times of any size, in its unit; each further round of a closed string goes on from the last.

        Parameters
        ----------
        time : float or array
            Of the loop; 1 is its end.
        closed : bool
        """
        rounds, rest = self.within(time, closed)
        if self.course != "hung":
            low, high = float(self.beads[0].value), float(self.beads[-1].value)
            return np.asarray(low + (high - low) * self.share(rest))
        found = np.empty(rest.shape)
        flat, out = rest.reshape(-1), found.reshape(-1)
        begin, end = np.array([bead.time for bead in self.beads]), [float(bead.value) for bead in self.beads]
        after = np.searchsorted(begin, flat, side="right")
        for k in np.unique(after):
            chosen = after == k
            out[chosen] = self._along(int(k), flat[chosen], end, closed)
        return found + rounds * self.gained if closed else found

    def _along(self, after: int, rest: Array, values: list[float], closed: bool) -> Array:
        """Numbers at times that lie before the bead `after`."""
        one, other, _ = self.between(float(rest[0]), closed)
        if one is other:
            return np.full(rest.shape, float(one.value))
        begin = one.time - (1.0 if after == 0 else 0.0)
        end = other.time + (1.0 if after == len(values) else 0.0)
        share = eased(one, (rest - begin) / (end - begin))
        return float(one.value) + (float(other.value) - float(one.value)) * share


def eased(bead: Bead, u: Array) -> Array:
    """Return how far the way of a bead has led, 0..1, at `u` 0..1 of its time."""
    if bead.way == "hold":
        return np.zeros_like(u)
    if bead.way == "gentle":
        return curved("smooth", u)
    return curved("drawn", u, bead.points) if bead.way == "drawn" and bead.points else u


class Passing(Varied):
    """A number that runs through the copies as a wave: what a motion has made of it, for each copy a little earlier.

    It is there only in a work as it is at one moment; no file holds it. `rest_value` is what the dial itself says.
    """

    motion: Motion
    time: float
    closed: bool
    most: tuple[float, float] = (-1e12, 1e12)
    rest_value: float = 0.0
    whole: bool = False

    def over(self, ask: Any, points: Array | None) -> Array:
        """Return values (n, E) at own-place `points` (n, E, 2), or (n, 1) for the copies."""
        lag = self.motion.lag
        assert lag is not None
        behind = ask.counted(lag.rule, lag.channel, points) if lag.channel in COUNTED else None
        if behind is not None:
            behind = behind / max(1.0, ask.many(lag.rule, lag.channel))
        else:
            behind = ask.read(lag.rule, lag.channel, points, lag.seed)
        if behind is None:
            behind = np.zeros((1, 1))
        return self.at(self.time - lag.loops * behind)

    def at(self, time: float | Array) -> Array:
        """Return it at times of the loop, held to what the dial allows."""
        values = self.rest_value + self.motion.numbers(time, self.closed) - float(self.motion.numbers(0.0, self.closed))
        values = np.clip(values, *self.most)
        return np.rint(values) if self.whole else values

    @property
    def largest(self) -> float:
        """The greatest size it may take, in its unit."""
        shift = self.rest_value - float(self.motion.numbers(0.0, self.closed))
        return max(abs(float(bead.value) + shift) for bead in self.motion.beads)


COUNTED = frozenset({"step", "row", "column", "diagonal", "ring"})  # readings of which a whole run closes to a ring
