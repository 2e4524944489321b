"""Animated PNG, GIF and WebP: pictures in one file that any browser shows moving."""

from __future__ import annotations

import io
from collections.abc import Iterator
from itertools import pairwise
from typing import Annotated, Any, ClassVar, Literal

import numpy as np
from PIL import Image

from under_lattice.colour.premultiplied import on_ground
from under_lattice.colour.profile import srgb_profile
from under_lattice.core.errors import LimitError
from under_lattice.declare.dials import Choice, Count
from under_lattice.declare.option_dials import Switch
from under_lattice.frames.frames import Frames
from under_lattice.geometry.affine import Array
from under_lattice.output.film.film import Film
from under_lattice.output.format import WITHOUT_GROUND, Job
from under_lattice.scene.tree import View
from under_lattice.work.model import Design

LOOKED_AT = 16  # pictures from which the palette of a GIF is taken
SAMPLE = 160  # px of the longer side of each
GIF_TICK = 10  # ms, which times in a GIF are whole multiples of
COLOURS_MOST = 256
BYTES_MOST = 1_500_000_000  # of pictures held in memory until all are there


class _Animation(Film):
    """What the three share."""

    bytes_held: ClassVar[int] = 1  # for each pixel, while it is written

    forever: Annotated[bool, Switch("Without end", "It begins anew when it has ended.", main=False)] = True

    def _durations(self, design: Design, count: int, tick: int = 1) -> list[int]:
        """How long each picture is shown, in ms, so that the whole is as long as it should be."""
        rate = self.timing(design)[1]
        ends = [round(1000 * k / rate / tick) * tick for k in range(count + 1)]
        return [max(tick, b - a) for a, b in pairwise(ends)]

    def _saved(self, job: Job, shown: Iterator[Image.Image], form: str, tick: int = 1, **how: Any) -> bytes:
        assert job.work is not None
        count = self.timing(job.work.design)[2] * self.rounds
        wide, high = self.size(job.sheet)
        if count * wide * high * self.bytes_held > BYTES_MOST:
            most = int(BYTES_MOST / (wide * high * self.bytes_held))
            raise LimitError(
                f"{count:,} pictures of {wide} × {high} px are too many for {self.title}; {most:,} would fit, or a WebM"  # noqa: RUF001
            )
        first, out = next(shown), io.BytesIO()
        loop = 0 if self.forever else 1
        durations = self._durations(job.work.design, count, tick)
        rest = list(shown) if form == "PNG" else shown  # it goes through them twice
        first.save(out, form, save_all=True, append_images=rest, duration=durations, loop=loop, **how)
        return out.getvalue()


class Apng(_Animation):
    """Every pixel as painted, with clear parts."""

    bytes_held: ClassVar[int] = 4
    ending: ClassVar[str] = "apng"
    title: ClassVar[str] = "Animated PNG"
    words: ClassVar[str] = "every pixel as painted; large"
    clear: ClassVar[bool] = True

    transparent: Annotated[bool, WITHOUT_GROUND] = False

    def write(self, job: Job) -> bytes:
        """Return the file.

        Raises
        ------
        LatticeError, GivenUp
        """
        return self._saved(job, (Image.fromarray(one) for one in self.whole(job)), "PNG", default_image=False)


class MovingWebp(_Animation):
    """Small and with clear parts, for web pages."""

    ending: ClassVar[str] = "webp"
    name: ClassVar[str] = "moving-webp"
    title: ClassVar[str] = "Animated WebP"
    words: ClassVar[str] = "small, with clear parts, for web pages"
    clear: ClassVar[bool] = True

    transparent: Annotated[bool, WITHOUT_GROUND] = False
    lossless: Annotated[bool, Switch("Lossless", "Every pixel as painted; the file is larger.")] = False
    quality: Annotated[int, Count("Quality", "100 is the best and the largest.", least=1, most=100)] = 85

    def write(self, job: Job) -> bytes:
        """Return the file.

        Raises
        ------
        LatticeError, GivenUp
        """
        shown = (Image.fromarray(one) for one in self.whole(job))
        how: dict[str, Any] = {
            "lossless": self.lossless,
            "quality": self.quality,
            "exact": True,
            "method": 4,
            "icc_profile": srgb_profile(),
        }
        return self._saved(job, shown, "WEBP", **how)


class Gif(_Animation):
    """At most 256 colours, chosen from the work itself; every program shows it."""

    ending: ClassVar[str] = "gif"
    title: ClassVar[str] = "GIF"
    words: ClassVar[str] = "at most 256 colours; every program shows it"

    colours: Annotated[int, Count("Colours", "Of its palette, taken from the work itself.", least=2, most=COLOURS_MOST)] = 256
    dither: Annotated[
        Literal["no", "yes"],
        Choice("Dither", "Colours between those of the palette are mixed of points; flat areas look cleaner without.",
               options=("no", "yes")),
    ] = "no"  # fmt: skip

    def write(self, job: Job) -> bytes:
        """Return the file.

        Raises
        ------
        LatticeError, GivenUp
        """
        assert job.work is not None
        count = self.timing(job.work.design)[2]
        order = self.order(job)
        chosen = range(0, count, max(1, count // LOOKED_AT))
        small = Frames(order.design, _smaller(order.view))
        palette = self._palette([small.picture(order.times[k], job.progress) for k in chosen], job.scene.background or "#FFFFFF")
        how = Image.Dither.FLOYDSTEINBERG if self.dither == "yes" else Image.Dither.NONE
        flat = (Image.fromarray(one).quantize(palette=palette, dither=how) for one in self.whole(job))
        return self._saved(job, flat, "GIF", GIF_TICK, optimize=False)

    def _palette(self, chosen: list[Array], ground: str) -> Image.Image:
        """A picture of all colours that matter, with a palette of them."""
        strip = np.concatenate([on_ground(one, ground)[..., :3].reshape(-1, 3) for one in chosen])
        return Image.fromarray(strip[None]).quantize(self.colours, Image.Quantize.MEDIANCUT, kmeans=2)


def _smaller(view: View) -> View:
    """The same view in few pixels."""
    share = min(1.0, SAMPLE / max(view.width, view.height))
    wide, high = max(1, round(view.width * share)), max(1, round(view.height * share))
    return View(wide, high, view.scale * share, view.left * share, view.top * share)
