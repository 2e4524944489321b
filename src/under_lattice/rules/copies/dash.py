"""Rule: Dash, outlines and lines fall into pieces, each a copy with a number of its own."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal, get_args

import numpy as np

from under_lattice.core.errors import LimitError, RuleRefused
from under_lattice.core.units import short
from under_lattice.declare.dials import Choice, Count, Length, Ratio, When
from under_lattice.geometry.affine import Array
from under_lattice.geometry.outline import CURVE
from under_lattice.pattern.findings import Findings
from under_lattice.pattern.marks import draw
from under_lattice.pattern.pieces import stage_of_outlines
from under_lattice.pattern.stage import Stage, limit_copies
from under_lattice.rules.base import RuleFamily, describe
from under_lattice.rules.families import CopyRule
from under_lattice.rules.ground import Ground
from under_lattice.rules.shared.dashing import dashes_of_marks, family_of

LINES_MOST, EACH_MOST = 20_000, 20_000


Fit = Literal["a whole number", "by number", "as typed"]


class Dash(CopyRule):
    """Lines in pieces."""

    title: ClassVar[str] = "Dash"
    words: ClassVar[str] = "Outlines and lines fall into dashes, a whole number on each; each dash is a copy that can be coloured."
    search: ClassVar[str] = "dashes dotted segments pieces stitch broken line perforate"
    family: ClassVar[RuleFamily] = "repeat"

    kind: Literal["dash"] = "dash"
    dash: Annotated[float, Length("Dash", "Length of each dash.", least=0.001, slides=(0.2, 60))] = 6.0
    gap: Annotated[float, Length("Gap", "Length of each gap between two dashes.", least=0.0, slides=(0.0, 60))] = 3.0
    fit: Annotated[
        Fit,
        Choice(
            "Fitted",
            "Dashes and gaps are sized a little so that a whole number fits each line, so that so many do, or not at all.",
            options=get_args(Fit),
        ),
    ] = "a whole number"
    count: Annotated[
        int,
        Count(
            "Dashes",
            "How many dashes each line has; dash and gap keep their proportion.",
            most=EACH_MOST,
            slides=(1, 60),
            when=(When(field="fit", values=("by number",), reason="only by number"),),
        ),
    ] = 12
    shift: Annotated[
        float,
        Ratio(
            "Shift",
            "How far dashes are moved on along closed lines, in parts of dash and gap.",
            least=-1e4,
            most=1e4,
            slides=(0, 100),
            main=False,
        ),
    ] = 0.0

    def place(self, above: Stage, ground: Ground) -> Stage:
        """Return the dashes: rows are lines, columns the dashes on each.

        Raises
        ------
        RuleRefused
            When there is no line.
        LimitError
        """
        marks = draw(above, ground.known, ground.progress)
        if marks.count > LINES_MOST:
            raise LimitError(f"there are {marks.count:,} outlines; at most {LINES_MOST:,} can be dashed")
        fitted: list[float] = []  # how much longer than typed the dashes of each line are, as a factor
        rows = dashes_of_marks(marks, lambda length, closed: self._ends(length, closed, fitted), limit_copies, ground.progress)
        if not len(rows.mark):
            raise RuleRefused("there is no line to dash")
        numbers = {"row": rows.line, "column": rows.number, "step": np.arange(len(rows.mark))}
        channels = {name: values.astype(float) for name, values in numbers.items()}
        said = Findings(said={"dash": self._said(len(rows.mark), fitted)})
        kept = marks.copy[rows.mark]
        key = np.stack([rows.line, rows.number], 1)
        straight = not any(CURVE in family.verbs for family in marks.families)
        faces = [family_of(rows, straight)]
        return stage_of_outlines(self.id, above, kept, faces, at=rows.xform, key=key, channels=channels, found=said)

    def _ends(self, length: float, closed: bool, fitted: list[float]) -> tuple[Array, Array]:
        """Where the dashes of a line of some length begin and end (n,); notes by what factor they were fitted."""
        period, factor = self.dash + self.gap, 1.0
        if self.fit == "as typed":
            count = int(np.ceil(length / period - 1e-9))
        else:
            count = self.count if self.fit == "by number" else max(1, round((length if closed else length + self.gap) / period))
            factor = length / (count * period - (0.0 if closed else self.gap))
        if count > EACH_MOST:
            raise LimitError(f"one line would fall into {count:,} dashes; at most {EACH_MOST:,}")
        fitted.append(factor)
        begin = (np.arange(count) + (self.shift / 100 if closed else 0.0)) * period * factor
        end = begin + self.dash * factor
        if self.fit == "as typed":
            end = np.minimum(end, begin[0] + length)
        if closed:  # a dash may run on over the joint
            turn = np.floor(begin / length) * length
            begin, end = begin - turn, end - turn
        return begin, end

    def _said(self, count: int, fitted: list[float]) -> str:
        """How many, and how long dash and gap are after fitting."""
        if self.fit == "as typed":
            return f"{count:,} in all"
        dash, gap = (_span(np.array(fitted) * length) for length in (self.dash, self.gap))
        return f"{count:,} in all, {dash} and gap {gap}"

    @property
    def at_rest(self) -> str:
        """Why nothing changes."""
        return "each line is one dash"

    def key_line(self, unit: str) -> str:
        """Return dash and gap, or how many there are on a line."""
        if self.fit == "by number":
            return f"{self.count} on each line"
        return f"{describe(self.dash, unit)}, gap {describe(self.gap, unit)}"


def _span(values: Array) -> str:
    """Lengths in words: one, or from the least to the greatest."""
    low, high = short(float(values.min()), 2), short(float(values.max()), 2)
    return low if low == high else f"{low} … {high}"
