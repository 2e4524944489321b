"""What all films share: how long, how fine and how large they are, and the moments they show."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, ClassVar, Literal

import numpy as np

from under_lattice.colour.premultiplied import on_ground, straight
from under_lattice.core.errors import InputError, LimitError
from under_lattice.declare.dials import Choice, Count, Dial
from under_lattice.declare.frozen import edited
from under_lattice.declare.option_dials import PixelCount, Seconds
from under_lattice.frames.standing import standing
from under_lattice.geometry.affine import Array
from under_lattice.output.film.painting import Order, pictures
from under_lattice.output.format import Format, Job, Need, Purpose
from under_lattice.scene.tree import View
from under_lattice.work.model import Design, Loop, Sheet

PICTURES_MOST = 20_000
STILL = "nothing moves in this work: all pictures are alike"
SIDE_MOST = 8192  # px
REGION = frozenset({"part", "region_x", "region_y", "region_width", "region_height"})


class Film(Format):
    """Pictures of the loop, one after another."""

    needs: ClassVar[frozenset[Need]] = frozenset({"frames"})
    purposes: ClassVar[tuple[Purpose, ...]] = ("film",)
    widths: ClassVar[str] = "even widths only"  # what it takes where it is even
    clear: ClassVar[bool] = False  # its form knows clear parts
    wide: ClassVar[int] = 648  # px, where no width is given
    without: ClassVar[frozenset[str]] = frozenset()  # options of films it has no use for

    part: Annotated[
        Literal["the sheet", "a region"],
        Choice("What goes out", "All of the sheet, or a part of it.", options=("the sheet", "a region")),
    ] = "the sheet"
    width: Annotated[int, PixelCount("Width", "Of each picture; 0 is its usual width.", least=0, most=SIDE_MOST)] = 0
    seconds: Annotated[float, Seconds("Length", "Of one round; 0 is that of the work's loop.")] = 0.0
    rate: Annotated[int, Count("Pictures a second", "0 is as many as the work's loop has.", least=0, most=120)] = 0
    rounds: Annotated[int, Count("Rounds", "How often the loop is gone through, one after the other.", most=100, main=False)] = 1
    processes: Annotated[
        int, Count("Processes", "That paint pictures side by side, none in a window of one core.", most=16, main=False)
    ] = 2

    @classmethod
    def dials(cls) -> dict[str, Dial]:
        """Return the options it has, by name."""
        return {name: dial for name, dial in super().dials().items() if name not in cls.without}

    @property
    def even(self) -> bool:
        """Whether its form takes even widths and heights only."""
        return False

    @property
    def transparent_now(self) -> bool:
        """Whether the ground is left out."""
        return bool(getattr(self, "transparent", False)) and self.clear

    def shown(self, sheet: Sheet, loop: Loop) -> dict[str, float]:
        """Return the numbers as they come out; the size, length and rate of the work where none are given."""
        numbers = {"width": self.width or self.wide, "seconds": self.seconds or loop.seconds, "rate": self.rate or loop.rate}
        return super().shown(sheet, loop) | numbers

    def timing(self, design: Design) -> tuple[float, int, int]:
        """Return seconds of one round, pictures a second, and how many pictures one round has.

        Raises
        ------
        LimitError
            When there would be too many pictures.
        """
        seconds, rate = self.seconds or design.loop.seconds, self.rate or design.loop.rate
        count = max(1, round(seconds * rate))
        if count * self.rounds > PICTURES_MOST:
            raise LimitError(
                f"{count * self.rounds:,} pictures are too many for one film; at most {PICTURES_MOST:,}, "
                f"which at {rate} a second are {PICTURES_MOST // rate:,} s"
            )
        return seconds, rate, count

    def size(self, sheet: Sheet) -> tuple[int, int]:
        """Return width and height of each picture, px.

        Raises
        ------
        InputError
            When the form does not take them; it says what it takes.
        """
        wide = self.width or self.wide
        if self.even and wide % 2:
            raise InputError(f"{self.title} takes {self.widths}: {wide + 1} px instead of {wide}", "Width")
        high = max(2, round(sheet.height * wide / sheet.width))
        if high > SIDE_MOST:
            raise InputError(f"the pictures would be {high} px high; at most {SIDE_MOST} px to a side", "Width")
        return wide, high + (high % 2 if self.even else 0)

    def size_words(self, sheet: Sheet) -> str:
        """Return how large the pictures are, or why they cannot be."""
        try:
            wide, high = self.size(sheet)
        except InputError as error:
            return error.message
        return f"{wide} × {high} px"  # noqa: RUF001

    def notes(self, design: Design) -> tuple[str, ...]:
        """Return how many pictures there are, and what does not move."""
        try:
            seconds, rate, count = self.timing(design)
        except LimitError as error:
            return (str(error),)
        rounds = f", gone through {self.rounds} times" if self.rounds > 1 else ""
        said = f"{count:,} pictures, {seconds:g} s at {rate} a second{rounds}"
        return (said, *self.still(design))

    def still(self, design: Design) -> tuple[str, ...]:
        """Return that nothing moves, where that is so."""
        return () if standing(design)[1] else (STILL,)

    def order(self, job: Job) -> Order:
        """Return what is painted: the design, each moment once, and the view.

        Raises
        ------
        InputError, LimitError
        """
        assert job.work is not None
        design = job.work.design
        count = self.timing(design)[2]
        wide, high = self.size(job.sheet)
        scale = wide / job.sheet.width
        x, y = (
            (self.region_x + job.sheet.width / 2, self.region_y + job.sheet.height / 2) if self.part == "a region" else (0.0, 0.0)
        )
        if self.transparent_now:
            design = edited(design, sheet=edited(design.sheet, background=""))
        view = View(wide, high, scale, wide / 2 - x * scale, high / 2 - y * scale)
        return Order(design, view, tuple(k / count for k in range(count)))

    def whole(self, job: Job) -> Iterator[Array]:
        """Yield each picture of all rounds with straight alpha, bytes (H, W, 3), or 4 where the ground is left out.

        Raises
        ------
        LatticeError, GivenUp
        """
        ground = "" if self.transparent_now else job.scene.background or "#FFFFFF"
        for pixels in pictures(self.order(job), self.rounds, self.processes, job.progress):
            yield straight(pixels) if not ground else np.ascontiguousarray(on_ground(pixels, ground)[..., :3])
