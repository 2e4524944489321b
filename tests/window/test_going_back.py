"""Nothing is lost: copies while one works, what is offered after a bad end, ends that come from outside."""

import signal
import subprocess
import sys
import time

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QMessageBox

from tests.chains import floor_alone
from under_lattice.files import unsaved
from under_lattice.files.unsaved import folder, left_behind, new_place
from under_lattice.library import demo
from under_lattice.ui.dialogs.recovery_dialog import RecoveryDialog
from under_lattice.ui.window.application import keep_all
from under_lattice.ui.window.ending import Ending
from under_lattice.ui.workers import autosave


def copies():
    return sorted(folder().glob("*.unsaved"))


def gap_in_copy():
    """Read the copy as the next start would, after the window has let go of it."""
    (found,), problems = left_behind()
    assert not problems
    found.place.let_go()
    return found.work.design.layers[0].rules[-1].gap


def test_a_copy_follows_the_work_and_goes_when_it_is_saved(hands, tmp_path, monkeypatch):
    monkeypatch.setattr(autosave, "PAUSE", 0.1)
    assert not copies()
    hands.type_in(hands.row("lattice", "gap").fields[0], "3")
    hands.bot.waitUntil(lambda: len(copies()) == 1, timeout=5000)
    hands.type_in(hands.row("lattice", "gap").fields[0], "5")
    hands.window.autosave.flush()
    assert len(copies()) == 1
    hands.window.autosave.place.let_go()
    assert gap_in_copy() == 5
    hands.window.autosave.place.claim()
    hands.document.path = tmp_path / "floor.lattice"
    hands.do("save")
    hands.bot.waitUntil(lambda: not hands.document.modified, timeout=5000)
    hands.bot.waitUntil(lambda: not copies(), timeout=5000)


def test_one_who_never_pauses_is_copied_too(hands, monkeypatch):
    monkeypatch.setattr(autosave, "PAUSE", 0.4)
    monkeypatch.setattr(autosave, "LATEST", 0.6)
    begun, value = time.monotonic(), 0
    while not copies():
        assert time.monotonic() - begun < 5
        value += 1
        hands.type_in(hands.row("lattice", "gap").fields[0], str(value % 9))
        hands.bot.wait(50)


def test_undo_to_what_is_saved_needs_no_copy(hands, monkeypatch):
    monkeypatch.setattr(autosave, "PAUSE", 0.05)
    hands.type_in(hands.row("lattice", "gap").fields[0], "3")
    hands.bot.waitUntil(lambda: bool(copies()), timeout=5000)
    hands.do("undo")
    hands.bot.waitUntil(lambda: not copies(), timeout=5000)


@pytest.mark.parametrize("spare", [True, False])
def test_a_full_disk_is_told_once_and_the_copy_goes_elsewhere(hands, monkeypatch, tmp_path, spare):
    folder().parent.mkdir(parents=True, exist_ok=True)
    folder().write_text("a file where the folder should be")
    if not spare:
        monkeypatch.setattr(unsaved, "SPARE", tmp_path / "nowhere")
    told = []
    hands.window.autosave.failed.connect(told.append)
    for text in ("3", "4"):
        hands.type_in(hands.row("lattice", "gap").fields[0], text)
        hands.window.autosave.flush()
    hands.bot.waitUntil(lambda: bool(told), timeout=5000)
    assert len(told) == 1
    assert "cannot be written" in told[0]
    assert told[0].startswith("Copies of the unsaved work are kept in" if spare else "No copy")
    for box in hands.window.findChildren(QMessageBox):
        box.close()
    if spare:
        hands.window.autosave.place.let_go()
        assert gap_in_copy() == 4
        hands.window.autosave.place.claim()


def offered(window, qtbot):
    window.offer_unsaved(silent=True)
    qtbot.waitUntil(lambda: bool(window.findChildren(RecoveryDialog)), timeout=5000)
    return window.findChildren(RecoveryDialog)[-1]


@pytest.fixture
def two_left(tmp_path):
    for work, own in ((floor_alone(), None), (demo("festival-poster"), tmp_path / "poster.lattice")):
        place = new_place()
        place.write(work, own)
        place.let_go()


def test_what_was_left_behind_is_offered_with_name_time_and_file(window, qtbot, two_left):
    window.show_book()
    window.show()
    dialog = offered(window, qtbot)
    texts = [dialog.list.item(k).text() for k in range(dialog.list.count())]
    poster = next(k for k, text in enumerate(texts) if text.startswith("Festival poster"))
    assert "today" in texts[poster]
    assert "poster.lattice" in texts[poster]
    assert "never saved" in texts[1 - poster]
    dialog.list.setCurrentRow(poster)
    QTest.keyClick(dialog.list, Qt.Key.Key_Return)
    assert window.document.work == demo("festival-poster")
    assert window.document.modified
    assert window.document.path.name == "poster.lattice"
    assert len(copies()) == 2  # still held, the other for the next start
    (other,), _ = left_behind()
    assert other.work == floor_alone()
    other.place.let_go()


def test_later_offers_again_and_remove_removes(window, qtbot, two_left):
    window.show_book()
    window.show()
    dialog = offered(window, qtbot)
    QTest.keyClick(dialog, Qt.Key.Key_Escape)
    qtbot.waitUntil(lambda: not window.findChildren(RecoveryDialog), timeout=5000)
    dialog = offered(window, qtbot)
    assert dialog.list.count() == 2
    for _ in range(2):
        QTest.mouseClick(dialog.remove, Qt.MouseButton.LeftButton)
    assert not copies()
    qtbot.waitUntil(lambda: not window.findChildren(RecoveryDialog), timeout=5000)
    window.offer_unsaved()
    qtbot.waitUntil(lambda: any("no work" in box.text() for box in window.findChildren(QMessageBox)), timeout=5000)
    window.findChildren(QMessageBox)[-1].close()


def started():
    """Start the application in a process of its own, change a number in it, and say so."""
    code = """
import sys
from PySide6.QtCore import QTimer
from under_lattice.ui.window import application
from under_lattice.ui.window.window import Window
from under_lattice.declare.frozen import edited
from under_lattice.work.edits import set_dial
def change(window):
    design = window.document.design
    layer = design.chains()[-1]
    rule = next(rule for rule in layer.rules if rule.handle == "lattice")
    window.document.apply("Gap", set_dial(design, layer.id, rule.id, "gap", 4.0))
    print("changed", flush=True)
show = Window.show
def shown(window):
    show(window)
    QTimer.singleShot(1500, lambda: change(window))
Window.show = shown
sys.exit(application.run(["--demo"]))
"""
    return subprocess.Popen([sys.executable, "-c", code], stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True)


def test_a_signal_keeps_everything_and_ends_soon():
    numbers = (signal.SIGTERM, signal.SIGHUP)
    processes = [started() for _ in numbers]
    for process, number in zip(processes, numbers, strict=True):
        assert process.stdout.readline() == "changed\n"
        process.send_signal(number)
        assert process.wait(timeout=8) == 0  # beside other tests; bench/closing.py, which runs alone, measures 2 s
        process.stdout.close()
    found, problems = left_behind()
    assert not problems
    assert len(found) == len(numbers)
    for one in found:
        assert next(rule for rule in one.work.design.chains()[-1].rules if rule.handle == "lattice").gap == 4.0
        one.place.clear()


def test_ctrl_c_in_the_terminal_asks_as_closing_does(qapp, qtbot, monkeypatch, hands):
    asked = []
    monkeypatch.setattr(QMessageBox, "exec", lambda box: asked.append(box.text()) or QMessageBox.StandardButton.Cancel)
    hands.type_in(hands.row("lattice", "gap").fields[0], "3")
    ending = Ending(qapp, hands.window.close, hands.window.autosave.flush)
    try:
        signal.raise_signal(signal.SIGINT)
        qtbot.waitUntil(lambda: bool(asked), timeout=5000)
    finally:
        ending.stop()
    assert asked == ["Save changes to “Entrance floor”?"]
    assert hands.window.isVisible()  # it was not left


def test_a_log_out_keeps_everything_and_asks_nothing(qapp, monkeypatch, hands):
    monkeypatch.setattr(QMessageBox, "exec", lambda box: pytest.fail("it asked"))
    hands.type_in(hands.row("lattice", "gap").fields[0], "7")
    ending = Ending(qapp, hands.window.close, lambda: keep_all([hands.window]))
    try:
        ending.log_out()  # what the signal of the desktop's session calls
    finally:
        ending.stop()
    assert len(copies()) == 1
    hands.window.autosave.place.let_go()
    assert gap_in_copy() == 7
