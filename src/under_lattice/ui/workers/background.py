"""One function in a thread, its answer brought back as a signal."""

from __future__ import annotations

import logging
import threading
from collections.abc import Callable
from pathlib import Path
from typing import Any

from PySide6.QtCore import QObject, Qt, Signal

from under_lattice.core.errors import FileError, LatticeError

log = logging.getLogger(__name__)


class Background(QObject):
    """Runs one function off the interface thread.

    Parameters
    ----------
    work : callable
        What is done in the thread; it may refuse with a `LatticeError`.
    done : callable
        Called on the interface thread with what `work` returned.
    failed : callable
        Called on the interface thread with the sentence of a refusal.
    """

    _done = Signal(object)
    _failed = Signal(str)

    def __init__(
        self, parent: QObject, work: Callable[[], Any], done: Callable[[Any], None], failed: Callable[[str], None]
    ) -> None:
        super().__init__(parent)
        self._work = work
        self._done.connect(done, Qt.ConnectionType.QueuedConnection)
        self._failed.connect(failed, Qt.ConnectionType.QueuedConnection)
        for signal in (self._done, self._failed):
            signal.connect(self.deleteLater, Qt.ConnectionType.QueuedConnection)
        self._thread = threading.Thread(target=self._run, name="background", daemon=True)
        self._thread.start()

    def _run(self) -> None:
        try:
            answer = self._work()
        except LatticeError as error:
            self._failed.emit(str(error))
        except MemoryError:
            self._failed.emit("there is not enough memory for this file")
        except Exception as error:  # a fault of ours must not leave the window waiting
            log.exception("background work failed")
            self._failed.emit(f"this could not be done ({type(error).__name__})")
        else:
            self._done.emit(answer)


def bytes_of(path: Path) -> bytes:
    """Return the bytes of a file.

    Raises
    ------
    FileError
    """
    try:
        return path.read_bytes()
    except OSError as error:
        raise FileError(f"{path.name} cannot be read: {error.strerror}") from None
