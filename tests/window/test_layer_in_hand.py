"""A whole layer or group is dragged on the sheet; shapes are filled with another layer by hand."""

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from under_lattice.library import demo
from under_lattice.rules.ends.layer_handles import MOVE, SIZE, TURN
from under_lattice.rules.paints.ramp_handles import CENTRE
from under_lattice.work.edits import set_dials
from under_lattice.work.grouping import group_with_next
from under_lattice.work.linking import linked_to


@pytest.fixture
def board(hands):
    hands.show(demo("tide-board"))
    hands.studio.looked.layer = "sun"
    hands.settle()
    hands.open("layer")
    hands.settle()
    return hands


def end(hands):
    return hands.rule("layer")


def test_it_is_moved_turned_and_sized_and_each_drag_is_one_step(board):
    hands, before = board, board.document.design
    start = hands.handle(MOVE)
    hands.drag(hands.studio.sheet, start, (50, -30))
    scale = hands.studio.sheet.scale
    assert (end(hands).place_x, end(hands).place_y) == pytest.approx((50 / scale, -30 / scale), abs=1.0)
    hands.settle()
    moved = hands.document.design
    hands.drag(hands.studio.sheet, hands.handle(TURN), (60, 60))
    assert 20 < end(hands).place_turn < 80
    hands.settle()
    away = hands.handle(SIZE) - hands.handle(MOVE)
    hands.drag(hands.studio.sheet, hands.handle(SIZE), (away.x(), away.y()))
    assert end(hands).place_size == pytest.approx(200, abs=8)
    hands.do("undo")
    hands.do("undo")
    assert hands.document.design == moved
    hands.do("undo")
    assert hands.document.design == before


def test_escape_takes_a_drag_back_and_keys_move_it(board):
    hands, before = board, board.document.design
    sheet, start = hands.studio.sheet, hands.handle(MOVE)
    hands.drag(sheet, start, (40, 40), keep=False)
    QTest.keyClick(sheet, Qt.Key.Key_Escape)
    QTest.mouseRelease(sheet, Qt.MouseButton.LeftButton, pos=start + QPoint(40, 40))
    assert hands.document.design == before
    hands.settle()
    sheet.setFocus()
    for _ in range(9):
        if sheet.picked == MOVE:
            break
        QTest.keyClick(sheet, Qt.Key.Key_PageDown)
    QTest.keyClick(sheet, Qt.Key.Key_Right)
    assert end(hands).place_x > 0


def test_a_member_of_a_turned_group_follows_the_hand(board):
    hands = board
    hands.studio.edit("Group", lambda design: group_with_next(design, "buoys"))
    hands.settle()
    (group,) = [layer for layer in hands.document.design.layers if layer.members]
    hands.studio.edit("Turn", lambda design: set_dials(design, group.id, group.end.id, {"place_turn": 90.0}))
    hands.studio.looked.layer = "sun"
    hands.settle()
    hands.open("layer")
    hands.settle()
    hands.drag(hands.studio.sheet, hands.handle(MOVE), (0, 40))
    scale = hands.studio.sheet.scale
    assert end(hands).place_x == pytest.approx(40 / scale, abs=1.0)
    assert end(hands).place_y == pytest.approx(0.0, abs=1.0)


def test_the_ramp_of_a_mask_is_dragged_too(board):
    hands = board
    hands.studio.edit("Mask", lambda design: set_dials(design, "sun", end(hands).id, {"masked": "round ramp"}))
    hands.settle()
    hands.studio.edit("Aside", lambda design: set_dials(design, "sun", end(hands).id, {"mask_across": 80.0}))
    hands.settle()
    scale = hands.studio.sheet.scale
    hands.drag(hands.studio.sheet, hands.handle(CENTRE), (-60, 20))
    wide, high = hands.document.design.sheet.width, hands.document.design.sheet.height
    assert end(hands).mask_across == pytest.approx(80 - 100 * 60 / scale / wide, abs=0.6)
    assert end(hands).mask_down == pytest.approx(50 + 100 * 20 / scale / high, abs=0.6)
    assert end(hands).place_x == 0


def test_a_shape_is_filled_with_another_layer_by_hand(board):
    hands = board
    form = hands.open("ink")
    form.rows["inside"].combo.setCurrentText("another layer")
    form.rows["inside"].combo.textActivated.emit("another layer")
    hands.settle()
    combo = form.rows["pattern"].combo
    words = [combo.itemText(k) for k in range(combo.count())]
    assert "Scales" in words
    assert "Sun" not in words  # itself
    combo.setCurrentIndex(words.index("Scales"))
    combo.activated.emit(words.index("Scales"))
    hands.settle()
    assert hands.rule("ink").pattern == "scales"
    assert not form.rows["palette"].isVisible()
    picture = hands.studio.found.results["sun"]
    assert picture.last.inks[-1][1].filled_with("scales") is not None
    hands.do("undo")
    hands.do("undo")
    hands.settle()
    assert hands.rule("ink").inside == "flat"
    assert form.rows["palette"].isVisible()


def test_a_layer_is_linked_and_unlinked_by_its_commands(board):
    hands, before = board, board.document.design
    hands.do("link_layer")
    hands.settle()
    copy = hands.layer
    assert linked_to(copy) == "sun"
    hands.studio.edit("Colour", lambda design: set_dials(design, "sun", design.layer("sun").rules[1].id, {"palette": ("#123456",)}))
    hands.settle()
    picture = hands.studio.found.results[copy.id]
    assert picture.others["sun"].coats[0].fill[0, :3].tolist() == [0x12, 0x34, 0x56]
    hands.do("unlink_layer")
    hands.settle()
    assert linked_to(hands.layer) == ""
    assert hands.layer.rules[1].palette == ("#123456",)
    for _ in range(3):
        hands.do("undo")
    assert hands.document.design == before


def test_the_mask_is_shown_under_a_veil_and_painting_goes_on(board):
    hands = board
    hands.studio.edit("Mask", lambda design: set_dials(design, "sun", end(hands).id, {"masked": "straight ramp"}))
    hands.settle()
    before = hands.studio.sheet.picture.copy()
    hands.do("show_mask")
    hands.settle()
    assert hands.studio.sheet.picture != before
    hands.studio.looked.layer = "buoys"  # which has none
    hands.settle()
    assert hands.studio.sheet.picture == before
    hands.studio.looked.layer = "sun"
    hands.settle()
    assert hands.studio.sheet.picture != before
    hands.do("show_mask")
    hands.settle()
    assert hands.studio.sheet.picture == before


def test_a_line_of_lettering_is_one_command(board):
    hands, before = board, board.document.design
    hands.do("add_words")
    hands.settle()
    assert [rule.kind for rule in hands.layer.rules] == ["lettering", "ink"]
    assert hands.document.design.layers[0] is hands.layer
    hands.do("undo")
    assert hands.document.design == before
