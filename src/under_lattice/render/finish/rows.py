"""Rows of a picture done at once: kernels let go of the interpreter, so two threads share them."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from functools import cache

THREADS, ROWS, FEW = 2, 64, 320  # rows: of a band, and of a picture that one thread is as quick with


def by_rows(high: int, work: Callable[[int, int], None], rows: int = ROWS) -> None:
    """Call `work` with the first and the one after the last of each band of rows, or columns, of which there are `high`."""
    if high <= max(FEW, rows):
        work(0, high)
        return
    jobs = [_pool().submit(work, at, min(high, at + rows)) for at in range(0, high, rows)]
    for job in jobs:
        job.result()


@cache
def _pool() -> ThreadPoolExecutor:
    return ThreadPoolExecutor(THREADS, "finish")
