"""What is refused is not half accepted, and undo works from every field."""

from itertools import combinations

import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QWidget

from tests.chains import work_of
from tests.window.conftest import Hands
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.motifs.lettering import Lettering
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.vary.numbers import Varied

CONTROL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier
UNDO, REDO = (Qt.Key.Key_Z, CONTROL), (Qt.Key.Key_Z, CONTROL | SHIFT)


@pytest.fixture
def hexagon(qtbot, window):
    return Hands(qtbot, window).show(work_of(Polygon(size=36.0), Lattice()))


LEFT_BY = {"~97 %": "tab", "1 %%": "enter", "1e9": "a pause", "12 ells": "tab", "5/": "enter", "41..2": "a pause"}


@pytest.mark.parametrize(("text", "leaving"), LEFT_BY.items())
def test_a_refusal_goes_back_to_the_number_the_visit_began_with(hexagon, text, leaving):
    row = hexagon.row("motif", "size")
    hexagon.type_in(row.fields[0], text)
    match leaving:
        case "tab":
            QTest.keyClick(row.fields[0], Qt.Key.Key_Tab)
        case "enter":
            QTest.keyClick(row.fields[0], Qt.Key.Key_Return)
    hexagon.bot.waitUntil(lambda: bool(row.error.said), timeout=3000)
    assert hexagon.rule("motif").size == 36.0
    assert not hexagon.document.can_undo
    hexagon.type_in(row.fields[0], "40")
    assert hexagon.rule("motif").size == 40.0
    assert not row.error.said


def test_a_refusal_keeps_what_an_earlier_visit_brought(hexagon):
    row = hexagon.row("motif", "size")
    hexagon.type_in(row.fields[0], "40")
    QTest.keyClick(row.fields[0], Qt.Key.Key_Return)
    hexagon.type_in(row.fields[0], "1e9")
    QTest.keyClick(row.fields[0], Qt.Key.Key_Return)
    assert hexagon.rule("motif").size == 40.0


def test_a_refused_number_that_follows_is_tied_again(hexagon):
    choice = hexagon.row("lattice", "spacing")
    hexagon.bot.waitUntil(choice.shown.isVisible, timeout=10_000)
    hexagon.type_in(choice.shown, "50 ells")
    QTest.keyClick(choice.shown, Qt.Key.Key_Tab)
    assert hexagon.rule("lattice").spacing == "touching"


def test_an_end_of_a_varied_number_goes_back_too(hexagon):
    lattice = hexagon.rule("lattice").id
    hexagon.open("motif").hand.turn("size", Varied(rule=lattice, channel="column", start=30.0, end=20.0))
    hexagon.settle()
    row = hexagon.row("motif", "size")
    hexagon.type_in(row.fields[1], "1e9")
    QTest.keyClick(row.fields[1], Qt.Key.Key_Return)
    assert hexagon.rule("motif").size.end == 20.0


def test_the_sheets_own_fields_go_back(hexagon):
    hexagon.do("sheet")
    dialog = next(one for one in hexagon.window.children() if type(one).__name__ == "SheetDialog")
    dialog.activateWindow()
    hexagon.bot.waitUntil(dialog.isActiveWindow, timeout=5000)
    hexagon.type_in(dialog.fields["width"], "1e9")
    QTest.keyClick(dialog.fields["width"], Qt.Key.Key_Tab)
    assert hexagon.document.design.sheet.width == 324
    dialog.close()


def undo_from(hands, widget, shown):
    """Undo and redo with the keys, from inside a widget."""
    before, after = shown(), None
    QTest.keyClick(widget, *UNDO)
    after = shown()
    assert after != before
    QTest.keyClick(widget, *REDO)
    assert shown() == before
    QTest.keyClick(widget, *UNDO)
    assert shown() == after
    return after


@pytest.mark.parametrize("how", ["typed", "typed and entered", "nudged", "nudged thrice", "slid", "wheeled"])
def test_undo_works_from_inside_a_number(hexagon, how):
    row = hexagon.row("motif", "size")
    field = row.fields[0]
    field.setFocus()
    match how:
        case "typed" | "typed and entered":
            hexagon.type_in(field, "52")
            if how.endswith("entered"):
                QTest.keyClick(field, Qt.Key.Key_Return)
        case "nudged":
            QTest.keyClick(field, Qt.Key.Key_Up)
        case "nudged thrice":
            for _ in range(3):
                QTest.keyClick(field, Qt.Key.Key_Up)
        case "slid":
            hexagon.drag(row.slider, row.slider.rect().center(), (20, 0))
        case "wheeled":
            field.nudge(1, 0)
    assert hexagon.rule("motif").size != 36.0
    assert undo_from(hexagon, field, lambda: hexagon.rule("motif").size) == 36.0
    assert field.text() == "36.00"


def test_half_typed_text_keeps_its_own_undo(hexagon):
    hexagon.open("motif").hand.turn("size", 40.0)
    field = hexagon.row("motif", "size").fields[0]
    hexagon.type_in(field, "12 ells")
    QTest.keyClick(field, *UNDO)
    assert hexagon.rule("motif").size != 36.0


def test_undo_works_from_inside_a_text(hands):
    hands.window.show_work(work_of(Lettering(), Lattice()))
    hands.settle()
    row = hands.row("motif", "text")
    before = hands.rule("motif").text
    hands.type_in(row.field, "Tern")
    assert hands.rule("motif").text == "Tern"
    assert undo_from(hands, row.field, lambda: hands.rule("motif").text) == before
    assert row.field.text() == before


def test_undo_works_from_inside_a_colour(hands):
    hands.open("ink").hand.turn("stroke", "one colour")
    row = hands.row("ink", "stroke_colour")
    before = hands.rule("ink").stroke_colour
    hands.type_in(row.hex, "#C02020")
    assert hands.rule("ink").stroke_colour == "#C02020"
    assert undo_from(hands, row.hex, lambda: hands.rule("ink").stroke_colour) == before
    assert row.hex.text() == before


def test_no_digit_of_a_number_is_cut(hands):
    hands.window.show_work(work_of(Polygon(size=20.0), Lattice(), Adjust()))
    hands.settle()
    hand = hands.open("adjust").hand
    for value in (0.0, 9.99, 120.0, -1234.5, 123456.789):
        assert not hand.turn("x", value)
        assert_whole(hands.row("adjust", "x").fields[0])
        varied = Varied(rule=hands.rule("lattice").id, channel="column", start=value, end=value / 2 + 120)
        assert not hand.turn("y", varied)
        hands.settle()
        for field in hands.row("adjust", "y").fields:
            assert_whole(field)


def assert_whole(field):
    room = field.width() - field.textMargins().left() - field.textMargins().right() - 10
    assert field.fontMetrics().horizontalAdvance(field.text()) <= room, (field.text(), room)


def test_undo_of_a_text_that_is_refused_brings_the_number_back_and_is_no_step(hexagon):
    choice = hexagon.row("lattice", "spacing")
    hexagon.bot.waitUntil(choice.shown.isVisible, timeout=10_000)
    followed = choice.shown.text()
    for text in ("-26.6", "5/", "50 ells"):
        hexagon.type_in(choice.shown, text)
        QTest.keyClick(choice.shown, *UNDO)
        hexagon.settle()
        assert hexagon.rule("lattice").spacing == "touching"
        assert choice.shown.text() == followed
        assert not hexagon.document.can_undo
    assert not hexagon.document.can_redo


@pytest.mark.parametrize("text", ["20" + 60 * "x", 90 * "9", "12345.6789", "3 mm and some more words that go on", 12 * "𝔸"])
@pytest.mark.parametrize("dial", ["gap", "turn", "pitch"])
def test_whatever_is_put_into_a_number_no_part_of_its_row_covers_another(hands, dial, text):
    row = hands.row("lattice", dial)
    field = row.fields[0]
    field.setFocus()
    field.selectAll()
    QGuiApplication.clipboard().setText(text)
    field.paste()
    QTest.keyClick(field, Qt.Key.Key_Return)
    hands.bot.waitUntil(lambda: not covering(row), timeout=5000)
    if row.error.said:
        words = row.error.itemAt(0).widget()
        assert words.height() >= words.heightForWidth(words.width()) > 0
        assert words.minimumSizeHint().width() <= words.width()


def covering(row):
    """Parts of a row that cover another, or leave the row."""
    parts = [part for part in row.findChildren(QWidget) if part.isVisible() and part.parent() is row]
    over = [pair for pair in combinations(parts, 2) if pair[0].geometry().intersects(pair[1].geometry())]
    return over + [part for part in parts if not row.rect().contains(part.geometry())]
