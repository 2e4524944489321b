"""JPEG, WebP and TIFF: the painted page for those who ask for one of these, marked as sRGB."""

from __future__ import annotations

import io
from dataclasses import replace
from typing import Annotated, Any, ClassVar, Literal, get_args

import numpy as np
from PIL import Image

from under_lattice.colour.colour import bytes_of
from under_lattice.colour.profile import srgb_profile
from under_lattice.core.errors import LimitError
from under_lattice.declare.dials import Choice, Count
from under_lattice.declare.option_dials import Switch
from under_lattice.geometry.affine import Array
from under_lattice.output.format import WITHOUT_GROUND, Job, Purpose
from under_lattice.output.raster import WEB_PX, Raster, height_in_px, painted, size_in_px
from under_lattice.scene.tree import whole_page

Depth = Literal["8 bits", "16 bits"]
JPEG_MOST, WEBP_MOST = 65_500, 16_383  # px of the longer side these can hold
WHITE = "#FFFFFF"  # beneath a work without ground where a file has no alpha
QUALITY = Count("Quality", "Of the picture; 100 is the best and the largest.", least=1, most=100)


class Jpeg(Raster):
    """A small picture for mail and the web, without clear parts; a work without ground lies on white."""

    ending: ClassVar[str] = "jpg"
    title: ClassVar[str] = "JPEG"
    words: ClassVar[str] = "a small picture, on white where there is no ground"
    purposes: ClassVar[tuple[Purpose, ...]] = ("picture",)

    quality: Annotated[int, QUALITY] = 92

    def write(self, job: Job) -> bytes:
        """Return the JPEG.

        Raises
        ------
        GivenUp, LimitError
        """
        _hold(self, job, JPEG_MOST)
        pixels = painted(job, self, job.scene.background or WHITE)
        dpi = round(size_in_px(job.sheet, self)[1])
        out = io.BytesIO()
        plain = Image.fromarray(pixels[..., :3])
        plain.save(out, "JPEG", quality=self.quality, subsampling=0, dpi=(dpi, dpi), icc_profile=srgb_profile())
        return out.getvalue()


class Webp(Raster):
    """A small picture for web pages, with clear parts."""

    ending: ClassVar[str] = "webp"
    title: ClassVar[str] = "WebP"
    words: ClassVar[str] = "a small picture for web pages"
    purposes: ClassVar[tuple[Purpose, ...]] = ("web page", "picture")

    transparent: Annotated[bool, WITHOUT_GROUND] = False
    lossless: Annotated[bool, Switch("Lossless", "Every pixel as painted; the file is larger.")] = False
    quality: Annotated[int, QUALITY] = 90

    @classmethod
    def first_for(cls, purpose: Purpose | None) -> dict[str, Any]:
        """Return a small picture for a web page."""
        return {"width": WEB_PX} if purpose == "web page" else {}

    def write(self, job: Job) -> bytes:
        """Return the WebP.

        Raises
        ------
        GivenUp, LimitError
        """
        _hold(self, job, WEBP_MOST)
        picture = Image.fromarray(painted(job, self, "" if self.transparent else job.scene.background))
        out = io.BytesIO()
        picture.save(out, "WEBP", lossless=self.lossless, exact=True, quality=self.quality, icc_profile=srgb_profile())
        return out.getvalue()


class Tiff(Raster):
    """A picture for print and further work: 8 or 16 bits for each channel."""

    ending: ClassVar[str] = "tif"
    title: ClassVar[str] = "TIFF"
    words: ClassVar[str] = "a picture for print, also of 16 bits"
    purposes: ClassVar[tuple[Purpose, ...]] = ("print", "picture")

    transparent: Annotated[bool, WITHOUT_GROUND] = False
    depth: Annotated[Depth, Choice("Depth", "Of each channel; 16 bits for fine ramps.", options=get_args(Depth))] = "8 bits"

    def write(self, job: Job) -> bytes:
        """Return the TIFF.

        Raises
        ------
        GivenUp, LimitError
        """
        import tifffile  # loaded where a TIFF is written

        ground = "" if self.transparent else job.scene.background
        pixels = painted(job, self, ground) if self.depth == "8 bits" else _deep(job, self, ground)
        dpi = size_in_px(job.sheet, self)[1]
        out = io.BytesIO()
        tifffile.imwrite(
            out, pixels, photometric="rgb", compression="zlib", predictor=True, iccprofile=srgb_profile(), metadata=None,
            extrasamples=["unassalpha"] if pixels.shape[2] == 4 else [], resolution=(dpi, dpi), resolutionunit="INCH",
            software=False,
        )  # fmt: skip
        return out.getvalue()


def _deep(job: Job, options: Raster, ground: str) -> Array:
    """The page with straight alpha in 16 bits (H, W, 3 or 4), over a ground where there is one."""
    from under_lattice.render.paint import paint  # loads the compiled kernels

    scene = replace(job.scene, background=ground)
    view = whole_page(scene, size_in_px(job.sheet, options)[0], height_in_px(job.sheet, options))
    pixels = np.clip(paint(scene, view, job.progress, depth="float"), 0.0, 1.0)
    alpha = pixels[..., 3:]
    if ground:
        under = bytes_of((ground,))[0, :3].astype(np.float32) / 255
        return np.rint(65535 * np.clip(pixels[..., :3] + under * (1 - alpha), 0, 1)).astype(np.uint16)
    plain = np.concatenate([np.minimum(pixels[..., :3] / np.maximum(alpha, 1e-6), 1.0), alpha], -1)
    return np.rint(65535 * plain).astype(np.uint16)


def _hold(options: Raster, job: Job, most: int) -> None:
    """Refuse a picture larger than its form can hold."""
    longer = max(size_in_px(job.sheet, options)[0], height_in_px(job.sheet, options))
    if longer > most:
        raise LimitError(f"{options.title} holds at most {most} px to a side; this one would have {longer}")
