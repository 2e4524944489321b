"""A work that is left is let go, with all that was made for it: memory does not grow over a long day."""

import gc
import threading
import weakref

import pytest
from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QContextMenuEvent, QImage
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QDialog, QFileDialog, QInputDialog, QMenu, QMessageBox

from tests.chains import floor_alone
from tests.window.conftest import Hands
from under_lattice.library import demo
from under_lattice.render.finish.kept import FINISHED
from under_lattice.ui.dialogs.chooser import PictureChooser
from under_lattice.ui.dialogs.command_search import CommandSearch
from under_lattice.ui.panels.chips import Chip
from under_lattice.ui.workers import cells
from under_lattice.ui.workers.worker import worker

LEAVES = ["quit", "book", "open", "new_window", "save", "save_as", "print", "export_again"]  # the work, or the window


@pytest.fixture
def closed(monkeypatch):
    """What would wait for an answer gets none."""
    for kind in (QDialog, QMessageBox, QMenu):
        monkeypatch.setattr(kind, "exec", lambda box, *_: 0)
    monkeypatch.setattr(QInputDialog, "getText", lambda *_, **__: ("", False))
    for ask, answer in (("getOpenFileName", ("", "")), ("getOpenFileNames", ([], "")), ("getSaveFileName", ("", ""))):
        monkeypatch.setattr(QFileDialog, ask, lambda *_, answer=answer, **__: answer)


def put_away(window):
    """Close all that stands in front."""
    for top in QApplication.topLevelWidgets():
        if top is not window and top.isVisible():
            top.close()
    for kind in (PictureChooser, CommandSearch):
        for box in window.findChildren(kind):
            box.close()


def menu_of(window, part):
    """Ask for the menu of a part, and put it away."""
    at = part.rect().center()
    QApplication.sendEvent(part, QContextMenuEvent(QContextMenuEvent.Reason.Mouse, at, part.mapToGlobal(at)))
    QApplication.processEvents()
    put_away(window)


def parts(window):
    """What is made for a work, weakly."""
    studio, desk = window.studio, window.studio.desk
    made = {"document": window.document, "studio": studio, "desk": desk, "looked": desk.looked, "found": desk.found}
    made |= {"chain": studio.chain, "sheet": studio.sheet, "design": window.document.design}
    made |= {f"card {k}": card for k, card in enumerate(studio.chain.cards.values())}
    made |= {f"form {k}": card.form for k, card in enumerate(studio.chain.cards.values()) if card.form is not None}
    made |= {part: getattr(studio, part) for part in ("tray", "strips", "mix_bar", "repeat_bar", "string") if studio.has(part)}
    return {name: weakref.ref(part) for name, part in made.items()}


def used(qtbot, window, name):
    """Show a work, open all its cards and menus, give every command, and return what was made for it, weakly."""
    hands = Hands(qtbot, window).show(demo(name))
    qtbot.waitUntil(lambda: window.studio.facts.copies > 0, timeout=20_000)
    for rule in hands.layer.every_rule:
        QTest.mouseClick(window.studio.chain.cards[rule.id].head, Qt.MouseButton.LeftButton)
        qtbot.wait(20)
        menu_of(window, window.studio.chain.cards[rule.id])
    for part in (window.studio.sheet, *window.studio.findChildren(Chip)):
        menu_of(window, part)
    left = parts(window)
    for key, action in window.actions_by_key.items():
        if key not in LEAVES and action.isEnabled():
            action.trigger()
            QApplication.processEvents()
            put_away(window)
    return left | {f"{part}, at the end": kept for part, kept in parts(window).items()}


@pytest.mark.parametrize("name", ["entrance-floor", "moon-pool", "tide-board"])
def test_all_that_was_made_for_a_work_is_let_go_when_it_is_left(qtbot, window, closed, name):
    left = used(qtbot, window, name)
    window.show_work(floor_alone())
    for owner in (window.engine, window.pictures, window):
        qtbot.waitUntil(lambda owner=owner: not worker().busy(owner), timeout=20_000)

    def held():
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        gc.collect()
        return [part for part, kept in left.items() if kept() is not None]

    def none_is_held():
        assert held() == []

    qtbot.waitUntil(none_is_held, timeout=40_000)


def test_what_was_finished_for_a_work_is_let_go_with_it(qtbot, window):
    Hands(qtbot, window).show(demo("sea-glass"))
    qtbot.waitUntil(lambda: window.studio.settled and FINISHED.size > 0 and worker().rests(), timeout=30_000)
    window.show_work(floor_alone())
    assert FINISHED.size == 0


def test_a_strip_that_is_being_painted_is_given_up_with_its_work(qtbot, window, monkeypatch):
    begun, let, painted = threading.Event(), threading.Event(), []

    def slow(looks, design, size, progress, span=0.0):
        if span:  # a cell of the strip; else the one that is picked
            painted.append(design)
            begun.set()
            let.wait(20.0)
        progress.check()
        return QImage(8, 8, QImage.Format.Format_RGB32)

    monkeypatch.setattr(cells, "picture_in", slow)
    hands = Hands(qtbot, window).show(demo("entrance-floor"))
    hands.do("strip")
    qtbot.waitUntil(begun.is_set, timeout=20_000)
    window.show_work(floor_alone())
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    let.set()
    qtbot.waitUntil(worker().rests, timeout=20_000)
    assert len(painted) == 1
