"""What was finished before, found again by what it was made of; what was used longest ago goes first."""

from __future__ import annotations

import hashlib
import threading
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import fields, is_dataclass
from typing import Any

import numpy as np

from under_lattice.geometry.affine import Array

BYTES_MOST = 256_000_000
LARGE = 2_000_000  # bytes of an array, above which it is told by identity


class Kept:
    """Pictures (H, W, 4) by what they were made of, bounded in bytes; shared by threads.

    Attributes
    ----------
    made : int
        How many were made, for tests.
    """

    def __init__(self, most: int = BYTES_MOST) -> None:
        self.most, self.size, self.made = most, 0, 0
        self._pictures: OrderedDict[bytes, tuple[Array, list[Any]]] = OrderedDict()
        self._lock = threading.Lock()

    def get(self, made_of: tuple[Any, ...], make: Callable[[], Array]) -> Array:
        """Return the picture made of some things, which are told by what is in them; made if none is kept."""
        mixed, holds = hashlib.blake2b(digest_size=20), list[Any]()
        _mix(mixed, made_of, holds)
        key = mixed.digest()
        with self._lock:
            if key in self._pictures:
                self._pictures.move_to_end(key)
                return self._pictures[key][0]
        picture = make()
        with self._lock:
            self.made += 1
            if picture.nbytes <= self.most // 8 and key not in self._pictures:
                self._pictures[key] = picture, holds
                self.size += picture.nbytes
            while self.size > self.most:
                self.size -= self._pictures.popitem(last=False)[1][0].nbytes
        return picture

    def clear(self) -> None:
        """Let all go."""
        with self._lock:
            self._pictures.clear()
            self.size = 0


def _mix(mixed: Any, thing: Any, holds: list[Any]) -> None:
    """Mix what a thing is made of into a hash; what is told by identity is held, so that no other takes its place."""
    if isinstance(thing, np.ndarray):
        mixed.update(f"{thing.dtype}{thing.shape}".encode())
        if thing.nbytes > LARGE:
            holds.append(thing)
            mixed.update(str(id(thing)).encode())
        else:
            mixed.update(np.ascontiguousarray(thing).tobytes())
    elif is_dataclass(thing):
        mixed.update(type(thing).__name__.encode())
        for one in fields(thing):
            _mix(mixed, getattr(thing, one.name), holds)
    elif isinstance(thing, (tuple, list)):
        mixed.update(f"({len(thing)}".encode())
        for one in thing:
            _mix(mixed, one, holds)
    else:
        assert thing is None or isinstance(thing, (str, bytes, int, float, bool, np.generic)), type(thing)
        mixed.update(f"{thing!r};".encode())


FINISHED = Kept()
