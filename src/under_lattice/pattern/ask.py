"""Questions to numbers: what a number is, for every copy, at given places."""

from __future__ import annotations

from typing import Protocol, runtime_checkable

import numpy as np

from under_lattice.core.progress import QUIET, Progress
from under_lattice.geometry.affine import IDENTITY, Array, apply, compose
from under_lattice.geometry.chance import lots_of_keys, lots_of_places, smooth_noise
from under_lattice.geometry.outline import Outline
from under_lattice.pattern.known import NOTHING_KNOWN, Known
from under_lattice.pattern.stage import Family, Stage, start


@runtime_checkable
class Varying(Protocol):
    """A number that changes across the copies."""

    def over(self, ask: Ask, points: Array | None) -> Array:
        """Return values (n, E) at own-place `points` (n, E, 2), or (n, 1) for the copies themselves."""

    @property
    def rest(self) -> float:
        """The value where nothing varies: its start, in the unit of the number."""

    @property
    def largest(self) -> float:
        """Greatest size it may take, in the unit of the number."""


Number = float | Varying
PLAIN = (int, float)  # asked first: whether something is a protocol takes microseconds, thousands of times
RAW = {"k": "step", "n": "step", "row": "row", "col": "column", "x": "x", "y": "y", "r": "distance", "a": "direction"}
WAVES = 5.0  # of smooth chance over what copies span


def rest(number: Number) -> float:
    """Return the value of a number at its start, in the unit of the number."""
    return float(number) if isinstance(number, PLAIN) else number.rest


def largest(number: Number) -> float:
    """Return the greatest size a number may take anywhere, in the unit of the number."""
    return abs(float(number)) if isinstance(number, PLAIN) else number.largest


class Ask:
    """Reads numbers for every copy of one stage, the horizon.

    Parameters
    ----------
    horizon : Stage
    known : Known
        A number that varies by a rule below the horizon stands at the end of its run; by a rule that is gone, at its start.
    progress : Progress
        For those who ask and take long.
    """

    def __init__(self, horizon: Stage, known: Known = NOTHING_KNOWN, progress: Progress = QUIET) -> None:
        self.horizon = horizon
        self.n = horizon.n
        self.known = known
        self.progress = progress
        self._seen: dict[str, tuple[Stage, Array | None]] = {}
        index: Array | None = None
        stage: Stage | None = horizon
        while stage is not None:
            self._seen.setdefault(stage.rule, (stage, index))
            index = stage.parent if index is None else stage.parent[index]
            stage = stage.above

    def stage(self, rule: str) -> Stage | None:
        """Return the stage of `rule`, if its copies exist at this horizon."""
        return self._seen[rule][0] if rule in self._seen else None

    def ancestors(self, rule: str) -> Array:
        """For each copy (n,), its ancestor among the copies of `rule`."""
        index = self._seen[rule][1]
        return np.arange(self.n) if index is None else index

    def place(self, rule: str) -> Array:
        """Maps (n, 2, 3) or (1, 2, 3): the shape's own place -> the counted place of `rule`.

        Rules below `rule` have no say: that keeps lattice coordinates right after nesting. The own place if the copies
        of `rule` do not exist at this horizon.
        """
        if rule not in self._seen:
            return IDENTITY[None]
        stage, index = self._seen[rule]
        xform = stage.xform if index is None else stage.xform[index]
        return xform if np.array_equal(stage.frame, IDENTITY) else compose(stage.frame[None], xform)

    def read(self, rule: str, channel: str, points: Array | None, seed: int = 0, picture: str = "") -> Array | None:
        """Return readings 0..1 over the copies of `rule`, (n, E), held past the ends; None if the rule is gone.

        Parameters
        ----------
        points : (n, E, 2) or None
            In the shape's own place; None asks for the copies themselves and gives (n, 1).
        seed : int
            Of the channel ``chance``: drawn by key for copies, by place for points.
        picture : str
            Of the channel ``picture``: its id. It covers the sheet, and is read where the copies of `rule` stand.
        """
        if channel == "loop":
            return np.full((1, 1), self.known.time)
        if channel == "part":  # copies as wholes have none
            return np.zeros((1, 1))
        if rule not in self._seen:
            count = 1 if points is None else points.shape[1]
            return np.ones((self.n, count)) if rule in self.known.rules else None
        stage, index = self._seen[rule]
        if channel == "chance":
            return self._lots(rule, points, seed)
        if channel == "noise":
            return self._noise(rule, points, seed)
        if channel == "picture":
            seen = self.known.pictures.get(picture)
            places = self._places(rule, points)
            return np.zeros((1, 1)) if seen is None else seen.over(places, self.known.width, self.known.height)
        if points is None:
            low, high = stage.span(channel)
            value = stage.reading(channel, stage.xform[..., 2], np.arange(stage.n))
            value = (value if index is None else value[index])[:, None]
        else:
            low, high = stage.span(channel)
            xform = stage.xform if index is None else stage.xform[index]
            copies = self.ancestors(rule)[:, None]
            value = stage.reading(channel, apply(xform, points), copies)
        if high - low < 1e-12:
            return np.zeros(value.shape)
        return np.clip((value - low) / (high - low), 0.0, 1.0)

    def pictured(self, rule: str, picture: str) -> Array | None:
        """Return the colours (n, 1, 4) uint8 of a picture over the sheet where the copies of `rule` stand; None without it."""
        seen = self.known.pictures.get(picture)
        if rule not in self._seen or seen is None or seen.pixels is None:
            return None
        return seen.colours_over(self._places(rule, None), self.known.width, self.known.height)

    def raw(self, rule: str, name: str, points: Array | None, seed: int = 0) -> Array | None:
        """Return a reading of `rule` as it is, (n, E), by its name in formulas; None if the copies of the rule are not there.

        ``k n u row col x y r a chance``: step from 0, how many, step in 0..1, row and column from 1, place from the pivot,
        distance, direction in degrees, and a lot in 0..1.
        """
        if name in ("t", "s"):
            return np.full((1, 1), self.known.time if name == "t" else self.known.seconds)
        if rule not in self._seen:
            return None
        if name in ("chance", "u"):
            return self.read(rule, "chance" if name == "chance" else "step", points, seed)
        stage, index = self._seen[rule]
        channel = RAW[name]
        low, high = stage.span(channel)
        if name == "n":
            return np.full((1, 1), high + 1.0)
        own = np.arange(stage.n) if index is None else index
        if points is None:
            value = stage.reading(channel, stage.xform[..., 2], np.arange(stage.n))[own][:, None]
        else:
            value = stage.reading(channel, apply(stage.xform[own], points), own[:, None])
        return np.asarray(value - low + 1.0) if name in ("row", "col") else value

    def counted(self, rule: str, channel: str, points: Array | None) -> Array | None:
        """Return a reading of `rule` that one can count by, from 0, (n, E); None if the copies of the rule are not there."""
        if rule not in self._seen:
            return None
        stage, index = self._seen[rule]
        own = np.arange(stage.n) if index is None else index
        if points is None:
            value = stage.reading(channel, stage.xform[..., 2], np.arange(stage.n))[own][:, None]
        else:
            value = stage.reading(channel, apply(stage.xform[own], points), own[:, None])
        return np.asarray(value - stage.span(channel)[0])

    def many(self, rule: str, channel: str) -> float:
        """Return how many a reading of `rule` that one can count by counts: steps, rows, rings."""
        if rule not in self._seen:
            return 1.0
        low, high = self._seen[rule][0].span(channel)
        return float(high - low) + 1.0

    def _noise(self, rule: str, points: Array | None, seed: int) -> Array:
        """Smooth chance over the place of `rule`, its waves a fifth of what its copies span."""
        stage, at = self._seen[rule][0], self._places(rule, points)
        span = max(*(high - low for low, high in (stage.span("x"), stage.span("y"))), 1e-9)
        return smooth_noise((at - stage.pivot) / (span / WAVES), seed)

    def _places(self, rule: str, points: Array | None) -> Array:
        """Where own-place `points` (n, E, 2), or the copies themselves, lie in the place of `rule`, (n, E, 2)."""
        stage, index = self._seen[rule]
        if points is None:
            at = stage.xform[:, None, :, 2]
            return at if index is None else at[index]
        return apply(stage.xform if index is None else stage.xform[index], points)

    def _lots(self, rule: str, points: Array | None, seed: int) -> Array:
        if points is not None:
            return lots_of_places(apply(self.place(rule), points), seed)
        stage, index = self._seen[rule]
        lots = lots_of_keys(stage.key, seed)
        return np.asarray((lots if index is None else lots[index])[:, None])

    def at(self, number: Number, points: Array) -> Array:
        """Return the number at own-place `points` (n, E, 2), as (n, E) or (1, 1) when it is the same everywhere."""
        return np.full((1, 1), float(number)) if isinstance(number, PLAIN) else number.over(self, points)

    def each(self, number: Number) -> Array:
        """Return the number for each copy, (n,) or (1,) when it is the same for all."""
        return np.full(1, float(number)) if isinstance(number, PLAIN) else number.over(self, None)[:, 0]


class StepAsk(Ask):
    """Reads numbers for the steps of a repeat that is about to be made: they may vary by its own steps and by the copies above.

    Parameters
    ----------
    above : Stage
    known : Known
    own : str
        Id of the repeat.
    count : int
        How many steps it takes; from -> to runs over them.
    """

    def __init__(self, above: Stage, known: Known, own: str, count: int) -> None:
        super().__init__(above, known)
        self.own, self.count = own, count

    def read(self, rule: str, channel: str, points: Array | None, seed: int = 0, picture: str = "") -> Array | None:
        """Return readings 0..1: (count, 1) by the own steps, (1, n) by what stands above."""
        if rule == self.own and channel not in ("loop", "part"):
            k = np.arange(self.count)
            if channel == "chance":
                return lots_of_keys(np.stack([0 * k, k + 1], 1), seed)[:, None]
            return (k / max(1, self.count - 1))[:, None]
        found = super().read(rule, channel, points, seed, picture)
        return None if found is None else found[:, 0][None]

    def raw(self, rule: str, name: str, points: Array | None, seed: int = 0) -> Array | None:
        """Return a reading as it is: (count, 1) by the own steps, (1, n) by what stands above. The own steps have no place yet."""
        if rule != self.own or name in ("t", "s"):
            found = super().raw(rule, name, points, seed)
            return None if found is None else found[:, 0][None]
        if name in ("chance", "u"):
            return self.read(rule, "chance" if name == "chance" else "step", points, seed)
        if name == "n":
            return np.full((1, 1), self.count + 1.0)
        if name in ("k", "col"):
            return np.arange(1.0, self.count + 1.0)[:, None] + (name == "col")
        return np.full((1, 1), 1.0 if name == "row" else 0.0)

    def counted(self, rule: str, channel: str, points: Array | None) -> Array | None:
        """Return a reading one can count by: (count, 1) by the own steps, (1, n) by what stands above."""
        if rule == self.own:
            return np.arange(float(self.count))[:, None]
        found = super().counted(rule, channel, points)
        return None if found is None else found[:, 0][None]

    def many(self, rule: str, channel: str) -> float:
        """Return how many a reading counts; of its own steps how many there are."""
        return float(self.count) if rule == self.own else super().many(rule, channel)

    def steps(self, number: Number) -> Array:
        """Return a number for each step and each copy above, (count or 1, n or 1), in the unit of the number."""
        return np.full((1, 1), float(number)) if isinstance(number, PLAIN) else number.over(self, None)


def moment(number: Number, known: Known) -> float:
    """Return what a number is now where there are no copies: of one that varies over the loop its value at this time."""
    if isinstance(number, PLAIN):
        return float(number)
    return float(number.over(Ask(_NOWHERE, known), None)[0, 0])


class _Nothing:
    """A shape of no faces."""

    faces = 0

    def body(self) -> Outline:
        return Outline(np.zeros((0, 2)), b"")

    def reach(self) -> float:
        return 0.0

    def draw(self, ask: Ask) -> tuple[Family, ...]:
        return ()


_NOWHERE = start(_Nothing())
