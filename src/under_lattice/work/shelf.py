"""The shelf: versions kept of a work, each a whole design with a name and the time it was kept."""

from __future__ import annotations

from collections.abc import Iterable

from under_lattice.core.errors import InputError
from under_lattice.declare.frozen import edited
from under_lattice.work.model import Design, Kept, Shelf

KEPT_MOST = 200
NAME_MOST = 60


def kept(shelf: Shelf, name: str) -> Kept:
    """Return a kept version by its id.

    Raises
    ------
    InputError
    """
    for one in shelf:
        if one.id == name:
            return one
    raise InputError("this kept version is gone")


def put_on(shelf: Shelf, design: Design, name: str = "", at: str = "") -> Shelf:
    """Return the shelf with a design kept last, under a name that is not taken, and the time `at` in ISO form.

    Raises
    ------
    InputError
        When there are too many.
    """
    if len(shelf) >= KEPT_MOST:
        raise InputError(f"a work has at most {KEPT_MOST} kept versions; remove one first")
    return (*shelf, Kept(name=free_name(name or f"Version {len(shelf) + 1}", shelf), at=at, design=design))


def renamed(shelf: Shelf, name: str, to: str) -> Shelf:
    """Return the shelf with a version called otherwise; an empty name changes nothing.

    Raises
    ------
    InputError
    """
    one, to = kept(shelf, name), " ".join(to.split())[:NAME_MOST]
    if not to or to == one.name:
        return shelf
    free = free_name(to, (other for other in shelf if other is not one))
    return tuple(edited(other, name=free) if other is one else other for other in shelf)


def taken_off(shelf: Shelf, name: str) -> Shelf:
    """Return the shelf without a version.

    Raises
    ------
    InputError
    """
    one = kept(shelf, name)
    return tuple(other for other in shelf if other is not one)


def moved(shelf: Shelf, name: str, to: int) -> Shelf:
    """Return the shelf with a version at place `to`, counted without it.

    Raises
    ------
    InputError
    """
    one = kept(shelf, name)
    rest = [other for other in shelf if other is not one]
    at = min(max(0, to), len(rest))
    return (*rest[:at], one, *rest[at:])


def free_name(wanted: str, shelf: Iterable[Kept]) -> str:
    """Return a name that no version has: the wanted one, or with a number."""
    taken, k, name = {one.name for one in shelf}, 1, wanted[:NAME_MOST]
    while name in taken:
        k += 1
        name = f"{wanted[: NAME_MOST - 5]} {k}"
    return name


def with_those_since(shelf: Shelf, then: Shelf, known: Shelf) -> Shelf:
    """Return the shelf as it was `then`, and with it what was kept since: what neither it nor `known` had."""
    ids = {one.id for one in (*then, *known)}
    return (*then, *(one for one in shelf if one.id not in ids))
