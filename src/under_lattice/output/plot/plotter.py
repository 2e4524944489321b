"""Formats for pens: lines drawn once, in an order that carries the pen little, one layer or pen for each colour."""

from __future__ import annotations

from collections.abc import Sequence
from html import escape
from typing import Annotated, ClassVar, Literal, NamedTuple, get_args

import numpy as np

from under_lattice.colour.colour import nearest_colours
from under_lattice.core.errors import InputError
from under_lattice.core.progress import QUIET, Progress
from under_lattice.core.units import convert, short
from under_lattice.declare.dials import Angle, Choice, Length, When
from under_lattice.declare.option_dials import Colours, Switch
from under_lattice.geometry.affine import Array
from under_lattice.output.format import Format, Job, Need, Purpose
from under_lattice.output.plot.once import once
from under_lattice.output.plot.route import ordered, travel
from under_lattice.output.plot.strokes import FILLS, OUTLINES, Fills, Outlines, Wanted, pen_lines
from under_lattice.output.svg_page import plain_head
from under_lattice.scene.tree import Scene
from under_lattice.work.model import Sheet

STEPS = 40  # of HPGL in each mm
STRAY = 0.01  # mm, by which lines may be beside curves
IN_HATCH = (When(field="fills", values=("hatched", "crossed"), reason="only for hatching"),)
Paper = Literal["as large as the page", "A5", "A4", "A3", "A2", "A1", "A0"]
PAPERS = {
    "A5": (148, 210),
    "A4": (210, 297),
    "A3": (297, 420),
    "A2": (420, 594),
    "A1": (594, 841),
    "A0": (841, 1189),
}  # mm; ISO 216
OWN_PAPER = (When(field="paper", values=("as large as the page",), reason="only without a paper size"),)
FILLED = (When(field="fills", values=("hatched", "crossed", "lines inwards"), reason="only where fills are drawn"),)


class Pen(NamedTuple):
    """What one pen draws, in its order, on the page."""

    colour: str
    lines: list[Array]


class Plot(NamedTuple):
    """Pens in their order; how far they are carried as the work lies and as ordered, in units of the page; what is left aside."""

    pens: list[Pen]
    document: float
    carried: float
    aside: tuple[str, ...]

    def words(self, unit: str) -> str:
        """Return how much is drawn, and how far pens are carried."""
        lines = sum(len(pen.lines) for pen in self.pens)
        pens = f"{len(self.pens)} {'pen' if len(self.pens) == 1 else 'pens'}"
        saved = f", {100 * (1 - self.carried / self.document):.0f} % less than as it lies" if self.document > self.carried else ""
        return f"{pens}, {lines:,} lines, {self.drawn:,.0f} {unit} drawn, {self.carried:,.0f} {unit} carried{saved}"

    @property
    def drawn(self) -> float:
        """How long all lines are, in the unit of the page."""
        return sum(float(np.hypot(*np.diff(line, axis=0).T).sum()) for pen in self.pens for line in pen.lines)


class Plotting(Format):
    """Lines for pens, a pen for each colour, or the nearest of those at hand."""

    needs: ClassVar[frozenset[Need]] = frozenset({"outlines"})
    purposes: ClassVar[tuple[Purpose, ...]] = ("pen",)

    outlines: Annotated[
        Outlines, Choice("Outlines", "Which shapes have their outline drawn besides the lines there are.", options=OUTLINES)
    ] = "where there is no line"
    fills: Annotated[Fills, Choice("Fills", "Left empty, or drawn as lines.", options=FILLS)] = "none"
    angle: Annotated[float, Angle("Angle", "Of the hatching, clockwise from the right.", when=IN_HATCH)] = 45.0
    pitch: Annotated[float, Length("Pitch", "From line to line.", least=0.01, most=1000.0, when=FILLED)] = 1.0
    pen: Annotated[float, Length("Pen width", "Fills stay half of it inside.", least=0.0, most=100.0, when=FILLED)] = 0.3
    pens: Annotated[
        str, Colours("Pens at hand", "Their colours; each line takes the nearest. Without any, a pen for each colour.")
    ] = ""
    hidden: Annotated[bool, Switch("Without what is hidden", "Lines under shapes in front of them are left out.")] = True
    paper: Annotated[
        Paper, Choice("Paper", "The page lies in the middle of it, the way it fits best.", options=get_args(Paper))
    ] = "as large as the page"
    once: Annotated[bool, Switch("Each line once", "What lies on other lines is left out, and ends that meet are joined.")] = True

    def write(self, job: Job) -> bytes:
        """Return the file.

        Raises
        ------
        GivenUp, InputError, LimitError
        """
        return self.file(self.plot(job.scene, job.sheet, job.progress), job)

    def file(self, plot: Plot, job: Job) -> bytes:
        """Return the file of what pens draw.

        Raises
        ------
        InputError
            When there is nothing.
        """
        if not plot.pens:
            raise InputError("there is nothing to draw: no line, and no outline is drawn as one")
        return self.written(plot.pens, job)

    def written(self, pens: Sequence[Pen], job: Job) -> bytes:
        """Return the file of some pens."""
        raise InputError("a format writes itself")

    def room_of(self, job: Job) -> Array:
        """Return how wide and high the paper is (2,), in the unit of the sheet: as its longer side lies along that of the page.

        Raises
        ------
        InputError
            When the page is larger.
        """
        page = np.array([job.scene.width, job.scene.height])
        if self.paper == "as large as the page":
            return page
        mm = convert(1.0, "mm", job.sheet.unit, job.sheet.resolution)
        short_side, long_side = PAPERS[self.paper]
        paper = np.array([long_side, short_side] if page[0] > page[1] else [short_side, long_side]) * mm
        if (page > paper + 1e-9).any():
            fits = next((name for name, size in PAPERS.items() if (np.sort(page) <= np.array(size) * mm + 1e-9).all()), "")
            better = f"; {fits} is large enough" if fits else "; no paper here is large enough, choose a region"
            size = f"{short(page[0])} × {short(page[1])} {job.sheet.unit}"  # noqa: RUF001
            raise InputError(f"the page of {size} is larger than {self.paper}{better}")
        return paper

    def plot(self, scene: Scene, sheet: Sheet, progress: Progress = QUIET) -> Plot:
        """Return what pens draw, each in its order.

        Raises
        ------
        GivenUp, LimitError
        """
        stray = STRAY * convert(1.0, "mm", sheet.unit, sheet.resolution)
        wanted = Wanted(self.outlines, self.fills, self.angle, self.pitch, self.pen, self.hidden, stray)
        lines, aside = pen_lines(scene, wanted, progress)
        corner = np.array([-scene.width, scene.height]) / 2  # where pens wait
        pens, before, after = list[Pen](), 0.0, 0.0
        at_hand = tuple(self.pens.split(", ")) if self.pens else ()
        pen_of = nearest_colours(tuple(dict.fromkeys(one.colour for one in lines)), at_hand)
        for colour in dict.fromkeys(pen_of.values()):
            own = [one.line for one in lines if pen_of[one.colour] == colour]
            before += travel(own, corner)
            put = ordered(once(own, progress) if self.once else own, corner, progress)
            after += travel(put, corner)
            pens.append(Pen(colour, put))
        return Plot(pens, before, after, aside)


class PenSvg(Plotting):
    """Open lines as SVG, a group for each pen, in the order of drawing."""

    ending: ClassVar[str] = "svg"
    name: ClassVar[str] = "pen"
    title: ClassVar[str] = "SVG for pens"
    words: ClassVar[str] = "lines in their order, a group for each pen"

    def written(self, pens: Sequence[Pen], job: Job) -> bytes:
        """Return the SVG of some pens."""
        paper = self.room_of(job)
        half = paper / 2
        out = plain_head(float(paper[0]), float(paper[1]), job.sheet)
        round_ = 'stroke-linecap="round" stroke-linejoin="round"'
        for k, pen in enumerate(pens, 1):
            out.append(f'<g id="pen-{k}" fill="none" stroke="{pen.colour}" stroke-width="{short(self.pen, 4)}" {round_}>')
            out.append(f"<title>{escape(f'pen {k}, {pen.colour}')}</title>")
            out += [f'<path d="{_data(line + half)}"/>' for line in pen.lines]
            out.append("</g>")
        return "\n".join([*out, "</svg>", ""]).encode()


class Hpgl(Plotting):
    """The language of pen plotters: whole steps of 0.025 mm from the lower left corner."""

    ending: ClassVar[str] = "hpgl"
    title: ClassVar[str] = "HPGL"
    words: ClassVar[str] = "for pen plotters, steps of 0.025 mm"

    rotated: Annotated[bool, Switch("Turned paper", "The page is turned by 90 degrees, for paper that lies the other way.")] = False
    margin: Annotated[
        float,
        Length("Margin", "From the corner of the paper to that of the page.", least=0.0, most=10_000.0, when=OWN_PAPER),
    ] = 0.0

    def written(self, pens: Sequence[Pen], job: Job) -> bytes:
        """Return the orders for some pens."""
        mm = convert(1.0, job.sheet.unit, "mm", job.sheet.resolution)
        half = self.room_of(job) / 2
        margin = self.margin * mm if self.paper == "as large as the page" else 0.0
        out = ["IN;"]
        for k, pen in enumerate(pens, 1):
            out.append(f"SP{k};")
            for line in pen.lines:
                up = (line * (1, -1) + half) * mm
                if self.rotated:
                    up = np.stack([2 * half[1] * mm - up[:, 1], up[:, 0]], 1)
                steps = np.rint((up + margin) * STEPS).astype(int)
                steps = steps[np.concatenate([[True], np.diff(steps, axis=0).any(1)])]
                places = [f"{x},{y}" for x, y in steps.tolist()]
                out.append(f"PU{places[0]};PD{','.join(places[1:] or places[:1])};")
        return "\n".join([*out, "PU;SP0;", ""]).encode()


def _data(line: Array) -> str:
    """A line (k, 2) as path data; a closed one ends where it begins."""
    places = [f"{short(x, 3)} {short(y, 3)}" for x, y in line.tolist()]
    return f"M{places[0]}L" + " ".join(places[1:])
