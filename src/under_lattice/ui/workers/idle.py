"""When the interface thread has nothing else to do: what is not urgent goes on then and leaves it the interpreter until then."""

from __future__ import annotations

import threading
import time
from collections import deque

from PySide6.QtCore import QCoreApplication, QEvent, QObject, Qt

MOST = 0.05  # s that others wait for it
EVERY = 0.004  # s for which an answer holds


class Idle(QObject):
    """Lives in the interface thread; asked by others."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._asked: deque[threading.Event] = deque()
        self._own = threading.local()

    def wait(self) -> None:
        """Wait, in another thread, until the interface has done all that waits for it, for 0.05 s at the most."""
        if time.monotonic() - getattr(self._own, "answered", 0.0) < EVERY:
            return
        self._asked.append(done := threading.Event())
        QCoreApplication.postEvent(self, QEvent(QEvent.Type.User), Qt.EventPriority.LowEventPriority.value)
        done.wait(MOST)
        self._own.answered = time.monotonic()

    def event(self, event: QEvent) -> bool:
        if event.type() != QEvent.Type.User:
            return super().event(event)
        self._asked.popleft().set()
        return True
