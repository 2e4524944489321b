"""Pictures of the pattern book kept from one visit to the next, in the cache folder of the person (XDG Base Directory)."""

from __future__ import annotations

import contextlib
import hashlib
import os
from collections.abc import Callable
from pathlib import Path

import platformdirs
from PySide6.QtGui import QImage

from under_lattice import __version__
from under_lattice.core.errors import FileError
from under_lattice.files.saving import write_atomically
from under_lattice.ui.workers.pictures import png_of

MOST = 400  # pictures; those not looked at for longest go first


def folder() -> Path:
    """Return where they are kept."""
    return Path(platformdirs.user_cache_dir("under-lattice")) / "book"


def kept_picture(key: str, make: Callable[[], QImage]) -> QImage:
    """Return the picture that was kept under a key in this version, or make it and keep it; what cannot be kept is made anew."""
    path = folder() / f"{hashlib.sha256(f'{__version__} {key}'.encode()).hexdigest()[:32]}.png"
    image = QImage(str(path)) if path.is_file() else QImage()
    if not image.isNull():
        with contextlib.suppress(OSError):
            os.utime(path)
        return image
    image = make()
    with contextlib.suppress(OSError, FileError):
        folder().mkdir(parents=True, exist_ok=True)
        write_atomically(path, png_of(image))
        _thin_out()
    return image


def _thin_out() -> None:
    """Remove the pictures that were not looked at for longest."""
    kept = sorted(folder().glob("*.png"), key=lambda one: one.stat().st_mtime)
    for one in kept[: max(0, len(kept) - MOST)]:
        one.unlink(missing_ok=True)
