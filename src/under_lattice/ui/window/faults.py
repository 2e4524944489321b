"""What no part of the window caught: a refusal is said as its sentence, a fault of the program is said and written down."""

from __future__ import annotations

import sys
import threading
import time
import traceback
from collections.abc import Callable
from datetime import datetime
from pathlib import Path
from types import TracebackType

import platformdirs
from PySide6.QtCore import QObject, Qt, Signal

from under_lattice.core.errors import GivenUp, LatticeError

MOST = 200_000  # bytes of the file they are written to; then it begins anew
AGAIN = 2.0  # s, after which the same fault is said again


def faults_file() -> Path:
    """Return the file faults are written to."""
    return Path(platformdirs.user_state_dir("under-lattice")) / "faults.txt"


class Faults(QObject):
    """Hears of every exception that nothing caught, in any thread, while it listens.

    Parameters
    ----------
    say : callable
        Shows a sentence in the window.
    """

    _met = Signal(str)

    def __init__(self, say: Callable[[str], None]) -> None:
        super().__init__()
        self._said: dict[str, float] = {}
        self._before = sys.excepthook, threading.excepthook
        self._met.connect(say, Qt.ConnectionType.QueuedConnection)  # never in the midst of what failed
        sys.excepthook = self.heard
        threading.excepthook = lambda met: self.heard(met.exc_type, met.exc_value, met.exc_traceback)

    def stop(self) -> None:
        """Listen no more."""
        sys.excepthook, threading.excepthook = self._before

    def heard(self, kind: type[BaseException], error: BaseException | None, trace: TracebackType | None) -> None:
        """Say what was met."""
        if error is None or issubclass(kind, (GivenUp, SystemExit)):
            return
        if issubclass(kind, KeyboardInterrupt):
            self._before[0](kind, error, trace)
        elif issubclass(kind, LatticeError):
            self._say(str(error))
        else:
            where = written("".join(traceback.format_exception(kind, error, trace)))
            self._say(f"something went wrong here ({kind.__name__}); the work is as it was. What happened is written in {where}")

    def _say(self, sentence: str) -> None:
        now = time.monotonic()
        if now - self._said.get(sentence, -AGAIN) >= AGAIN:
            self._said[sentence] = now
            self._met.emit(sentence)


def written(text: str) -> str:
    """Write a fault down, and return where, in words."""
    path = faults_file()
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        begun = not path.exists() or path.stat().st_size > MOST
        with path.open("w" if begun else "a", encoding="utf-8", errors="backslashreplace") as file:
            file.write(f"{datetime.now():%Y-%m-%d %H:%M:%S}\n{text}\n")
    except OSError as error:
        return f"no file, for {path} cannot be written ({error.strerror})"
    return str(path)
