"""PNG: the painted page at any width, with its resolution and the live recipe."""

from __future__ import annotations

import io
from typing import Annotated, Any, ClassVar

import numpy as np
from PIL import Image, PngImagePlugin

from under_lattice.colour.premultiplied import straight
from under_lattice.core.progress import QUIET, Progress
from under_lattice.files.recipe import PNG_KEY, digest
from under_lattice.files.storage import to_text
from under_lattice.geometry.affine import Array
from under_lattice.output.bands import bands, is_large, png_of_bands
from under_lattice.output.format import WITH_RECIPE, WITHOUT_GROUND, Job, Purpose
from under_lattice.output.raster import WEB_PX, Raster, height_in_px, painted, size_in_px
from under_lattice.scene.tree import Scene
from under_lattice.work.model import Sheet, Work


class Png(Raster):
    """A picture in pixels that loses nothing and keeps the live work inside."""

    ending: ClassVar[str] = "png"
    title: ClassVar[str] = "PNG"
    words: ClassVar[str] = "a picture in pixels"
    purposes: ClassVar[tuple[Purpose, ...]] = ("picture", "web page", "print")

    transparent: Annotated[bool, WITHOUT_GROUND] = False
    recipe: Annotated[bool, WITH_RECIPE] = True

    @classmethod
    def first_for(cls, purpose: Purpose | None) -> dict[str, Any]:
        """Return a small picture without the recipe for a web page."""
        return {"recipe": False, "width": WEB_PX} if purpose == "web page" else {}

    def size_words(self, sheet: Sheet) -> str:
        """Return how large the picture is, and what that means where it is very large."""
        large = is_large(size_in_px(sheet, self)[0], height_in_px(sheet, self))
        return super().size_words(sheet) + ("; painted in bands, without the live recipe" if large else "")

    def write(self, job: Job) -> bytes:
        """Return the PNG.

        Raises
        ------
        GivenUp, LimitError
        """
        return write_png(job.scene, job.sheet, self, job.work, job.progress)


def write_png(
    scene: Scene,
    sheet: Sheet,
    options: Png,
    work: Work | None = None,
    progress: Progress = QUIET,
) -> bytes:
    """Return the PNG.

    Raises
    ------
    GivenUp, LimitError
    """
    job = Job(scene, sheet, work, progress)
    ground = "" if options.transparent else scene.background
    (wide, dpi), high = size_in_px(sheet, options), height_in_px(sheet, options)
    if is_large(wide, high):
        return png_of_bands(bands(job, wide, high, ground), wide, high, dpi)
    picture = Image.fromarray(painted(job, options, ground))
    chunks = PngImagePlugin.PngInfo()
    chunks.add(b"sRGB", b"\0")
    if work is not None and options.recipe:
        chunks.add_itxt(PNG_KEY, to_text(work, None), zip=True)
        chunks.add_text(f"{PNG_KEY}-drawing", digest(picture.convert("RGBA").tobytes()))
    out = io.BytesIO()
    picture.save(out, "PNG", dpi=(dpi, dpi), pnginfo=chunks, compress_level=6)
    return out.getvalue()


def png_of(pixels: Array) -> bytes:
    """Return premultiplied pixels (H, W, 4), bytes or 0..1, as a PNG."""
    as_bytes = pixels if pixels.dtype == np.uint8 else np.rint(np.clip(pixels, 0, 1) * 255).astype(np.uint8)
    out = io.BytesIO()
    Image.fromarray(straight(as_bytes)).save(out, "PNG", compress_level=6)
    return out.getvalue()
