"""Who goes first in the threads of the window: the interface, then the sheet, then what is looked at; and nobody waits for good."""

import itertools
import os
import threading
import time

import pytest

from under_lattice.ui.workers import worker as working
from under_lattice.ui.workers.worker import NICE, Job, Urgency, Worker, worker


@pytest.mark.parametrize("urgency", list(Urgency))
def test_a_job_begins_when_the_interface_has_done_what_waits(qapp, qtbot, monkeypatch, urgency):
    monkeypatch.setattr(working, "PATIENCE_OF_SHEET", 5.0)  # it goes on sooner, but not in a test that a busy machine holds up
    done = []
    worker().ask(Job("late", urgency, lambda _: done.append("job")))
    for k in range(5):
        worker().hand(None, lambda k=k: (time.sleep(0.004), done.append(k)))
    qtbot.waitUntil(lambda: "job" in done, timeout=5000)
    assert done == [0, 1, 2, 3, 4, "job"]


def test_an_interface_that_is_held_does_not_hold_the_others(qapp):
    done = threading.Event()

    def look(progress):
        for _ in range(3):
            time.sleep(0.005)
            progress.check()
        done.set()

    worker().ask(Job("beside", Urgency.REST, look))
    assert done.wait(5)  # no event is handled meanwhile


def test_threads_give_way_to_the_interface_the_more_the_less_they_are_urgent(qapp, qtbot, monkeypatch):
    assert all(one < other for one, other in itertools.pairwise((0, *NICE)))
    monkeypatch.setattr(working, "NICE", NICE)
    own, told, lent = os.getpriority(os.PRIO_PROCESS, threading.get_native_id()), [], Worker()
    lent.ask(Job("nice", Urgency.SHEET, lambda _: os.getpriority(os.PRIO_PROCESS, threading.get_native_id()), told.append))
    qtbot.waitUntil(lambda: bool(told), timeout=5000)
    assert lent.finish(5.0)
    assert told == [own + NICE[Urgency.SHEET]]


class Counted:
    """Work that asks all the time whether it is still wanted, until it is told to end."""

    def __init__(self):
        self.asked, self.end = 0, threading.Event()

    def __call__(self, progress):
        while not self.end.is_set():
            progress.check()
            self.asked += 1
            time.sleep(0.001)
        return "done"

    def in_a_while(self, seconds=0.3):
        before = self.asked
        time.sleep(seconds)
        return self.asked - before


@pytest.fixture
def alone(qapp):
    """A worker of its own, whose jobs nobody else has a part in."""
    made = Worker()
    yield made
    assert made.finish(5.0)


@pytest.mark.parametrize("urgency", [Urgency.LOOKED_AT, Urgency.ASKED_FOR, Urgency.REST])
def test_what_is_under_way_stands_still_while_the_sheet_is_painted_and_goes_on_then(alone, qtbot, monkeypatch, urgency):
    monkeypatch.setattr(working, "PATIENCE", 60.0)
    beside, done, gate = Counted(), [], threading.Event()
    alone.ask(Job("beside", urgency, beside, done.append))
    qtbot.waitUntil(lambda: beside.asked > 0, timeout=5000)
    alone.ask(Job("sheet", Urgency.SHEET, lambda _: gate.wait(20), done.append))
    time.sleep(0.1)  # what it had begun
    assert beside.in_a_while(0.5) <= 11  # once in 0.05 s
    gate.set()
    qtbot.waitUntil(lambda: done == [True], timeout=5000)
    reached = beside.asked
    qtbot.waitUntil(lambda: beside.asked > reached + 30, timeout=5000)
    beside.end.set()
    qtbot.waitUntil(lambda: done == [True, "done"], timeout=5000)


def test_a_sheet_that_takes_long_does_not_hold_the_others_for_good(alone, qtbot):
    done, gate, beside = [], threading.Event(), Counted()
    alone.ask(Job("sheet", Urgency.SHEET, lambda _: gate.wait(60), done.append))
    alone.ask(Job("beside", Urgency.LOOKED_AT, beside, done.append))
    qtbot.waitUntil(lambda: beside.asked > 60, timeout=20_000)  # 1 s of waiting, not 60 times 0.05
    beside.end.set()
    qtbot.waitUntil(lambda: done == ["done"], timeout=5000)
    gate.set()


def test_a_sheet_that_is_given_up_holds_nobody(alone, qtbot, monkeypatch):
    monkeypatch.setattr(working, "PATIENCE", 600.0)
    gate, beside, said = threading.Event(), Counted(), []

    def long(progress):
        gate.wait(20)
        progress.check()

    sheet = alone.ask(Job("sheet", Urgency.SHEET, long, failed=said.append))
    alone.ask(Job("beside", Urgency.LOOKED_AT, beside))
    alone.cancel(sheet)
    qtbot.waitUntil(lambda: beside.asked > 30, timeout=5000)
    gate.set()
    qtbot.waitUntil(lambda: said == [""], timeout=5000)
    beside.end.set()


def test_the_sheet_waits_for_an_interface_that_is_held_no_longer_than_a_moment(alone):
    over, asked = threading.Event(), []

    def sheet(progress):
        for k in range(200):
            time.sleep(0.001)
            progress.check()
            asked.append(k)
        over.set()

    alone.ask(Job("sheet", Urgency.SHEET, sheet))
    assert over.wait(5)  # no event is handled meanwhile: 200 times 0.05 s would be 10


def test_what_waits_for_the_sheet_can_be_given_up(alone, qtbot):
    gate, said, beside = threading.Event(), [], Counted()
    alone.ask(Job("sheet", Urgency.SHEET, lambda _: gate.wait(20)))
    job = alone.ask(Job("beside", Urgency.LOOKED_AT, beside, failed=said.append))
    qtbot.wait(100)
    alone.cancel(job)
    qtbot.waitUntil(lambda: said == [""], timeout=5000)
    gate.set()
