"""Threads of the window: the newest request wins, faults are told, everything ends."""

import ast
import threading
import time
from pathlib import Path

import numpy as np
import pytest
import shiboken6
from PySide6.QtCore import QObject, Signal
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QApplication

import under_lattice
from tests.chains import floor_alone
from under_lattice.core.errors import FileError, RuleRefused
from under_lattice.evaluate.cache import SHARED
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.library import DEMOS, demo
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.copies.leave_out import LeaveOut
from under_lattice.rules.shapes.split import Split
from under_lattice.scene.tree import View
from under_lattice.ui.workers import engine as engine_module
from under_lattice.ui.workers.background import background
from under_lattice.ui.workers.engine import NUMBERS, Engine, Request
from under_lattice.ui.workers.pictures import Pictures
from under_lattice.ui.workers.small_pictures import Seen, picture_of, rule_picture, step_image
from under_lattice.ui.workers.worker import Job, Urgency, Worker, worker
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
        seen = []
        engine.thumbs.connect(seen.append)
        engine.ask(request(floor_alone().design))
        qtbot.waitUntil(lambda: bool(seen) and bool(seen[-1].layers), timeout=20_000)
    finally:
        engine_module.paint_now = engine_paint
    assert set(threads) == {"worker sheet"}


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

    background(parent, lambda: 6 * 7, told.append, told.append)
    background(parent, refuse, told.append, told.append)
    qtbot.waitUntil(lambda: len(told) == 2, timeout=5000)
    assert set(told) == {42, "no such thing"}


def test_pictures_come_in_order_and_can_be_dropped(qapp, qtbot):
    pictures, made, refused = Pictures(), [], []
    pictures.made.connect(lambda key, _: made.append(key))
    pictures.refused.connect(lambda key, words: refused.append((key, words)))

    def slow(progress):
        time.sleep(0.2)
        return QImage(2, 2, QImage.Format.Format_RGB32)

    def refusing(progress):
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


def test_the_newest_of_a_slot_wins_and_the_urgent_pass_the_rest(qapp, qtbot):
    done, gate, begun = [], threading.Event(), threading.Event()

    def long(progress):
        begun.set()
        while not gate.is_set():
            time.sleep(0.005)
            progress.check()
        return "long"

    def asked(slot, urgency, answer, owner=None):
        return worker().ask(Job(slot, urgency, lambda _: answer, done.append, owner=owner))

    export = worker().ask(Job("export", Urgency.REST, long, done.append, lambda sentence: done.append(f"failed {sentence!r}")))
    assert begun.wait(5)
    asked("tile", Urgency.LOOKED_AT, "tile")
    asked("sheet", Urgency.SHEET, "sheet")
    qtbot.waitUntil(lambda: {"tile", "sheet"} <= set(done), timeout=5000)  # a long export delays neither
    for number in range(20):
        asked("book", Urgency.REST, number)
    worker().cancel(export)
    qtbot.waitUntil(lambda: 19 in done, timeout=5000)
    assert "failed ''" in done
    assert [one for one in done if isinstance(one, int)] == [19]


def test_a_fault_of_any_job_is_told_once_and_the_worker_lives(qapp, qtbot, caplog):
    told = []

    def broken(_):
        raise ZeroDivisionError

    for urgency in Urgency:
        worker().ask(Job(f"fault {urgency}", urgency, broken, told.append, told.append))
        worker().ask(Job(f"after {urgency}", urgency, lambda _, u=urgency: u, told.append, told.append))
    qtbot.waitUntil(lambda: len(told) == 2 * len(Urgency), timeout=5000)
    assert told.count("this could not be done (ZeroDivisionError)") == len(Urgency)
    assert {one for one in told if not isinstance(one, str)} == set(Urgency)
    assert caplog.text.count("a job failed") == len(Urgency)


def test_a_file_does_not_wait_for_pictures_of_the_book(qapp, qtbot):
    gate, done = threading.Event(), []
    for number in range(3):
        worker().ask(Job(f"leaf {number}", Urgency.REST, lambda _: gate.wait(10), lambda _: done.append("leaf")))
    worker().ask(Job("a file", Urgency.ASKED_FOR, lambda _: "file", done.append))
    qtbot.waitUntil(lambda: bool(done), timeout=5000)
    assert done == ["file"]
    gate.set()
    qtbot.waitUntil(lambda: len(done) == 4, timeout=5000)


def test_pictures_of_the_book_are_given_up_when_it_is_left(window, qtbot):
    window.show_book()
    assert worker().busy(window.pictures)
    window.show_work(floor_alone())
    qtbot.waitUntil(lambda: not worker().busy(window.pictures), timeout=3000)


def test_what_is_dropped_or_whose_owner_is_gone_brings_nothing(qapp, qtbot):
    brought, owner, gone = [], QObject(), QObject()
    gate = threading.Event()

    def waits(_):
        gate.wait(5)
        return "late"

    for who in (owner, gone):
        worker().ask(Job(f"of {id(who)}", Urgency.LOOKED_AT, waits, brought.append, brought.append, owner=who))
    worker().drop(owner)
    gone.deleteLater()
    qapp.processEvents()
    gate.set()
    worker().ask(Job("last", Urgency.LOOKED_AT, lambda _: "last", brought.append))
    qtbot.waitUntil(lambda: "last" in brought, timeout=5000)
    qtbot.wait(100)
    assert brought == ["last"]


def seen_steps(design):
    """What is seen after each rule of the floor, by its id."""
    evaluator = Evaluator(SHARED)
    result = evaluator.design(design, only={"floor"})["floor"]
    return {step.rule.id: Seen.after(step, result, evaluator) for step in result.steps if step.stage is not None}


@pytest.mark.parametrize(
    ("rule", "far"),
    [
        (LeaveOut(which="outside a circle", radius=190.0), True),  # only copies at the sheet's edge go
        (LeaveOut(which="every k-th"), False),
        (Adjust(), False),  # nothing changes anywhere
    ],
    ids=["far", "near", "nothing"],
)
def test_a_step_that_acts_far_from_the_middle_shows_the_whole_sheet(qapp, rule, far):
    design = add_rule(floor_alone().design, "floor", rule, "floor-lattice")
    seen = seen_steps(design)
    now, was = seen[design.layer("floor").rules[-1].id], seen["floor-lattice"]
    close, whole = step_image(now, design), step_image(now, design, was)
    assert (whole != close) == far
    if far:
        assert whole != step_image(was, design, None)


def test_the_small_picture_of_every_layer_shows_something(qapp):
    """Small pale things on a dark sheet stay there; pale things on a pale sheet are shown on a darker ground."""
    blank = []
    for name in DEMOS:
        design = demo(name).design
        evaluator = Evaluator()
        for key, result in evaluator.design(design).items():
            seen = Seen.after(result.last, result, evaluator) if result.last is not None else None
            if seen is None or not seen.picture.marks.count:
                continue
            image = step_image(seen, design)
            pixels = np.frombuffer(image.constBits(), np.uint8).reshape(image.height(), -1, 4)[..., :3].astype(int)
            if (np.abs(pixels - pixels[0, 0]).max(-1) > 16).mean() < 0.01:
                blank.append((name, key))
    assert not blank


def test_a_rule_that_acts_far_from_the_middle_is_offered_with_its_picture(qapp):
    design = floor_alone().design
    far = add_rule(design, "floor", LeaveOut(which="outside a circle", radius=190.0), "floor-lattice")
    assert rule_picture(far, "floor", "floor-lattice", 100, 68, design) is not None
    idle = add_rule(design, "floor", Adjust(), "floor-lattice")
    with pytest.raises(RuleRefused, match="change nothing"):
        rule_picture(idle, "floor", "floor-lattice", 100, 68, design)


def test_what_is_done_for_what_is_gone_is_given_up(qapp, qtbot):
    owner, begun, ended = QObject(), threading.Event(), threading.Event()

    def long(progress):
        begun.set()
        try:
            for _ in range(2000):
                time.sleep(0.005)
                progress.check()
        finally:
            ended.set()

    worker().ask(Job("long", Urgency.SHEET, long, owner=owner))
    assert begun.wait(5)
    shiboken6.delete(owner)
    assert ended.wait(2)


@pytest.mark.parametrize("waits", [False, True])
def test_the_end_gives_up_jobs_and_waits_for_threads(qapp, waits):
    own, begun, let_go = Worker(), threading.Event(), threading.Event()

    def work(progress):
        begun.set()
        while not let_go.wait(0.005):
            if not waits:
                progress.check()

    brought = []
    own.ask(Job("long", Urgency.SHEET, work, brought.append, brought.append))
    own.ask(Job("later", Urgency.REST, lambda _: brought.append("never"), owner=own))
    assert begun.wait(5)
    assert own.finish(0.2 if waits else 5.0) is not waits
    let_go.set()
    assert own.finish(5.0)
    qapp.processEvents()
    assert brought in ([], ["never"])  # a thread that was free may have begun the second


def test_what_threads_hand_over_comes_in_order_while_signals_are_connected(qtbot, qapp):
    """A signal emitted in another thread could wait for ever for one that connects."""

    class Owner(QObject):
        told = Signal(int)

    owner, came = Owner(), []

    def say(progress):
        for k in range(3000):
            worker().hand(owner, came.append, k)
        return True

    worker().ask(Job("many", Urgency.REST, say, owner=owner))
    for _ in range(3000):
        other = Owner()
        other.told.connect(owner.told)
    qtbot.waitUntil(lambda: len(came) == 3000, timeout=20_000)
    assert came == list(range(3000))


def test_nothing_is_handed_to_what_is_gone(qtbot, qapp):
    owner, came = QObject(), []
    worker().hand(owner, came.append, 1)
    shiboken6.delete(owner)
    QApplication.processEvents()
    assert not came


def test_no_signal_is_emitted_by_jobs():
    """Those who work in threads hand over what they have to say."""
    for path in (Path(under_lattice.__file__).parent / "ui" / "workers").glob("*.py"):
        tree = ast.parse(path.read_text(encoding="utf-8"))
        takers = [
            one for one in ast.walk(tree)
            if isinstance(one, ast.FunctionDef) and any(arg.arg == "progress" for arg in one.args.args)
        ]  # fmt: skip
        for taker in takers:
            calls = [one for one in ast.walk(taker) if isinstance(one, ast.Call) and isinstance(one.func, ast.Attribute)]
            assert not [call for call in calls if call.func.attr == "emit"], (path.name, taker.name)
