"""Plates: for each ink a drawing or a picture in black, with marks by which they are laid on each other, in one zip file."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Sequence
from html import escape
from typing import Annotated, ClassVar, Literal, get_args

import numpy as np
from PIL import Image

from under_lattice.core.errors import InputError
from under_lattice.core.units import convert, short
from under_lattice.declare.dials import Choice, Length, When
from under_lattice.declare.option_dials import Density, Switch
from under_lattice.geometry.affine import Array
from under_lattice.geometry.curves import arc_pieces, arc_points, curve_verbs
from under_lattice.geometry.outline import LINE, MOVE, POINTS_OF
from under_lattice.output.format import WITHOUT_GROUND, Format, Job, Need, Purpose
from under_lattice.output.separations.inks import Path, Plate, plates
from under_lattice.output.svg_page import plain_head
from under_lattice.pattern.marks import Coat, Marks, Picture
from under_lattice.pattern.stage import Family
from under_lattice.render.paint import paint
from under_lattice.scene.tree import Scene, SceneLayer, whole_page
from under_lattice.work.model import Design, Sheet

As = Literal["SVG", "PNG"]
Prints = Literal["knock out", "overprint"]
LETTERS = b"MLCZ"  # of path data, by verb
TARGET, ROOM, HAIR = 2.0, 8.0, 0.1  # mm: the radius of a mark, the room for it beside the page, and the width of its lines
STRAY = 0.005  # mm, by which curves may be beside the edges they stand for
IN_PIXELS = (When(field="drawn", values=("PNG",), reason="only for pictures"),)
BLACK, CLEAR = np.array([[0, 0, 0, 255]], np.uint8), np.zeros((1, 4), np.uint8)


class Plates(Format):
    """A plate for each ink, pale ones first, as they are printed."""

    ending: ClassVar[str] = "zip"
    name: ClassVar[str] = "plates"
    title: ClassVar[str] = "Plates"
    words: ClassVar[str] = "each ink in black, as drawings or pictures in a zip file"
    needs: ClassVar[frozenset[Need]] = frozenset({"outlines"})
    purposes: ClassVar[tuple[Purpose, ...]] = ("print",)

    drawn: Annotated[As, Choice("Each as", "Outlines, or pixels.", options=get_args(As))] = "SVG"
    density: Annotated[float, Density("Density", "Of the pictures.", least=10.0, when=IN_PIXELS)] = 600.0
    prints: Annotated[
        Prints, Choice("Inks", "Each leaves out what others cover in front of it, or lies over them.", options=get_args(Prints))
    ] = "knock out"
    trap: Annotated[float, Length("Trap", "How far an ink goes on under those it meets.", least=0.0, most=10.0)] = 0.0
    targets: Annotated[bool, Switch("Registration marks", "Crosses by which the plates are laid on each other.")] = True
    transparent: Annotated[bool, WITHOUT_GROUND] = False

    def notes(self, design: Design) -> tuple[str, ...]:
        """Return that there is no recipe in it."""
        return ("Plates carry no live work.",)

    def write(self, job: Job) -> bytes:
        """Return the zip file.

        Raises
        ------
        GivenUp, InputError
        """
        mm = convert(1.0, "mm", job.sheet.unit, job.sheet.resolution)
        over = self.prints == "overprint"
        found = plates(job.scene, 0.0, not self.transparent, over, self.trap, STRAY * mm, job.progress)
        if not found:
            raise InputError("there is nothing to print: no shape has a plain colour")
        room = ROOM * mm if self.targets else 0.0
        size = job.scene.width + 2 * room, job.scene.height + 2 * room
        marks = targets(size, room, mm) if self.targets else []
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
            for k, plate in enumerate(job.progress.each(found), 1):
                data = _svg(plate, size, marks, job.sheet, mm) if self.drawn == "SVG" else self._png(plate, size, marks, job, mm)
                packed.writestr(zipfile.ZipInfo(f"{k:02}-{plate.colour[1:]}.{self.drawn.lower()}"), data, zipfile.ZIP_DEFLATED)
        return out.getvalue()

    def _png(self, plate: Plate, size: tuple[float, float], marks: Sequence[Path], job: Job, mm: float) -> bytes:
        """A plate in pixels, grey."""
        wide = round(size[0] / (25.4 * mm) * self.density)
        layers = [SceneLayer("ink", _picture(plate.paths, BLACK, CLEAR, -1.0))]
        if marks:
            layers.insert(0, SceneLayer("marks", _picture(marks, CLEAR, BLACK, HAIR * mm)))
        scene = Scene(*size, "#FFFFFF", tuple(layers))
        pixels = paint(scene, whole_page(scene, wide), job.progress)
        out = io.BytesIO()
        Image.fromarray(np.ascontiguousarray(pixels[..., 0])).save(out, "PNG", dpi=(self.density, self.density))
        return out.getvalue()


def _svg(plate: Plate, size: tuple[float, float], marks: Sequence[Path], sheet: Sheet, mm: float) -> str:
    """A plate as a drawing."""
    half = np.array(size) / 2
    name = escape(f"ink {plate.colour}")
    inked = " ".join(_data(path, half) for path in plate.paths)
    out = [*plain_head(*size, sheet), f"<title>{name}</title>", f'<path id="ink" fill="#000000" d="{inked}"/>']
    if marks:
        lines = " ".join(_data(path, half) for path in marks)
        out.append(f'<path id="marks" fill="none" stroke="#000000" stroke-width="{short(HAIR * mm, 6)}" d="{lines}"/>')
        at = f'x="{short(mm, 4)}" y="{short(size[1] - mm, 4)}" font-size="{short(3 * mm, 4)}" font-family="sans-serif"'
        out.append(f"<text {at}>{name}</text>")
    return "\n".join([*out, "</svg>", ""])


def _data(path: Path, half: Array) -> str:
    """A path as path data."""
    verbs, points = path
    places, out, at = points + half, [], 0
    for verb in verbs:
        count = POINTS_OF[verb]
        out.append(chr(LETTERS[verb]) + " ".join(short(v, 6) for v in places[at : at + count].ravel().tolist()))
        at += count
    return "".join(out)


def _picture(paths: Sequence[Path], fill: Array, stroke: Array, width: float) -> Picture:
    """Paths of one colour as one mark, so that those that run the other way are holes."""
    one, verbs = np.zeros(1, np.int32), b"".join(verbs for verbs, _ in paths)
    family = Family(verbs, np.concatenate([points for _, points in paths])[None], one)
    marks = Marks((family,), one, np.zeros(1, np.int64), np.eye(2, 3)[None], one)
    return Picture(marks, (Coat(fill, stroke, np.array([width])),))


def targets(size: tuple[float, float], room: float, mm: float) -> list[Path]:
    """Return crosses in circles in the middle of each side, in the room beside a page; all in its unit, from its middle."""
    x, y = size[0] / 2 - room / 2, size[1] / 2 - room / 2
    pieces = arc_pieces(360.0)
    ring = arc_points(np.array([TARGET * mm]), np.zeros(1), np.full(1, 360.0), pieces)[0]
    out: list[Path] = []
    for at in ((0.0, -y), (0.0, y), (-x, 0.0), (x, 0.0)):
        out.append((curve_verbs(pieces, True), ring + at))
        for way in ((1.0, 0.0), (0.0, 1.0)):
            arm = 1.6 * TARGET * mm * np.array(way)
            out.append((bytes([MOVE, LINE]), np.stack([at - arm, at + arm])))
    return out
