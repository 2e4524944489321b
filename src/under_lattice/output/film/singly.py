"""The pictures of a loop one by one: all of them in a folder, or some moments on a sheet."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Iterator
from typing import Annotated, ClassVar

from PIL import Image

from under_lattice.declare.dials import Count
from under_lattice.output.contact_sheet import ContactSheet
from under_lattice.output.film.film import REGION, Film
from under_lattice.output.format import WITHOUT_GROUND, Job
from under_lattice.work.model import Design, Sheet


class Sequence(Film):
    """All pictures, numbered, for a program that makes films of them."""

    ending: ClassVar[str] = "zip"
    name: ClassVar[str] = "pictures"
    title: ClassVar[str] = "PNG pictures"
    words: ClassVar[str] = "all pictures, numbered, as PNG"
    clear: ClassVar[bool] = True

    transparent: Annotated[bool, WITHOUT_GROUND] = False

    def numbered(self, job: Job) -> Iterator[tuple[str, bytes]]:
        """Yield the name and the PNG of each picture.

        Raises
        ------
        LatticeError, GivenUp
        """
        for k, pixels in enumerate(self.whole(job)):
            out = io.BytesIO()
            Image.fromarray(pixels).save(out, "PNG", compress_level=6)
            yield f"{k:05}.png", out.getvalue()

    def write(self, job: Job) -> bytes:
        """Return all of them in one file.

        Raises
        ------
        LatticeError, GivenUp
        """
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as packed:
            for name, data in self.numbered(job):
                packed.writestr(zipfile.ZipInfo(name, (1980, 1, 1, 0, 0, 0)), data)
        return out.getvalue()


class Moments(Film):
    """Some moments side by side, with their times."""

    ending: ClassVar[str] = "png"
    name: ClassVar[str] = "moments"
    title: ClassVar[str] = "Sheet of moments"
    words: ClassVar[str] = "some moments of the loop side by side"
    wide: ClassVar[int] = 240
    without: ClassVar[frozenset[str]] = REGION | {"rate", "rounds", "processes"}

    count: Annotated[int, Count("Moments", "How many there are.", least=2, most=60)] = 12
    across: Annotated[int, Count("In a row", "How many stand side by side.", most=20)] = 4

    def size_words(self, sheet: Sheet) -> str:
        """Return how many there are and how large."""
        return f"{self.count} pictures, each {super().size_words(sheet)}"

    def notes(self, design: Design) -> tuple[str, ...]:
        """Return that nothing moves, where that is so."""
        return self.still(design)

    def write(self, job: Job) -> bytes:
        """Return the sheet as PNG.

        Raises
        ------
        LatticeError, GivenUp
        """
        assert job.work is not None
        design = job.work.design
        seconds = self.seconds or design.loop.seconds
        last = self.count if design.loop.closed else max(1, self.count - 1)
        times = [k / last for k in range(self.count)]
        moments = tuple(tuple(times[k : k + self.across]) for k in range(0, self.count, self.across))
        rows = tuple((design,) * len(row) for row in moments)
        down = tuple(f"{times[k] * seconds:.2f} s" for k in range(0, self.count, self.across))
        names = (f"{seconds:g} s, {seconds / last:.2f} s apart", "")
        sheet = ContactSheet(design.name, (), down, names, rows, None, self.width or self.wide, moments=moments)
        return sheet.write("png", job.progress)
