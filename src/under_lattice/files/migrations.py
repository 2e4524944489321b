"""Steps from each earlier file version to the next, on plain data, before any class is built.

A new version adds a function ``_from_N`` to `STEPS` and a file of version N to the tests.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from under_lattice.core.errors import FileError

VERSION = 1
STEPS: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {}


def migrated(data: dict[str, Any], source: str) -> dict[str, Any]:
    """Return the data as of the present version.

    Raises
    ------
    FileError
        When the version is newer than this program, or not one at all.
    """
    version = data.get("version")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise FileError(f"{source} has no version; a whole number from 1 to {VERSION} is expected")
    if version > VERSION:
        raise FileError(f"{source} is of version {version}, made by a newer Under Lattice; this one reads up to {VERSION}")
    while version < VERSION:
        data = STEPS[version](data)
        version += 1
    return data
