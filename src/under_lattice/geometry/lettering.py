"""Lettering as outlines: text set in a shipped or system font, a part for each letter."""

from __future__ import annotations

import os
from functools import cache, lru_cache
from importlib.resources import as_file, files
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np

from under_lattice.core.errors import InputError
from under_lattice.geometry.affine import Array, frozen
from under_lattice.geometry.outline import CLOSE, CURVE, LINE, MOVE
from under_lattice.geometry.text_runs import runs_of, shows_nothing

if TYPE_CHECKING:
    import uharfbuzz

SHIPPED = {"Clear Sans": "ClearSans-Regular.ttf", "Clear Sans Bold": "ClearSans-Bold.ttf"}
ENDINGS = (".ttf", ".otf", ".ttc", ".otc")
EMOJI = 0x1F000  # from here on letters are mostly pictures
FULL_NAME = 4  # number of the full name in a font's table of names (OpenType, name)
LETTERS_MOST = 200
FACES_MOST = 64  # of a collection
FONT_BYTES_MOST = 60_000_000


def _folders() -> list[Path]:
    shared = os.environ.get("XDG_DATA_DIRS") or "/usr/local/share:/usr/share"
    own = os.environ.get("XDG_DATA_HOME") or str(Path.home() / ".local" / "share")
    return [Path(one) / "fonts" for one in (own, *shared.split(":")) if one]


@cache
def system_fonts() -> dict[str, tuple[Path, int]]:
    """Return the fonts of this machine by their full names: file, and place in it where it is a collection.

    A broken file is passed over. Read once, which takes a while.
    """
    found: dict[str, tuple[Path, int]] = {}
    for folder in _folders():
        for path in sorted(folder.rglob("*")) if folder.is_dir() else ():
            if path.suffix.lower() in ENDINGS:
                for place, name in enumerate(_names_in(path)):
                    if name and name not in SHIPPED:
                        found.setdefault(name, (path, place))
    return dict(sorted(found.items()))


def _names_in(path: Path) -> list[str]:
    """The full names of the fonts in a file, in their order."""
    import uharfbuzz  # works without lettering start faster without it

    try:
        blob = uharfbuzz.Blob.from_file_path(str(path))
        faces = [uharfbuzz.Face(blob, place) for place in range(min(uharfbuzz.Face(blob).count, FACES_MOST))]
        return [str(face.get_name(FULL_NAME) or "") for face in faces]
    except (OSError, RuntimeError, MemoryError, uharfbuzz.HarfBuzzError):
        return []


@lru_cache(maxsize=8)
def _font(name: str) -> uharfbuzz.Font:
    """The font of a name.

    Raises
    ------
    InputError
        When this machine does not have it.
    """
    import uharfbuzz

    if name in SHIPPED:
        with as_file(files("under_lattice") / "fonts" / SHIPPED[name]) as path:
            data, place = path.read_bytes(), 0
    else:
        found = system_fonts().get(name)
        if found is None:
            raise InputError(f"the font “{name[:60]}” is not on this machine; choose another, or install it")
        data, place = found[0].read_bytes(), found[1]
    if len(data) > FONT_BYTES_MOST:
        raise InputError(f"the font “{name[:60]}” is larger than {FONT_BYTES_MOST // 1_000_000} MB")
    return uharfbuzz.Font(uharfbuzz.Face(data, place))


class _Pen:
    """Takes a glyph's contours as verbs and points of lines and cubics."""

    def __init__(self) -> None:
        self.verbs = bytearray()
        self.points: list[tuple[float, float]] = []
        self.home = (0.0, 0.0)

    def moveTo(self, at: tuple[float, float]) -> None:
        self.verbs.append(MOVE)
        self.points.append(at)
        self.home = at

    def lineTo(self, at: tuple[float, float]) -> None:
        self.verbs.append(LINE)
        self.points.append(at)

    def curveTo(self, *points: tuple[float, float]) -> None:
        self.verbs.append(CURVE)
        self.points += points

    def qCurveTo(self, *points: tuple[float, float]) -> None:
        """Raise a quadratic curve to a cubic, which is exact."""
        pen, middle, end = (np.array(one, float) for one in (self.points[-1], *points))
        self.curveTo(tuple(pen + (middle - pen) * 2 / 3), tuple(end + (middle - end) * 2 / 3), tuple(end))

    def closePath(self) -> None:
        if self.verbs[-1] == LINE and self.points[-1] == self.home:  # closing draws this line
            self.verbs.pop()
            self.points.pop()
        self.verbs.append(CLOSE)

    def endPath(self) -> None:
        pass


def _refuse_missing(missing: list[str], font: str) -> None:
    if not missing:
        return
    shown = ", ".join(f"“{letter}”" for letter in dict.fromkeys(missing[:6]))
    if all(ord(letter) >= EMOJI for letter in missing):
        raise InputError(f"{shown} has no outline in the font {font}: emoji are pictures; import a drawing of it instead")
    raise InputError(f"the font {font} has no glyph for {shown}; another font may have, or other letters")


@lru_cache(maxsize=64)
def letters(text: str, font: str, spacing: float) -> tuple[tuple[bytes, Array], ...]:
    """Return the outlines of a line of text, a part for each glyph that shows something, one unit being the font's size.

    The base line is level with y = 0, the first letter begins at x = 0; y points down. Kerning, ligatures and joined forms are the
    font's own (HarfBuzz); what is written from the right runs so (`runs_of`). Glyphs stand in the order they are seen.

    Parameters
    ----------
    text, font : str
    spacing : float
        Added after each glyph, in parts of the size.

    Raises
    ------
    InputError
        Without the font, without anything to show, or when the font has no glyph for a letter.
    """
    import uharfbuzz

    if not 0 < len(text) <= LETTERS_MOST:
        raise InputError(f"lettering has from 1 to {LETTERS_MOST} letters")
    face = _font(font)
    _refuse_missing([one for one in text if not shows_nothing(one) and face.get_nominal_glyph(ord(one)) is None], font)
    size, x, out = float(face.face.upem), 0.0, []
    for run in runs_of(text):
        buffer = uharfbuzz.Buffer()
        buffer.add_str(run.text)
        buffer.direction = "rtl" if run.backwards else "ltr"
        buffer.guess_segment_properties()
        uharfbuzz.shape(face, buffer)
        for glyph, place in zip(buffer.glyph_infos, buffer.glyph_positions, strict=True):
            pen = _Pen()
            face.draw_glyph_with_pen(glyph.codepoint, pen)
            if pen.points:
                points = np.array(pen.points, float) + np.array((x + place.x_offset, place.y_offset))
                out.append((bytes(pen.verbs), frozen(points * (1 / size, -1 / size))))
            elif ord(run.text[glyph.cluster]) >= EMOJI and (face.face.has_color_png or face.face.has_color_svg):
                _refuse_missing([run.text[glyph.cluster]], font)
            x += place.x_advance + spacing * size
    if not out:
        raise InputError("there is nothing to show in this text")
    return tuple(out)
