"""Pictures come first: measuring, long drawing and closing never hold the hand."""

import threading
import time

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from tests.chains import work_of
from under_lattice.library import demo
from under_lattice.measure.facts import Facts
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.repeats.progression import Progression
from under_lattice.ui.workers import engine as engine_module

NEVER = 30.0  # seconds after which a stand-in for endless work ends all the same


def until_given_up(progress):
    """Endless work that asks whether it is still wanted."""
    begun = time.perf_counter()
    while time.perf_counter() - begun < NEVER:
        progress.check()
        time.sleep(0.002)
    raise AssertionError("nobody stopped it")


def test_measuring_gives_way_to_every_key(hands, monkeypatch):
    field = hands.row("lattice", "turn").fields[0]
    field.setFocus()
    measured = []

    def slow(result, evaluator, sheet, progress):
        measured.append(result)
        until_given_up(progress)
        return Facts()

    monkeypatch.setattr(engine_module, "measure", slow)
    before = hands.rule("lattice").turn
    for k in range(1, 4):
        QTest.keyClick(field, Qt.Key.Key_Up)
        hands.bot.waitUntil(lambda: hands.studio.settled, timeout=5000)
        assert hands.rule("lattice").turn != before
        hands.bot.waitUntil(lambda k=k: len(measured) >= k, timeout=5000)


def test_381_overlapping_discs_are_turned_without_waiting(hands):
    hands.window.show_work(work_of(Ellipse(width=120.0), Progression(count=381, turn=7.0, x=2.0)))
    hands.settle()
    field = hands.row("progression", "turn").fields[0]
    field.setFocus()
    for _ in range(3):
        QTest.keyClick(field, Qt.Key.Key_Up)
        hands.bot.waitUntil(lambda: hands.studio.settled, timeout=3000)
    hands.bot.waitUntil(lambda: hands.studio._measured == hands.studio.asked, timeout=15_000)
    assert hands.studio.facts.copies == 381


def test_a_picture_that_takes_long_can_be_stopped_and_a_newer_one_ends_it(hands, monkeypatch):
    real, endless = engine_module.paint_now, threading.Event()
    endless.set()

    def paint(scene, view, progress):
        if endless.is_set():
            for share in range(5):
                progress.step(share / 10)
                time.sleep(0.15)
            until_given_up(progress)
        return real(scene, view, progress)

    monkeypatch.setattr(engine_module, "paint_now", paint)
    field = hands.row("lattice", "turn").fields[0]
    field.setFocus()
    QTest.keyClick(field, Qt.Key.Key_Up)
    stop = hands.studio.facts_line.stop
    hands.bot.waitUntil(stop.isVisible, timeout=5000)
    QTest.mouseClick(stop, Qt.MouseButton.LeftButton)
    hands.settle()
    assert "Stopped" in hands.studio.facts_line.warning.text()
    QTest.keyClick(field, Qt.Key.Key_Up)
    hands.bot.waitUntil(stop.isVisible, timeout=5000)
    endless.clear()
    QTest.keyClick(field, Qt.Key.Key_Up)
    hands.settle()
    assert stop.isHidden()


def test_the_deck_chair_takes_a_short_wavelength(hands):
    hands.window.show_work(demo("deck-chair-canvas"))
    hands.settle()
    field = hands.row("wave-edges", "wavelength").fields[0]
    hands.type_in(field, "60")
    hands.settle()
    assert hands.rule("wave-edges").wavelength == 60
    hands.do("undo")
    hands.settle()


def test_closing_does_not_wait_for_what_is_computed(hands, monkeypatch):
    begun, closed = threading.Event(), threading.Event()

    def paint(scene, view, progress):
        begun.set()
        closed.wait(NEVER)  # a stretch in which nothing is asked
        return until_given_up(progress)

    monkeypatch.setattr(engine_module, "paint_now", paint)
    field = hands.row("lattice", "turn").fields[0]
    field.setFocus()
    QTest.keyClick(field, Qt.Key.Key_Up)
    hands.bot.waitUntil(begun.is_set, timeout=5000)
    hands.do("undo")
    hands.window.close()
    assert not hands.window.isVisible()
    closed.set()
