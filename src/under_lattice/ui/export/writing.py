"""Files of an export: which there are, and their writing, one after the other."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import partial
from pathlib import Path
from typing import NamedTuple

from under_lattice.core.errors import LatticeError
from under_lattice.core.progress import Progress
from under_lattice.files.saving import write_atomically
from under_lattice.files.storage import free_path, stem_of
from under_lattice.many.versions import Version
from under_lattice.output import Format
from under_lattice.output.page import job_of
from under_lattice.work.model import Work

FAILED_SAID = 3  # files that were not written, whose reasons are said


class Piece(NamedTuple):
    """One file: where it goes, of which work, with which options."""

    path: Callable[[], Path]
    make: Callable[[], Work]
    options: Format


def export_bytes(work: Work, options: Format, progress: Progress, moment: float = 0.0) -> bytes:
    """Return the file's bytes, of a work as it is at a moment of its loop, 0..1.

    Raises
    ------
    LatticeError, GivenUp
    """
    chosen, job = job_of(work, options, progress, time=moment)
    return chosen.write(job)


@dataclass(frozen=True)
class Order:
    """What an export writes, so that it can be written once more of a work that has changed: `pieces` gives the files."""

    title: str
    pieces: Callable[[Work], list[Piece]]


def one_file(path: Path, sizes: Sequence[Format]) -> Order:
    """Return the order of one file, and beside it those of further sizes."""
    paths = beside(path, sizes)

    def pieces(work: Work) -> list[Piece]:
        return [Piece(lambda at=at: at, lambda: work, own) for at, own in zip(paths, sizes, strict=True)]  # type: ignore[misc]

    return Order(path.name, pieces)


def into_folder(folder: Path, stem: str, versions: Callable[[Work], Sequence[Version]], sizes: Sequence[Format]) -> Order:
    """Return the order of several versions in a folder, each in several sizes.

    They go under names that are not taken there; written once more they go where they went.
    """
    taken: dict[str, Path] = {}

    def place(name: str) -> Path:
        if name not in taken:
            taken[name] = free_path(folder, name, f".{sizes[0].ending}")
        return taken[name]

    def pieces(work: Work) -> list[Piece]:
        out = []
        for version in versions(work):
            for k, options in enumerate(sizes):
                name = "-".join(part for part in (stem, version.name, "" if not k else wide_word(options)) if part)
                out.append(Piece(partial(place, name), version.make, options))
        return out

    return Order(f"into {folder.name}", pieces)


def beside(path: Path, sizes: Sequence[Format]) -> list[Path]:
    """Return the file of each size: the first as it is called, the others with their width behind its name."""
    return [path, *(path.with_name(f"{path.stem}-{wide_word(one)}{path.suffix}") for one in sizes[1:])]


def wide_word(options: Format) -> str:
    """Return the width of a picture as a part of its file's name."""
    return stem_of(str(getattr(options, "width", "")))


def write_pieces(pieces: Sequence[Piece], moment: float, progress: Progress) -> str:
    """Write files one after the other, and return what came of it; one that fails does not keep the others from being written.

    Raises
    ------
    GivenUp
    LatticeError
        When none could be written.
    """
    done: list[str] = []
    failed: list[str] = []
    for k, piece in enumerate(pieces):
        progress.check()
        tell = lambda name, share, k=k: progress.tell(name, (k + share) / len(pieces))  # noqa: E731
        try:
            data = export_bytes(piece.make(), piece.options, replace(progress, tell=tell), moment)
            progress.check()
            path = piece.path()
            write_atomically(path, data)
        except LatticeError as error:
            if len(pieces) == 1:
                raise
            failed.append(str(error))
            continue
        done.append(f"{path.name}, {size_words(len(data))}")
    if not done:
        raise LatticeError(failed[0])
    if len(pieces) == 1:
        return "; ".join([*done, *pieces[0].options.notes(pieces[0].make().design)])
    words = f"{len(done)} files into {pieces[0].path().parent.name}" if len(done) > FAILED_SAID else "; ".join(done)
    return words + (f"; {len(failed)} could not be written: {'; '.join(failed[:FAILED_SAID])}" if failed else "")


def size_words(count: int) -> str:
    """Return so many bytes in words."""
    return f"{count / 1e6:.2f} MB" if count >= 1e6 else f"{count / 1e3:.1f} kB"
