"""Many files from the export page, and exports that go on while one works: further widths, versions, tables, stop, close."""

import io
import json
import threading

import pytest
from PIL import Image
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog, QMessageBox

from tests.window.conftest import Hands, gone
from under_lattice.declare.frozen import edited
from under_lattice.files.recipe import open_any
from under_lattice.library import demo
from under_lattice.library.palettes import PALETTES
from under_lattice.output.svg import Svg
from under_lattice.ui.export import writing
from under_lattice.ui.export.export_dialog import ExportDialog
from under_lattice.work.sheets import set_sheet

LEFT = Qt.MouseButton.LeftButton


class Exporting(Hands):
    """A window, and its export page as a person uses it."""

    @property
    def line(self):
        return self.window.files.exports

    def page(self, purpose="picture", width="120"):
        self.do("export")
        box = next(one for one in self.window.findChildren(ExportDialog) if one.isVisible())
        QTest.mouseClick(next(one for one in box.purposes.buttons() if one.property("purpose") == purpose), LEFT)
        if width:
            self.type_in(box.pages[box.format].parts["width"], width)
        return box

    def of(self, box, words):
        at = next(k for k in range(box.many.of.count()) if box.many.of.itemText(k).startswith(words))
        box.many.of.setCurrentIndex(at)
        box.many.of.activated.emit(at)

    def written(self, box):
        self.bot.waitUntil(lambda: gone(box), timeout=30_000)

    def told(self):
        return self.studio.facts_line.sentence


@pytest.fixture
def hands(qtbot, window):
    return Exporting(qtbot, window).show(demo("ceiling-rosette"))


@pytest.fixture
def held(monkeypatch):
    """Exports that wait until they are let go."""
    gate, whole = threading.Event(), writing.export_bytes

    def slow(work, options, progress, moment=0.0):
        while not gate.wait(0.01):
            progress.check()
        return whole(work, options, progress, moment)

    monkeypatch.setattr(writing, "export_bytes", slow)
    yield gate
    gate.set()


def test_further_widths_stand_beside_the_file_and_replace_nothing_unasked(hands, tmp_path, monkeypatch):
    box = hands.page()
    hands.type_in(box.many.widths, "64, 32 px")
    box.write(tmp_path / "a.png")
    hands.written(box)
    widths = {path.name: Image.open(io.BytesIO(path.read_bytes())).width for path in tmp_path.glob("*.png")}
    assert widths == {"a.png": 120, "a-64.png": 64, "a-32.png": 32}
    assert "a-64.png" in hands.told()
    box = hands.page()
    asked = []
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, **__: (str(tmp_path / "b.png"), ""))
    monkeypatch.setattr(QMessageBox, "exec", lambda question: asked.append(question.text()))
    (tmp_path / "b-64.png").write_bytes(b"mine")
    hands.type_in(box.many.widths, "64")
    QTest.mouseClick(box.go, LEFT)
    assert asked == ["b-64.png is there already."]
    assert (tmp_path / "b-64.png").read_bytes() == b"mine"
    assert not (tmp_path / "b.png").exists()
    box.reject()


@pytest.mark.parametrize("text", ["x", "0", "12.5", "999999999999", ",".join(["9"] * 30)])
def test_widths_that_cannot_be_are_said_and_nothing_is_written(hands, text, monkeypatch):
    box = hands.page()
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, **__: pytest.fail("no file is asked for"))
    hands.type_in(box.many.widths, text)
    assert "width" in box.error.text()
    QTest.mouseClick(box.go, LEFT)
    assert box.isVisible()
    hands.type_in(box.many.widths, "60")
    assert box.error.text() == ""
    box.reject()


def test_widths_are_offered_for_pictures_only_and_versions_where_there_are_any(hands):
    box = hands.page()
    assert box.many.widths.isVisible()
    assert [box.many.of.itemText(k) for k in range(box.many.of.count())] == [
        "the work as it is", "each of 2 kept versions", "each palette", "each row of a table…",
    ]  # fmt: skip
    QTest.mouseClick(next(one for one in box.purposes.buttons() if one.property("purpose") == "drawing"), LEFT)
    assert not box.many.widths.isVisible()
    box.reject()


@pytest.mark.parametrize(("words", "count"), [("each of 2", 2), ("each palette", len(PALETTES))])
def test_each_version_goes_into_a_folder_under_a_name_of_its_own(hands, tmp_path, words, count):
    (tmp_path / "ceiling-rosette-gilt.svg").write_text("mine")
    box = hands.page("drawing", "")
    hands.of(box, words)
    assert box.go.text() == "Choose a folder…"
    box.write_all(tmp_path)
    hands.written(box)
    fresh = [path for path in tmp_path.glob("*.svg") if path.read_text() != "mine"]
    assert len(fresh) == count
    assert (tmp_path / "ceiling-rosette-gilt.svg").read_text() == "mine"
    designs = {json.dumps(open_any(path).work.design.model_dump(mode="json")) for path in fresh}
    assert len(designs) == count


@pytest.mark.parametrize("part", ["widths", "versions"])
def test_export_again_writes_all_files_once_more(hands, tmp_path, part):
    (tmp_path / "ceiling-rosette-gilt.png").write_text("mine")
    box = hands.page()
    hands.type_in(box.pages["png"].parts["width"], "100")
    if part == "widths":
        hands.type_in(box.many.widths, "60")
        box.write(tmp_path / "rosette.png")
    else:
        hands.of(box, "each of 2")
        box.write_all(tmp_path)
    hands.written(box)
    before = {path: path.read_bytes() for path in tmp_path.glob("*.png")}
    assert len(before) == 3
    if part == "widths":
        hands.studio.edit("Ground", lambda design: set_sheet(design, background="#203040"))
        fresh = ["rosette-60.png", "rosette.png"]
    else:  # the older of the two was renamed and the other taken away
        kept = hands.document.work.kept
        hands.document.work = edited(hands.document.work, kept=(edited(kept[0], name="Renamed"),))
        fresh = ["ceiling-rosette-renamed.png"]
    hands.do("export_again")
    hands.bot.waitUntil(lambda: not hands.window.files.exports.exports, timeout=20_000)
    after = {path: path.read_bytes() for path in tmp_path.glob("*.png")}
    assert sorted(path.name for path, data in after.items() if before.get(path) != data) == fresh
    assert after[tmp_path / "ceiling-rosette-gilt.png"] == b"mine"
    assert "again" in hands.told()


def test_pens_at_hand_are_typed_and_a_wrong_one_can_be_mended(hands):
    box = hands.page("pen", "")
    line = box.pages[box.format].parts["pens"]
    hands.type_in(line, "#112233 blau")
    assert box.error.text().startswith("Pens at hand: “blau” is not a colour")
    assert line.text() == "#112233 blau"
    hands.type_in(line, "#112233 blue")
    assert (box.error.text(), line.text()) == ("", "#112233 blue")
    assert box.options().pens == "#112233, #0000FF"
    hands.type_in(line, "blau")
    for purpose in ("cutter", "pen"):
        QTest.mouseClick(next(one for one in box.purposes.buttons() if one.property("purpose") == purpose), LEFT)
        assert box.error.text() == ""
    assert line.text() == box.options().pens
    box.reject()


def test_rows_of_a_table_are_written_and_one_that_cannot_be_is_told(hands, tmp_path, monkeypatch):
    table = tmp_path / "counts.csv"
    table.write_text("name,buds.rosette.count\nten,10\nwrong,many\ntwelve,12\n")
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_, **__: (str(table), ""))
    box = hands.page("drawing", "")
    hands.of(box, "each row")
    assert box.many.of.currentText() == "each of 3 rows of counts.csv"
    box.write_all(tmp_path)
    hands.written(box)
    assert sorted(path.name for path in tmp_path.glob("*.svg")) == ["ceiling-rosette-ten.svg", "ceiling-rosette-twelve.svg"]
    assert "1 could not be written" in hands.told()
    counts = [open_any(path).work.design.chain("buds").rule("buds-rosette").count for path in sorted(tmp_path.glob("*.svg"))]
    assert counts == [10, 12]
    table.write_text("not, a table")
    box = hands.page("drawing", "")
    hands.of(box, "each row")
    assert "holds no rows" in box.error.text()
    assert box.many.each == "the work as it is"
    box.reject()


def test_exports_go_on_one_after_the_other_while_one_works(hands, tmp_path, held):
    for name in ("one", "two", "three"):
        box = hands.page()
        box.write(tmp_path / f"{name}.png")
        assert box.bar.format() == ("%p%" if name == "one" else "waits for one.png")
        QTest.mouseClick(box.later, LEFT)
        hands.bot.waitUntil(lambda box=box: gone(box), timeout=5000)
    assert hands.line.isVisible()
    assert hands.line.words.text() == "Exporting one.png, 2 more wait"
    assert not hands.open("motif").hand.turn("width", 21.0)  # one goes on working
    hands.line.stop(hands.line.exports[1])
    assert hands.line.words.text() == "Exporting one.png, 1 more waits"
    held.set()
    hands.bot.waitUntil(lambda: not hands.line.isVisible(), timeout=20_000)
    assert sorted(path.name for path in tmp_path.glob("*.png")) == ["one.png", "three.png"]
    sent = open_any(tmp_path / "three.png").work.design.chain("buds").rules[0]
    assert (sent.width, hands.rule("motif").width) == (13.0, 21.0)  # as it was when it was sent
    assert "three.png" in hands.told()


def test_stop_and_close_leave_nothing_half_written(hands, tmp_path, held, monkeypatch):
    for name in ("one", "two"):
        box = hands.page()
        box.write(tmp_path / f"{name}.png")
        QTest.mouseClick(box.later, LEFT)
        hands.bot.waitUntil(lambda box=box: gone(box), timeout=5000)
    asked = []
    monkeypatch.setattr(QMessageBox, "exec", lambda question: asked.append(question.text()))
    assert not hands.window.files.may_close()  # nothing was chosen: it goes on
    assert asked == ["Files are still being exported."]
    QTest.mouseClick(hands.line.stop_button, LEFT)
    hands.bot.waitUntil(lambda: len(hands.line.exports) == 1, timeout=10_000)
    assert hands.line.words.text() == "Exporting two.png"
    QTest.mouseClick(hands.line.stop_button, LEFT)
    hands.bot.waitUntil(lambda: not hands.line.exports, timeout=10_000)
    assert not hands.line.isVisible()
    assert not list(tmp_path.glob("*.png*"))


def test_a_page_that_is_closed_by_its_cross_stops_what_it_writes(hands, tmp_path, held):
    box = hands.page()
    box.write(tmp_path / "one.png")
    box.close()
    hands.bot.waitUntil(lambda: not hands.line.exports, timeout=10_000)
    held.set()
    assert not list(tmp_path.glob("*.png"))


def test_one_layer_is_chosen_from_those_there_are_and_seen_before(hands, tmp_path):
    box = hands.page("drawing", "")
    combo = box.pages["svg"].parts["layer"]
    assert [combo.itemText(k).strip() for k in range(combo.count())] == ["all that are seen", "Star", "Buds", "Leaves", "Beads"]
    combo.setCurrentIndex(4)
    combo.activated.emit(4)
    assert box.options().layer == "beads"
    hands.bot.waitUntil(lambda: box.view.preview is not None and box.view.preview.options.layer == "beads", timeout=10_000)
    box.write(tmp_path / "beads.svg")
    hands.written(box)
    assert open_any(tmp_path / "beads.svg").work.design == hands.document.design
    hands.do("export")
    again = next(one for one in hands.window.findChildren(ExportDialog) if one.isVisible())
    assert again.options().layer == "beads"  # as before
    again.reject()


def test_the_picture_stands_before_the_size_of_the_file_is_known(hands, monkeypatch):
    gate, whole = threading.Event(), Svg.write

    def slow(options, job):
        while not gate.wait(0.01):
            job.progress.check()
        return whole(options, job)

    monkeypatch.setattr(Svg, "write", slow)
    box = hands.page("drawing", "")
    assert box.view.preview is None
    assert box.view.waits
    hands.bot.waitUntil(lambda: box.view.preview is not None, timeout=10_000)
    assert box.view.preview.whole is not None
    assert "the file has" not in box.words.text()
    gate.set()
    hands.bot.waitUntil(lambda: "the file has" in box.words.text(), timeout=10_000)
    box.reject()
