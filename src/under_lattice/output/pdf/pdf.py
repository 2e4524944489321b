"""The PDF format: its options, and what a reader of the file should know."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal, get_args

from under_lattice.declare.dials import Choice, Length, When
from under_lattice.declare.option_dials import Switch
from under_lattice.output.format import WITH_RECIPE, WITHOUT_GROUND, Format, Job, Need, Purpose
from under_lattice.output.svg_finishes import in_pixels
from under_lattice.work.model import Design

Pages = Literal["one", "one for each layer", "one for each ink", "one for each kept version"]
Prints = Literal["knock out", "overprint"]
OF_INKS = (When(field="pages", values=("one for each ink",), reason="only where each ink has a page"),)
OF_CELL = (When(field="part", values=("the cell",), reason="only for the cell"),)
LAP = 1.0  # units of the work
PICTURE_PX = 2400  # px of the longer side of what goes out as a picture
FINISHED = "As pictures, the sheet {} px long, stand in it: {}."
FEATHER = "Masks that go over evenly stand in it as pictures."
TURNING = "Ramps round a point stand in it as pictures: PDF has no such ramp."
PLUS = "Plus-lighter is not known to PDF: such layers lie there as normal ones."


class Pdf(Format):
    """A page at its real size, for print and for sending."""

    ending: ClassVar[str] = "pdf"
    title: ClassVar[str] = "PDF"
    words: ClassVar[str] = "a page for print"
    needs: ClassVar[frozenset[Need]] = frozenset({"outlines"})
    purposes: ClassVar[tuple[Purpose, ...]] = ("print", "drawing")

    transparent: Annotated[bool, WITHOUT_GROUND] = False
    recipe: Annotated[bool, WITH_RECIPE] = True
    bleed: Annotated[
        float, Length("Bleed", "How far the picture goes on beyond the cut, on every side.", least=0.0, most=1000.0)
    ] = 0.0
    marks: Annotated[bool, Switch("Crop marks", "Where to cut, beside the corners.")] = False
    spots: Annotated[bool, Switch("Spot colours", "Each flat colour is an ink of its own, named by its figures.")] = False
    pattern: Annotated[
        bool,
        Switch("As a pattern", "The cell stands once in the file, as a tiling pattern, and fills a page as large as the sheet.",
               when=OF_CELL),
    ] = False  # fmt: skip
    pages: Annotated[Pages, Choice("Pages", "On one, or on one for each layer, ink or kept version.", options=get_args(Pages))] = (
        "one"
    )
    prints: Annotated[
        Prints,
        Choice("Inks", "Each leaves out what others cover, or they lie over each other.", options=get_args(Prints), when=OF_INKS),
    ] = "knock out"
    trap: Annotated[float, Length("Trap", "How far an ink goes on under those it meets.", least=0.0, most=100.0, when=OF_INKS)] = (
        0.0
    )

    @classmethod
    def first_for(cls, purpose: Purpose | None) -> dict[str, Any]:
        """Return a page as printers like it."""
        return {"bleed": 3.0, "marks": True} if purpose == "print" else {}

    @property
    def room(self) -> float:
        """How far beyond the cut the picture goes on; beyond a cell that is a pattern a little, for tiles that lap over."""
        return self.bleed + (LAP if self.fills_sheet else 0.0)

    def notes(self, design: Design) -> tuple[str, ...]:
        """Say what stands in it as a picture, and what is not known to PDF."""
        rules = [rule for _, rule in design.every_rule() if rule.on]
        plus = any(getattr(rule, "blend", "") == "plus-lighter" for rule in rules)
        turning = any(getattr(rule, "inside", "") == "turning ramp" for rule in rules)
        pictures = in_pixels(design.layers)
        finished = (FINISHED.format(PICTURE_PX, ", ".join(pictures)),) if pictures else ()
        soft = any(getattr(layer.end, "feather", 0.0) for layer in design.all_layers())
        return (PLUS,) * plus + (TURNING,) * turning + (FEATHER,) * soft + finished

    def write(self, job: Job) -> bytes:
        """Return the PDF.

        Raises
        ------
        GivenUp, LimitError
        """
        from under_lattice.output.pdf.pages import written  # loads the library

        return written(self, job, PICTURE_PX)
