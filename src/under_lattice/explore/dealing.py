"""Siblings: random relatives of a design, near to far, each a whole live work.

A deal hangs on nothing but its arguments: chance is drawn by the names of what moves, so the same arguments deal the same siblings
on any machine, and a rule that is added changes little in those there were.
"""

from __future__ import annotations

import hashlib
import logging
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np

from under_lattice.core.errors import GivenUp, LatticeError
from under_lattice.core.progress import QUIET, Progress
from under_lattice.declare.dials import Angle, Seed
from under_lattice.declare.moving import Push
from under_lattice.explore.harmony import recoloured
from under_lattice.explore.looks import SAME, Look, Looks, fault
from under_lattice.explore.movable import WHOLE, Movable, Movables, Scope
from under_lattice.explore.words import Change, pair
from under_lattice.geometry.body import symmetry_of
from under_lattice.work.colours import uses_of
from under_lattice.work.layers import AnyLayer
from under_lattice.work.model import Design
from under_lattice.work.suggest import surroundings

log = logging.getLogger(__name__)
COUNT, TRIES = 8, 40
FEWEST, MOST_FAR = 1, 5  # things that change in a near one, and in a far one
NEAR = 0.1  # of the reach, at the near end of the thread
ROUSED, ROUSED_TO, ROUSED_MOST = 1.3, 2.0, 8.0  # how much harder what looked the same is pushed at least, and at most
NOTHING = 1e-4  # distance below which a change has no effect at all
RECOLOUR = (0.3, 0.7)  # how often colours move, near and far, when they are free
AWAY = (1.3, 3.5)  # times what tells two apart that a near and a far one are to look different, while it can be had
WORDLESS = 0.5  # up to here on the thread choices stay


@dataclass(frozen=True)
class Terms:
    """What a deal hangs on besides the design.

    Attributes
    ----------
    seed : int
    reach : float
        How far values may roam, from 0 to 1.
    scope : Scope
    colours : bool
        Whether colours may move.
    count : int
    """

    seed: int = 1
    reach: float = 0.5
    scope: Scope = WHOLE
    colours: bool = False
    count: int = COUNT


@dataclass(frozen=True)
class Sibling:
    """A relative of a design: itself a design.

    Attributes
    ----------
    design : Design
    changes : tuple of Change
    distance : float
        How far it looks from the design it was dealt from, Oklab.
    place : int
        Where on the thread it was dealt, from 0 for the nearest.
    """

    design: Design
    changes: tuple[Change, ...]
    distance: float = 0.0
    place: int = 0


def deal(design: Design, terms: Terms | None = None, looks: Looks | None = None, progress: Progress = QUIET) -> tuple[Sibling, ...]:
    """Return siblings of a design, the nearest first; fewer where hardly anything may move.

    Raises
    ------
    GivenUp
    """
    return tuple(sorted(dealt(design, terms, looks, progress), key=lambda one: (one.distance, one.place)))


def dealt(design: Design, terms: Terms | None = None, looks: Looks | None = None, progress: Progress = QUIET) -> Iterator[Sibling]:
    """Yield the siblings of a deal one after another as they are found, from the near end of the thread.

    Raises
    ------
    GivenUp
    """
    terms, looks = terms or Terms(), looks or Looks()
    hand = Hand(design, terms)
    now = looks.look(design, progress)
    hung, within = [now], looks.allowing(now)
    for place in range(terms.count):
        for sibling, look in _Candidates(hand, place, now, within, progress):
            if all(look.away(other) >= SAME for other in hung):
                hung.append(look)
                yield sibling
                break


class _Candidates(Iterator[tuple[Sibling, Look]]):
    """Relatives for one place of the thread that may hang beside the work as it is, one after another."""

    def __init__(self, hand: Hand, place: int, now: Look, looks: Looks, progress: Progress) -> None:
        self.hand, self.place, self.now, self.looks, self.progress = hand, place, now, looks, progress
        self.tries = self.attempt = 0
        self.harder = 1.0

    def __next__(self) -> tuple[Sibling, Look]:
        while self.tries < TRIES:
            self.progress.check()
            sibling = self.hand.proposed(self.place, self.attempt, self.harder)
            if sibling is None:
                break
            away = SAME * (1 + (self.hand.wanted(self.place) - 1) * max(0.0, 1 - 2 * self.tries / TRIES))
            self.tries += 1
            look, why = _looked(self.looks, sibling.design, self.now, away, self.progress)
            if look is not None and not why:
                self._go_on()
                return replace(sibling, distance=look.away(self.now)), look
            if (
                look is not None and NOTHING < look.away(self.now) < away and self.harder == 1.0
            ):  # the same draw once more, as far as it seems to need
                self.harder = min(max(ROUSED_TO * away / max(look.away(self.now), 1e-6), ROUSED), ROUSED_MOST)
            else:
                self._go_on()
        raise StopIteration

    def _go_on(self) -> None:
        self.attempt, self.harder = self.attempt + 1, 1.0


def _looked(looks: Looks, design: Design, now: Look, away: float, progress: Progress) -> tuple[Look | None, str]:
    """The look of a design, and why it may not hang beside the work as it is."""
    try:
        look = looks.look(design, progress)
    except LatticeError:
        return None, "over"
    except GivenUp:
        raise
    except Exception:  # a fault of ours in one relative is no reason to give up the others
        log.exception("a relative could not be looked at")
        return None, "fault"
    return look, fault(look, now, away)


@dataclass
class Hand:
    """Deals relatives of one design without looking at them."""

    design: Design
    terms: Terms
    _measures: dict[str, tuple[float, float]] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self.movables = Movables(self.design, self.terms.scope)
        self.side = min(self.design.sheet.width, self.design.sheet.height)
        self.single = len(self.design.chains()) == 1

    def along(self, place: int) -> float:
        """Return how far down the thread a place is, 0..1."""
        return place / max(self.terms.count - 1, 1)

    def wanted(self, place: int) -> float:
        """Return how far a sibling at a place should look from the work, times what tells two apart."""
        return AWAY[0] + (AWAY[1] - AWAY[0]) * self.along(place) * self.terms.reach

    def proposed(self, place: int, attempt: int, harder: float = 1.0) -> Sibling | None:
        """Return a relative for a place of the thread, or None where nothing may move.

        Parameters
        ----------
        place : int
            From 0 for the nearest.
        attempt : int
            Each is another draw.
        harder : float
            How many times as far as its place says things are pushed.
        """
        along = self.along(place)
        strength = max(self.terms.reach, 0.02) * (NEAR + (1 - NEAR) * along) * harder
        lots = Lots(self.terms.seed, place, attempt)
        recolour = self.terms.colours and lots.of("recolour") < RECOLOUR[0] + (RECOLOUR[1] - RECOLOUR[0]) * along
        names = [one for one in self.movables.free if not one.is_colour and (along > WORDLESS or not one.is_choice)]
        names.sort(key=lambda one: lots.of(f"choose {one.key}") ** (1 / one.weight), reverse=True)
        wanted = FEWEST + round(lots.of("how many") * (1 + (MOST_FAR - 2) * along * min(1.0, 2 * self.terms.reach)))
        sibling = Sibling(self.design, (), place=place)
        chosen = False
        for one in names:
            if len(sibling.changes) >= wanted:
                break
            if one.is_choice and chosen:  # two at once seldom suit each other
                continue
            made = self._moved(sibling, one, self._push(one, strength, lots))
            sibling, chosen = made or sibling, chosen or (made is not None and one.is_choice)
        if recolour or (self.terms.colours and not sibling.changes):
            sibling = self._recoloured(sibling, Push(strength, lots.named("colours")))
        return sibling if sibling.changes else None

    def _moved(self, sibling: Sibling, one: Movable, push: Push) -> Sibling | None:
        """A sibling with one thing more moved, or None if that cannot be."""
        value = one.dial.moved(one.value, push)
        if value == one.value:
            return None
        try:
            design = one.put(sibling.design, value)
        except LatticeError:
            return None
        if one.address.layer and _unlocked(one, sibling.design, design):
            return None
        if one.is_choice and not self.terms.colours and not set(uses_of(design)) <= set(uses_of(sibling.design)):
            return None  # a stroke, say, would bring in its colour
        return replace(sibling, design=design, changes=(*sibling.changes, self._change(one, value)))

    def _change(self, one: Movable, value: Any) -> Change:
        was, now = pair(one.value, value, one.dial, self.design.sheet.unit)
        if not one.address.layer:
            return Change("", "", one.dial.label, was, now)
        layer = "" if self.single else self.design.layer(one.address.layer).name
        return Change(layer, one.rule, one.label, was, now)

    def _recoloured(self, sibling: Sibling, push: Push) -> Sibling:
        """A sibling whose colours have all moved together, the ground's too when all of the work may move."""
        there = [one for one in Movables(sibling.design, self.terms.scope).free if one.is_colour and one.value]
        colours = [colour for one in there for colour in one.dial.colours(one.value)]
        whole = self.terms.scope == WHOLE and sibling.design.sheet.background
        map_to = recoloured([*colours, *((sibling.design.sheet.background,) if whole else ())], push)
        design = sibling.design
        try:
            for one in there:
                design = one.put(design, one.dial.with_colours(one.value, map_to))
        except LatticeError:
            return sibling
        if whole:
            sheet = design.sheet.model_copy(update={"background": map_to[design.sheet.background]})
            design = design.model_copy(update={"sheet": sheet})
        if design == sibling.design:
            return sibling
        first = next(one for one in [*colours, *map_to] if map_to[one] != one)
        change = Change("", "", f"Colours, {len(map_to)} together", first, map_to[first])
        return replace(sibling, design=design, changes=(*sibling.changes, change))

    def _push(self, one: Movable, strength: float, lots: Lots) -> Push:
        size, period = self._measured(one)
        if isinstance(one.dial, Seed):
            return Push(strength, lots.named(one.key))
        return Push(strength, lots.named(one.key), size, self.side, period)

    def _measured(self, one: Movable) -> tuple[float, float]:
        """The size of the motif of a layer, and degrees after which it looks the same; the turn of a motif goes round by that."""
        layer = one.address.layer
        if not layer:
            return self.side / 10, 90.0
        if layer not in self._measures:
            self._measures[layer] = _size_and_period(self.design.layer(layer), self.design)
        size, period = self._measures[layer]
        turns_it = isinstance(one.dial, Angle) and self.design.layer(layer).rule(one.address.rule).family == "motif"
        return size, period if turns_it else 90.0


def _unlocked(one: Movable, before: Design, after: Design) -> bool:
    """Whether a dial that is locked has changed with another it hangs together with."""
    was, now = one.address.found(before)[1], one.address.found(after)[1]
    return any(was.holds(name) and getattr(was, name) != getattr(now, name, None) for name in was.dials())


def _size_and_period(layer: AnyLayer, design: Design) -> tuple[float, float]:
    side = min(design.sheet.width, design.sheet.height)
    chain = next(iter(layer.chains()), None)
    if chain is None or chain.id != layer.id:
        return side / 10, 90.0
    around = surroundings(chain, design.sheet)
    turns = symmetry_of(np.asarray(around.corners)) if around.corners is not None and len(around.corners) < 200 else 1
    return around.size, min(90.0, 360.0 / max(turns, 1))


@dataclass(frozen=True)
class Lots:
    """Chance by names: the same seed, place, attempt and name give the same lot anywhere."""

    seed: int
    place: int
    attempt: int

    def of(self, name: str) -> float:
        """Return a lot from 0 to below 1."""
        text = f"{self.seed}/{self.place}/{self.attempt}/{name}".encode()
        return int.from_bytes(hashlib.blake2b(text, digest_size=8).digest(), "big") / 2.0**64

    def named(self, name: str) -> Callable[[str], float]:
        """Return the lots of what is called so."""
        return lambda own: self.of(f"{name} {own}")
