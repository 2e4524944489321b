"""Test strips: one or two things stepped across a sheet of small pictures, each a whole design.

An axis has a text form, the same on the command line, in a file and in the window: ``whirl.progression.turn=3..9/5`` for five
even steps, with ``by ratio`` behind it for even steps on a natural scale, ``tiles.lattice.form=squares; triangles`` for a list,
``*`` for all options, ``kept=*`` for kept versions.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

from under_lattice.core.errors import InputError
from under_lattice.core.units import short, typed
from under_lattice.declare.colour_dials import Palette
from under_lattice.declare.dials import Angle, Choice, Dial, NumberDial, Point
from under_lattice.declare.moving import mixed_evenly, mixed_ratio, tidied
from under_lattice.explore.movable import MOTIF, Movable, Movables, plain_motifs
from under_lattice.explore.words import said
from under_lattice.rules import KINDS
from under_lattice.rules.shared.anchor import SPOTS, Anchor
from under_lattice.work.address import Address, read_address
from under_lattice.work.model import Design, Kept

STEPS_MOST, CELLS_MOST = 24, 240
BY_RATIO = "by ratio"
RUN = re.compile(r"(?P<start>.+?)\.\.(?P<stop>.+?)/\s*(?P<count>\d+)\s*(?P<ratio>by ratio)?\s*\Z")
KEPT = "kept"


@dataclass(frozen=True)
class Step:
    """One step of an axis: its value, and the same in words."""

    value: Any
    words: str


@dataclass(frozen=True)
class Axis:
    """What is stepped, and through which values.

    Attributes
    ----------
    address : Address or None
        None for kept versions, which are whole designs.
    label : str
    steps : tuple of Step
    run : (start, stop, by ratio) or None
        Of a number that is stepped evenly.
    """

    address: Address | None
    label: str
    steps: tuple[Step, ...]
    run: tuple[float, float, bool] | None = None

    def put(self, design: Design, at: int) -> Design:
        """Return the design with one step taken.

        Raises
        ------
        InputError
        """
        if self.address is None:
            kept: Design = self.steps[at].value
            return kept
        return movable_at(design, self.address).put(design, self.steps[at].value)

    def now(self, design: Design) -> int | None:
        """Return which step a design stands at, if at any."""
        value = design if self.address is None else movable_at(design, self.address).value
        return next((k for k, step in enumerate(self.steps) if _alike(step.value, value)), None)

    def finer(self, design: Design, at: int) -> Axis:
        """Return an axis round one of its steps, half as far from one to the next; a list stays as it is."""
        if self.run is None or self.address is None:
            return self
        start, stop, ratio = self.run
        count, middle = len(self.steps), float(self.steps[at].value)
        if ratio and start > 0 and stop > 0 and middle > 0:
            factor = (stop / start) ** 0.25
            return number_axis(design, self.address, middle / factor, middle * factor, count, True)
        half = (stop - start) / 4
        return number_axis(design, self.address, middle - half, middle + half, count, ratio)

    def text(self, design: Design) -> str:
        """Return it as an order."""
        if self.address is None:
            return f"{KEPT}=" + "; ".join(step.words for step in self.steps)
        name = address_text(design, self.address)
        if self.run is not None:
            start, stop, ratio = self.run
            tail = f" {BY_RATIO}" if ratio else ""
            return f"{name}={short(start, 6)}..{short(stop, 6)}/{len(self.steps)}{tail}"
        return f"{name}=" + "; ".join(_value_text(step.value) for step in self.steps)


@dataclass(frozen=True)
class Strip:
    """A contact sheet of designs: one axis across, and if wanted one down."""

    design: Design
    across: Axis
    down: Axis | None = None

    def __post_init__(self) -> None:
        """Refuse too many pictures, and one thing on both axes.

        Raises
        ------
        InputError
        """
        if self.columns * self.rows > CELLS_MOST:
            raise InputError(f"a strip has at most {CELLS_MOST} pictures; these are {self.columns * self.rows}")
        if self.down is not None and self.down.address == self.across.address:
            raise InputError(f"{self.across.label} cannot be stepped both across and down")

    @property
    def columns(self) -> int:
        """How many pictures stand in a row."""
        return len(self.across.steps)

    @property
    def rows(self) -> int:
        """How many rows there are."""
        return len(self.down.steps) if self.down is not None else 1

    @cached_property
    def now(self) -> tuple[int, int] | None:
        """Column and row of the work as it is, if it is among them."""
        column = self.across.now(self.design)
        row = self.down.now(self.design) if self.down is not None else 0
        return (column, row) if column is not None and row is not None else None

    def cell(self, column: int, row: int = 0) -> Design:
        """Return the design of a cell; kept versions are taken first, so that the other axis holds.

        Raises
        ------
        InputError
        """
        axes = [(self.across, column)] + ([(self.down, row)] if self.down is not None else [])
        axes.sort(key=lambda one: one[0].address is not None)
        design = self.design
        for axis, at in axes:
            design = axis.put(design, at)
        return design

    def swapped(self) -> Strip:
        """Return it with across and down exchanged; one without a second axis stays."""
        return self if self.down is None else replace(self, across=self.down, down=self.across)

    def finer(self, column: int, row: int) -> Strip:
        """Return a strip round one of its cells, with steps half as large."""
        return replace(
            self,
            across=self.across.finer(self.design, column),
            down=self.down.finer(self.design, row) if self.down is not None else None,
        )


def movable_at(design: Design, address: Address) -> Movable:
    """Return what can be stepped at an address, whatever locks it.

    Raises
    ------
    InputError
    """
    found = next((one for one in Movables(design).all if address == one.address or address.dial in _with(one, address)), None)
    if found is not None:
        return found
    if not address.layer:
        raise InputError("this named dial moves nothing that is seen")
    dial = address.declared(design)
    return Movable(address, dial, address.value(design), address.found(design)[1].shown_name(), "", address.text(design))


def _with(one: Movable, address: Address) -> tuple[str, ...]:
    """The dials that move with a movable, if it stands where an address does."""
    return (
        one.beside if (one.address.layer, one.address.rule, one.address.end) == (address.layer, address.rule, address.end) else ()
    )


def number_axis(design: Design, address: Address, start: float, stop: float, count: int, ratio: bool = False) -> Axis:
    """Return even steps of a number from start to stop, both included, or steps of one ratio; within its range.

    Raises
    ------
    InputError
    """
    one = movable_at(design, address)
    dial = one.dial
    if not isinstance(dial, NumberDial):
        raise InputError(f"{dial.label} is no number; write a list of values, or * for all")
    if not 2 <= count <= STEPS_MOST:
        raise InputError(f"from 2 to {STEPS_MOST} steps are allowed, not {count}")
    start, stop = dial.held(start), dial.held(stop)
    way = mixed_ratio if ratio and not isinstance(dial, Angle) else mixed_evenly
    values = [start if k == 0 else stop if k == count - 1 else way(start, stop, k / (count - 1)) for k in range(count)]
    values = [float(round(value)) if dial.kind in ("count", "seed") else round(value, 6) for value in values]
    values = list(dict.fromkeys(values))
    if len(values) < 2:
        raise InputError(f"{dial.label} has one value from {short(start)} to {short(stop)}")
    unit = design.sheet.unit
    return Axis(one.address, _label(one), tuple(Step(value, said(value, dial, unit)) for value in values), (start, stop, ratio))


def listed_axis(design: Design, address: Address, values: Sequence[Any], words: Sequence[str] = ()) -> Axis:
    """Return steps through a list of values, with words of their own if given.

    Raises
    ------
    InputError
    """
    one = movable_at(design, address)
    if not 1 <= len(values) <= STEPS_MOST:
        raise InputError(f"from 1 to {STEPS_MOST} values are allowed, not {len(values)}")
    checked = [value if isinstance(value, Anchor) else one.dial.check(value) for value in values]
    said_so = words or [said(value, one.dial, design.sheet.unit) for value in checked]
    return Axis(one.address, _label(one), tuple(map(Step, checked, said_so)))


def options_of(dial: Dial) -> tuple[Any, ...]:
    """Return all values a dial can be stepped through: the options of a choice, the nine spots of a motif; else none."""
    if isinstance(dial, Choice):
        return dial.options[:STEPS_MOST]
    if isinstance(dial, Point):
        return tuple(Anchor(spot=f"motif {spot}") for spot in SPOTS if spot != "centroid")
    return ()


def kept_axis(kept: Sequence[Kept]) -> Axis:
    """Return steps through kept versions.

    Raises
    ------
    InputError
    """
    if not kept:
        raise InputError("no version is kept yet")
    return Axis(None, "Kept", tuple(Step(one.design, one.name) for one in kept[:STEPS_MOST]))


def suggested_axis(design: Design, address: Address, kept: Sequence[Kept] = ()) -> Axis:
    """Return an axis to begin with: five steps round a number as it is, all options of a choice, all spots of a point.

    Raises
    ------
    InputError
    """
    one = movable_at(design, address)
    if not isinstance(one.dial, NumberDial):
        values = options_of(one.dial)
        if not values:
            raise InputError(f"{one.dial.label} cannot be stepped")
        return listed_axis(design, address, values)
    value, dial = float(one.value), one.dial
    low, high = dial.slides
    if dial.kind in ("count", "seed"):
        wide = 2 * max(1.0, round(abs(value) / 8))
    elif low > 0 and high < 2 * low:  # a little makes much of it
        wide = (high - low) / 8
    else:
        wide = tidied(abs(value) / 2 or 10 * dial.step)
    start, stop = dial.held(value - wide), dial.held(value + wide)
    if stop - value != value - start:  # at an end of its range: all the steps to the other side
        start, stop = (value - wide, value) if value - start > stop - value else (value, value + wide)
    return number_axis(design, address, dial.held(start), dial.held(stop), 5)


def read_axis(design: Design, order: str, kept: Sequence[Kept] = (), palettes: Mapping[str, tuple[str, ...]] | None = None) -> Axis:
    """Return the axis an order means.

    Parameters
    ----------
    design
    order : str
    kept : sequence of Kept
    palettes : mapping
        Named palettes, which a palette may be stepped through.

    Raises
    ------
    InputError
        Says what cannot be read, and what is allowed.
    """
    name, equals, text = order.partition("=")
    name, text = name.strip(), text.strip()
    if not equals or not text:
        raise InputError(f"“{order}” is not LAYER.RULE.NUMBER=FROM..TO/STEPS, nor a list of values, nor * for all")
    if name == KEPT:
        wanted = [part.strip() for part in text.split(";")]
        return kept_axis([one for one in kept if text == "*" or one.name in wanted])
    address = _read(design, name)
    one = movable_at(design, address)
    run = RUN.match(text)
    if run and isinstance(one.dial, NumberDial):
        ends = [_number(part, one, design) for part in (run["start"], run["stop"])]
        return number_axis(design, one.address, ends[0], ends[1], int(run["count"]), bool(run["ratio"]))
    if text == "*":
        if isinstance(one.dial, Palette) and palettes:
            return listed_axis(design, one.address, list(palettes.values()), list(palettes))
        values = options_of(one.dial)
        if not values:
            raise InputError(f"{one.dial.label} has no list of options; write FROM..TO/STEPS or values with ; between")
        return listed_axis(design, one.address, values)
    parts = [part.strip() for part in text.split(";") if part.strip()]
    return listed_axis(design, one.address, [_value(part, one, design, palettes or {}) for part in parts])


def _read(design: Design, name: str) -> Address:
    if name.startswith("dials.") and name.count(".") == 1:
        found = next((one for one in design.dials if one.handle == name[6:]), None)
        if found is None:
            raise InputError(f"there is no named dial “{name[6:]}”")
        return Address("", "", found.id)
    parts = name.split(".")
    if parts[-1] == MOTIF and len(parts) == 3:
        layer = read_address(design, f"{parts[0]}.layer.opacity").layer
        return Address(layer, design.chain(layer).rules[0].id, MOTIF)
    return read_address(design, name)


def address_text(design: Design, address: Address) -> str:
    """Return an address as text, that of a named dial or of a motif itself among them.

    Raises
    ------
    InputError
    """
    if not address.layer:
        return "dials." + next((one.handle for one in design.dials if one.id == address.dial), address.dial)
    if address.dial == MOTIF:
        layer, rule = address.found(design)
        return f"{layer.handle}.{rule.handle}.{MOTIF}"
    return address.text(design)


def _number(text: str, one: Movable, design: Design) -> float:
    unit = one.dial.unit or (design.sheet.unit if one.dial.kind == "length" else "")
    return float(typed(text.strip(), unit, design.sheet.resolution, None))


def _value(text: str, one: Movable, design: Design, palettes: Mapping[str, tuple[str, ...]]) -> Any:
    if isinstance(one.dial, NumberDial):
        value = _number(text, one, design)
        return float(round(value)) if one.dial.kind in ("count", "seed") else value
    if isinstance(one.dial, Point):
        return Anchor.model_validate({"spot": text})
    if text in palettes:
        return palettes[text]
    nouns = {KINDS[kind].noun().lower(): kind for kind in plain_motifs()}
    return nouns.get(text.lower(), text) if one.address.dial == MOTIF else one.dial.read(text)


def _value_text(value: Any) -> str:
    if isinstance(value, Anchor):
        return value.spot
    if isinstance(value, tuple):
        return ", ".join(map(str, value))
    return short(value, 6) if isinstance(value, float) else str(value)


def _label(one: Movable) -> str:
    return f"{one.rule}: {one.label[:1].lower()}{one.label[1:]}" if one.address.layer else one.dial.label


def _alike(one: Any, other: Any) -> bool:
    if isinstance(one, (int, float)) and isinstance(other, (int, float)):
        return abs(one - other) <= 1e-6 * max(abs(one), abs(other), 1e-6)
    return bool(one == other)
