"""Python's collector of what is in circles, in the interface thread alone.

It would run in whatever thread makes an object just then. There it takes parts of the window with it, for which the toolkit wants a
lock; where the interface thread holds that lock and waits for the interpreter, neither goes on.
"""

from __future__ import annotations

import gc

from PySide6.QtCore import QObject, QTimer

from under_lattice.ui.workers.freed import resident
from under_lattice.ui.workers.worker import worker

LOOK_MS = 200
FULL = 5  # collections of the middle generation before one of all, which takes a tenth of a second
QUIET = 10  # looks at which nothing was at work, before one of all: a hand that rests does not feel it
MUCH = 256e6  # bytes the process has grown by, after which one of all waits no longer: works that were left may lie in circles


class Collector(QObject):
    """Collects now and then for as long as it lives; Python alone does it again once it is stopped."""

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._middle = 0  # collections of the middle generation since the last of all
        self._quiet = 0  # looks since something was at work
        self._had = resident()  # bytes, after the last collection of all
        self._begun = False  # whether what the program is made of has been set aside
        self._timer = QTimer(self, interval=LOOK_MS)
        self._timer.timeout.connect(self.collect)
        gc.disable()
        self._timer.start()

    def collect(self) -> None:
        """Collect the generations that are due; all of them only when nothing is at work for a while."""
        self._quiet = self._quiet + 1 if worker().rests() else 0
        rests = self._quiet >= QUIET
        begins = rests and not self._begun
        if begins or (self._middle >= FULL and (rests or resident() > self._had + MUCH)):
            gc.collect()
            if begins:  # what was loaded in the first seconds stays; to look it through took most of each collection of all
                gc.freeze()
                self._begun = True
            self._middle, self._had = 0, resident()
            return
        young, middle, _ = gc.get_count()
        first, second, _ = gc.get_threshold()
        if young > first:
            self._middle += middle >= second
            gc.collect(int(middle >= second))

    def stop(self) -> None:
        """Leave it to Python again."""
        self._timer.stop()
        gc.enable()
