"""Shapes as text: one on each line, its fill, its stroke, the width of that (with r: round ends), and its outline as path data."""

from __future__ import annotations

import re
from collections.abc import Iterable
from functools import lru_cache
from typing import NamedTuple, cast

import numpy as np

from under_lattice.colour.colour import checked
from under_lattice.colour.ramp import Ramp, RampForm, Stop
from under_lattice.core.errors import InputError
from under_lattice.core.units import short
from under_lattice.geometry.affine import Array, apply, compose
from under_lattice.geometry.path_text import Part, part_of_text, text_of_parts

FARTHEST = 1e9  # that a ramp may lie from the middle, or be wide
SHAPES_MOST = 20_000
COLOUR = re.compile(r"#[0-9A-F]{8}\Z")
RAMPED = re.compile(
    r"(?P<form>linear|radial|around)(?:@(?P<focus>0?\.[0-9]+))?:(?P<mixing>sRGB|Oklab):(?P<alpha>[0-9A-F]{2}):(?P<stops>[^\s:]+):(?P<map>[^\s:]+)\Z"
)
NONE = "none"


class Laid(NamedTuple):
    """A ramp, and the map (2, 3) from its own place to where the shapes lie."""

    ramp: Ramp
    seat: Array


class Shapes(NamedTuple):
    """What a list says: outlines, fill and stroke (n, 4) bytes, width (n,), the ramps of those that have one as their fill, and
    which strokes have round ends and corners (n,) bool.
    """

    parts: tuple[Part, ...]
    fill: Array
    stroke: Array
    width: Array
    ramps: tuple[Laid | None, ...]
    rounded: Array


class Row(NamedTuple):
    """One shape of a list."""

    fill: Array
    stroke: Array
    width: float
    part: Part
    ramp: Laid | None = None
    rounded: bool = False

    def through(self, onto: Array) -> Row:
        """Return the shape mapped by `onto` (2, 3), which keeps angles; the width of its line goes with the size."""
        ramp = self.ramp and self.ramp._replace(seat=compose(onto, self.ramp.seat))
        size = float(np.sqrt(abs(np.linalg.det(onto[:, :2]))))
        return self._replace(width=self.width * size, part=(self.part[0], apply(onto, self.part[1])), ramp=ramp)


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
    parts, fills, strokes, widths, ramps, rounded = [], [], [], [], [], []
    for k, line in enumerate(lines, 1):
        head = line.split(maxsplit=3)
        if len(head) < 4:
            raise InputError(f"shape {k} needs fill, stroke, width and an outline")
        ramped = RAMPED.match(head[0])
        ramps.append(_laid(ramped, k) if ramped else None)
        fills.append([255, 255, 255, int(ramped["alpha"], 16)] if ramped else _colour(head[0], k))
        strokes.append(_colour(head[1], k))
        try:
            width = float(head[2].removesuffix("r"))
        except ValueError:
            width = -1.0
        if not 0 <= width < 1e6:
            raise InputError(f"shape {k}: “{head[2][:20]}” is no width")
        widths.append(width)
        rounded.append(head[2].endswith("r"))
        parts.append(part_of_text(head[3], k))
    colours = np.array(fills, np.uint8), np.array(strokes, np.uint8)
    return Shapes(tuple(parts), *colours, np.array(widths), tuple(ramps), np.array(rounded))


def _laid(found: re.Match[str], k: int) -> Laid:
    """The ramp of a fill; ramps with the same words are one."""
    try:
        numbers = np.array([float(one) for one in found["map"].split(",")]).reshape(2, 3)
        ramp = _ramp(found["form"], found["mixing"], found["stops"], float(found["focus"] or 0.0))
    except (ValueError, IndexError):
        raise InputError(f"shape {k}: “{found[0][:40]}” is no ramp") from None
    if not (np.abs(numbers) < FARTHEST).all() or abs(np.linalg.det(numbers[:, :2])) < 1e-12:
        raise InputError(f"shape {k}: its ramp lies nowhere")
    return Laid(ramp, numbers)


@lru_cache(maxsize=256)
def _ramp(form: str, mixing: str, stops: str, focus: float) -> Ramp:
    rows = [one.split(",") for one in stops.split(";")]
    made = tuple(Stop(float(place), checked(colour), float(alpha), float(middle)) for place, colour, alpha, middle in rows)
    return Ramp(made, cast("RampForm", form), oklab=mixing == "Oklab", focus=focus)


def _colour(text: str, k: int) -> list[int]:
    if text == NONE:
        return [0, 0, 0, 0]
    if not COLOUR.match(text):
        raise InputError(f"shape {k}: “{text[:20]}” is no colour; #RRGGBBAA or none")
    return list(bytes.fromhex(text[1:]))


def text_of_shapes(rows: Iterable[Row]) -> str:
    """Return rows as text."""
    lines = []
    for fill, stroke, width, part, laid, rounded in rows:
        filled = _written(fill) if laid is None else _ramp_written(laid, fill)
        lines.append(f"{filled} {_written(stroke)} {short(width, 4)}{'r' if rounded else ''} {text_of_parts([part])}")
    return "\n".join(lines)


def _ramp_written(laid: Laid, fill: Array) -> str:
    ramp = laid.ramp
    stops = ";".join(f"{short(s.place, 4)},{s.colour},{short(s.alpha, 4)},{short(s.middle, 4)}" for s in ramp.stops)
    numbers = ",".join(short(float(one), 7) for one in laid.seat.ravel())
    form = f"{ramp.form}@{short(ramp.focus, 4)}" if ramp.focus else ramp.form
    return f"{form}:{'Oklab' if ramp.oklab else 'sRGB'}:{int(fill[3]):02X}:{stops}:{numbers}"


def _written(colour: Array) -> str:
    return "#" + bytes(colour.tolist()).hex().upper() if colour[3] else NONE
