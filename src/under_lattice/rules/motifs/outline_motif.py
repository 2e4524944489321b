"""Motif: outline, brought in from a drawing or written as path data."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Any, ClassVar, Literal, cast

import numpy as np

from under_lattice.declare.dials import Choice, Ratio
from under_lattice.declare.drawn_dials import OutlineText
from under_lattice.geometry.affine import Array, compose, frozen, inverse, linear, moves
from under_lattice.geometry.outline import flatten
from under_lattice.geometry.path_text import parts_of_text, text_of_parts
from under_lattice.pattern.ask import rest
from under_lattice.pattern.stage import Stage
from under_lattice.rules.base import describe
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Drag, Handle, HandleSet, with_start
from under_lattice.rules.shared.measured import TURN, Face, Grip, MeasuredMotif, Numbers, extent
from under_lattice.rules.shared.outline_points import Work, dragged_text, point_handles, reworked_text
from under_lattice.vary.numbers import Number

FISH = (
    "M-500 0 C-330 -270 60 -300 330 -50 L500 -190 C440 -60 440 60 500 190 L330 50 C60 300 -330 270 -500 0 Z "
    "M-300 -55 C-330 -55 -330 -10 -300 -10 C-270 -10 -270 -55 -300 -55 Z"
)


class Outline(MeasuredMotif):
    """Any outline, its parts kept apart."""

    words: ClassVar[str] = "An outline: brought in from an SVG file; each shape of it is a part."
    search: ClassVar[str] = "svg import vector drawing path logo custom file"
    grips: ClassVar[tuple[Grip, ...]] = (Grip("width", 0.0),)

    kind: Literal["outline"] = "outline"
    outline: Annotated[str, OutlineText("Outline", "From an SVG file; kept as path data of moves, lines, cubics and closings.")] = (
        FISH
    )
    width: Annotated[Number, extent("Width", "From side to side.")] = 40.0
    stretch: Annotated[
        Number,
        Ratio(
            "Height",
            "Height in parts of the height it came with.",
            least=0.1,
            most=10000.0,
            vary=True,
            slides=(20.0, 200.0),
            main=False,
        ),
    ] = 100.0
    turn: Annotated[float, TURN] = 0.0
    stands: Annotated[
        Literal["about its middle", "as drawn"],
        Choice(
            "Stands",
            "Its middle on the motif's place, or where the file has it.",
            options=("about its middle", "as drawn"),
            main=False,
        ),
    ] = "about its middle"

    def _frame(self) -> tuple[Array, float]:
        """Where the origin lies in the path, and how wide it is."""
        joined = np.concatenate([points for _, points in parts_of_text(self.outline)])
        low, high = joined.min(0), joined.max(0)
        wide = float(high[0] - low[0]) or float((high - low).max())
        return ((low + high) / 2 if self.stands == "about its middle" else np.zeros(2)), wide

    def faces(self, numbers: Numbers) -> tuple[Face, ...]:
        """Return a face for each part, about the middle of the whole."""
        middle, wide = self._frame()
        scale = (numbers["width"] / wide)[:, None] * np.stack([np.ones(len(numbers["width"])), numbers["stretch"] / 100], -1)
        return tuple((verbs, (points - middle)[None] * scale[:, None]) for verbs, points in parts_of_text(self.outline))

    def _half_height(self) -> float:
        """How far the outline reaches down from its origin, not turned."""
        rings = [ring[0] for verbs, points in parts_of_text(self.outline) for ring in flatten(verbs, points[None], 12)]
        middle, wide = self._frame()
        down = float((np.concatenate(rings)[:, 1] - middle[1]).max())
        return down * float(rest(self.width)) / wide * float(rest(self.stretch)) / 100

    def _to_own(self) -> Array:
        """The place of the path -> the motif's own place (2, 3)."""
        middle, wide = self._frame()
        size = float(rest(self.width)) / wide
        return compose(linear(self.turn, size, size * float(rest(self.stretch)) / 100), moves(-middle))

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return beads for the width and for the points."""
        plain = super().handles(above, stage, ground, unit)
        assert plain is not None
        high = Handle(
            "stretch",
            linear(self.turn)[:, :2] @ np.array([0.0, self._half_height()]),
            f"{describe(self.stretch, '%', 0)} height",
            "bead",
        )
        return replace(plain, handles=(*plain.handles, high, *point_handles(parts_of_text(self.outline), self._to_own())))

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Set the width, or move a point."""
        if drag.name == "stretch":
            down = float((drag.to @ linear(self.turn)[:, :2])[1])
            wanted = float(rest(self.stretch)) * down / max(self._half_height(), 1e-9)
            return {"stretch": with_start(self.stretch, float(np.clip(round(wanted, 1), 0.1, 10000.0)))}
        text = dragged_text(self.outline, drag, inverse(self._to_own()))
        return super().dragged(drag, above, stage, ground) if text is None else self._as_drawn(text)

    def reworked(self, work: str, name: str, at: Array) -> dict[str, Any]:
        """Add, remove, smooth or straighten a point; `at` (2,) in the place of the rule."""
        return self._as_drawn(reworked_text(self.outline, cast("Work", work), name, at - self.stands_at, inverse(self._to_own())))

    def _as_drawn(self, text: str) -> dict[str, Any]:
        """The settings under which all other points of a changed outline stay where they are."""
        middle, wide = self._frame()
        changed = text_of_parts([(verbs, frozen(points - middle)) for verbs, points in parts_of_text(text)], 7)
        joined = np.concatenate([points for _, points in parts_of_text(changed)])
        new = float(np.ptp(joined[:, 0])) or float(np.ptp(joined, 0).max())
        width = with_start(self.width, float(rest(self.width)) * new / wide)
        return {"outline": changed, "stands": "as drawn", "width": width}

    def key_line(self, unit: str) -> str:
        """Return parts and width."""
        count = len(parts_of_text(self.outline))
        return f"Outline, {'one part' if count == 1 else f'{count} parts'}, {describe(self.width, unit)} wide"
