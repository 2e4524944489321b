"""Rows of a picture done at once: kernels let go of the interpreter, so two threads share them."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor

THREADS, ROWS = 2, 64


def by_rows(high: int, work: Callable[[int, int], None], rows: int = ROWS) -> None:
    """Call `work` with the first and the one after the last of each band of rows, or columns, of which there are `high`."""
    bands = [(at, min(high, at + rows)) for at in range(0, high, rows)]
    if len(bands) < 2:
        work(0, high)
        return
    with ThreadPoolExecutor(THREADS) as pool:
        for job in [pool.submit(work, *band) for band in bands]:
            job.result()
