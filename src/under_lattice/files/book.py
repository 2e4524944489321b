"""The pattern book on disk: one plain file for each leaf, in the data folder of the person.

A leaf is a work, a recipe, a motif, a palette or a cell, with a name and words to search by. A file that is broken is told and
passed over; nothing else of the book is touched by it.
"""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Literal, get_args

import platformdirs
from pydantic import Field, ValidationError, field_validator

from under_lattice.colour.colour import checked
from under_lattice.core.errors import FileError, InputError
from under_lattice.core.plain import Name
from under_lattice.declare.frozen import Frozen, first_sentence
from under_lattice.files.bounded import read_bytes
from under_lattice.files.saving import write_atomically
from under_lattice.files.storage import free_path, from_text, stem_of, text_in, to_data
from under_lattice.work.model import Work

ENDING = ".leaf"
FORMAT, VERSION = "under-lattice-leaf", 1
LEAVES_MOST, PICTURE_MOST = 2000, 2_000_000
Kind = Literal["work", "recipe", "motif", "palette", "cell"]
KINDS: tuple[str, ...] = get_args(Kind)


class BookLeaf(Frozen):
    """One leaf of the book.

    Attributes
    ----------
    kind : str
    name : str
    words : str
        To search by.
    work : Work or None
        What it holds; of a recipe with its motif as a sample. None for a palette.
    colours : tuple of str
        Of a palette.
    picture : str
        A small PNG of it as base64, or nothing.
    """

    kind: Kind
    name: Name = Field(min_length=1, max_length=80)
    words: Name = Field("", max_length=400)
    work: Work | None = None
    colours: tuple[str, ...] = Field((), max_length=12)
    picture: str = Field("", max_length=PICTURE_MOST)

    @field_validator("colours")
    @classmethod
    def _are_colours(cls, colours: tuple[str, ...]) -> tuple[str, ...]:
        try:
            return tuple(checked(one) for one in colours)
        except InputError as error:
            raise ValueError(error.message) from None

    def found_by(self, text: str) -> bool:
        """Tell whether all words of a text are in its name, kind or words."""
        mine = f"{self.name} {self.kind} {self.words}".lower()
        return all(word in mine for word in text.lower().split())


@dataclass(frozen=True)
class Shelved:
    """A leaf and the file it lies in."""

    path: Path
    leaf: BookLeaf


def folder() -> Path:
    """Return the folder of the book."""
    return Path(platformdirs.user_data_dir("under-lattice")) / "book"


def to_leaf_text(leaf: BookLeaf) -> str:
    """Return a leaf as JSON text; the same leaf always the same."""
    data: dict[str, Any] = {"format": FORMAT, "version": VERSION, "kind": leaf.kind, "name": leaf.name, "words": leaf.words}
    data |= {"colours": list(leaf.colours)} if leaf.work is None else {"work": to_data(leaf.work)}
    data |= {"picture": leaf.picture} if leaf.picture else {}
    return json.dumps(data, indent=1, sort_keys=True, ensure_ascii=False) + "\n"


def from_leaf_text(text: str, source: str) -> BookLeaf:
    """Read a leaf.

    Raises
    ------
    FileError
        Says what is wrong and where.
    """
    try:
        data = json.loads(text)
    except (ValueError, RecursionError):
        raise FileError(f"{source} is no leaf of a pattern book: it is not JSON") from None
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise FileError(f"{source} is no leaf of a pattern book: it lacks “format”: “{FORMAT}”")
    if data.get("version") != VERSION:
        raise FileError(f"{source} is of version {data.get('version')}; this Under Lattice reads {VERSION}")
    kind, work = data.get("kind"), None
    if kind not in KINDS:
        raise FileError(f"{source} is a “{str(kind)[:30]}”; a leaf is one of: {', '.join(KINDS)}")
    if kind == "palette" and not data.get("colours"):
        raise FileError(f"{source} is a palette without colours")
    if kind != "palette":
        work = from_text(json.dumps(data.get("work")), source)
    try:
        named = {"kind": kind, "name": data.get("name"), "words": data.get("words", ""), "picture": data.get("picture", "")}
        return BookLeaf.model_validate(named | {"work": work, "colours": data.get("colours", ())})
    except ValidationError as error:
        raise FileError(f"{source} cannot be read: {first_sentence(error)}") from None


def read_leaf(path: Path) -> BookLeaf:
    """Read a leaf from its file.

    Raises
    ------
    FileError
    """
    return from_leaf_text(text_in(read_bytes(path), path.name, "no leaf of a pattern book"), path.name)


def put_in(leaf: BookLeaf, where: Path | None = None) -> Path:
    """Write a leaf into the book, or another folder, under a name that is not taken; return its file.

    Raises
    ------
    FileError
    """
    where = where or folder()
    try:
        where.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise FileError(f"{where} cannot be made: {error.strerror}") from None
    path = free_path(where, f"{leaf.kind}-{stem_of(leaf.name)}", ENDING)
    write_atomically(path, to_leaf_text(leaf).encode())
    return path


def rewrite(path: Path, leaf: BookLeaf) -> None:
    """Write a leaf over the file it lies in.

    Raises
    ------
    FileError
    """
    write_atomically(path, to_leaf_text(leaf).encode())


def take_out(path: Path) -> None:
    """Take a leaf out of the book: its file is put aside beside it, under a name the book does not read.

    Raises
    ------
    FileError
    """
    try:
        path.replace(path.with_name(path.name + ".removed"))
    except OSError as error:
        raise FileError(f"{path.name} cannot be taken out: {error.strerror}") from None


def put_back(path: Path) -> None:
    """Put a leaf that was taken out back.

    Raises
    ------
    FileError
    """
    try:
        path.with_name(path.name + ".removed").replace(path)
    except OSError as error:
        raise FileError(f"{path.name} cannot be put back: {error.strerror}") from None


def leaves(where: Path | None = None) -> tuple[tuple[Shelved, ...], tuple[str, ...]]:
    """Return the leaves of the book in the order of their names, and what was passed over, in sentences."""
    where, found, problems = where or folder(), [], []
    files = sorted(where.glob(f"*{ENDING}"), key=lambda path: path.name) if where.is_dir() else []
    for path in files[:LEAVES_MOST]:
        try:
            found.append(Shelved(path, read_leaf(path)))
        except FileError as error:
            problems.append(str(error))
    if len(files) > LEAVES_MOST:
        problems.append(f"the book has {len(files):,} leaves; the first {LEAVES_MOST:,} are shown")
    return tuple(sorted(found, key=lambda one: (KINDS.index(one.leaf.kind), one.leaf.name.lower()))), tuple(problems)


def brought(paths: Iterable[Path], where: Path | None = None) -> tuple[int, tuple[str, ...]]:
    """Copy leaves from files, and from all files of folders, into the book; return how many, and what was passed over.

    Raises
    ------
    FileError
        When the book cannot be written to.
    """
    count, problems = 0, []
    for path in paths:
        for one in sorted(path.glob(f"*{ENDING}")) if path.is_dir() else [path]:
            try:
                leaf = read_leaf(one)
            except FileError as error:
                problems.append(str(error))
                continue
            put_in(leaf, where)
            count += 1
    return count, tuple(problems)
