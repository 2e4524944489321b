"""A work opens piece by piece; what is on its way to a card that goes is left aside."""

import threading
from itertools import pairwise

from PySide6.QtCore import QEvent, QObject
from PySide6.QtWidgets import QApplication

from tests.chains import work_of
from tests.window.conftest import Hands
from under_lattice.library import demo
from under_lattice.rules import Ink, Lattice, Lettering
from under_lattice.ui.dials import font_row
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
