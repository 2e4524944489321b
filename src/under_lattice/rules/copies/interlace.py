"""Rule: Interlace, the lines of what stands above become straps that pass over and under each other by turns."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal

import numpy as np

from under_lattice.core.errors import LimitError, RuleRefused
from under_lattice.declare.dials import Choice, Length
from under_lattice.geometry.affine import Array
from under_lattice.geometry.outline import CURVE
from under_lattice.geometry.path import Path
from under_lattice.pattern.findings import Findings
from under_lattice.pattern.interlacing import PIECES_MOST, Join, alternating, crossings, straps
from under_lattice.pattern.marks import draw, paths_of_marks
from under_lattice.pattern.pieces import stage_of_pieces
from under_lattice.pattern.stage import Stage
from under_lattice.rules.base import RuleFamily, describe
from under_lattice.rules.families import CopyRule
from under_lattice.rules.ground import Ground
from under_lattice.rules.surroundings import Surroundings, tidy

LINES_MOST = 2000
ONE_PLACE = 1e-3  # of a strap's width: crossings nearer than this lie in one place
ROUGH, FINE = 0.004, 1e-5  # of a strap's width, and of the largest outline, by which lines may stray from their curves


class Interlace(CopyRule):
    """Straps over and under."""

    title: ClassVar[str] = "Interlace"
    words: ClassVar[str] = "The outlines of all copies become straps that pass over and under each other by turns, as in a knot."
    search: ClassVar[str] = "knot weave braid plait celtic over under chain rings strapwork"
    family: ClassVar[RuleFamily] = "repeat"

    kind: Literal["interlace"] = "interlace"
    width: Annotated[float, Length("Width", "Width of the straps.", least=0.001, most=1e5, slides=(0.5, 30.0))] = 5.0
    gap: Annotated[
        float, Length("Gap", "How much is left bare beside the strap that passes over.", least=0.0, most=1e4, slides=(0.0, 10.0))
    ] = 1.0
    begins: Annotated[
        Literal["over", "under"], Choice("Begins", "How the first line passes its first crossing.", options=("over", "under"))
    ] = "over"
    corners: Annotated[
        Literal["sharp", "round"], Choice("Corners", "How the straps turn at corners.", options=("sharp", "round"), main=False)
    ] = "sharp"

    def place(self, above: Stage, ground: Ground) -> Stage:
        """Return the straps: row by row the lines, in each row its pieces.

        Raises
        ------
        RuleRefused
            When lines lie upon each other, or nothing is left of the straps.
        LimitError
        """
        lines, curved = self._lines(above, ground)
        found = crossings(lines, ground.progress)
        over, broken = alternating(found, len(lines))
        over = over if self.begins == "over" else ~over
        join: Join = "mitre" if self.corners == "sharp" else "round"
        made = straps(lines, found, over, self.width, self.gap, join, ground.progress)
        if not any(made):
            raise RuleRefused("nothing is left of the straps; make them narrower or the gap smaller")
        said = {"width": f"{len(lines):,} lines, {len(found.places):,} crossings"}
        warnings = self._attention(found.places[broken], found.places)
        found_here = Findings(said=said, warnings=warnings)
        return stage_of_pieces(self.id, made, found_here, None, curved or self.corners == "round", ground.progress)

    def _lines(self, above: Stage, ground: Ground) -> tuple[list[Path], bool]:
        """The outlines of all that stands above, in its place, and whether any is curved; as fine as their number allows."""
        marks = draw(above, ground.known, ground.progress)
        if marks.count > LINES_MOST:
            raise LimitError(f"there are {marks.count:,} outlines; at most {LINES_MOST:,} can be interlaced")
        curved = any(CURVE in family.verbs for family in marks.families)
        rough = paths_of_marks(marks, self.width * ROUGH)
        error = FINE * max((float(np.ptp(line.points, 0).max()) for line in rough), default=0.0)
        while curved and 0 < error < self.width * ROUGH:
            lines = paths_of_marks(marks, error)
            if sum(len(line.points) for line in lines) <= PIECES_MOST:
                return lines, True
            error *= 4
        return rough, curved

    def _attention(self, broken: Array, places: Array) -> tuple[tuple[str, tuple[Array, ...]], ...]:
        """What cannot be done, and where: turns that do not come out even, and points where more than two lines meet."""
        if not len(places):
            return (("no lines cross; copies must overlap for their outlines to pass over and under", ()),)
        round_them = np.array([(-1, -1), (1, -1), (1, 1), (-1, 1)]) * self.width
        out = []
        if len(broken):
            times = "one crossing" if len(broken) == 1 else f"{len(broken):,} crossings"
            out.append((f"over and under cannot take turns at {times}", tuple(at + round_them for at in broken)))
        from scipy.spatial import cKDTree  # takes a third of a second to load

        beside: Any = cKDTree(places).query_ball_point(places, ONE_PLACE * self.width)
        many = places[[k for k, others in enumerate(beside) if k == min(others) != max(others)]]
        if len(many):
            where = "one place" if len(many) == 1 else f"{len(many):,} places"
            out.append((f"more than two lines cross in {where}", tuple(at + round_them for at in many)))
        return tuple(out)

    @classmethod
    def suggested(cls, around: Surroundings) -> dict[str, Any]:
        """Return straps in proportion to the motif."""
        return {"width": tidy(around.size * 0.07), "gap": tidy(around.size * 0.015)}

    def key_line(self, unit: str) -> str:
        """Return width and gap."""
        return f"{describe(self.width, unit)} wide, gap {describe(self.gap, unit)}"
