"""Palettes taken in the ink's card: of the house, from one colour, from pictures and files; each one step of undo."""

import pytest
from PIL import Image
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog

from under_lattice.colour.made_palettes import harmony, lightness_of
from under_lattice.library.palettes import PALETTES


@pytest.fixture
def row(hands):
    return hands.row("ink", "palette")


def entry(menu, *path):
    """The entry of a menu found by its words, as a person goes to it."""
    menu.aboutToShow.emit()
    for k, words in enumerate(path):
        found = next(one for one in menu.actions() if one.text().startswith(words))
        if k + 1 < len(path):
            menu = found.menu()
    return found


def test_a_palette_of_the_house_is_one_step(hands, row):
    before = hands.document.design
    entry(row.palettes.menu_, "Of the house", "Swim caps").trigger()
    assert hands.rule("ink").palette == PALETTES["Swim caps"]
    hands.do("undo")
    assert hands.document.design == before


def test_palettes_are_made_from_the_colour_that_was_opened_last(hands, row):
    chosen = hands.rule("ink").palette[1]
    QTest.mouseClick(row.swatches[1], Qt.MouseButton.LeftButton)
    row.panel.close()
    entry(row.palettes.menu_, f"From {chosen}", "Three round").trigger()
    assert hands.rule("ink").palette == harmony(chosen, (0, 120, 240))
    found = entry(row.palettes.menu_, "From", "5 shades")
    assert found.text() == "5 shades, L* 92 74 56 38 20"
    found.trigger()
    assert [round(lightness_of(one)) for one in hands.rule("ink").palette] == [92, 74, 56, 38, 20]


def test_the_sheet_gives_its_colours(hands, row):
    was = hands.rule("ink").palette
    entry(row.palettes.menu_, "From the sheet").trigger()
    hands.bot.waitUntil(lambda: hands.rule("ink").palette != was, timeout=10_000)
    assert len(hands.rule("ink").palette) == len(was)


def test_a_picture_gives_its_colours(hands, row, tmp_path, monkeypatch):
    path = tmp_path / "slip.png"
    picture = Image.new("RGB", (40, 10), "#C4694C")
    picture.paste("#12263B", (0, 0, 10, 10))
    picture.save(path)
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_, **__: (str(path), ""))
    entry(row.palettes.menu_, "From a picture").trigger()
    hands.bot.waitUntil(lambda: hands.rule("ink").palette == ("#C4694C", "#12263B"), timeout=5000)


@pytest.mark.parametrize(("words", "ending"), [("Custom", ".css"), ("Hexadecimal", ".txt"), ("JSON", ".json")])
def test_a_palette_goes_to_a_file_and_comes_back(hands, row, tmp_path, monkeypatch, words, ending):
    was, path = hands.rule("ink").palette, tmp_path / f"floor{ending}"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, **__: (str(path), ""))
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_, **__: (str(path), ""))
    entry(row.palettes.menu_, "To a file", words).trigger()
    hands.bot.waitUntil(path.exists, timeout=5000)
    entry(row.palettes.menu_, "Of the house", "Buoy").trigger()
    entry(row.palettes.menu_, "From a file").trigger()
    hands.bot.waitUntil(lambda: hands.rule("ink").palette == was, timeout=5000)


@pytest.mark.parametrize(
    ("data", "said"),
    [(b"[1, 2", "is no JSON"), (b"\xff\xfe\x00", "is no text"), (b"#000\n" * 40, "has 40 colours; a palette has from 1")],
)
def test_what_is_no_palette_is_said_at_the_row(hands, row, tmp_path, data, said):
    was, path = hands.rule("ink").palette, tmp_path / "nonsense.json"
    path.write_bytes(data)
    row.palettes.read_file(path)
    hands.bot.waitUntil(lambda: said in row.error.said, timeout=5000)
    assert hands.rule("ink").palette == was
