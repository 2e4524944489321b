"""Pictures in pixels: how many there are, and the page painted in them."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Any, ClassVar

import numpy as np

from under_lattice.colour.premultiplied import on_ground, straight
from under_lattice.core.units import convert
from under_lattice.declare.frozen import edited
from under_lattice.declare.option_dials import Density, PixelCount
from under_lattice.geometry.affine import Array
from under_lattice.geometry.translations import whole_pixels
from under_lattice.output.format import Format, Job, Need
from under_lattice.scene.tree import whole_page
from under_lattice.work.model import Loop, Sheet

PRINT_DPI, WEB_PX = 300, 1200  # a picture on a web page is so wide at first


class Raster(Format):
    """A picture in pixels; width and density follow from each other, and the one that was given last holds."""

    needs: ClassVar[frozenset[Need]] = frozenset({"pixels"})

    width: Annotated[int, PixelCount("Width", "Of the picture; 0 takes it from the density.", least=0, most=100_000)] = 0
    dpi: Annotated[float, Density("Density", "Dots per inch; 0 takes it from the width, or else 300.")] = 0.0

    def shown(self, sheet: Sheet, loop: Loop) -> dict[str, float]:
        """Return the numbers as they come out on a page; width in px and density in dots per inch."""
        width, dpi = size_in_px(sheet, self)
        return super().shown(sheet, loop) | {"width": width, "dpi": dpi}

    def turned(self, name: str, value: Any) -> Format:
        """Return the format with one option set; of width and density the other follows."""
        other: dict[str, dict[str, Any]] = {"width": {"dpi": 0.0}, "dpi": {"width": 0}}
        return edited(self, **{name: value}, **other.get(name, {}))

    def proportions(self, sheet: Sheet) -> tuple[float, float, Format]:
        """Return the width and height of a repeat in whole px, at most as wide as asked for, and the options that make it so."""
        size = whole_pixels(sheet.width, sheet.height, size_in_px(sheet, self)[0])
        return sheet.width, sheet.width * size.height / size.width, edited(self, width=size.width, dpi=0.0)

    def size_words(self, sheet: Sheet) -> str:
        """Return how large the picture is."""
        (width, dpi), high = size_in_px(sheet, self), height_in_px(sheet, self)
        return f"{super().size_words(sheet)} = {width} × {high} px at {dpi:.0f} dpi"  # noqa: RUF001


def size_in_px(sheet: Sheet, options: Raster) -> tuple[int, float]:
    """Return width in px and dots per inch; both follow from the one that is given."""
    inches = convert(sheet.width, sheet.unit, "in", sheet.resolution)
    if options.width:
        return options.width, options.width / inches
    dpi = options.dpi or (sheet.resolution if sheet.unit == "px" else PRINT_DPI)
    return max(1, round(inches * dpi)), dpi


def height_in_px(sheet: Sheet, options: Raster) -> int:
    """Return the height in px: that of the sheet at the density, where it is given, and in proportion to the width else."""
    width, dpi = size_in_px(sheet, options)
    if options.width:
        return max(1, round(sheet.height * width / sheet.width))
    return max(1, round(convert(sheet.height, sheet.unit, "in", sheet.resolution) * dpi))


def painted(job: Job, options: Raster, ground: str) -> Array:
    """Return the page with straight alpha, bytes (H, W, 3 or 4), over a ground where there is one.

    Raises
    ------
    GivenUp, LimitError
    """
    from under_lattice.render.paint import paint  # loads the compiled kernels

    scene = replace(job.scene, background=ground)
    view = whole_page(scene, size_in_px(job.sheet, options)[0], height_in_px(job.sheet, options))
    pixels = paint(scene, view, job.progress)
    if ground:
        pixels = on_ground(pixels, ground)
    return straight(pixels) if (pixels[..., 3] < 255).any() else np.ascontiguousarray(pixels[..., :3])
