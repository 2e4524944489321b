"""The moments before and after the one that is shown, as lines over the sheet, while nothing plays."""

from __future__ import annotations

from PySide6.QtCore import QObject
from PySide6.QtGui import QImage

from under_lattice.core.progress import Progress
from under_lattice.declare.frozen import edited
from under_lattice.frames.frames import Frames
from under_lattice.scene.tree import View
from under_lattice.ui.sheet.sheet_view import SheetView
from under_lattice.ui.state.desk import Desk
from under_lattice.ui.workers.small_pictures import to_image
from under_lattice.ui.workers.worker import Job, Urgency, worker
from under_lattice.work.model import Design

AWAY = 1 / 24  # of the loop, between the moment and its neighbours


def neighbours_of(design: Design, view: View, time: float, progress: Progress) -> list[QImage]:
    """Return the lines of what moves a little before and a little after a moment, in a view.

    Raises
    ------
    GivenUp, LimitError
    """
    clear = edited(design, sheet=edited(design.sheet, background=""))
    frames = Frames(clear, view, bones=True)
    frames.front, frames.back = [], []  # what stands still is there already
    times = [time - AWAY, time + AWAY]
    times = [one % 1.0 for one in times] if design.loop.closed else [one for one in times if 0 <= one <= 1]
    return [to_image(frames.picture(one, progress)) for one in times]


class Neighbours(QObject):
    """Asks for the lines and lays them over the sheet."""

    def __init__(self, desk: Desk, sheet: SheetView) -> None:
        super().__init__(sheet)
        self.desk, self.sheet = desk, sheet
        for signal in (desk.document.changed, desk.looked.picture_changed, desk.looked.loop_changed, sheet.view_changed):
            signal.connect(self.ask)

    def ask(self) -> None:
        """Ask for the lines of the moment that is shown, or take them away."""
        looked, design = self.desk.looked, self.desk.document.design
        if not looked.beside or looked.playing_at is not None or not design.motions:
            if self.sheet.neighbours is not None:
                self.sheet.show_neighbours([], self.sheet.neighbours[1])
            return
        time, view = looked.time, self.sheet.wanted_view()
        worker().ask(
            Job("neighbours", Urgency.LOOKED_AT, lambda progress: neighbours_of(design, view, time, progress),
                lambda pictures: self.sheet.show_neighbours(pictures if self.desk.looked.beside else [], view), owner=self)
        )  # fmt: skip
