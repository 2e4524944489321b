"""Rows of a picture done at once: kernels let go of the interpreter, so two threads share them."""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from functools import cache

from under_lattice.core.errors import GivenUp

THREADS, ROWS, FEW = 2, 64, 320  # rows: of a band, and of a picture that one thread is as quick with
_ASKED = threading.local()


@contextmanager
def asking(stop: Callable[[], bool]) -> Iterator[None]:
    """Ask, while rows are done in this thread, whether they are not wanted any more."""
    before = getattr(_ASKED, "stop", None)
    _ASKED.stop = stop
    try:
        yield
    finally:
        _ASKED.stop = before


def by_rows(high: int, work: Callable[[int, int], None], rows: int = ROWS) -> None:
    """Call `work` with the first and the one after the last of each band of rows, or columns, of which there are `high`.

    Raises
    ------
    GivenUp
    """
    stop = getattr(_ASKED, "stop", None)
    if high <= max(FEW, rows):
        work(0, high)
        return
    jobs = [_pool().submit(work, at, min(high, at + rows)) for at in range(0, high, rows)]
    for job in jobs:
        if stop is not None and stop():
            for other in jobs:
                other.cancel()
            raise GivenUp
        job.result()


@cache
def _pool() -> ThreadPoolExecutor:
    return ThreadPoolExecutor(THREADS, "finish")
