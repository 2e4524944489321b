"""The window as a person uses it: chain, sheet, files, pages."""

import numpy as np
import pytest
from PySide6.QtCore import QMimeData, QObject, QPoint, QPointF, Qt, QUrl, Signal
from PySide6.QtGui import QDropEvent, QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractButton, QApplication, QComboBox, QFileDialog, QInputDialog, QLineEdit, QMessageBox

from tests.chains import floor_alone
from under_lattice.files.recipe import open_any
from under_lattice.library import DEMOS, demo
from under_lattice.ui.dialogs.chooser import PictureChooser
from under_lattice.ui.dialogs.command_search import CommandSearch
from under_lattice.ui.dialogs.sheet_dialog import SheetDialog
from under_lattice.ui.export.export_dialog import ExportDialog
from under_lattice.ui.state import recent
from under_lattice.ui.window.commands import COMMANDS


def dialog(window, kind):
    return next(one for one in window.findChildren(kind) if one.isVisible())


# ---------------------------------------------------------------- chain
def test_a_press_opens_a_card_and_closes_the_other(hands):
    assert hands.card("lattice").form is not None
    hands.open("split")
    assert hands.card("lattice").form is None
    assert hands.card("split").head.accessibleName() == "Split: into rhombs from the centre"


def test_space_on_a_bead_switches_a_rule_off_and_on(hands):
    bead = hands.studio.chain.beads["floor-push-edges"]
    bead.setFocus()
    QTest.keyClick(bead, Qt.Key.Key_Space)
    assert not hands.rule("push-edges").on
    assert hands.card("push-edges").head.line.startswith("off:")
    hands.settle()
    hands.bot.waitUntil(lambda: hands.studio.facts.distinct == 1, timeout=10_000)
    QTest.keyClick(bead, Qt.Key.Key_Space)
    assert hands.rule("push-edges").on


def test_the_motif_cannot_be_switched_off(hands):
    QTest.mouseClick(hands.studio.chain.beads["floor-motif"], Qt.MouseButton.LeftButton)
    assert hands.rule("motif").on


def test_dragging_a_card_moves_the_rule(hands):
    head = hands.card("ink").head
    target = hands.card("lattice").head
    down = target.mapTo(hands.window, target.rect().center()).y() - head.mapTo(hands.window, head.rect().center()).y()
    hands.drag(head, head.rect().center(), (0, down + 60))
    assert [rule.handle for rule in hands.layer.rules][-1] == "ink"
    hands.do("undo")
    assert [rule.handle for rule in hands.layer.rules][2] == "ink"


def test_keys_move_and_remove_rules(hands):
    head = hands.card("ink").head
    head.setFocus()
    QTest.keyClick(head, Qt.Key.Key_Down, Qt.KeyboardModifier.ControlModifier)
    assert [rule.handle for rule in hands.layer.rules].index("ink") == 3
    QTest.keyClick(hands.card("ink").head, Qt.Key.Key_Delete)
    assert "ink" not in [rule.handle for rule in hands.layer.rules]


def test_the_chooser_shows_what_each_rule_would_do_and_adds_one(hands):
    QTest.mouseClick(hands.studio.chain.slot, Qt.MouseButton.LeftButton)
    chooser = dialog(hands.window, PictureChooser)
    hands.bot.waitUntil(lambda: bool(chooser.tiles["rule:adjust"].problem), timeout=60_000)
    assert "change nothing here" in chooser.tiles["rule:adjust"].problem
    hands.bot.waitUntil(lambda: chooser.tiles["rule:rosette"].picture is not None, timeout=60_000)
    hands.bot.waitUntil(lambda: "straight edges" in chooser.tiles["rule:split"].problem, timeout=60_000)
    QTest.mouseClick(chooser.tiles["rule:adjust"], Qt.MouseButton.LeftButton)
    assert [rule.kind for rule in hands.layer.rules][-1] == "adjust"
    assert hands.studio.chain.open_rule == hands.layer.rules[-1].id
    hands.settle()


def test_rename_and_duplicate_a_rule(hands, monkeypatch):
    monkeypatch.setattr(QInputDialog, "getText", lambda *a, **k: ("Honeycomb", True))
    hands.open("lattice")
    hands.do("rename_rule")
    assert hands.card("lattice").head.title == "Honeycomb"
    hands.do("duplicate_rule")
    assert [rule.handle for rule in hands.layer.rules][-1] == "lattice-2"


def test_layers_are_added_hidden_moved_and_removed(hands):
    hands.window.layer_actions.add_layer("squares")
    assert len(hands.document.design.layers) == 2
    assert hands.studio.layer == hands.document.design.layers[0].id
    chips = hands.studio.chips.chips
    QTest.mouseClick(chips["floor"], Qt.MouseButton.LeftButton)
    assert hands.studio.layer == "floor"
    hands.do("hide_layer")
    assert hands.document.design.layers[1].hidden
    assert "hidden" in chips["floor"].accessibleName()
    hands.do("layer_front")
    assert hands.document.design.layers[0].id == "floor"
    hands.do("remove_layer")
    hands.do("remove_layer")
    assert len(hands.document.design.layers) == 1
    assert "keeps one layer" in hands.studio.facts_line.sentence


def test_a_locked_layer_says_so_when_it_is_edited(hands):
    hands.do("lock_layer")
    row = hands.row("lattice", "gap")
    hands.type_in(row.fields[0], "3")
    assert "locked" in row.error.said
    assert hands.rule("lattice").gap == 0.0


def test_a_crossing_edge_is_told_with_its_cure(hands):
    row = hands.row("push-edges", "amount")
    row.stop_varying()
    hands.type_in(row.fields[0], "12")
    line = hands.studio.facts_line
    hands.bot.waitUntil(lambda: line.cure.isVisible(), timeout=20_000)
    assert "cross themselves" in line.warning.text()
    QTest.mouseClick(line.cure, Qt.MouseButton.LeftButton)
    assert hands.rule("push-edges").amount == pytest.approx(9.07, abs=0.01)
    hands.bot.waitUntil(lambda: not line.cure.isVisible(), timeout=20_000)
    hands.do("undo")
    assert hands.rule("push-edges").amount == 12.0


# ---------------------------------------------------------------- sheet
def wheel(widget, at, steps):
    event = QWheelEvent(
        QPointF(at), widget.mapToGlobal(QPointF(at)), QPoint(), QPoint(0, 120 * steps), Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.NoModifier, Qt.ScrollPhase.NoScrollPhase, False,
    )  # fmt: skip
    QApplication.sendEvent(widget, event)


def test_the_wheel_zooms_at_the_pointer_and_home_shows_all(hands):
    sheet = hands.studio.sheet
    at = QPoint(200, 150)
    before, scale = sheet.to_page(QPointF(at)), sheet.scale
    wheel(sheet, at, 3)
    assert sheet.scale > scale
    assert sheet.to_page(QPointF(at)) == pytest.approx(before)
    hands.settle()
    sheet.setFocus()
    QTest.keyClick(sheet, Qt.Key.Key_Home)
    assert sheet.scale == pytest.approx(scale)
    hands.do("true_size")
    assert hands.studio.facts_line.zoom.text() == "zoom 100 %"


def test_space_and_drag_pans(hands):
    sheet = hands.studio.sheet
    sheet.setFocus()
    before = sheet.to_page(QPointF(100, 100))
    QTest.keyPress(sheet, Qt.Key.Key_Space)
    hands.drag(sheet, QPoint(100, 100), (60, 30))
    QTest.keyRelease(sheet, Qt.Key.Key_Space)
    assert sheet.to_page(QPointF(160, 130)) == pytest.approx(before)
    assert hands.document.can_undo == ""


def test_dragging_the_first_copy_is_one_step_and_escape_gives_it_up(hands):
    sheet = hands.studio.sheet
    hands.drag(sheet, hands.handle("first copy"), (20, 0))
    assert hands.rule("lattice").gap == pytest.approx(20 / sheet.scale, abs=0.3)
    hands.settle()
    hands.do("undo")
    assert hands.rule("lattice").gap == 0.0
    hands.settle()
    hands.drag(sheet, hands.handle("first copy"), (30, 10), keep=False)
    assert hands.rule("lattice").gap > 0
    QTest.keyClick(sheet, Qt.Key.Key_Escape)
    assert hands.rule("lattice").gap == 0.0
    assert hands.document.can_redo != ""  # what was undone before is still there


def test_arrow_keys_nudge_the_picked_handle(hands):
    sheet = hands.studio.sheet
    hands.handle("pivot")
    sheet.setFocus()
    QTest.keyClick(sheet, Qt.Key.Key_PageDown)
    assert sheet.picked == "pivot"
    QTest.keyClick(sheet, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    assert hands.rule("lattice").pivot.dx == pytest.approx(1.0)


def test_a_press_on_the_empty_sheet_changes_nothing(hands):
    before = hands.document.design
    QTest.mouseClick(hands.studio.sheet, Qt.MouseButton.LeftButton, pos=QPoint(8, 8))
    assert hands.document.design is before


def test_bones_and_handles_are_switches(hands):
    before = hands.studio.sheet.picture
    hands.do("bones")
    hands.settle()
    assert hands.studio.sheet.picture != before
    hands.do("handles")
    assert hands.studio.sheet.handle_at(QPointF(hands.handle("pivot"))) == ""


def test_the_sheet_speaks_its_facts(hands):
    hands.bot.waitUntil(lambda: "touching" in hands.studio.sheet.accessibleDescription(), timeout=10_000)
    assert "133 in all" in hands.studio.sheet.accessibleDescription()


def test_the_newest_design_is_the_one_shown(hands):
    field = hands.row("lattice", "gap").fields[0]
    field.setFocus()
    for _ in range(25):
        QTest.keyClick(field, Qt.Key.Key_Up)
    hands.settle()
    hands.bot.waitUntil(lambda: hands.studio.facts.pitch == pytest.approx(61), timeout=20_000)


def test_hovering_names_the_copy_and_presses_pick_ever_wider(hands, monkeypatch):
    sheet = hands.studio.sheet
    monkeypatch.setattr(type(sheet), "underMouse", lambda self: True)
    at = sheet.to_widget(60.0, 62.35).toPoint()
    QTest.mouseMove(sheet, at)
    hands.bot.waitUntil(lambda: sheet.under is not None, timeout=20_000)
    assert sheet.under.words.lower().startswith("part ")
    before = hands.document.design
    QTest.mouseClick(sheet, Qt.MouseButton.LeftButton, pos=at)
    assert hands.studio.facts_line.sentence.lower().startswith("part ")
    QTest.mouseClick(sheet, Qt.MouseButton.LeftButton, pos=at)
    assert "row" in hands.studio.facts_line.sentence
    assert len(sheet.under.rings) == 3
    assert hands.document.design is before


def test_a_plain_picture_comes_first_while_the_painter_is_made_ready(hands, monkeypatch):
    from under_lattice.render import painter
    from under_lattice.ui.workers import engine

    ready = []
    for module in (painter, engine):
        monkeypatch.setattr(module, "is_warm", lambda: bool(ready))

    class Compiling:
        def poll(self):
            return 0 if ready else None

        def terminate(self):
            pass

        def wait(self, seconds):
            pass

    hands.window.engine._warming = Compiling()
    hands.window.engine._look.start()
    hands.type_in(hands.row("lattice", "gap").fields[0], "1")
    hands.bot.waitUntil(lambda: "made ready" in hands.studio.facts_line.time.text(), timeout=20_000)
    ready.append(True)
    hands.bot.waitUntil(lambda: hands.studio.facts_line.time.text().endswith(" ms"), timeout=20_000)
    hands.bot.waitUntil(lambda: hands.window.engine._warming is None, timeout=20_000)


# ---------------------------------------------------------------- sheet dialog
def test_the_sheet_dialog_changes_size_unit_and_ground(hands):
    hands.do("sheet")
    box = dialog(hands.window, SheetDialog)
    hands.type_in(box.fields["width"], "200")
    assert hands.document.design.sheet.width == 200.0
    box.unit.textActivated.emit("cm")
    assert hands.document.design.sheet.width == pytest.approx(20.0)
    assert hands.rule("motif").size == pytest.approx(3.6)
    box.has_ground.setChecked(False)
    assert hands.document.design.sheet.background == ""
    box.shown.setChecked(True)
    box.accept()
    assert hands.studio.sheet.show_grid
    hands.do("undo")
    assert hands.document.design.sheet == floor_alone().design.sheet


# ---------------------------------------------------------------- files
def test_save_and_open_by_dialog(hands, tmp_path, monkeypatch):
    path = tmp_path / "my floor"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(path), ""))
    hands.type_in(hands.row("lattice", "gap").fields[0], "1.8")
    assert hands.window.windowTitle().startswith("*")
    hands.do("save")
    saved = tmp_path / "my floor.lattice"
    hands.bot.waitUntil(lambda: hands.document.path == saved, timeout=10_000)
    assert open_any(saved).work.design == hands.document.design
    assert not hands.window.windowTitle().startswith("*")
    assert recent.recent_works() == [saved]
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a, **k: (str(saved), ""))
    hands.do("open")
    hands.bot.waitUntil(lambda: not hands.window.files.opening, timeout=10_000)
    assert hands.rule("lattice").gap == 1.8
    assert hands.document.path == saved


@pytest.mark.parametrize(("answer", "left"), [("Cancel", False), ("Discard", True), ("Save", True)])
def test_unsaved_work_is_asked_about(hands, monkeypatch, tmp_path, answer, left):
    hands.type_in(hands.row("lattice", "gap").fields[0], "1")
    monkeypatch.setattr(QMessageBox, "exec", lambda box: QMessageBox.StandardButton[answer])
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(tmp_path / "kept.lattice"), ""))
    hands.do("book")
    assert (hands.window.studio is None) == left
    assert (tmp_path / "kept.lattice").exists() == (answer == "Save")


def test_the_first_page_has_a_marked_start_that_enter_opens(window, qtbot):
    window.show()
    window.show_book()
    qtbot.waitUntil(lambda: window.start_page.starts["hexagons"].hasFocus(), timeout=5000)
    QTest.keyClick(window.start_page.starts["hexagons"], Qt.Key.Key_Return)
    assert window.document.design.layers[0].rules[0].sides == 6
    window.show_book()
    line = next(iter(window.start_page.starts.values()))  # another one
    QTest.mouseClick(line, Qt.MouseButton.LeftButton)
    QTest.mouseDClick(line, Qt.MouseButton.LeftButton)
    assert window.studio is not None
    assert window.start_page.starts[window.start_page.chosen_start] is line


def test_keys_known_from_elsewhere_do_the_same_here(hands):
    hands.type_in(hands.row("lattice", "gap").fields[0], "3")
    hands.window.studio.sheet.setFocus()
    QTest.keyClick(hands.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert hands.rule("lattice").gap == 0
    QTest.keyClick(hands.window, Qt.Key.Key_Y, Qt.KeyboardModifier.ControlModifier)
    assert hands.rule("lattice").gap == 3
    sheet = hands.studio.sheet
    scale = sheet.scale
    QTest.keyClick(hands.window, Qt.Key.Key_Equal, Qt.KeyboardModifier.ControlModifier)
    assert sheet.scale > scale
    QTest.keyClick(hands.window, Qt.Key.Key_0, Qt.KeyboardModifier.ControlModifier)
    assert sheet.fitted
    QTest.keyClick(hands.window, Qt.Key.Key_F11)
    assert hands.window.isFullScreen()
    QTest.keyClick(hands.window, Qt.Key.Key_F11)
    assert not hands.window.isFullScreen()


def test_closing_asks_in_plain_words(hands, monkeypatch):
    hands.type_in(hands.row("lattice", "gap").fields[0], "3")
    asked = []

    def answer(box):
        asked.append((box.text(), [button.text().replace("&", "") for button in box.buttons()]))
        return QMessageBox.StandardButton.Cancel

    monkeypatch.setattr(QMessageBox, "exec", answer)
    QTest.keyClick(hands.window, Qt.Key.Key_W, Qt.KeyboardModifier.ControlModifier)
    ((text, buttons),) = asked
    assert text == "Save changes to “Entrance floor”?"
    assert sorted(buttons) == ["Cancel", "Close without saving", "Save"]
    assert hands.window.studio is not None


def test_a_dropped_svg_opens_as_live_work(hands, tmp_path):
    hands.do("export")
    box = dialog(hands.window, ExportDialog)
    box.write(tmp_path / "floor.svg")
    hands.bot.waitUntil(lambda: box.export is None, timeout=20_000)
    assert open_any(tmp_path / "floor.svg").work.design == hands.document.design
    hands.window.show_work(demo("rope-mat"))
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(tmp_path / "floor.svg"))])
    event = QDropEvent(QPointF(5, 5), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier)
    hands.window.dropEvent(event)
    hands.bot.waitUntil(lambda: hands.document.design.name == "Entrance floor", timeout=10_000)
    assert hands.document.path is None  # saving asks for a work file, the drawing stays


def test_a_broken_file_is_refused_and_the_work_stays(hands, tmp_path):
    path = tmp_path / "bad.lattice"
    path.write_text("{")
    before = hands.document.design
    hands.window.files.open_path(path)
    hands.bot.waitUntil(lambda: not hands.window.files.opening, timeout=10_000)
    box = dialog(hands.window, QMessageBox)
    assert "line 1" in box.text()
    box.close()
    assert hands.document.design is before


def test_png_export_takes_width_or_density_and_can_be_given_up(hands, tmp_path):
    hands.do("export")
    box = dialog(hands.window, ExportDialog)
    by = {one.property("purpose") or one.property("format"): one for one in (*box.purposes.buttons(), *box.formats.buttons())}
    QTest.mouseClick(by["picture"], Qt.MouseButton.LeftButton)
    assert box.format == "png"
    hands.type_in(box.pages["png"].parts["dpi"], "50.8")
    assert box.pages["png"].parts["width"].text() == "648"
    hands.type_in(box.pages["png"].parts["width"], "9000")
    box.write(tmp_path / "large.png")
    QTest.mouseClick(box.cancel, Qt.MouseButton.LeftButton)
    hands.bot.waitUntil(lambda: box.export is None, timeout=20_000)
    assert not (tmp_path / "large.png").exists()
    box.reject()


def test_an_export_to_nowhere_says_why(hands, tmp_path):
    hands.do("export")
    box = dialog(hands.window, ExportDialog)
    box.write(tmp_path / "none" / "a.svg")
    hands.bot.waitUntil(lambda: box.export is None, timeout=20_000)
    assert "cannot be written" in box.error.text()
    box.reject()


# ---------------------------------------------------------------- pages
def test_the_book_shows_its_leaves_and_opens_one(qtbot, window):
    window.show_book()
    window.show()
    page = window.start_page
    qtbot.waitUntil(lambda: all(tile.picture is not None for tile in page.tiles.values()), timeout=60_000)
    assert len(page.tiles) == len(DEMOS)
    QTest.mouseClick(page.tiles["demo:air-grille"], Qt.MouseButton.LeftButton)
    assert page.chosen_name.text() == "Air grille"
    QTest.mouseClick(page.open_leaf, Qt.MouseButton.LeftButton)
    assert window.document.design.name == "Air grille"
    assert not window.document.modified


def test_a_blank_start_makes_a_new_work(qtbot, window):
    window.show_book()
    window.show()
    page = window.start_page
    QTest.mouseClick(page.starts["triangles"], Qt.MouseButton.LeftButton)
    assert page.new.text() == "New triangle sheet"
    QTest.mouseClick(page.new, Qt.MouseButton.LeftButton)
    assert window.document.design.layers[0].rules[-1].form == "triangles"


def test_recent_works_stand_first_in_the_book(hands, tmp_path, monkeypatch):
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(tmp_path / "mine.lattice"), ""))
    hands.do("save_as")
    hands.do("book")
    page = hands.window.start_page
    first = next(iter(page.tiles.values()))
    hands.bot.waitUntil(lambda: first.picture is not None, timeout=60_000)
    assert first.leaf.path == tmp_path / "mine.lattice"
    QTest.mouseDClick(first, Qt.MouseButton.LeftButton)
    hands.bot.waitUntil(lambda: hands.window.document is not None, timeout=10_000)
    assert hands.document.path == tmp_path / "mine.lattice"


def test_any_everyday_word_finds_a_command(hands):
    hands.do("find")
    box = dialog(hands.window, CommandSearch)
    QTest.keyClicks(box.field, "honey")
    QTest.keyClick(box.field, Qt.Key.Key_Return)
    hands.bot.waitUntil(lambda: [rule.kind for rule in hands.layer.rules].count("lattice") == 2, timeout=5000)
    hands.do("find")
    box = dialog(hands.window, CommandSearch)
    box.field.setText("ink: stroke width")
    words = [box.list.item(k).text() for k in range(box.list.count())]
    assert "Ink: Stroke width" not in words  # it has no effect while there is no stroke
    box.field.setText("lattice gap")
    QTest.keyClick(box.field, Qt.Key.Key_Return)
    hands.bot.waitUntil(lambda: "Gap" in hands.window.focusWidget().accessibleName(), timeout=5000)
    assert hands.studio.chain.open_rule == "floor-lattice"


def test_every_command_does_something_and_stands_in_the_menu(hands):
    assert {command.key for command in COMMANDS} <= set(hands.window._functions)
    shown = {action.text() for part in hands.window.menu.actions() for action in part.menu().actions() if not action.menu()}
    assert len(shown) == len(COMMANDS)
    shortcuts = [command.shortcut for command in COMMANDS if command.shortcut]
    assert len(shortcuts) == len(set(shortcuts))


def test_every_control_has_a_name(hands):
    hands.open("lattice")
    for kind in (QAbstractButton, QLineEdit, QComboBox):
        for control in hands.window.findChildren(kind):
            if control.isVisible() and control.focusPolicy() != Qt.FocusPolicy.NoFocus:
                assert control.accessibleName() or getattr(control, "text", str)(), control


def test_dark_and_light_are_remembered(hands):
    for theme in ("dark", "light"):
        hands.do(theme)
        hands.bot.waitUntil(lambda theme=theme: recent.theme() == theme, timeout=5000)  # written in a thread
        hands.settle()


def test_signals_with_a_value_can_be_emitted_without_end(qapp):
    """A release of the bindings lost a reference in each such call and ended the process after a few hundred."""

    class Bell(QObject):
        rung = Signal(bool)

    bell, heard = Bell(), []
    bell.rung.connect(heard.append)
    for _ in range(3000):
        bell.rung.emit(True)
    assert len(heard) == 3000
    assert np.all(heard)


EVERYDAY = [
    ("rotate", "Lattice: Turn"),
    ("angle", "Lattice: Turn"),
    ("count", "Add Progression"),
    ("thickness", "Ink: Stroke"),
    ("transparency", "Ink: Fill opacity"),
    ("dpi", "Export"),
    ("hexagon", "Polygon as the motif"),
    ("stripe", "Bar strip as the motif"),
    ("dots", "Ellipse as the motif"),
    ("random", "Deal siblings again"),
    ("black", "Ink: Palette"),
    ("reset", "Presets of this rule"),
    ("seamless", "Export"),
    ("star", "Star as the motif"),
    ("rope mat", "Open Rope mat"),
    ("vortex", "Add Progression"),
    ("gradient", "Ink: Fill type"),
    ("floor", "Layer Floor"),
]


def test_everyday_words_are_found(hands):
    for word, wanted in EVERYDAY:
        hands.do("find")
        box = dialog(hands.window, CommandSearch)
        box.field.setText(word)
        words = [box.list.item(k).text() for k in range(box.list.count())]
        assert wanted in words[:12], (word, words[:12])
        box.close()


@pytest.mark.parametrize(
    ("typed", "first"), [("lattice", "Add Lattice"), ("mirror", "Add Mirror"), ("export", "Export"), ("star", "Star as the motif")]
)
def test_what_begins_as_is_typed_is_found_first(hands, typed, first):
    hands.do("find")
    box = dialog(hands.window, CommandSearch)
    QTest.keyClicks(box.field, typed)
    assert box.list.item(0).text() == first
    box.close()


def test_a_work_of_the_book_is_found_from_the_first_page_too(window, qtbot):
    window.show()
    window.actions_by_key["find"].trigger()
    box = dialog(window, CommandSearch)
    assert box.x() < window.width() / 2  # where the thread hangs
    QTest.keyClicks(box.field, "rope")
    QTest.keyClick(box.field, Qt.Key.Key_Return)
    qtbot.waitUntil(lambda: window.document is not None, timeout=5000)
    assert window.document.design.name == "Rope mat"
