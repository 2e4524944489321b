"""Contact sheets: a test strip, or siblings, as one picture with its numbers, in PNG, SVG or PDF (the picture in a page)."""

from __future__ import annotations

import io
import re
from dataclasses import dataclass, field, replace
from html import escape
from importlib.resources import files
from typing import Any

import numpy as np
from PIL import Image, ImageDraw, ImageFont

from under_lattice.colour.premultiplied import straight
from under_lattice.core.errors import InputError
from under_lattice.core.progress import QUIET, Progress
from under_lattice.core.units import short
from under_lattice.explore.looks import Looks
from under_lattice.explore.strips import Strip
from under_lattice.geometry.affine import Array
from under_lattice.output.svg import Svg, write_svg
from under_lattice.scene.tree import whole_page
from under_lattice.work.model import Design

ENDINGS = ("png", "svg", "pdf")
PICTURES_MOST, PIXELS_MOST = 240, 100_000_000
GAP, EDGE, TITLE, LABEL, BEAD = 8, 28, 40, 34, 5.5
SIDE_LEAST, SIDE_MOST = 56, 200  # px of the column of words at the left
INK, THREAD, PAPER = "#1C1C1C", "#166B5D", "#FFFFFF"
FINE = 3  # times as fine threads and beads are drawn before they are made small
DPI = 200.0


@dataclass(frozen=True)
class ContactSheet:
    """What stands on a contact sheet.

    Attributes
    ----------
    title : str
    across, down : tuple of str
        Words over the columns and beside the rows; none where there is no such axis.
    names : (str, str)
        Of the axes.
    cells : tuple of tuple of Design
        Row by row.
    now : (column, row) or None
        Which is the work as it is.
    width : int
        Of each picture, px.
    moments : tuple of tuple of float
        Of the loop, 0..1, at which each is shown; the beginning where none are given.
    """

    title: str
    across: tuple[str, ...]
    down: tuple[str, ...]
    names: tuple[str, str]
    cells: tuple[tuple[Design, ...], ...]
    now: tuple[int, int] | None = None
    width: int = 240
    moments: tuple[tuple[float, ...], ...] = ()
    looks: Looks = field(default_factory=Looks)

    @property
    def cell(self) -> tuple[int, int]:
        """Width and height of a picture, px."""
        sheet = self.cells[0][0].sheet
        return self.width, max(1, round(self.width * sheet.height / sheet.width))

    @property
    def side(self) -> int:
        """Width of the column of words at the left, px."""
        if not self.down:
            return 0
        longest = max(_wide(words) for words in self.down)
        return min(max(SIDE_LEAST, round(longest) + 36), SIDE_MOST)

    @property
    def top(self) -> int:
        """Where pictures begin, px from above."""
        return EDGE + TITLE + (LABEL + 14 if self.across else 0)

    @property
    def size(self) -> tuple[int, int]:
        """Of the whole, px."""
        wide, high = self.cell
        columns, rows = max(len(row) for row in self.cells), len(self.cells)
        return (2 * EDGE + self.side + columns * (wide + GAP) - GAP, self.top + EDGE + rows * (high + GAP) - GAP)

    def corner(self, column: int, row: int) -> tuple[int, int]:
        """Return the upper left corner of a picture, px."""
        wide, high = self.cell
        return EDGE + self.side + column * (wide + GAP), self.top + row * (high + GAP)

    def write(self, ending: str, progress: Progress = QUIET) -> bytes:
        """Return the file.

        Raises
        ------
        InputError
            When there is no such format, or the sheet would be too large.
        LatticeError, GivenUp
        """
        count, (wide, high) = sum(map(len, self.cells)), self.size
        if ending not in ENDINGS:
            raise InputError(f"“{ending}” is no format of contact sheets; {', '.join(ENDINGS)} are")
        if count > PICTURES_MOST or wide * high > PIXELS_MOST:
            raise InputError(f"{count} pictures of {self.width} px are too many for one sheet; take fewer or smaller ones")
        if ending == "svg":
            return self._svg(progress)
        picture = Image.fromarray(self._pixels(progress))
        out = io.BytesIO()
        if ending == "pdf":
            picture.save(out, "PDF", resolution=DPI, title=self.title)
        else:
            picture.save(out, "PNG", dpi=(DPI, DPI))
        return out.getvalue()

    # -- pixels ----------------------------------------------------------------------------------
    def _pixels(self, progress: Progress) -> Array:
        """The sheet in opaque colours (H, W, 3), bytes."""
        from under_lattice.render.paint import paint  # loads the compiled kernels

        out = np.array(self._ground())
        done, count = 0, sum(map(len, self.cells))
        for row, designs in enumerate(self.cells):
            for column, design in enumerate(designs):
                progress.step(done / count)
                time = self.moments[row][column] if self.moments else 0.0
                scene, _ = self.looks.scene(design, replace(progress, tell=lambda *_: None), time)
                pixels = straight(paint(scene, whole_page(scene, *self.cell), progress)).astype(np.float32)
                alpha = pixels[..., 3:] / 255
                left, top = self.corner(column, row)
                high, wide = pixels.shape[:2]
                under = out[top : top + high, left : left + wide]
                out[top : top + high, left : left + wide] = np.rint(pixels[..., :3] * alpha + under * (1 - alpha)).astype(np.uint8)
                done += 1
        return out

    def _ground(self) -> Image.Image:
        """Words, threads and beads, without the pictures."""
        wide, high = self.size
        fine = Image.new("RGB", (wide * FINE, high * FINE), PAPER)
        drawing = ImageDraw.Draw(fine)
        for x0, y0, x1, y1 in self._threads():
            drawing.line((x0 * FINE, y0 * FINE, x1 * FINE, y1 * FINE), THREAD, 2 * FINE)
        for x, y, full in self._beads():
            box = [(x - BEAD) * FINE, (y - BEAD) * FINE, (x + BEAD) * FINE, (y + BEAD) * FINE]
            drawing.ellipse(box, THREAD if full else PAPER, THREAD, 2 * FINE)
        if self.now is not None:
            (x, y), (w, h) = self.corner(*self.now), self.cell
            drawing.rectangle([(x - 3) * FINE, (y - 3) * FINE, (x + w + 2) * FINE, (y + h + 2) * FINE], None, THREAD, 3 * FINE)
        whole = fine.resize((wide, high), Image.Resampling.LANCZOS)
        written = ImageDraw.Draw(whole)
        for x, y, words, bold, anchor in self._words():
            written.text((x, y), words, INK, _font(bold), anchor=anchor)
        return whole

    # -- where things stand ----------------------------------------------------------------------
    def _threads(self) -> list[tuple[float, float, float, float]]:
        beads = self._beads()
        out = []
        for axis, count in ((beads[: len(self.across)], len(self.across)), (beads[len(self.across) :], len(self.down))):
            if count > 1:
                out.append((axis[0][0], axis[0][1], axis[-1][0], axis[-1][1]))
        return out

    def _beads(self) -> list[tuple[float, float, bool]]:
        """Place of each bead, those across first, and whether it is full: now."""
        wide, high = self.cell
        column, row = self.now if self.now is not None else (-1, -1)
        across = [(self.corner(k, 0)[0] + wide / 2, self.top - 14.0, k == column) for k in range(len(self.across))]
        down = [(EDGE + self.side - 14.0, self.corner(0, k)[1] + high / 2, k == row) for k in range(len(self.down))]
        return across + down

    def _words(self) -> list[tuple[float, float, str, bool, str]]:
        """Place, text, weight and anchor of all that is written."""
        out: list[tuple[float, float, str, bool, str]] = [(EDGE, EDGE, self.title, True, "la")]
        named = " · ".join(name for name in self.names if name)
        out.append((EDGE, EDGE + 20, named, False, "la"))
        beads = self._beads()
        for words, (x, y, now) in zip(self.across, beads, strict=False):
            out.append((x, y - 14, _short(words, self.width), now, "ms"))
        for words, (x, y, now) in zip(self.down, beads[len(self.across) :], strict=False):
            out.append((x - 12, y, _short(words, self.side - 26), now, "rm"))
        return out

    # -- SVG -------------------------------------------------------------------------------------
    def _svg(self, progress: Progress) -> bytes:
        wide, high = self.size
        parts = [
            '<?xml version="1.0" encoding="UTF-8"?>',
            '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" version="1.1" '
            f'width="{wide}px" height="{high}px" viewBox="0 0 {wide} {high}">',
            f'<rect width="{wide}" height="{high}" fill="{PAPER}"/>',
        ]
        parts += [
            f'<line x1="{short(a)}" y1="{short(b)}" x2="{short(c)}" y2="{short(d)}" stroke="{THREAD}" stroke-width="2"/>'
            for a, b, c, d in self._threads()
        ]
        parts += [
            f'<circle cx="{short(x)}" cy="{short(y)}" r="{BEAD}" fill="{THREAD if full else PAPER}" stroke="{THREAD}" '
            'stroke-width="2"/>'
            for x, y, full in self._beads()
        ]
        for x, y, words, bold, anchor in self._words():
            across = {"l": "start", "m": "middle", "r": "end"}[anchor[0]]
            drop = {"a": 12, "s": 0, "m": 4}[anchor[1]]
            weight = ' font-weight="bold"' if bold else ""
            parts.append(
                f'<text x="{short(x)}" y="{short(y + drop)}" font-family="Clear Sans, sans-serif" font-size="13"{weight} '
                f'text-anchor="{across}" fill="{INK}">{escape(words, False)}</text>'
            )
        done, count = 0, sum(map(len, self.cells))
        for row, designs in enumerate(self.cells):
            for column, design in enumerate(designs):
                progress.step(done / count)
                done += 1
                parts.append(self._cell(design, column, row, f"p{done}-", replace(progress, tell=lambda *_: None)))
        if self.now is not None:
            (x, y), (w, h) = self.corner(*self.now), self.cell
            box = f'x="{x - 2}" y="{y - 2}" width="{w + 4}" height="{h + 4}"'
            parts.append(f'<rect {box} fill="none" stroke="{THREAD}" stroke-width="3"/>')
        return "\n".join([*parts, "</svg>", ""]).encode()

    def _cell(self, design: Design, column: int, row: int, prefix: str, progress: Progress) -> str:
        """A design as a drawing inside the drawing; its names are its own."""
        scene, _ = self.looks.scene(design, progress)
        text = write_svg(scene, design.sheet, Svg(recipe=False, digits=3), None, progress).decode()
        body = text[text.index(">", text.index("<svg")) + 1 : text.rindex("</svg>")]
        body = re.sub(r'(\bid="|url\(#|href="#)', lambda found: found[0] + prefix, body)
        (x, y), (wide, high) = self.corner(column, row), self.cell
        box = f'x="{x}" y="{y}" width="{wide}" height="{high}"'
        page = f'viewBox="0 0 {short(scene.width, 6)} {short(scene.height, 6)}" preserveAspectRatio="none"'
        return f"<svg {box} {page}>{body}</svg>"


def sheet_of(strip: Strip, width: int) -> ContactSheet:
    """Return the contact sheet of a strip, its pictures `width` px wide.

    Raises
    ------
    LatticeError
    """
    return ContactSheet(
        title=strip.design.name,
        across=tuple(step.words for step in strip.across.steps),
        down=tuple(step.words for step in strip.down.steps) if strip.down is not None else (),
        names=(f"across: {strip.across.label}", f"down: {strip.down.label}" if strip.down is not None else ""),
        cells=tuple(tuple(strip.cell(column, row) for column in range(strip.columns)) for row in range(strip.rows)),
        now=strip.now,
        width=width,
    )


def _font(bold: bool = False) -> Any:
    name = "ClearSans-Bold.ttf" if bold else "ClearSans-Regular.ttf"
    return ImageFont.truetype(io.BytesIO((files("under_lattice") / "fonts" / name).read_bytes()), 13)


def _wide(words: str) -> float:
    """How wide words are written, px."""
    return float(_font(True).getlength(words))


def _short(words: str, wide: float) -> str:
    """Words that fit a width, px; cut with an ellipsis where they do not."""
    if _wide(words) <= wide:
        return words
    while words and _wide(words + "…") > wide:
        words = words[:-1]
    return words.rstrip() + "…"
