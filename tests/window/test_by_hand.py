"""Single copies by hand: pointed at on the sheet, touched up, left out, let go."""

import pytest
from PySide6.QtCore import QPoint
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QMenu

from tests.chains import work_of
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.rosette import Rosette
from under_lattice.rules.shared.anchor import Anchor


@pytest.fixture
def squares(hands):
    """Five squares by three, and a way to point at a place of the sheet."""
    grid = Lattice(form="squares", spacing="free", pitch=40.0, row_pitch=40.0, extent="by number", columns=5, rows=3)
    hands.window.show_work(work_of(Polygon(sides=4, size=14.0), grid, Ink()))
    hands.bot.waitUntil(lambda: hands.studio.settled and hands.studio.facts.copies == 15, timeout=20_000)
    return hands


def point_at(hands, x, y):
    at = hands.studio.sheet.to_widget(x, y)
    hands.studio.sheet.pointed.emit(*hands.studio.sheet.to_page(at))
    hands.bot.waitUntil(lambda: hands.studio.under_pointer() is not None, timeout=20_000)


def test_a_copy_is_touched_up_from_the_menu_dragged_and_typed_and_undone(squares):
    point_at(squares, 40, 0)
    squares.studio.sheet.menu_wanted.emit(QPoint(300, 300))
    menu = squares.window.findChildren(QMenu)[-1]
    words = [entry.text() for entry in menu.actions()]
    assert words == ["Colour #EFE4CF…", "Copy the colour", "Touch up this copy", "Leave this copy out"]
    menu.actions()[2].trigger()
    menu.close()
    squares.settle()
    squares.bot.waitUntil(lambda: squares.studio.sheet.handles is not None, timeout=5000)
    (touch,) = squares.rule("touch-up").picks
    assert touch.at == ((squares.rule("lattice").id, 0, 1),)
    before = squares.document.design
    squares.drag(squares.studio.sheet, squares.handle("move 1"), (30, 20))
    squares.settle()
    moved = squares.rule("touch-up").picks[0]
    assert moved.x == pytest.approx(30 / squares.studio.sheet.scale, abs=0.6)
    field = squares.open("touch-up").rows["picks"].fields["turn"]
    field.setFocus()
    field.selectAll()
    QTest.keyClicks(field, "30")
    squares.settle()
    assert squares.rule("touch-up").picks[0].turn == 30.0
    squares.do("undo")
    squares.do("undo")
    assert squares.document.design == before


def test_a_copy_is_left_out_and_let_go_again(squares):
    point_at(squares, -40, 40)
    squares.do("leave_out_copy")
    squares.bot.waitUntil(lambda: squares.studio.settled and squares.studio.facts.copies == 14, timeout=10_000)
    row = squares.open("leave-out").rows["picks"]
    assert row.combo.currentText() == "1: Lattice 1, -1"
    row.drop.click()
    squares.bot.waitUntil(lambda: squares.studio.settled and squares.studio.facts.copies == 15, timeout=10_000)
    assert row.none.isVisibleTo(row)


def test_without_a_copy_it_says_what_to_do(squares):
    squares.studio._picked = None
    squares.do("touch_copy")
    assert "Point at a copy" in squares.studio.facts_line.sentence
    assert len(squares.layer.rules) == 3


def test_the_same_place_in_every_ring(hands):
    grid = Lattice(form="squares", spacing="free", pitch=60.0, row_pitch=60.0, extent="by number", columns=3, rows=3)
    hands.window.show_work(work_of(Polygon(sides=4, size=10.0), Rosette(count=6, radius=20.0), grid, Ink()))
    hands.bot.waitUntil(lambda: hands.studio.settled and hands.studio.facts.copies == 54, timeout=20_000)
    point_at(hands, 0, -20)
    hands.do("touch_alike")
    hands.settle()
    (touch,) = hands.rule("touch-up").picks
    assert touch.at == ((hands.rule("rosette").id, 0, 0),)


def test_doubles_are_shown_where_they_lie_and_left_out_by_their_cure(hands):
    again = Rosette(count=4, radius_by="as it stands", pivot=Anchor(spot="sheet centre"))
    hands.window.show_work(work_of(Polygon(sides=4, size=10.0), Rosette(count=4, radius=40.0), again, Ink()))
    line = hands.studio.facts_line
    hands.bot.waitUntil(lambda: hands.studio.settled and "exactly on another" in line.warning.text(), timeout=20_000)
    line.warning.click()
    assert len(hands.studio.sheet.under.rings) == 12
    assert line.cure.text() == "Leave them out"
    line.cure.click()
    hands.bot.waitUntil(lambda: hands.studio.settled and hands.studio.facts.copies == 4, timeout=10_000)
    assert hands.rule("leave-out").which == "exact doubles"
    hands.do("undo")
    hands.bot.waitUntil(lambda: hands.studio.settled and hands.studio.facts.copies == 16, timeout=10_000)
