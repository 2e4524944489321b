"""The window on the desktop: copy and paste, works opened lately, several windows, the printer, versions, exports remembered."""

import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QGuiApplication, QInputDevice, QPointingDevice, QWheelEvent
from PySide6.QtPrintSupport import QPrinter
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QMenu

from tests.chains import work_of
from tests.window.conftest import Hands, gone
from under_lattice import __version__
from under_lattice.declare.frozen import edited
from under_lattice.files.recipe import open_any
from under_lattice.files.storage import write
from under_lattice.library import demo
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.ui.dialogs.about_dialog import AboutDialog
from under_lattice.ui.export.export_dialog import ExportDialog
from under_lattice.ui.look.numerals import capital
from under_lattice.ui.state import recent
from under_lattice.ui.window.window import Window
from under_lattice.vary.numbers import Varied


def shown(hands, work):
    hands.window.show_work(work)
    hands.bot.waitUntil(lambda: hands.studio.settled and hands.studio.facts.copies > 0, timeout=20_000)


# -- copy and paste --------------------------------------------------------------------------------
def test_a_rule_is_copied_into_another_work_and_its_numbers_vary_by_what_is_there(hands):
    each = Adjust(scope="each", turn=Varied(rule="floor-lattice", channel="column", start=0.0, end=40.0))
    shown(hands, work_of(Polygon(size=20.0), Lattice(form="squares"), each))
    hands.card("adjust").head.setFocus()
    hands.do("copy")
    assert hands.studio.facts_line.sentence == "Copied the rule Adjust"
    other = work_of(Polygon(size=1.0), Lattice(form="squares"), Ink())
    shown(hands, edited(other, design=edited(other.design, sheet=edited(other.design.sheet, width=8.0, height=8.0, unit="in"))))
    hands.studio.chain.open("floor-lattice")
    hands.do("paste")
    rules = hands.layer.rules
    assert [rule.kind for rule in rules] == ["polygon", "lattice", "adjust", "ink"]
    assert rules[2].turn.rule == rules[1].id
    assert rules[2].turn.end == 40.0
    hands.do("undo")
    assert len(hands.layer.rules) == 3
    shown(hands, work_of(Polygon(size=20.0), Ink()))
    hands.do("paste")
    assert hands.layer.rules[-1].turn == 0.0  # nothing to vary by: it rests at its start


def test_a_motif_is_pasted_in_the_place_of_another_with_its_lengths_in_the_units_of_the_work(hands):
    shown(hands, work_of(Polygon(sides=5, size=25.4), Lattice(form="squares")))
    hands.card("motif").head.setFocus()
    hands.do("copy")
    other = work_of(Polygon(size=1.0), Ink())
    shown(hands, edited(other, design=edited(other.design, sheet=edited(other.design.sheet, width=8.0, height=8.0, unit="in"))))
    hands.do("paste")
    motif = hands.layer.rules[0]
    assert (motif.sides, motif.id) == (5, "floor-motif")
    assert motif.size == pytest.approx(1.0)


def test_a_layer_is_copied_into_another_work(hands):
    shown(hands, demo("life-rings"))
    chips = hands.studio.chips
    next(iter(chips.chips.values())).setFocus()
    name = hands.layer.name
    hands.do("copy")
    shown(hands, work_of(Polygon(size=20.0), Ink()))
    hands.do("paste")
    assert [one.name for one in hands.document.design.layers] == [name, "Floor"]
    assert hands.layer.name == name
    hands.settle()
    assert not hands.studio.results[hands.layer.id].problems
    hands.do("paste")
    assert hands.layer.name == f"{name} 2"


def test_else_the_picture_is_copied(hands):
    hands.studio.sheet.setFocus()
    hands.do("copy")
    hands.bot.waitUntil(lambda: hands.studio.facts_line.sentence.startswith("Copied the picture"), timeout=10_000)
    image = QGuiApplication.clipboard().image()
    sheet = hands.document.design.sheet
    assert max(image.width(), image.height()) == 2400
    assert image.width() / image.height() == pytest.approx(sheet.width / sheet.height, rel=0.01)


def test_of_what_moves_the_moment_that_is_shown_is_copied(qtbot, window):
    hands = Hands(qtbot, window).show(demo("moon-pool"))
    copied = []
    for moment in (0.0, 0.4):
        hands.studio.looked.time = moment
        QGuiApplication.clipboard().clear()
        hands.do("copy_picture")
        hands.bot.waitUntil(lambda: not QGuiApplication.clipboard().image().isNull(), timeout=20_000)
        copied.append(QGuiApplication.clipboard().image())
    assert copied[0] != copied[1]


def test_what_was_broken_on_the_clipboard_is_refused_in_words(hands, monkeypatch):
    said = []
    monkeypatch.setattr(hands.window, "complain", lambda sentence: said.append(capital(sentence)))
    hands.card("ink").head.setFocus()
    hands.do("copy")
    mime = QGuiApplication.clipboard().mimeData()
    form = next(one for one in mime.formats() if "rule" in one)
    mime.setData(form, b"{broken")
    hands.do("paste")
    assert said
    assert said[0].startswith("What was copied is not a work of Under Lattice")


def test_copy_in_a_field_copies_its_text(hands):
    field = hands.row("lattice", "gap").fields[0]
    hands.type_in(field, "12")
    field.selectAll()
    QTest.keyClick(field, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
    assert QGuiApplication.clipboard().text() == "12"


# -- the desktop -----------------------------------------------------------------------------------
def test_works_opened_lately_are_in_the_menu(hands, tmp_path):
    path = tmp_path / "rope & mat.lattice"
    write(demo("rope-mat"), path)
    recent.remember(path)
    menu = next(one for one in hands.window.menu.findChildren(QMenu) if one.title() == "Open recent")
    menu.aboutToShow.emit()
    assert [entry.text() for entry in menu.actions()] == ["&1  rope && mat.lattice"]
    menu.actions()[0].trigger()
    hands.bot.waitUntil(lambda: hands.document.design.name == "Rope mat", timeout=10_000)


def test_a_second_window_holds_a_work_of_its_own(hands, qtbot):
    made = []
    hands.window.desktop._another = lambda: made.append(Window()) or made[0].show()
    hands.window._functions |= hands.window.desktop.commands()
    hands.do("new_window")
    (second,) = made
    second.show_work(demo("rope-mat"))
    qtbot.waitUntil(lambda: second.studio.settled, timeout=20_000)
    hands.type_in(hands.row("lattice", "gap").fields[0], "3")
    hands.settle()
    assert hands.document.design.name != second.document.design.name
    assert not second.document.modified
    second.close()
    hands.type_in(hands.row("lattice", "gap").fields[0], "4")
    hands.settle()
    assert hands.rule("lattice").gap == 4


def test_versions_are_shown(hands):
    hands.do("about")
    (box,) = (one for one in hands.window.findChildren(AboutDialog) if one.isVisible())
    for word in (f"Under Lattice {__version__}", "Python 3.", "Qt 6.", "numpy"):
        assert word in box.lines.text()
    box.accept()


@pytest.mark.parametrize(("wide", "told"), [(200.0, "true size"), (900.0, "so that it fits the paper")])
def test_the_sheet_is_printed_at_its_true_size_or_to_fit(hands, tmp_path, wide, told):
    work = work_of(Polygon(size=20.0), Ink())
    shown(hands, edited(work, design=edited(work.design, sheet=edited(work.design.sheet, width=wide, height=150.0))))
    printer = QPrinter()
    printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
    printer.setOutputFileName(str(tmp_path / "out.pdf"))
    printer.setResolution(72)
    hands.window.desktop.print_on(printer)
    hands.bot.waitUntil(lambda: told in hands.studio.facts_line.sentence, timeout=20_000)
    assert (tmp_path / "out.pdf").read_bytes().startswith(b"%PDF")


def test_the_window_comes_back_where_it_stood_and_fits_the_screen(window):
    window.resize(780, 640)
    window.desktop.remember()
    window.resize(1200, 700)
    window.desktop.restore()
    assert (window.width(), window.height()) == (780, 640)
    window.resize(9000, 9000)
    window.desktop.remember()
    window.desktop.restore()
    room = QApplication.primaryScreen().availableGeometry()
    assert window.width() <= room.width()
    assert window.height() <= room.height()


def test_two_fingers_move_the_sheet_and_the_wheel_zooms(hands):
    sheet = hands.studio.sheet
    at = QPointF(sheet.rect().center())
    before, scale = sheet.centre, sheet.scale

    def wheel(phase, device):
        glob, keys = QPointF(sheet.mapToGlobal(at.toPoint())), Qt.KeyboardModifier.NoModifier
        QApplication.sendEvent(
            sheet,
            QWheelEvent(at, glob, QPoint(0, 40), QPoint(0, 120), Qt.MouseButton.NoButton, keys, phase, False, device=device),
        )

    mouse = QPointingDevice.primaryPointingDevice()
    wheel(Qt.ScrollPhase.ScrollUpdate, mouse)
    assert sheet.scale == scale
    assert sheet.centre[1] == pytest.approx(before[1] - 40 / scale)
    assert mouse.type() != QInputDevice.DeviceType.TouchPad
    wheel(Qt.ScrollPhase.NoScrollPhase, mouse)
    assert sheet.scale > scale


def test_an_export_is_remembered_with_the_work(hands, tmp_path):
    hands.do("export")
    (box,) = (one for one in hands.window.findChildren(ExportDialog) if one.isVisible())
    next(one for one in box.purposes.buttons() if one.property("purpose") == "picture").click()
    box._turn("width", 640)
    box.write(tmp_path / "floor.png")
    hands.bot.waitUntil(lambda: (tmp_path / "floor.png").exists() and gone(box), timeout=20_000)
    assert not hands.document.modified  # nothing that must be saved
    write(hands.document.work, tmp_path / "floor.lattice")
    hands.window.show_work(open_any(tmp_path / "floor.lattice").work)
    hands.do("export")
    box = [one for one in hands.window.findChildren(ExportDialog) if one.isVisible()][-1]
    assert box.format == "png"
    assert box.options().width == 640


def test_a_work_opens_on_the_layer_it_is_told_to(hands, tmp_path):
    shown(hands, demo("life-rings"))
    rim = next(one for one in hands.document.design.layers if one.name == "Rim")
    hands.studio.choose_layer(rim.id)
    hands.do("main_layer")
    write(hands.document.work, tmp_path / "rings.lattice")
    hands.window.show_work(open_any(tmp_path / "rings.lattice").work)
    assert hands.studio.layer == rim.id
