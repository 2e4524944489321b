"""Rule: Inner lines, drawn in the tile from corners, mid-sides, the centre and free points whose places may vary."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Literal

import numpy as np

from under_lattice.core.errors import InputError, RuleRefused
from under_lattice.declare.dials import Choice, Ratio, Text
from under_lattice.geometry.affine import Array, apply
from under_lattice.geometry.outline import polygon_verbs
from under_lattice.geometry.path import line_through
from under_lattice.pattern.ask import rest
from under_lattice.pattern.stage import Shape, Stage
from under_lattice.rules.families import ShapeRule
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Drag, HandleSet, with_start
from under_lattice.rules.shared.anchor import ordered_corners
from under_lattice.rules.shared.edges import Edges, of_tile
from under_lattice.rules.shared.named_points import chord_dragged, chord_handles, named_points, parse_chords, point_of
from under_lattice.rules.shared.reshaped import Made, Reshaped, straight_only
from under_lattice.rules.surroundings import Surroundings
from under_lattice.vary.numbers import Number

FREE = ("p", "q", "r")


@dataclass(frozen=True)
class Lines(Text):
    """Lines between named points as text."""

    def check(self, value: str) -> str:
        """Hold to lines that can be read.

        Raises
        ------
        InputError
        """
        parse_chords(value, FREE)
        return super().check(value)


def _place(label: str, words: str, main: bool = True) -> Ratio:
    return Ratio(label, words, least=-300.0, most=300.0, vary=True, slides=(-100.0, 100.0), main=main)


class InnerLines(ShapeRule):
    """Lines inside each tile."""

    title: ClassVar[str] = "Inner lines"
    words: ClassVar[str] = "Lines drawn in each tile, from corners, middles of sides, its centre and free points that may vary."
    search: ClassVar[str] = "draw inside tile motif lines strokes curve connect truchet"

    kind: Literal["inner-lines"] = "inner-lines"
    lines: Annotated[
        str, Lines("Lines", "Names of points: 1 2 … corners, s1 s2 … middles of sides, c the centre, p q r free: s1-p-s3, 1-c.")
    ] = "s1-p-s4, s2-q-s5"
    bends: Annotated[
        Literal["smooth", "straight"],
        Choice("Bends", "One smooth curve through the points of a line, or straight.", options=("smooth", "straight")),
    ] = "smooth"
    px: Annotated[Number, _place("p, across", "In parts of the tile's reach, from its middle to the right.")] = -25.0
    py: Annotated[Number, _place("p, down", "In parts of the tile's reach, from its middle downwards.")] = 25.0
    qx: Annotated[Number, _place("q, across", "In parts of the tile's reach, from its middle to the right.", False)] = 25.0
    qy: Annotated[Number, _place("q, down", "In parts of the tile's reach, from its middle downwards.", False)] = -25.0
    rx: Annotated[Number, _place("r, across", "In parts of the tile's reach, from its middle to the right.", False)] = 0.0
    ry: Annotated[Number, _place("r, down", "In parts of the tile's reach, from its middle downwards.", False)] = 50.0
    gives: Annotated[
        Literal["the tile and lines", "lines"],
        Choice("Gives", "The tile with the lines over it, each a part, or these alone.", options=("the tile and lines", "lines")),
    ] = "the tile and lines"

    def reshape(self, shape: Shape, ground: Ground) -> Shape:
        """Return the tile with its lines; refuses points that are not there."""
        straight_only(shape, self.title)
        ring = ordered_corners(shape.body().points)
        known = named_points(ring) | dict.fromkeys(FREE, ring[0])
        try:
            for line in parse_chords(self.lines, FREE):
                for name in line:
                    point_of(known, name, len(ring))
        except InputError as error:
            raise RuleRefused(error.message) from None
        numbers = tuple(of_tile(one) for one in (self.px, self.py, self.qx, self.qy, self.rx, self.ry))
        return Reshaped(shape, numbers, self._made)

    def _made(self, edges: Edges) -> list[Made]:
        corners = edges.corners
        points = self._points(corners, [value.mean(1) for value in edges.values])
        out: list[Made] = [(polygon_verbs(corners.shape[1]), corners)] if self.gives != "lines" else []
        for line in parse_chords(self.lines, FREE):
            if not all(name in points for name in line):
                continue  # a face with fewer corners than the motif
            through = np.stack([points[name] for name in line], 1)
            made = [line_through(one, False, self.bends == "smooth") for one in through]
            out.append((made[0].verbs, np.stack([one.points for one in made])))
        return out

    def _points(self, corners: Array, values: list[Array]) -> dict[str, Array]:
        """Named points (M, 2) of tiles (M, V, 2); corners are named clockwise from the top, as they stand in the first tile."""
        ring = ordered_corners(corners[0])
        order = [int(np.hypot(*(corners[0] - one).T).argmin()) for one in ring]
        middle = corners.mean(1)
        reach = np.hypot(*np.moveaxis(corners - middle[:, None], -1, 0)).max(1)
        placed = corners[:, order]
        there = np.concatenate([placed, (placed + np.roll(placed, -1, 1)) / 2, middle[:, None]], 1)
        points = dict(zip(named_points(ring), np.moveaxis(there, 1, 0), strict=True))
        for k, name in enumerate(FREE):
            x, y = values[2 * k], values[2 * k + 1]
            points[name] = middle + np.stack([x, y], -1) * (reach / 100)[:, None]
        return points

    def _free(self, stage: Stage) -> dict[str, Array]:
        """The free points that lines go through, in the shape's own place, at their starts."""
        corners = stage.shape.body().points[None]
        numbers = [np.array([float(rest(one))]) for one in (self.px, self.py, self.qx, self.qy, self.rx, self.ry)]
        used = {name for line in parse_chords(self.lines, FREE) for name in line}
        return {name: at[0] for name, at in self._points(corners, numbers).items() if name in FREE and name in used | {"p"}}

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return the named points, between which lines are drawn, and the free points, which are moved."""
        free = self._free(stage)
        beads = tuple(
            one if one.name.removeprefix("from ") not in free else type(one)(one.name[5:], one.at, f"{one.name[5:]}: moves", "bead")
            for one in chord_handles(stage, free)
        )
        return HandleSet(beads, apply(stage.xform[stage.origin], stage.body_ring))

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Move a free point, or draw a line to the point under the pointer, or take it away."""
        if drag.name.startswith("from "):
            return {"lines": chord_dragged(self.lines, drag, stage, self._free(stage))}
        corners = apply(stage.xform[stage.origin], stage.shape.body().points)
        middle = corners.mean(0)
        x, y = (drag.to - middle) / np.hypot(*(corners - middle).T).max() * 100
        one, other = f"{drag.name}x", f"{drag.name}y"
        return {
            one: with_start(getattr(self, one), float(np.clip(round(x, 1), -300, 300))),
            other: with_start(getattr(self, other), float(np.clip(round(y, 1), -300, 300))),
        }

    @classmethod
    def suggested(cls, around: Surroundings) -> dict[str, Any]:
        """Return lines across the motif, where it has corners."""
        if around.corners is None:
            return {}
        count = len(around.corners)
        return {"lines": f"s1-p-s{count // 2 + 1}" + (f", s2-q-s{count // 2 + 2}" if count > 3 else "")}

    def key_line(self, unit: str) -> str:
        """Return the lines."""
        return f"{self.lines}, {self.bends}"
