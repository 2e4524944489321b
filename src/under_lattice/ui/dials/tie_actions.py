"""Entries of a number's menu that tie it to a named dial of the work, or let it go."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtWidgets import QInputDialog, QWidget

from under_lattice.core.errors import InputError
from under_lattice.ui.dials.hand import Hand
from under_lattice.vary.numbers import Varied
from under_lattice.work.model import Design
from under_lattice.work.named import add_named, named, tie, tie_of, untie

Entry = tuple[str, Callable[[], None], bool]


def tie_words(hand: Hand, name: str) -> str:
    """Return what a dial follows, in words."""
    rule, said = hand.rule, []
    for place in _places(hand, name):
        dial = tie_of(rule, place)
        if dial:
            said.append(f"{_whose(place)}follows {named(hand.document.design, dial).name}")
    return ", ".join(said)


def tie_entries(hand: Hand, name: str, parent: QWidget) -> list[Entry]:
    """Return the entries for a dial, or for start and end of one that varies."""
    out: list[Entry] = []
    design, kind = hand.document.design, hand.rule.dials()[name].kind
    for place in _places(hand, name):
        whose, dial = _whose(place), tie_of(hand.rule, place)
        if dial:
            words = f"{whose}goes its own way, not with “{named(design, dial).name}”"
            out.append((words, partial(_change, hand, "Let go", place, untie), True))
            continue
        for one in (one for one in design.dials if one.measure == kind):
            follow = partial(_change, hand, "Tie", place, partial(tie, dial=one.id))
            out.append((f"{whose}follows “{one.name}”", follow, True))
        out.append((f"{whose}as a named dial…" if whose else "Make a named dial of it…", partial(_make, hand, place, parent), True))
    return [(words[:1].upper() + words[1:], act, possible) for words, act, possible in out]


def _places(hand: Hand, name: str) -> tuple[str, ...]:
    value = getattr(hand.rule, name)
    if not isinstance(value, Varied):
        return (name,)
    return () if value.formula or value.taken else (f"{name}.start", f"{name}.end")


def _whose(place: str) -> str:
    end = place.partition(".")[2]
    return f"{end} " if end else ""


def _make(hand: Hand, place: str, parent: QWidget) -> None:
    label = hand.title(place.partition(".")[0])
    name, taken = QInputDialog.getText(parent, "Named dial", "Name of the dial that others can follow", text=label)
    if not taken or not name.strip():
        return

    def made(design: Design, layer: str, rule: str, place: str) -> Design:
        if len(design.dials) > before:  # the other of two that are turned as one follows the same dial
            return tie(design, layer, rule, place, design.dials[-1].id)
        return add_named(design, layer, rule, place, name)

    before = len(hand.document.design.dials)
    _change(hand, "Make a named dial", place, made)


def _change(hand: Hand, words: str, place: str, change: Callable[..., Design]) -> None:
    """Change a place, and the same place of a dial that is turned as one with its."""
    dial, dot, end = place.partition(".")
    design = hand.document.design
    try:
        for one in hand.as_one(dial):
            design = change(design, hand.layer, hand.rule_id, place=f"{one}{dot}{end}")
    except InputError as error:
        hand.say(error.message)
        return
    hand.document.apply(words, design)
