"""Small pictures made one after another in a thread of their own: the pattern book, the chooser of rules."""

from __future__ import annotations

import logging
import threading
from collections import deque
from collections.abc import Callable

from PySide6.QtCore import QObject, Signal
from PySide6.QtGui import QImage

from under_lattice.core.errors import LatticeError

log = logging.getLogger(__name__)


class Pictures(QObject):
    """Makes what is wanted in order; what is no longer wanted is dropped."""

    made = Signal(str, QImage)
    refused = Signal(str, str)  # key, sentence

    def __init__(self) -> None:
        super().__init__()
        self._wake = threading.Condition()
        self._jobs: deque[tuple[str, Callable[[], QImage]]] = deque()
        self._running = True
        self._thread = threading.Thread(target=self._work, name="pictures", daemon=True)
        self._thread.start()

    def want(self, key: str, make: Callable[[], QImage]) -> None:
        """Ask for a picture; `made` carries it with its key."""
        with self._wake:
            self._jobs.append((key, make))
            self._wake.notify()

    def drop(self) -> None:
        """Forget what is not yet begun."""
        with self._wake:
            self._jobs.clear()

    def close(self) -> None:
        """End the thread."""
        with self._wake:
            self._running = False
            self._jobs.clear()
            self._wake.notify()
        self._thread.join(20)

    def _work(self) -> None:
        while True:
            with self._wake:
                while not self._jobs and self._running:
                    self._wake.wait()
                if not self._running:
                    return
                key, make = self._jobs.popleft()
            try:
                image = make()
            except LatticeError as error:
                self.refused.emit(key, str(error))
                continue
            except Exception as error:  # a fault of ours must not end the pictures of all others
                log.exception("a small picture failed")
                self.refused.emit(key, f"this could not be drawn ({type(error).__name__})")
                continue
            self.made.emit(key, image)
