"""Threads of the window: the newest request wins, faults are told, everything ends."""

import threading
import time

import pytest
from PySide6.QtCore import QObject
from PySide6.QtGui import QImage

from tests.chains import floor_alone
from under_lattice.core.errors import FileError, RuleRefused
from under_lattice.library import demo
from under_lattice.rules.shapes.split import Split
from under_lattice.scene.tree import View
from under_lattice.ui.workers import engine as engine_module
from under_lattice.ui.workers.background import Background
from under_lattice.ui.workers.engine import NUMBERS, Engine, Request
from under_lattice.ui.workers.pictures import Pictures
from under_lattice.ui.workers.small_pictures import picture_of, rule_picture
from under_lattice.work.edits import add_rule, set_dial


@pytest.fixture
def engine(qapp):
    made = Engine()
    yield made
    made.close()


def request(design, side=120):
    return Request(next(NUMBERS), design, View(side, side, 0.3, side / 2, side / 2), "floor")


def test_the_newest_request_is_answered_and_old_ones_may_be_dropped(engine, qtbot):
    answers = []
    engine.painted.connect(answers.append)
    design = floor_alone().design
    wanted = [request(set_dial(design, "floor", "floor-lattice", "turn", float(k))) for k in range(30)]
    for one in wanted:
        engine.ask(one)
    qtbot.waitUntil(lambda: bool(answers) and answers[-1].request is wanted[-1], timeout=20_000)
    numbers = [answer.request.number for answer in answers]
    assert numbers == sorted(numbers)
    assert len(answers) < len(wanted)


def test_the_answer_comes_from_another_thread(engine, qtbot):
    threads = []
    engine.painted.connect(lambda _: None)
    engine_paint = engine_module.paint_now

    def spy(*arguments):
        threads.append(threading.current_thread().name)
        return engine_paint(*arguments)

    engine_module.paint_now = spy
    try:
        with qtbot.waitSignal(engine.thumbs, timeout=20_000):
            engine.ask(request(floor_alone().design))
    finally:
        engine_module.paint_now = engine_paint
    assert set(threads) == {"engine"}


def test_a_fault_in_drawing_is_told_and_the_engine_lives(engine, qtbot, monkeypatch):
    def broken(*_, **__):
        raise ZeroDivisionError

    monkeypatch.setattr(engine_module, "make_scene", broken)
    with qtbot.waitSignal(engine.painted, timeout=20_000) as told:
        engine.ask(request(floor_alone().design))
    assert "could not be drawn (ZeroDivisionError)" in told.args[0].problem
    monkeypatch.undo()
    with qtbot.waitSignal(engine.painted, timeout=20_000) as told:
        engine.ask(request(floor_alone().design))
    assert told.args[0].problem == ""


def test_step_pictures_are_made_once(engine, qtbot):
    seen = []
    engine.thumbs.connect(seen.append)
    design = floor_alone().design
    engine.ask(request(design))
    qtbot.waitUntil(lambda: bool(seen) and bool(seen[-1].layers), timeout=20_000)
    first = seen[-1].steps["floor-split"]
    engine.ask(request(set_dial(design, "floor", "floor-lattice", "turn", 5.0)))
    qtbot.waitUntil(lambda: seen[-1].request.design is not design and bool(seen[-1].layers), timeout=20_000)
    assert seen[-1].steps["floor-split"] is first
    assert seen[-1].steps["floor-lattice"] != first


def test_background_work_brings_its_answer_or_its_refusal(qapp, qtbot):
    parent, told = QObject(), []

    def refuse():
        raise FileError("no such thing")

    Background(parent, lambda: 6 * 7, told.append, told.append)
    Background(parent, refuse, told.append, told.append)
    qtbot.waitUntil(lambda: len(told) == 2, timeout=5000)
    assert set(told) == {42, "no such thing"}


def test_pictures_come_in_order_and_can_be_dropped(qapp, qtbot):
    pictures, made, refused = Pictures(), [], []
    pictures.made.connect(lambda key, _: made.append(key))
    pictures.refused.connect(lambda key, words: refused.append((key, words)))

    def slow():
        time.sleep(0.2)
        return QImage(2, 2, QImage.Format.Format_RGB32)

    def refusing():
        raise RuleRefused("not here")

    pictures.want("a", slow)
    pictures.want("b", refusing)
    pictures.want("c", slow)
    qtbot.waitUntil(lambda: made == ["a", "c"], timeout=5000)
    assert refused == [("b", "not here")]
    pictures.want("d", slow)
    pictures.want("e", slow)
    time.sleep(0.05)
    pictures.drop()
    pictures.close()
    assert "e" not in made


def test_small_pictures_fill_their_box(qapp):
    whole = picture_of(demo("plunge-pool").design, 90, 120)
    assert (whole.width(), whole.height()) == (90, 120)
    assert whole.pixelColor(0, 0).alpha() == 255
    bones = picture_of(demo("plunge-pool").design, 90, 120, bones="#000000")
    assert any(bones.pixelColor(x, 60).alpha() == 0 for x in range(90))


def test_the_picture_of_a_refused_rule_says_why(qapp):
    design = add_rule(floor_alone().design, "floor", Split(), "floor-push-edges")
    with pytest.raises(RuleRefused, match="straight edges"):
        rule_picture(design, "floor", "floor-push-edges", 60, 40)
