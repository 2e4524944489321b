"""Formats of files, each in a file of its own; none changes the scene. Adding one is its file, its test, its line here."""

from under_lattice.output.cut import Cutter, Dxf
from under_lattice.output.film import Apng, Gif, Moments, MovingSvg, MovingWebp, Mp4, Sequence, Webm
from under_lattice.output.format import Format, Job
from under_lattice.output.pdf import Pdf
from under_lattice.output.photographs import Jpeg, Tiff, Webp
from under_lattice.output.plot.plotter import Hpgl, PenSvg
from under_lattice.output.png import Png
from under_lattice.output.separations import Plates
from under_lattice.output.solid import Obj, Stl, ThreeMf
from under_lattice.output.svg import Svg

FORMATS: tuple[type[Format], ...] = (
    Svg, Pdf, Png, Jpeg, Webp, Tiff, Webm, Mp4, Gif, Apng, MovingWebp, MovingSvg, Sequence, Moments, Plates, Cutter, Dxf, PenSvg,
    Hpgl, Stl, Obj, ThreeMf,
)  # fmt: skip
BY_KEY: dict[str, type[Format]] = {one.key(): one for one in FORMATS}
BY_ENDING: dict[str, type[Format]] = {}
for one in FORMATS:
    BY_ENDING.setdefault(f".{one.ending}", one)  # the first with an ending

__all__ = ["BY_ENDING", "BY_KEY", "FORMATS", "Format", "Job"]
