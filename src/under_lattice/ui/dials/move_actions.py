"""Entries of a dial's menu that let it move over the loop, along with others, or stop it."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from under_lattice.declare.dials import Angle, NumberDial
from under_lattice.loop.hanging import title_of
from under_lattice.loop.moment import is_number, stored
from under_lattice.ui.dials.hand import Hand
from under_lattice.vary.numbers import Varied

Entry = tuple[str, Callable[[], None], bool]
AS_ONE = " as one"
OTHERS_MOST = 4  # motions it may move along with, that stand in the menu


def ends_of(hand: Hand, name: str) -> tuple[str, ...]:
    """Return what of a dial can move: itself, or start and end of a number that varies; nothing where a formula says it."""
    value = getattr(hand.rule, name)
    if not isinstance(value, Varied):
        return ("",)
    return () if value.formula or value.taken else ("start", "end")


def moves_words(hand: Hand, name: str) -> str:
    """Return how a dial moves, in words."""
    said = []
    for end in ("", "start", "end"):
        motion = hand.motion(name, end)
        if motion is not None:
            count = len(motion.beads)
            how = f"{count} value{'s' if count > 1 else ''} over the loop" if motion.course == "hung" else motion.course
            said.append(f"{end} moves: {how}".strip())
    return ", ".join(said)


def begin(hand: Hand, how: str, name: str, end: str) -> None:
    """Ask that a dial moves, with the other that is turned as one with it, if there is one."""
    both = len(hand.as_one(name)) > 1
    hand.ask(f"move {how}{AS_ONE if both else ''}", name, end)


def move_entries(hand: Hand, name: str) -> list[Entry]:
    """Return the entries for a dial, or for start and end of one that varies."""
    design, dial = hand.document.design, hand.rule.dials()[name]
    out: list[Entry] = []
    for end in ends_of(hand, name):
        whose = f"its {end}" if end else "this"
        if hand.motion(name, end) is not None:
            out.append((f"Stop moving {whose}", partial(hand.ask, "move stop", name, end), True))
            continue
        out.append((f"Move {whose}: hang values", partial(begin, hand, "hung", name, end), True))
        value = stored(design, hand.place(name, end))
        if isinstance(dial, NumberDial) and is_number(value):
            out.append((f"Move {whose}: swing", partial(begin, hand, "swing", name, end), True))
        if isinstance(dial, Angle):
            out.append((f"Move {whose}: a whole turn", partial(begin, hand, "whole turn", name, end), True))
        alike = [one for one in design.motions if is_number(one.beads[0].value) == is_number(value)]
        for one in alike[:OTHERS_MOST]:
            words = f"Move {whose} with {title_of(design, one)}"
            out.append((words, partial(begin, hand, f"with {one.id}", name, end), True))
    return out
