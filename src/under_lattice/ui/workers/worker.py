"""The one worker of the window: jobs in threads of their own, the urgent first, the newest of a slot alone.

Four threads serve it: one for the sheet alone, one for what is looked at, one for files, one for whatever waits; so a long export
delays no picture. The interface comes first: it has a core whenever it wants one, and jobs go on when there is nothing to do there,
those that are not for the sheet once that is painted; none waits long. What a job brings is handed over on the interface thread. A
fault of ours is logged, told to whoever asked, and the worker lives on.
"""

from __future__ import annotations

import logging
import os
import threading
import time
from collections import deque
from collections.abc import Callable, Collection
from concurrent.futures import Future
from contextlib import suppress
from dataclasses import dataclass, field
from enum import IntEnum
from typing import Any, TypeVar

from PySide6.QtCore import QCoreApplication, QEvent, QObject
from shiboken6 import isValid

from under_lattice.core.errors import GivenUp, LatticeError
from under_lattice.core.progress import Progress
from under_lattice.ui.workers.freed import give_back
from under_lattice.ui.workers.idle import MOST, Idle

Answer = TypeVar("Answer")
TOLD_EVERY = 0.1  # s
PATIENCE, PATIENCE_OF_SHEET = 1.0, 0.03  # s a job lets go first what is more urgent, all in all
log = logging.getLogger(__name__)


NICE = (3, 4, 5, 6)  # of the thread of each urgency: the window, at 0, gets a core whenever it wants one


class Urgency(IntEnum):
    """What a job is for, the most urgent first."""

    SHEET = 0
    LOOKED_AT = 1
    ASKED_FOR = 2  # what somebody waits for, such as a file
    REST = 3


def _nothing(*_: Any) -> None:
    """Take what nobody waits for."""


@dataclass(eq=False)
class Job:
    """One thing to be done.

    Attributes
    ----------
    slot : str
        A job takes the place of one in the same slot that is not begun, and asks one that is under way to give up.
    urgency : Urgency
    work : callable
        Given a `Progress` to look at; may refuse with a `LatticeError`.
    done, failed : callable
        Called on the interface thread with the answer, or with a sentence; it is empty when the job was given up.
    told : callable
        Called on the interface thread, not too often, with the name of what is at work and its share 0..1.
    owner : object
        Its jobs can be dropped together; those of a widget that is gone are not handed over.
    fault : str
        What is said of a fault of ours; ``{}`` stands for its kind.
    gives_way : callable
        Tells whether to stop for a newer job of the slot; at once when not given.
    patience : float
        For how many seconds, all in all, it still lets go first what is more urgent.
    """

    slot: str
    urgency: Urgency
    work: Callable[[Progress], Any]
    done: Callable[[Any], None] = _nothing
    failed: Callable[[str], None] = _nothing
    told: Callable[[str, float], None] = _nothing
    owner: object = None
    fault: str = "this could not be done ({})"
    gives_way: Callable[[], bool] = field(default=lambda: True)
    cancelled: bool = False
    patience: float = field(init=False)

    def __post_init__(self) -> None:
        self.patience = PATIENCE_OF_SHEET if self.urgency == Urgency.SHEET else PATIENCE


class Worker(QObject):
    """Takes jobs and hands over what they bring."""

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._wake = threading.Condition()
        self._waiting: list[Job] = []
        self._under_way: list[Job] = []
        self._threads: list[threading.Thread] = []
        self._ended = False
        self._idle = Idle(self)
        self._calls: deque[tuple[object, Callable[..., None], tuple[Any, ...]]] = deque()
        for urgency in Urgency:
            thread = threading.Thread(target=self._serve, args=(urgency,), name=f"worker {urgency.name.lower()}", daemon=True)
            self._threads.append(thread)
            thread.start()

    def finish(self, within: float) -> bool:
        """Give up all jobs, take no more, and tell whether all threads ended within so many seconds.

        What ends the program must not take from under them what they still use.
        """
        with self._wake:
            self._ended = True
            for job in (*self._waiting, *self._under_way):
                job.cancelled = True
            self._waiting = []
            self._wake.notify_all()
        until = time.monotonic() + within
        for thread in self._threads:
            thread.join(max(0.0, until - time.monotonic()))
        return not any(thread.is_alive() for thread in self._threads)

    def ask(self, job: Job) -> Job:
        """Take a job."""
        with self._wake:
            self._waiting = [one for one in self._waiting if one.slot != job.slot]
            self._waiting.append(job)
            self._wake.notify_all()
        return job

    def at_once(self, work: Callable[[Progress], Answer], seconds: float) -> Answer:
        """Return what `work` gives, for which the interface may wait so long; it is done in a thread of its own and may ask seldom.

        Raises
        ------
        GivenUp
            When it takes longer; it is given up.
        LatticeError
            What `work` refuses with.
        """
        over, came = threading.Event(), Future[Answer]()

        def do() -> None:
            try:
                came.set_result(work(Progress(lambda: over.is_set() or self._ended)))
            except BaseException as error:
                came.set_exception(error)

        self._threads = [one for one in self._threads if one.is_alive()]
        self._threads.append(threading.Thread(target=do, name="at once", daemon=True))
        self._threads[-1].start()
        try:
            return came.result(seconds)
        except TimeoutError:
            over.set()
            raise GivenUp from None

    def cancel(self, job: Job) -> None:
        """Give a job up, begun or not."""
        with self._wake:
            job.cancelled = True
            if job in self._waiting:
                self._waiting.remove(job)
                self.hand(job.owner, self._hand_over, job, "", None)

    def hand(self, owner: object, act: Callable[..., None], *what: Any) -> None:
        """Let the interface thread call `act`, from any thread, unless the widget that owns it is gone by then.

        No signal is emitted in another thread: that may wait for a lock which the interface thread holds while it, in turn, waits
        for the interpreter.
        """
        self._calls.append((owner, act, what))
        QCoreApplication.postEvent(self, QEvent(QEvent.Type.User))

    def event(self, event: QEvent) -> bool:
        if event.type() != QEvent.Type.User:
            return super().event(event)
        owner, act, what = self._calls.popleft()
        if not _is_gone(owner):
            act(*what)
        return True

    def drop(self, owner: object) -> None:
        """Give up all jobs of an owner; nothing of them is handed over any more."""
        with self._wake:
            for job in (*self._waiting, *self._under_way):
                if job.owner is owner:
                    job.cancelled, job.done, job.failed = True, _nothing, _nothing
            self._waiting = [one for one in self._waiting if one.owner is not owner]
            for k in range(len(self._calls)):  # what is done and on its way
                if self._calls[k][0] is owner:
                    self._calls[k] = (owner, _nothing, ())

    def first(self, slots: Collection[str]) -> None:
        """Let the jobs of these slots be done before others that are as urgent."""
        with self._wake:
            self._waiting.sort(key=lambda one: one.slot not in slots)

    def newer(self, slot: str) -> bool:
        """Tell whether a job waits in a slot."""
        return any(one.slot == slot for one in self._waiting)

    def busy(self, owner: object) -> bool:
        """Tell whether jobs of an owner are waiting or under way."""
        with self._wake:
            return any(job.owner is owner for job in (*self._waiting, *self._under_way))

    def rests(self) -> bool:
        """Tell whether nothing is waiting or under way."""
        return not self._waiting and not self._under_way

    def _next(self, urgency: Urgency) -> Job | None:
        """The first of the most urgent jobs a thread may take; one slot is served by one thread at a time."""
        taken = {one.slot for one in self._under_way}
        free = [job for job in self._waiting if job.slot not in taken and (job.urgency <= urgency or urgency == Urgency.REST)]
        free = [job for job in free if job.urgency == urgency or job.urgency > Urgency.SHEET]
        return min(free, key=lambda job: job.urgency, default=None)  # of equals the one that waits longest

    def _serve(self, urgency: Urgency) -> None:
        with suppress(OSError):  # where that is not allowed, it is only less smooth; threads it starts inherit it
            os.setpriority(os.PRIO_PROCESS, threading.get_native_id(), NICE[urgency])
        while True:
            with self._wake:
                while (job := self._next(urgency)) is None:
                    if self._ended:
                        return
                    self._wake.wait()
                self._waiting.remove(job)
                self._under_way.append(job)
            sentence, answer = self._outcome(job)
            with self._wake:
                self._under_way.remove(job)
                self._wake.notify_all()
                if self._ended:
                    return
            try:
                self.hand(job.owner, self._hand_over, job, sentence, answer)
            except RuntimeError:  # the application is gone
                return
            del job, answer  # not held while waiting
            give_back()

    def _outcome(self, job: Job) -> tuple[str | None, Any]:
        """A sentence if it failed, and the answer."""

        def stop() -> bool:
            if job.cancelled or _is_gone(job.owner) or (self.newer(job.slot) and job.gives_way()):
                return True
            self._make_way(job)
            return False

        last = [time.monotonic()]

        def tell(name: str, share: float) -> None:
            now = time.monotonic()
            if job.told is not _nothing and now - last[0] > TOLD_EVERY:
                last[0] = now
                self.hand(job.owner, job.told, name, share)

        try:
            (progress := Progress(stop, tell)).check()
            return None, job.work(progress)
        except GivenUp:
            return "", None
        except LatticeError as error:
            return str(error), None
        except MemoryError:
            return "there is not enough memory for this; choose a smaller size", None
        except Exception as error:
            if not threading.main_thread().is_alive():  # the program has ended
                return "", None
            log.exception("a job failed: %s", job.slot)
            return job.fault.format(type(error).__name__), None

    def _make_way(self, job: Job) -> None:
        """Let go first what is more urgent: the interface, and for others the sheet. All share one interpreter anyway."""
        begun, sheet = time.monotonic(), job.urgency == Urgency.SHEET
        if job.patience > 0.0 and not sheet:
            with self._wake:
                self._wake.wait_for(lambda: not self._sheet_waits(), MOST)
        if job.patience > 0.0 or not sheet:
            self._idle.wait()
        job.patience -= time.monotonic() - begun

    def _sheet_waits(self) -> bool:
        """Tell whether a picture of the sheet is under way or asked for."""
        return any(one.urgency == Urgency.SHEET and not one.cancelled for one in (*self._waiting, *self._under_way))

    def _hand_over(self, job: Job, sentence: str | None, answer: Any) -> None:
        if sentence is None:
            job.done(answer)
        else:
            job.failed(sentence)


def _is_gone(owner: object) -> bool:
    """Tell whether a widget or another object of Qt has been destroyed."""
    return isinstance(owner, QObject) and not isValid(owner)


_THE: list[Worker] = []


def worker() -> Worker:
    """Return the one worker; made when it is first asked for."""
    if not _THE or not isValid(_THE[0]):
        _THE[:] = [Worker(QCoreApplication.instance())]
    return _THE[0]
