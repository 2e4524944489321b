"""Rule: Interlace, the lines of what stands above become straps that pass over and under each other by turns."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Literal

import numpy as np
import shapely
import shapely.affinity

from under_lattice.core.affine import IDENTITY, Array
from under_lattice.core.ask import Ask
from under_lattice.core.clip import padded
from under_lattice.core.declare import Choice, Length
from under_lattice.core.errors import LimitError, RuleRefused
from under_lattice.core.interlace import alternating, crossings, straps
from under_lattice.core.marks import draw
from under_lattice.core.outline import CLOSE, LINE, MOVE, Outline, polygon, polygon_verbs
from under_lattice.core.path import Path, paths_of_marks
from under_lattice.core.stage import Family, Stage
from under_lattice.rules.base import CopyRule, Ground, RuleFamily, describe

LINES_MOST = 2000


class Interlace(CopyRule):
    """Straps over and under."""

    title: ClassVar[str] = "Interlace"
    words: ClassVar[str] = "The outlines of all copies become straps that pass over and under each other by turns, as in a knot."
    search: ClassVar[str] = "knot weave braid plait celtic over under chain rings strapwork"
    family: ClassVar[RuleFamily] = "repeat"

    kind: Literal["interlace"] = "interlace"
    width: Annotated[float, Length("Width", "Of the straps.", least=0.001, most=1e5, slides=(0.5, 30.0))] = 5.0
    gap: Annotated[float, Length("Gap", "Left beside the strap that passes over.", least=0.0, most=1e4, slides=(0.0, 10.0))] = 1.0
    begins: Annotated[
        Literal["over", "under"], Choice("Begins", "How the first line passes its first crossing.", options=("over", "under"))
    ] = "over"
    corners: Annotated[Literal["sharp", "round"], Choice("Corners", "Of the straps.", options=("sharp", "round"), main=False)] = (
        "sharp"
    )

    def place(self, above: Stage, ground: Ground) -> Stage:
        """Return the straps: row by row the lines, in each row its pieces.

        Raises
        ------
        RuleRefused
            When lines lie upon each other, or nothing is left of the straps.
        LimitError
        """
        lines = self._lines(above, ground)
        found = crossings(lines)
        over, broken = alternating(found, len(lines))
        over = over if self.begins == "over" else ~over
        made = straps(lines, found, over, self.width, self.gap, "mitre" if self.corners == "sharp" else "round")
        pieces = [piece for line in made for piece in line]
        if not pieces:
            raise RuleRefused("nothing is left of the straps; make them narrower or the gap smaller")
        line = np.repeat(np.arange(len(made)), [len(one) for one in made])
        column = np.concatenate([np.arange(len(one)) for one in made])
        channels = {"row": line.astype(float), "column": column.astype(float), "step": np.arange(len(line), dtype=float)}
        n = len(pieces)
        middle = np.array([piece.centroid.coords[0] for piece in pieces])
        places = np.tile(IDENTITY, (n, 1, 1))
        places[:, :, 2] = middle
        shape = Straps(tuple(shapely.affinity.translate(p, -x, -y) for p, (x, y) in zip(pieces, middle, strict=True)))
        said = {"width": f"{len(lines):,} lines, {len(found.places):,} crossings"}
        notes: dict[str, Any] = {"said": said, "attention": self._attention(found.places[broken], found.places)}
        key = np.stack([line, column], 1)
        return Stage(self.id, shape, places, places, np.arange(n, dtype=np.int32), key, None, channels, notes=notes)

    def _lines(self, above: Stage, ground: Ground) -> list[Path]:
        """The outlines of all that stands above, in its place."""
        marks = draw(above, ground.known)
        if marks.count > LINES_MOST:
            raise LimitError(f"there are {marks.count:,} outlines; at most {LINES_MOST:,} can be interlaced")
        return paths_of_marks(marks, self.width * 0.004)

    def _attention(self, broken: Array, places: Array) -> tuple[tuple[str, tuple[Array, ...]], ...]:
        """What cannot be done, and where: turns that do not come out even, and points where more than two lines meet."""
        if not len(places):
            return (("no lines cross; copies must overlap for their outlines to pass over and under", ()),)
        round_them = np.array([(-1, -1), (1, -1), (1, 1), (-1, 1)]) * self.width
        out = []
        if len(broken):
            times = "one crossing" if len(broken) == 1 else f"{len(broken):,} crossings"
            out.append((f"over and under cannot take turns at {times}", tuple(at + round_them for at in broken)))
        size = float(np.ptp(places, 0).max()) or 1.0
        cells, counts = np.unique(np.rint(places / (1e-6 * size)).astype(np.int64), axis=0, return_counts=True)
        many = cells[counts > 1] * 1e-6 * size
        if len(many):
            where = "one place" if len(many) == 1 else f"{len(many):,} places"
            out.append((f"more than two lines cross in {where}", tuple(at + round_them for at in many)))
        return tuple(out)

    def key_line(self, unit: str) -> str:
        """Return width and gap."""
        return f"{describe(self.width, unit)} wide, gap {describe(self.gap, unit)}"


@dataclass(frozen=True, eq=False)
class Straps:
    """One outline for each copy; those with a hole, which never pass under, are a family of their own."""

    alike: ClassVar[bool] = False  # a body says nothing of the others: distances between neighbours mean nothing
    pieces: tuple[shapely.Polygon, ...]

    @property
    def faces(self) -> int:
        """One, or two where rings are among them."""
        return 1 + any(piece.interiors for piece in self.pieces)

    def body(self) -> Outline:
        """Return the box of the largest piece."""
        x0, y0, x1, y1 = max(self.pieces, key=lambda piece: piece.area).bounds
        return polygon(np.array([(x0, y0), (x1, y0), (x1, y1), (x0, y1)]))

    def reach(self) -> float:
        """How far a piece may pass that box."""
        x0, y0, x1, y1 = self.body().box()
        least = min(-x0, -y0, x1, y1)
        return max(0.0, *(float(np.abs(piece.bounds).max()) - least for piece in self.pieces))

    def draw(self, ask: Ask) -> tuple[Family, ...]:
        """Return all pieces as variants of one family; corners they have too few of are repeats of their last."""
        index = ask.ancestors(ask.horizon.rule)
        whole: Stage | None = ask.horizon
        while whole is not None and whole.above is not None:
            index, whole = whole.parent[index], whole.above
        plain = [not piece.interiors for piece in self.pieces]
        out = [_family([p if ok else None for p, ok in zip(self.pieces, plain, strict=True)], index, False)]
        if not all(plain):
            out.append(_family([None if ok else p for p, ok in zip(self.pieces, plain, strict=True)], index, True))
        return tuple(out)


def _family(pieces: list[shapely.Polygon | None], index: Array, ringed: bool) -> Family:
    shown = [piece for piece in pieces if piece is not None]
    number = np.cumsum([piece is not None for piece in pieces]) - 1
    variant = np.where([piece is not None for piece in pieces], number, -1).astype(np.int32)
    if not shown:
        return Family(bytes([MOVE, LINE, LINE, CLOSE]), np.zeros((1, 3, 2)), np.full(len(index), -1, np.int32))
    points = padded([np.array(piece.exterior.coords)[:-1] for piece in shown])
    verbs = polygon_verbs(points.shape[1])
    if ringed:
        inner = padded([np.array(piece.interiors[0].coords)[:-1] for piece in shown])
        points, verbs = np.concatenate([points, inner], 1), verbs + polygon_verbs(inner.shape[1])
    return Family(verbs, points, variant[index])
