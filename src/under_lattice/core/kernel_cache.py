"""Where compiled kernels are kept: a folder of the person's, its name made from what they were compiled from.

A compiled kernel does not notice when a function it took in from another file has changed; another folder does.
"""

from __future__ import annotations

import hashlib
import os
import platform
import sys
from functools import cache
from importlib.metadata import version
from pathlib import Path

import platformdirs


def sources() -> list[Path]:
    """Return the files that hold kernels, wherever they stand."""
    return sorted(Path(__file__).parents[1].glob("*/kernel*.py"))


@cache
def folder() -> Path:
    """Return the folder for the kernels as they are now, on this processor."""
    mixed = hashlib.sha256()
    for source in sources():
        mixed.update(source.read_bytes())
    versions = ("numba", "llvmlite", "numpy")
    mixed.update(" ".join([sys.version, platform.machine(), *(version(name) for name in versions)]).encode())
    return Path(platformdirs.user_cache_dir("under-lattice")) / "kernels" / mixed.hexdigest()[:16]


os.environ.setdefault("NUMBA_CACHE_DIR", str(folder()))
