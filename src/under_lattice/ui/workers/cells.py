"""Pictures of the cells of a test strip, those nearest to the one looked at first; given up for the sheet and for a newer strip."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QObject, QSize, Signal
from PySide6.QtGui import QImage

from under_lattice.core.errors import LatticeError
from under_lattice.core.progress import Progress
from under_lattice.evaluate.cache import SHARED
from under_lattice.explore.looks import Looks
from under_lattice.explore.strips import Strip
from under_lattice.render.painter import paint_now
from under_lattice.scene.close_up import close_up, only_seen, span_of
from under_lattice.ui.workers.small_pictures import to_image
from under_lattice.ui.workers.worker import Job, Urgency, worker
from under_lattice.work.model import Design

FAULT = "this picture could not be made ({})"


class Cells(QObject):
    """Asks the worker for the pictures of a strip."""

    came = Signal(int, int, int, QImage)  # number of the strip, column, row
    refused = Signal(int, int, int, str)
    ended = Signal(int)

    def ask(self, number: int, strip: Strip, size: QSize, first: tuple[int, int]) -> None:
        """Ask for all cells in `size` px, those nearest to `first` (column, row) before the others."""
        job = Job("strip", Urgency.REST, partial(self._paint, number, strip, size, first), owner=self, fault=FAULT)
        job.done = lambda whole: self.ended.emit(number) if whole else None
        worker().ask(job)

    def ask_one(self, number: int, design: Design, size: QSize) -> None:
        """Ask for one picture, of the cell that is picked; it comes as column and row below zero."""

        def painted(progress: Progress) -> QImage:
            return picture_in(Looks(SHARED), design, size, progress)

        job = Job(f"picked {id(self)}", Urgency.LOOKED_AT, painted, owner=self, fault=FAULT)
        job.done = lambda picture: self.came.emit(number, -1, -1, picture)
        job.failed = lambda sentence: self.refused.emit(number, -1, -1, sentence) if sentence else None
        worker().ask(job)

    def drop(self) -> None:
        """Give up what is not yet made."""
        worker().drop(self)

    def _paint(self, number: int, strip: Strip, size: QSize, first: tuple[int, int], progress: Progress) -> bool:
        looks = Looks(SHARED)
        scene, _ = looks.scene(strip.design, progress)
        span = span_of(scene)
        order = [(column, row) for row in range(strip.rows) for column in range(strip.columns)]
        order.sort(key=lambda at: max(abs(at[0] - first[0]), abs(at[1] - first[1])))
        for column, row in order:
            progress.check()
            try:
                picture = picture_in(looks, strip.cell(column, row), size, progress, span)
            except LatticeError as error:
                worker().hand(self, self.refused.emit, number, column, row, str(error))
                continue
            worker().hand(self, self.came.emit, number, column, row, picture)
        return True


def picture_in(looks: Looks, design: Design, size: QSize, progress: Progress, span: float = 0.0) -> QImage:
    """Return a picture of a design: `span` of its longer side about the middle, or all of it.

    Raises
    ------
    LatticeError, GivenUp
    """
    scene, _ = looks.scene(design, progress)
    view = close_up(scene, span or max(scene.width, scene.height), size.width(), size.height())
    return to_image(paint_now(only_seen(scene, view), view, progress))
