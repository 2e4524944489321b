"""The work: sheet, tree of layers, shared dials, pictures and kept versions; all of it frozen."""

from __future__ import annotations

import re
import secrets
from collections.abc import Iterator
from functools import cached_property
from typing import Any, Literal, Self

import numpy as np
from pydantic import Field, SerializerFunctionWrapHandler, field_validator, model_serializer, model_validator

from under_lattice.colour.colour import checked_or_none
from under_lattice.core.errors import InputError
from under_lattice.core.plain import Name
from under_lattice.core.units import PX_PER_INCH
from under_lattice.declare.frozen import Frozen
from under_lattice.geometry.affine import Array
from under_lattice.rules.base import Rule
from under_lattice.vary.motion import Motion
from under_lattice.work.layers import AnyLayer, Chain
from under_lattice.work.pictures import StoredPicture
from under_lattice.work.tree import Tree, tree_of

Unit = Literal["px", "mm", "cm", "in", "pt"]


def new_id() -> str:
    """Return a hidden id, made once."""
    return secrets.token_hex(4)


def slug(text: str) -> str:
    """Return a name as a handle: small letters, figures and hyphens."""
    return re.sub(r"[^a-z0-9]+", "-", text.lower()).strip("-") or "layer"


SIN60 = 0.8660254037844386


class Grid(Frozen):
    """Construction grid of the sheet, from its middle; it is never exported.

    `down` is the spacing of the level lines, 0 where it is that of the upright ones; `divisions` parts each spacing. A triangular
    grid has lines in three directions and takes `spacing` alone.
    """

    spacing: float = Field(10.0, gt=0.001, le=1e6)
    down: float = Field(0.0, ge=0.0, le=1e6)
    divisions: int = Field(1, ge=1, le=20)
    form: Literal["squares", "triangles"] = "squares"

    def lines(self) -> tuple[tuple[float, float], ...]:
        """Return direction in degrees and spacing of each set of main lines."""
        if self.form == "triangles":
            return tuple((angle, self.spacing * SIN60) for angle in (0.0, 60.0, 120.0))
        return ((90.0, self.spacing), (0.0, self.down or self.spacing))

    def nearest(self, point: Array) -> Array:
        """Return the crossing nearest to a point (2,) of the page, divisions included."""
        across, down = self.spacing / self.divisions, (self.down or self.spacing) / self.divisions
        if self.form == "squares":
            return np.round(point / (across, down)) * (across, down)
        row, found = point[1] / (across * SIN60), []
        for r in (np.floor(row), np.ceil(row)):
            found.append(np.array([(round(point[0] / across - r / 2) + r / 2) * across, r * across * SIN60]))  # noqa: PERF401
        return min(found, key=lambda at: float(np.hypot(*(at - point))))


class Sheet(Frozen):
    """Size, unit, background and construction grid; `resolution` is px per inch where the unit is px."""

    width: float = Field(324.0, gt=0, le=1e5)
    height: float = Field(322.0, gt=0, le=1e5)
    unit: Unit = "mm"
    resolution: float = Field(PX_PER_INCH, ge=1, le=10000)
    background: str = "#F4EFE4"
    grid: Grid = Grid()

    @field_validator("background")
    @classmethod
    def _colour(cls, value: str) -> str:
        try:
            return checked_or_none(value)
        except InputError as error:
            raise ValueError(error.message) from None


class NamedDial(Frozen):
    """A number of the work that dials share; `handle` is its name in formulas and orders, `measure` the kind of dial it is."""

    id: str
    handle: str = Field(pattern=r"^[a-z_][a-z0-9_]*$")
    name: Name
    measure: Literal["length", "angle", "ratio", "count", "seed"]
    value: float


class Loop(Frozen):
    """The string of time: how long it is, in pictures how fine, whether it is closed, and the part that is worked on, 0..1."""

    seconds: float = Field(8.0, ge=0.04, le=3600.0)
    rate: int = Field(25, ge=1, le=120)
    closed: bool = True
    begin: float = Field(0.0, ge=0.0, lt=1.0)
    end: float = Field(1.0, gt=0.0, le=1.0)

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        if self.begin >= self.end:
            raise ValueError("the part that is worked on begins before it ends")
        return self

    @property
    def pictures(self) -> int:
        """How many pictures the whole of it has; on a closed string the next would be the first again."""
        return max(1, round(self.seconds * self.rate))


UNTITLED = "Untitled"
MOTIONS_MOST = 200


class Design(Frozen):
    """What is seen: sheet and layers, the first layer in front, and the dials they share."""

    name: Name = UNTITLED
    commission: Name = ""
    sheet: Sheet = Sheet()
    layers: tuple[AnyLayer, ...] = ()
    main: str = ""  # the id of the layer it opens on; the one in front when empty
    dials: tuple[NamedDial, ...] = ()
    loop: Loop = Loop()
    motions: tuple[Motion, ...] = Field((), max_length=MOTIONS_MOST)
    pictures: tuple[StoredPicture, ...] = Field((), exclude=True)  # a file holds them once, beside its designs

    @model_serializer(mode="wrap")
    def _written(self, handler: SerializerFunctionWrapHandler) -> dict[str, Any]:
        """What moves stands in a file only where something does."""
        data: dict[str, Any] = handler(self)
        if not self.motions and self.loop == Loop():
            del data["motions"], data["loop"]
        return data

    @cached_property
    def tree(self) -> Tree:
        """Its layers by their ids, walked once."""
        return tree_of(self.layers)

    def all_layers(self) -> tuple[AnyLayer, ...]:
        """Return all layers of the tree, front to back, groups before their members."""
        return self.tree.layers

    def chains(self) -> tuple[Chain, ...]:
        """Return all chains, front to back."""
        return self.tree.chains

    def every_rule(self) -> Iterator[tuple[AnyLayer, Rule]]:
        """Yield each rule of the work with its layer, ends and the rules of veils included."""
        for layer in self.tree.layers:
            for rule in layer.every_rule:
                yield layer, rule

    def layer(self, layer_id: str) -> AnyLayer:
        """Return the layer with this id.

        Raises
        ------
        InputError
        """
        return self.tree.layer(layer_id)

    def chain(self, layer_id: str) -> Chain:
        """Return the chain with this id.

        Raises
        ------
        InputError
        """
        layer = self.tree.layer(layer_id)
        if not isinstance(layer, Chain):
            raise InputError(f"{layer.name} is no chain")
        return layer

    def picture_ids(self) -> set[str]:
        """Return the ids of the pictures its rules use."""
        return {one for _, rule in self.every_rule() for one in rule.pictures()}


class Kept(Frozen):
    """A kept version: a named state of the design, and when it was kept (ISO, to the minute, or nothing)."""

    id: str = Field(default_factory=new_id)
    name: Name = Field(max_length=80)
    at: str = Field("", max_length=40)
    design: Design


Shelf = tuple[Kept, ...]


class StripOrder(Frozen):
    """The test strip that lies over a work: what is stepped across, and down if anything, as orders."""

    across: str = Field(max_length=2000)
    down: str = Field("", max_length=2000)


class ExportChoice(Frozen):
    """How a work was exported last: the ending of the format and its options, by name."""

    ending: str = Field(max_length=20)
    options: dict[str, Any] = {}


class Work(Frozen):
    """A design, the versions kept of it, the test strip that is open, if one is, and how it was exported last."""

    design: Design = Design()
    kept: Shelf = ()
    strip: StripOrder | None = None
    export: ExportChoice | None = None
