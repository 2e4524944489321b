"""Writing files whole or not at all, and noticing what others did to them meanwhile."""

from __future__ import annotations

import contextlib
import errno
import hashlib
import os
import re
import stat
from dataclasses import dataclass
from pathlib import Path

from under_lattice.core.errors import FileError
from under_lattice.files.bounded import read_bytes

NAME_MOST = 255  # bytes of a name in a folder
PARTIAL = re.compile(r"^\.(?P<name>.*)\.(?P<process>\d{1,10})-\d{1,6}\.part$", re.DOTALL)  # a file that is being written
WHOLE = ".whole"  # of a file with several names: its new content, as long as it is written in place


@dataclass(frozen=True)
class Seen:
    """What a file held when it was read or written: its digest, nothing where there was no file."""

    digest: str

    @classmethod
    def of(cls, path: Path) -> Seen:
        """Return what a file holds now.

        Raises
        ------
        FileError
        """
        return cls.holding(read_bytes(path)) if path.exists() else cls("")

    @classmethod
    def holding(cls, data: bytes) -> Seen:
        """Return what a file with these bytes holds."""
        return cls(hashlib.sha256(data).hexdigest())


class OthersWrote(FileError):
    """A file holds something else than was read from it; `gone` where there is none any more."""

    def __init__(self, path: Path, gone: bool) -> None:
        self.gone = gone
        how = "is not there any more" if gone else "was changed by another program, or another window"
        super().__init__(f"{path.name} {how}")


def write_atomically(path: Path, data: bytes, seen: Seen | None = None) -> None:
    """Write beside the file, flush to disk, then take its place; on failure the old file stays as it was.

    A symbolic link stays one, and its target is written. What is there keeps its mode and group; a new file has what the umask
    leaves. A file with several names (hard links) keeps them: it is written in place, with its new content whole beside it until
    that is done. What a writer that was killed left behind in the folder is cleared.

    Parameters
    ----------
    path : Path
    data : bytes
    seen : Seen or None
        What the file is expected to hold; anything, when None.

    Raises
    ------
    OthersWrote
        When it holds something else.
    FileError
        When it cannot be written, is read-only, or its name is too long.
    """
    if len(os.fsencode(path.name)) > NAME_MOST:
        raise FileError(f"{path.name[:40]}… is too long a name: at most {NAME_MOST} bytes are allowed")
    try:
        target = Path(os.path.realpath(path))
        if seen is not None and (found := Seen.of(target)) != seen:
            raise OthersWrote(path, not found.digest)
        old = target.stat() if target.exists() else None
        if old is not None and not stat.S_ISREG(old.st_mode):
            raise FileError(f"{path.name} is no plain file")
        if old is not None and not (old.st_mode & 0o222 and os.access(target, os.W_OK)):
            raise FileError(f"{path.name} is read-only; save it under another name, or let it be written")
        _clear_partial(target.parent)
        _put(target, data, old)
    except OSError as error:
        raise FileError(f"{path.name} cannot be written: {error.strerror}") from None


def _put(target: Path, data: bytes, old: os.stat_result | None) -> None:
    partial = _partial_of(target)
    handle = os.open(partial, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_CLOEXEC, 0o666)  # less what the umask takes
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        if old is not None and old.st_nlink > 1:
            _in_place(target, data, partial)
            return
        if old is not None:
            with contextlib.suppress(OSError):
                os.chown(partial, -1, old.st_gid)
            os.chmod(partial, stat.S_IMODE(old.st_mode))
        os.replace(partial, target)
    except BaseException:
        with contextlib.suppress(OSError):
            os.unlink(partial)
        raise
    _flush_folder(target.parent)


def _in_place(target: Path, data: bytes, partial: Path) -> None:
    """Write over a file that has other names too; until it is whole, what it shall hold lies beside it."""
    whole = whole_beside(target)
    os.replace(partial, whole)
    _flush_folder(target.parent)
    with open(target, "r+b") as file:
        file.write(data)
        file.truncate()
        file.flush()
        os.fsync(file.fileno())
    os.unlink(whole)


def whole_beside(path: Path) -> Path:
    """Return where the new content of a file with several names lies until it is written."""
    target = Path(os.path.realpath(path))
    return target.with_name(_short(f".{target.name}", WHOLE))


def _partial_of(target: Path) -> Path:
    for k in range(1000):
        partial = target.with_name(_short(f".{target.name}", f".{os.getpid()}-{k}.part"))
        if not partial.exists():
            return partial
    raise OSError(errno.EEXIST, "its folder is full of files that are being written")


def _short(name: str, ending: str) -> str:
    """A name cut so that it fits a folder with its ending."""
    return os.fsdecode(os.fsencode(name)[: NAME_MOST - len(ending)].decode("utf-8", "ignore").encode()) + ending


def _flush_folder(folder: Path) -> None:
    """Let the disk hold the new name too; some file systems have no such thing."""
    with contextlib.suppress(OSError):
        handle = os.open(folder, os.O_RDONLY | os.O_DIRECTORY)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)


def _clear_partial(folder: Path) -> None:
    """Remove what writers that ended in the midst left in a folder."""
    with os.scandir(folder) as entries:
        left = [(entry.path, PARTIAL.match(entry.name)) for entry in entries if entry.name.endswith(".part")]
    for name, match in left:
        if match is not None and not _runs(int(match["process"])):
            with contextlib.suppress(OSError):
                os.unlink(name)


def _runs(process: int) -> bool:
    try:
        os.kill(process, 0)
    except (ProcessLookupError, OverflowError):
        return False
    except OSError:
        return True
    return True
