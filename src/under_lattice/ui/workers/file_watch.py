"""Looking after the file of the open work: what others do to it is said when it happens, not first when it is saved."""

from __future__ import annotations

import os
from pathlib import Path

from PySide6.QtCore import QFileSystemWatcher, QObject, QTimer, Signal

from under_lattice.files.saving import Seen
from under_lattice.ui.state.document import Document
from under_lattice.ui.workers.background import background

PAUSE_MS = 400  # in which programs that write a file anew have done so
AS_LEFT = ""


class FileWatch(QObject):
    """Watches one file at a time."""

    told = Signal(str)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.document: Document | None = None
        self._said = AS_LEFT
        self._looked: object = None  # how the file was when it was looked at last
        self._eyes = QFileSystemWatcher(self)
        self._pause = QTimer(self, singleShot=True, interval=PAUSE_MS)
        self._pause.timeout.connect(self._look)
        for heard in (self._eyes.fileChanged, self._eyes.directoryChanged):
            heard.connect(lambda _: self._pause.start())

    def watch(self, document: Document | None) -> None:
        """Look after the file of another work, or of none."""
        self.document = document
        if document is not None:
            document.status_changed.connect(self._turn)
        self._turn()

    def _turn(self) -> None:
        """Turn to where the file is now; an open file is watched by its folder too, for a new one may take its name."""
        document = self.document
        path = document.path if document is not None else None
        wanted = {str(path), str(path.parent)} if path is not None else set()
        watched = {*self._eyes.files(), *self._eyes.directories()}
        if watched - wanted:
            self._eyes.removePaths(list(watched - wanted))
            self._said = AS_LEFT
        there = [one for one in wanted - watched if os.path.exists(one)]
        if there:
            self._eyes.addPaths(there)

    def _look(self) -> None:
        document = self.document
        if document is None or document.path is None or document.seen is None:
            return
        path, seen = document.path, document.seen
        self._turn()
        if (now := (_outside(path), seen)) == self._looked:
            return  # something else happened in its folder
        self._looked = now

        def tell(sentence: str) -> None:
            if self.document is document and (document.path, document.seen) == (path, seen) and sentence != self._said:
                self._said = sentence
                if sentence:
                    self.told.emit(sentence)

        background(self, lambda: what_happened(path, seen), tell, lambda _: None)


def _outside(path: Path) -> tuple[int, ...]:
    """What tells a file that was written from one that was not, without reading it; nothing where there is none."""
    try:
        found = path.stat()
    except OSError:
        return ()
    return found.st_ino, found.st_size, found.st_mtime_ns, found.st_mode


def what_happened(path: Path, seen: Seen) -> str:
    """Return in a sentence how a file differs from what was seen of it, or nothing.

    Raises
    ------
    FileError
    """
    if not path.exists():
        return f"{path.name} is not there any more; saving will ask where to"
    if Seen.of(path) != seen:
        return f"{path.name} was changed by another program; saving will ask"
    if not (path.stat().st_mode & 0o222 and os.access(path, os.W_OK)):
        return f"{path.name} is read-only now; saving will ask where to"
    return AS_LEFT
