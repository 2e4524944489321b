"""Work under way: whether it is still wanted, how far it is, and what it has to say."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, replace
from typing import TypeVar

from under_lattice.core.errors import GivenUp

Thing = TypeVar("Thing")
AT_A_TIME, OFTEN = 64, 0.004  # things and seconds between two questions, at most


@dataclass(frozen=True)
class Progress:
    """What those who do long work ask and tell on the way.

    Attributes
    ----------
    stop : callable
        Whether the work is not wanted any more.
    tell : callable
        Told the name of what is at work and how far it is, from 0 to 1.
    note : callable
        Told in words what could not be done.
    stood : callable
        Told how many copies stand after each rule, and why it could not act; may refuse to go on.
    name : str
        Of what is at work.
    """

    stop: Callable[[], bool] = lambda: False
    tell: Callable[[str, float], None] = lambda name, share: None
    note: Callable[[str], None] = lambda sentence: None
    stood: Callable[[int, str], None] = lambda copies, problem: None
    name: str = ""

    def named(self, name: str) -> Progress:
        """Return the same for what is called `name`."""
        return replace(self, name=name)

    def check(self) -> None:
        """Go on only if the work is still wanted.

        Raises
        ------
        GivenUp
        """
        if self.stop():
            raise GivenUp

    def each(self, things: Iterable[Thing]) -> Iterator[Thing]:
        """Go through things as long as they are wanted.

        Raises
        ------
        GivenUp
        """
        asked = 0.0
        for k, thing in enumerate(things):
            if k % AT_A_TIME == 0 or time.monotonic() - asked > OFTEN:
                self.check()
                asked = time.monotonic()
            yield thing

    def step(self, share: float) -> None:
        """Say how far the work is, from 0 to 1, and go on only if it is still wanted.

        Raises
        ------
        GivenUp
        """
        self.check()
        self.tell(self.name, share)


QUIET = Progress()
