"""Plotting in the window: on the simulated plotter, stopped and gone on with, after a fault, at a port that is not there."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QMenu

from under_lattice.library import demo
from under_lattice.ui.plotting import plot_dialog
from under_lattice.ui.plotting.plot_dialog import PlotDialog

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def plotting(hands, monkeypatch):
    monkeypatch.setattr(plot_dialog, "TIMES", 400.0)
    hands.window.show_work(demo("locker-tiles"))
    hands.settle()
    hands.do("plot")
    box = [one for one in hands.window.findChildren(PlotDialog) if one.isVisible()][-1]
    hands.bot.waitUntil(lambda: bool(box.orders), timeout=20_000)
    yield hands, box
    box.reject()
    assert box._machine is None or box._machine.poll() is not None  # it ends with the window


def press(hands, box, words):
    hands.bot.waitUntil(lambda: box.go.text() == words and box.go.isEnabled(), timeout=30_000)
    QTest.mouseClick(box.go, LEFT)


def test_all_is_drawn_and_time_is_told(plotting):
    hands, box = plotting
    assert "0 of" in box.words.text()
    assert "left" in box.words.text()
    press(hands, box, "Plot")
    hands.bot.waitUntil(lambda: box.go.text() == "Plot again", timeout=60_000)
    assert "all drawn" in box.words.text()
    assert box.view.drawn == len(box.orders)
    assert box.error.text() == ""


def test_it_is_stopped_and_goes_on_where_it_stopped(plotting):
    hands, box = plotting
    press(hands, box, "Plot")
    hands.bot.waitUntil(lambda: box.view.drawn > 5, timeout=30_000)
    assert not box.rows.isEnabled()
    press(hands, box, "Stop")
    hands.bot.waitUntil(lambda: box.go.text() == "Go on", timeout=10_000)
    drawn = box.sending.drawn
    assert 5 < drawn < len(box.orders)
    QTest.mouseClick(box.go, LEFT)
    hands.bot.waitUntil(lambda: box.go.text() == "Plot again", timeout=60_000)
    assert box.view.drawn == len(box.orders)


def test_a_pause_draws_nothing_more_until_it_goes_on(plotting):
    hands, box = plotting
    press(hands, box, "Plot")
    hands.bot.waitUntil(lambda: box.view.drawn > 2, timeout=30_000)
    QTest.mouseClick(box.pause, LEFT)
    assert box.pause.text() == "Go on"
    hands.bot.wait(500)
    before = box.view.drawn
    hands.bot.wait(300)
    assert box.view.drawn == before < len(box.orders)
    QTest.mouseClick(box.pause, LEFT)
    hands.bot.waitUntil(lambda: box.go.text() == "Plot again", timeout=60_000)


def test_paper_that_runs_out_is_told_and_nothing_is_lost(plotting):
    hands, box = plotting
    press(hands, box, "Plot")
    hands.bot.waitUntil(lambda: box.view.drawn > 3, timeout=30_000)
    QTest.mouseClick(box.fault, LEFT)
    menu = next(one for one in QApplication.topLevelWidgets() if isinstance(one, QMenu) and one.isVisible())
    next(one for one in menu.actions() if one.text() == "paper out").trigger()
    menu.close()
    hands.bot.waitUntil(lambda: "there is no paper" in box.error.text().lower(), timeout=30_000)
    assert box.go.text() == "Go on"
    box._mend()
    hands.bot.wait(100)
    press(hands, box, "Go on")
    hands.bot.waitUntil(lambda: box.go.text() == "Plot again", timeout=60_000)
    assert box.view.drawn == len(box.orders)


def test_a_port_that_is_not_there_says_so(plotting):
    hands, box = plotting
    box.port.setText("/dev/none-such")
    press(hands, box, "Plot")
    hands.bot.waitUntil(lambda: "cannot be opened" in box.error.text(), timeout=10_000)
    assert box.go.isEnabled()
