"""PNG: the painted page at any width, with its resolution and the live recipe."""

from __future__ import annotations

import io
from dataclasses import dataclass

import numpy as np
from PIL import Image, PngImagePlugin

from under_lattice.core.progress import QUIET, Progress
from under_lattice.core.units import convert
from under_lattice.files.recipe import PNG_KEY, digest
from under_lattice.files.storage import to_text
from under_lattice.geometry.affine import Array
from under_lattice.scene.tree import Scene, whole_page
from under_lattice.work.model import Sheet, Work


@dataclass(frozen=True)
class PngOptions:
    """Width in px (0: by `dpi`), dots per inch (0: by the width), and whether the ground is left out."""

    width: int = 0
    dpi: float = 0.0
    transparent: bool = False
    recipe: bool = True


def size_in_px(sheet: Sheet, options: PngOptions) -> tuple[int, float]:
    """Return width in px and dots per inch; both follow from the one that is given."""
    inches = convert(sheet.width, sheet.unit, "in", sheet.resolution)
    if options.width:
        return options.width, options.width / inches
    dpi = options.dpi or (sheet.resolution if sheet.unit == "px" else 300.0)
    return max(1, round(inches * dpi)), dpi


def write_png(
    scene: Scene,
    sheet: Sheet,
    options: PngOptions,
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
    picture = Image.fromarray(straight(paint(scene, whole_page(scene, width), progress)))
    chunks = PngImagePlugin.PngInfo()
    if work is not None and options.recipe:
        chunks.add_itxt(PNG_KEY, to_text(work, None), zip=True)
        chunks.add_text(f"{PNG_KEY}-drawing", digest(picture.tobytes()))
    out = io.BytesIO()
    picture.save(out, "PNG", dpi=(dpi, dpi), pnginfo=chunks, compress_level=6)
    return out.getvalue()


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
