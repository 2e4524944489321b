"""What a format is: a frozen class whose fields are dials, what it needs of a work, and one function that writes it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Literal, Self, get_args

from under_lattice.core.errors import InputError
from under_lattice.core.progress import QUIET, Progress
from under_lattice.core.units import convert, short
from under_lattice.declare.declared import Declared
from under_lattice.declare.dials import Choice, LayerChoice, Length, NumberDial, When
from under_lattice.declare.frozen import edited
from under_lattice.declare.option_dials import Switch
from under_lattice.geometry.affine import Array
from under_lattice.scene.tree import Scene
from under_lattice.work.model import Design, Loop, Sheet, Work

Need = Literal["outlines", "pixels", "frames", "solid"]
Purpose = Literal["drawing", "print", "web page", "picture", "film", "cutter", "pen", "raised body"]
PURPOSES: dict[Purpose, str] = {
    "drawing": "to go on with in another drawing program",
    "print": "for a printer: real size, also with bleed and crop marks",
    "web page": "for a web page: small, and nothing in it that is not seen",
    "picture": "a picture in pixels",
    "film": "pictures that move: the loop of the work, one moment after another",
    "cutter": "for a machine that cuts along closed outlines",
    "pen": "for a pen plotter: lines, each drawn once",
    "raised body": "for a machine that builds or carves what is raised",
}
Part = Literal["the sheet", "the cell", "a region"]
IN_REGION = (When(field="part", values=("a region",), reason="only for a region"),)
WITHOUT_GROUND = Switch("Without ground", "The ground colour is left out.")
WITH_RECIPE = Switch("Recipe inside", "So that the file can be opened again as live work.")


@dataclass(frozen=True)
class Job:
    """What is written: an evaluated scene on its sheet, the live work that goes into the file, and progress.

    With `tile` (2, 2) the page is filled with the parallelogram of these two translations, about the middle of the scene.
    """

    scene: Scene
    sheet: Sheet
    work: Work | None = None
    progress: Progress = QUIET
    tile: Array | None = None


class Format(Declared):
    """One format of files; its fields are its options.

    Attributes
    ----------
    ending : str
        Of file names, without the dot.
    name : str
        Tells it from others with the same ending; the ending itself where it is the only one, or the first.
    title, words : str
        What it is called, and what it is for.
    purposes : tuple of str
        Whom it is for; those without any are for everybody.
    needs : set of str
        What it makes of a work: outlines, pixels, frames of a loop, or a solid.
    """

    ending: ClassVar[str] = ""
    name: ClassVar[str] = ""
    title: ClassVar[str] = ""
    words: ClassVar[str] = ""
    needs: ClassVar[frozenset[Need]] = frozenset()
    purposes: ClassVar[tuple[Purpose, ...]] = ()

    part: Annotated[
        Part,
        Choice("What goes out", "All of the sheet, the smallest upright repeat, or a part of the sheet.", options=get_args(Part)),
    ] = "the sheet"
    layer: Annotated[str, LayerChoice("Layers", "All that are seen, or one of them, or a group, by itself.", groups=True)] = ""
    region_x: Annotated[float, Length("Left edge", "Of the region, from the middle of the sheet.", when=IN_REGION)] = 0.0
    region_y: Annotated[float, Length("Top edge", "Of the region, from the middle of the sheet.", when=IN_REGION)] = 0.0
    region_width: Annotated[float, Length("Region width", "From its left edge.", least=0.001, when=IN_REGION)] = 100.0
    region_height: Annotated[float, Length("Region height", "From its top edge.", least=0.001, when=IN_REGION)] = 100.0

    @classmethod
    def first(cls, sheet: Sheet, purpose: Purpose | None = None) -> Self:
        """Return it with good first values for a sheet and for whom it is; its own lengths, in mm, are brought to the unit."""
        mm = convert(1.0, "mm", sheet.unit, sheet.resolution)
        lengths = [name for name, dial in cls.dials().items() if dial.kind == "length"]
        begin = {name: cls.model_fields[name].default for name in lengths} | cls.first_for(purpose)
        return cls(**{name: float(short(value * mm, 4)) if name in lengths else value for name, value in begin.items()})

    @classmethod
    def first_for(cls, purpose: Purpose | None) -> dict[str, Any]:
        """Return the options that begin otherwise for a purpose; lengths in mm."""
        return {}

    @classmethod
    def key(cls) -> str:
        """Return what it is chosen by."""
        return cls.name or cls.ending

    def shown(self, sheet: Sheet, loop: Loop) -> dict[str, float]:
        """Return the numbers as they come out on a page and over a loop, by option, each in the unit of its dial."""
        return {name: getattr(self, name) for name, dial in self.dials().items() if isinstance(dial, NumberDial)}

    @property
    def room(self) -> float:
        """How far beyond the page what is drawn goes out too, in the unit of the sheet."""
        return 0.0

    @property
    def fills_sheet(self) -> bool:
        """Whether a cell stands in the file once, as a pattern, and fills a page as large as the sheet."""
        return self.part == "the cell" and bool(getattr(self, "pattern", False))

    def picture_width(self, scene: Scene, work: Work | None, most: int) -> int:
        """Return how many px wide a page is where parts of it are pictures: `most` along its longer side.

        A cell that fills a sheet as a pattern has its share of those of the sheet.
        """
        longest, sheet = max(scene.width, scene.height), work.design.sheet if work is not None and self.fills_sheet else None
        share = longest / max(sheet.width, sheet.height, longest) if sheet is not None else 1.0
        return max(1, round(most * share * scene.width / longest))

    def proportions(self, sheet: Sheet) -> tuple[float, float, Format]:
        """Return the width and height a repeat of that size has in the file, and the options that make it so large."""
        return sheet.width, sheet.height, self

    def turned(self, name: str, value: Any) -> Format:
        """Return the format with one option set.

        Raises
        ------
        InputError
        """
        return edited(self, **{name: value})

    def with_options(self, options: Mapping[str, Any]) -> Format:
        """Return it with options as they were kept; those it does not know, of another version, are left aside."""
        out: Format = self
        for name, value in options.items():
            try:
                out = edited(out, **{name: value})
            except (InputError, KeyError):
                continue
        return out

    def size_words(self, sheet: Sheet) -> str:
        """Return how large what is written is."""
        return f"{short(sheet.width)} × {short(sheet.height)} {sheet.unit}"  # noqa: RUF001

    def notes(self, design: Design) -> tuple[str, ...]:
        """Return what a reader of the file should know of it, in sentences."""
        return ()

    def write(self, job: Job) -> bytes:
        """Return the file.

        Raises
        ------
        LatticeError, GivenUp
        """
        raise InputError("a format writes itself")
