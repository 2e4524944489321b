"""Reading files that may be anything: plain files only, of a bounded size, known before they are read."""

from __future__ import annotations

import os
import stat
from pathlib import Path

from under_lattice.core.errors import FileError

LARGEST = 256_000_000  # bytes of any file that is read


def read_bytes(path: Path, most: int = LARGEST) -> bytes:
    """Return the bytes of a plain file; a pipe or a device is refused, and what is larger than `most` bytes.

    Raises
    ------
    FileError
    """
    try:
        with open(os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC), "rb") as file:  # a pipe would wait for its writer
            found = os.fstat(file.fileno())
            if not stat.S_ISREG(found.st_mode):
                raise FileError(f"{path.name or path} is no plain file")
            if found.st_size > most:
                raise FileError(f"{path.name} is larger than {most // 1_000_000} MB")
            data = file.read(most + 1)
    except OSError as error:
        raise FileError(f"{path.name or path} cannot be read: {error.strerror}") from None
    if len(data) > most:
        raise FileError(f"{path.name} is larger than {most // 1_000_000} MB")
    return data
