"""Painting a mask on the sheet: strokes by drags, each one step of undo, straight with Shift, shown again, Escape ends."""

import numpy as np
import pytest
from PySide6.QtCore import QEvent, QPoint, QPointF, Qt
from PySide6.QtGui import QInputDevice, QMouseEvent, QPointingDevice, QTabletEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QPushButton

from under_lattice.declare.frozen import edited
from under_lattice.declare.mask_strokes import strokes_of_text
from under_lattice.work.edits import set_dials
from under_lattice.work.grouping import group_of

LEFT = Qt.MouseButton.LeftButton
PEN = QPointingDevice(
    "pen", 1, QInputDevice.DeviceType.Stylus, QPointingDevice.PointerType.Pen,
    QInputDevice.Capability.Position | QInputDevice.Capability.Pressure, 1, 1,
)  # fmt: skip


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


def pen(sheet, kind, at, pressure):
    """What a tablet's pen sends."""
    held = LEFT if kind != QEvent.Type.TabletRelease else Qt.MouseButton.NoButton
    button = Qt.MouseButton.NoButton if kind == QEvent.Type.TabletMove else LEFT
    where = QPointF(at), QPointF(sheet.mapToGlobal(at))
    none = Qt.KeyboardModifier.NoModifier
    QApplication.sendEvent(sheet, QTabletEvent(kind, PEN, *where, pressure, 0, 0, 0, 0, 0, none, button, held))
    mouse = {
        QEvent.Type.TabletPress: QEvent.Type.MouseButtonPress,
        QEvent.Type.TabletMove: QEvent.Type.MouseMove,
        QEvent.Type.TabletRelease: QEvent.Type.MouseButtonRelease,
    }[kind]
    QApplication.sendEvent(sheet, QMouseEvent(mouse, *where, button, held, none))  # follows what was not taken


def test_a_pen_paints_as_wide_as_it_is_pressed(painting):
    sheet, at = painting.studio.sheet, middle(painting)
    pen(sheet, QEvent.Type.TabletPress, at, 0.2)
    for k in range(1, 11):
        pen(sheet, QEvent.Type.TabletMove, at + QPoint(12 * k, 0), 0.2 + 0.08 * k)
    pen(sheet, QEvent.Type.TabletRelease, at + QPoint(120, 0), 0.0)
    (made,) = strokes(painting)
    assert made.pressure[0] == pytest.approx(0.2, abs=0.02)
    assert made.pressure[-1] == pytest.approx(1.0, abs=0.02)
    painting.drag(sheet, at, (0, 60))  # the mouse has no pressure, and none is left from the pen
    assert strokes(painting)[1].pressure is None
    painting.do("undo")
    painting.do("undo")
    assert strokes(painting) == ()
    painting.settle()
