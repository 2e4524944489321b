"""The panel of one colour: written in several ways, closed by keys, before and after, on to the next swatch; colours of tiles."""

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QMenu

from tests.window.test_by_hand import point_at
from under_lattice.colour.colour import contrast, to_oklch
from under_lattice.ui.dials.colour_panel import ColourPanel


@pytest.fixture
def row(hands):
    return hands.row("ink", "palette")


def write(panel, text):
    panel.hex.selectAll()
    QTest.keyClicks(panel.hex, text)


@pytest.mark.parametrize(
    ("text", "meant"), [("#f00", "#FF0000"), ("teal", "#008080"), ("rgb(1, 2, 3)", "#010203"), ("C4694C", "#C4694C")]
)
def test_a_colour_is_taken_as_it_is_written_and_enter_closes(hands, row, text, meant):
    before = hands.document.design
    QTest.mouseClick(row.swatches[1], Qt.MouseButton.LeftButton)
    write(row.panel, text)
    assert hands.rule("ink").palette[1] == meant
    QTest.keyClick(row.panel.hex, Qt.Key.Key_Return)
    hands.bot.waitUntil(lambda: QApplication.activePopupWidget() is None, timeout=2000)
    assert hands.rule("ink").palette[1] == meant
    hands.do("undo")  # one step
    assert hands.document.design == before


def test_escape_closes_and_takes_back(hands, row):
    before = hands.document.design
    QTest.mouseClick(row.swatches[0], Qt.MouseButton.LeftButton)
    write(row.panel, "#00f")
    assert hands.rule("ink").palette[0] == "#0000FF"
    QTest.keyClick(row.panel.hex, Qt.Key.Key_Escape)
    hands.bot.waitUntil(lambda: QApplication.activePopupWidget() is None, timeout=2000)
    assert hands.document.design == before


def test_before_and_after_stand_side_by_side_and_a_press_brings_the_colour_back(hands, row):
    was = hands.rule("ink").palette[2]
    QTest.mouseClick(row.swatches[2], Qt.MouseButton.LeftButton)
    panel = row.panel
    write(panel, "#0a0")
    assert (panel.before.value, panel.swatch.value) == (was, "#00AA00")
    QTest.mouseClick(panel.before, Qt.MouseButton.LeftButton)
    assert hands.rule("ink").palette[2] == was == panel.swatch.value
    panel.close()


def test_a_press_on_the_next_swatch_goes_on_to_it(hands, row, monkeypatch):
    opened, show = [], ColourPanel.open_under
    monkeypatch.setattr(ColourPanel, "open_under", lambda panel, anchor: (opened.append(panel.before.value), show(panel, anchor)))
    QTest.mouseClick(row.swatches[0], Qt.MouseButton.LeftButton)
    first = row.panel
    QTest.mouseClick(first, Qt.MouseButton.LeftButton, pos=first.mapFromGlobal(row.swatches[1].mapToGlobal(QPoint(10, 10))))
    hands.bot.waitUntil(lambda: len(opened) == 2, timeout=2000)
    assert opened == list(hands.rule("ink").palette[:2])


def test_what_is_no_colour_is_marked_after_a_pause_and_changes_nothing(hands, row):
    was = hands.rule("ink").palette
    QTest.mouseClick(row.swatches[0], Qt.MouseButton.LeftButton)
    write(row.panel, "te")
    assert row.panel.error.isHidden()
    hands.bot.waitUntil(lambda: row.panel.error.isVisible(), timeout=3000)
    assert "not a colour" in row.panel.error.text()
    QTest.keyClicks(row.panel.hex, "al")
    assert row.panel.error.isHidden()
    assert hands.rule("ink").palette[0] == "#008080" != was[0]
    row.panel.close()


def test_a_right_press_on_a_tile_offers_its_colour(hands):
    hands.studio.chain.open("")
    point_at(hands, 6, 9)
    value = hands.studio.colour_under_pointer()
    assert value in hands.rule("ink").palette
    hands.studio.sheet.menu_wanted.emit(QPoint(300, 300))
    menu = hands.window.findChildren(QMenu)[-1]
    entries = {entry.text(): entry for entry in menu.actions()}
    entries["Copy the colour"].trigger()
    assert QGuiApplication.clipboard().text() == value
    entries[f"Colour {value}…"].trigger()
    menu.close()
    hands.bot.waitUntil(
        lambda: hands.card("ink").form is not None and hasattr(hands.card("ink").form.rows["palette"], "panel"), timeout=3000
    )
    panel = hands.card("ink").form.rows["palette"].panel
    assert panel.before.value == value
    write(panel, "black")
    panel.close()
    assert "#000000" in hands.rule("ink").palette


@pytest.mark.parametrize(
    ("text", "meant"),
    [
        ("oklch(70% 0.1 200)", "#40B1B7"),
        ("hsl(20 50% 50%)", "#BF6A40"),
        ("hsb(20, 50%, 80%)", "#CC8866"),
        ("hwb(20 10% 20%)", "#CC551A"),
    ],
)
def test_functions_of_the_standards_are_understood(hands, row, text, meant):
    QTest.mouseClick(row.swatches[0], Qt.MouseButton.LeftButton)
    write(row.panel, text)
    assert hands.rule("ink").palette[0] == meant
    assert row.panel.error.isHidden()
    row.panel.close()


def test_what_srgb_does_not_have_is_said_and_its_chroma_lowered(hands, row):
    QTest.mouseClick(row.swatches[0], Qt.MouseButton.LeftButton)
    write(row.panel, "oklch(0.7 0.4 30)")
    assert "beyond what sRGB shows" in row.panel.error.text()
    assert row.panel.error.isVisible()
    lightness, chroma, hue = to_oklch(hands.rule("ink").palette[0])
    assert (lightness, hue) == pytest.approx((0.7, 30), abs=0.6)
    assert chroma < 0.25
    row.panel.close()


def test_the_colour_stands_beside_the_others_with_its_contrast(hands, row):
    palette = hands.rule("ink").palette
    QTest.mouseClick(row.swatches[0], Qt.MouseButton.LeftButton)
    pairs = row.panel.pairs
    assert pairs.isVisible()
    assert set(palette[1:]) <= set(pairs.others)
    assert f"{contrast(palette[0], palette[1]):.1f} to 1" in pairs.accessibleName()
    write(row.panel, "#000")
    assert f"{contrast('#000000', palette[1]):.1f} to 1" in pairs.accessibleName()
    row.panel.close()
