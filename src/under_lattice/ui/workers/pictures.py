"""Small pictures made one after another: the pattern book, the choosers."""

from __future__ import annotations

from collections.abc import Iterable
from functools import partial
from typing import Protocol

from PySide6.QtCore import QBuffer, QIODevice, QObject, Signal
from PySide6.QtGui import QImage

from under_lattice.core.progress import Progress
from under_lattice.ui.workers.worker import Job, Urgency, worker


class Maker(Protocol):
    """Makes a picture as long as it is wanted."""

    def __call__(self, *, progress: Progress) -> QImage: ...


class Pictures(QObject):
    """Asks for pictures in order; what is no longer wanted is dropped."""

    made = Signal(str, QImage)
    refused = Signal(str, str)  # key, sentence

    def want(self, key: str, make: Maker) -> None:
        """Ask for a picture; `made` carries it with its key."""
        job = Job(
            _slot(key), Urgency.REST, lambda progress: make(progress=progress), owner=self, fault="this could not be drawn ({})"
        )
        job.done, job.failed = partial(self.made.emit, key), partial(self.refused.emit, key)
        worker().ask(job)

    def first(self, keys: Iterable[str]) -> None:
        """Let some pictures be made before the others."""
        worker().first({_slot(key) for key in keys})

    def drop(self) -> None:
        """Forget what is not yet made."""
        worker().drop(self)


def _slot(key: str) -> str:
    return f"picture {key}"


def png_of(image: QImage) -> bytes:
    """Return a picture as the bytes of a PNG file."""
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    image.save(buffer, "PNG")  # type: ignore[call-overload]
    return bytes(buffer.data().data())
