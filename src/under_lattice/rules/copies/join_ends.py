"""Rule: Join ends, open lines become one, end to end."""

from __future__ import annotations

from collections import deque
from collections.abc import Callable
from typing import Annotated, Any, ClassVar, Literal

import numpy as np

from under_lattice.core.errors import LimitError, RuleRefused
from under_lattice.core.units import short
from under_lattice.declare.dials import Choice, Length
from under_lattice.geometry.affine import Array, apply
from under_lattice.geometry.cutting import as_outline, cubics_of
from under_lattice.geometry.outline import CLOSE
from under_lattice.pattern.findings import Findings
from under_lattice.pattern.marks import draw
from under_lattice.pattern.pieces import stage_of_outlines
from under_lattice.pattern.stage import Family, Stage
from under_lattice.rules.base import RuleFamily, describe
from under_lattice.rules.families import CopyRule
from under_lattice.rules.ground import Ground
from under_lattice.rules.surroundings import Surroundings, tidy

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
        Choice("Closed", "The last end is joined with the first.", options=("where near", "always", "never")),
    ] = "where near"

    def place(self, above: Stage, ground: Ground) -> Stage:
        """Return the joined lines, each a copy; what is closed already goes with them as it is.

        Raises
        ------
        RuleRefused
            When there is no open line.
        LimitError
        """
        marks = draw(above, ground.known, ground.progress)
        if marks.count > LINES_MOST:
            raise LimitError(f"there are {marks.count:,} lines; at most {LINES_MOST:,} can be joined")
        lines: list[tuple[int, Line]] = []
        rings: list[tuple[int, Line]] = []
        for f, v, xform, copy in zip(marks.family, marks.variant, marks.xform, marks.copy, strict=True):
            family = marks.families[f]
            for cubics, closed in cubics_of(family.verbs, apply(xform, family.points[v])) if v >= 0 else ():
                (rings if closed else lines).append((int(copy), cubics))
        if not lines:
            raise RuleRefused("there are no open lines to join")
        runs = _runs([line for _, line in lines], self.near, ground.progress.step)
        made, misses, before, after = [], [], 0.0, 0.0
        for run in runs:
            whole, gaps = self._joined([_turned(lines[k][1], back) for k, back in run])
            miss = float(np.hypot(*(whole[0, 0] - whole[-1, 3])))
            closes = len(whole) > 1 and (self.closing == "always" or (self.closing == "where near" and miss <= self.near))
            made.append((self._closed(whole) if closes else whole, closes))
            misses.append((whole, miss))
            before, after = max([before, *gaps]), max(after, 0.0 if closes else miss)
        kept = [lines[run[0][0]][0] for run in runs] + [copy for copy, _ in rings]
        found = self._found(misses, before, after, len(lines))
        return self._stage(above, kept, [*made, *((ring, True) for _, ring in rings)], found)

    def _joined(self, run: list[Line]) -> tuple[Line, list[float]]:
        """Lines as one, and how far their ends missed each other."""
        parts, gaps = [run[0]], []
        for line in run[1:]:
            end, begin = parts[-1][-1, 3], line[0, 0]
            gaps.append(float(np.hypot(*(begin - end))))
            if self.how == "half way":
                middle = (end + begin) / 2
                parts[-1] = _with_end(parts[-1], middle)
                parts.append(_with_start(line, middle))
            else:
                parts += [_straight(end, begin), line] if gaps[-1] > 0 else [line]
        return np.concatenate(parts), gaps

    def _closed(self, whole: Line) -> Line:
        end, begin = whole[-1, 3], whole[0, 0]
        if self.how == "half way":
            middle = (end + begin) / 2
            return _with_start(_with_end(whole, middle), middle)
        return np.concatenate([whole, _straight(end, begin)]) if np.hypot(*(begin - end)) > 0 else whole

    @staticmethod
    def _found(misses: list[tuple[Line, float]], before: float, after: float, count: int) -> Findings:
        lines = "one line" if len(misses) == 1 else f"{len(misses):,} lines"
        said = f"{lines} of {count:,}; ends missed by {short(before, 3)} at most; now by {short(after, 3)}"
        warnings: tuple[tuple[str, tuple[Array, ...]], ...] = ()
        open_ones = [(whole, miss) for whole, miss in misses if np.hypot(*(whole[0, 0] - whole[-1, 3])) > 1e-9]
        if open_ones and len(misses) == 1:
            whole, miss = open_ones[0]
            sentence = f"the joined line misses itself by {short(miss, 3)}; Near from {short(miss, 3)} on closes it"
            warnings = ((sentence, (np.stack([whole[-1, 3], whole[0, 0]]),)),)
        return Findings(said={"near": said}, warnings=warnings)

    def _stage(self, above: Stage, kept: list[int], made: list[tuple[Line, bool]], found: Findings) -> Stage:
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
        return stage_of_outlines(self.id, above, np.array(kept), faces, key=key, channels=channels, found=found)

    @property
    def at_rest(self) -> str:
        """Why nothing changes."""
        return "there is one line only"

    @classmethod
    def suggested(cls, around: Surroundings) -> dict[str, Any]:
        """Return a reach in proportion to the motif."""
        return {"near": tidy(around.size * 0.05)}

    def key_line(self, unit: str) -> str:
        """Return how near and how."""
        return f"within {describe(self.near, unit)}, {self.how}"


def _runs(lines: list[Line], near: float, step: Callable[[float], None]) -> list[list[tuple[int, bool]]]:
    """Numbers of lines that follow each other, and whether each is turned round.

    From each line not yet taken on, the nearest free end within `near` goes on, at its end and then at its beginning.
    """
    from scipy.spatial import cKDTree  # takes a third of a second to load

    ends = np.array([(line[0, 0], line[-1, 3]) for line in lines])
    reach = max(near, 1e-9 * float(np.ptp(ends.reshape(-1, 2), 0).max()))
    tree, free = cKDTree(ends.reshape(-1, 2)), np.ones(len(lines), bool)

    def nearest(at: Array) -> int:
        """The nearest free end, twice the line's number and one for its last; -1 for none."""
        found = [k for k in tree.query_ball_point(at, reach * (1 + 1e-12)) if free[k // 2]]
        return min(found, key=lambda k: (float(np.hypot(*(ends.reshape(-1, 2)[k] - at))), k), default=-1)

    runs = []
    for first in range(len(lines)):
        if not free[first]:
            continue
        step(first / len(lines))
        free[first] = False
        run = deque([(first, False)])
        while (k := nearest(ends[run[-1][0], int(not run[-1][1])])) >= 0:
            free[k // 2] = False
            run.append((k // 2, k % 2 == 1))
        while (k := nearest(ends[run[0][0], int(run[0][1])])) >= 0:
            free[k // 2] = False
            run.appendleft((k // 2, k % 2 == 0))
        runs.append(list(run))
    return runs


def _turned(line: Line, back: bool) -> Line:
    return line[::-1, ::-1] if back else line


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
