"""What whole jobs from a blank start to a file met: names, lists cut off, strokes left in gaps, facts that are late."""

import threading

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog, QMenu, QMessageBox, QPushButton

from tests.window.conftest import Hands
from under_lattice.library import blank
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.shared.scope import EACH
from under_lattice.ui.export.export_dialog import ExportDialog
from under_lattice.ui.panels.chips import PlusChip
from under_lattice.ui.panels.strip import CommandStrip
from under_lattice.ui.workers import engine as engine_module
from under_lattice.vary.numbers import Varied
from under_lattice.work.edits import exchange_motif


@pytest.fixture
def begun(qtbot, window):
    hands = Hands(qtbot, window)

    def begin(start):
        hands.show(blank(start))
        hands.bot.waitUntil(lambda: hands.studio.settled and hands.studio.facts.copies > 0, timeout=20_000)
        return hands

    return begin


def saved_at(monkeypatch, hands, path):
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, **__: (str(path), ""))
    hands.do("save")
    hands.bot.waitUntil(lambda: hands.window.files.saving.job is None, timeout=10_000)


# -- names -----------------------------------------------------------------------------------------
def test_an_untitled_work_is_called_after_its_first_file_and_undo_leaves_the_name(begun, monkeypatch, tmp_path):
    hands = begun("ring")
    hands.type_in(hands.row("rosette", "count").fields[0], "9")
    saved_at(monkeypatch, hands, tmp_path / "ticket-medal.lattice")
    assert hands.document.design.name == "Ticket medal"
    assert not hands.document.modified
    assert hands.window.findChild(CommandStrip).name.text() == "Ticket medal"
    hands.do("undo")
    assert (hands.rule("rosette").count, hands.document.design.name) == (16, "Ticket medal")
    hands.do("redo")
    assert not hands.document.modified
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, **__: (str(tmp_path / "another.lattice"), ""))
    hands.do("save_as")
    hands.bot.waitUntil(lambda: hands.window.files.saving.job is None, timeout=10_000)
    assert hands.document.design.name == "Ticket medal"


def test_a_work_that_could_not_be_saved_has_no_name_yet(begun, monkeypatch, tmp_path):
    hands = begun("ring")
    told = []
    monkeypatch.setattr(QMessageBox, "exec", lambda box: told.append(box.text()) or 0)
    saved_at(monkeypatch, hands, tmp_path / "missing" / "medal.lattice")
    assert told
    assert hands.document.design.name == "Untitled"
    assert hands.document.path is None


def test_a_layer_called_after_its_motif_is_called_after_the_next_one(begun):
    design = begun("squares").document.design
    layer = design.layers[0]
    assert layer.name == "Square"
    assert exchange_motif(design, layer.id, Ellipse(width=3.0)).layers[0].name == "Disc"
    named = begun("squares").document.design.layers[0].model_copy(update={"name": "Sky"})
    design = design.model_copy(update={"layers": (named,)})
    assert exchange_motif(design, named.id, Ellipse(width=3.0)).layers[0].name == "Sky"


def test_every_start_offered_for_a_layer_adds_one(begun):
    hands = begun("ring")
    QTest.mouseClick(hands.studio.chips.findChild(PlusChip), Qt.MouseButton.LeftButton)
    hands.bot.waitUntil(lambda: any(one.isVisible() for one in hands.window.findChildren(QMenu)), timeout=5000)
    menu = next(one for one in hands.window.findChildren(QMenu) if one.isVisible())
    offered = [one for one in menu.actions() if not one.isSeparator() and not one.text().endswith("…")]  # that ask first
    menu.close()
    for k, action in enumerate(offered):
        action.trigger()
        assert len(hands.document.design.layers) == k + 2, action.text()


# -- what is seen ----------------------------------------------------------------------------------
def test_no_choice_is_cut_off_by_what_follows_from_it(showing):
    hands = showing(Polygon(size=2.0), Ink(), Lattice(form="squares", gap=-0.8))
    form = hands.open("lattice")
    row = form.rows["extent"]
    hands.bot.waitUntil(lambda: row.derived is not None and "×" in row.derived.text(), timeout=10_000)
    row.derived.setText("2 199 × 2 199")
    row._place_derived()
    hands.bot.wait(50)
    assert row.combo.width() >= row.combo.fontMetrics().horizontalAdvance(row.combo.currentText()) + 24
    assert row.derived.y() > row.combo.y()
    row.derived.setText("9 × 9")
    row._place_derived()
    hands.bot.wait(50)
    assert row.derived.y() < row.combo.geometry().bottom()


def test_nothing_is_left_in_the_gaps_when_a_card_is_unfolded_and_folded(begun):
    hands = begun("ring")
    form = hands.open("rosette")
    hands.bot.wait(100)
    area = hands.studio.chain.viewport()

    def seen():
        hands.bot.wait(100)
        whole = hands.window.screen().grabWindow(hands.window.winId())
        return whole.copy(area.rect().translated(area.mapTo(hands.window, QPoint())))

    before = seen().toImage()
    for _ in range(2):
        QTest.mouseClick(form.more, Qt.MouseButton.LeftButton)
        hands.bot.wait(100)
    after = seen().toImage()
    assert not before.isNull()
    strays = [y for y in range(before.height()) if after.pixelColor(16, y) != before.pixelColor(16, y)]
    assert not strays


def test_facts_of_the_work_before_are_not_shown_beside_a_new_picture(begun, monkeypatch):
    hands = begun("squares")
    line = hands.studio.facts_line
    assert line.gap.text().startswith("gap")
    held, real = threading.Event(), engine_module.measure

    def slowly(*args):
        held.wait(20)
        return real(*args)

    monkeypatch.setattr(engine_module, "measure", slowly)
    hands.type_in(hands.row("lattice", "gap").fields[0], "1")
    hands.bot.waitUntil(lambda: line.gap.text() == "measuring…", timeout=5000)
    assert not line.overall.isVisible()
    held.set()
    hands.bot.waitUntil(lambda: line.gap.text() == "gap 1.00 mm", timeout=10_000)
    assert line.overall.isVisible()


# -- the way out -----------------------------------------------------------------------------------
def test_enter_goes_on_to_the_file_once_a_kind_is_chosen(begun, monkeypatch, tmp_path):
    hands = begun("ring")
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, **__: (str(tmp_path / "medal.png"), ""))
    hands.do("export")
    box = next(one for one in hands.window.findChildren(ExportDialog) if one.isVisible())
    QTest.mouseClick(next(one for one in box.purposes.buttons() if one.property("purpose") == "picture"), Qt.MouseButton.LeftButton)
    kind = next(one for one in box.findChildren(QPushButton) if one.property("format") == "png")
    QTest.mouseClick(kind, Qt.MouseButton.LeftButton)
    kind.setFocus()
    QTest.keyClick(kind, Qt.Key.Key_Return)
    hands.bot.waitUntil(lambda: (tmp_path / "medal.png").exists(), timeout=20_000)


def test_a_number_that_varies_over_one_row_says_so(showing):
    rows = Varied(rule="floor-lattice", channel="row", start=0.0, end=90.0)
    lattice = Lattice(form="squares", extent="by number", columns=6, rows=1)
    hands = showing(Polygon(size=20.0), lattice, Adjust(scope=EACH, turn=rows), handles=False)
    caption = hands.row("adjust", "turn").caption
    hands.bot.waitUntil(lambda: "only one row" in caption.text(), timeout=10_000)
    hands.type_in(hands.row("lattice", "rows").fields[0], "4")
    hands.bot.waitUntil(lambda: "only one row" not in hands.row("adjust", "turn").caption.text(), timeout=10_000)
