"""Groups, linked layers and the way back, in the window."""

from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPushButton

from under_lattice.rules.pixel_motif import PixelMotif
from under_lattice.work.edits import exchange_motif


def press(widget):
    QTest.mouseClick(widget, Qt.MouseButton.LeftButton)


def test_a_compound_is_made_opened_and_left_again(hands):
    member = hands.studio.layer
    hands.do("compound")
    hands.settle()
    outer = hands.studio.layer
    assert outer != member
    row = hands.row("layer-motif", "layer")
    press(next(b for b in row.findChildren(QPushButton) if b.accessibleName().startswith("Show")))
    assert hands.studio.layer == member
    back = hands.studio.back.findChildren(QPushButton)[0]
    assert "Back to" in back.text()
    press(back)
    assert hands.studio.layer == outer
    hands.do("undo")
    hands.settle()
    assert [chain.id for chain in hands.document.design.chains()] == [member]


def test_layers_are_grouped_and_ungrouped(hands):
    hands.window.layer_actions.add_layer("squares")
    hands.do("group_layer")
    assert len(hands.document.design.layers) == 1
    assert "in group" in next(iter(hands.studio.chips.chips.values())).accessibleName()
    hands.do("ungroup_layer")
    assert len(hands.document.design.layers) == 2


def test_a_frozen_layer_comes_in_front_and_the_live_one_stays_hidden(hands):
    live = hands.studio.layer
    hands.do("freeze")
    hands.bot.waitUntil(lambda: len(hands.document.design.chains()) == 2, timeout=20_000)
    assert hands.studio.layer != live
    assert hands.document.design.chain(live).hidden
    hands.settle()
    hands.bot.waitUntil(lambda: hands.studio.facts.copies > 100, timeout=20_000)


def test_squares_are_put_with_the_mouse_and_with_keys(hands):
    layer = hands.studio.layer
    hands.studio.edit("", lambda design: exchange_motif(design, layer, PixelMotif(drawing="1../...")))
    row = hands.row(hands.layer.rules[0].handle, "drawing")
    side = row.grid.side
    hands.drag(row.grid, QPoint(round(side * 1.5), round(side * 1.5)), (round(side), 0))
    assert hands.layer.rules[0].drawing == "1../.11"
    row.grid.setFocus()
    QTest.keyClick(row.grid, Qt.Key.Key_Up)
    QTest.keyClick(row.grid, Qt.Key.Key_Space)
    assert hands.layer.rules[0].drawing == "1.1/.11"
    hands.do("undo")
    hands.do("undo")
    assert hands.layer.rules[0].drawing == "1../..."
    more = next(b for b in row.findChildren(QPushButton) if b.accessibleName() == "Rows: one more")
    press(more)
    assert hands.layer.rules[0].drawing == "1../.../..."
