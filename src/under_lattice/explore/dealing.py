"""Siblings: random relatives of a design, near to far, each a whole live work.

A deal hangs on nothing but its arguments: chance is drawn by the names of what moves, so the same arguments deal the same siblings
on any machine, and a rule that is added changes little in those there were.
"""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np

from under_lattice.core.errors import LatticeError
from under_lattice.core.progress import QUIET, Progress
from under_lattice.declare.dials import Angle, Seed
from under_lattice.declare.moving import Push
from under_lattice.explore.harmony import put_colours, recoloured
from under_lattice.explore.looks import Look, Looks, fault
from under_lattice.explore.movable import WHOLE, Movable, Movables, Scope
from under_lattice.explore.words import Change, pair
from under_lattice.rules.shared.runs import symmetry_of
from under_lattice.work.layers import AnyLayer
from under_lattice.work.model import Design
from under_lattice.work.suggest import surroundings

COUNT, TRIES = 8, 40
FEWEST, MOST_FAR = 1, 5  # things that change in a near one, and in a far one
NEAR = 0.1  # of the reach, at the near end of the thread
ROUSED, ROUSED_AFTER = 1.35, 3  # after so many tries that looked the same they are pushed so much harder
RECOLOUR = (0.3, 0.7)  # how often colours move, near and far, when they are free
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
    within, hung = looks.allowing(now), [now]
    for place in range(terms.count):
        same = 0
        for attempt in range(TRIES):
            progress.check()
            sibling = hand.proposed(place, attempt, ROUSED ** (same // ROUSED_AFTER))
            if sibling is None:
                break
            look, why = _looked(within, sibling.design, now, hung, progress)
            same += why == "same"
            if look is not None and not why:
                hung.append(look)
                yield replace(sibling, distance=look.away(now))
                break


def _looked(looks: Looks, design: Design, now: Look, hung: list[Look], progress: Progress) -> tuple[Look | None, str]:
    """The look of a design, and why it may not hang."""
    try:
        look = looks.look(design, progress)
    except LatticeError:
        return None, "over"
    return look, fault(look, now, hung[1:])


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
        along = place / max(self.terms.count - 1, 1)
        strength = max(self.terms.reach, 0.02) * (NEAR + (1 - NEAR) * along) * harder
        lots = Lots(self.terms.seed, place, attempt)
        recolour = self.terms.colours and lots.of("recolour") < RECOLOUR[0] + (RECOLOUR[1] - RECOLOUR[0]) * along
        names = [one for one in self.movables.free if not one.is_colour and (along > WORDLESS or not one.is_choice)]
        names.sort(key=lambda one: lots.of(f"choose {one.key}") ** (1 / one.weight), reverse=True)
        wanted = FEWEST + round(lots.of("how many") * (1 + (MOST_FAR - 2) * along * min(1.0, 2 * self.terms.reach)))
        sibling = Sibling(self.design, (), place=place)
        for one in names:
            if len(sibling.changes) >= wanted:
                break
            sibling = self._moved(sibling, one, self._push(one, strength, lots)) or sibling
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
        colours = [colour for one in there for colour in ((one.value,) if isinstance(one.value, str) else one.value)]
        whole = self.terms.scope == WHOLE and sibling.design.sheet.background
        map_to = recoloured([*colours, *((sibling.design.sheet.background,) if whole else ())], push)
        design = sibling.design
        try:
            for one in there:
                design = one.put(design, put_colours(one.value, map_to))
        except LatticeError:
            return sibling
        if whole:
            sheet = design.sheet.model_copy(update={"background": map_to[design.sheet.background]})
            design = design.model_copy(update={"sheet": sheet})
        if design == sibling.design:
            return sibling
        shown = list(dict.fromkeys(colours))[:1] or [sibling.design.sheet.background]
        change = Change("", "", f"Colours, {len(map_to)} together", shown[0], map_to[shown[0]])
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
