"""What a number goes through over the copies of a repeat, from the first to the last, as forms show it."""

from __future__ import annotations

from collections.abc import Collection, Mapping

import numpy as np

from under_lattice.geometry.affine import Array
from under_lattice.geometry.chance import lots_of_keys
from under_lattice.pattern.ask import RAW
from under_lattice.pattern.stage import Stage

STILL = ("n", "t", "s", "pi")  # what formulas read that is one for all copies at a time
FROM_ONE = ("row", "col")
WHOLE = ("k", *FROM_ONE)


class Walk:
    """The way over the copies of a repeat.

    A formula on one reading goes from its least to its greatest: one on columns from the first column to the last, however many
    rows there are. A formula on several goes over the copies, evenly chosen from the first to the last.

    Parameters
    ----------
    stage : Stage or None
        The copies of the repeat; None stands for one copy at the pivot.
    """

    def __init__(self, stage: Stage | None = None) -> None:
        self.stage = stage if stage is not None and stage.n else None

    @property
    def steps(self) -> int:
        """How many steps the repeat counts."""
        return int(self._span("step")[1]) + 1

    def readings(self, names: Collection[str], count: int, seed: int = 1) -> Mapping[str, Array]:
        """Return readings (count,) by their names in formulas, lengths in the work's unit; `count` is two or more."""
        still = {"n": float(self.steps), "t": 0.0, "s": 0.0}
        moving = {"k" if name == "u" else name for name in names if name not in STILL}
        found = {name: self._evenly(name, count) for name in moving} if len(moving) == 1 else self._over_copies(moving, count, seed)
        if "u" in names:
            found["u"] = found["k"] / max(1, self.steps - 1)
        return found | {name: np.full(count, value) for name, value in still.items()}

    def _span(self, channel: str) -> tuple[float, float]:
        return self.stage.span(channel) if self.stage is not None else (0.0, 0.0)

    def _evenly(self, name: str, count: int) -> Array:
        """From the least to the greatest of one reading."""
        low, high = (0.0, 1.0) if name == "chance" else self._span(RAW[name])
        if name in FROM_ONE:
            low, high = 1.0, high - low + 1.0
        values = np.linspace(low, high, count)
        return np.rint(values) if name in WHOLE else values

    def _over_copies(self, names: Collection[str], count: int, seed: int) -> dict[str, Array]:
        stage = self.stage
        if stage is None:
            return {name: np.full(count, {"chance": 0.5}.get(name, float(name in FROM_ONE))) for name in names}
        own = np.arange(stage.n) if stage.counted is None or not stage.counted.any() else np.flatnonzero(stage.counted)
        index = own[np.rint(np.linspace(0, len(own) - 1, count)).astype(np.int64)]
        found: dict[str, Array] = {}
        for name in names:
            if name == "chance":
                found[name] = lots_of_keys(stage.key[index], seed)
                continue
            value = stage.reading(RAW[name], stage.xform[index, :, 2], index)
            found[name] = value - self._span(RAW[name])[0] + 1.0 if name in FROM_ONE else value
        return found


ONE_COPY = Walk()
