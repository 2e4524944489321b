"""Handles for the points of an outline: what motifs whose outline can be worked on by hand have in common."""

from __future__ import annotations

from typing import Any, Literal

import numpy as np

from under_lattice.core.errors import InputError
from under_lattice.geometry.affine import Array
from under_lattice.geometry.path_points import (
    Contour,
    added,
    bent,
    contours_of,
    moved,
    nearest,
    part_of,
    removed,
    smoothed,
    straightened,
)
from under_lattice.geometry.path_text import Part, parts_of_text, text_of_parts
from under_lattice.rules.handles import Drag, Handle

POINTS_SHOWN = 160
Work = Literal["add", "remove", "smooth", "straight"]


def _tree(parts: tuple[Part, ...]) -> list[list[Contour]]:
    return [list(contours_of(part)) for part in parts]


def _text(tree: list[list[Contour]]) -> str:
    return text_of_parts([part_of(tuple(contours)) for contours in tree], 7)


def point_handles(parts: tuple[Part, ...], to_own: Array) -> tuple[Handle, ...]:
    """Return a bead for each point, and the handles of its curves, seen while that point is picked.

    Parameters
    ----------
    parts : tuple of (verbs, points (K, 2))
    to_own : (2, 3)
        The place of the path -> the shape's own place.
    """
    tree = _tree(parts)
    if sum(len(contour.knots) for contours in tree for contour in contours) > POINTS_SHOWN:
        return ()
    out: list[Handle] = []
    for p, contours in enumerate(tree):
        for c, contour in enumerate(contours):
            for k, knot in enumerate(contour.knots):
                name, at = f"point {p}:{c}:{k}", _through(to_own, knot.at)
                out.append(Handle(name, at, f"point {len(out) + 1}" if len(tree) == 1 else f"part {p + 1}, point {k + 1}", "point"))
                for side, place in (("arrives", knot.arrives), ("leaves", knot.leaves)):
                    if place is not None:
                        out.append(Handle(f"{side} {p}:{c}:{k}", _through(to_own, place), "", "tip", of=name, tail=at))
    return tuple(out)


def _through(xform: Array, place: Array) -> Array:
    return np.asarray(xform[:, :2] @ place + xform[:, 2])


def _named(name: str) -> tuple[str, int, int, int]:
    what, _, place = name.partition(" ")
    p, c, k = (int(one) for one in place.split(":"))
    return what, p, c, k


def dragged_text(text: str, drag: Drag, to_path: Array) -> str | None:
    """Return an outline with a point or handle where it was dragged to, or None if the handle is none of these."""
    if drag.name.partition(" ")[0] not in ("point", "arrives", "leaves"):
        return None
    what, p, c, k = _named(drag.name)
    tree = _tree(parts_of_text(text))
    to = _through(to_path, drag.on_grid())
    contour = tree[p][c]
    tree[p][c] = moved(contour, k, to) if what == "point" else bent(contour, k, what == "leaves", to, drag.free)
    return _text(tree)


def reworked_text(text: str, work: Work, name: str, at: Array, to_path: Array) -> str:
    """Return an outline with a point added near a place (2,) of the shape, or the named one removed, made smooth or straight.

    Raises
    ------
    InputError
    """
    tree = _tree(parts_of_text(text))
    if work == "add":
        place = _through(to_path, at)
        ways = [(nearest(contour, place)[0], p, c) for p, contours in enumerate(tree) for c, contour in enumerate(contours)]
        _, p, c = min(ways)
        tree[p][c] = added(tree[p][c], place)[0]
        return _text(tree)
    if not name.startswith(("point", "arrives", "leaves")):
        raise InputError("pick a point of the outline first")
    _, p, c, k = _named(name)
    act: Any = {"remove": removed, "smooth": smoothed, "straight": straightened}[work]
    tree[p][c] = act(tree[p][c], k)
    return _text(tree)
