"""What is in circles is collected in the interface thread alone."""

import gc
import threading
import weakref

from PySide6.QtCore import QObject

from under_lattice.ui.workers.collector import Collector


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


def test_what_has_become_old_is_collected_in_time(qtbot):
    collector, ring, kept = Collector(), Ring(), []
    gone = weakref.ref(ring)
    gc.collect()  # old now
    del ring
    usual = gc.get_threshold()
    gc.set_threshold(700, 10, 10)
    try:
        for _ in range(500):
            kept += [[] for _ in range(1000)]
            collector.collect()
            if gone() is None:
                break
        assert gone() is None, len(kept)
    finally:
        collector.stop()
        gc.set_threshold(*usual)
