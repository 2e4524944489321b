"""Memory that was freed is given back to the system: what large works took on the way is kept by the allocator otherwise."""

from __future__ import annotations

import ctypes
import os
import threading
from pathlib import Path

LARGE = 600_000_000  # bytes a process may have before anything is given back
MORE = 150_000_000  # bytes it must have grown by since

_lock = threading.Lock()
_least = 0  # bytes of this process after the last time


def resident() -> int:
    """Return the bytes of memory this process has; 0 where it cannot be told."""
    try:
        return int(Path("/proc/self/statm").read_text().split()[1]) * os.sysconf("SC_PAGE_SIZE")
    except (OSError, ValueError):
        return 0


def give_back() -> None:
    """Give back what is free, if there may be much of it; in a thread that may take a tenth of a second."""
    global _least
    if not _lock.acquire(blocking=False):
        return
    try:
        now = resident()
        trim = getattr(ctypes.CDLL(None), "malloc_trim", None)  # where the system's library has it
        if trim is not None and now > max(LARGE, _least + MORE):
            trim(0)
            now = resident()
        _least = min(_least, now) if now < LARGE else now
    finally:
        _lock.release()
