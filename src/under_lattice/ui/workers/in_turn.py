"""What need not be there at once, made piece by piece while the window goes on hearing keys and the mouse."""

from __future__ import annotations

from collections import deque
from collections.abc import Callable

from PySide6.QtCore import QObject, QTimer

BETWEEN_MS = 20  # for what is heard, laid out and drawn meanwhile


class InTurn(QObject):
    """Does one thing after the other, so that none waits for all; `free` tells whether nothing else is being made just then."""

    def __init__(self, parent: QObject, free: Callable[[], bool] = lambda: True) -> None:
        super().__init__(parent)
        self._free, self._was_free = free, True
        self._acts: deque[Callable[[], object]] = deque()
        self._next = QTimer(self, singleShot=True, interval=BETWEEN_MS)
        self._next.timeout.connect(self._go_on)

    @property
    def ended(self) -> bool:
        """Whether all is done."""
        return not self._acts

    def add(self, act: Callable[[], object]) -> None:
        """Do something after what was given before."""
        self._acts.append(act)
        if not self._next.isActive():
            self._next.start()

    def _go_on(self) -> None:
        free, before = self._free(), self._was_free
        self._was_free = free
        if not (free and before):  # what was made a moment ago is still to be laid out and drawn
            self._next.start()
            return
        try:
            self._acts[0]()
        finally:  # a fault of one keeps no other from its turn
            self._acts.popleft()
            if self._acts:
                self._next.start()
