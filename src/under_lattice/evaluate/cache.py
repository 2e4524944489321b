"""What was worked out before, found again by what it was made of and what was read of the work while it was made.

One cache serves all threads and all designs that are given it: designs that share a rule share its copies. What was used longest
ago goes first when it grows beyond its bytes.
"""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from dataclasses import dataclass, field
from typing import Any, TypeVar

import numpy as np

from under_lattice.pattern.known import Known, Watched, alike

Value = TypeVar("Value")
BYTES_MOST = 768_000_000


@dataclass(eq=False)
class _Entry:
    """One value: what its key names by identity and so must stay, what was read, and how large it is."""

    key: Hashable
    holds: tuple[object, ...]
    known: Known
    read: set[str]
    value: Any
    size: int


@dataclass(eq=False)
class Cache:
    """Values by key and by what was read.

    Parameters
    ----------
    most : int
        Bytes it may grow to.
    """

    most: int = BYTES_MOST
    size: int = 0
    _entries: OrderedDict[int, _Entry] = field(default_factory=OrderedDict)
    _by_key: dict[Hashable, list[int]] = field(default_factory=dict)
    _lock: threading.Lock = field(default_factory=threading.Lock)
    _next: int = 0

    def get(self, key: Hashable, holds: tuple[object, ...], known: Known, make: Callable[[Known], Value]) -> Value:
        """Return the value for a key, made by `make` if none is kept that read the same of `known`.

        Parameters
        ----------
        key : hashable
            May name objects by their id, if they are among `holds`.
        holds : tuple
        known : Known
        make : callable
            Given the same as `known`; what it reads of it is noted, now and later.
        """
        with self._lock:
            kept = [(at, self._entries[at]) for at in self._by_key.get(key, ())]
        for at, entry in kept:
            if alike(entry.known, known, entry.read):  # may itself ask the cache, so the lock is not held
                with self._lock:
                    if at in self._entries:
                        self._entries.move_to_end(at)
                found: Value = entry.value
                return found
        read: set[str] = set()
        value = make(Watched(known, read))
        self._keep(_Entry(key, holds, known, read, value, size_of(value)))
        return value

    def _keep(self, entry: _Entry) -> None:
        with self._lock:
            self._entries[self._next] = entry
            self._by_key.setdefault(entry.key, []).append(self._next)
            self._next += 1
            self.size += entry.size
            while self.size > self.most and len(self._entries) > 1:
                self._drop(next(iter(self._entries)))

    def _drop(self, at: int) -> None:
        entry = self._entries.pop(at)
        self.size -= entry.size
        left = self._by_key[entry.key]
        left.remove(at)
        if not left:
            del self._by_key[entry.key]

    def clear(self) -> None:
        """Forget everything."""
        with self._lock:
            self._entries.clear()
            self._by_key.clear()
            self.size = 0

    def __len__(self) -> int:
        """Return how many values are kept."""
        return len(self._entries)


def size_of(value: object) -> int:
    """Return about how many bytes of arrays a value holds itself: those of a stage without the stages above it."""
    total, waiting, seen = 200, [value], set()
    while waiting:
        one = waiting.pop()
        if isinstance(one, np.ndarray):
            base = one if one.base is None else one.base
            if id(base) not in seen:
                seen.add(id(base))
                total += one.nbytes
        elif isinstance(one, (tuple, list)):
            waiting += one
        elif isinstance(one, dict):
            waiting += one.values()
        elif hasattr(one, "__dict__"):
            waiting += [part for name, part in vars(one).items() if isinstance(part, (np.ndarray, tuple)) and name != "above"]
    return total


SHARED = Cache()  # of all that is shown in this process
