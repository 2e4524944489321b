"""What a format is: a frozen class whose fields are dials, what it needs of a work, and one function that writes it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Literal

from under_lattice.core.errors import InputError
from under_lattice.core.progress import QUIET, Progress
from under_lattice.core.units import short
from under_lattice.declare.declared import Declared
from under_lattice.declare.frozen import edited
from under_lattice.declare.option_dials import Switch
from under_lattice.scene.tree import Scene
from under_lattice.work.model import Design, Sheet, Work

Need = Literal["outlines", "pixels", "frames", "solid"]


@dataclass(frozen=True)
class Job:
    """What is written: an evaluated scene on its sheet, the live work that goes into the file, and progress."""

    scene: Scene
    sheet: Sheet
    work: Work | None = None
    progress: Progress = QUIET


class Format(Declared):
    """One format of files; its fields are its options.

    Attributes
    ----------
    ending : str
        Of file names, without the dot.
    title, words : str
        What it is called, and what it is for.
    needs : set of str
        What it makes of a work: outlines, pixels, frames of a loop, or a solid.
    """

    ending: ClassVar[str] = ""
    title: ClassVar[str] = ""
    words: ClassVar[str] = ""
    needs: ClassVar[frozenset[Need]] = frozenset()

    transparent: Annotated[bool, Switch("Without ground", "The ground colour is left out.")] = False
    recipe: Annotated[bool, Switch("Recipe inside", "So that the file can be opened again as live work.")] = True

    def shown(self, sheet: Sheet) -> dict[str, float]:
        """Return the numbers as they come out on a sheet, by option, each in the unit of its dial."""
        return {name: getattr(self, name) for name, dial in self.dials().items() if dial.kind not in ("switch", "choice")}

    def turned(self, name: str, value: Any) -> Format:
        """Return the format with one option set.

        Raises
        ------
        InputError
        """
        return edited(self, **{name: value})

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
