"""Rule: Symmetry, the motif repeated by a symmetry group of the plane, of a strip or about a point."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal, get_args

import numpy as np
import shapely

from under_lattice.core.units import short
from under_lattice.declare.dials import Angle, Choice, Count, Length, Point, Ratio, When
from under_lattice.geometry.affine import Array, about, apply, compose, inverse, linear, mirrors, moves, turns
from under_lattice.geometry.groups import HEXAGONAL, OBLIQUE, SQUARE, Frieze, Plane, cell_of, maps_of, mirror_lines
from under_lattice.pattern.clipping import Clipped, nearest_region
from under_lattice.pattern.findings import Findings
from under_lattice.pattern.stage import Stage, limit_copies, repeat, reshaped
from under_lattice.rules.base import describe
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Arrow, Drag, Handle, HandleSet, polar
from under_lattice.rules.shared.anchor import Anchor, nearest_spot, resolve
from under_lattice.rules.shared.runs import LEVEL, PLAIN_STACKING, PlainStacking, Repeat, meets_sheet
from under_lattice.rules.surroundings import Surroundings, tidy
from under_lattice.vary.numbers import Number

Over = Literal["the plane", "a strip", "a point"]
IN_PLANE = When(field="over", values=("the plane",), reason="only in the plane")
IN_STRIP = When(field="over", values=("a strip",), reason="only in a strip")
ABOUT_POINT = When(field="over", values=("a point",), reason="only about a point")
CELLED = When(field="over", values=("the plane", "a strip"), reason="there is no cell about a point")
TALL = When(
    field="group",
    values=tuple(g for g in get_args(Plane) if g not in SQUARE + HEXAGONAL),
    reason="the width gives the whole cell of this group",
)
LEANS = When(field="group", values=OBLIQUE, reason="the cell of this group has right angles")


class Symmetry(Repeat):
    """Repeat by a symmetry group."""

    title: ClassVar[str] = "Symmetry"
    words: ClassVar[str] = "Repeat by a symmetry group: the seventeen of the plane, the seven of a strip, or about a point."
    turns_back: ClassVar[bool] = True
    search: ClassVar[str] = "wallpaper frieze kaleidoscope crystal reflect glide p4m p6m group mandala"

    goes_beyond: ClassVar[bool] = True

    kind: Literal["symmetry"] = "symmetry"
    over: Annotated[
        Over, Choice("Over", "The whole plane, a strip that runs across, or round one point.", options=get_args(Over))
    ] = "the plane"
    group: Annotated[
        Plane, Choice("Group", "By its crystallographic name.", options=get_args(Plane), when=(IN_PLANE,), search="wallpaper")
    ] = "p4m"
    strip: Annotated[
        Frieze,
        Choice("Group", "The seven ways a strip can repeat.", options=get_args(Frieze), when=(IN_STRIP,), search="frieze border"),
    ] = "p2mg"
    count: Annotated[float, Count("Turns", "How many times round.", most=360, slides=(1, 24), when=(ABOUT_POINT,))] = 6
    mirrored: Annotated[
        Literal["turned only", "mirrored too"],
        Choice(
            "Copies",
            "Copies are turned only, or turned and mirrored.",
            options=("turned only", "mirrored too"),
            when=(ABOUT_POINT,),
        ),
    ] = "mirrored too"
    width: Annotated[
        float, Length("Cell width", "Width of the cell that repeats.", least=0.01, slides=(10.0, 200.0), when=(CELLED,))
    ] = 80.0
    height: Annotated[
        float, Length("Cell height", "Height of the cell that repeats.", least=0.01, slides=(10.0, 200.0), when=(IN_PLANE, TALL))
    ] = 80.0
    lean: Annotated[
        float,
        Angle(
            "Cell angle",
            "The angle between the sides of the cell.",
            least=10.0,
            most=170.0,
            winds=True,
            roams=30.0,
            slides=(30.0, 150.0),
            when=(IN_PLANE, LEANS),
        ),
    ] = 90.0
    turn: Annotated[float, Angle("Turn", "Turns the whole pattern about its pivot.", main=False)] = 0.0
    x: Annotated[
        float, Length("Motif across", "How far to the right of the pivot the motif stands in its cell.", slides=(-60.0, 60.0))
    ] = 14.0
    y: Annotated[float, Length("Motif down", "How far below the pivot the motif stands in its cell.", slides=(-60.0, 60.0))] = 6.0
    motif_turn: Annotated[float, Angle("Motif turn", "Turns the motif about its own middle.")] = 0.0
    motif_size: Annotated[
        float,
        Ratio("Motif size", "Size of the motif, about its own middle.", least=0.1, most=10000.0, slides=(10.0, 200.0), main=False),
    ] = 100.0
    pivot: Annotated[Anchor, Point("Pivot", "A corner of the cell, where the axes meet.")] = Anchor()
    shows: Annotated[
        Literal["overlapping", "clipped to its region"],
        Choice(
            "Motif is",
            "Whole, so that copies may overlap, or clipped to the region that is its own: all that is nearer to it than to a copy.",
            options=("overlapping", "clipped to its region"),
            main=False,
            search="kaleidoscope fundamental domain",
        ),
    ] = "overlapping"
    stacking: Annotated[PlainStacking, PLAIN_STACKING] = "last on top"
    level: Annotated[Number, LEVEL] = 0.0

    def place(self, above: Stage, ground: Ground) -> Stage:
        """Return the copies: each operation of the group in each cell that meets the sheet.

        Raises
        ------
        LimitError
        """
        pivot = resolve(self.pivot, above, ground)
        own = self._own(above)
        whole = compose(moves(pivot), turns(self.turn))
        i, j, steps = self._operations(above, ground, whole, own)
        order = len(self.maps())
        key = np.stack([j * order + np.arange(len(i)) % order, i], 1) if self.over != "a point" else np.stack([0 * i, i], 1)
        channels = {"row": j.astype(float), "column": i.astype(float), "step": np.arange(len(i)) % order * 1.0}
        steps = compose(compose(whole[None], steps), own)
        keep = meets_sheet(steps, above.together, ground)
        if self.over == "a point" or not keep.any():
            keep = np.ones(len(steps), bool)
        found = Findings(said=dict.fromkeys(("group", "strip"), f"{order} in each cell"))
        shown = above
        if self.shows == "clipped to its region":
            region = apply(inverse(above.xform), self._region(above, ground, whole, own)[None])
            shown = reshaped(above, Clipped(above.shape, above.rule, tuple(shapely.Polygon(one) for one in region)))
        return repeat(
            shown,
            self.id,
            steps[keep],
            key[keep],
            {name: value[keep] for name, value in channels.items()},
            pivot=pivot,
            found=found,
        )

    def cell(self) -> Array:
        """Return the cell's two vectors as columns (2, 2), not turned."""
        return cell_of("p1" if self.over == "a strip" else self.group, self.width, self.height, self.lean)

    def maps(self) -> Array:
        """Return the operations (k, 2, 3) in one cell, about the pivot."""
        if self.over == "a point":
            around = turns(360.0 / self.count * np.arange(int(self.count)))
            return around if self.mirrored == "turned only" else np.concatenate([around, compose(around, mirrors(-90.0)[None])])
        if self.over == "a strip":
            return maps_of(self.strip, np.diag([self.width, self.width]), frieze=True)
        return maps_of(self.group, self.cell())

    def _own(self, above: Stage) -> Array:
        """What is done to the motif (2, 3) before it is repeated: turned and sized, moved to its place in the cell."""
        home = above.xform[above.origin, :, 2]
        own = about(linear(self.motif_turn, self.motif_size / 100, self.motif_size / 100), home)
        own[:, 2] += np.array([self.x, self.y]) - home
        return own

    def _region(self, above: Stage, ground: Ground, whole: Array, own: Array) -> Array:
        """The region that is the motif's own, in the place above (V, 2): what is nearer to its middle than to that of any copy.

        Raises
        ------
        RuleRefused
            When the middle stands on a mirror or an axis.
        """
        home = above.xform[above.origin, :, 2]
        place = apply(own, home[None])[0]
        _, _, steps = self._operations(above, ground, whole, own)
        images = apply(steps, place[None, None])[:, 0]
        others = images[np.abs(steps - np.eye(2, 3)).max((1, 2)) > 1e-9]
        far = 2 * float(np.hypot(ground.width, ground.height)) + float(np.hypot(*place))
        box = place + np.array([(-far, -far), (far, -far), (far, far), (-far, far)])
        return apply(inverse(own), nearest_region(place, others, box))

    def _operations(self, above: Stage, ground: Ground, whole: Array, own: Array) -> tuple[Array, Array, Array]:
        """Column and row of each cell, and the operations in it, (s,), (s,) and (s, 2, 3), about the pivot."""
        maps = self.maps()
        if self.over == "a point":
            return np.arange(len(maps)), np.zeros(len(maps), np.int64), maps
        cell = self.cell()
        corners = apply(inverse(compose(ground.back, whole)), ground.sheet())
        bodies = apply(own, above.together.reshape(-1, 2))
        reach = float(np.hypot(*np.abs(bodies).max(0)))
        low, high = corners.min(0) - reach, corners.max(0) + reach
        box = np.array([(low[0], low[1]), (high[0], low[1]), (high[0], high[1]), (low[0], high[1])])
        if self.over == "a strip":
            columns = np.arange(np.floor(low[0] / self.width) - 1, np.ceil(high[0] / self.width) + 2)
            rows = np.zeros(1)
        else:
            at = box @ np.linalg.inv(cell).T
            columns, rows = (np.arange(np.floor(at[:, k].min()) - 1, np.ceil(at[:, k].max()) + 2) for k in (0, 1))
        limit_copies(float(len(columns)) * len(rows) * len(maps) * above.n)
        j, i, k = (v.ravel() for v in np.meshgrid(rows, columns, np.arange(len(maps)), indexing="ij"))
        steps = maps[k]
        steps[..., 2] += np.stack([i, j], -1) @ cell.T
        return i.astype(np.int64), j.astype(np.int64), steps

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return the pivot, the motif in its cell, the cell's vectors, and the mirror lines."""
        pivot = resolve(self.pivot, above, ground)
        whole = compose(moves(pivot), turns(self.turn))
        ring = above.bodies(np.array([above.origin]))[0]
        own = self._own(above)
        frame = apply(compose(whole, own), ring)
        middle = (frame.min(0) + frame.max(0)) / 2
        handles = [
            Handle("pivot", pivot, f"pivot: {self.pivot.words()}", "pivot"),
            Handle("motif", middle, "the motif: drag it, the rest follow", "frame"),
        ]
        arrows: list[Arrow] = []
        lines: list[Array] = []
        if self.shows == "clipped to its region":
            region = apply(compose(whole, own), self._region(above, ground, whole, own))
            lines.append(np.concatenate([region, region[:1]]))
        if self.over != "a point":
            cell = self.cell() if self.over == "the plane" else np.diag([self.width, self.width])
            ends = apply(whole, cell.T)
            handles.append(Handle("width", ends[0], f"cell {describe(self.width, unit)}", "tip"))
            arrows.append(Arrow(pivot, ends[0], f"cell {describe(self.width, unit)}"))
            if self.over == "the plane":
                arrows.append(Arrow(pivot, ends[1], ""))
                lines.append(apply(whole, np.array([cell[:, 0], cell[:, 0] + cell[:, 1], cell[:, 1]])))
        reach = self.width if self.over != "a point" else 2 * float(np.hypot(*(middle - pivot)))
        for point, way, glide in mirror_lines(self.maps()):
            ends = np.array([point - way * reach * 0.6, point + way * reach * 0.6])
            if not glide:
                lines.append(apply(whole, ends))
        return HandleSet(tuple(handles), None, frame, tuple(arrows), tuple(lines))

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Return pivot, the motif's place or the cell."""
        if drag.name == "pivot":
            return {"pivot": nearest_spot(drag.to, above, ground, drag)}
        pivot = resolve(self.pivot, above, ground)
        back = inverse(compose(moves(pivot), turns(self.turn)))
        if drag.name == "motif":
            ring, own = above.bodies(np.array([above.origin]))[0], self._own(above)
            frame = apply(own, ring)
            x, y = apply(back, drag.to[None])[0] - (frame.min(0) + frame.max(0)) / 2 + np.array([self.x, self.y])
            return {"x": drag.length(float(x), 0.0), "y": drag.length(float(y), 0.0)}
        away, heading = polar(drag.to - pivot)
        return {"width": max(0.01, drag.length(away)), "turn": drag.angle(heading)}

    @classmethod
    def suggested(cls, around: Surroundings) -> dict[str, Any]:
        """Return a cell three motifs wide."""
        cell = tidy(around.size * 3)
        return {"width": cell, "height": cell, "x": tidy(around.size * 0.8), "y": tidy(around.size * 0.35)}

    def by_picture(self) -> str:
        """Return the dial of the group, of the plane or of a strip."""
        return {"the plane": "group", "a strip": "strip"}.get(self.over, "")

    def key_line(self, unit: str) -> str:
        """Return the group and its cell."""
        if self.over == "a point":
            return f"{'D' if self.mirrored == 'mirrored too' else 'C'}{short(self.count)} about a point"
        if self.over == "a strip":
            return f"strip {self.strip}, cell {describe(self.width, unit)}"
        return f"{self.group}, cell {describe(self.width, unit)}"
