"""Motif: a curve drawn on the sheet by hand, smoothed to a stated tolerance, its points moved afterwards."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal, cast

import numpy as np

from under_lattice.declare.dials import Angle, Choice, Length
from under_lattice.declare.drawn_dials import DrawnLine
from under_lattice.geometry.affine import IDENTITY, Array, linear
from under_lattice.geometry.fitting import fitted
from under_lattice.geometry.outline import CLOSE
from under_lattice.geometry.path_text import parts_of_text, text_of_parts
from under_lattice.pattern.stage import Stage
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Drag, HandleSet
from under_lattice.rules.shared.measure_spots import turn_dragged, turn_handle
from under_lattice.rules.shared.measured import Face, MeasuredMotif, Numbers
from under_lattice.rules.shared.outline_points import Work, dragged_text, point_handles, reworked_text

GULL = "M-30 6 C-24 -10 -12 -14 0 2 C12 -14 24 -10 30 6 C22 -2 12 -2 0 12 C-12 -2 -22 -2 -30 6 Z"
CLOSES = 3.0  # tolerances within which the end of a drawn line meets its beginning


class DrawnCurve(MeasuredMotif):
    """A line by hand."""

    words: ClassVar[str] = "A drawn curve: by mouse or pen on the sheet, smoothed; its points can be moved afterwards."
    search: ClassVar[str] = "freehand pen pencil sketch bezier spline draw hand stroke"

    kind: Literal["drawn-curve"] = "drawn-curve"
    line: Annotated[str, DrawnLine("Line", "Drawn on the sheet; lengths are those of the work.")] = GULL
    tolerance: Annotated[
        float, Length("Smoothed to", "How far the curve may be from what the hand drew.", least=0.001, most=1e4, slides=(0.05, 5.0))
    ] = 0.8
    ends: Annotated[
        Literal["as drawn", "open", "closed"],
        Choice("Ends", "Open, closed, or closed where the drawn line comes back.", options=("as drawn", "open", "closed")),
    ] = "as drawn"
    turn: Annotated[float, Angle("Turn", "About its origin.", main=False, group="Place")] = 0.0

    @classmethod
    def noun(cls) -> str:
        """Return what it is called where motifs are chosen."""
        return "Drawn curve"

    def faces(self, numbers: Numbers) -> tuple[Face, ...]:
        """Return each part."""
        out = []
        for verbs, points in parts_of_text(self.line):
            bare = verbs.rstrip(bytes([CLOSE]))
            ended = {"as drawn": verbs, "open": bare, "closed": bare + bytes([CLOSE])}[self.ends]
            out.append((ended, points[None]))
        return tuple(out)

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return a bead for each point."""
        turned = turn_handle(self, stage.body_ring, unit)
        points = point_handles(parts_of_text(self.line), linear(self.turn))
        return HandleSet((*points, *([turned] if turned is not None else [])), None, stage.body_ring)

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Move a point."""
        if drag.name == "turn":
            return turn_dragged(drag)
        text = dragged_text(self.line, drag, self._back)
        return {} if text is None else {"line": text}

    @property
    def _back(self) -> Array:
        return linear(-self.turn) if self.turn else IDENTITY

    def reworked(self, work: str, name: str, at: Array) -> dict[str, Any]:
        """Add, remove, smooth or straighten a point; `at` (2,) in the place of the rule."""
        return {"line": reworked_text(self.line, cast("Work", work), name, at - self.stands_at, self._back)}

    def drawn(self, line: Array) -> dict[str, Any]:
        """Take a line (n, 2) drawn on the sheet in place of the present one."""
        own = (line - self.stands_at) @ self._back[:, :2].T
        near = float(np.hypot(*(own[-1] - own[0]))) <= CLOSES * self.tolerance and len(own) > 8
        return {"line": text_of_parts([fitted(own, self.tolerance, near)], 7)}

    def key_line(self, unit: str) -> str:
        """Return how many points it has."""
        count = sum(verbs.count(verb) for verbs, _ in parts_of_text(self.line) for verb in (1, 2))
        return f"{count} curves through the points drawn" if count > 1 else "one curve"
