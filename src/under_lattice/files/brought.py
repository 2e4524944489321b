"""What is brought into a work from outside as a new layer: an outline from a drawing, or a picture."""

from __future__ import annotations

from pathlib import Path, PurePath

from under_lattice.core.errors import FileError
from under_lattice.core.progress import QUIET, Progress
from under_lattice.core.units import PX_PER_INCH, convert
from under_lattice.declare.frozen import edited
from under_lattice.declare.shape_list import SHAPES_MOST, Row, text_of_shapes
from under_lattice.files.bounded import read_bytes
from under_lattice.files.recipe import NoLiveWork, Opened, open_any
from under_lattice.geometry.affine import linear
from under_lattice.rules.base import Rule
from under_lattice.rules.families import MotifRule
from under_lattice.rules.made import ink_by_part, motif_of_outline, motif_of_picture, motif_of_shapes
from under_lattice.work.edits import with_picture
from under_lattice.work.grouping import add_layer
from under_lattice.work.layers import Chain
from under_lattice.work.model import Design, Sheet, Work, new_id
from under_lattice.work.pictures import bring_in, pixels_of

PICTURE_ENDINGS = (".png", ".jpg", ".jpeg", ".webp", ".tif", ".tiff")
FILLS = 0.6  # of the sheet: what is larger, or has no size, is made so wide
COLOURS_MOST = 12  # of a palette
INKS = ("#26374F", "#C2694C", "#E4B45C", "#6E9C94")


def with_brought(design: Design, data: bytes, name: str, progress: Progress = QUIET) -> tuple[Design, tuple[str, ...]]:
    """Return the design with the outlines of an SVG, or a picture, as a layer in front; and what was left out, with the reasons.

    Raises
    ------
    FileError
        Nothing is taken over then.
    GivenUp
    """
    sheet = design.sheet
    if PurePath(name).suffix.lower() in PICTURE_ENDINGS:
        picture = bring_in(data, name)
        high, wide = pixels_of(picture).shape[:2]
        width = _width(sheet, wide, high / wide)
        motif = motif_of_picture(picture.id, width)
        return _with_layer(with_picture(design, picture), motif, name), ()
    from under_lattice.files.svg.shapes import WIDE, read_svg  # loads the reader of path data

    found = read_svg(data, name, progress)
    low, top, right, bottom = motif_of_outline(found.text).shape().body().box()
    width = _width(sheet, found.width_px, (bottom - top) / max(right - low, 1e-9))
    palette = _plain(found.rows)
    if palette or not 0 < len(found.rows) <= SHAPES_MOST:
        return _with_layer(design, motif_of_outline(found.text, width), name, ink_by_part(palette or INKS)), found.left_out
    onto = linear(0.0, width / WIDE, width / WIDE)
    shapes = text_of_shapes(row.through(onto) for row in found.rows)
    return _with_layer(design, motif_of_shapes(shapes), name), found.left_out


def as_drawn(data: bytes, name: str, progress: Progress = QUIET) -> tuple[Work, tuple[str, ...]]:
    """Return a work that shows an SVG file as it is drawn, on a sheet as large, in mm; and what was left out, with the reasons.

    Raises
    ------
    FileError, GivenUp
    """
    from under_lattice.files.svg.shapes import read_svg

    found = read_svg(data, name, progress)
    mm = 25.4 / PX_PER_INCH
    if not min(found.page_px) > 0:
        raise FileError(f"{name} does not say how large its page is; it needs a width and a height, or a viewBox")
    if not 0 < len(found.rows) <= SHAPES_MOST:
        raise FileError(f"{name} has {len(found.rows):,} shapes; from 1 to {SHAPES_MOST:,} can be drawn")
    sheet = Sheet(width=found.page_px[0] * mm, height=found.page_px[1] * mm, background="")
    motif = motif_of_shapes(text_of_shapes(row.through(found.onto * mm) for row in found.rows))
    return Work(design=_with_layer(Design(name=PurePath(name).stem[:80], sheet=sheet), motif, name)), found.left_out


def open_or_draw(path: Path, progress: Progress = QUIET) -> Opened:
    """Read a work, or the live work inside a drawing; an SVG without one is opened as the outlines it shows, which is said.

    Raises
    ------
    FileError, GivenUp
    """
    try:
        return open_any(path)
    except NoLiveWork:
        work, left_out = as_drawn(read_bytes(path), path.name, progress)
        more = f"; left out: {', '.join(left_out)}" if left_out else ""
        return Opened(work, note=f"{path.name} holds no live work any more: it is opened as the outlines it shows{more}")


def _plain(rows: tuple[Row, ...]) -> tuple[str, ...]:
    """The colours of shapes, one after the other, where an ink by part can give them: plain, opaque, without lines and few."""
    plain = all(row.fill[3] == 255 and not row.stroke[3] and row.ramp is None for row in rows)
    colours = tuple("#" + bytes(row.fill[:3].tolist()).hex().upper() for row in rows)
    if not plain or (len(colours) > COLOURS_MOST and len(set(colours)) > 1):
        return ()
    return colours if len(set(colours)) > 1 else colours[:1]


def kind_of(data: bytes) -> str:
    """Return the ending of pasted bytes by what they begin with.

    Raises
    ------
    FileError
    """
    head = data[:400].lstrip()
    if head.startswith(b"\x89PNG"):
        return ".png"
    if head.startswith(b"\xff\xd8"):
        return ".jpg"
    if head[:4] == b"RIFF" and head[8:12] == b"WEBP":
        return ".webp"
    if head.startswith((b"<svg", b"<?xml", b"<!--", b"\xef\xbb\xbf<")):
        return ".svg"
    raise FileError("what was copied is neither an SVG drawing nor a picture")


def _width(sheet: Sheet, px: float, ratio: float) -> float:
    """The width in the work's unit of what is so many px wide, if that fits on the sheet."""
    room = FILLS * min(sheet.width, sheet.height / max(ratio, 1e-9))
    width = convert(px / PX_PER_INCH, "in", sheet.unit, sheet.resolution) if px > 0 else room
    return round(min(width, room), 3) or room


def _with_layer(design: Design, motif: MotifRule, name: str, *inks: Rule) -> Design:
    first = motif.model_copy(update={"id": new_id(), "handle": motif.kind})
    rules = (first, *(edited(ink, id=new_id()) for ink in inks))
    return add_layer(design, Chain(id=new_id(), handle="brought", name=PurePath(name).stem[:40] or "Brought in", rules=rules))
