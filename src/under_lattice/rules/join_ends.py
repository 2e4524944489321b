"""Rule: Join ends, open lines become one, end to end."""

from __future__ import annotations

from itertools import pairwise
from typing import Annotated, Any, ClassVar, Literal

import numpy as np

from under_lattice.core.affine import Array, apply
from under_lattice.core.cutting import as_outline, cubics_of
from under_lattice.core.declare import Choice, Length
from under_lattice.core.errors import LimitError, RuleRefused
from under_lattice.core.marks import draw
from under_lattice.core.outline import CLOSE
from under_lattice.core.pieces import stage_of_outlines
from under_lattice.core.stage import Family, Stage
from under_lattice.core.units import short
from under_lattice.rules.base import CopyRule, Ground, RuleFamily, describe

LINES_MOST = 20_000
Line = Array  # cubics (S, 4, 2)


class JoinEnds(CopyRule):
    """Lines become one."""

    title: ClassVar[str] = "Join ends"
    words: ClassVar[str] = "Open lines whose ends are near each other become one; says how far they miss, before and after."
    search: ClassVar[str] = "connect weld line path close continuous unbroken single stroke plot"
    family: ClassVar[RuleFamily] = "repeat"

    kind: Literal["join-ends"] = "join-ends"
    near: Annotated[float, Length("Near", "Ends no further apart than this are joined.", least=0.0, slides=(0.0, 20.0))] = 1.0
    how: Annotated[
        Literal["half way", "a straight piece"],
        Choice("Joined by", "Both ends meet half way, or a straight piece joins them.", options=("half way", "a straight piece")),
    ] = "half way"
    closing: Annotated[
        Literal["where near", "always", "never"],
        Choice("Closed", "The last end joined with the first.", options=("where near", "always", "never")),
    ] = "where near"

    def place(self, above: Stage, ground: Ground) -> Stage:
        """Return the joined lines, each a copy; what is closed already goes with them as it is.

        Raises
        ------
        RuleRefused
            When there is no open line.
        LimitError
        """
        marks = draw(above, ground.known)
        if marks.count > LINES_MOST:
            raise LimitError(f"there are {marks.count:,} lines; at most {LINES_MOST:,} can be joined")
        lines: list[tuple[int, Line]] = []
        for f, v, xform, copy in zip(marks.family, marks.variant, marks.xform, marks.copy, strict=True):
            family = marks.families[f]
            if v >= 0 and family.verbs[-1] != CLOSE:
                lines += [
                    (int(copy), cubics) for cubics, closed in cubics_of(family.verbs, apply(xform, family.points[v])) if not closed
                ]
        if not lines:
            raise RuleRefused("there are no open lines to join")
        runs = _runs(lines, self.near)
        made, misses, before, after = [], [], 0.0, 0.0
        for _, run in runs:
            gaps = [float(np.hypot(*(other[0, 0] - one[-1, 3]))) for one, other in pairwise(run)]
            before = max([before, *gaps])
            whole = self._joined(run)
            miss = float(np.hypot(*(whole[0, 0] - whole[-1, 3])))
            closes = self.closing == "always" or (self.closing == "where near" and miss <= self.near)
            if closes and len(whole) > 1:
                whole = self._closed(whole)
            made.append((whole, closes and len(whole) > 1))
            misses.append((whole, miss))
            after = max(after, 0.0 if closes else miss)
        return self._stage(above, [copy for copy, _ in runs], made, self._notes(misses, before, after, len(lines)))

    def _joined(self, run: list[Line]) -> Line:
        whole = run[0]
        for line in run[1:]:
            end, begin = whole[-1, 3], line[0, 0]
            if self.how == "half way":
                middle = (end + begin) / 2
                whole, line = _with_end(whole, middle), _with_start(line, middle)
            elif np.hypot(*(begin - end)) > 0:
                whole = np.concatenate([whole, _straight(end, begin)])
            whole = np.concatenate([whole, line])
        return whole

    def _closed(self, whole: Line) -> Line:
        end, begin = whole[-1, 3], whole[0, 0]
        if self.how == "half way":
            middle = (end + begin) / 2
            return _with_start(_with_end(whole, middle), middle)
        return np.concatenate([whole, _straight(end, begin)]) if np.hypot(*(begin - end)) > 0 else whole

    @staticmethod
    def _notes(misses: list[tuple[Line, float]], before: float, after: float, count: int) -> dict[str, Any]:
        lines = "one line" if len(misses) == 1 else f"{len(misses):,} lines"
        said = f"{lines} of {count:,}; ends missed by {short(before, 3)} at most; now by {short(after, 3)}"
        notes: dict[str, Any] = {"said": {"near": said}}
        open_ones = [(whole, miss) for whole, miss in misses if np.hypot(*(whole[0, 0] - whole[-1, 3])) > 1e-9]
        if open_ones and len(misses) == 1:
            whole, miss = open_ones[0]
            sentence = f"the joined line misses itself by {short(miss, 3)}; Near from {short(miss, 3)} on closes it"
            notes["attention"] = [(sentence, [np.stack([whole[-1, 3], whole[0, 0]])])]
        return notes

    def _stage(self, above: Stage, kept: list[int], made: list[tuple[Line, bool]], notes: dict[str, Any]) -> Stage:
        """The lines as copies with outlines of their own; those with as many pieces share a family."""
        shapes = []
        for line, closed in made:
            verbs, points = as_outline(line)
            shapes.append((verbs + bytes([CLOSE]) * closed, points))
        faces = []
        for verbs in dict.fromkeys(verbs for verbs, _ in shapes):
            own = np.array([one == verbs for one, _ in shapes])
            count = next(len(points) for one, points in shapes if one == verbs)
            points = np.stack([one[1] if one[0] == verbs else np.repeat(one[1][:1], count, 0) for one in shapes])
            faces.append(Family(verbs, points, np.where(own, np.arange(len(shapes)), -1).astype(np.int32)))
        number = np.arange(len(shapes))
        channels = {"step": number.astype(float), "column": number.astype(float)}
        key = np.stack([np.zeros(len(shapes), np.int64), number], 1)
        return stage_of_outlines(self.id, above, np.array(kept), faces, key=key, channels=channels, notes=notes)

    @property
    def at_rest(self) -> str:
        """Why nothing changes."""
        return "there is one line only"

    def key_line(self, unit: str) -> str:
        """Return how near and how."""
        return f"within {describe(self.near, unit)}, {self.how}"


def _runs(lines: list[tuple[int, Line]], near: float) -> list[tuple[int, list[Line]]]:
    """Lines that follow each other, each with the copy it begins with; a line is turned round where that brings its end nearer."""
    out: list[tuple[int, list[Line]]] = []
    for copy, line in lines:
        if out:
            run = out[-1][1]
            far = [float(np.hypot(*(end - run[-1][-1, 3]))) for end in (line[0, 0], line[-1, 3])]
            if min(far) <= near:
                run.append(line if far[0] <= far[1] else line[::-1, ::-1])
                continue
            back = [float(np.hypot(*(end - run[0][0, 0]))) for end in (line[-1, 3], line[0, 0])]
            if len(run) == 1 and min(back) <= near:
                run[0] = run[0][::-1, ::-1]
                run.append(line if back[1] <= back[0] else line[::-1, ::-1])
                continue
        out.append((copy, [line]))
    return out


def _with_end(line: Line, at: Array) -> Line:
    """A line with its last point elsewhere, the handle there with it."""
    out = line.copy()
    out[-1, 2:] += at - out[-1, 3]
    return out


def _with_start(line: Line, at: Array) -> Line:
    out = line.copy()
    out[0, :2] += at - out[0, 0]
    return out


def _straight(one: Array, other: Array) -> Line:
    return np.stack([one, one + (other - one) / 3, one + (other - one) * 2 / 3, other])[None]
