"""The hand on a rule's dials: reads them from the work and turns them, one visit being one step of undo."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from under_lattice.core.errors import GivenUp, InputError
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.cache import SHARED
from under_lattice.evaluate.derived import derived_values
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.loop.moment import motion_at
from under_lattice.loop.turning import hang_all
from under_lattice.measure.facts import Facts
from under_lattice.rules.base import EVERY, Rule
from under_lattice.rules.findings import NoEffect
from under_lattice.ui.state.document import Document
from under_lattice.ui.workers.worker import worker
from under_lattice.vary.motion import Motion, Place
from under_lattice.vary.numbers import Varied
from under_lattice.work.address import Address
from under_lattice.work.edits import set_dials, with_picture
from under_lattice.work.layers import AnyLayer
from under_lattice.work.model import Design, Sheet
from under_lattice.work.pictures import StoredPicture
from under_lattice.work.suggest import sources_of
from under_lattice.work.turning import turned, turned_together

SOON = 0.05  # s, that a number may be waited for


class Hand:
    """Edits one rule of one layer."""

    def __init__(
        self,
        document: Document,
        layer: str,
        rule: str,
        say: Callable[[str], None],
        ask: Callable[[str, Address], None] = lambda what, address: None,
        stepped: Callable[[], Mapping[Address, str]] = dict,
        scale: Callable[[], float] = float,
        loupe: Callable[[Callable[[str], None]], None] | None = None,
        recording: Callable[[], bool] = bool,
    ) -> None:
        self.document, self.layer, self.rule_id, self._say, self._ask = document, layer, rule, say, ask
        self.loupe = loupe  # takes a colour from the sheet
        self.scale = scale  # px of the screen for each unit of a length
        self.stepped = stepped  # the dials on the test strip, each with the sign of its axis
        self.facts = Facts()
        self.joined: dict[str, str] = {}  # dials that are turned as one with another, each with that other
        self._recording = recording  # whether all that is turned is hung at the moment that is shown
        self._seen: tuple[Design, float | None, AnyLayer, Rule] | None = None

    @property
    def owner(self) -> AnyLayer:
        """The layer whose rule it is."""
        return self._now()[2]

    @property
    def rule(self) -> Rule:
        """The rule as it is now, at the moment that is shown."""
        seen, document = self._seen, self.document
        if seen is not None and seen[0] is document.work.design and (seen[1] is None or seen[1] == document.moment()):
            return seen[3]
        return self._now()[3]

    def _now(self) -> tuple[Design, float | None, AnyLayer, Rule]:
        """The layer and the rule in the present design, looked up once for each moment of it."""
        design = self.document.work.design
        time = self.document.moment() if design.motions else None
        if self._seen is None or self._seen[0] is not design or self._seen[1] != time:
            layer = (design if time is None else self.document.seen_at(time)).layer(self.layer)
            self._seen = (design, time, layer, layer.rule(self.rule_id))
        return self._seen

    def motion(self, name: str, end: str = "") -> Motion | None:
        """Return the motion that moves a dial, or one end of a number that varies, if one does."""
        design = self.document.work.design
        return motion_at(design, self.place(name, end)) if design.motions else None

    def place(self, name: str, end: str = "") -> Place:
        """Return what a motion would move of a dial."""
        return Place.model_validate({"layer": self.layer, "rule": self.rule_id, "dial": name, "end": end})

    @property
    def sheet(self) -> Sheet:
        """The sheet."""
        return self.document.design.sheet

    def unit_of(self, name: str) -> str:
        """Return the unit a dial is shown in."""
        dial = self.rule.dials()[name]
        return getattr(dial, "unit", "") or (self.sheet.unit if dial.kind == "length" else "")

    def sources(self, name: str) -> list[Rule]:
        """Return the repeats a number may vary by."""
        return sources_of(self.owner, self.rule, name)

    def derived(self, name: str) -> float | None:
        """Return the computed value of a dial that follows from a choice now."""
        rule = self.rule
        tied = getattr(rule.dials()[name], "tied", None)
        if tied is None or getattr(rule, tied.field) != tied.value:
            return None
        return self.facts.values.get(rule.id, {}).get(name)

    def only_one(self, value: Varied) -> str:
        """Return in words that what a number varies by is there once only, so that it does not vary; or nothing."""
        count = self.facts.values.get(value.rule, {}).get(f"{value.channel}s")
        return f"only one {value.channel}" if count == 1 else ""

    def show_colour(self, name: str, colour: str) -> None:
        """Ask that it is shown where on the sheet a colour of a dial is."""
        self._ask(f"where {colour}", Address(self.layer, self.rule_id, name))

    def words(self, name: str) -> str:
        """Return what was computed for a dial, in words."""
        return self.facts.derived.get(self.rule_id, {}).get(name, "")

    def check(self, name: str, value: Any) -> None:
        """Refuse a value the rule would refuse.

        Raises
        ------
        InputError
        """
        edited(self.rule, **self.rule.converted(name, value))

    def check_end(self, name: str, value: Any, end: str) -> None:
        """Refuse a value the rule would refuse at one end of a number that varies, or as a whole.

        Raises
        ------
        InputError
        """
        own = getattr(self.rule, name)
        self.check(name, edited(own, **{end: value}) if end and isinstance(own, Varied) else value)

    def turn(self, name: str, value: Any, visit: object | None = None, end: str = "") -> str:
        """Set a dial, or one end of a number that varies; returns a sentence when it is refused."""
        try:
            design = self.document.design
            if self.motion(name, end) is not None or self._recording():
                self.check_end(name, value, end)
                places = [self.place(one, end) for one in self.as_one(name)]
                moved = hang_all(design, places, self.document.moment(), value)
                self.document.apply(f"{self.rule.shown_name()}, {self.title(name)} hung", moved, visit)
                return ""
            for one in self.as_one(name):
                design = turned(design, Address(self.layer, self.rule_id, one, end), value, self._derived, carries=True)
        except InputError as error:
            return error.message
        self.document.apply(f"{self.rule.shown_name()}, {self.title(name)}", design, visit)
        return ""

    def without_effect(self) -> Mapping[str, NoEffect]:
        """Return the dials that change nothing as the rule and its motif stand."""
        _, _, layer, rule = self._now()
        rules = layer.own_rules if rule.family == "paint" else ()  # inks alone may have no say beside a motif
        return rule.without_effect(rules[0] if rules else None)

    def give_effect(self, found: NoEffect) -> None:
        """Set what would give a dial an effect."""
        try:
            design = turned_together(self.document.design, self.layer, found.rule or self.rule_id, found.changes)
        except InputError as error:
            self.say(error.message)
        else:
            self.document.apply(found.cure, design)

    def as_one(self, name: str) -> tuple[str, ...]:
        """Return a dial and the other that is turned as one with it, if there is one."""
        return (name, self.joined[name]) if name in self.joined else (name,)

    def title(self, name: str) -> str:
        """Return what a dial is called; of two that are turned as one what both are."""
        dials = self.rule.dials()
        return getattr(dials[self.joined[name]], "both", "") if name in self.joined else dials[name].label

    def _derived(self, design: Design, layer: str, rule: str) -> Mapping[str, float]:
        """The numbers that follow from a choice now: as measured, if that was of the work as it is, else worked out.

        Mostly that is done for the picture already; where it would take long, those last measured.
        """
        measured = self.facts.values.get(rule, {})
        if self.facts.of is self.owner:
            return measured
        try:
            return worker().at_once(lambda progress: derived_values(design, layer, rule, Evaluator(SHARED), progress), SOON)
        except GivenUp:
            return measured

    def bring(self, picture: StoredPicture, visit: object) -> None:
        """Add a picture to the work, as part of a visit that goes on to use it."""
        self.document.apply(f"Picture {picture.name}", with_picture(self.document.design, picture), visit)

    def set_locked(self, name: str, locked: bool) -> None:
        """Lock or unlock a dial."""
        rule = self.rule
        held = tuple(rule.dials()) if EVERY in rule.locked else rule.locked  # of a rule that is locked whole, all but this stay so
        own = self.as_one(name)
        rest = tuple(one for one in held if one not in own)
        design = set_dials(self.document.design, self.layer, self.rule_id, {"locked": (*rest, *own) if locked else rest})
        self.document.apply("Lock" if locked else "Unlock", design)

    def ask(self, what: str, name: str, end: str = "") -> None:
        """Ask others to do something with a dial: ``siblings``, a ``strip``, or ``lock but``."""
        self._ask(what, Address(self.layer, self.rule_id, name, end))

    def on_strip(self, name: str) -> str:
        """Return the sign of the axis of the test strip that steps a dial, or an end of it; nothing where none does."""
        places = self.stepped()
        if not places:
            return ""
        here = (self.layer, self.rule_id, name)
        return "".join(sign for one, sign in places.items() if (one.layer, one.rule, one.dial) == here)

    def say(self, sentence: str) -> None:
        """Tell the person something in the facts line."""
        self._say(sentence)
