"""Siblings with their pictures, dealt off the interface thread and given up for the sheet."""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial

from PySide6.QtCore import QObject, QSize, Signal
from PySide6.QtGui import QImage

from under_lattice.core.progress import Progress
from under_lattice.evaluate.cache import SHARED
from under_lattice.explore.dealing import Sibling, Terms, dealt
from under_lattice.explore.looks import Looks
from under_lattice.render.warm import is_warm
from under_lattice.ui.workers.cells import picture_in
from under_lattice.ui.workers.worker import Job, Urgency, worker
from under_lattice.work.model import Design

SLOT = "deal"
FAULT = "siblings could not be dealt ({}); the work is as it was"


@dataclass(frozen=True, eq=False)
class Hung:
    """A sibling with its picture."""

    sibling: Sibling
    picture: QImage


class Dealer(QObject):
    """Asks the worker for deals; a newer one takes the place of the one under way."""

    begun = Signal(int, QImage)  # number of the deal, picture of the work as it is
    came = Signal(int, object)  # number of the deal, Hung
    ended = Signal(int)
    failed = Signal(int, str)

    def ask(self, number: int, design: Design, terms: Terms, now: QSize, small: QSize) -> None:
        """Ask for a deal from a design: a picture of that in `now` px, one of each sibling in `small` px."""
        job = Job(SLOT, Urgency.REST, partial(self._deal, number, design, terms, now, small), owner=self, fault=FAULT)
        job.done = lambda whole: self.ended.emit(number) if whole else None
        job.failed = partial(self.failed.emit, number)
        worker().ask(job)

    def drop(self) -> None:
        """Give up what is being dealt."""
        worker().drop(self)

    @staticmethod
    def ready() -> bool:
        """Tell whether the painter that tells siblings apart is made."""
        return is_warm()

    def _deal(self, number: int, design: Design, terms: Terms, now: QSize, small: QSize, progress: Progress) -> bool:
        looks = Looks(SHARED)
        span = looks.look(design, progress).span
        worker().hand(self, self.begun.emit, number, picture_in(looks, design, now, progress, span))
        for sibling in dealt(design, terms, looks, progress):
            hung = Hung(sibling, picture_in(looks, sibling.design, small, progress, span))
            worker().hand(self, self.came.emit, number, hung)
        return True
