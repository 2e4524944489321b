"""A real window with the demo work, and hands to use it."""

import os

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QMessageBox
from shiboken6 import isValid

from tests.chains import floor_alone, work_of
from under_lattice.files import unsaved
from under_lattice.ui.look import style
from under_lattice.ui.look.tokens import LOOK
from under_lattice.ui.state import recent
from under_lattice.ui.window.application import make_application
from under_lattice.ui.window.window import Window
from under_lattice.ui.workers import worker as working
from under_lattice.ui.workers.collector import Collector
from under_lattice.ui.workers.worker import worker


@pytest.fixture(scope="session")
def qapp():
    LOOK.wish = "light"
    working.NICE = (0, 0, 0, 0)  # other tests run beside this one, and none is to be left behind
    yield make_application()
    assert worker().finish(20.0)


@pytest.fixture(autouse=True)
def dressed(request, monkeypatch):
    """Windows wear the sheet of styles where a module asks for it (``DRESSED``): most that is done in a window needs no looks."""
    if not getattr(request.module, "DRESSED", False):
        monkeypatch.setattr(style, "SHEET", "")


@pytest.fixture(autouse=True)
def own_state(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    monkeypatch.setattr(unsaved, "SPARE", tmp_path)
    monkeypatch.setattr(os, "fsync", lambda _: None)  # no power fails here, and each waits for the disk
    recent.remember_tray(False)  # siblings are dealt where a test asks for them


def gone(dialog):
    """Whether a dialog is closed."""
    return not isValid(dialog) or not dialog.isVisible()


class Hands:
    """What a person does with a window."""

    def __init__(self, qtbot, window):
        self.bot, self.window = qtbot, window

    @property
    def studio(self):
        return self.window.studio

    @property
    def document(self):
        return self.window.document

    @property
    def layer(self):
        return self.document.design.chain(self.studio.layer)

    def rule(self, handle):
        return next(rule for rule in (*self.layer.rules, self.layer.end) if rule.handle == handle)

    def settle(self):
        self.bot.waitUntil(lambda: self.studio.settled, timeout=20_000)

    def card(self, handle):
        return self.studio.chain.cards[self.rule(handle).id]

    def open(self, handle):
        if self.card(handle).form is None:
            QTest.mouseClick(self.card(handle).head, Qt.MouseButton.LeftButton)
        self.settle()
        self.bot.waitUntil(lambda: self.card(handle).form.isVisible(), timeout=5000)
        return self.card(handle).form

    def row(self, handle, name):
        form = self.open(handle)
        if not form.hand.rule.dials()[name].main and not form.more.isChecked():
            QTest.mouseClick(form.more, Qt.MouseButton.LeftButton)
        return form.rows[name]

    def _has_focus(self, field):
        """Bring the window to the front, where another has just closed, and put the focus on a field."""
        self.window.activateWindow()
        field.setFocus()
        return field.hasFocus()

    def type_in(self, field, text):
        field.setFocus()
        if field.window() is self.window and not field.hasFocus():  # which it has when the window is in front
            self.bot.waitUntil(lambda: self._has_focus(field), timeout=5000)
        field.selectAll()
        QTest.keyClicks(field, text)

    def drag(self, widget, start, by, keep=True, steps=6):
        QTest.mousePress(widget, Qt.MouseButton.LeftButton, pos=start)
        for k in range(1, steps + 1):
            QTest.mouseMove(widget, start + QPoint(by[0] * k // steps, by[1] * k // steps))
        if keep:
            QTest.mouseRelease(widget, Qt.MouseButton.LeftButton, pos=start + QPoint(*by))

    def handle(self, name):
        self.bot.waitUntil(lambda: self.studio.sheet.handles is not None, timeout=10_000)
        found = next(h for h in self.studio.sheet.handles.handles if h.name == name)
        return self.studio.sheet.points_of(found.at)[0].toPoint()

    def show(self, work):
        """Show a work, in a window that is seen from then on."""
        self.window.show_work(work)
        if not self.window.isVisible():
            self.window.show()
            self.bot.waitExposed(self.window)
            self.window.activateWindow()
        self.settle()
        return self

    def do(self, key):
        self.window.actions_by_key[key].trigger()


@pytest.fixture
def window(qtbot, qapp, monkeypatch):
    if (left := qapp.activePopupWidget()) is not None:  # of a test before; it would keep the focus
        left.hide()
    collector, made = Collector(), Window()
    made.resize(1080, 800)  # less to paint than at its own size
    yield made
    monkeypatch.setattr(QMessageBox, "exec", lambda box: QMessageBox.StandardButton.Discard)
    made.close()
    made.deleteLater()
    for owner in (made.engine, made.pictures, made):
        qtbot.waitUntil(lambda owner=owner: not worker().busy(owner), timeout=20_000)
    collector.stop()


@pytest.fixture
def hands(qtbot, window):
    return Hands(qtbot, window).show(floor_alone())


@pytest.fixture
def showing(qtbot, window):
    """Show a work of some rules with the last one open."""
    hands = Hands(qtbot, window)

    def show(*rules, handles=True):
        hands.show(work_of(*rules))
        hands.bot.waitUntil(lambda: hands.studio.settled and hands.studio.facts.copies > 0, timeout=20_000)
        hands.open(hands.layer.rules[-1].handle)
        if handles:
            hands.bot.waitUntil(lambda: hands.studio.sheet.handles is not None, timeout=10_000)
        return hands

    return show
