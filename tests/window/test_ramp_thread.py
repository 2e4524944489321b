"""The thread of a ramp: beads by mouse and by keys, each act one step of undo, figures typed."""

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from under_lattice.colour.ramp_text import stops_of_text


@pytest.fixture
def row(hands):
    fill = hands.row("ink", "inside")
    fill.combo.setCurrentText("straight ramp")
    fill.combo.textActivated.emit("straight ramp")
    hands.settle()
    row = hands.row("ink", "ramp")
    hands.studio.chain.ensureWidgetVisible(row)
    hands.bot.waitUntil(row.thread_.isVisible, timeout=3000)
    return row


def places(hands):
    return [round(stop.place, 2) for stop in hands.rule("ink").stops()]


def spot(row, place):
    return QPoint(round(row.thread_.x_of(place)), round(row.thread_.bead(0).y()))


def test_a_press_adds_a_bead_in_the_colour_that_is_there_and_nothing_changes_to_see(hands, row):
    before = hands.document.design
    assert hands.rule("ink").ramp == ""
    assert places(hands) == [0.0, 0.5, 1.0]
    QTest.mouseClick(row.thread_, Qt.MouseButton.LeftButton, pos=QPoint(spot(row, 0.25).x(), 8))
    assert places(hands) == pytest.approx([0.0, 0.25, 0.5, 1.0], abs=0.01)
    halfway = hands.rule("ink").stops()[1].colour
    one, other = (hands.rule("ink").palette[k] for k in (0, 1))
    for k in (1, 3, 5):
        mean = (int(one[k : k + 2], 16) + int(other[k : k + 2], 16)) / 2
        assert int(halfway[k : k + 2], 16) == pytest.approx(mean, abs=3)
    hands.do("undo")
    assert hands.document.design == before


def test_beads_are_dragged_between_their_neighbours_and_off_the_thread(hands, row):
    QTest.mouseClick(row.thread_, Qt.MouseButton.LeftButton, pos=QPoint(spot(row, 0.25).x(), 8))
    wide = row.thread_.width()
    hands.drag(row.thread_, spot(row, 0.25), (wide, 0))
    assert places(hands) == pytest.approx([0.0, 0.5, 0.5, 1.0], abs=0.01)  # not past the next
    hands.do("undo")
    assert places(hands) == pytest.approx([0.0, 0.25, 0.5, 1.0], abs=0.01)
    hands.drag(row.thread_, spot(row, 0.5), (0, 120))
    assert places(hands) == pytest.approx([0.0, 0.25, 1.0], abs=0.01)
    hands.do("undo")
    assert places(hands) == pytest.approx([0.0, 0.25, 0.5, 1.0], abs=0.01)


def test_halfway_is_dragged_by_its_sign(hands, row):
    start = row.thread_.sign(0).toPoint()
    hands.drag(row.thread_, start, (round(row.thread_.x_of(0.4) - row.thread_.x_of(0.25)), 0))
    assert hands.rule("ink").stops()[0].middle == pytest.approx(0.8, abs=0.03)
    assert places(hands) == [0.0, 0.5, 1.0]


def test_keys_choose_move_add_and_remove(hands, row):
    thread = row.thread_
    thread.setFocus()
    QTest.keyClick(thread, Qt.Key.Key_PageDown)
    QTest.keyClick(thread, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    QTest.keyClick(thread, Qt.Key.Key_Left)
    assert places(hands) == [0.0, 0.59, 1.0]
    QTest.keyClick(thread, Qt.Key.Key_Right, Qt.KeyboardModifier.AltModifier)
    assert hands.rule("ink").stops()[1].middle == pytest.approx(0.55)
    QTest.keyClick(thread, Qt.Key.Key_Insert)
    assert len(places(hands)) == 4
    QTest.keyClick(thread, Qt.Key.Key_Delete)
    QTest.keyClick(thread, Qt.Key.Key_Delete)
    QTest.keyClick(thread, Qt.Key.Key_Delete)
    assert len(places(hands)) == 2  # two stay
    QTest.keyClick(thread, Qt.Key.Key_Return)
    assert QApplication.activePopupWidget() is row.panel
    row.panel.close()


def test_figures_and_colour_of_the_chosen_bead_are_typed_and_the_palette_comes_back(hands, row):
    row.thread_.choose(1)
    hands.type_in(row.place, "30")
    hands.type_in(row.alpha, "40")
    QTest.mouseClick(row.swatch, Qt.MouseButton.LeftButton)
    row.panel.hex.selectAll()
    QTest.keyClicks(row.panel.hex, "teal")
    QTest.keyClick(row.panel.hex, Qt.Key.Key_Return)
    stop = hands.rule("ink").stops()[1]
    assert (stop.place, stop.alpha, stop.colour) == (0.3, 0.4, "#008080")
    assert stops_of_text(hands.rule("ink").ramp)[1] == stop
    assert row.even.isVisible()
    QTest.mouseClick(row.even, Qt.MouseButton.LeftButton)
    assert hands.rule("ink").ramp == ""
    assert places(hands) == [0.0, 0.5, 1.0]
    hands.bot.waitUntil(lambda: not row.even.isVisible(), timeout=2000)
