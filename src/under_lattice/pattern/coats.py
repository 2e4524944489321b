"""Coats where no ink has reached yet, and along open lines, which have no inside."""

from __future__ import annotations

from collections.abc import Collection, Iterable
from dataclasses import replace

import numpy as np

from under_lattice.colour.colour import GREYS, bytes_of
from under_lattice.geometry.affine import Array
from under_lattice.geometry.outline import CLOSE
from under_lattice.pattern.marks import Coat, Marks, Picture

MITRE = 4.0  # how far the corner of a line may stick out, in widths of it
NO_INK = Coat(np.zeros((1, 4), np.uint8), np.zeros((1, 4), np.uint8), np.zeros(1))


def bare_coat(marks: Marks) -> Coat:
    """Greys for marks that no ink has reached yet, one for each part."""
    return along_lines(Coat(bytes_of(GREYS)[marks.family % len(GREYS)], NO_INK.stroke, NO_INK.width), marks, NO_INK.width)


def line_room(coats: Iterable[Coat]) -> float:
    """Return how far lines and their mitred corners may reach beyond the outlines, in the unit of the work."""
    return max((MITRE * float(coat.width.max(initial=0.0)) for coat in coats), default=0.0)


def _lines(marks: Marks) -> Array:
    """Which marks (N,) have no inside: those whose outlines are open."""
    return np.array([CLOSE not in family.verbs for family in marks.families], bool)[marks.family]


def along_lines(coat: Coat, marks: Marks, width: Array) -> Coat:
    """Return the coat with its fill drawn along open lines that have no stroke, `width` (N,) or (1,) wide: they have no inside."""
    lines = _lines(marks)
    if not lines.any():
        return coat
    fill = np.array(np.broadcast_to(coat.fill, (marks.count, 4)))
    stroke, wide = np.array(np.broadcast_to(coat.stroke, (marks.count, 4))), np.array(np.broadcast_to(coat.width, marks.count))
    bare = lines & (stroke[:, 3] == 0)
    stroke[bare], wide[bare] = fill[bare], np.broadcast_to(width, marks.count)[bare]
    fill[lines, 3] = 0
    return coat._replace(fill=fill, stroke=stroke, width=wide)


def without_open(coat: Coat, marks: Marks) -> Coat:
    """Return the coat with no fill in open lines, which have no inside; what is drawn along them stands in another coat."""
    lines = _lines(marks)
    if not lines.any():
        return coat
    fill = np.array(np.broadcast_to(coat.fill, (marks.count, 4)))
    fill[lines, 3] = 0
    return coat._replace(fill=fill)


def with_thin(picture: Picture, parts: Collection[int]) -> Picture:
    """Return a picture with no coat on some of its parts, numbers from 1 on: they are a construction."""
    thin = np.isin(picture.marks.family + 1, list(parts))
    if not thin.any():
        return picture
    coats = []
    for coat in picture.coats:
        fill, stroke = (np.array(np.broadcast_to(of, (len(thin), 4))) for of in (coat.fill, coat.stroke))
        fill[thin, 3] = stroke[thin, 3] = 0
        coats.append(coat._replace(fill=fill, stroke=stroke))
    return replace(picture, coats=tuple(coats), thin=thin)
