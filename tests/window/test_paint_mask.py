"""Painting a mask on the sheet: strokes by drags, each one step of undo, straight with Shift, shown again, Escape ends."""

import numpy as np
import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPushButton

from under_lattice.declare.frozen import edited
from under_lattice.declare.mask_strokes import strokes_of_text
from under_lattice.work.edits import set_dials
from under_lattice.work.grouping import group_of

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def painting(hands):
    hands.open("layer")
    hands.do("paint_mask")
    assert hands.studio.sheet.brush.on
    return hands


def group_of_one(design, layer):
    members = tuple(one for one in design.layers if one.id == layer)
    return edited(design, layers=(group_of(design, "Group", members), *(one for one in design.layers if one.id != layer)))


def strokes(hands):
    return strokes_of_text(hands.layer.end.mask_strokes)


def middle(hands):
    return hands.studio.sheet.rect().center()


def test_drags_are_strokes_of_the_brush_and_each_is_one_step_of_undo(painting):
    before = painting.document.design
    sheet = painting.studio.sheet
    painting.drag(sheet, middle(painting), (120, 0))
    assert painting.layer.end.masked == "painted"
    painting.drag(sheet, middle(painting), (0, 90))
    first, second = strokes(painting)
    assert np.ptp(first.points, 0) == pytest.approx((120 / sheet.scale, 0.0), rel=0.02)
    assert np.ptp(second.points, 0) == pytest.approx((0.0, 90 / sheet.scale), rel=0.02)
    assert first.size == painting.layer.end.brush
    assert sheet.brush.on  # it goes on
    painting.do("undo")
    assert len(strokes(painting)) == 1
    painting.do("undo")
    assert painting.document.design == before
    painting.settle()


def test_what_is_painted_is_seen_in_the_picture(painting):
    sheet = painting.studio.sheet
    painting.settle()
    before = sheet.picture.pixelColor(middle(painting))
    end = painting.rule("layer")
    painting.drag(sheet, middle(painting) - QPoint(60, 0), (120, 0))
    painting.settle()
    assert strokes(painting)[0].size == end.brush
    assert sheet.picture.pixelColor(middle(painting)) != before


def test_shift_draws_straight_and_on_from_the_last_end(painting):
    sheet = painting.studio.sheet
    at = middle(painting)
    painting.drag(sheet, at, (60, 0))
    to = at + QPoint(60, 80)
    QTest.mousePress(sheet, LEFT, Qt.KeyboardModifier.ShiftModifier, to)
    QTest.mouseRelease(sheet, LEFT, Qt.KeyboardModifier.ShiftModifier, to)
    second = strokes(painting)[1]
    assert len(second.points) == 2
    assert np.ptp(second.points, 0) == pytest.approx((0.0, 80 / sheet.scale), abs=0.02 * 80)


def test_the_brush_is_turned_while_it_is_up_and_shows_again_what_it_hid(painting):
    row = painting.row("layer", "brush")
    painting.drag(painting.studio.sheet, middle(painting), (60, 0))
    row = painting.row("layer", "brush")
    painting.type_in(row.fields[0], "12")
    does = painting.row("layer", "brush_does")
    does.combo.setCurrentText("shows")
    does.combo.textActivated.emit("shows")
    assert painting.studio.sheet.brush.size == 12.0
    assert not painting.studio.sheet.brush.hides
    painting.drag(painting.studio.sheet, middle(painting), (60, 0))
    assert [(one.size, one.hides) for one in strokes(painting)] == [(30.0, True), (12.0, False)]


def test_escape_gives_up_a_stroke_and_then_the_brush_and_clear_takes_all(painting):
    sheet = painting.studio.sheet
    painting.drag(sheet, middle(painting), (60, 0))
    painting.drag(sheet, middle(painting), (60, 30), keep=False)
    QTest.keyClick(sheet, Qt.Key.Key_Escape)
    QTest.mouseRelease(sheet, LEFT, pos=middle(painting))
    assert len(strokes(painting)) == 1
    assert sheet.brush.on
    QTest.keyClick(sheet, Qt.Key.Key_Escape)
    assert not sheet.brush.on
    row = painting.row("layer", "mask_strokes")
    assert row.said.text() == "1"
    QTest.mouseClick(next(one for one in row.findChildren(QPushButton) if one.text() == "Clear"), LEFT)
    assert strokes(painting) == ()
    QTest.mouseClick(row.button, LEFT)
    assert sheet.brush.on


def test_another_layer_puts_the_brush_away(painting):
    painting.do("duplicate_layer")  # which chooses the new one
    assert not painting.studio.sheet.brush.on


def test_a_stroke_on_a_layer_of_a_moved_group_lies_under_the_pointer(painting):
    hands, sheet = painting, painting.studio.sheet
    layer = hands.layer.id
    hands.studio.edit("Group", lambda design: group_of_one(design, layer))
    (group,) = [one for one in hands.document.design.layers if one.members]
    hands.studio.edit("Turn", lambda design: set_dials(design, group.id, group.end.id, {"place_turn": 90.0, "place_x": 10.0}))
    hands.settle()
    hands.studio.looked.layer = layer
    hands.do("paint_mask")
    before = sheet.picture.pixelColor(middle(hands))
    hands.drag(sheet, middle(hands) - QPoint(0, 60), (0, 120))
    hands.settle()
    (stroke,) = strokes(hands)
    assert np.ptp(stroke.points, 0)[0] > 50 / sheet.scale  # down on the sheet is along in the turned group
    assert np.ptp(stroke.points, 0)[1] < 2 / sheet.scale
    assert sheet.picture.pixelColor(middle(hands)) != before
