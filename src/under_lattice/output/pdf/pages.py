"""Pages of a PDF with their boxes, crop marks, layers and inks, and the live work beside them."""

from __future__ import annotations

import io
from dataclasses import replace
from typing import Any

import numpy as np
import pikepdf
from pikepdf import Array as PdfArray
from pikepdf import Dictionary, Name, String

from under_lattice.colour.colour import bytes_of
from under_lattice.core.units import convert, short
from under_lattice.files.recipe import PDF_NAME, digest
from under_lattice.files.storage import to_text
from under_lattice.geometry.affine import Array, inverse
from under_lattice.output.colours import flat_colours
from under_lattice.output.format import Job
from under_lattice.output.outlines import hairline
from under_lattice.output.page import job_of
from under_lattice.output.pdf.drawing import draw_layer
from under_lattice.output.pdf.inks import registration
from under_lattice.output.pdf.streams import Book, Stream, everywhere
from under_lattice.output.separations.inks import plates
from under_lattice.render.finish.closing import has_finishes
from under_lattice.render.paint import without_finishes
from under_lattice.scene.tree import Scene, whole_page
from under_lattice.work.model import Sheet, Work

BESIDE = 4.0  # mm more beside the bleed, for registration marks
STRAY = 0.005  # mm, by which curves may be beside the edges they stand for
LAP = 1.0  # point, by which tiles of a pattern lie over each other
MARK, AWAY = 5.0, 3.0  # mm: how long crop marks are, and how far from what is cut off they begin


def written(options: Any, job: Job, picture_px: int) -> bytes:
    """Return the PDF; what cannot be said stands in it as pictures, the longer side of the page so many px long.

    Raises
    ------
    GivenUp, LimitError
    """
    scene = _sayable(options, job, picture_px)
    pdf = pikepdf.new()
    point = convert(1.0, job.sheet.unit, "in", job.sheet.resolution) * 72
    book = Book(pdf, 4, job.progress, np.array([scene.width, scene.height]) / 2 + options.room, hairline(job.sheet))
    book.spots = _spots(pdf, scene) if options.spots else None
    if options.fills_sheet and job.work is not None:
        drawn = _tiled(options, book, scene, job.work.design.sheet, point, job.tile)
    elif options.pages == "one for each ink":
        drawn = _separated(options, book, scene, job, point)
    elif options.pages == "one for each kept version":
        drawn = _page(options, book, scene, point) + _versions(options, book, job, picture_px)
    else:
        each = scene.layers if options.pages != "one" else ()
        shown = [replace(scene, layers=(layer,)) for layer in reversed(each)] or [scene]
        drawn = b"".join([_page(options, book, one, point) for one in shown])
    return _saved(pdf, job, digest(drawn) if options.recipe else "")


def _sayable(options: Any, job: Job, picture_px: int) -> Scene:
    """A scene in which what PDF cannot say is pictures."""
    if not has_finishes(job.scene.layers):
        return job.scene
    px = options.picture_width(job.scene, job.work, picture_px)
    return without_finishes(job.scene, whole_page(job.scene, px), job.progress)


def _versions(options: Any, book: Book, job: Job, picture_px: int) -> bytes:
    """Add a page for each kept version, as large as its own sheet, and return what is drawn on them."""
    drawn, half, spots = b"", book.half, book.spots
    for kept in job.work.kept if job.work is not None else ():
        _, own = job_of(Work(design=kept.design), options, job.progress)
        scene = _sayable(options, own, picture_px)
        book.half = np.array([scene.width, scene.height]) / 2 + options.bleed
        book.spots = _spots(book.pdf, scene) if options.spots else None
        point = convert(1.0, own.sheet.unit, "in", own.sheet.resolution) * 72
        drawn += _page(options, book, scene, point)
    book.half, book.spots = half, spots
    return drawn


def _separated(options: Any, book: Book, scene: Scene, job: Job, point: float) -> bytes:
    """Add a page for each ink, pale ones first, and return what is drawn on them."""
    room = convert(AWAY + MARK + BESIDE, "mm", "in") * 72
    edge = room + options.bleed * point
    wide, high = scene.width * point + 2 * edge, scene.height * point + 2 * edge
    stray = STRAY * convert(1.0, "mm", job.sheet.unit, job.sheet.resolution)
    ground, over = not options.transparent, options.prints == "overprint"
    found = plates(scene, options.bleed, ground, over, options.trap, stray, job.progress)
    drawn = b""
    font = book.pdf.make_indirect(Dictionary({"/Type": Name.Font, "/Subtype": Name.Type1, "/BaseFont": Name.Helvetica}))
    for plate in found:
        own, page = Stream(book), Stream(book)
        own.lines += ["0 g", *(own.path(*path) for path in plate.paths), "f"]
        drawn += own.data()
        middle = f"{short(point, 9)} 0 0 {short(-point, 9)} {short(wide / 2, 6)} {short(high / 2, 6)} cm"
        page.lines += ["q", middle]
        page.draw(own.form(group=True))
        page.lines += ["Q", _crop_marks(wide, high, edge, room), registration(wide, high, room, f"ink {plate.colour}")]
        _add(book.pdf, page, wide, high, edge, room)
        book.pdf.pages[-1].Resources["/Font"] = Dictionary({"/F1": font})
    return drawn


def _tiled(options: Any, book: Book, cell: Scene, sheet: Sheet, point: float, sides: Array | None) -> bytes:
    """Add a page as large as the sheet that a tiling pattern of the cell fills, and return what is drawn in one cell.

    The cell is upright, or has the `sides` (2, 2).
    """
    own, tile, page = _drawn(options, book, cell), Stream(book), Stream(book)
    sides = np.diag([cell.width, -cell.height]) if sides is None else sides
    sides = sides * [point, -point]  # y goes up here
    across, down = np.hypot(*sides.T)
    onto = np.concatenate([(sides / [[across], [down]]).T, np.zeros((2, 1))], 1)
    within = inverse(onto)[:, :2] @ np.diag([point, -point])
    placed = " ".join(short(float(v), 9) for v in within.T.ravel())
    tile.lines += ["q", f"{placed} {short(across / 2, 6)} {short(down / 2, 6)} cm"]
    tile.draw(own.form(group=True))
    tile.lines.append("Q")
    room = convert(AWAY + MARK, "mm", "in") * 72 if options.marks else 0.0
    edge = room + options.bleed * point
    wide, high = sheet.width * point + 2 * edge, sheet.height * point + 2 * edge
    size, middle = [round(float(v), 6) for v in (across, down)], np.array([wide, high]) / 2 - sides.sum(0) / 2
    over = min(LAP, point) if cell.background and not options.transparent else 0.0  # readers leave a hair between tiles else
    box = [-over, -over, size[0] + over, size[1] + over]
    pattern = book.pdf.make_stream(tile.data(), Dictionary({
        "/Type": Name.Pattern, "/PatternType": 1, "/PaintType": 1, "/TilingType": 1, "/BBox": PdfArray(box),
        "/XStep": size[0], "/YStep": size[1], "/Resources": tile.resources(),
        "/Matrix": PdfArray([round(float(v), 9) for v in (*onto[:, :2].T.ravel(), *middle)]),
    }))  # fmt: skip
    name = page.use("Pattern", pattern, "cell")
    filled = " ".join(short(v, 6) for v in (room, room, wide - 2 * room, high - 2 * room))
    page.lines.append(f"q /Pattern cs {name} scn {filled} re f Q")
    if options.marks:
        page.lines.append(_crop_marks(wide, high, edge, room))
    _add(book.pdf, page, wide, high, edge, room)
    return own.data()


def _drawn(options: Any, book: Book, scene: Scene) -> Stream:
    """The ground and all layers of a scene, in the unit of the work."""
    own = Stream(book)
    if scene.background and not options.transparent:
        ground = own.colour(bytes_of((scene.background,))[0], False)
        own.lines.append(f"{ground} {everywhere(book)} f")
    for layer in reversed(scene.layers):
        name = own.use("Properties", _content(book.pdf, layer.name), id(layer))
        own.lines.append(f"/OC {name} BDC")
        draw_layer(own, layer)
        own.lines.append("EMC")
    return own


def _page(options: Any, book: Book, scene: Scene, point: float) -> bytes:
    """Add a page and return what is drawn on it."""
    own = _drawn(options, book, scene)
    room = convert(AWAY + MARK, "mm", "in") * 72 if options.marks else 0.0
    edge = room + options.bleed * point
    wide, high = scene.width * point + 2 * edge, scene.height * point + 2 * edge
    page = Stream(book)
    middle = f"{short(point, 9)} 0 0 {short(-point, 9)} {short(wide / 2, 6)} {short(high / 2, 6)} cm"
    page.lines += ["q", middle]
    page.draw(own.form(group=True))
    page.lines.append("Q")
    if options.marks:
        page.lines.append(_crop_marks(wide, high, edge, room))
    _add(book.pdf, page, wide, high, edge, room)
    return own.data()


def _add(pdf: pikepdf.Pdf, page: Stream, wide: float, high: float, edge: float, room: float) -> None:
    """Add a page with its boxes: what is printed, the bleed and the cut."""

    def box(inner: float) -> PdfArray:
        return PdfArray([round(v, 4) for v in (inner, inner, wide - inner, high - inner)])

    pdf.pages.append(pikepdf.Page(pdf.make_indirect(Dictionary({
        "/Type": Name.Page, "/MediaBox": box(0.0), "/CropBox": box(0.0), "/BleedBox": box(room), "/TrimBox": box(edge),
        "/ArtBox": box(edge), "/Resources": page.resources(), "/Contents": pdf.make_stream(page.data()),
        "/Group": Dictionary({"/S": Name.Transparency, "/CS": Name.DeviceRGB, "/I": True}),
    }))))  # fmt: skip


def _crop_marks(wide: float, high: float, edge: float, room: float) -> str:
    """Two short lines at each corner of the cut, in points; they end before the bleed."""
    away = AWAY / 25.4 * 72
    out = ["q 0.25 w 0 G"]
    for size, other, turned in ((wide, high, False), (high, wide, True)):
        for at in (edge, size - edge):
            for begin, end in ((0.0, room - away), (other - room + away, other)):
                points = (begin, at, end, at) if turned else (at, begin, at, end)
                out.append("{} {} m {} {} l S".format(*(short(v, 3) for v in points)))
    return "\n".join([*out, "Q"])


def _content(pdf: pikepdf.Pdf, name: str) -> Any:
    """A layer that readers list and can switch off."""
    group = pdf.make_indirect(Dictionary({"/Type": Name.OCG, "/Name": String(name or "Layer")}))
    root = pdf.Root
    if "/OCProperties" not in root:
        root["/OCProperties"] = Dictionary({"/OCGs": PdfArray([]), "/D": Dictionary({"/Order": PdfArray([])})})
    root.OCProperties.OCGs.append(group)
    root.OCProperties.D.Order.append(group)
    return group


def _spots(pdf: pikepdf.Pdf, scene: Scene) -> dict[str, Any]:
    """An ink of its own for each flat colour of a scene, by hexadecimal figures."""
    out: dict[str, Any] = {}
    for colour in flat_colours(scene):
        rgb = PdfArray([round(v / 255, 5) for v in bytes_of((colour,))[0, :3].tolist()])
        tint = Dictionary({"/FunctionType": 2, "/Domain": PdfArray([0, 1]), "/C0": PdfArray([1, 1, 1]), "/C1": rgb, "/N": 1})
        out[colour] = pdf.make_indirect(PdfArray([Name.Separation, Name(f"/Ink {colour[1:]}"), Name.DeviceRGB, tint]))
    return out


def _saved(pdf: pikepdf.Pdf, job: Job, drawing: str) -> bytes:
    """The file, with the live work beside its pages where `drawing` is told; the same for the same work."""
    pdf.docinfo["/Title"] = String(job.work.design.name if job.work is not None else "")
    pdf.docinfo["/Creator"] = String("Under Lattice")
    if job.work is not None and drawing:
        text = to_text(job.work, None).encode()
        spec = pikepdf.AttachedFileSpec(pdf, text, filename=PDF_NAME, description=drawing, mime_type="application/json")
        pdf.attachments[PDF_NAME] = spec
    out = io.BytesIO()
    pdf.save(out, deterministic_id=True, compress_streams=True, object_stream_mode=pikepdf.ObjectStreamMode.generate)
    return out.getvalue()
