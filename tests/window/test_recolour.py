"""The view of all colours, and the bar of their shares: changed everywhere at once, one step of undo, taken back by Cancel."""

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from tests.window.conftest import gone
from under_lattice.library.palettes import PALETTES
from under_lattice.ui.dialogs.recolour_dialog import RecolourDialog
from under_lattice.work.colours import uses_of


@pytest.fixture
def view(hands):
    hands.settle()
    hands.do("recolour")
    found = [one for one in QApplication.topLevelWidgets() if isinstance(one, RecolourDialog) and one.isVisible()]
    assert len(found) == 1
    yield found[0]
    if not gone(found[0]):
        found[0].reject()


def test_all_colours_stand_there_with_their_shares(hands, view):
    assert list(view.rows) == list(uses_of(hands.document.design))
    hands.bot.waitUntil(lambda: all(row[3].text().endswith("%") for row in view.rows.values()), timeout=10_000)
    assert sum(float(row[3].text().removesuffix(" %")) for row in view.rows.values()) == pytest.approx(100, abs=2)


def test_one_colour_is_changed_everywhere_and_cancel_takes_it_back(hands, view):
    before = hands.document.design
    value = next(iter(view.rows))
    QTest.mouseClick(view.rows[value][1], Qt.MouseButton.LeftButton)
    view.panel.hex.selectAll()
    QTest.keyClicks(view.panel.hex, "#123456")
    view.panel.close()
    assert value not in uses_of(hands.document.design)
    assert len(uses_of(hands.document.design)["#123456"]) == len(view.uses[value])
    assert view.rows[value][2].text() == "#123456"
    view.reject()
    assert hands.document.design == before
    hands.settle()


def test_a_palette_and_a_turn_of_all_hues_are_one_step_of_undo(hands, view):
    before = hands.document.design
    view.palette_.setCurrentText("Kelp")
    view.palette_.activated.emit(0)
    assert set(uses_of(hands.document.design)) <= set(PALETTES["Kelp"])
    hands.type_in(view.fields["Hue"], "120")
    assert view.sliders["Hue"].value == 120.0
    assert not set(uses_of(hands.document.design)) & set(PALETTES["Kelp"])
    hands.type_in(view.fields["Hue"], "0")
    assert set(uses_of(hands.document.design)) <= set(PALETTES["Kelp"])
    view.accept()
    hands.do("undo")
    assert hands.document.design == before


def test_the_colours_of_one_layer_alone(hands, view):
    view.scope.setCurrentIndex(1)
    view.scope.activated.emit(1)
    assert set(view.rows) == set(uses_of(hands.document.design, hands.studio.layer))
    ground = hands.document.design.sheet.background
    view.palette_.setCurrentText("Two greys")
    view.palette_.activated.emit(0)
    assert hands.document.design.sheet.background == ground


def test_shares_stand_under_the_palette_and_a_press_shows_where_a_colour_is(hands):
    row = hands.row("ink", "palette")
    hands.bot.waitUntil(lambda: row.shares.isVisible() and len(row.shares.parts) == 3, timeout=10_000)
    said = dict(row.shares.parts)
    assert set(said) == set(hands.rule("ink").palette)
    assert 50 < sum(said.values()) <= 100
    box = row.shares.boxes()[1]
    QTest.mouseClick(row.shares, Qt.MouseButton.LeftButton, pos=QPoint(round(box.center().x()), row.shares.height() // 2))
    lit = hands.studio.sheet.lit
    assert lit is not None
    assert lit.size() == hands.studio.sheet.picture.size()
    assert row.shares.parts[1][0] in row.shares.accessibleDescription()
    QTest.keyClick(row.shares, Qt.Key.Key_Right)
    assert row.shares.at == 2
    hands.studio.sheet.put_out()
    assert hands.studio.sheet.lit is None
