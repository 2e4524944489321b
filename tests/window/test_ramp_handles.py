"""The centre and the end of a ramp are dragged on the sheet, moved by keys, and each drag is one step of undo."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from under_lattice.rules.paints.ramp_handles import CENTRE, END
from under_lattice.work.edits import set_dials


@pytest.fixture
def round_ramp(hands):
    ink = hands.rule("ink").id
    values = {"colours": "one colour", "inside": "round ramp", "ramp_of": "the sheet"}
    hands.studio.edit("Ramp", lambda design: set_dials(design, "floor", ink, values))
    hands.settle()
    hands.open("ink")
    hands.settle()
    return hands


def test_the_centre_and_the_end_are_dragged(round_ramp):
    hands = round_ramp
    before, scale = hands.document.design, hands.studio.sheet.scale
    hands.drag(hands.studio.sheet, hands.handle(CENTRE), (40, -30))
    sheet = hands.document.design.sheet
    ink = hands.rule("ink")
    assert ink.ramp_across == pytest.approx(50 + 100 * 40 / scale / sheet.width, abs=0.6)
    assert ink.ramp_down == pytest.approx(50 - 100 * 30 / scale / sheet.height, abs=0.6)
    hands.settle()
    reach = hands.rule("ink").ramp_reach
    hands.drag(hands.studio.sheet, hands.handle(END), (-60, 0))
    assert hands.rule("ink").ramp_reach < reach
    hands.do("undo")
    assert hands.rule("ink") == ink
    hands.do("undo")
    assert hands.document.design == before


def test_a_flat_ink_has_none(hands):
    hands.open("ink")
    hands.settle()
    found = hands.studio.sheet.handles
    assert found is None or not found.handles


def test_keys_move_a_picked_handle(round_ramp):
    hands = round_ramp
    QTest.mouseClick(hands.studio.sheet, Qt.MouseButton.LeftButton, pos=hands.handle(CENTRE))
    was = hands.rule("ink").ramp_across
    for _ in range(3):
        QTest.keyClick(hands.studio.sheet, Qt.Key.Key_Right)
    assert hands.rule("ink").ramp_across > was
