"""PNG: the painted page at any width, with its resolution and the live recipe."""

from __future__ import annotations

import io
from typing import Annotated, Any, ClassVar

import numpy as np
from PIL import Image, PngImagePlugin

from under_lattice.colour.colour import bytes_of
from under_lattice.core.progress import QUIET, Progress
from under_lattice.core.units import convert
from under_lattice.declare.frozen import edited
from under_lattice.declare.option_dials import Density, PixelCount
from under_lattice.files.recipe import PNG_KEY, digest
from under_lattice.files.storage import to_text
from under_lattice.geometry.affine import Array
from under_lattice.output.format import Format, Job, Need
from under_lattice.scene.tree import Scene, whole_page
from under_lattice.work.model import Sheet, Work


class Png(Format):
    """A picture in pixels; width and density follow from each other, and the one that was given last holds."""

    ending: ClassVar[str] = "png"
    title: ClassVar[str] = "PNG"
    words: ClassVar[str] = "a picture in pixels"
    needs: ClassVar[frozenset[Need]] = frozenset({"pixels"})

    width: Annotated[int, PixelCount("Width", "Of the picture; 0 takes it from the density.", least=0, most=100_000)] = 0
    dpi: Annotated[float, Density("Density", "Dots per inch; 0 takes it from the width, or else 300.")] = 0.0

    def shown(self, sheet: Sheet) -> dict[str, float]:
        """Return width and density as they come out on a sheet, in px and dots per inch."""
        width, dpi = size_in_px(sheet, self)
        return {"width": width, "dpi": dpi}

    def turned(self, name: str, value: Any) -> Png:
        """Return the format with one option set; of width and density the other follows."""
        other: dict[str, dict[str, Any]] = {"width": {"dpi": 0.0}, "dpi": {"width": 0}}
        return edited(self, **{name: value}, **other.get(name, {}))

    def size_words(self, sheet: Sheet) -> str:
        """Return how large the picture is."""
        (width, dpi), high = size_in_px(sheet, self), height_in_px(sheet, self)
        return f"{super().size_words(sheet)} = {width} × {high} px at {dpi:.0f} dpi"  # noqa: RUF001

    def write(self, job: Job) -> bytes:
        """Return the PNG.

        Raises
        ------
        GivenUp, LimitError
        """
        return write_png(job.scene, job.sheet, self, job.work, job.progress)


def size_in_px(sheet: Sheet, options: Png) -> tuple[int, float]:
    """Return width in px and dots per inch; both follow from the one that is given."""
    inches = convert(sheet.width, sheet.unit, "in", sheet.resolution)
    if options.width:
        return options.width, options.width / inches
    dpi = options.dpi or (sheet.resolution if sheet.unit == "px" else 300.0)
    return max(1, round(inches * dpi)), dpi


def height_in_px(sheet: Sheet, options: Png) -> int:
    """Return the height in px: that of the sheet at the density, where it is given, and in proportion to the width else."""
    width, dpi = size_in_px(sheet, options)
    if options.width:
        return max(1, round(sheet.height * width / sheet.width))
    return max(1, round(convert(sheet.height, sheet.unit, "in", sheet.resolution) * dpi))


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
    from under_lattice.render.paint import paint  # loads the compiled kernels

    width, dpi = size_in_px(sheet, options)
    if options.transparent:
        scene = Scene(scene.width, scene.height, "", scene.layers)
    pixels = paint(scene, whole_page(scene, width, height_in_px(sheet, options)), progress)
    if scene.background:
        pixels = on_ground(pixels, scene.background)
    picture = Image.fromarray(straight(pixels) if (pixels[..., 3] < 255).any() else np.ascontiguousarray(pixels[..., :3]))
    chunks = PngImagePlugin.PngInfo()
    if work is not None and options.recipe:
        chunks.add_itxt(PNG_KEY, to_text(work, None), zip=True)
        chunks.add_text(f"{PNG_KEY}-drawing", digest(picture.convert("RGBA").tobytes()))
    out = io.BytesIO()
    picture.save(out, "PNG", dpi=(dpi, dpi), pnginfo=chunks, compress_level=6)
    return out.getvalue()


def on_ground(pixels: Array, ground: str) -> Array:
    """Return premultiplied bytes (H, W, 4) over a ground: also where a page ends within a pixel."""
    part = np.flatnonzero(pixels[..., 3].min(1) < 255)
    colour, out = bytes_of((ground,))[0].astype(np.uint16), pixels.copy() if len(part) else pixels
    for row in part:
        clear = 255 - out[row, :, 3:].astype(np.uint16)
        out[row] = np.minimum(out[row] + (colour * clear + 127) // 255 * (colour[3] == 255), 255)
    return out


def straight(pixels: Array) -> Array:
    """Return straight alpha from premultiplied bytes (H, W, 4), row by row where anything is clear."""
    clear = np.flatnonzero(pixels[..., 3].min(1) < 255)
    out = pixels.copy() if len(clear) else pixels
    for row in clear:
        alpha = pixels[row, :, 3:].astype(np.uint16)
        colour = (pixels[row, :, :3].astype(np.uint16) * 255 + alpha // 2) // np.maximum(alpha, 1)
        out[row, :, :3] = np.minimum(colour, 255)
    return out


def png_of(pixels: Array) -> bytes:
    """Return premultiplied pixels (H, W, 4), bytes or 0..1, as a PNG."""
    as_bytes = pixels if pixels.dtype == np.uint8 else np.rint(np.clip(pixels, 0, 1) * 255).astype(np.uint8)
    out = io.BytesIO()
    Image.fromarray(straight(as_bytes)).save(out, "PNG", compress_level=6)
    return out.getvalue()
