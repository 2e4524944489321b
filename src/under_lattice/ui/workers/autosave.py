"""A copy of unsaved work, written while one works, so that no bad end costs more than a few seconds."""

from __future__ import annotations

import time
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor, wait
from pathlib import Path

from PySide6.QtCore import QObject, Qt, QTimer, Signal
from PySide6.QtGui import QImage

from under_lattice.core.errors import FileError
from under_lattice.files.saving import Seen
from under_lattice.files.unsaved import Place, new_place
from under_lattice.ui.state.document import Document
from under_lattice.ui.workers.pictures import png_of
from under_lattice.work.model import Work

PAUSE, LATEST = 2.0, 15.0  # seconds without an edit, and since the first edit that no copy holds
WIDE, HIGH = 192, 144  # px of its picture
PATIENCE = 1.2  # seconds that an end waits for a copy


class Autosave(QObject):
    """Writes copies of the work of one window, on a thread of its own; there is none while all is saved.

    Parameters
    ----------
    picture : callable
        Returns the picture on the sheet, or None.
    """

    failed = Signal(str)  # the sentence, each once

    def __init__(self, picture: Callable[[], QImage | None], parent: QObject) -> None:
        super().__init__(parent)
        self.picture = picture
        self.document: Document | None = None
        self.place: Place | None = None
        self._writer = ThreadPoolExecutor(1, "autosave")
        self._writing: Future[None] | None = None
        self._since = 0.0
        self._told: set[str] = set()
        self._timer = QTimer(self, singleShot=True)
        self._timer.timeout.connect(self.write)

    def watch(self, document: Document | None, place: Place | None = None) -> None:
        """Look after another work, or none; that of before was saved or given up. `place` holds a copy of it already."""
        self._put_away()
        self.document, self.place = document, place
        if document is not None:
            document.status_changed.connect(self._changed)
            self._changed()

    def _changed(self) -> None:
        document = self.document
        if document is None or not document.modified:
            self._put_away()
            return
        now = time.monotonic()
        if not self._timer.isActive():
            self._since = now
        self._timer.start(round(1000 * max(0.0, min(PAUSE, self._since + LATEST - now))))

    def write(self) -> None:
        """Begin a copy of the work as it is."""
        document = self.document
        if document is None or not document.modified:
            return
        if self._writing is not None and not self._writing.done():
            self._timer.start(500)
            return
        self._timer.stop()
        self.place = self.place or new_place()
        self._writing = self._writer.submit(self._write, self.place, document.work, document.path, self.picture(), document.seen)

    def _write(self, place: Place, work: Work, own: Path | None, picture: QImage | None, seen: Seen | None) -> None:
        copy = work, own, _small(picture), seen
        try:
            place.write(*copy)
        except FileError as why:
            try:
                place.write_elsewhere(*copy)
            except FileError:
                self._tell(f"No copy of the unsaved work could be kept: {why}")
            else:
                self._tell(f"Copies of the unsaved work are kept in {place.path.parent}: {why}")

    def _tell(self, sentence: str) -> None:
        """Say it once; a message every few seconds would stop the work it is about."""
        if sentence not in self._told:
            self._told.add(sentence)
            self.failed.emit(sentence)

    def flush(self) -> None:
        """Write what no copy holds yet, and wait for it a little."""
        document = self.document
        if document is None or not document.modified:
            return
        if self._writing is not None:
            wait([self._writing], PATIENCE / 2)
        if self._timer.isActive() or self.place is None:
            self._timer.stop()
            self.write()
        if self._writing is not None:
            wait([self._writing], PATIENCE)

    def _put_away(self) -> None:
        """Remove the copy; nothing is unsaved."""
        self._timer.stop()
        if self.place is not None:
            self._writer.submit(self.place.clear)
            self.place = None

    def close(self) -> None:
        """End: all is saved or given up."""
        self.watch(None)
        self._writer.shutdown(wait=True)


def _small(picture: QImage | None) -> bytes:
    """A picture as a small PNG, nothing without one."""
    if picture is None or picture.isNull():
        return b""
    return png_of(picture.scaled(WIDE, HIGH, Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation))
