"""What every rule is: frozen settings with declared dials, and one pure function of its family."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from typing import Any, ClassVar, Literal, Self

from under_lattice.colour.ramp import Stop
from under_lattice.colour.ramp_text import stops_of_text
from under_lattice.core.errors import InputError
from under_lattice.core.plain import Name
from under_lattice.declare.declared import Declared, dials_of
from under_lattice.declare.dials import Dial, NumberDial
from under_lattice.geometry.affine import IDENTITY, Array
from under_lattice.geometry.outline import Outline
from under_lattice.pattern.marks import Coat, MarkAsk, Marks
from under_lattice.pattern.stage import Stage
from under_lattice.rules.findings import Cure, NoEffect, Placed, Site, Warn
from under_lattice.rules.ground import Ground, Standing
from under_lattice.rules.handles import Drag, HandleSet
from under_lattice.rules.surroundings import Start, Surroundings
from under_lattice.vary.numbers import Varied

EVERY = "*"  # among the locked dials of a rule: all of them
RuleFamily = Literal["motif", "shape", "copies", "repeat", "paint", "finish", "end", "unknown"]


class Rule(Declared):
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
        Dials that variations leave alone; `EVERY` stands for all.
    ties : tuple of (str, str)
        Places (a dial, or ``dial.start`` of one that varies) that follow a named dial of the work, and its id.
    """

    kind: str
    title: ClassVar[str] = ""
    words: ClassVar[str] = ""
    search: ClassVar[str] = ""
    family: ClassVar[RuleFamily] = "unknown"
    own_steps: ClassVar[tuple[str, ...]] = ()  # dials that may vary by the steps of the rule itself
    on_net: ClassVar[bool] = False  # it lays copies on a net of equal cells
    goes_beyond: ClassVar[bool] = False  # it is meant to pass the edge of the sheet
    pick_words: ClassVar[str] = ""  # of a kind that takes copies picked by hand: the command that adds one
    piecewise: ClassVar[bool] = False  # of a motif: it is a heap of pieces, which are counted
    sees_sheet: ClassVar[bool] = False  # it reads where the sheet is, through what stands below it
    works_in: ClassVar[str] = ""  # of a finish: in which values of colours
    by_tones: ClassVar[bool] = False  # of a finish: it is set by what tones come into it
    tiles: ClassVar[bool] = False  # of a motif: it is a cell of tiles that says how it is laid

    id: str = ""
    handle: str = ""
    name: Name = ""
    on: bool = True
    locked: tuple[str, ...] = ()
    ties: tuple[tuple[str, str], ...] = ()  # places that follow a named dial, and its id

    def _kept(self, dial: Dial, value: Any) -> Any:
        """Return what a dial keeps of a value; a number that varies keeps to its range at all it was given."""
        if not isinstance(value, Varied):
            return dial.check(value)
        self._check_varied(dial, value)
        return value

    @staticmethod
    def _check_varied(dial: Dial, value: Varied) -> None:
        if not isinstance(dial, NumberDial) or not dial.vary:
            raise InputError("this number cannot vary", dial.label)
        dial.check(value.start)
        dial.check(value.end)
        for one in value.taken:
            dial.check(one)

    @classmethod
    def noun(cls) -> str:
        """Return what it is called where motifs are chosen."""
        return re.sub(r"(?<=[a-z])(?=[A-Z])", " ", cls.__name__).capitalize()

    def called(self) -> str:
        """Return what a layer that begins with it is called at first."""
        return self.noun()

    def holds(self, name: str) -> bool:
        """Tell whether variations leave a dial alone."""
        return name in self.locked or EVERY in self.locked

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

    def shown_handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return what can be dragged on the sheet, as it stands there."""
        return self.handles(above, stage, ground, unit)

    def pulled(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Return the changes of settings that follow a handle dragged as it stands there."""
        return self.dragged(drag, above, stage, ground)

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

    @property
    def construction(self) -> frozenset[int] | None:
        """Which parts of what stands above are outlines that never go out, numbers from 1 on; empty for all, None for no rule."""
        return None

    def ramp_stops(self, name: str) -> tuple[Stop, ...]:
        """Return the stops of a ramp in its dial."""
        return stops_of_text(getattr(self, name))

    @property
    def keeps_colours(self) -> bool:
        """Whether inks below it have no say, because it brings its own."""
        return False

    @property
    def linked(self) -> str:
        """The id of the layer or group it shows just as that is, or nothing."""
        return ""

    @property
    def takes_picks(self) -> bool:
        """Whether copies picked by hand go here."""
        return False

    @classmethod
    def for_picks(cls) -> Self:
        """Return a fresh rule that takes copies picked by hand."""
        return cls.model_validate({})

    # -- what it does ----------------------------------------------------------------------------
    def acts(self, above: Stage | None, ground: Ground) -> Stage | None:
        """Return the copies after this rule; those above where it changes none.

        Raises
        ------
        RuleRefused, LimitError
        """
        return above

    def lays(self, inks: Sequence[Any]) -> bool:
        """Tell whether it lays a coat or changes one, after the `inks` above it."""
        return False

    def paint(self, ask: MarkAsk, marks: Marks, coats: tuple[Coat, ...], at: Standing) -> tuple[Coat, ...]:
        """Return the coats after this rule, at the horizon the marks were drawn for."""
        return coats

    def seen_through(self, above: Stage, ground: Ground) -> Array | None:
        """Return the one map (2, 3) this rule applies to all that stands above it, or None if it is not one and the same."""
        return IDENTITY

    def without_effect(self, motif: Rule | None = None) -> Mapping[str, NoEffect]:
        """Return the dials that are there to be turned and yet change nothing as the others and the `motif` stand.

        The whole rule is told of under an empty name.
        """
        return {}

    # -- what it says of the work ----------------------------------------------------------------
    def said(self, placed: Placed, unit: str) -> Mapping[str, str]:
        """Return words beside dials, by dial."""
        return placed.stage.found.said

    def warnings(self, placed: Placed, site: Site) -> Iterable[Warn]:
        """Return what needs attention that only this kind of rule knows."""
        return ()

    @property
    def at_rest(self) -> str:
        """Why it leaves every copy as it was, when it does; nothing of a kind that comes so and says it in its key line."""
        return "all its numbers are at rest"

    def overlap_cure(self, gap: float, stage: Stage) -> Cure | None:
        """Return the number of this rule that ends a slight overlap, if one does; `gap`, below zero, in the unit of the work."""
        return None

    def rests(self, stages: Mapping[str, Stage], repeat_below: str) -> str:
        """Return why it does nothing on the copies of other rules, by their ids, or nothing."""
        return ""

    def repeating_cell(self, stage: Stage) -> dict[str, Any] | None:
        """Return the smallest rectangle or parallelogram that repeats its copies, in words and lengths."""
        return None

    @classmethod
    def mends(cls, site: Site) -> Iterable[Warn]:
        """Return what needs attention at the end of a chain and a rule of this kind would end."""
        return ()

    # -- what it begins with ---------------------------------------------------------------------
    @classmethod
    def suggested(cls, around: Surroundings) -> dict[str, Any]:
        """Return the numbers of a fresh rule that suit the place it is put into."""
        return {}

    def starts(self, around: Surroundings) -> tuple[Start, ...]:
        """Return the named starts it offers where it stands."""
        return ()

    def layers(self) -> tuple[str, ...]:
        """Return the ids of the other layers this rule reads."""
        return ()

    def reads_beyond(self, layer: str, width: float, height: float) -> float:
        """Return how many times as large as the sheet, so wide and high, a layer it reads should be seen; 1 for no larger."""
        return 1.0

    def pictures(self) -> tuple[str, ...]:
        """Return the ids of the pictures this rule and its numbers use."""
        found = [getattr(self, name) for name, dial in self.dials().items() if dial.kind == "picture"]
        for name in self.dials():
            value = getattr(self, name)
            if isinstance(value, Varied):
                found += [value.picture, value.second.picture if value.second else ""]
        return tuple(one for one in found if one)

    def own_body(self) -> Outline | None:
        """Return the body of a motif's shape, in units of the work, where nothing is known of that; None for other rules.

        Raises
        ------
        LatticeError
        """
        return None

    def by_picture(self) -> str:
        """Return the dial that is chosen by pictures of this work, as it stands, or nothing."""
        return ""

    def idle_dials(self) -> set[str]:
        """Return the names of the dials that have no effect now."""
        return {
            name
            for name, dial in dials_of(type(self)).items()
            for when in dial.when
            if getattr(self, when.field) not in when.values
        }

    def idle(self, name: str) -> str:
        """Return why dial `name` has no effect now, or nothing."""
        return self.dials()[name].idle(self)


def describe(value: Any, unit: str, digits: int = 2) -> str:
    """Return a constant or varied number in words, in the given unit."""
    tail = "" if unit in ("", "°") else " "
    if isinstance(value, Varied) and value.formula:
        return f"= {value.formula}"
    if isinstance(value, Varied):
        return f"{value.start:.{digits}f} → {value.end:.{digits}f}{tail}{unit}".replace("-", "−")  # noqa: RUF001
    return f"{float(value):.{digits}f}{tail}{unit}".replace("-", "−")  # noqa: RUF001
