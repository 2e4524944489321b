"""Rule: Along a curve, copies in even steps on a line: one through points, the sheet's edge, or the outlines of another layer."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Literal, get_args

import numpy as np

from under_lattice.core.errors import InputError, RuleRefused
from under_lattice.core.units import short
from under_lattice.declare.dials import Angle, Choice, Count, LayerChoice, Length, Ratio, When
from under_lattice.geometry.affine import Array, about, linear
from under_lattice.geometry.outline import polygon
from under_lattice.geometry.path import Path, line_through, paths_of
from under_lattice.pattern.ask import StepAsk
from under_lattice.pattern.findings import Findings
from under_lattice.pattern.marks import Marks, paths_of_marks
from under_lattice.pattern.stage import Stage, limit_copies, repeat
from under_lattice.rules.base import describe
from under_lattice.rules.findings import Cure
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Drag, Handle, HandleSet
from under_lattice.rules.repeats.spots import HANDLES_MOST, SpotList, read_spots, spots_text
from under_lattice.rules.shared.runs import LEVEL, PLAIN_STACKING, PlainStacking, Repeat
from under_lattice.rules.surroundings import Surroundings, tidy
from under_lattice.vary.numbers import Number

Line = Literal["points", "the sheet's edge", "another layer"]
DRAWN = When(field="line", values=("points",), reason="only for a line through points")
EDGE = When(field="line", values=("the sheet's edge",), reason="only for the sheet's edge")
OTHER = When(field="line", values=("another layer",), reason="only for the outlines of a layer")
BY_NUMBER = When(field="spacing", values=("by number",), reason="the pitch says how many")
BY_PITCH = When(field="spacing", values=("by pitch",), reason="the number says how far apart")
LINES_MOST = 20_000


@dataclass(frozen=True)
class PointList(SpotList):
    """Points as ``x, y; x, y``, at least two."""

    def check(self, value: str) -> str:
        """Hold to two or more points without turn and size.

        Raises
        ------
        InputError
        """
        points = read_spots(value, "point", 2)
        if len(points) < 2:
            raise InputError("a line goes through at least 2 points: x, y; x, y")
        return value


class AlongCurve(Repeat):
    """Copies along a line."""

    title: ClassVar[str] = "Along a curve"
    words: ClassVar[str] = "Copies in even steps along a line: one through points, the sheet's edge, or another layer's outlines."
    search: ClassVar[str] = "path border edge frame follow line spline tangent trail garland"
    own_steps: ClassVar[tuple[str, ...]] = ("aside", "turn", "size", *Repeat.own_steps)
    turns_back: ClassVar[bool] = True

    kind: Literal["along-curve"] = "along-curve"
    line: Annotated[
        Line, Choice("Along", "Which line the copies stand on.", unsought=("another layer",), options=get_args(Line))
    ] = "points"
    points: Annotated[
        str,
        PointList(
            "Points", "Points of the line: x, y of each, from the middle of the sheet, with semicolons between.", when=(DRAWN,)
        ),
    ] = "-60, 20; -20, -25; 20, 25; 60, -20"
    bends: Annotated[
        Literal["smooth", "straight"],
        Choice("Bends", "One smooth curve, or straight from point to point.", options=("smooth", "straight"), when=(DRAWN,)),
    ] = "smooth"
    ends: Annotated[
        Literal["open", "closed"],
        Choice("The line is", "Open, or closed from the last point to the first.", options=("open", "closed"), when=(DRAWN,)),
    ] = "open"
    inset: Annotated[
        float, Length("Inset", "How far the line runs inside the edge of the sheet.", least=0.0, slides=(0.0, 60.0), when=(EDGE,))
    ] = 20.0
    layer: Annotated[
        str, LayerChoice("Layer", "The outlines of this layer, where its copies lie, are the lines.", when=(OTHER,))
    ] = ""
    spacing: Annotated[
        Literal["by number", "by pitch"],
        Choice(
            "Spacing", "So many copies on each line, or one after each length.", options=("by number", "by pitch"), shows="pitch"
        ),
    ] = "by number"
    count: Annotated[
        float, Count("Copies", "How many copies stand on each line.", most=5000, slides=(1, 80), when=(BY_NUMBER,))
    ] = 12
    pitch: Annotated[
        float, Length("Pitch", "From copy to copy along the line.", least=0.001, slides=(1.0, 80.0), when=(BY_PITCH,))
    ] = 12.0
    fit: Annotated[
        Literal["to a whole number", "as typed"],
        Choice(
            "Fitted",
            "The pitch is changed a little so that a whole number fits the line.",
            options=("to a whole number", "as typed"),
            when=(BY_PITCH,),
            main=False,
        ),
    ] = "to a whole number"
    begin: Annotated[
        float, Ratio("Begins at", "How far along the line the first copy stands.", slides=(0.0, 100.0), main=False)
    ] = 0.0
    facing: Annotated[
        Literal["along the line", "upright"],
        Choice("Orientation", "Turned with the line, or not at all.", options=("along the line", "upright")),
    ] = "along the line"
    turn: Annotated[Number, Angle("Further turn", "How much further each copy is turned, about its own middle.", vary=True)] = 0.0
    aside: Annotated[
        Number,
        Length(
            "Aside",
            "How far copies stand to the right of the line as it runs; below zero to its left.",
            least=-1e5,
            vary=True,
            slides=(-40, 40),
        ),
    ] = 0.0
    size: Annotated[
        Number, Ratio("Size", "Of each copy.", least=0.1, most=10000.0, vary=True, slides=(10.0, 200.0), main=False)
    ] = 100.0
    stacking: Annotated[PlainStacking, PLAIN_STACKING] = "last on top"
    level: Annotated[Number, LEVEL] = 0.0

    def layers(self) -> tuple[str, ...]:
        """Return the layer whose outlines are followed."""
        return (self.layer,) if self.line == "another layer" and self.layer else ()

    def place(self, above: Stage, ground: Ground) -> Stage:
        """Return the copies, line by line.

        Raises
        ------
        RuleRefused, LimitError
        """
        paths = self._paths(ground)
        stands = [self._walked(path) for path in paths]
        limit_copies(float(sum(map(len, stands))) * above.n)
        found = [path.at(s) for path, s in zip(paths, stands, strict=True)]
        at, heading = (np.concatenate(parts) for parts in zip(*found, strict=True))
        line = np.repeat(np.arange(len(paths)), [len(s) for s in stands])
        k = np.concatenate([np.arange(len(s)) for s in stands])
        steps = self._steps(above, ground, at, heading)
        index, group = (v.ravel() for v in np.meshgrid(np.arange(len(k)), np.arange(above.n), indexing="ij"))
        channels = {"step": np.arange(len(k), dtype=float), "column": k.astype(float), "row": line.astype(float)}
        pitch = paths[0].length / max(1, len(stands[0]) - (not paths[0].closed))
        findings = Findings({"pitch": pitch, "count": len(stands[0])}, self._said(paths, stands))
        key = np.stack([line, k], 1)
        if steps.shape[1] == 1:
            return repeat(above, self.id, steps[:, 0], key, channels, found=findings)
        spread = {name: values[index] for name, values in channels.items()}
        return repeat(above, self.id, steps[index, group], key[index], spread, group=group, found=findings)

    def _steps(self, above: Stage, ground: Ground, at: Array, heading: Array) -> Array:
        """Where the copies above are taken: (K, 1 or n, 2, 3)."""
        ask, home = StepAsk(above, ground.known, self.id, len(at)), above.xform[above.origin, :, 2]
        turn, aside, size = ask.steps(self.turn), ask.steps(self.aside), ask.steps(self.size) / 100
        along = np.radians(heading)
        right = np.stack([-np.sin(along), np.cos(along)], -1)
        if self.facing == "along the line":
            turn = turn + heading[:, None]
        own = about(linear(turn, size, size), home)
        out = np.array(np.broadcast_to(own, np.broadcast_shapes(own.shape, (len(at), aside.shape[1], 2, 3))))
        out[..., 2] += (at - home)[:, None] + right[:, None] * aside[..., None]
        return out

    def _paths(self, ground: Ground) -> list[Path]:
        if self.line == "the sheet's edge":
            if 2 * self.inset >= min(ground.width, ground.height):
                raise RuleRefused(
                    f"an inset of {short(self.inset)} leaves no line; the sheet is {short(ground.width)} by {short(ground.height)}"
                )
            edge = polygon(ground.sheet(-self.inset))
            return paths_of(edge.verbs, edge.points)
        if self.line == "points":
            line = line_through(read_spots(self.points)[:, :2], self.ends == "closed", self.bends == "smooth")
            found = paths_of(line.verbs, line.points)
            if not found:
                raise RuleRefused("all points of the line lie on one spot")
            return found
        marks = ground.layers.get(self.layer)
        if not self.layer:
            raise RuleRefused("choose the layer whose outlines are followed")
        if marks is None or not marks.count:
            raise RuleRefused("the layer to follow is gone or empty, or it follows this one")
        return outlines_of(marks)

    def _walked(self, path: Path) -> Array:
        """Lengths walked to the copies on one line."""
        start = self.begin / 100 * path.length
        if self.spacing == "by number":
            n = int(self.count)
            step = path.length / (n if path.closed else max(1, n - 1))
        elif self.fit == "to a whole number":
            whole = max(1, round(path.length / self.pitch))
            step, n = path.length / whole, whole + (not path.closed)
        else:
            step, n = self.pitch, int(path.length / self.pitch + 1e-9) + (not path.closed)
        s = start + step * np.arange(max(n, 1))
        if path.closed:
            return np.asarray(s)
        if self.spacing == "by number" and n == 1:
            return np.array([start])
        return np.asarray(s[s <= path.length * (1 + 1e-9)])

    def _said(self, paths: list[Path], stands: list[Array]) -> dict[str, str]:
        total = sum(map(len, stands))
        many = f" on {len(paths):,} lines" if len(paths) > 1 else ""
        said = {"line": f"length {short(paths[0].length, 2)}" if len(paths) == 1 else f"{len(paths):,} lines"}
        step = stands[0][1] - stands[0][0] if len(stands[0]) > 1 else 0.0
        said["spacing"] = f"{total:,} in all{many}" if self.spacing == "by pitch" else f"pitch {short(float(step), 3)}"
        over = paths[0].length - step * (len(stands[0]) - (not paths[0].closed))
        if self.spacing == "by pitch" and self.fit == "as typed" and abs(over) > 1e-6:
            said["fit"] = f"{short(float(over), 3)} is left over"
        return said

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return the line, a bead on each of its points, and on the first copy one that carries it aside."""
        paths = self._paths(ground)
        lines = tuple(path.points for path in paths[:HANDLES_MOST])
        handles: list[Handle] = []
        if self.line == "points":
            points = read_spots(self.points)[:HANDLES_MOST, :2]
            for k, (x, y) in enumerate(points):
                handles.append(Handle(f"point {k + 1}", np.array([x, y]), f"{k + 1}: {short(x, 2)}, {short(y, 2)} {unit}", "bead"))
            for k, middle in enumerate(_between(paths[0], points)):
                handles.append(Handle(f"new {k + 2}", middle, "drag for one more point", "tip"))
        if stage.n:
            words = f"aside {describe(self.aside, unit)}"
            handles.append(Handle("aside", stage.xform[stage.origin, :, 2], words, "tip"))
        return HandleSet(tuple(handles), above.bodies(np.array([above.origin]))[0], None, (), lines)

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Return how far aside copies stand, or the points.

        One is moved and snaps to the construction grid, there is one more, or one less where it is dragged upon the next.
        """
        if drag.name == "aside":
            path = self._paths(ground)[0]
            at, heading = path.at(self._walked(path)[:1])
            along = np.radians(heading[0])
            away = float((drag.to - at[0]) @ np.array([-np.sin(along), np.cos(along)]))
            return {"aside": drag.length(away, 0.0)}
        points, (what, number) = read_spots(self.points), drag.name.split()
        k, to = int(number) - 1, drag.on_grid()
        if what == "new":
            return {"points": spots_text(np.insert(points, k, (*to, 0.0, 100.0), 0))}
        points[k, :2] = to
        beside = points[[j for j in (k - 1, k + 1) if 0 <= j < len(points)], :2]
        if len(points) > 2 and not drag.free and np.hypot(*(beside - drag.to).T).min() <= drag.near:
            points = np.delete(points, k, 0)
        return {"points": spots_text(points)}

    def overlap_cure(self, gap: float, stage: Stage) -> Cure | None:
        """Return how many copies have room on the line, a whole number, where they are counted."""
        if self.spacing != "by number" or self.count <= 2:
            return None
        pitch = stage.found.values["pitch"]
        fewer = max(2, int(self.count * pitch / (pitch - gap)))
        return Cure(self.id, "count", fewer, f"Use {fewer} copies")

    @classmethod
    def suggested(cls, around: Surroundings) -> dict[str, Any]:
        """Return a wave across the sheet."""
        x, y = tidy(around.width * 0.36), tidy(around.height * 0.22)
        points = f"{-x:g}, {short(y)}; {-x / 3:g}, {-y:g}; {x / 3:g}, {short(y)}; {short(x)}, {-y:g}"
        return {"points": points, "pitch": tidy(around.size * 1.1), "count": 16, "inset": tidy(around.size * 0.7)}

    def key_line(self, unit: str) -> str:
        """Return the line and how many or how far apart."""
        many = f"{short(self.count)} copies" if self.spacing == "by number" else f"pitch {describe(self.pitch, unit)}"
        return f"{self.line}, {many}"


def _between(path: Path, points: Array) -> list[Array]:
    """The middle of the line between each two neighbouring points."""
    at = [path.along[int(np.argmin(np.hypot(*(path.points - point).T)))] for point in points]
    ends = [*at[1:], path.length] if path.closed else at[1:]
    middles = [(a + b) / 2 for a, b in zip(at, ends, strict=False) if b > a]
    return list(path.at(np.array(middles))[0]) if middles else []


def outlines_of(marks: Marks) -> list[Path]:
    """Return the outlines of all marks as they lie.

    Raises
    ------
    RuleRefused
        When there are too many to follow.
    """
    if marks.count > LINES_MOST:
        raise RuleRefused(f"at most {LINES_MOST:,} outlines can be followed; that layer has {marks.count:,}")
    out = paths_of_marks(marks)
    if not out:
        raise RuleRefused("the layer to follow shows no outline")
    return out
