"""The tree of layers: seen where there are many, by mouse and by keys; several chosen are laid, hidden, grouped, moved together."""

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractItemView, QLineEdit, QPushButton

from under_lattice.declare.frozen import edited
from under_lattice.library.layers import chain
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.paints.ink import Ink
from under_lattice.ui.panels.layer_tree import HOW, LOCKED, NAME, SEEN

CTRL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier


@pytest.fixture
def tree(hands):
    """Fourteen layers and a group of two, the front one first: A to N, then the floor."""
    own = hands.document.design.layers
    many = tuple(edited(chain(name, Ellipse(width=20.0), Ink()), id=f"id-{name}") for name in "ABCDEFGHIJKLMN")
    hands.document.apply("many", edited(hands.document.design, layers=(*many, *own)))
    hands.settle()
    tree = hands.studio.tree
    hands.bot.waitUntil(tree.isVisible, timeout=3000)
    return tree


def spot(tree, name, column=NAME):
    rows = tree.rows
    item = tree.items[f"id-{name}"]
    rows.scrollToItem(item)
    box = rows.visualItemRect(item)
    return QPoint(rows.header().sectionPosition(column) + rows.header().sectionSize(column) // 2, box.center().y())


def press(tree, name, column=NAME, held=Qt.KeyboardModifier.NoModifier):
    QTest.mouseClick(tree.rows.viewport(), Qt.MouseButton.LeftButton, held, spot(tree, name, column))


def order(hands):
    return "".join(layer.name for layer in hands.document.design.layers if len(layer.name) == 1)


def test_it_stands_in_place_of_the_chips_where_these_cannot_be_named(hands, tree):
    assert not hands.studio.chips.isVisible()
    assert "15 layers" in tree.count.text()
    hands.do("undo")
    hands.bot.waitUntil(lambda: hands.studio.chips.isVisible() and not tree.isVisible(), timeout=3000)


def test_a_press_chooses_a_layer_and_eye_and_lock_are_pressed(hands, tree):
    press(tree, "C")
    assert hands.studio.layer == "id-C"
    press(tree, "E", SEEN)
    assert hands.document.design.layer("id-E").hidden
    press(tree, "E", SEEN)
    assert not hands.document.design.layer("id-E").hidden
    press(tree, "E", LOCKED)
    assert hands.document.design.layer("id-E").locked


def test_several_are_laid_hidden_and_removed_together(hands, tree):
    press(tree, "B")
    press(tree, "D", held=SHIFT)
    press(tree, "G", held=CTRL)
    assert tree.picked() == ("id-B", "id-C", "id-D", "id-G")
    assert tree.bar.isVisible()
    assert "4 layers" in tree.bar.words.text()
    hands.type_in(tree.bar.opacity, "40")
    tree.bar.blend.setCurrentText("multiply")
    tree.bar.blend.textActivated.emit("multiply")
    ends = [hands.document.design.layer(f"id-{name}").end for name in "BCDG"]
    assert {(end.opacity, end.blend) for end in ends} == {(40.0, "multiply")}
    assert tree.items["id-C"].text(HOW) == "multiply 40 %"
    assert tree.picked() == ("id-B", "id-C", "id-D", "id-G")  # still chosen
    tree.rows.setFocus()
    QTest.keyClick(tree.rows, Qt.Key.Key_Space)
    assert all(hands.document.design.layer(f"id-{name}").hidden for name in "BCDG")
    QTest.keyClick(tree.rows, Qt.Key.Key_Delete)
    assert order(hands) == "AEFHIJKLMN"
    hands.do("undo")
    assert order(hands) == "ABCDEFGHIJKLMN"


def test_keys_choose_move_and_rename_in_place(hands, tree):
    press(tree, "B")
    tree.rows.setFocus()
    QTest.keyClick(tree.rows, Qt.Key.Key_Down)
    assert hands.studio.layer == "id-C"
    QTest.keyClick(tree.rows, Qt.Key.Key_Down, CTRL)
    assert order(hands).startswith("ABDC")
    QTest.keyClick(tree.rows, Qt.Key.Key_Up, CTRL)
    QTest.keyClick(tree.rows, Qt.Key.Key_Up, CTRL)
    assert order(hands).startswith("ACB")
    QTest.keyClick(tree.rows, Qt.Key.Key_F2)
    editor = tree.rows.findChild(QLineEdit)
    assert editor is not None
    editor.selectAll()
    QTest.keyClicks(editor, "Spray")
    QTest.keyClick(editor, Qt.Key.Key_Return)
    hands.bot.waitUntil(lambda: hands.document.design.layer("id-C").name == "Spray", timeout=3000)
    hands.do("undo")
    assert hands.document.design.layer("id-C").name == "C"


def test_several_are_grouped_and_others_dropped_into_the_group_and_out(hands, tree):
    press(tree, "B")
    press(tree, "D", held=CTRL)
    next(button for button in tree.bar.findChildren(QPushButton) if button.text() == "Group").click()
    group = hands.document.design.layers[1]
    assert [layer.name for layer in group.members] == ["B", "D"]
    assert hands.studio.layer == group.id
    press(tree, "H")
    tree.rows.dropped.emit(group.id, 1)  # as a drop on the second place in it
    assert [layer.name for layer in hands.document.design.layer(group.id).members] == ["B", "H", "D"]
    assert tree.items["id-H"].parent() is tree.items[group.id]
    tree.rows.dropped.emit("", 0)
    assert order(hands).startswith("HA")
    press(tree, "H")
    assert tree.rows.dragDropMode() == QAbstractItemView.DragDropMode.InternalMove


def test_one_is_shown_alone_for_a_while_and_the_work_stays_as_it_is(hands, tree):
    before = hands.document.design
    press(tree, "C")
    hands.do("alone_layer")
    hands.settle()
    assert hands.document.design == before
    assert hands.studio.looked.alone == "id-C"
    assert tree.items["id-D"].toolTip(SEEN) == "hidden"
    assert tree.items["id-C"].toolTip(SEEN) == "seen"
    hands.do("alone_layer")
    assert not hands.studio.looked.alone
    assert tree.items["id-D"].toolTip(SEEN) == "seen"
