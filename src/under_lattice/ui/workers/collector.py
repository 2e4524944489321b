"""Python's collector of what is in circles, in the interface thread alone.

It would run in whatever thread makes an object just then. There it takes parts of the window with it, for which the toolkit wants a
lock; where the interface thread holds that lock and waits for the interpreter, neither goes on.
"""

from __future__ import annotations

import gc

from PySide6.QtCore import QObject, QTimer

LOOK_MS = 200
FULL = 20  # collections of the middle generation for one of all


class Collector(QObject):
    """Collects now and then for as long as it lives; Python alone does it again once it is stopped."""

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._middle = 0  # collections of the middle generation since the last of all
        self._timer = QTimer(self, interval=LOOK_MS)
        self._timer.timeout.connect(self.collect)
        gc.disable()
        self._timer.start()

    def collect(self) -> None:
        """Collect the generations that are due."""
        young, middle, _ = gc.get_count()
        first, second, _ = gc.get_threshold()
        if young <= first:
            return
        if middle < second:
            gc.collect(0)
            return
        self._middle += 1
        gc.collect(2 if self._middle % FULL == 0 else 1)

    def stop(self) -> None:
        """Leave it to Python again."""
        self._timer.stop()
        gc.enable()
