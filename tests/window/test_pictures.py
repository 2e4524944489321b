"""Pictures brought into a work by hand, and read by numbers and inks."""

import numpy as np
import pytest
from PIL import Image
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog

from tests.chains import work_of
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.ui.dialogs.chooser import PictureChooser
from under_lattice.vary.numbers import Varied


@pytest.fixture
def pebbles(hands):
    lattice = Lattice(form="squares", spacing="free", pitch=20.0, row_pitch=20.0, extent="by number", columns=6, rows=5)
    sized = Varied(rule="floor-lattice", channel="column", start=30.0, end=90.0)
    rules = Ellipse(width=18.0), lattice, Adjust(scope="each", across=sized, along=sized), Ink(colours="one colour")
    hands.window.show_work(work_of(*rules))
    hands.bot.waitUntil(lambda: hands.studio.settled and hands.studio.facts.copies == 30, timeout=20_000)
    return hands


def choose(combo, words):
    at = combo.findText(words)
    assert at >= 0, [combo.itemText(k) for k in range(combo.count())]
    combo.setCurrentIndex(at)
    combo.activated.emit(at)
    combo.textActivated.emit(words)


def test_a_number_follows_a_picture_from_a_file(pebbles, tmp_path, monkeypatch):
    path = tmp_path / "tide.png"
    Image.fromarray(np.tile(np.linspace(0, 255, 64).astype(np.uint8), (48, 1))).save(path)
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a, **k: (str(path), ""))
    row = pebbles.row("adjust", "across")
    row.open_vary()
    panel = row.panel
    assert not panel.picture.isVisibleTo(panel)
    choose(panel.source, "by a picture, dark → light")
    assert panel.picture.isVisibleTo(panel)
    choose(panel.picture, "from a file…")
    pebbles.bot.waitUntil(lambda: bool(pebbles.document.design.pictures), timeout=10_000)
    (picture,) = pebbles.document.design.pictures
    assert pebbles.rule("adjust").across.picture == picture.id
    assert panel.picture.currentText() == "tide.png"
    panel.close()
    pebbles.do("undo")
    assert not pebbles.document.design.pictures  # one step for both
    assert pebbles.rule("adjust").across.channel == "picture"


def picture_row(hands):
    choose(hands.row("ink", "colours").combo, "picture")
    row = hands.row("ink", "picture")
    hands.bot.waitUntil(lambda: row.isVisible() and row.pick.count() > 0, timeout=10_000)
    return row


def test_what_is_no_picture_is_told_and_nothing_changes(pebbles, tmp_path, monkeypatch):
    path = tmp_path / "notes.png"
    path.write_text("no picture")
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a, **k: (str(path), ""))
    row = picture_row(pebbles)
    before = pebbles.document.design
    choose(row.pick, "from a file…")
    pebbles.bot.waitUntil(lambda: "notes.png is not a picture" in row.error.said, timeout=10_000)
    assert pebbles.document.design is before


@pytest.mark.parametrize(("words", "name"), [("sample: fish", "fish.png"), ("sample: harbour view", "harbour view.jpg")])
def test_a_sample_picture_colours_the_copies(pebbles, words, name):
    choose(picture_row(pebbles).pick, words)
    pebbles.bot.waitUntil(lambda: pebbles.document.design.pictures != (), timeout=10_000)
    pebbles.settle()
    assert pebbles.document.design.pictures[0].name == name
    assert pebbles.rule("ink").picture == pebbles.document.design.pictures[0].id


def test_levels_decide_which_copies_lie_on_top(pebbles):
    choose(pebbles.row("lattice", "stacking").combo, "by level")
    row = pebbles.row("lattice", "level")
    row.open_vary()
    choose(row.panel.source, "with distance from the pivot")
    row.panel.close()
    pebbles.settle()
    level = pebbles.rule("lattice").level
    assert (level.rule, level.channel) == (pebbles.rule("lattice").id, "distance")


def test_the_ends_of_a_number_go_there_and_back_over_the_loop(pebbles):
    row = pebbles.row("adjust", "across")
    row.open_vary()
    pebbles.type_in(row.panel.midway, "50")
    assert "Two numbers" in row.panel.said.text()
    assert pebbles.rule("adjust").across.midway is None
    pebbles.type_in(row.panel.midway, "50, 60")
    assert pebbles.rule("adjust").across.midway == (50.0, 60.0)
    row.panel.close()


def test_the_motif_is_exchanged_by_its_picture_and_what_stands_below_stays(pebbles):
    pebbles.do("choose_motif")
    chooser = pebbles.window.findChildren(PictureChooser)[-1]
    pebbles.bot.waitUntil(lambda: all(tile.picture is not None or tile.problem for tile in chooser.tiles.values()), timeout=30_000)
    problems = {key: tile.problem for key, tile in chooser.tiles.items() if tile.problem}
    assert problems == {"motif:layer-motif": "Choose the layer or group that is the motif"}  # there is no other layer
    below = pebbles.layer.rules[1:]
    QTest.mouseClick(chooser.tiles["motif:star"], Qt.MouseButton.LeftButton)
    pebbles.settle()
    assert pebbles.layer.rules[0].kind == "star"
    assert pebbles.layer.rules[0].size == pytest.approx(18.0, rel=0.02)
    assert pebbles.layer.rules[1:] == below
    pebbles.do("undo")
    assert pebbles.layer.rules[0].kind == "ellipse"


def test_a_measure_of_the_motif_is_dragged_on_the_sheet(pebbles):
    pebbles.do("choose_motif")
    QTest.mouseClick(pebbles.window.findChildren(PictureChooser)[-1].tiles["motif:rectangle"], Qt.MouseButton.LeftButton)
    pebbles.settle()
    pebbles.open("motif")
    pebbles.settle()
    wide, high = pebbles.rule("motif").width, pebbles.rule("motif").height
    pebbles.drag(pebbles.studio.sheet, pebbles.handle("width"), (30, 0))
    pebbles.settle()
    assert pebbles.rule("motif").width > wide
    assert pebbles.rule("motif").height == high


def test_an_outline_is_brought_in_from_an_svg_and_what_was_left_out_is_listed(pebbles, tmp_path, monkeypatch):
    path = tmp_path / "shell.svg"
    path.write_text('<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 9L4 0L9 9Z"/><circle r="2"/><text>sea</text></svg>')
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a, **k: (str(path), ""))
    pebbles.do("choose_motif")
    QTest.mouseClick(pebbles.window.findChildren(PictureChooser)[-1].tiles["motif:outline"], Qt.MouseButton.LeftButton)
    pebbles.settle()
    row = pebbles.row("motif", "outline")
    QTest.mouseClick(row.button, Qt.MouseButton.LeftButton)
    pebbles.bot.waitUntil(lambda: "2 parts" in row.said.text(), timeout=10_000)
    assert "text" in row.left.text()
    before = pebbles.rule("motif")
    path.write_text("<svg><broken")
    QTest.mouseClick(row.button, Qt.MouseButton.LeftButton)
    pebbles.bot.waitUntil(lambda: "shell.svg is not an SVG file" in row.error.said, timeout=10_000)
    assert pebbles.rule("motif") == before
