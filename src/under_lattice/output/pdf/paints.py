"""Ramps and pictures in a PDF: shadings in the place they are laid, their opacity as masks, pixels with a soft mask."""

from __future__ import annotations

import zlib
from itertools import pairwise
from typing import Any

import numpy as np
from pikepdf import Array as PdfArray
from pikepdf import Dictionary, Name

from under_lattice.colour.colour import bytes_of
from under_lattice.colour.premultiplied import straight
from under_lattice.colour.ramp import Ramp
from under_lattice.colour.texture import Texture
from under_lattice.geometry.affine import Array, compose, inverse
from under_lattice.output.pdf.streams import Book, Stream, everywhere

SAMPLES = 256  # of a ramp that is not mixed evenly between its stops


def place_of(paint: Ramp | Texture, place: Array | None) -> Array:
    """Return the map (2, 3) from a paint's own place to the page."""
    own = inverse(paint.to_ramp if isinstance(paint, Ramp) else paint.to_picture)
    return own if place is None else compose(place, own)


def shading_pattern(book: Book, ramp: Ramp, place: Array | None, of_alpha: bool = False) -> Any:
    """Return a ramp as a pattern where it lies, or how opaque it is there as greys."""
    to = place_of(ramp, place)

    def made() -> Any:
        shading = book.once(("shading", id(ramp), of_alpha), lambda: _shading(ramp, of_alpha), ramp)
        matrix = PdfArray([round(float(v), 9) for v in (*to[:, 0], *to[:, 1], *to[:, 2])])
        return Dictionary({"/Type": Name.Pattern, "/PatternType": 2, "/Shading": shading, "/Matrix": matrix})

    return book.once(("pattern", id(ramp), of_alpha, to.tobytes()), made, ramp)


def _shading(ramp: Ramp, of_alpha: bool) -> Dictionary:
    radial = ramp.form == "radial"
    coords = [float(ramp.focus), 0.0, 0.0, 0.0, 0.0, 1.0] if radial else [0.0, 0.0, 1.0, 0.0]
    return Dictionary({
        "/ShadingType": 3 if radial else 2, "/ColorSpace": Name.DeviceGray if of_alpha else Name.DeviceRGB,
        "/Coords": PdfArray(coords), "/Function": _function(ramp, of_alpha), "/Extend": PdfArray([True, True]),
    })  # fmt: skip


def _function(ramp: Ramp, of_alpha: bool) -> Dictionary:
    """The colours of a ramp, or how opaque they are, as straight pieces between places."""
    if not ramp.oklab and all(stop.middle == 0.5 for stop in ramp.stops) and len({stop.alpha for stop in ramp.stops}) == 1:
        plain = np.column_stack([bytes_of(tuple(stop.colour for stop in ramp.stops))[:, :3] / 255, [s.alpha for s in ramp.stops]])
        plain[:, :3] *= plain[:, 3:]
        return _stitched([stop.place for stop in ramp.stops], _straight(plain, of_alpha))
    return _stitched(np.linspace(0.0, 1.0, SAMPLES).tolist(), _straight(ramp.table(SAMPLES), of_alpha))


def _straight(table: Array, of_alpha: bool) -> Array:
    """Straight colours (n, 3), or alphas (n, 1), of premultiplied ones (n, 4)."""
    table = np.asarray(table, float)
    if of_alpha:
        return table[:, 3:]
    colours = table[:, :3] / np.maximum(table[:, 3:], 1e-6)
    clear = table[:, 3] < 1e-6
    if clear.any() and not clear.all():  # what is clear has the colour of the nearest that is not
        seen = np.flatnonzero(~clear)
        nearest = seen[np.abs(np.arange(len(table))[:, None] - seen[None]).argmin(1)]
        colours = colours[nearest]
    return np.clip(colours, 0.0, 1.0)


def _piece(first: Array, last: Array) -> Dictionary:
    """From one colour to another."""
    return Dictionary({
        "/FunctionType": 2, "/Domain": PdfArray([0, 1]), "/N": 1,
        "/C0": PdfArray([round(float(v), 5) for v in first]), "/C1": PdfArray([round(float(v), 5) for v in last]),
    })  # fmt: skip


def _stitched(places: list[float], values: Array) -> Dictionary:
    """Pieces one after the other; before the first place and after the last the colours go on."""
    rows = list(zip(places, values, strict=True))
    if rows[0][0] > 0:
        rows.insert(0, (0.0, rows[0][1]))
    if rows[-1][0] < 1:
        rows.append((1.0, rows[-1][1]))
    kept = [(a, b) for a, b in pairwise(rows) if b[0] > a[0]]
    pieces = [_piece(a[1], b[1]) for a, b in kept]
    if len(pieces) == 1:
        return pieces[0]
    bounds = [round(a[0], 6) for a, _ in kept[1:]]
    return Dictionary({
        "/FunctionType": 3, "/Domain": PdfArray([0, 1]), "/Functions": PdfArray(pieces),
        "/Bounds": PdfArray(bounds), "/Encode": PdfArray([0, 1] * len(pieces)),
    })  # fmt: skip


def alpha_mask(book: Book, ramp: Ramp, place: Array | None) -> Any:
    """Return a mask that lets through as much as a ramp is opaque."""
    mask = Stream(book)
    pattern = shading_pattern(book, ramp, place, of_alpha=True)
    name = mask.use("Pattern", pattern, id(pattern))
    mask.lines.append(f"/Pattern cs {name} scn {everywhere(book)} f")
    return luminosity(mask, "/DeviceGray")


def luminosity(mask: Stream, space: str = "/DeviceRGB") -> Dictionary:
    """Return what was written as a mask: as light as it is, it lets through; beyond it nothing."""
    return Dictionary({"/Type": Name.Mask, "/S": Name.Luminosity, "/G": mask.form(group=True, space=space)})


def image_of(book: Book, texture: Texture) -> Any:
    """Return a picture, written once, its opacity as a soft mask."""
    return book.once(("image", id(texture)), lambda: _image(book, texture), texture)


def _image(book: Book, texture: Texture) -> Any:
    pixels = texture.pixels
    as_bytes = pixels if pixels.dtype == np.uint8 else np.rint(np.clip(pixels, 0, 1) * 255).astype(np.uint8)
    plain = straight(as_bytes)
    high, wide = plain.shape[:2]

    def stream(values: Array, space: Any, **more: Any) -> Any:
        entries = {"/Type": Name.XObject, "/Subtype": Name.Image, "/Width": wide, "/Height": high, "/BitsPerComponent": 8,
                   "/ColorSpace": space, "/Filter": Name.FlateDecode, "/Interpolate": texture.shrinks}  # fmt: skip
        data = zlib.compress(np.ascontiguousarray(values).tobytes(), 6)
        made = book.pdf.make_stream(b"", Dictionary(entries | {f"/{name}": value for name, value in more.items()}))
        made.write(data, filter=Name.FlateDecode)
        return made

    if (plain[..., 3] == 255).all():
        return stream(plain[..., :3], Name.DeviceRGB)
    mask = book.pdf.make_indirect(stream(plain[..., 3], Name.DeviceGray))
    return stream(plain[..., :3], Name.DeviceRGB, SMask=mask)


def draw_texture(into: Stream, texture: Texture, place: Array | None) -> None:
    """Draw a picture where it lies; what is round it is left as it is."""
    to = compose(place_of(texture, place), np.array([(1.0, 0.0, 0.0), (0.0, -1.0, 1.0)]))  # rows of pictures begin at the bottom
    into.lines.append("q " + into.map(to))
    into.draw(image_of(into.book, texture))
    into.lines.append("Q")
