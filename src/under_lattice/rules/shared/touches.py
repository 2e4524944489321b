"""Touches: copies picked by hand, named by their places in the repeats, so that they are found again when counts change."""

from __future__ import annotations

import re

import numpy as np
from pydantic import Field

from under_lattice.core.errors import InputError
from under_lattice.declare.frozen import Frozen
from under_lattice.geometry.affine import Array
from under_lattice.pattern.stage import Stage

Place = tuple[str, int, int]  # a repeat, and a copy's lasting name in it
NUMBER = r"-?\d+(?:\.\d+)?"
ONE = re.compile(rf"(?P<places>[^=]+?)(?:=\s*(?P<numbers>{NUMBER}(?:\s*,\s*{NUMBER})*))?\s*\Z")
PART = re.compile(r"([\w-]+)\s+(-?\d+)\s*,\s*(-?\d+)\Z")
LIMITS = ((-1e6, 1e6), (-1e6, 1e6), (-3600.0, 3600.0), (0.1, 10000.0))


class Touch(Frozen):
    """One picked copy, or the same place in every copy of the repeats it does not name; and what is done with it.

    Attributes
    ----------
    at : tuple of (rule, int, int)
        The id of each repeat it names, from the widest to the closest, with the copy's lasting name there.
    x, y : float
        Moved by this.
    turn, size : float
        Degrees and per cent.
    """

    at: tuple[Place, ...]
    x: float = Field(0.0, ge=-1e6, le=1e6)
    y: float = Field(0.0, ge=-1e6, le=1e6)
    turn: float = Field(0.0, ge=-3600.0, le=3600.0)
    size: float = Field(100.0, ge=0.1, le=10000.0)

    def scaled(self, factor: float) -> Touch:
        """Return the touch in another unit."""
        return self.model_copy(update={"x": self.x * factor, "y": self.y * factor})


def places_of(stage: Stage, copy: int) -> tuple[Place, ...]:
    """Return the lasting name of a copy in each repeat it comes from, the widest first, whole numbers."""
    out: list[Place] = []
    here: Stage | None = stage
    while here is not None:
        if is_repeat(here):
            out.append((here.rule, int(here.key[copy, 0]), int(here.key[copy, 1])))
        copy, here = int(here.parent[copy]), here.above
    return tuple(out)


def is_repeat(stage: Stage) -> bool:
    """Tell whether a stage gives copies names of their own, and does not hand on those of the stage above."""
    return "column" in stage.channels or stage.fields is not None


def picked(stage: Stage, touch: Touch) -> Array:
    """Tell which copies of a stage a touch means (n,) bool."""
    wanted = {rule: (a, b) for rule, a, b in touch.at}
    found, index = np.ones(stage.n, bool), np.arange(stage.n)
    here: Stage | None = stage
    left = set(wanted)
    while here is not None:
        if here.rule in wanted and is_repeat(here):
            found &= (here.key[index] == np.array(wanted[here.rule])).all(1)
            left.discard(here.rule)
        index, here = here.parent[index], here.above
    return found if not left else np.zeros(stage.n, bool)


def as_one(stage: Stage, touch: Touch) -> bool:
    """Tell whether what a touch means is turned and sized as one: it names the widest repeat, so that it is all in one place."""
    here: Stage | None = stage
    while here is not None and not is_repeat(here):
        here = here.above
    return here is not None and any(rule == here.rule for rule, _, _ in touch.at)


def place_words(touch: Touch, names: dict[str, str]) -> str:
    """Return a touch in words: ``Lattice 2, 3 › Rosette 0, 4``."""  # noqa: RUF002
    return " › ".join(f"{names.get(rule, 'a rule that is gone')} {a}, {b}" for rule, a, b in touch.at)  # noqa: RUF001


def read_touches(text: str, ids: dict[str, str]) -> tuple[Touch, ...]:
    """Read ``lattice 2, 3 / rosette 0, 4 = x, y, turn, size; ...``; `ids` gives the ids of handles.

    Raises
    ------
    InputError
        Says which part cannot be read and what is allowed.
    """
    out = []
    for number, part in enumerate(filter(None, (piece.strip() for piece in text.split(";")))):
        found = ONE.match(part)
        places = [PART.match(piece.strip()) for piece in found["places"].split("/")] if found else [None]
        if found is None or not all(places):
            raise InputError(f"copy {number + 1}, “{part[:40]}”, is not RULE row, column = x, y, turn, size")
        at = []
        for place in filter(None, places):
            if place[1] not in ids:
                raise InputError(f"copy {number + 1} names “{place[1]}”; there is: {', '.join(ids) or 'no repeat'}")
            at.append((ids[place[1]], int(place[2]), int(place[3])))
        numbers = [float(one) for one in (found["numbers"] or "").split(",") if one.strip()]
        if len(numbers) > 4 or not all(low <= value <= high for value, (low, high) in zip(numbers, LIMITS, strict=False)):
            raise InputError(f"copy {number + 1} has at most x, y, turn and size, a size from 0.1 to 10000 %")
        out.append(Touch(at=tuple(at), **dict(zip(("x", "y", "turn", "size"), numbers, strict=False))))
    return tuple(out)
