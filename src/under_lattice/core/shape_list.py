"""Shapes as text: one on each line, its fill, its stroke, the width of that, and its outline as path data."""

from __future__ import annotations

import re
from collections.abc import Iterable
from functools import lru_cache
from typing import NamedTuple

import numpy as np

from under_lattice.core.affine import Array
from under_lattice.core.errors import InputError
from under_lattice.core.path_text import Part, part_of_text, text_of_parts
from under_lattice.core.units import short

SHAPES_MOST = 20_000
COLOUR = re.compile(r"#[0-9A-F]{8}\Z")
NONE = "none"


class Shapes(NamedTuple):
    """What a list says: outlines, and fill and stroke (n, 4) bytes, width (n,)."""

    parts: tuple[Part, ...]
    fill: Array
    stroke: Array
    width: Array


@lru_cache(maxsize=16)
def shapes_of_text(text: str) -> Shapes:
    """Return the shapes of a list.

    Raises
    ------
    InputError
        Says on which line what cannot be read.
    """
    lines = [line for line in text.splitlines() if line.strip()]
    if not 1 <= len(lines) <= SHAPES_MOST:
        raise InputError(f"from 1 to {SHAPES_MOST:,} shapes are allowed, one on each line; there are {len(lines):,}")
    parts, fills, strokes, widths = [], [], [], []
    for k, line in enumerate(lines, 1):
        head = line.split(maxsplit=3)
        if len(head) < 4:
            raise InputError(f"shape {k} needs fill, stroke, width and an outline")
        fills.append(_colour(head[0], k))
        strokes.append(_colour(head[1], k))
        try:
            width = float(head[2])
        except ValueError:
            width = -1.0
        if not 0 <= width < 1e6:
            raise InputError(f"shape {k}: “{head[2][:20]}” is no width")
        widths.append(width)
        parts.append(part_of_text(head[3], k))
    return Shapes(tuple(parts), np.array(fills, np.uint8), np.array(strokes, np.uint8), np.array(widths))


def _colour(text: str, k: int) -> list[int]:
    if text == NONE:
        return [0, 0, 0, 0]
    if not COLOUR.match(text):
        raise InputError(f"shape {k}: “{text[:20]}” is no colour; #RRGGBBAA or none")
    return list(bytes.fromhex(text[1:]))


def text_of_shapes(rows: Iterable[tuple[Array, Array, float, Part]]) -> str:
    """Return rows of fill (4,), stroke (4,), width and part as text."""
    return "\n".join(
        f"{_written(fill)} {_written(stroke)} {short(width, 4)} {text_of_parts([part])}" for fill, stroke, width, part in rows
    )


def _written(colour: Array) -> str:
    return "#" + bytes(colour.tolist()).hex().upper() if colour[3] else NONE
