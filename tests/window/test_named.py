"""Named dials and the panel of what a number varies by, by hand."""

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QInputDialog

from tests.chains import work_of
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.ui.dialogs.chooser import PictureChooser
from under_lattice.ui.panels.named_panel import NamedPanel
from under_lattice.vary.numbers import Varied


@pytest.fixture
def grid(hands, monkeypatch):
    """A grid of squares, each of its own size; every dialog for a name answers Swell."""
    monkeypatch.setattr(QInputDialog, "getText", lambda *a, **k: ("Swell", True))
    squares = Lattice(form="squares", spacing="free", pitch=20.0, row_pitch=20.0, extent="by number", columns=6, rows=5)
    sized = Varied(rule="floor-lattice", channel="column", start=30.0, end=100.0)
    hands.window.show_work(work_of(Polygon(sides=4, size=12.0), squares, Adjust(scope="each", across=sized, along=sized)))
    hands.bot.waitUntil(lambda: hands.studio.settled and hands.studio.facts.copies == 30, timeout=20_000)
    return hands


def act(row, words):
    entries = {entry[0]: entry[1] for entry in row.actions_here()}
    assert words in entries, list(entries)
    entries[words]()


def test_a_dial_is_made_followed_turned_in_its_panel_and_let_go(grid):
    assert not grid.studio.findChild(NamedPanel).isVisibleTo(grid.studio)
    act(grid.row("lattice", "pitch"), "Make a named dial of it…")
    act(grid.row("lattice", "row_pitch"), "Follows “Swell”")
    grid.settle()
    (row,) = grid.studio.findChild(NamedPanel).rows.values()
    assert row.isVisibleTo(grid.studio)
    grid.type_in(row.field, "26")
    grid.settle()
    lattice = grid.rule("lattice")
    assert (lattice.pitch, lattice.row_pitch) == (26.0, 26.0)
    assert "follows Swell" in grid.row("lattice", "pitch").hint.said
    grid.type_in(row.field, "0")
    assert "Swell turns Lattice of Floor" in row.error.text()
    assert grid.rule("lattice").pitch == 26.0
    act(grid.row("lattice", "row_pitch"), "Goes its own way, not with “Swell”")
    grid.type_in(grid.row("lattice", "pitch").fields[0], "30")
    grid.settle()
    assert grid.document.design.dials[0].value == 30.0
    assert grid.rule("lattice").row_pitch == 26.0


def test_a_second_reading_values_in_turn_and_a_drawn_curve_are_taken_at_once(grid):
    row = grid.row("adjust", "across")
    row.open_vary()
    panel = row.panel
    panel.second.setCurrentIndex(panel.second.findText("by row, top → bottom"))
    panel.second.activated.emit(panel.second.currentIndex())
    assert grid.rule("adjust").across.second.how == "product"
    assert panel.how.isVisibleTo(panel)
    panel.curve.textActivated.emit("drawn")
    editor = panel.drawn
    assert editor.isVisibleTo(panel)
    start = editor.at(editor.points[1]).toPoint()
    QTest.mousePress(editor, Qt.MouseButton.LeftButton, pos=start)
    QTest.mouseMove(editor, start + QPoint(0, -30))
    QTest.mouseRelease(editor, Qt.MouseButton.LeftButton, pos=start + QPoint(0, -30))
    assert grid.rule("adjust").across.points[1][1] == pytest.approx(0.15 + 30 / 90, abs=0.02)
    QTest.keyClick(editor, Qt.Key.Key_Down)
    assert grid.rule("adjust").across.points[1][1] == pytest.approx(0.13 + 30 / 90, abs=0.02)
    QTest.keyClick(editor, Qt.Key.Key_Delete)
    assert len(grid.rule("adjust").across.points) == 3
    panel.taken.setFocus()
    QTest.keyClicks(panel.taken, "40, 80, 0")
    assert "allowed" in panel.said.text()
    assert grid.rule("adjust").across.taken == (40.0, 80.0)
    QTest.keyClicks(panel.taken, ".5")
    grid.settle()
    assert grid.rule("adjust").across.taken == (40.0, 80.0, 50.0)
    panel.close()


def test_a_rule_begins_anew_as_a_start_chosen_by_its_picture(grid):
    grid.open("adjust")
    grid.do("choose_start")
    chooser = grid.window.findChildren(PictureChooser)[-1]
    assert set(chooser.tiles) == {f"begin:{name}" for name in ("jitter", "squeeze", "each row its own", "swirl")}
    grid.bot.waitUntil(lambda: all(tile.picture is not None for tile in chooser.tiles.values()), timeout=20_000)
    before = grid.document.design
    chooser.tiles["begin:swirl"].click()
    grid.settle()
    assert grid.rule("adjust").turn.channel == "distance"
    assert grid.rule("adjust").across == 100.0
    grid.do("undo")
    assert grid.document.design == before
    grid.open("lattice")
    grid.do("choose_start")
    assert "Open a Progression" in grid.studio.facts_line.sentence
