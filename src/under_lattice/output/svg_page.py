"""The page of an SVG: its head with the real size, and the page of a cell as a pattern that fills one as large as the sheet."""

from __future__ import annotations

import numpy as np

from under_lattice.core.units import short
from under_lattice.geometry.affine import Array, inverse
from under_lattice.output.svg_paints import Writer
from under_lattice.scene.tree import Scene
from under_lattice.work.model import Sheet

FINER = 4  # decimals more where the cell lies: it is seen many times


def head_of(w: Writer, width: float, height: float, sheet: Sheet) -> list[str]:
    """Return the first lines: a page of that size, in the unit of the sheet, whose parts are named by what is linked."""
    return plain_head(width, height, sheet, w.digits, ' xmlns:xlink="http://www.w3.org/1999/xlink"')


def plain_head(width: float, height: float, sheet: Sheet, digits: int = 6, more: str = "") -> list[str]:
    """Return the first lines: a page of that size, in the unit of the sheet, with that many decimals."""
    size = f'width="{_real(width, sheet, digits)}" height="{_real(height, sheet, digits)}"'
    box = f'viewBox="0 0 {short(float(width), digits)} {short(float(height), digits)}"'
    return [
        '<?xml version="1.0" encoding="UTF-8"?>',
        f'<svg xmlns="http://www.w3.org/2000/svg"{more} version="1.1" {size} {box}>',
    ]


def _real(value: float, sheet: Sheet, digits: int) -> str:
    if sheet.unit == "px":  # a stated resolution makes px a real length
        return f"{short(value / sheet.resolution, 6)}in" if sheet.resolution != 96 else f"{short(float(value), digits)}px"
    return f"{short(float(value), digits)}{sheet.unit}"


def as_pattern(w: Writer, cell: Scene, body: list[str], sheet: Sheet, tile: Array | None = None) -> tuple[list[str], list[str]]:
    """Return head and body of a page as large as the sheet, filled with the page of a cell, whose middle lies in its own.

    With `tile` (2, 2) it is filled with the parallelogram of these translations, about the middle of the page of the cell.
    """
    name, begin, end = w.name("cell"), body.index("</defs>") + 1, body.index("</svg>")
    page = f'<rect width="{w.number(sheet.width)}" height="{w.number(sheet.height)}" fill="url(#{name})"/>'
    middle, drawn = np.array([sheet.width, sheet.height]) / 2, body[begin:end]
    sides, own = np.array([cell.width, cell.height]), np.array([cell.width, cell.height]) / 2
    aslant = ""
    if tile is None:
        x, y = (w.number(float(v), FINER) for v in middle - own)
    else:
        sides, x, y = np.hypot(*tile.T), "0", "0"
        onto = np.concatenate([(tile / sides[:, None]).T, (middle - tile.sum(0) / 2)[:, None]], 1)
        within = inverse(onto)
        within[:, 2] = sides / 2 - within[:, :2] @ own
        aslant = f' patternTransform="{_matrix(onto)}"'
        drawn = [f'<g transform="{_matrix(within)}">', *drawn, "</g>"]
    wide, high = (w.number(float(v), FINER) for v in sides)
    place = f'patternUnits="userSpaceOnUse" x="{x}" y="{y}" width="{wide}" height="{high}"{aslant}'
    lines = [*body[:begin], f'<pattern id="{name}" {place}>', *drawn, "</pattern>", page, *body[end:]]
    return head_of(w, sheet.width, sheet.height, sheet), lines


def _matrix(place: Array) -> str:
    """A map (2, 3) as SVG has it."""
    return f"matrix({' '.join(short(float(v), 9) for v in place.T.ravel())})"
