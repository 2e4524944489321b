"""Ends that come from outside: signals of the system and the end of the desktop's session."""

from __future__ import annotations

import os
import signal
import socket
import threading
from collections.abc import Callable

from PySide6.QtCore import QObject, QSocketNotifier
from PySide6.QtWidgets import QApplication

AT_ONCE = (signal.SIGTERM, signal.SIGHUP)
WITHIN = 1.8  # seconds, then the process ends even if a picture is still being painted


class Ending(QObject):
    """Hears signals while the interface waits for events.

    Parameters
    ----------
    app : QApplication
    ask : callable
        What Ctrl+C in the terminal does: close as by hand, with its question.
    keep : callable
        Writes copies of all that is unsaved.
    """

    def __init__(self, app: QApplication, ask: Callable[[], object], keep: Callable[[], None]) -> None:
        super().__init__(app)
        self.ask, self.keep = ask, keep
        self._heard, told = socket.socketpair()
        self._told = told
        for end in (self._heard, told):
            end.setblocking(False)
        self._before = {number: signal.signal(number, lambda *_: None) for number in (*AT_ONCE, signal.SIGINT)}
        self._wakeup = signal.set_wakeup_fd(told.fileno(), warn_on_full_buffer=False)
        self._notifier = QSocketNotifier(self._heard.fileno(), QSocketNotifier.Type.Read, self)
        self._notifier.activated.connect(self._hear)
        app.commitDataRequest.connect(lambda _: self.log_out())

    def _hear(self) -> None:
        numbers = set(self._heard.recv(64))
        if numbers & set(AT_ONCE):
            self.end_at_once()
        elif signal.SIGINT in numbers and QApplication.activeModalWidget() is None:
            self.ask()

    def log_out(self) -> None:
        """Keep all that is unsaved and ask nothing; the desktop ends the process itself."""
        self.keep()

    def end_at_once(self) -> None:
        """Keep all that is unsaved, ask nothing, and end without waiting for pictures that are being painted."""
        last = threading.Timer(WITHIN, os._exit, (0,))
        last.daemon = True
        last.start()
        self.keep()
        os._exit(0)  # threads may still paint what a slow end would take from under them

    def stop(self) -> None:
        """Hear no more."""
        self._notifier.setEnabled(False)
        signal.set_wakeup_fd(self._wakeup)
        for number, before in self._before.items():
            signal.signal(number, before)
        self._heard.close()
        self._told.close()
