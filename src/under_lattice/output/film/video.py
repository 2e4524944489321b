"""WebM and MP4 through PyAV: colours by BT.709, marked as such."""

from __future__ import annotations

import io
import os
from fractions import Fraction
from typing import Annotated, Any, ClassVar, Literal

import numpy as np

from under_lattice.core.errors import InputError
from under_lattice.declare.dials import Choice, Count
from under_lattice.declare.option_dials import Switch
from under_lattice.geometry.affine import Array
from under_lattice.output.film.film import Film
from under_lattice.output.format import WITHOUT_GROUND, Job
from under_lattice.work.model import Design

BT709 = 1  # of primaries, transfer and matrix, in the numbers of ITU-T H.273
LEAST = 64  # px to a side, which AV1 takes
PLAIN, FULL, CLEAR = "yuv420p", "yuv444p", "yuva420p"


class _Video(Film):
    """What both share."""

    codec: ClassVar[str] = ""
    container: ClassVar[str] = ""
    quality: Annotated[int, Count("Quality", "100 is the best and the largest.", least=1, most=100)] = 85

    def _options(self) -> dict[str, str]:
        """What the codec is told."""
        return {}

    @property
    def pixel_form(self) -> str:
        """How colours are kept."""
        return PLAIN

    def write(self, job: Job) -> bytes:
        """Return the film.

        Raises
        ------
        LatticeError, GivenUp
        """
        assert job.work is not None
        rate = self.timing(job.work.design)[1]
        wide, high = self.size(job.sheet)
        av = _av()
        out = io.BytesIO()
        with av.open(out, "w", format=self.container) as file:
            try:
                stream: Any = file.add_stream(self.codec, rate=rate, options=self._options())
            except (av.FFmpegError, ValueError) as error:
                raise InputError(f"the codec {self.codec} of {self.title} is missing here ({error}); choose another form") from None
            stream.width, stream.height, stream.pix_fmt = wide, high, self.pixel_form
            own = stream.codec_context
            own.time_base = Fraction(1, rate)
            own.color_primaries = own.color_trc = own.colorspace = BT709
            own.color_range = 1
            for k, pixels in enumerate(self.whole(job)):
                file.mux(stream.encode(self._frame(av, pixels, k, rate)))
            file.mux(stream.encode())
        return out.getvalue()

    def _frame(self, av: Any, pixels: Array, number: int, rate: int) -> Any:
        form = "rgba" if pixels.shape[2] == 4 else "rgb24"
        frame = av.VideoFrame.from_ndarray(np.ascontiguousarray(pixels), format=form)
        frame = frame.reformat(
            format=self.pixel_form, dst_colorspace="ITU709", src_color_range="JPEG", dst_color_range="MPEG", interpolation="AREA"
        )
        frame.pts, frame.time_base = number, Fraction(1, rate)
        return frame


class Webm(_Video):
    """VP9 in WebM, for web pages and players; clear parts where asked for."""

    ending: ClassVar[str] = "webm"
    title: ClassVar[str] = "WebM"
    words: ClassVar[str] = "a film for web pages and players (VP9)"
    codec: ClassVar[str] = "libvpx-vp9"
    container: ClassVar[str] = "webm"
    widths: ClassVar[str] = "even widths only, or full colour"
    clear: ClassVar[bool] = True

    transparent: Annotated[bool, WITHOUT_GROUND] = False
    colour: Annotated[
        Literal["for every player", "full"],
        Choice("Colour", "For every player: colour at half the fineness. Full: as fine as the picture, which some do not show.",
               options=("for every player", "full")),
    ] = "for every player"  # fmt: skip

    smaller: Annotated[bool, Switch("Smaller file", "By about a fifth, in six times the time.", main=False)] = False

    @property
    def pixel_form(self) -> str:
        """How colours are kept: clear parts go with colour at half the fineness."""
        return CLEAR if self.transparent else FULL if self.colour == "full" else PLAIN

    @property
    def even(self) -> bool:
        """Whether colour is kept at half the fineness."""
        return self.pixel_form != FULL

    def _options(self) -> dict[str, str]:
        crf = round(4 + (100 - self.quality) * 0.55)
        effort = {"deadline": "good", "cpu-used": "5"} if self.smaller else {"deadline": "realtime", "cpu-used": "6"}
        said = {"crf": str(crf), "b": "0", "row-mt": "1", "threads": "2", "tile-columns": "2"} | effort
        return said | ({"auto-alt-ref": "0"} if self.transparent else {})


class Mp4(_Video):
    """AV1 in MP4."""

    ending: ClassVar[str] = "mp4"
    title: ClassVar[str] = "MP4"
    words: ClassVar[str] = "a film for players (AV1)"
    codec: ClassVar[str] = "libsvtav1"
    container: ClassVar[str] = "mp4"

    @property
    def even(self) -> bool:
        """Whether its form takes even widths and heights only: AV1 has no other."""
        return True

    def size(self, sheet: Any) -> tuple[int, int]:
        """Return width and height, px; none below what AV1 takes."""
        wide, high = super().size(sheet)
        if min(wide, high) < LEAST:
            raise InputError(f"{self.title} takes at least {LEAST} px to a side; these pictures have {wide} × {high}", "Width")  # noqa: RUF001
        return wide, high

    def notes(self, design: Design) -> tuple[str, ...]:
        """Return how many pictures there are, and which codec is used."""
        return (*super().notes(design), "AV1 in MP4: older players do not show it; WebM is shown by more")

    def _options(self) -> dict[str, str]:
        return {"crf": str(round(10 + (100 - self.quality) * 0.5)), "preset": "8"}


def _av() -> Any:
    """PyAV, loaded where a film is written; its codecs say nothing on the terminal."""
    os.environ.setdefault("SVT_LOG", "0")
    try:
        import av
        import av.logging
    except ImportError:
        raise InputError("films need PyAV, which is not there; ./start installs it. Animated WebP or PNG go without") from None
    av.logging.set_level(av.logging.PANIC)
    return av
