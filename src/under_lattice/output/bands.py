"""Very large pictures: painted band after band, each kept until all are there; memory is bounded and a stop loses nothing."""

from __future__ import annotations

import hashlib
import io
import struct
import time
import zlib
from collections.abc import Iterator
from dataclasses import replace
from importlib.metadata import version

import numpy as np

from under_lattice.colour.premultiplied import on_ground, straight
from under_lattice.core.errors import LimitError
from under_lattice.core.progress import Progress
from under_lattice.files.kept_pictures import Store
from under_lattice.files.storage import to_text
from under_lattice.geometry.affine import Array
from under_lattice.output.format import Job
from under_lattice.scene.mark import mark_of
from under_lattice.scene.tree import Scene, View, whole_page

LARGE, MOST = 200_000_000, 10_000_000_000  # px from which a picture is painted in bands, and at most
BAND = 32_000_000  # px
UP = 2  # the filter of PNG that tells each row by the one above it (W3C PNG, 9.2)
INCH = 0.0254  # m


def is_large(width: int, height: int) -> bool:
    """Tell whether a picture of so many px is painted in bands."""
    return width * height > LARGE


def bands(job: Job, width: int, height: int, ground: str) -> Iterator[Array]:
    """Yield bands (h, width, 3) of bytes from the top, or (h, width, 4) with straight alpha where there is no ground.

    Raises
    ------
    LimitError
        When there are too many px.
    FileError
        When there is no room to keep bands; those till then stay, and the next time it goes on from there.
    GivenUp
    """
    if width * height > MOST:
        raise LimitError(f"a picture of {width} × {height} px is too large; at most {MOST:,} px in all")  # noqa: RUF001
    from under_lattice.render.paint import paint  # loads the compiled kernels

    scene = replace(job.scene, background=ground)
    view = whole_page(scene, width, height)
    store, rows = _store(job, scene, view), max(1, BAND // width)
    for number, top in enumerate(range(0, height, rows)):
        job.progress.step(top / height)
        band = replace(view, height=min(rows, height - top), top=view.top - top)
        found = store.picture(number, band.height, band.width)
        if found is None:
            found = paint(scene, band, Progress(job.progress.stop))
            store.keep(number, found, f"band {number + 1} of the picture")
        yield np.ascontiguousarray(on_ground(found, ground)[..., :3]) if ground else straight(found)
    store.clear()


def _store(job: Job, scene: Scene, view: View) -> Store:
    """The folder of the bands of a picture; one of its own where a work is not known or is at some moment."""
    work = job.work if job.work is not None and not job.work.design.motions else None
    told = to_text(work, None) if work is not None else str(time.time_ns())
    told = hashlib.sha256(f"{version('under-lattice')}\n{view}\n{BAND}\n{mark_of(scene)}\n{told}".encode()).hexdigest()[:24]
    return Store.begun(told)


def png_of_bands(found: Iterator[Array], width: int, height: int, dpi: float) -> bytes:
    """Return bands as one PNG, 8 bits for each channel, marked as sRGB (W3C PNG, third edition).

    Parameters
    ----------
    found : iterator of (h, width, 3 or 4) bytes
    width, height : int
        px.
    dpi : float
    """
    out, packer = io.BytesIO(), zlib.compressobj(6)
    per_metre, above = round(dpi / INCH), np.zeros((1, 0), np.uint8)
    out.write(b"\x89PNG\r\n\x1a\n")
    for band in found:
        rows = band.reshape(len(band), -1)
        if not above.size:
            out.write(_chunk(b"IHDR", struct.pack(">IIBBBBB", width, height, 8, 2 if band.shape[2] == 3 else 6, 0, 0, 0)))
            out.write(_chunk(b"sRGB", b"\0") + _chunk(b"pHYs", struct.pack(">IIB", per_metre, per_metre, 1)))
            above = np.zeros_like(rows[:1])
        told = np.empty((len(rows), rows.shape[1] + 1), np.uint8)
        told[:, 0] = UP
        np.subtract(rows, np.concatenate([above, rows[:-1]]), out=told[:, 1:])
        above = rows[-1:]
        out.write(_chunk(b"IDAT", packer.compress(told.tobytes())))
    out.write(_chunk(b"IDAT", packer.flush()) + _chunk(b"IEND", b""))
    return out.getvalue()


def _chunk(kind: bytes, data: bytes) -> bytes:
    """A chunk of a PNG; none where there is nothing in one of pixels."""
    if kind == b"IDAT" and not data:
        return b""
    return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(data, zlib.crc32(kind)))
