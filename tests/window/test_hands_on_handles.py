"""Handles by key and mouse, faster than pictures come; workers that meet a fault; views that are no edits."""

from functools import partial

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from tests.chains import work_of
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.ui.workers import engine as engine_module
from under_lattice.ui.workers import small_pictures
from under_lattice.ui.workers.background import background
from under_lattice.ui.workers.pictures import Pictures
from under_lattice.vary.numbers import Varied

KEYS = (Qt.Key.Key_Right, Qt.Key.Key_Left)


@pytest.fixture
def moved(hands):
    hands.window.show_work(work_of(Polygon(size=40.0), Adjust(x=10.0), Lattice(spacing="free", pitch=60.0)))
    hands.settle()
    hands.open("adjust")
    hands.settle()
    return hands


def pick(hands, name):
    """Walk to a handle by key."""
    sheet = hands.studio.sheet
    sheet.setFocus()
    for _ in range(9):
        if sheet.picked == name:
            return sheet
        QTest.keyClick(sheet, Qt.Key.Key_PageDown)
    raise AssertionError(f"no handle {name}")


@pytest.mark.parametrize("slow", [False, True])
def test_every_arrow_key_on_a_handle_counts_and_a_visit_is_one_step(moved, monkeypatch, slow):
    sheet = pick(moved, "move")
    before = moved.document.design
    if slow:
        monkeypatch.setattr(moved.studio.engine, "ask", lambda request: None)  # no answer comes between the keys
    places = []
    for _ in range(5):
        QTest.keyClick(sheet, Qt.Key.Key_Right)
        places.append(moved.rule("adjust"))
    assert len(set(map(repr, places))) == 5
    monkeypatch.undo()
    QTest.keyClick(sheet, Qt.Key.Key_PageDown)  # another handle: the visit is over
    moved.do("undo")
    assert moved.document.design == before


def test_escape_takes_back_what_keys_have_moved(moved):
    sheet = pick(moved, "move")
    before, undone = moved.document.design, moved.document.can_undo
    for _ in range(3):
        QTest.keyClick(sheet, Qt.Key.Key_Down)
    assert moved.document.design != before
    QTest.keyClick(sheet, Qt.Key.Key_Escape)
    assert moved.document.design == before
    assert moved.document.can_undo == undone


def test_another_button_does_not_end_a_drag(moved):
    sheet = moved.studio.sheet
    moved.open("lattice")
    moved.settle()
    at = moved.handle("first copy")
    QTest.mousePress(sheet, Qt.MouseButton.LeftButton, pos=at)
    QTest.mouseMove(sheet, at + QPoint(20, 0))
    half = moved.rule("lattice")
    QTest.mousePress(sheet, Qt.MouseButton.RightButton, pos=at + QPoint(20, 0))
    QTest.mouseRelease(sheet, Qt.MouseButton.RightButton, pos=at + QPoint(20, 0))
    QTest.mouseMove(sheet, at + QPoint(40, 0))
    assert moved.rule("lattice") != half
    QTest.mouseRelease(sheet, Qt.MouseButton.LeftButton, pos=at + QPoint(40, 0))


def test_a_number_that_follows_a_formula_is_not_dragged(hands):
    hands.window.show_work(
        work_of(Polygon(size=Varied(rule="floor-lattice", channel="column", start=40.0, end=40.0, formula="40 + col")), Lattice())
    )
    hands.settle()
    hands.open("motif")
    hands.settle()
    before = hands.document.design
    for handle in list(hands.studio.sheet.handles.handles):
        if handle.name in ("size", "corner"):
            hands.drag(hands.studio.sheet, hands.handle(handle.name), (30, 10))
    assert hands.rule("motif").size.start == before.layers[0].rules[0].size.start


def test_the_grid_is_a_view_and_no_edit(hands):
    hands.do("grid")
    assert hands.studio.sheet.show_grid
    assert not hands.document.modified
    assert not hands.document.can_undo
    hands.window.show_work(work_of(Polygon()))
    assert hands.studio.sheet.show_grid


# -- workers: one policy for faults ---------------------------------------------------------------
def broken(*_, **__):
    raise ZeroDivisionError("inside")


def test_small_pictures_go_on_after_a_fault(qapp, qtbot):
    pictures, made, refused = Pictures(), [], []
    pictures.made.connect(lambda key, _: made.append(key))
    pictures.refused.connect(lambda key, words: refused.append((key, words)))
    pictures.want("a", broken)
    pictures.want("b", partial(small_pictures.picture_of, work_of(Polygon()).design, 20, 20))
    qtbot.waitUntil(lambda: made == ["b"], timeout=10_000)
    assert refused == [("a", "this could not be drawn (ZeroDivisionError)")]
    pictures.drop()


def test_background_work_tells_a_fault(qapp, qtbot):
    from PySide6.QtCore import QObject

    parent, told = QObject(), []
    background(parent, broken, told.append, told.append)
    qtbot.waitUntil(lambda: bool(told), timeout=5000)
    assert told == ["this could not be done (ZeroDivisionError)"]


@pytest.mark.parametrize("where", ["measure", "paint_now", "step_image"])
def test_the_engine_lives_on_after_a_fault_anywhere(hands, monkeypatch, where):
    field = hands.row("lattice", "turn").fields[0]
    field.setFocus()
    monkeypatch.setattr(engine_module, where, broken)
    QTest.keyClick(field, Qt.Key.Key_Up)
    hands.settle()
    hands.bot.wait(200)
    monkeypatch.undo()
    QTest.keyClick(field, Qt.Key.Key_Up)
    hands.settle()
    hands.bot.waitUntil(lambda: hands.studio._measured == hands.studio.asked, timeout=10_000)
    assert not hands.studio._problem


def test_a_group_is_chosen_faded_and_taken_apart(hands):
    hands.window.layer_actions.add_layer("ring")
    hands.settle()
    hands.do("group_layer")
    hands.settle()
    group = hands.document.design.layers[0]
    QTest.mouseClick(hands.studio.chips.chips[group.id], Qt.MouseButton.LeftButton)
    assert hands.studio.layer == group.id
    assert hands.studio.chain.slot.isHidden()
    hands.studio.chain.open(group.end.id)
    card = hands.studio.chain.cards[group.end.id]
    assert card.head.title == f"Group {group.name}"
    hands.type_in(card.form.rows["opacity"].fields[0], "40")
    hands.settle()
    assert hands.document.design.layers[0].end.opacity == 40
    hands.do("lock_layer")
    hands.type_in(card.form.rows["opacity"].fields[0], "60")
    assert "locked" in card.form.rows["opacity"].error.said
    assert hands.document.design.layers[0].end.opacity == 40
    hands.do("lock_layer")
    hands.do("ungroup_layer")
    hands.settle()
    assert len(hands.document.design.layers) == 2
