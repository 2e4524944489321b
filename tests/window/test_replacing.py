"""An existing file is replaced only when that was asked with its whole name."""

import threading
import time

import pytest
from PySide6.QtCore import Qt, QTimer
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QFileDialog, QMessageBox, QPushButton

from under_lattice.files.recipe import open_any
from under_lattice.ui.export.export_dialog import ExportDialog


def answering(box_asked, words):
    """Press a button of the next question; returns at once, the question comes later."""

    def press():
        box = QApplication.activeModalWidget()
        if not isinstance(box, QMessageBox):
            QTimer.singleShot(20, press)
            return
        box_asked.append(box.text())
        next(one for one in box.findChildren(QPushButton) if one.text() == words).click()

    QTimer.singleShot(0, press)


@pytest.fixture
def names(monkeypatch):
    """What is typed into the file dialog, one after another; nothing gives it up."""
    typed = []
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, **__: (typed.pop(0) if typed else "", ""))
    return typed


@pytest.mark.parametrize("typed", ["old", "old.lattice", "old.LATTICE"])
def test_save_as_asks_before_it_replaces(hands, names, tmp_path, typed):
    old = tmp_path / ("old.LATTICE" if typed.endswith("LATTICE") else "old.lattice")
    old.write_text("precious")
    asked = []
    names.append(str(tmp_path / typed))
    answering(asked, "Choose another name")
    hands.do("save_as")
    assert asked == [f"{old.name} is there already."]
    assert old.read_text() == "precious"
    names += [str(tmp_path / typed)]
    answering(asked, "Replace")
    hands.do("save_as")
    hands.bot.waitUntil(lambda: old.read_text() != "precious", timeout=10_000)
    assert open_any(old).work.design == hands.document.design


def test_another_name_is_taken_at_once(hands, names, tmp_path):
    (tmp_path / "old.lattice").write_text("precious")
    names += [str(tmp_path / "old"), str(tmp_path / "new")]
    answering([], "Choose another name")
    hands.do("save_as")
    hands.bot.waitUntil(lambda: hands.document.path == tmp_path / "new.lattice", timeout=10_000)
    assert (tmp_path / "old.lattice").read_text() == "precious"


def test_export_asks_too(hands, names, tmp_path):
    old = tmp_path / "tile.svg"
    old.write_text("precious")
    hands.do("export")
    dialog = hands.window.findChild(ExportDialog)
    names.append(str(tmp_path / "tile"))
    asked = []
    answering(asked, "Choose another name")
    QTest.mouseClick(dialog.go, Qt.MouseButton.LeftButton)
    assert asked == ["tile.svg is there already."]
    assert old.read_text() == "precious"
    names.append(str(tmp_path / "tile"))
    answering(asked, "Replace")
    QTest.mouseClick(dialog.go, Qt.MouseButton.LeftButton)
    hands.bot.waitUntil(lambda: old.read_bytes().startswith(b"<?xml"), timeout=20_000)


def test_a_fault_while_exporting_is_told_and_the_dialog_can_be_left(hands, tmp_path, monkeypatch):
    from under_lattice.output import svg

    def broken(*_):
        raise ZeroDivisionError

    monkeypatch.setattr(svg, "write_svg", broken)
    hands.do("export")
    dialog = hands.window.findChild(ExportDialog)
    dialog.write(tmp_path / "never.svg")
    hands.bot.waitUntil(lambda: "ZeroDivisionError" in dialog.error.text() and dialog.go.isEnabled(), timeout=10_000)
    QTest.mouseClick(dialog.cancel, Qt.MouseButton.LeftButton)
    hands.bot.waitUntil(dialog.isHidden, timeout=5000)
    assert not (tmp_path / "never.svg").exists()


def test_saving_is_done_off_the_interface_thread_and_closing_waits_for_it(hands, names, tmp_path, monkeypatch):
    from under_lattice.files import saving

    threads, fsync = [], saving.os.fsync

    def slow(handle):
        threads.append(threading.current_thread())
        time.sleep(0.4)
        fsync(handle)

    monkeypatch.setattr(saving.os, "fsync", slow)
    names.append(str(tmp_path / "slow"))
    begun = time.perf_counter()
    hands.do("save_as")
    assert time.perf_counter() - begun < 0.3  # the window is free again at once
    assert hands.window.files.may_leave()
    assert open_any(tmp_path / "slow.lattice").work.design == hands.document.design
    assert threading.main_thread() not in threads
