"""Repeat check in the window: the cell and the sheet, how they are laid, seams in words, what has no cell, edits meanwhile."""

from itertools import pairwise

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from under_lattice.library import demo
from under_lattice.work.edits import set_dials


@pytest.fixture
def checking(hands):
    hands.window.show_work(demo("locker-tiles"))
    hands.settle()
    hands.do("repeat")
    return hands


def looked(hands, told=lambda one: True):
    bar = hands.studio.repeat_bar
    hands.bot.waitUntil(lambda: bar.looked is not None and told(bar.looked), timeout=20_000)
    return bar.looked


def choose(combo, words):
    combo.setCurrentText(words)
    combo.textActivated.emit(words)


def test_the_cell_is_shown_three_by_three_and_its_seams_are_told(checking):
    one = looked(checking)
    sheet, bar = checking.studio.sheet, checking.studio.repeat_bar
    assert (one.cell.box.width, one.cell.box.height) == (pytest.approx(109.2), pytest.approx(54.6))
    assert bar.isVisible()
    assert "no seams" in bar.words.text()
    assert "109.2 × 54.6 mm" in sheet.repeated.words
    assert len(sheet.repeated.cells()) == 9
    region = sheet.repeated.region()
    assert sheet.rect().contains(region.toAlignedRect())  # all of it is seen
    assert sheet.handle_at(region.center()) == ""  # no handles lie over it
    picture = sheet.grab().toImage()
    inner = picture.pixelColor(region.center().toPoint())
    there = region.center().toPoint()
    there.setX(round(there.x() - one.cell.box.width * sheet.scale))
    assert abs(picture.pixelColor(there).red() - inner.red()) < 40
    checking.do("repeat")
    assert not bar.isVisible()
    assert not sheet.repeated.on
    checking.settle()


def test_half_drop_and_brick_lay_every_second_one_between(checking):
    looked(checking)
    repeated, bar = checking.studio.sheet.repeated, checking.studio.repeat_bar
    for laid, shifted in (("half-drop", "top"), ("brick", "left")):
        choose(bar.laid, laid)
        places = sorted({round(getattr(cell, shifted)()) for cell in repeated.cells()})
        step = (repeated.height if laid == "half-drop" else repeated.width) * checking.studio.sheet.scale / 2
        assert min(b - a for a, b in pairwise(places)) == pytest.approx(step, abs=1.5)
    choose(bar.laid, "straight")
    assert len(repeated.cells()) == 9


def test_the_sheet_itself_can_be_repeated_and_tells_its_seams(checking):
    looked(checking)
    choose(checking.studio.repeat_bar.of, "the sheet")
    assert looked(checking, lambda one: one.of == "the sheet").cell.box.width == 273
    assert "seams differ" not in checking.studio.repeat_bar.words.text()  # five cells fit it
    checking.studio.edit(
        "Size", lambda design: design.model_copy(update={"sheet": design.sheet.model_copy(update={"width": 260.0})})
    )
    looked(checking, lambda one: one.cell.box.width == 260)
    assert "left to right" in checking.studio.repeat_bar.words.text()


def test_an_edit_shows_its_own_cell(checking):
    looked(checking)
    last = [rule for rule in checking.layer.rules if rule.kind == "lattice"][-1]
    checking.studio.edit("Gap", lambda design: set_dials(design, checking.layer.id, last.id, {"gap": last.gap + 2.0}))
    assert looked(checking, lambda one: one.cell.box.height > 55).cell.box.height == pytest.approx(56.6)
    checking.do("undo")
    looked(checking, lambda one: one.cell.box.height < 55)


def test_what_has_no_cell_says_why_and_the_close_button_ends_it(hands):
    hands.window.show_work(demo("seed-clock"))
    hands.settle()
    hands.do("repeat")
    bar = hands.studio.repeat_bar
    hands.bot.waitUntil(lambda: bar.words.text().startswith("No cell"), timeout=20_000)
    assert "does not repeat" in bar.words.text()
    assert hands.studio.sheet.repeated.image is None  # the sheet is seen as ever
    QTest.mouseClick(bar.close_button, Qt.MouseButton.LeftButton)
    assert not hands.window.switched("repeat")
    assert not bar.isVisible()
