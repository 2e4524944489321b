"""Pictures painted for a file that is not whole yet, kept in a folder so that a stop loses nothing."""

from __future__ import annotations

import os
import shutil
import time
import zlib
from pathlib import Path

import numpy as np
from platformdirs import user_cache_path

from under_lattice.core.errors import FileError
from under_lattice.geometry.affine import Array

KEPT = 3 * 24 * 3600  # s, after which pictures of what was stopped are cleared away
FAST = 1  # level of compression


def kept_folder() -> Path:
    """Return the folder in which pictures are kept that are not in a file yet."""
    return user_cache_path("under-lattice") / "films"


class Store:
    """A folder of painted pictures, by number; what is written there is whole."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder

    @classmethod
    def begun(cls, name: str) -> Store:
        """Return the folder of that name, made where it is missing; those of what was stopped long ago are cleared away.

        Raises
        ------
        FileError
        """
        folder = kept_folder() / name
        try:
            folder.mkdir(parents=True, exist_ok=True)
            for other in kept_folder().iterdir():
                if other != folder and time.time() - other.stat().st_mtime > KEPT:
                    shutil.rmtree(other, ignore_errors=True)
        except OSError as error:
            raise FileError(f"there is no room for the pictures: {error.strerror}") from None
        return cls(folder)

    def path(self, number: int) -> Path:
        """Return the file of a picture."""
        return self.folder / f"{number:06}.z"

    def keep(self, number: int, pixels: Array, what: str) -> None:
        """Write a picture; ``what`` names it where there is no room.

        Raises
        ------
        FileError
            Which says that what is kept stays, and the next time it goes on from there.
        """
        part = self.folder / f"{number:06}.{os.getpid()}.part"
        try:
            part.write_bytes(zlib.compress(pixels.tobytes(), FAST))
            part.replace(self.path(number))
        except OSError as error:
            part.unlink(missing_ok=True)
            raise FileError(
                f"there is no room for {what} ({error.strerror}); those before it are kept, "
                "and exporting once more goes on from there"
            ) from None

    def picture(self, number: int, height: int, width: int) -> Array | None:
        """Return a picture (height, width, 4), or None if it is not there or not whole."""
        try:
            pixels = np.frombuffer(zlib.decompress(self.path(number).read_bytes()), np.uint8)
            return pixels.reshape(height, width, 4)
        except (OSError, ValueError, zlib.error):
            return None

    def clear(self) -> None:
        """Take the folder away: what was painted is in the file now."""
        shutil.rmtree(self.folder, ignore_errors=True)
