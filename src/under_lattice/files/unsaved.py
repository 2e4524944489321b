"""Copies of works that no file holds yet, in the state folder of the person: one for each open window, found again after a bad end.

A copy belongs to whoever holds the lock beside it. The system lets go of a lock when a process ends, however it ends, so a copy
whose lock is free was left behind.
"""

from __future__ import annotations

import base64
import contextlib
import fcntl
import json
import os
import stat
import uuid
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import UTC, datetime
from pathlib import Path
from typing import IO, Any

import platformdirs

from under_lattice.core.errors import FileError
from under_lattice.files.saving import Seen, write_atomically
from under_lattice.files.storage import from_text, to_data
from under_lattice.work.model import Work

ENDING, LOCK = ".unsaved", ".lock"
FORMAT, VERSION = "under-lattice-unsaved", 1
OFFERED_MOST = 30
SPARE = Path("/var/tmp")  # which stays when the machine begins anew


def folder() -> Path:
    """Return the folder of the copies."""
    return Path(platformdirs.user_state_dir("under-lattice")) / "unsaved"


def spare_folder() -> Path:
    """Return where copies go as long as that folder cannot be written: on a disk that is full, in a home that is read-only.

    Raises
    ------
    FileError
        When someone else owns it.
    """
    spare = SPARE / f"under-lattice-{os.getuid()}"
    with contextlib.suppress(OSError):
        spare.mkdir(mode=0o700)
    try:
        found = spare.lstat()
    except OSError as error:
        raise FileError(f"{spare} cannot be made: {error.strerror}") from None
    if not stat.S_ISDIR(found.st_mode) or found.st_uid != os.getuid() or found.st_mode & 0o077:
        raise FileError(f"{spare} is not yours alone")
    return spare


@dataclass
class Place:
    """A place for one copy, and the lock that says whose it is."""

    path: Path
    _lock: IO[bytes] | None = field(default=None, repr=False)
    _pictures: set[str] = field(default_factory=set, repr=False)  # that lie beside it already

    def claim(self) -> bool:
        """Take the place; tells whether nobody else has it.

        Raises
        ------
        FileError
            When the folder cannot be written.
        """
        if self._lock is not None:
            return True
        try:
            self.path.parent.mkdir(mode=0o700, parents=True, exist_ok=True)
            lock = open(self.path.with_suffix(LOCK), "ab")  # noqa: SIM115  held until it is let go
        except OSError as error:
            raise FileError(f"{self.path.parent} cannot be written: {error.strerror}") from None
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            lock.close()
            return False
        self._lock = lock
        return True

    def let_go(self) -> None:
        """Leave the copy for whoever finds it."""
        if self._lock is not None:
            self._lock.close()
            self._lock = None

    def clear(self) -> None:
        """Remove the copy, and let go."""
        if self._lock is not None:
            for path in (self.path, *self.path.parent.glob(f"{self.path.stem}.*")):
                with contextlib.suppress(OSError):
                    os.unlink(path)
        self.let_go()

    def write(self, work: Work, own: Path | None = None, picture: bytes = b"", seen: Seen | None = None) -> None:
        """Put a work there; what pictures it holds are written once, each in a file beside it.

        Parameters
        ----------
        work : Work
        own : Path or None
            The file that holds an older state of it.
        picture : bytes
            A small PNG of it, or nothing.
        seen : Seen or None
            What that file held when it was last read or written.

        Raises
        ------
        FileError
        """
        self.claim()
        stored = to_data(work)
        for one in stored.get("pictures", ()):
            if one["id"] not in self._pictures:
                write_atomically(self.picture(one["id"]), one["data"].encode("ascii"))
                self._pictures.add(one["id"])
            one["data"] = ""
        data: dict[str, Any] = {"format": FORMAT, "version": VERSION, "at": datetime.now(UTC).isoformat(timespec="seconds")}
        data |= {"path": os.fsdecode(own) if own is not None else None, "picture": base64.b64encode(picture).decode("ascii")}
        data |= {"seen": seen.digest if seen is not None else None}
        write_atomically(self.path, json.dumps(data | {"work": stored}).encode())

    def write_elsewhere(self, *copy: Any) -> None:
        """Put a work into the spare folder, and stay there; the older copy goes once this one is written.

        Raises
        ------
        FileError
        """
        spare = Place(spare_folder() / self.path.name)
        if spare.path == self.path:
            raise FileError("there is no other folder")
        spare.write(*copy)
        self.clear()
        self.path, self._lock, self._pictures = spare.path, spare._lock, spare._pictures

    def picture(self, key: str) -> Path:
        """Return the file of one picture of the work."""
        return self.path.with_suffix(f".{key}.picture")


def new_place() -> Place:
    """Return a place that nobody has."""
    return Place(folder() / f"{uuid.uuid4().hex}{ENDING}")


@dataclass(frozen=True)
class Unsaved:
    """A copy that was left behind.

    Attributes
    ----------
    place : Place
        Held, until it is cleared or let go.
    work : Work
    own : Path or None
        The file that holds an older state.
    at : datetime
        When it was written.
    picture : bytes
        A small PNG, or nothing.
    seen : Seen or None
        What that file held when it was last read or written.
    """

    place: Place
    work: Work
    own: Path | None
    at: datetime
    picture: bytes
    seen: Seen | None = None


def left_behind() -> tuple[list[Unsaved], list[str]]:
    """Return the copies that were left behind, newest first, and what could not be read of them, in sentences.

    A copy that cannot be read stays where it is.
    """
    found, problems = [], []
    for place in _free_places():
        try:
            found.append(_read(place))
        except FileError as error:
            problems.append(str(error))
            place.let_go()
    return sorted(found, key=lambda one: one.at, reverse=True), problems


def _free_places() -> Iterator[Place]:
    """Places whose lock is free, now held."""
    paths = sorted(folder().glob(f"*{ENDING}"))
    with contextlib.suppress(FileError, OSError):
        paths += sorted(spare_folder().glob(f"*{ENDING}"))
    for path in paths[:OFFERED_MOST]:
        place = Place(path)
        with contextlib.suppress(FileError):
            if place.claim():
                yield place


def _read(place: Place) -> Unsaved:
    name = place.path.name
    try:
        data = json.loads(place.path.read_text(encoding="utf-8"))
    except (OSError, ValueError, RecursionError):
        raise FileError(f"{name} cannot be read") from None
    if not isinstance(data, dict) or data.get("format") != FORMAT or data.get("version") != VERSION:
        raise FileError(f"{name} is no copy that this Under Lattice has written")
    try:
        at = datetime.fromisoformat(str(data.get("at")))
        picture = base64.b64decode(str(data.get("picture") or ""))
    except ValueError:
        at, picture = datetime.fromtimestamp(0, UTC), b""
    own = Path(str(data["path"])) if data.get("path") else None
    seen = Seen(str(data["seen"])) if data.get("seen") is not None else None
    work = from_text(json.dumps(_whole(place, data.get("work"))), name)
    return Unsaved(place, work, own, at.astimezone(UTC), picture, seen)


def _whole(place: Place, stored: Any) -> Any:
    """The data of a work with its pictures from the files beside it."""
    pictures = stored.get("pictures", ()) if isinstance(stored, dict) else ()
    try:
        for one in pictures:
            one["data"] = place.picture(one["id"]).read_text(encoding="ascii")
    except (OSError, ValueError, TypeError, KeyError):
        raise FileError(f"{place.path.name} lacks a picture") from None
    return stored
