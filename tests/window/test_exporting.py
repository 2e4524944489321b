"""Export as a person does it: for whom, as what, options and folded ones, what comes of it, faults and their cure, once more."""

import numpy as np
import pytest
from PIL import Image
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog

from tests.chains import work_of
from tests.window.conftest import gone
from under_lattice import output
from under_lattice.files.recipe import open_any
from under_lattice.library import demo
from under_lattice.output.cut import Cutter
from under_lattice.output.page import job_of
from under_lattice.output.svg import Svg
from under_lattice.rules import Ink, Lattice, Rectangle
from under_lattice.ui.export.export_dialog import ExportDialog
from under_lattice.work.sheets import set_sheet

LEFT = Qt.MouseButton.LeftButton


class Exporting:
    """Hands on the export dialog."""

    def __init__(self, hands):
        self.hands = hands
        hands.do("export")
        self.box = [one for one in hands.window.findChildren(ExportDialog) if one.isVisible()][-1]

    def press(self, group, name):
        button = next(one for one in group.buttons() if one.property("purpose") == name or one.property("format") == name)
        assert button.isVisible()
        QTest.mouseClick(button, LEFT)

    def seen(self, told=lambda preview: True):
        """The preview, once it is of the options as they are and told is true of it."""
        key = self.box.format

        def there():
            view = self.box.view.preview
            return view is not None and view.options.key() == key and not self.box._looking.isActive() and told(view)

        self.hands.bot.waitUntil(there, timeout=30_000)
        return self.box.view.preview

    def choose(self, name, value):
        combo = self.box.pages[self.box.format].parts[name]
        combo.setCurrentText(value)
        combo.textActivated.emit(value)


@pytest.fixture
def exporting(hands):
    hands.window.show_work(demo("wash-room-tiles"))
    hands.settle()
    return Exporting(hands)


def test_for_whom_offers_what_is_for_them(exporting):
    box = exporting.box
    shown = {}
    for one in box.purposes.buttons():
        QTest.mouseClick(one, LEFT)
        shown[one.property("purpose")] = [kind.text() for kind in box.formats.buttons() if kind.isVisible()]
    assert shown["print"][0] == "PDF"
    assert shown["picture"] == ["PNG", "JPEG", "WebP", "TIFF"]
    assert shown["cutter"] == ["SVG for a cutter", "DXF"]
    exporting.press(box.purposes, "web page")
    assert not box.options().recipe
    exporting.press(box.purposes, "drawing")
    assert box.options().recipe
    box.reject()


def test_the_cell_goes_out_in_whole_px_and_its_size_is_told_before(exporting, tmp_path):
    box = exporting.box
    exporting.press(box.purposes, "picture")
    exporting.choose("part", "the cell")
    exporting.hands.type_in(box.pages["png"].parts["width"], "300")
    preview = exporting.seen(lambda view: view.options.part == "the cell" and view.options.width < 301 and view.bytes > 0)
    assert (preview.page.width, preview.options.width) == (92, 265)
    assert "= 265 × 459 px" in box.words.text()
    assert "the file has" in box.words.text()
    box.write(tmp_path / "cell.png")
    exporting.hands.bot.waitUntil(lambda: gone(box), timeout=20_000)
    with Image.open(tmp_path / "cell.png") as picture:
        picture.load()
    assert picture.size == (265, 459)
    assert abs((tmp_path / "cell.png").stat().st_size - preview.bytes) < 20
    assert "exported cell.png, " in exporting.hands.studio.facts_line.sentence.lower()
    pixels = np.asarray(picture.convert("RGB"), int)
    assert np.abs(pixels[:, 0] - pixels[:, -1]).mean() < 30  # it goes on


def test_print_begins_with_bleed_and_crop_marks_and_shows_where_it_is_cut(exporting):
    exporting.press(exporting.box.purposes, "print")
    options = exporting.box.options()
    assert (options.bleed, options.marks) == (3.0, True)
    preview = exporting.seen()
    assert preview.beside == pytest.approx(3.0 * 380 / 336, rel=0.01)
    exporting.box.reject()


def test_a_region_is_asked_for_only_where_it_goes_out(exporting):
    page = exporting.box.pages["svg"]
    assert not page.parts["region_x"].isVisible()
    exporting.choose("part", "a region")
    assert page.parts["region_x"].isVisible()
    exporting.hands.type_in(page.parts["region_width"], "2 cm")
    assert exporting.box.options().region_width == 20.0
    assert exporting.seen(lambda view: view.page.width == 20.0)
    exporting.box.reject()


def test_what_has_no_cell_says_which_layer_and_writes_nothing(hands):
    hands.window.show_work(demo("entrance-floor"))
    hands.settle()
    exporting = Exporting(hands)
    exporting.choose("part", "the cell")
    hands.bot.waitUntil(lambda: "does not repeat" in exporting.box.error.text(), timeout=20_000)
    assert exporting.box.view.preview is None
    exporting.choose("part", "the sheet")
    assert exporting.seen()
    assert exporting.box.error.text() == ""
    exporting.box.reject()


def test_seldom_wanted_options_are_folded(exporting):
    page = exporting.box.pages["svg"]
    assert not page.parts["digits"].isVisible()
    assert page.more.text() == "▸  More (1)   Decimals"
    QTest.mouseClick(page.more, LEFT)
    assert page.parts["digits"].isVisible()
    assert page.more.text() == "▾  More (1)"
    QTest.mouseClick(page.more, LEFT)
    assert not page.parts["digits"].isVisible()
    exporting.box.reject()


@pytest.mark.parametrize("work", ["wash-room-tiles", "air-grille"])
def test_of_options_that_are_folded_those_are_counted_that_can_be_set(hands, work):
    hands.show(demo(work))
    exporting = Exporting(hands)
    folded = 0
    for kind in output.FORMATS:
        exporting.press(exporting.box.purposes, kind.purposes[0])
        exporting.press(exporting.box.formats, kind.key())
        page = exporting.box.pages[kind.key()]
        if page.more.isVisible():
            before = {name for name in page.dials if page.parts[name].isVisible()}
            QTest.mouseClick(page.more, LEFT)
            came = [page.dials[name].label for name in page.dials if page.parts[name].isVisible() and name not in before]
            assert page.more.accessibleName() == f"More: {', '.join(came)}"
            folded += len(came)
    assert folded > 10
    exporting.box.reject()


def test_faults_of_a_cut_are_shown_one_by_one_and_mended(hands):
    touching = Lattice(form="squares", extent="by number", columns=4, rows=3)
    hands.window.show_work(work_of(Rectangle(width=20.0, height=20.0), Ink(colours="one colour"), touching))
    hands.settle()
    exporting = Exporting(hands)
    exporting.press(exporting.box.purposes, "cutter")
    exporting.box._turn("shortest", 100.0)
    exporting.seen(lambda view: view.options.shortest == 100)
    line = exporting.box.faults
    assert "1 of 2: 340 mm of line would be cut twice" in line.words.text()
    assert line.cure.text() == "shared lines once"
    QTest.mouseClick(line.next, LEFT)
    assert "12 paths are shorter than 100 mm" in line.words.text()
    QTest.mouseClick(line.next, LEFT)
    QTest.mouseClick(line.cure, LEFT)
    assert exporting.box.options().once
    exporting.seen(lambda view: view.options.once)
    assert "cut twice" not in line.words.text()
    assert exporting.box.pages["cutter"].parts["once"].isChecked()
    exporting.press(exporting.box.purposes, "picture")
    assert not line.isVisible()  # faults of a cut are none of a picture
    exporting.box.reject()


def test_first_lengths_are_in_the_unit_of_the_work(hands):
    inches = demo("wash-room-tiles").design.sheet.model_copy(update={"unit": "in", "width": 10.0, "height": 12.0})
    assert Cutter.first(inches).shortest == pytest.approx(2 / 25.4, rel=1e-3)


def test_true_pixels_are_shown_by_a_press_and_by_a_key(exporting):
    view = exporting.box.view
    exporting.press(exporting.box.purposes, "picture")
    exporting.seen()
    QTest.mouseClick(view, LEFT)
    assert view.close_up
    QTest.keyClick(view, Qt.Key.Key_Space)
    assert not view.close_up
    exporting.box.reject()


def test_export_again_writes_the_same_file_with_the_same_options(exporting, tmp_path, monkeypatch):
    hands, path = exporting.hands, tmp_path / "tiles.png"
    exporting.press(exporting.box.purposes, "picture")
    hands.type_in(exporting.box.pages["png"].parts["width"], "200")
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, **__: (str(path), ""))
    QTest.mouseClick(exporting.box.go, LEFT)
    hands.bot.waitUntil(lambda: path.exists() and gone(exporting.box), timeout=20_000)
    before = path.read_bytes()
    hands.studio.edit("Ground", lambda design: set_sheet(design, background="#203040"))
    hands.do("export_again")
    hands.bot.waitUntil(lambda: path.read_bytes() != before, timeout=20_000)
    with Image.open(path) as picture:
        assert picture.size[0] == 200
    assert open_any(path).work.design.sheet.background == "#203040"
    assert not [one for one in hands.window.findChildren(ExportDialog) if one.isVisible()]


def test_export_again_without_an_export_opens_the_dialog(hands):
    hands.do("export_again")
    (box,) = (one for one in hands.window.findChildren(ExportDialog) if one.isVisible())
    box.reject()


def test_an_svg_that_lost_its_recipe_opens_as_outlines_and_says_so(exporting, tmp_path):
    hands = exporting.hands
    exporting.box.reject()
    svg = Svg().write(job_of(hands.document.work, Svg())[1])
    bare = svg[: svg.index(b"<metadata>")] + svg[svg.index(b"</metadata>") + len(b"</metadata>") :]
    (tmp_path / "bare.svg").write_bytes(bare)
    hands.window.files.open_path(tmp_path / "bare.svg")
    hands.bot.waitUntil(lambda: hands.document.design.name == "bare", timeout=20_000)
    assert "holds no live work any more" in hands.studio.facts_line.sentence
    sheet = hands.document.design.sheet
    assert (sheet.width, sheet.height) == (pytest.approx(290, abs=0.1), pytest.approx(330, abs=0.1))
    assert hands.document.path is None
