"""Works made of one: its kept versions, itself in each palette of the house, or with the numbers of each row of a table."""

from __future__ import annotations

import csv
import json
from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path
from typing import Any, Literal, NamedTuple

from under_lattice.core.errors import LatticeError
from under_lattice.declare.frozen import edited
from under_lattice.files.bounded import read_bytes
from under_lattice.files.storage import stem_of
from under_lattice.library.palettes import PALETTES
from under_lattice.loop.turning import in_step
from under_lattice.many.settings import apply_setting
from under_lattice.work.colours import by_lightness, recoloured, uses_of
from under_lattice.work.model import Work

ROWS_MOST = 10_000
Each = Literal["the work as it is", "each kept version", "each palette", "each row of a table"]


class Row(NamedTuple):
    """A row of a table: what it is called, and settings in words."""

    name: str
    settings: tuple[str, ...]


class Version(NamedTuple):
    """What it is called in a file name, and the work, which may refuse with a `LatticeError` when it is made."""

    name: str
    make: Callable[[], Work]


def versions_of(work: Work, each: Each, rows: Sequence[Row] = ()) -> tuple[Version, ...]:
    """Return the works that go out of one."""
    if each == "each kept version":
        return tuple(Version(stem_of(one.name), partial(as_kept, work, one.id)) for one in work.kept)
    if each == "each palette":
        return tuple(Version(stem_of(name), partial(in_palette, work, name)) for name in PALETTES)
    if each == "each row of a table":
        return tuple(Version(row.name, partial(with_settings, work, row.settings)) for row in rows)
    return (Version("", lambda: work),)


def as_kept(work: Work, version: str) -> Work:
    """Return a work as one of its kept versions, by its id."""
    return edited(work, design=next(one.design for one in work.kept if one.id == version))


def in_palette(work: Work, palette: str) -> Work:
    """Return a work with its colours, by their lightness, from a palette of the house."""
    change = by_lightness(tuple(uses_of(work.design)), PALETTES[palette])
    return edited(work, design=recoloured(work.design, change))


def with_settings(work: Work, settings: Sequence[str]) -> Work:
    """Return a work with dials set in words, one after the other.

    Raises
    ------
    InputError
    """
    design = work.design
    for order in settings:
        design = apply_setting(design, order)
    return edited(work, design=in_step(design))


def read_rows(path: Path) -> list[Row]:
    """Read a table, CSV or JSON: the heads of its columns are numbers of a work, and ``name``.

    Raises
    ------
    LatticeError
    """
    text = read_bytes(path).decode("utf-8-sig", "replace")
    try:
        rows: Any = json.loads(text) if path.suffix.lower() == ".json" else list(csv.DictReader(text.splitlines()))
    except (json.JSONDecodeError, csv.Error, RecursionError) as error:
        raise LatticeError(f"{path.name} cannot be read: {error}") from None
    if not isinstance(rows, list) or not rows or not all(isinstance(row, dict) for row in rows):
        raise LatticeError(f"{path.name} holds no rows; a table has a head that names numbers, and a row for each file")
    if len(rows) > ROWS_MOST:
        raise LatticeError(f"{path.name} has more than {ROWS_MOST:,} rows")
    out = []
    for k, row in enumerate(rows, 1):
        settings = [f"{key}={value}" for key, value in row.items() if key not in (None, "name") and value not in (None, "")]
        out.append(Row(stem_of(str(row.get("name") or k)), tuple(settings)))
    return out
