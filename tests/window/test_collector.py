"""What is in circles is collected in the interface thread alone, what is old among it when nothing is at work."""

import gc
import threading
import weakref

import pytest
from PySide6.QtCore import QObject

from under_lattice.ui.workers.collector import Collector
from under_lattice.ui.workers.worker import Job, Urgency, worker


class Ring:
    """Something that holds itself, as parts of a window do."""

    def __init__(self):
        self.itself, self.part = self, QObject()


def test_what_other_threads_make_is_collected_and_never_by_them(qtbot):
    collector, ended = Collector(), []

    def make():
        for _ in range(20_000):
            weakref.finalize(Ring(), lambda: ended.append(threading.current_thread()))

    try:
        assert not gc.isenabled()
        threads = [threading.Thread(target=make) for _ in range(2)]
        for one in threads:
            one.start()
        for one in threads:
            one.join()
        assert not ended  # nothing was collected while they worked
        qtbot.waitUntil(lambda: len(ended) == 40_000, timeout=20_000)
        assert set(ended) == {threading.main_thread()}
    finally:
        collector.stop()
    assert gc.isenabled()


@pytest.fixture
def old():
    """A collector that has to take away a ring which is old, and how many times that takes it over again."""
    collector, ring, kept, usual = Collector(), Ring(), [], gc.get_threshold()
    collector._timer.stop()  # each look is ours
    gone = weakref.ref(ring)
    gc.collect()  # old now
    del ring
    gc.set_threshold(700, 10, 10)

    def look(times):
        for k in range(times):
            kept.extend([] for _ in range(1000))
            collector.collect()
            if gone() is None:
                return k
        return None

    yield look
    collector.stop()
    gc.set_threshold(*usual)


def test_what_has_become_old_is_collected_when_nothing_is_at_work(qtbot, old):
    qtbot.waitUntil(worker().rests, timeout=10_000)
    assert old(200) is not None


def test_while_something_is_at_work_it_waits_until_the_process_has_grown(qtbot, old, monkeypatch):
    let, begun = threading.Event(), threading.Event()
    worker().ask(Job("busy", Urgency.REST, lambda progress: (begun.set(), let.wait(20.0))))
    assert begun.wait(10.0)
    try:
        assert old(1000) is None
        monkeypatch.setattr("under_lattice.ui.workers.collector.resident", lambda: 1e12)
        assert old(200) is not None
    finally:
        let.set()
        qtbot.waitUntil(worker().rests, timeout=10_000)


def test_what_the_program_is_made_of_is_set_aside_once_it_is_loaded(qtbot):
    collector = Collector()
    collector._timer.stop()
    try:
        qtbot.waitUntil(worker().rests, timeout=10_000)
        gone, before = weakref.ref(Ring()), gc.get_freeze_count()
        for _ in range(11):
            collector.collect()
        assert gone() is None  # what was left in circles by then is not kept for ever
        assert gc.get_freeze_count() > before
        kept = gc.get_freeze_count()
        for _ in range(40):
            collector.collect()
        assert gc.get_freeze_count() <= kept  # what is made later is not
    finally:
        collector.stop()
        gc.unfreeze()
