"""Rule: Dash, outlines and lines fall into pieces, each a copy with a number of its own."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, ClassVar, Literal

import numpy as np

from under_lattice.core.errors import LimitError, RuleRefused
from under_lattice.declare.dials import Choice, Length, Ratio
from under_lattice.geometry.affine import Array, apply
from under_lattice.geometry.outline import LINE, MOVE
from under_lattice.geometry.path import Path, paths_of
from under_lattice.pattern.clipping import ERROR, padded
from under_lattice.pattern.findings import Findings
from under_lattice.pattern.marks import Marks, draw
from under_lattice.pattern.pieces import stage_of_outlines
from under_lattice.pattern.stage import Family, Stage, limit_copies
from under_lattice.rules.base import RuleFamily, describe
from under_lattice.rules.families import CopyRule
from under_lattice.rules.ground import Ground

LINES_MOST, EACH_MOST = 20_000, 20_000


class Dash(CopyRule):
    """Lines in pieces."""

    title: ClassVar[str] = "Dash"
    words: ClassVar[str] = "Outlines and lines fall into dashes, a whole number on each; each dash is a copy that can be coloured."
    search: ClassVar[str] = "dashes dotted segments pieces stitch broken line perforate"
    family: ClassVar[RuleFamily] = "repeat"

    kind: Literal["dash"] = "dash"
    dash: Annotated[float, Length("Dash", "Of each.", least=0.001, slides=(0.2, 60))] = 6.0
    gap: Annotated[float, Length("Gap", "Between two.", least=0.0, slides=(0.0, 60))] = 3.0
    fit: Annotated[
        Literal["a whole number", "as typed"],
        Choice("Fitted", "Sized a little so that a whole number fits each line.", options=("a whole number", "as typed")),
    ] = "a whole number"
    shift: Annotated[float, Ratio("Shift", "Along closed lines, of dash and gap.", least=-1e4, slides=(0, 100), main=False)] = 0.0

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
        pieces: list[Array] = []
        names: list[tuple[int, int, int]] = []  # copy, line, dash
        for line, (copy, path) in enumerate(_lines(marks)):
            if line % 64 == 0:
                ground.progress.step(line / max(marks.count, line))
            found = self._pieces(path)
            pieces += found
            names += [(copy, line, k) for k in range(len(found))]
            limit_copies(len(pieces))
        if not pieces:
            raise RuleRefused("there is no line to dash")
        outlines = padded(pieces)
        verbs = bytes([MOVE] + [LINE] * (outlines.shape[1] - 1))
        kept, row, column = np.array(names).T
        channels = {"row": row.astype(float), "column": column.astype(float), "step": np.arange(float(len(kept)))}
        faces = [Family(verbs, outlines, np.arange(len(kept), dtype=np.int32))]
        said = Findings(said={"dash": f"{len(kept):,} in all"})
        return stage_of_outlines(self.id, above, kept, faces, key=np.stack([row, column], 1), channels=channels, found=said)

    def _pieces(self, path: Path) -> list[Array]:
        """The dashes of one line (k, 2) each, corners kept."""
        period, factor = self.dash + self.gap, 1.0
        if self.fit == "a whole number":
            count = max(1, round((path.length if path.closed else path.length + self.gap) / period))
            factor = path.length / (count * period - (0.0 if path.closed else self.gap))
        else:
            count = int(np.ceil(path.length / period - 1e-9))
        if count > EACH_MOST:
            raise LimitError(f"one line would fall into {count:,} dashes; at most {EACH_MOST:,}")
        begin = (np.arange(count) + (self.shift / 100 if path.closed else 0.0)) * period * factor
        end = begin + self.dash * factor
        if self.fit == "as typed":
            end = np.minimum(end, path.length) if not path.closed else np.minimum(end, begin[0] + path.length)
        rounds = path.points, path.along
        if path.closed:  # a dash may run on over the joint
            turn = np.floor(begin / path.length) * path.length
            begin, end = begin - turn, end - turn
            rounds = np.concatenate([path.points, path.points[1:]]), np.concatenate([path.along, path.along[1:] + path.length])
        starts, ends = path.at(begin)[0], path.at(end)[0]
        points, along = rounds
        out = []
        for k in range(count):
            between = points[np.searchsorted(along, begin[k], "right") : np.searchsorted(along, end[k], "left")]
            out.append(np.concatenate([starts[k : k + 1], between, ends[k : k + 1]]))
        return out

    @property
    def at_rest(self) -> str:
        """Why nothing changes."""
        return "each line is one dash"

    def key_line(self, unit: str) -> str:
        """Return dash and gap."""
        return f"{describe(self.dash, unit)}, gap {describe(self.gap, unit)}"


def _lines(marks: Marks) -> Iterator[tuple[int, Path]]:
    """The contours of all marks as they lie, each with the copy it belongs to."""
    for f, v, xform, copy in zip(marks.family, marks.variant, marks.xform, marks.copy, strict=True):
        if v >= 0:
            points = apply(xform, marks.families[f].points[v])
            for path in paths_of(marks.families[f].verbs, points, ERROR * (float(np.ptp(points, 0).max()) or 1.0)):
                yield int(copy), path
