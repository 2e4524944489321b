"""Points of a shape that have names: corners 1, 2 …, middles of sides s1, s2 …, the centre c; and lines between them."""

from __future__ import annotations

import re
from collections.abc import Mapping
from itertools import pairwise

import numpy as np

from under_lattice.core.errors import InputError
from under_lattice.geometry.affine import Array, apply
from under_lattice.pattern.stage import Stage
from under_lattice.rules.handles import Drag, Handle
from under_lattice.rules.shared.anchor import ordered_corners

_END = re.compile(r"(?:s?[1-9]\d{0,2}|c)\Z")
_PICK = 2.5  # times what snaps: how near the end of a drag must be to a point


def parse_chords(text: str, more: tuple[str, ...] = ()) -> list[tuple[str, ...]]:
    """Read lines such as ``1-3, s2-c``: corner numbers, s and a number for the middle of a side, c for the centre.

    Parameters
    ----------
    text : str
    more : tuple of str
        Other names that are allowed; with them a line may go through several points.

    Raises
    ------
    InputError
    """
    chords = []
    for part in (p.strip().lower() for p in text.split(",")):
        ends = tuple(end.strip() for end in part.split("-"))
        known = all(_END.match(end) or end in more for end in ends)
        many = len(ends) == 2 or (more and len(ends) > 2)
        if not many or not known or any(one == other for one, other in pairwise(ends)):
            names = ", ".join(("corner", "middle of a side", "centre", *more))
            raise InputError(f"“{part[:20]}” is not a chord; write two ends such as 1-3, s1-s4 or s2-c ({names})", "Chords")
        chords.append(ends)
    return chords


def named_points(ring: Array) -> dict[str, Array]:
    """Return the named points (2,) of corners `ring` (V, 2), corners clockwise from the top."""
    middles = (ring + np.roll(ring, -1, 0)) / 2
    corners = {str(k + 1): point for k, point in enumerate(ring)}
    return corners | {f"s{k + 1}": point for k, point in enumerate(middles)} | {"c": ring.mean(0)}


def point_of(points: Mapping[str, Array], name: str, corners: int) -> Array:
    """Return a named point (2,).

    Raises
    ------
    InputError
        When this shape has not so many corners.
    """
    if name not in points:
        raise InputError(f"“{name}” is not there: this shape has {corners} corners", "Chords")
    return points[name]


def chord_handles(stage: Stage, more: Mapping[str, Array]) -> tuple[Handle, ...]:
    """Return a bead at each named point of a stage's body, in the place of the rule; from one to another a line is drawn."""
    points = named_points(ordered_corners(stage.shape.body().points)) | dict(more)
    place = stage.xform[stage.origin]
    return tuple(
        Handle(f"from {name}", apply(place, at[None])[0], f"{name}: drag to another to draw a line", "point")
        for name, at in points.items()
    )


def chord_dragged(text: str, drag: Drag, stage: Stage, more: Mapping[str, Array]) -> str:
    """Return the lines with the one from the dragged point to that under the pointer drawn, or taken away if it was there."""
    points = named_points(ordered_corners(stage.shape.body().points)) | dict(more)
    name = drag.name.removeprefix("from ")
    at = apply(stage.xform[stage.origin], np.array(list(points.values())))
    far = np.hypot(*(at - drag.to).T)
    other = list(points)[int(far.argmin())]
    if far.min() > _PICK * max(drag.near, 1e-9) or other == name:
        return text
    parts = [part.strip() for part in text.split(",") if part.strip()]
    same = [part for part in parts if part in (f"{name}-{other}", f"{other}-{name}")]
    rest = [part for part in parts if part not in same] if same else [*parts, f"{name}-{other}"]
    return ", ".join(rest) or text
