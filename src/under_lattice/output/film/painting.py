"""Painting the pictures of a film in processes side by side, in order; after a stop it goes on with those that are missing."""

from __future__ import annotations

import hashlib
import os
import shutil
import signal
import time
import zlib
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

import numpy as np
from platformdirs import user_cache_path

from under_lattice.core.errors import FileError, LatticeError
from under_lattice.core.progress import Progress
from under_lattice.files.storage import from_text, to_text
from under_lattice.frames.frames import Frames
from under_lattice.geometry.affine import Array
from under_lattice.scene.tree import View
from under_lattice.work.model import Design, Work

ALONE = 12  # pictures up to which no process is begun
AHEAD = 3  # pictures under way for each process
KEPT = 3 * 24 * 3600  # s, after which pictures of a film that was stopped are cleared away
FAST = 1  # level of compression


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


class Store:
    """A folder of painted pictures, by number; what is written there is whole."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder

    def path(self, number: int) -> Path:
        """Return the file of a picture."""
        return self.folder / f"{number:06}.z"

    def keep(self, number: int, pixels: Array) -> None:
        """Write a picture.

        Raises
        ------
        OSError
        """
        part = self.folder / f"{number:06}.{os.getpid()}.part"
        try:
            part.write_bytes(zlib.compress(pixels.tobytes(), FAST))
            part.replace(self.path(number))
        except OSError:
            part.unlink(missing_ok=True)
            raise

    def picture(self, number: int, view: View) -> Array | None:
        """Return a picture (H, W, 4), or None if it is not there or not whole."""
        try:
            pixels = np.frombuffer(zlib.decompress(self.path(number).read_bytes()), np.uint8)
            return pixels.reshape(view.height, view.width, 4)
        except (OSError, ValueError, zlib.error):
            return None


def store_of(order: Order) -> Store:
    """Return the folder of the pictures of a film, made where it is missing; those of films stopped long ago are cleared away.

    Raises
    ------
    FileError
    """
    films = user_cache_path("under-lattice") / "films"
    folder = films / order.digest()
    try:
        folder.mkdir(parents=True, exist_ok=True)
        for other in films.iterdir():
            if other != folder and time.time() - other.stat().st_mtime > KEPT:
                shutil.rmtree(other, ignore_errors=True)
    except OSError as error:
        raise FileError(f"there is no room for the pictures of the film: {error.strerror}") from None
    return Store(folder)


def pictures(order: Order, rounds: int, processes: int, progress: Progress) -> Iterator[Array]:
    """Yield premultiplied pictures (H, W, 4) uint8 of all moments, in order, so many times over.

    Raises
    ------
    LatticeError
        When one cannot be painted, or there is no room; the pictures till then stay, and the next time it goes on from there.
    GivenUp
    """
    store = store_of(order)
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
        found = store.picture(k, order.view)
        if found is None:  # broken since
            found = Frames(order.design, order.view).picture(order.times[k], progress)
        yield found
    shutil.rmtree(store.folder, ignore_errors=True)


def _alone(order: Order, numbers: list[int], store: Store, progress: Progress) -> Iterator[int]:
    frames = Frames(order.design, order.view)
    for k in numbers:
        _keep(store, k, frames.picture(order.times[k], _unnamed(progress), 2))
        yield k


def _keep(store: Store, number: int, pixels: Array) -> None:
    try:
        store.keep(number, pixels)
    except OSError as error:
        raise FileError(
            f"there is no room for picture {number + 1} of the film ({error.strerror}); those before it are kept, "
            "and exporting once more goes on from there"
        ) from None


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
        _keep(own["store"], number, own["frames"].picture(own["times"][number], own["progress"]))
    except LatticeError as error:
        return str(error) or "stopped"
    return ""
