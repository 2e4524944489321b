"""A work opens piece by piece; what is on its way to a card that goes is left aside."""

import threading
import time
from dataclasses import replace
from itertools import pairwise

import pytest
from PySide6.QtCore import QEvent, QObject
from PySide6.QtWidgets import QApplication

from tests.chains import work_of
from tests.window.conftest import Hands
from under_lattice.core.errors import GivenUp, InputError
from under_lattice.library import demo
from under_lattice.rules import Ink, Lattice, Lettering
from under_lattice.ui.dials import font_row, hand
from under_lattice.ui.workers.in_turn import InTurn
from under_lattice.ui.workers.worker import Job, Urgency, worker


def test_one_thing_is_done_in_each_pass_in_order_and_more_may_be_added_meanwhile(qtbot):
    owner, done = QObject(), []
    turns = InTurn(owner)
    assert turns.ended
    for k in range(3):
        turns.add(lambda k=k: done.append(k))
    turns.add(lambda: turns.add(lambda: done.append("late")))
    assert done == []
    counts = []
    while not turns.ended:
        QApplication.processEvents()
        counts.append(len(done))
    assert done == [0, 1, 2, "late"]
    assert all(after - before <= 1 for before, after in pairwise(counts))


def test_nothing_is_done_while_something_else_is_made_nor_in_the_pass_in_which_that_ends(qtbot):
    owner, done, free = QObject(), [], [False]
    turns = InTurn(owner, lambda: free[0])
    turns.add(lambda: done.append(1))
    qtbot.wait(100)
    assert done == []
    free[0] = True
    turns._go_on()  # it ended in this very pass
    assert done == []
    qtbot.waitUntil(lambda: done == [1], timeout=5000)


def test_a_fault_of_one_keeps_no_other_from_its_turn(qtbot):
    owner, done = QObject(), []
    turns = InTurn(owner)
    with qtbot.captureExceptions() as met:
        turns.add(lambda: done.append(1 / 0))
        turns.add(lambda: done.append("next"))
        qtbot.waitUntil(lambda: turns.ended, timeout=5000)
    assert done == ["next"]
    assert [kind for kind, *_ in met] == [ZeroDivisionError]


class Shown(QObject):
    """How often a page was shown."""

    def __init__(self, page):
        super().__init__()
        self.count = 0
        page.installEventFilter(self)

    def eventFilter(self, page, event):
        self.count += event.type() == QEvent.Type.Show
        return False


def test_from_one_work_to_the_next_nothing_else_is_shown_and_each_has_all_its_parts(window, qtbot):
    hands = Hands(qtbot, window).show(demo("entrance-floor"))
    book = Shown(window.start_page)
    for name in ("ceiling-rosette", "festival-poster", "kelp-curtain", "air-grille"):
        left = window.studio
        window.show_work(demo(name))
        assert window.stack.currentWidget() is window.studio
        assert window.stack.indexOf(left) == -1
        hands.settle()
        studio = window.studio
        assert studio.has("tray")
        assert studio.strip_shown == (demo(name).strip is not None)
        assert studio.has("string") == bool(demo(name).design.motions)
        card = studio.chain.cards[studio.chain.open_rule]
        assert card.hand.rule.family == "repeat"
        assert [one for one in card.form.rows.values() if one.isVisible()]
        qtbot.wait(200)  # longer than nothing is said of work under way
        assert not studio.facts_line.stop.isVisible()
    assert book.count == 0
    window.show_book()
    assert window.start_page.isVisible()


def test_what_a_row_waits_for_is_left_when_its_rule_goes(qtbot, window, monkeypatch):
    go_on, listed = threading.Event(), []

    def slowly():
        assert go_on.wait(20)
        listed.append(True)
        return ["Some font"]

    monkeypatch.setattr(font_row, "system_fonts", slowly)
    hands = Hands(qtbot, window).show(work_of(Lettering(), Lattice(), Ink()))
    hands.open("motif")
    hands.row("motif", "font")
    hands.do("add_shape")
    layer = next(one for one in hands.document.design.layers if any(rule.kind == "lettering" for rule in one.own_rules))
    hands.studio.choose_layer(layer.id)
    hands.open("motif")
    hands.row("motif", "font")
    hands.do("remove_layer")  # with the card open, and the list of fonts on its way
    go_on.set()
    qtbot.waitUntil(lambda: bool(listed), timeout=20_000)
    qtbot.wait(100)
    assert hands.document.design.layers
    assert all(rule.kind != "lettering" for one in hands.document.design.layers for rule in one.own_rules)


def test_an_answer_on_its_way_is_dropped_with_its_owner(qtbot):
    owner, came, ready = QObject(), [], threading.Event()
    worker().ask(Job("on its way", Urgency.SHEET, lambda _: ready.set(), came.append, owner=owner))
    assert ready.wait(20)
    while worker().busy(owner):  # its answer waits for this thread
        pass
    worker().drop(owner)
    qtbot.wait(50)
    assert came == []
    worker().ask(Job("another", Urgency.SHEET, lambda _: 7, came.append, owner=owner))
    qtbot.waitUntil(lambda: came == [7], timeout=5000)


def test_a_choice_waits_no_longer_than_a_moment_for_a_rule_that_never_asks(hands, monkeypatch):
    row = hands.row("lattice", "spacing")
    hands.settle()
    hands.bot.waitUntil(lambda: hands.studio.facts.of is hands.layer, timeout=20_000)
    pitch = hands.studio.facts.values[hands.rule("lattice").id]["pitch"]
    go_on, begun = threading.Event(), threading.Event()

    def slowly(*_):
        begun.set()
        assert go_on.wait(20)
        return {}

    monkeypatch.setattr(hand, "derived_values", slowly)
    row.hand.facts = replace(row.hand.facts, of=None)  # the work has changed since it was measured
    times = time.monotonic()
    row.turn("free")
    assert time.monotonic() - times < 5.0  # it would be twenty
    assert begun.is_set()
    assert hands.rule("lattice").spacing == "free"
    assert hands.rule("lattice").pitch == pytest.approx(pitch, abs=0.01)  # as it was last measured
    go_on.set()


def test_what_is_done_at_once_gives_its_answer_or_its_refusal_or_is_given_up(qtbot):
    def refuse(_):
        raise InputError("not so")

    def on_and_on(progress):
        while True:
            progress.check()

    assert worker().at_once(lambda _: 7, 5.0) == 7
    with pytest.raises(InputError, match="not so"):
        worker().at_once(refuse, 5.0)
    with pytest.raises(GivenUp):
        worker().at_once(on_and_on, 0.05)
    qtbot.waitUntil(lambda: not [one for one in threading.enumerate() if one.name == "at once"], timeout=5000)
