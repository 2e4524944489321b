"""Plays the loop: pictures are worked out ahead and shown at their right time; those that come late are counted, not waited for."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from math import ceil

from PySide6.QtCore import QElapsedTimer, QObject, Qt, QTimer, Signal
from PySide6.QtGui import QImage

from under_lattice.core.progress import Progress
from under_lattice.frames.frames import Frames
from under_lattice.scene.tree import View
from under_lattice.ui.sheet.sheet_view import SheetView
from under_lattice.ui.state.desk import Desk
from under_lattice.ui.workers.small_pictures import to_image
from under_lattice.ui.workers.worker import Job, Urgency, worker
from under_lattice.work.model import Design, Loop

BYTES_MOST = 640_000_000  # of pictures kept
SIDE_BY_SIDE = 2  # pictures worked out at a time
FAULT = "this could not be played ({})"
TICK_LEAST, TOLD_MS = 4, 250  # ms
SMOOTH = 0.2  # of a new measure of how long a picture takes, taken into the mean


class Player(QObject):
    """Shows one moment after another on the sheet."""

    told = Signal(str)  # how it goes, in words
    ended = Signal()

    def __init__(self, desk: Desk, sheet: SheetView, seen_of: Callable[[Design], Design]) -> None:
        super().__init__(sheet)
        self.desk, self.sheet = desk, sheet
        self._seen_of = seen_of  # what of a design is shown: all of it, or one layer alone
        self.playing = False
        self.shown = self.dropped = self.asked = 0
        self._frames: Frames | None = None
        self._pictures: dict[int, QImage] = {}
        self._under_way: dict[int, int] = {}  # by slot, the picture
        self._clock = QElapsedTimer()
        self._from = self._last = self._told = 0
        self._takes = 0.03  # s, that one picture takes
        self._tick = QTimer(self)
        self._tick.setTimerType(Qt.TimerType.PreciseTimer)
        self._tick.timeout.connect(self._show_now)

    # -- what is played --------------------------------------------------------------------------
    @property
    def loop(self) -> Loop:
        """The string of time."""
        return self.desk.document.design.loop

    @property
    def first(self) -> int:
        """The first picture of the part that is worked on."""
        return round(self.loop.begin * self.loop.pictures)

    @property
    def count(self) -> int:
        """How many pictures that part has."""
        return max(1, round(self.loop.end * self.loop.pictures) - self.first)

    def play(self) -> None:
        """Play from the time that is shown."""
        if self.playing:
            return
        self.playing = self.sheet.playing = True
        self.sheet.show_under(None)
        self.shown = self.dropped = 0
        at = round(self.desk.looked.time * self.loop.pictures) - self.first
        at = at if 0 <= at < self.count - 1 else 0
        self._begin_at(at)
        self.renew()
        self._tick.start(max(TICK_LEAST, 1000 // self.loop.rate // 2))

    def _begin_at(self, at: int) -> None:
        self._from = at
        self._last = at - 1
        self._told = 0
        self._clock.start()

    def stop(self) -> None:
        """Stop at the moment that is shown."""
        if not self.playing:
            return
        self.playing = self.sheet.playing = False
        self._tick.stop()
        worker().drop(self)
        self._under_way.clear()
        self._frames = None
        self._pictures.clear()
        looked = self.desk.looked
        time = looked.moment
        looked.playing_at = None
        looked.time = time
        self.ended.emit()

    def renew(self) -> None:
        """Work all pictures out anew: the work, or the view of it, has changed; time goes on."""
        if not self.playing:
            return
        worker().drop(self)
        self._under_way.clear()
        self._pictures.clear()
        self._tick.setInterval(max(TICK_LEAST, 1000 // self.loop.rate // 2))
        self._frames = Frames(self._seen_of(self.desk.document.design), self.sheet.wanted_view(), self.desk.looked.bones, True)
        for slot in range(SIDE_BY_SIDE):
            self._ask(slot)

    # -- pictures ahead --------------------------------------------------------------------------
    @property
    def now(self) -> int:
        """The picture whose time it is, counted from the first of the part that is worked on."""
        at = self._from + int(self._clock.elapsed() * self.loop.rate / 1000)
        return at % self.count if self.loop.closed else min(at, self.count - 1)

    @property
    def kept_most(self) -> int:
        """How many pictures are kept at most."""
        view = self._frames.view if self._frames is not None else View(1, 1, 1.0, 0.0, 0.0)
        return max(8, BYTES_MOST // (4 * view.width * view.height))

    def _wanted(self) -> int | None:
        """The next picture that is missing, far enough ahead that it comes in time."""
        lead = 1 + ceil(self._takes * self.loop.rate)
        now, taken = self.now, set(self._under_way.values())
        for by in range(lead, min(self.count, self.kept_most) + lead):
            at = (now + by) % self.count
            if at not in self._pictures and at not in taken:
                return at
        return None

    def _ask(self, slot: int) -> None:
        at = self._wanted()
        frames = self._frames
        if at is None or frames is None or not self.playing:
            self._under_way.pop(slot, None)
            return
        self._under_way[slot] = at
        time = (self.first + at) / self.loop.pictures

        def work(progress: Progress) -> tuple[QImage, float]:
            clock = QElapsedTimer()
            clock.start()
            return to_image(frames.picture(time, progress)), clock.elapsed() / 1000

        job = Job(
            f"moment {slot}", Urgency.LOOKED_AT, work, partial(self._take, frames, slot, at), self._failed, owner=self, fault=FAULT
        )
        self.asked += 1
        worker().ask(job)

    def _take(self, frames: Frames, slot: int, at: int, brought: tuple[QImage, float]) -> None:
        if frames is not self._frames or not self.playing:
            return
        picture, took = brought
        self._takes = max(took, self._takes + SMOOTH * (took - self._takes))
        self._pictures[at] = picture
        while len(self._pictures) > self.kept_most:
            now = self.now
            del self._pictures[max(self._pictures, key=lambda one: (one - now) % self.count)]
        self._ask(slot)

    def _failed(self, sentence: str) -> None:
        if sentence and self.playing:
            self.stop()
            self.desk.told.emit(sentence)

    # -- showing ---------------------------------------------------------------------------------
    def _show_now(self) -> None:
        at = self.now
        if at == self._last:
            if not self.loop.closed and at == self.count - 1 and self._clock.elapsed() * self.loop.rate / 1000 > self.count + 1:
                self.stop()
            return
        passed = (at - self._last) % self.count
        picture = self._pictures.get(at)
        self.dropped += passed - (picture is not None)
        if picture is not None and self._frames is not None:
            self.shown += 1
            self.sheet.show_picture(picture, self._frames.view)
        self._last = at
        self.desk.looked.playing_at = (self.first + at) / self.loop.pictures
        for slot in range(SIDE_BY_SIDE):
            if slot not in self._under_way:
                self._ask(slot)
        if self._clock.elapsed() - self._told > TOLD_MS:
            self._told = self._clock.elapsed()
            self.told.emit(self.words())

    def words(self) -> str:
        """Return how many pictures were shown and how many came late."""
        late = f"{self.dropped:,} dropped" if self.dropped else "none dropped"
        return f"playing: {self.shown:,} shown, {late}"
