"""The loupe: a colour of the sheet is taken by mouse and by keys, into a swatch or as text."""

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPushButton

from tests.window.test_by_hand import point_at
from under_lattice.ui.sheet.loupe import Loupe


def loupe_of(hands):
    return hands.studio.sheet.findChild(Loupe)


def tile(hands):
    """A point of the sheet in the middle of a tile, and its colour."""
    point_at(hands, 6, 9)
    return hands.studio.sheet.to_widget(6, 9).toPoint(), hands.studio.colour_under_pointer()


@pytest.fixture(autouse=True)
def nothing_open(hands):
    hands.studio.chain.open("")
    hands.studio.sheet.setFocus()


def test_a_press_copies_the_colour_as_text(hands):
    before = hands.document.design
    at, value = tile(hands)
    hands.do("take_colour")
    loupe = loupe_of(hands)
    QTest.mouseMove(loupe, at)
    QTest.mouseClick(loupe, Qt.MouseButton.LeftButton, pos=at)
    assert QGuiApplication.clipboard().text() == value
    hands.bot.waitUntil(lambda: loupe_of(hands) is None, timeout=2000)
    assert f"{value} is copied" in hands.studio.facts_line.sentence
    assert hands.document.design == before


def test_arrows_move_it_enter_takes_escape_gives_up(hands):
    at, value = tile(hands)
    hands.do("take_colour")
    loupe = loupe_of(hands)
    QTest.mouseMove(loupe, at + QPoint(11, -1))
    for key, shift in ((Qt.Key.Key_Left, True), (Qt.Key.Key_Left, False), (Qt.Key.Key_Down, False)):
        QTest.keyClick(loupe, key, Qt.KeyboardModifier.ShiftModifier if shift else Qt.KeyboardModifier.NoModifier)
    assert loupe.at == at
    assert loupe.value == value
    QTest.keyClick(loupe, Qt.Key.Key_Return)
    assert QGuiApplication.clipboard().text() == value
    QGuiApplication.clipboard().setText("kept")
    hands.bot.waitUntil(lambda: loupe_of(hands) is None, timeout=2000)
    hands.do("take_colour")
    QTest.keyClick(loupe_of(hands), Qt.Key.Key_Escape)
    hands.bot.waitUntil(lambda: loupe_of(hands) is None, timeout=2000)
    assert QGuiApplication.clipboard().text() == "kept"


def test_beside_the_sheet_there_is_nothing_to_take(hands):
    hands.do("take_colour")
    loupe = loupe_of(hands)
    QTest.mouseClick(loupe, Qt.MouseButton.LeftButton, pos=QPoint(2, 2))
    assert loupe_of(hands) is loupe
    assert loupe.value == ""
    QTest.mouseClick(loupe, Qt.MouseButton.RightButton, pos=QPoint(2, 2))
    hands.bot.waitUntil(lambda: loupe_of(hands) is None, timeout=2000)


def test_a_swatch_takes_it_in_one_step(hands):
    at, value = tile(hands)
    row = hands.row("ink", "palette")
    before, place = hands.document.design, next(k for k, one in enumerate(row.value) if one != value)
    QTest.mouseClick(row.swatches[place], Qt.MouseButton.LeftButton)
    button = next(one for one in row.panel.findChildren(QPushButton) if one.text() == "From the sheet")
    QTest.mouseClick(button, Qt.MouseButton.LeftButton)
    loupe = loupe_of(hands)
    QTest.mouseClick(loupe, Qt.MouseButton.LeftButton, pos=at)
    assert hands.rule("ink").palette[place] == value
    hands.do("undo")
    assert hands.document.design == before


def test_it_goes_when_the_sheet_is_seen_otherwise(hands):
    hands.do("take_colour")
    assert loupe_of(hands) is not None
    hands.do("zoom_in")
    hands.bot.waitUntil(lambda: loupe_of(hands) is None, timeout=2000)
    hands.do("zoom_out")  # nothing of it is left that hears this
