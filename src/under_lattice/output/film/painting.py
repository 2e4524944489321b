"""Painting the pictures of a film in processes side by side, in order; after a stop it goes on with those that are missing."""

from __future__ import annotations

import hashlib
import signal
from collections import deque
from collections.abc import Iterator
from concurrent.futures import Future, ProcessPoolExecutor
from contextlib import contextmanager
from dataclasses import dataclass
from importlib.metadata import version
from multiprocessing import get_context
from multiprocessing.synchronize import Event
from pathlib import Path
from typing import Any

from under_lattice.core.errors import LatticeError
from under_lattice.core.progress import Progress
from under_lattice.files.kept_pictures import Store
from under_lattice.files.storage import from_text, to_text
from under_lattice.frames.frames import Frames
from under_lattice.geometry.affine import Array
from under_lattice.scene.tree import View
from under_lattice.work.model import Design, Work

ALONE = 12  # pictures up to which no process is begun
AHEAD = 3  # pictures under way for each process


@dataclass(frozen=True)
class Order:
    """Which moments (0..1) of a design are painted, in which view."""

    design: Design
    view: View
    times: tuple[float, ...]

    def digest(self) -> str:
        """Return what tells these pictures from all others."""
        told = f"{version('under-lattice')}\n{self.view}\n{self.times}\n{to_text(Work(design=self.design), None)}"
        return hashlib.sha256(told.encode()).hexdigest()[:24]


def pictures(order: Order, rounds: int, processes: int, progress: Progress) -> Iterator[Array]:
    """Yield premultiplied pictures (H, W, 4) uint8 of all moments, in order, so many times over.

    Raises
    ------
    LatticeError
        When one cannot be painted, or there is no room; the pictures till then stay, and the next time it goes on from there.
    GivenUp
    """
    store = Store.begun(order.digest())
    count = len(order.times)
    missing = [k for k in range(count) if not store.path(k).exists()]
    painted = _alone(order, missing, store, progress) if len(missing) <= ALONE or processes < 2 else None
    painted = painted if painted is not None else _side_by_side(order, missing, store, processes, progress)
    ready = iter(painted)
    wanted = set(missing)
    for at in range(count * rounds):
        progress.step(at / (count * rounds))
        k = at % count
        if at < count and k in wanted:
            next(ready)
        found = store.picture(k, order.view.height, order.view.width)
        if found is None:  # broken since
            found = Frames(order.design, order.view).picture(order.times[k], progress)
        yield found
    store.clear()


def _alone(order: Order, numbers: list[int], store: Store, progress: Progress) -> Iterator[int]:
    frames = Frames(order.design, order.view)
    for k in numbers:
        store.keep(k, frames.picture(order.times[k], _unnamed(progress), 2), f"picture {k + 1} of the film")
        yield k


def _unnamed(progress: Progress) -> Progress:
    """The same that is told nothing of single pictures."""
    return Progress(stop=progress.stop)


def _side_by_side(order: Order, numbers: list[int], store: Store, processes: int, progress: Progress) -> Iterator[int]:
    """Paint pictures in processes; yields their numbers in order, each once it is there."""
    context = get_context("spawn")
    stopped = context.Event()
    begin = to_text(Work(design=order.design), None), order.view, order.times, str(store.folder), stopped
    pool = ProcessPoolExecutor(min(processes, len(numbers)), context, _begin, begin)
    waiting: deque[tuple[int, Future[str]]] = deque()
    left = iter(numbers)
    try:
        while True:
            while len(waiting) < AHEAD * processes and (k := next(left, None)) is not None:
                with _unheard():
                    waiting.append((k, pool.submit(_paint, k)))
            if not waiting:
                return
            k, future = waiting.popleft()
            while not future.done():
                progress.check()
                _wait(future)
            if said := future.result():
                raise LatticeError(said)
            yield k
    finally:
        stopped.set()
        pool.shutdown(wait=False, cancel_futures=True)


@contextmanager
def _unheard() -> Iterator[None]:
    """Processes begun here do not hear Ctrl+C: who began them ends them."""
    before = signal.pthread_sigmask(signal.SIG_BLOCK, {signal.SIGINT})
    try:
        yield
    finally:
        signal.pthread_sigmask(signal.SIG_SETMASK, before)


def _wait(future: Future[str]) -> None:
    try:
        future.exception(timeout=0.05)
    except TimeoutError:
        return


_OF_THIS_PROCESS: dict[str, Any] = {}


def _begin(text: str, view: View, times: tuple[float, ...], folder: str, stopped: Event) -> None:
    """Make a process ready to paint pictures."""
    _OF_THIS_PROCESS.update(
        frames=Frames(from_text(text).design, view), times=times, store=Store(Path(folder)), progress=Progress(stop=stopped.is_set)
    )


def _paint(number: int) -> str:
    """Paint one picture; returns why it could not be, or nothing."""
    own = _OF_THIS_PROCESS
    try:
        picture = own["frames"].picture(own["times"][number], own["progress"])
        own["store"].keep(number, picture, f"picture {number + 1} of the film")
    except LatticeError as error:
        return str(error) or "stopped"
    return ""
