"""Random edits through the real window, and how long each held it: short in the tests, long in `bench/soak.py`."""

import time
from collections import Counter
from collections.abc import Callable
from random import Random  # noqa: TID251 (each has its own, by a seed)

from PySide6.QtCore import QEvent, QEventLoop, QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QComboBox, QDialog, QMenu

from under_lattice.declare.dials import NumberDial
from under_lattice.library import DEMOS, demo
from under_lattice.rules import RULES
from under_lattice.ui.dialogs.chooser import PictureChooser
from under_lattice.ui.dials.field import NumberField
from under_lattice.ui.window.window import Window

KEYS = (Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_PageUp, Qt.Key.Key_PageDown)
ON_RULES = "duplicate_rule switch_rule rule_up rule_down remove_rule lock_rule unlock_all copy paste"
ON_LAYERS = """add_shape add_words duplicate_layer link_layer unlink_layer hide_layer lock_layer alone_layer layer_front layer_back
group_layer ungroup_layer take_out_layer compound source_layer remove_layer"""
ON_VIEWS = "keep deal bones handles grid whole zoom_in zoom_out light dark tray compare"
COMMANDS = f"{ON_RULES} {ON_LAYERS} {ON_VIEWS}".split()
SLOWEST = 12  # that are told
KEPT = 0.02  # s; shorter ones are many, and would be what the memory of a long run goes into
WORDS = [rule.title for rule in RULES if rule.family not in ("motif", "end")]


class StallMeter:
    """Runs the event loop in passes and keeps how long each held the window, where it was felt, and after what.

    Held by the clock, and by its own work alone: what a machine gives to others in the meantime is not in that.
    """

    def __init__(self) -> None:
        self.held: list[tuple[float, float, str]] = []
        self.after = ""
        self.lived = (0.0, 0.0)  # s, in passes

    def passes(self, seconds: float) -> None:
        """Let the window live for so long."""
        app, came = QApplication.instance(), _clocks()
        while (begun := _clocks())[0] < came[0] + seconds:
            app.processEvents(QEventLoop.ProcessEventsFlag.AllEvents, 1)
            app.sendPostedEvents(None, QEvent.Type.DeferredDelete)
            self.note(begun)
            time.sleep(0.0005)
        now, lived = _clocks(), self.lived
        self.lived = (lived[0] + now[0] - came[0], lived[1] + now[1] - came[1])

    def note(self, begun: tuple[float, float], without: tuple[float, float] = (0.0, 0.0)) -> None:
        """Keep how long something held the window that began then, `without` what is kept already."""
        wall, own = (now - then - less for now, then, less in zip(_clocks(), begun, without, strict=True))
        if wall > KEPT:
            self.held.append((wall, own, self.after))

    def event(self, act: Callable[..., object], *given: object) -> None:
        """One event, as a press of a key."""
        begun, lived = _clocks(), self.lived
        act(*given)
        self.note(begun, tuple(now - then for now, then in zip(self.lived, lived, strict=True)))

    def over(self, ms: float) -> int:
        return sum(1000 * held > ms for held, _, _ in self.held)

    def over_of_its_own(self, ms: float) -> int:
        return sum(1000 * own > ms for _, own, _ in self.held)

    def slowest(self) -> list[str]:
        longest = sorted(self.held, key=lambda one: -one[1])[:SLOWEST]
        return [f"{1000 * own:.0f} ms of its own, {1000 * held:.0f} by the clock, after {after}" for held, own, after in longest]


def _clocks() -> tuple[float, float]:
    return time.perf_counter(), time.thread_time()


class Soak:
    """A person who does anything at all; the same seed does the same."""

    def __init__(self, window: Window, seed: int = 0) -> None:
        self.window, self.dice, self.meter = window, Random(seed), StallMeter()
        self.event = self.meter.event
        self.done: Counter[str] = Counter()
        self.acts = {self.nudge: 30, self.type: 15, self.open_card: 15, self.command: 14, self.choose: 8, self.undo: 8}
        self.acts |= {self.add: 4, self.point: 4, self.drag: 6, self.open_work: 2}

    def step(self, settle: float = 0.15) -> None:
        """Do one thing, then let the window live."""
        if self.window.studio is None:
            self.open_work()
        act = self.dice.choices(list(self.acts), list(self.acts.values()))[0]
        self.meter.after = act.__name__
        act()
        self.done[act.__name__] += 1
        self.meter.passes(settle)
        self.put_away()

    def tell(self, what):
        self.meter.after += f" {what}"

    def put_away(self):
        """Close what stands in front, as Escape does."""
        for one in QApplication.topLevelWidgets():
            if one.isVisible() and isinstance(one, QDialog | QMenu):
                one.close()
        for chooser in self.window.findChildren(PictureChooser):
            if chooser.isVisible():
                self.event(QTest.keyClick, chooser, Qt.Key.Key_Escape)

    def some(self, kind):
        """One of the widgets of a kind that are seen, or None."""
        seen = [one for one in self.window.studio.findChildren(kind) if one.isVisible() and one.isEnabled()]
        return self.dice.choice(seen) if seen else None

    def nudge(self):
        field = self.some(NumberField)
        if field is not None:
            field.setFocus()
            key = self.dice.choice(KEYS)
            for _ in range(self.dice.randint(1, 4)):
                self.event(QTest.keyClick, field, key)
            self.tell(field.accessibleName())

    def type(self):
        form = self.form()
        rows = [row for row in form.rows.values() if isinstance(row.dial, NumberDial) and row.isVisible()] if form else []
        if rows:
            row = self.dice.choice(rows)
            low, high = row.dial.slides
            field = row.fields[0]
            field.setFocus()
            field.selectAll()
            text = self.dice.choice([f"{self.dice.uniform(low, high):.3g}", "", "x", "1e99", "97 %", "3 + 4"])
            for letter in text:
                self.event(QTest.keyClicks, field, letter)
            self.event(QTest.keyClick, field, self.dice.choice([Qt.Key.Key_Return, Qt.Key.Key_Tab, Qt.Key.Key_Escape]))
            self.tell(f"{row.name} {text}")

    def form(self):
        return next((card.form for card in self.window.studio.chain.cards.values() if card.form and card.form.isVisible()), None)

    def open_card(self):
        cards = [card for card in self.window.studio.chain.cards.values() if card.head.isVisible()]
        if cards:
            card = self.dice.choice(cards)
            self.tell(card.head.accessibleName())
            self.event(QTest.mouseClick, card.head, Qt.MouseButton.LeftButton)

    def command(self):
        key = self.dice.choice(COMMANDS)
        action = self.window.actions_by_key[key]
        self.tell(key)
        if action.isEnabled():
            self.event(action.trigger)

    def choose(self):
        combo = self.some(QComboBox)
        if combo is not None:
            combo.setFocus()
            self.event(QTest.keyClick, combo, self.dice.choice([Qt.Key.Key_Up, Qt.Key.Key_Down]))
            self.tell(combo.accessibleName())

    def undo(self):
        for _ in range(self.dice.randint(1, 5)):
            self.event(self.window.actions_by_key[self.dice.choice(["undo", "undo", "redo"])].trigger)

    def add(self):
        self.event(self.window.actions_by_key["add_rule"].trigger)
        self.meter.passes(0.1)
        chooser = next((one for one in self.window.findChildren(PictureChooser) if one.isVisible()), None)
        if chooser is not None:
            word = self.dice.choice(WORDS)
            for letter in word:
                self.event(QTest.keyClicks, QApplication.focusWidget() or chooser, letter)
            self.event(QTest.keyClick, QApplication.focusWidget() or chooser, Qt.Key.Key_Return)
            self.tell(word)

    def spot(self):
        sheet = self.window.studio.sheet
        return QPoint(self.dice.randrange(sheet.width()), self.dice.randrange(sheet.height()))

    def point(self):
        sheet, at = self.window.studio.sheet, self.spot()
        self.event(QTest.mouseMove, sheet, at)
        self.meter.passes(0.05)
        self.event(QTest.mouseClick, sheet, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at)

    def drag(self):
        sheet = self.window.studio.sheet
        handles = sheet.handles.handles if sheet.handles is not None else ()
        begin = sheet.points_of(self.dice.choice(handles).at)[0].toPoint() if handles else self.spot()
        self.event(QTest.mousePress, sheet, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, begin)
        for _ in range(6):
            begin += QPoint(self.dice.randint(-9, 9), self.dice.randint(-9, 9))
            self.event(QTest.mouseMove, sheet, begin)
            self.meter.passes(0.01)
        self.event(QTest.mouseRelease, sheet, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, begin)

    def open_work(self) -> None:
        name = self.dice.choice(sorted(DEMOS))
        self.tell(name)
        self.event(self.window.show_work, demo(name))
