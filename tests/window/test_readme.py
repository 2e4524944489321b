"""The first pattern of the README, walked as it is written: each step's bold words are there, and doing them gives what it says."""

import re
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPushButton

from tests.window.conftest import Hands, gone
from under_lattice.files.recipe import open_any
from under_lattice.ui.dialogs.chooser import PictureChooser
from under_lattice.ui.export.export_dialog import ExportDialog
from under_lattice.ui.state import recent
from under_lattice.vary.numbers import Varied

PAGE = (Path(__file__).parents[2] / "README.md").read_text(encoding="utf-8")


def steps():
    """The numbered steps, each with its bold words."""
    part = PAGE.split("## A first pattern in six steps")[1].split("\n## ")[0]
    found = re.findall(r"^(\d)\. (.*?)(?=^\d\. |\n\n)", part, re.MULTILINE | re.DOTALL)
    return {int(number): (" ".join(text.split()), re.findall(r"\*\*(.+?)\*\*", text)) for number, text in found}


def visible(parent, kind):
    return next(one for one in parent.findChildren(kind) if one.isVisible())


def test_the_first_pattern_is_made_step_by_step(window, qtbot, tmp_path):
    recent.remember_tray(True)
    window.actions_by_key["tray"].setChecked(True)
    told = steps()
    assert sorted(told) == [1, 2, 3, 4, 5, 6]
    window.resize(1280, 800)
    window.show_book()
    window.show()
    page = window.start_page

    text, bold = told[1]  # choose a start and begin
    line = next(one for one in page.starts.values() if one.title == bold[0])
    QTest.mouseClick(line, Qt.MouseButton.LeftButton)
    assert page.new.text() == bold[1]
    QTest.mouseClick(page.new, Qt.MouseButton.LeftButton)
    hands = Hands(qtbot, window)
    hands.settle()
    qtbot.waitUntil(lambda: hands.studio.facts_line.gap.text() == re.search(r"“(gap.*?)”", text)[1], timeout=20_000)

    text, bold = told[2]  # the cards
    heads = {card.head.title: card for card in hands.studio.chain.cards.values()}
    assert set(bold) <= set(heads)
    QTest.mouseClick(heads[bold[0]].head, Qt.MouseButton.LeftButton)
    hands.settle()
    assert heads[bold[0]].form is not None

    text, bold = told[3]  # the gap by key, the first copy by hand
    QTest.mouseClick(heads[bold[0]].head, Qt.MouseButton.LeftButton)
    hands.settle()
    row = next(one for one in heads[bold[0]].form.rows.values() if one.label.text() == bold[1])
    QTest.mouseClick(row.fields[0], Qt.MouseButton.LeftButton)
    QTest.keyClick(row.fields[0], Qt.Key.Key_Up)
    assert hands.rule("lattice").gap > 0
    hands.settle()
    qtbot.waitUntil(lambda: hands.studio.facts.gap == pytest.approx(hands.rule("lattice").gap), timeout=20_000)
    qtbot.waitUntil(lambda: hands.studio.sheet.handles is not None, timeout=5000)
    assert any("first copy" in one.words for one in hands.studio.sheet.handles.handles)
    hands.do("undo")

    text, bold = told[4]  # a rule whose number varies
    assert hands.studio.chain.slot.text() == bold[1]
    QTest.mouseClick(heads[bold[0]].head, Qt.MouseButton.LeftButton)
    QTest.mouseClick(hands.studio.chain.slot, Qt.MouseButton.LeftButton)
    box = visible(window, PictureChooser)
    tile = next(one for one in box.tiles.values() if one.offer.title == bold[2])
    QTest.mouseClick(tile, Qt.MouseButton.LeftButton)
    hands.settle()
    row = next(one for one in hands.card("push-edges").form.rows.values() if one.label.text() == bold[3])
    entries = {words: act for words, act, _ in row.actions_here()}
    entries[bold[4]]()
    value = hands.rule("push-edges").amount
    assert isinstance(value, Varied)
    assert value.sentence().startswith("by column, left → right")
    row.panel.close()
    assert not hands.studio.results[hands.layer.id].problems

    text, bold = told[5]  # siblings
    assert bold == ["siblings"]
    siblings = hands.studio.tray.siblings
    qtbot.waitUntil(lambda: siblings.roaming.deal is not None and siblings.roaming.deal.whole, timeout=60_000)
    assert len(siblings.hanging.tiles) == 8

    text, bold = told[6]  # out, and in again as live work
    assert window.strip.export.text() == bold[0]
    QTest.mouseClick(window.strip.export, Qt.MouseButton.LeftButton)
    dialog = visible(window, ExportDialog)
    titles = [one.text() for one in dialog.findChildren(QPushButton)]
    assert any(one.startswith("SVG") for one in titles)
    assert any(one.startswith("PNG") for one in titles)
    dialog.write(tmp_path / "mine.svg")
    qtbot.waitUntil(lambda: (tmp_path / "mine.svg").exists() and gone(dialog), timeout=20_000)
    assert open_any(tmp_path / "mine.svg").work.design == hands.document.design


def test_every_command_that_the_page_names_is_there(window):
    words = {action.text().replace("…", "") for action in window.actions_by_key.values()}
    for name in ("Test strip", "Put into the pattern book", "Open recent"):
        assert any(one.startswith(name) for one in words) or name == "Open recent", name
    for name in re.findall(r"docs/[\w./-]+|LICENSE|CONTRIBUTING\.md|CHANGELOG\.md", PAGE):
        assert (Path(__file__).parents[2] / name).exists(), name
