"""Outlines as text: absolute SVG path data of moves, lines, cubics and closings, one line for each part."""

from __future__ import annotations

import re
from functools import lru_cache

import numpy as np

from under_lattice.core.errors import InputError
from under_lattice.core.units import short
from under_lattice.geometry.affine import Array, frozen
from under_lattice.geometry.outline import CLOSE, CURVE, LINE, MOVE, POINTS_OF

LETTERS = {"M": (MOVE, 2), "L": (LINE, 2), "C": (CURVE, 6), "Z": (CLOSE, 0)}
NAMES = {verb: letter for letter, (verb, _) in LETTERS.items()}
TIES = 1e-3  # of the last decimal
POINTS_MOST = 100_000
PARTS_MOST = 200
NUMBER = r"[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d{1,3})?"
PIECE = re.compile(rf"([MLCZ])((?:[\s,]*{NUMBER})*)[\s,]*")
Part = tuple[bytes, Array]  # verbs and points (K, 2)


@lru_cache(maxsize=64)
def parts_of_text(text: str) -> tuple[Part, ...]:
    """Return the parts of an outline.

    Raises
    ------
    InputError
        Says in which part what cannot be read.
    """
    lines = [line.strip() for line in text.splitlines() if line.strip()]
    if not 1 <= len(lines) <= PARTS_MOST:
        raise InputError(f"an outline has from 1 to {PARTS_MOST} parts, one on each line; there are {len(lines)}")
    parts = tuple(part_of_text(line, k + 1) for k, line in enumerate(lines))
    count = sum(len(points) for _, points in parts)
    if count > POINTS_MOST:
        raise InputError(f"an outline has at most {POINTS_MOST:,} points; there are {count:,}")
    if not np.ptp(np.concatenate([points for _, points in parts]), 0).any():
        raise InputError("all points of this outline lie on one spot")
    return parts


def part_of_text(line: str, number: int) -> Part:
    """Return one part; `number` names it where it cannot be read.

    Raises
    ------
    InputError
    """
    verbs, numbers, at = bytearray(), [], 0
    while at < len(line):
        found = PIECE.match(line, at)
        if found is None:
            raise InputError(f"part {number} cannot be read at “{line[at : at + 12]}”; M, L, C or Z is expected")
        verb, takes = LETTERS[found[1]]
        values = [float(value) for value in re.findall(NUMBER, found[2])]
        if (takes and (not values or len(values) % takes)) or (not takes and values):
            raise InputError(f"part {number}: {found[1]} takes {takes or 'no'} numbers at a time; there are {len(values)}")
        verbs += bytes([verb]) * (len(values) // takes if takes else 1)
        if verb == MOVE and len(values) > 2:
            raise InputError(f"part {number}: M takes one point")
        numbers += values
        at = found.end()
    points = np.array(numbers).reshape(-1, 2)
    if not verbs or verbs[0] != MOVE or len(verbs) < 2:
        raise InputError(f"part {number} must begin with M and go on from there")
    if not np.isfinite(points).all() or np.abs(points).max() > 1e7:
        raise InputError(f"part {number} has a number that is too large")
    return bytes(verbs), frozen(points)


def text_of_parts(parts: list[Part], digits: int = 5) -> str:
    """Return parts as text."""
    lines = []
    for verbs, points in parts:
        out, at = [], 0
        for verb in verbs:
            count = POINTS_OF[verb]
            out.append(NAMES[verb] + " ".join(short(float(v), digits) for v in points[at : at + count].ravel()))
            at += count
        lines.append(" ".join(out))
    return "\n".join(lines)


def path_data(verbs: bytes, points: Array, digits: int = 4) -> str:
    """Return SVG path data with short numbers; letters are repeated only where they change, in the unit of the work.

    Places that are one but for their last figures are one in the file too: numbers halfway between two are rounded one way.
    """
    points = points + TIES * 10.0**-digits
    out, at, before, pen, drawn = [], 0, -1, "", False
    for verb in verbs:
        own = [f"{short(x, digits)} {short(y, digits)}" for x, y in points[at : at + POINTS_OF[verb]].tolist()]
        at += POINTS_OF[verb]
        if drawn and verb in (LINE, CURVE) and all(place == pen for place in own):
            continue  # of no length: ends of lines would be cut in no direction
        out.append((NAMES[verb] if verb != before or verb == MOVE else " ") + " ".join(own))
        before, pen, drawn = verb, own[-1] if own else pen, verb in (LINE, CURVE)
    return "".join(out)
