"""What every rule is: frozen settings with declared dials, and one pure function of its family."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from functools import cache
from typing import Any, ClassVar, Literal, Self

import numpy as np
from pydantic import model_validator

from under_lattice.core.errors import InputError
from under_lattice.core.progress import QUIET, Progress
from under_lattice.declare.dials import Dial, NumberDial
from under_lattice.declare.frozen import Frozen
from under_lattice.geometry.affine import IDENTITY, Array
from under_lattice.pattern.known import NOTHING_KNOWN, Known
from under_lattice.pattern.marks import Marks, Picture
from under_lattice.pattern.stage import Shape, Stage, start
from under_lattice.rules.handles import Drag, HandleSet
from under_lattice.vary.numbers import Varied

RuleFamily = Literal["motif", "shape", "copies", "repeat", "paint", "end", "unknown"]


@dataclass(frozen=True)
class Ground:
    """What a rule may know of the work around it.

    Attributes
    ----------
    back : (2, 3)
        The place of the rule -> the sheet, through what stands below it.
    known : Known
        What numbers may know.
    repeat_below : str
        Id of the nearest repeat below the rule, or nothing.
    layers : mapping of Marks
        Other layers a rule has asked for, by id, as they lie on the sheet.
    drawn : mapping of Picture
        The same with their inks.
    pixels : callable
        Gives the pixels (H, W, 4) uint8 of a picture of the work by its id, or None.
    here : str
        Id of the rule whose copies stand above.
    progress : Progress
        For what takes long.
    """

    back: Array
    known: Known = NOTHING_KNOWN
    repeat_below: str = ""
    layers: Mapping[str, Marks] = field(default_factory=dict)
    drawn: Mapping[str, Picture] = field(default_factory=dict)
    pixels: Callable[[str], Array | None] = lambda _: None
    here: str = ""
    progress: Progress = QUIET

    @staticmethod
    def on(width: float, height: float) -> Ground:
        """Return the ground of a sheet of that size, in the work's unit, with nothing else on it."""
        return Ground(IDENTITY, replace(NOTHING_KNOWN, width=width, height=height))

    @property
    def width(self) -> float:
        """Of the sheet, in the work's unit."""
        return self.known.width

    @property
    def height(self) -> float:
        """Of the sheet, in the work's unit."""
        return self.known.height

    def sheet(self, margin: float = 0.0) -> Array:
        """Corners (4, 2) of the sheet grown by `margin`."""
        x, y = max(0.0, self.width / 2 + margin), max(0.0, self.height / 2 + margin)
        return np.array([(-x, -y), (x, -y), (x, y), (-x, y)])


PLAIN = Ground.on(100.0, 100.0)


class Rule(Frozen):
    """One rule of a chain.

    Attributes
    ----------
    id : str
        Hidden, made once; numbers that vary name it.
    handle : str
        Unique in its layer; used on the command line.
    name : str
        Free; the kind's title when empty.
    on : bool
    locked : tuple of str
        Dials that variations leave alone.
    ties : tuple of (str, str)
        Places (a dial, or ``dial.start`` of one that varies) that follow a named dial of the work, and its id.
    """

    kind: str
    title: ClassVar[str] = ""
    words: ClassVar[str] = ""
    search: ClassVar[str] = ""
    family: ClassVar[RuleFamily] = "unknown"
    own_steps: ClassVar[tuple[str, ...]] = ()  # dials that may vary by the steps of the rule itself

    id: str = ""
    handle: str = ""
    name: str = ""
    on: bool = True
    locked: tuple[str, ...] = ()
    ties: tuple[tuple[str, str], ...] = ()  # places that follow a named dial, and its id

    @classmethod
    def dials(cls) -> dict[str, Dial]:
        """Return the declared dials by field name, in order."""
        return _dials(cls)

    @model_validator(mode="after")
    def _in_range(self) -> Self:
        for name, dial in self.dials().items():
            value = getattr(self, name)
            try:
                if isinstance(value, Varied):
                    self._check_varied(dial, value)
                else:
                    kept = dial.check(value)
                    if kept != value:
                        object.__setattr__(self, name, kept)
            except InputError as error:
                raise ValueError(f"{dial.label}: {error.message}") from None
        return self

    @staticmethod
    def _check_varied(dial: Dial, value: Varied) -> None:
        if not isinstance(dial, NumberDial) or not dial.vary:
            raise InputError("this number cannot vary", dial.label)
        dial.check(value.start)
        dial.check(value.end)
        for one in value.taken:
            dial.check(one)

    def shown_name(self) -> str:
        """Return the given name, or the kind's title."""
        return self.name or self.title

    def key_line(self, unit: str) -> str:
        """Return one or two key numbers, in words."""
        return ""

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return what can be dragged on the sheet, in the place of this rule.

        Parameters
        ----------
        above, stage : Stage
            Before and after this rule; the same for a motif.
        ground : Ground
        unit : str
            For lengths in words.
        """
        return None

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Return the changes of settings that follow a dragged handle."""
        return {}

    def reworked(self, work: str, name: str, at: Array) -> dict[str, Any]:
        """Return the changes of settings that work on points of an outline brings.

        Parameters
        ----------
        work : str
            add, remove, smooth or straight.
        name : str
            Of the picked handle.
        at : (2,)
            Of the pointer, in the place of the rule.

        Raises
        ------
        InputError
        """
        raise InputError("the open rule has no points to work on; open the motif of an outline or a drawn curve")

    def drawn(self, line: Array) -> dict[str, Any]:
        """Return the changes of settings that follow from a line (n, 2) drawn on the sheet, in the place of the rule.

        Raises
        ------
        InputError
        """
        raise InputError("the open rule takes no drawn line; open a drawn curve")

    def converted(self, name: str, value: Any) -> dict[str, Any]:
        """Return the changes that setting `name` to `value` brings; more than one where settings hang together."""
        return {name: value}

    def layers(self) -> tuple[str, ...]:
        """Return the ids of the other layers this rule reads."""
        return ()

    def pictures(self) -> tuple[str, ...]:
        """Return the ids of the pictures this rule and its numbers use."""
        found = [getattr(self, name) for name, dial in self.dials().items() if dial.kind == "picture"]
        for name in self.dials():
            value = getattr(self, name)
            if isinstance(value, Varied):
                found += [value.picture, value.second.picture if value.second else ""]
        return tuple(one for one in found if one)

    def idle(self, name: str) -> str:
        """Return why dial `name` has no effect now, or nothing."""
        return self.dials()[name].idle(self)


@cache
def _dials(cls: type[Rule]) -> dict[str, Dial]:
    found = {}
    for name, info in cls.model_fields.items():
        for extra in info.metadata:
            if isinstance(extra, Dial):
                found[name] = extra
    return found


class MotifRule(Rule):
    """The first rule of a chain: the shape."""

    family: ClassVar[RuleFamily] = "motif"

    @classmethod
    def noun(cls) -> str:
        """Return what it is called where motifs are chosen."""
        return re.sub(r"(?<=[a-z])(?=[A-Z])", " ", cls.__name__).capitalize()

    def shape(self) -> Shape:
        """Return the lazy shape."""
        raise InputError("a motif draws its own shape")

    def shape_on(self, ground: Ground) -> Shape:
        """Return the lazy shape on a sheet; of most motifs the same on all.

        Raises
        ------
        RuleRefused
        """
        return self.shape()

    def begin(self, ground: Ground) -> Stage:
        """Return the copies a chain begins with: of most motifs the one.

        Raises
        ------
        RuleRefused
        """
        return start(self.shape_on(ground), self.id)


class ShapeRule(Rule):
    """Reshapes what stands above; draws nothing until copies ask."""

    family: ClassVar[RuleFamily] = "shape"

    def reshape(self, shape: Shape, ground: Ground) -> Shape:
        """Return a taller shape tree."""
        raise InputError("a shape rule reshapes")


class CopyRule(Rule):
    """Places copies: eager, over whole arrays."""

    family: ClassVar[RuleFamily] = "copies"

    @property
    def at_rest(self) -> str:
        """Why it leaves every copy as it was, when it does."""
        return "there is one copy only" if self.family == "repeat" else "all its numbers are at rest"

    def place(self, above: Stage, ground: Ground) -> Stage:
        """Return the copies after this rule."""
        raise InputError("a copy rule places copies")

    def laid(self, above: Stage, ground: Ground) -> Stage:
        """Return the copies after this rule, in the order in which they lie over each other."""
        return self.place(above, ground)

    def seen_through(self, above: Stage, ground: Ground) -> Array | None:
        """Return the one map (2, 3) this rule applies to all that stands above it, if it is one and the same."""
        return None


def describe(value: Any, unit: str, digits: int = 2) -> str:
    """Return a constant or varied number in words."""
    tail = "" if unit in ("", "°") else " "
    if isinstance(value, Varied) and value.formula:
        return f"= {value.formula}"
    if isinstance(value, Varied):
        return f"{value.start:.{digits}f} → {value.end:.{digits}f}{tail}{unit}".replace("-", "−")  # noqa: RUF001
    return f"{float(value):.{digits}f}{tail}{unit}".replace("-", "−")  # noqa: RUF001
