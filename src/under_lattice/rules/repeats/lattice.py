"""Rule: Lattice, copies in rows and columns that touch, cover, fit or are counted."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import replace
from typing import Annotated, Any, ClassVar, Literal, get_args

import numpy as np

from under_lattice.core.errors import RuleRefused
from under_lattice.core.progress import Progress
from under_lattice.declare.dials import Angle, Choice, Count, Length, Point, Ratio, Tied, When
from under_lattice.geometry.affine import IDENTITY, Array, apply, compose, inverse, moves, turns
from under_lattice.geometry.body import hull, inside, meeting, within
from under_lattice.pattern.ask import Ask, rest
from under_lattice.pattern.stage import Stage, limit_copies, repeat
from under_lattice.rules.base import Rule, describe
from under_lattice.rules.findings import NoEffect, Placed, Site, Warn
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Drag, HandleSet
from under_lattice.rules.motifs.tiling import cell_of_shape
from under_lattice.rules.repeats import lattice_net as nets
from under_lattice.rules.repeats.lattice_handles import lattice_dragged, lattice_handles
from under_lattice.rules.repeats.lattice_says import lattice_cell, lattice_warnings, suggested_lattice
from under_lattice.rules.shared.anchor import Anchor, resolve
from under_lattice.rules.shared.runs import BY_LEVEL, LEVEL, STACKING, Repeat
from under_lattice.rules.surroundings import Surroundings
from under_lattice.vary.bounds import known_readings
from under_lattice.vary.numbers import Number, Varied

Extent = Literal["covers the sheet", "whole copies inside", "fits a box", "by number"]
EXTENTS: tuple[str, ...] = get_args(Extent)
Corner = Literal["middle", "middle copy", "top left", "top right", "bottom left", "bottom right"]
COUNTED = When(field="extent", values=("fits a box", "by number"), reason="the sheet gives the counts")
BOXED = When(field="extent", values=("fits a box",), reason="only when the lattice fits a box")
FREE = When(field="spacing", values=("free",), reason="spacing is touching")
NOT_BOXED = When(field="extent", values=("covers the sheet", "whole copies inside", "by number"), reason="the box gives the pitch")
SHIFTED = When(field="form", values=("staggered rows", "dropped columns"), reason="this form has no shift of its own")
VECTORS = When(field="form", values=("two vectors",), reason="only for two vectors")
UNTIED = When(
    field="form", values=tuple(f for f in nets.FORMS if f not in (*nets.TIED, nets.AS_TILES)), reason="one pitch gives both"
)
TOUCHING = Tied(field="spacing", value="touching", free="free", others=("pitch", "row_pitch"))
TINY = 1e-9
LEAST_PITCH = 0.001
PITCH = Length(
    "Pitch", "From one copy to the next.", least=0.001, vary=True, slides=(1.0, 120.0), when=(FREE, NOT_BOXED), tied=TOUCHING
)
Chosen = tuple[Array, Array, Array, Array | None]  # whole places, their group, and which of them from -> to runs over
BOX = Length("Box width", "Width of the filled box.", least=0.01, main=False, group="Extent", when=(BOXED,), slides=(10, 400))


class Lattice(Repeat):
    """Repeat in rows and columns."""

    title: ClassVar[str] = "Lattice"
    words: ClassVar[str] = "Repeat in rows and columns: squares, hexagons, triangles, bricks, half-drops or any two vectors."
    search: ClassVar[str] = "grid tile repeat honeycomb brick half-drop rows columns array"

    on_net: ClassVar[bool] = True

    kind: Literal["lattice"] = "lattice"
    form: Annotated[nets.Form, Choice("Form", "How rows and columns lie.", options=nets.FORMS, pictures=True)] = (
        "hexagons on points"
    )
    extent: Annotated[Extent, Choice("Extent", "How far it goes.", options=EXTENTS)] = "covers the sheet"
    columns: Annotated[Number, Count("Columns", "How many columns in all, the motif's included.", vary=True, when=(COUNTED,))] = 8
    rows: Annotated[Number, Count("Rows", "How many rows in all, the motif's included.", vary=True, when=(COUNTED,))] = 8
    spacing: Annotated[
        Literal["touching", "free"],
        Choice(
            "Spacing",
            "Touching: neighbours meet, or leave the gap. By pitch: so far from one copy to the next.",
            options=("touching", "free"),
            spoken=("touching", "by pitch"),
            when=(NOT_BOXED,),
            shows="pitch",
        ),
    ] = "touching"
    gap: Annotated[
        Number,
        Length(
            "Gap",
            "How much is left between neighbours on every side; below zero they overlap.",
            least=-1e4,
            most=1e4,
            slides=(-10.0, 10.0),
            when=(When(field="spacing", values=("touching",), reason="the pitch is given"), NOT_BOXED),
        ),
    ] = 0.0
    pitch: Annotated[Number, PITCH] = 36.0
    row_pitch: Annotated[
        Number, replace(PITCH, label="Row pitch", words="From one row to the next.", when=(UNTIED, *PITCH.when))
    ] = 36.0
    shift: Annotated[
        Number,
        Ratio(
            "Shift", "Of every second row or column, in parts of the pitch.", least=-100.0, most=100.0, vary=True, when=(SHIFTED,)
        ),
    ] = 50.0
    march: Annotated[
        Literal["alternating", "progressive"],
        Choice(
            "Rows go",
            "Shifted to and fro (0, f, 0, f), or each further than the one before (0, f, 2f).",
            options=("alternating", "progressive"),
            main=False,
            group="Copies",
            when=(SHIFTED,),
        ),
    ] = "alternating"
    angle: Annotated[float, Angle("First angle", "Direction of the first vector.", when=(VECTORS,))] = 0.0
    row_angle: Annotated[float, Angle("Second angle", "Direction of the second vector.", when=(VECTORS,))] = 70.0
    turn: Annotated[float, Angle("Turn", "Turns the whole lattice about its pivot.")] = 0.0
    pivot: Annotated[Anchor, Point("Pivot", "The point the lattice turns about and is counted from.")] = Anchor()
    stacking: Annotated[
        Literal["last on top", "first on top", "middle on top", "middle below", "by level"],
        replace(STACKING, options=("last on top", "first on top", "middle on top", "middle below", BY_LEVEL)),
    ] = "last on top"
    level: Annotated[Number, LEVEL] = 0.0
    turn_each: Annotated[float, Angle("Turn each", "Turns every copy about its own middle.", main=False, group="Copies")] = 0.0
    grow: Annotated[
        Corner,
        Choice(
            "Grow from",
            "What stays in its place: the middle of all, the copy in the middle, or the one in a corner.",
            options=get_args(Corner),
            main=False,
            group="Extent",
            when=(COUNTED,),
        ),
    ] = "middle"
    margin: Annotated[
        float,
        Length(
            "Margin",
            "How far beyond the sheet is covered too; below zero a border of the sheet stays bare.",
            least=-1e4,
            main=False,
            group="Extent",
            slides=(-40.0, 40.0),
            when=(When(field="extent", values=EXTENTS[:2], reason="counts are given"),),
        ),
    ] = 0.0
    box_width: Annotated[float, BOX] = 240.0
    box_height: Annotated[float, replace(BOX, label="Box height", words="Height of the filled box.")] = 240.0

    def place(self, above: Stage, ground: Ground) -> Stage:
        """Return the copies on the lattice.

        Raises
        ------
        RuleRefused
            When there is no touching pitch, or the vectors are parallel.
        LimitError
        """
        home = above.xform[above.origin, :, 2]
        ragged = any(isinstance(getattr(self, name), Varied) for name in ("columns", "rows", "pitch", "row_pitch", "shift"))
        bodies = self.bodies(above, ragged)
        net = self.net(above, ground, bodies)
        pivot = resolve(self.pivot, above, ground)
        whole = turns(self.turn, pivot)
        sheet = apply(inverse(compose(ground.back, whole)), ground.sheet(self.margin))
        corners = hull(bodies.reshape(-1, 2))
        offset = np.zeros(2)
        if self.extent == "fits a box":
            net, offset = self._fitted(net, corners)
        elif self.extent == "by number" and self.grow == "middle":
            offset = self._centred(net, above, ground)
        i, j, group, counted = self._chosen(net, above, ground, sheet, corners)
        limit_copies(float(len(i)) * (1 if ragged else above.n))
        order = self._order(net, i, j, group)
        i, j, group, counted = i[order], j[order], group[order], None if counted is None else counted[order]
        steps = self._steps(net, i, j, group, offset, home, whole)
        refuses = nets.refusal(self.form, net, bodies) if ragged or above.n == 1 else ""
        pitch, row_pitch = self.shown_pitch(net)
        columns, rows = (int(np.ptp(one)) + 1 if len(one) else 0 for one in (i, j))
        found = nets.LatticeFound(
            {"pitch": pitch, "row_pitch": row_pitch, "columns": columns, "rows": rows},
            {"extent": f"{columns} × {rows}"},  # noqa: RUF001
            net=net,
            step_at=lambda i, j: self._steps(net, np.array([i]), np.array([j]), np.zeros(1, int), offset, home, whole)[0],
        )
        back, begin = inverse(whole), home + offset

        def fields(points: Array) -> dict[str, Array]:
            column, row = net.continuous((apply(back, points[None])[0] if self.turn else points) - begin)
            return {"column": column, "row": row}

        return repeat(
            above,
            self.id,
            steps,
            np.stack([j, i], 1),
            {"row": j, "column": i, "step": order},
            group if ragged else None,
            fields=fields,
            pivot=pivot,
            frame=back if self.turn else IDENTITY,
            counted=counted,
            refuses=refuses,
            found=found,
        )

    def _order(self, net: nets.Net, i: Array, j: Array, group: Array) -> Array:
        """Places (s,) in the order they are laid, the topmost last."""
        number = np.arange(len(i))
        if self.stacking in ("last on top", BY_LEVEL) or not len(i):
            return number
        if self.stacking == "first on top":
            return number[::-1]
        away = np.round(np.hypot(*net.places(i, j, group if len(net.a) > 1 else 0).T), 6)
        return np.argsort(-away if self.stacking == "middle on top" else away, kind="stable")

    def bodies(self, above: Stage, ragged: bool) -> Array:
        """Return the bodies (n, V, 2) that are laid: all above (of very many, the hull), or the motif where each gets its own."""
        bodies = above.bodies(np.array([above.origin])) if ragged else above.together
        if self.turn_each:
            bodies = apply(turns(self.turn_each, above.xform[above.origin, :, 2]), bodies)
        return bodies

    def net(self, above: Stage, ground: Ground, bodies: Array) -> nets.Net:
        """Return the net of places, before it is fitted or turned.

        Raises
        ------
        RuleRefused
        """
        if self.form == nets.AS_TILES:
            return self._net_of_tiles(above, ground)
        ask = Ask(above, ground.known)
        shift = ask.each(self.shift) / 100
        if self.spacing == "touching" or self.extent == "fits a box":
            across, down = nets.touching_pitches(
                self.form, bodies, rest(self.gap), float(shift[0]), self.march == "progressive", (self.angle, self.row_angle)
            )
            if across < TINY or down < TINY:
                raise RuleRefused("what stands above has no touching pitch in this direction; choose pitch free")
            pitch, row = np.full(1, across), np.full(1, down)
        else:
            pitch, row = (np.maximum(ask.each(n), LEAST_PITCH) for n in (self.pitch, self.row_pitch))
        groups = max(len(pitch), len(row), len(shift), len(ask.each(self.columns)), len(ask.each(self.rows)))
        pitch, row, shift = (np.broadcast_to(v, groups) for v in (pitch, row, shift))
        if self.form in nets.TIED:
            return nets.tied_net(self.form, pitch, self.form == "triangles" and nets.turned_below(bodies))
        first, second = (self.angle, self.row_angle) if self.form == "two vectors" else (0.0, 90.0)
        a, b = pitch[:, None] * nets.direction(first), row[:, None] * nets.direction(second)
        if abs(a[0, 0] * b[0, 1] - a[0, 1] * b[0, 0]) < 1e-6 * pitch[0] * row[0]:
            raise RuleRefused("the two vectors point the same way; change an angle")
        shifted = self.form in ("staggered rows", "dropped columns")
        return nets.Net(
            a, b, shift if shifted else np.zeros(groups), self.form == "dropped columns", shifted and self.march == "progressive"
        )

    def _net_of_tiles(self, above: Stage, ground: Ground) -> nets.Net:
        """The net of a motif that is a cell of tiles, spread by the gap or to the free pitch."""
        cell = cell_of_shape(above.shape)
        if cell is None:
            raise RuleRefused("only the tiles of a motif Tiling say how they lie; choose another form")
        vectors = cell @ above.xform[above.origin, :, :2].T
        length = float(np.hypot(*vectors[0]))
        wanted = length + rest(self.gap) if self.spacing == "touching" else Ask(above, ground.known).each(self.pitch)
        share = (np.atleast_1d(np.asarray(wanted, float)) / max(length, TINY))[:, None]
        groups = max(len(share), *(len(Ask(above, ground.known).each(n)) for n in (self.columns, self.rows)))
        share = np.broadcast_to(share, (groups, 1))
        return nets.Net(vectors[0] * share, vectors[1] * share, np.zeros(groups))

    def _counts(self, above: Stage, ground: Ground) -> tuple[Array, Array]:
        ask = Ask(above, ground.known)
        return tuple(np.clip(np.rint(ask.each(n)), 1, 1000).astype(np.int64) for n in (self.columns, self.rows))  # type: ignore[return-value]

    def _centred(self, net: nets.Net, above: Stage, ground: Ground) -> Array:
        """By how much all copies are moved so that an even number has its middle where the motif stands; (2,), of groups as one."""
        even = [float((counts % 2 == 0).all()) / 2 for counts in self._counts(above, ground)]
        return np.asarray(even[0] * net.a[0] + even[1] * net.b[0])

    def converted(self, name: str, value: Any) -> dict[str, Any]:
        """Leave the copies where they are when the sheet no longer gives their number."""
        even = any(rest(counts) % 2 == 0 for counts in (self.columns, self.rows))
        kept = name == "extent" and value == "by number" and self.extent != "fits a box" and self.grow == "middle" and even
        return {name: value} | ({"grow": "middle copy"} if kept else {})

    def _fitted(self, net: nets.Net, corners: Array) -> tuple[nets.Net, Array]:
        ranges = nets.block(self.grow, np.rint([rest(self.columns)]).astype(np.int64), np.rint([rest(self.rows)]).astype(np.int64))
        i, j, _ = nets.grid(ranges)
        places = net.places(i, j)
        run, size = np.ptp(places, 0), np.ptp(corners, 0)
        room = np.array([self.box_width, self.box_height]) - size
        if (room < 0).any():
            raise RuleRefused(f"the box is smaller than the motif, which is {size[0]:.2f} × {size[1]:.2f}")  # noqa: RUF001
        factor = np.where(run > TINY, room / np.maximum(run, TINY), np.inf)
        if self.form not in nets.TIED and self.form != "two vectors" and np.isfinite(factor).all():
            net = net.scaled(float(factor[0]), float(factor[1]))
        else:
            least = float(factor.min()) if np.isfinite(factor).any() else 1.0
            net = net.scaled(least, least)
        places = net.places(i, j)
        middle = (places.min(0) + places.max(0)) / 2 + (corners.min(0) + corners.max(0)) / 2
        return net, -middle

    def _chosen(self, net: nets.Net, above: Stage, ground: Ground, sheet: Array, corners: Array) -> Chosen:
        if self.extent in ("fits a box", "by number"):
            ranges = nets.block(self.grow, *self._counts(above, ground))
            ranges = np.broadcast_to(ranges, (max(len(ranges), len(net.a)), 4))
            i, j, group = nets.grid(ranges)
            return i, j, group, None
        far = float(np.hypot(*np.ptp(sheet, 0)))  # what reaches further than across the sheet is not waited for
        reach = min(above.shape.reach(), far)
        if self.extent == "whole copies inside" and reach > self._reach(above, 1, 1, 0.0):  # a formula reads how many there are
            i, j, _, _ = self._meeting(net, above, ground, sheet, corners, 0.0)
            columns, rows = (int(one.max(initial=0) - one.min(initial=0)) + 1 for one in (i, j))
            reach = min(reach, self._reach(above, columns, rows, far))
        size = float(np.abs(np.linalg.det(above.xform[:, :, :2])).max()) ** 0.5
        return self._meeting(net, above, ground, sheet, corners, reach * size)

    def _reach(self, above: Stage, columns: int, rows: int, far: float) -> float:
        """How far shapes reach if there are at most so many columns and rows, none of it further away than `far`."""
        many, wide = columns * rows * above.n, (-far, far)
        known = {"col": (1, columns), "row": (1, rows), "k": (0, many), "n": (1, many), "x": wide, "y": wide, "r": (0.0, far)}
        with known_readings(self.id, known):
            return above.shape.reach()

    def _meeting(self, net: nets.Net, above: Stage, ground: Ground, sheet: Array, corners: Array, reach: float) -> Chosen:
        """Places at which bodies that reach so far are wanted by the extent, as `_chosen`."""
        turned = 2 * above.xform[above.origin, :, 2] - corners if net.odd is not None else corners
        region = hull((sheet[:, None] - np.concatenate([corners, turned])[None]).reshape(-1, 2))
        region = region + np.sign(region - region.mean(0)) * reach
        i, j, group = nets.grid(net.ranges(region))
        places = net.places(i, j, group if len(net.a) > 1 else 0)
        keep, counted = self._met(places, sheet, corners, reach, TINY * float(np.hypot(*net.a[0])), ground.progress)
        if net.odd is not None:
            odd = (i + j) % 2 == 1
            other, other_counted = self._met(places, sheet, turned, reach, TINY * float(np.hypot(*net.a[0])), ground.progress)
            keep, counted = np.where(odd, other, keep), np.where(odd, other_counted, counted)
        plain = self.extent != "covers the sheet" or reach == 0
        return i[keep], j[keep], group[keep], None if plain else counted[keep]

    def _met(
        self, places: Array, sheet: Array, corners: Array, reach: float, slack: float, progress: Progress
    ) -> tuple[Array, Array]:
        """Which places a body is wanted at by the extent, and at which its plain body meets the sheet; (s,) bool each."""
        if self.extent == "whole copies inside":
            keep = within(places, *inside(sheet, corners, reach), -slack, progress)
            return keep, keep
        normal, height = meeting(sheet, corners, reach)
        keep = within(places, normal, height, slack, progress)
        return keep, within(places, normal, height - reach, slack, progress) if reach else keep

    def _steps(self, net: nets.Net, i: Array, j: Array, group: Array, offset: Array, home: Array, whole: Array) -> Array:
        steps = moves(net.places(i, j, group if len(net.a) > 1 else 0) + offset)
        if net.odd is not None:
            odd = (i + j) % 2 == 1
            steps[odd] = compose(steps[odd], turns(180.0, home))
        if self.turn_each:
            steps = compose(steps, turns(self.turn_each, home))
        return compose(whole[None], steps) if self.turn else steps

    def shown_pitch(self, net: nets.Net) -> tuple[float, float]:
        """Return pitch and row pitch as they are said, in the unit of the work."""
        a, b = float(np.hypot(*net.a[0])), float(np.hypot(*net.b[0]))
        if self.form == "hexagons on flats":
            return b, a
        return (2 * a, b) if self.form == "triangles" else (a, b)

    def warnings(self, placed: Placed, site: Site) -> Iterable[Warn]:
        """Return overlaps and slivers of its copies, tiles that do not fit, and what it leaves bare."""
        return lattice_warnings(self, placed, site)

    def without_effect(self, motif: Rule | None = None) -> Mapping[str, NoEffect]:
        """Return the pivot, where nothing is turned about it."""
        if self.turn or self.pivot == Anchor():
            return {}
        words = "The lattice is not turned; its pivot matters only to numbers that vary with distance or direction."
        return {"pivot": NoEffect(words)}

    def repeating_cell(self, stage: Stage) -> dict[str, Any] | None:
        """Return the smallest rectangle that repeats it, or its parallelogram."""
        return lattice_cell(self, stage, nets.found_of(stage).net)

    @classmethod
    def suggested(cls, around: Surroundings) -> dict[str, Any]:
        """Return the form the motif suggests, and lengths in proportion to it."""
        return suggested_lattice(around)

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return pivot, steps and the first copy's frame."""
        return lattice_handles(self, above, stage, unit)

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Return what follows a dragged handle."""
        return lattice_dragged(self, drag, above, stage, ground)

    def key_line(self, unit: str) -> str:
        """Return the pitch, the gap if there is one, or what it fits."""
        if self.extent == "fits a box":
            return "fits a box"
        if self.spacing == "touching":
            return f"gap {describe(self.gap, unit)}" if rest(self.gap) else "touching"
        return f"pitch {describe(self.pitch, unit)}"
