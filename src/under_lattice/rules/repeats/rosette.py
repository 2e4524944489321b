"""Rule: Rosette, copies round a pivot over a full turn or an arc."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Annotated, Any, ClassVar, Literal, get_args

import numpy as np
import shapely

from under_lattice.core.errors import RuleRefused
from under_lattice.core.units import short
from under_lattice.declare.dials import Angle, Choice, Count, Length, Point, Tied, When
from under_lattice.geometry.affine import Array, about, apply, compose, linear, mirrors, moves, turns
from under_lattice.geometry.body import disc_of
from under_lattice.pattern.ask import Ask, rest
from under_lattice.pattern.findings import Findings
from under_lattice.pattern.stage import Stage
from under_lattice.rules.base import describe
from under_lattice.rules.findings import Cure
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Arrow, Drag, Handle, HandleSet, polar, with_start
from under_lattice.rules.shared.anchor import Anchor, nearest_spot, resolve
from under_lattice.rules.shared.laid_round import laid_round
from under_lattice.rules.shared.runs import LEVEL, STACKING, Repeat, Stacking, laid_out, least_apart, placed, ring_bodies, union_of
from under_lattice.rules.surroundings import Start, Surroundings, tidy
from under_lattice.vary.numbers import Number, Varied

Place = Literal["as it stands", "free", "touching"]
Spread = Literal["the arc", "the angle between"]
Ends = Literal["by the arc", "first only", "both"]
RingStacking = Literal[Stacking, "round and round"]
Facing = Literal["with the ring", "upright", "further on their own"]
MOST = 5000
AROUND = 360.0 * MOST  # degrees: every copy a whole turn further
AWAY = ("free", "touching")
STANDS = Tied(field="radius_by", value="as it stands", free="free")


def _spread_angle(label: str, words: str, own: str, other: str, most: float, roams: float) -> Angle:
    """An angle, in degrees, that says how copies are spread; while the other one does, it follows from that."""
    return Angle(
        label,
        words,
        vary=True,
        least=-AROUND,
        most=AROUND,
        slides=(0.0, most),
        roams=roams,
        winds=True,
        when=(When(field="spread", values=(own,), reason=f"{other} gives it"),),
        tied=Tied(field="spread", value=other, free=own),
    )


class Rosette(Repeat):
    """Repeat round a pivot."""

    title: ClassVar[str] = "Rosette"
    words: ClassVar[str] = "Repeat round a pivot, over a full turn or an arc: rings, flowers, dials, fans."
    search: ClassVar[str] = "radial ring circle rotate around flower mandala dial fan polar kaleidoscope"

    kind: Literal["rosette"] = "rosette"
    count: Annotated[
        Number, Count("Copies", "How many copies in all, the motif included.", most=MOST, vary=True, slides=(1, 60))
    ] = 12
    spread: Annotated[
        Spread,
        Choice(
            "Given by",
            "The arc that copies are spread over, or the angle from one to the next; the other follows.",
            options=get_args(Spread),
            main=False,
        ),
    ] = "the arc"
    arc: Annotated[
        Number,
        _spread_angle(
            "Arc",
            "Over which angle copies are spread: 360 for a full turn; below zero the other way.",
            "the arc",
            "the angle between",
            360.0,
            120.0,
        ),
    ] = 360.0
    apart: Annotated[
        Number,
        _spread_angle(
            "Between", "The angle from one copy to the next; below zero the other way.", "the angle between", "the arc", 90.0, 30.0
        ),
    ] = 30.0
    radius_by: Annotated[
        Place,
        Choice(
            "Radius",
            "From the pivot to the motif as it stands, free, or so that neighbours just touch.",
            options=get_args(Place),
            shows="radius",
        ),
    ] = "free"
    radius: Annotated[
        Number,
        Length(
            "Radius",
            "From the pivot to the middle of each copy.",
            vary=True,
            slides=(0.0, 160.0),
            least=-1e6,
            when=(When(field="radius_by", values=("free",), reason="the radius follows"),),
            tied=STANDS,
        ),
    ] = 60.0
    begin: Annotated[
        Number,
        Angle(
            "Begins at",
            "Where the first copy stands, clockwise from straight up.",
            vary=True,
            when=(When(field="radius_by", values=AWAY, reason="the motif begins where it stands"),),
        ),
    ] = 0.0
    gap: Annotated[
        float,
        Length(
            "Gap",
            "How much is left between neighbours; below zero they overlap.",
            least=-1e4,
            most=1e4,
            slides=(-10.0, 10.0),
            when=(When(field="radius_by", values=("touching",), reason="only where copies touch"),),
        ),
    ] = 0.0
    ends: Annotated[
        Ends,
        Choice(
            "Copies at",
            "Both ends of the arc, or the first only; by the arc: only the first on a full turn.",
            options=get_args(Ends),
            main=False,
        ),
    ] = "by the arc"
    facing: Annotated[
        Facing, Choice("Orientation", "Turned with the ring, not at all, or by a further turn.", options=get_args(Facing))
    ] = "with the ring"
    own_turn: Annotated[
        Number,
        Angle(
            "Further turn",
            "How much further each copy is turned than the one before.",
            vary=True,
            when=(When(field="facing", values=("further on their own",), reason="copies turn with the ring or not at all"),),
        ),
    ] = 15.0
    mirrored: Annotated[
        Literal["none", "every second"],
        Choice(
            "Mirrored",
            "Copies are reflected in the line from the pivot through them.",
            options=("none", "every second"),
            main=False,
        ),
    ] = "none"
    pivot: Annotated[Anchor, Point("Pivot", "The middle of the ring.")] = Anchor()
    stacking: Annotated[
        RingStacking,
        replace(
            STACKING,
            words="Which copies lie over which; round and round: each over the one before, the last under the first.",
            options=get_args(RingStacking),
        ),
    ] = "last on top"
    level: Annotated[Number, LEVEL] = 0.0

    def place(self, above: Stage, ground: Ground) -> Stage:
        """Return the copies round the pivot.

        Raises
        ------
        RuleRefused
            When copies cannot touch.
        LimitError
        """
        ask = Ask(above, ground.known)
        counts = np.clip(np.rint(ask.each(self.count)), 1, MOST).astype(np.int64)
        pivot, home = resolve(self.pivot, above, ground), above.xform[above.origin, :, 2]
        angle = self._angle(ask, counts)
        heading, radius = self._stand(ask, above, pivot, home, counts, angle)
        k = np.arange(int(counts.max()))
        ring = turns(k[:, None] * angle[None], pivot)
        out = moves(pivot - home + radius[:, None] * np.stack([np.cos(heading), np.sin(heading)], -1))
        own = self._own(ask, k, angle, heading, home)
        steps = compose(compose(ring, out[None]), own)
        ragged = len(counts) > 1
        reached = float(radius[above.origin if len(radius) > 1 else 0])
        found = Findings({"radius": reached, "arc": self._total(float(angle[0]), int(counts[0])), "apart": float(angle[0])})
        stage = laid_out(above, self.id, steps, self.stacking, counts if ragged else None, pivot=pivot, found=found)
        if self.stacking != "round and round" or stage.n < 3:
            return stage
        if ragged or abs(abs(found.values["arc"]) - 360.0) > 1e-9:
            raise RuleRefused("only a full turn with one number of copies can lie round and round")
        return laid_round(stage, above, ground.known)

    def _angle(self, ask: Ask, counts: Array) -> Array:
        """From one copy to the next: as given, or the arc over n where only its first end has a copy, else over n - 1."""
        if self.spread == "the angle between":
            return ask.each(self.apart)
        arc = ask.each(self.arc)
        full = np.abs(np.abs(arc) - 360.0) < 1e-9
        first_only = full if self.ends == "by the arc" else np.full(len(arc), self.ends == "first only")
        return np.asarray(arc / np.where(first_only, counts, np.maximum(counts - 1, 1)))

    def _total(self, apart: float, count: int) -> float:
        """The arc in degrees over which copies so far apart are spread."""
        closes = abs(abs(apart * count) - 360.0) < 1e-9
        first_only = closes if self.ends == "by the arc" else self.ends == "first only"
        return apart * (count if first_only else count - 1)

    def _stand(self, ask: Ask, above: Stage, pivot: Array, home: Array, counts: Array, angle: Array) -> tuple[Array, Array]:
        """Heading in radians, and radius, at which the motif stands (1,) or (n,)."""
        if self.radius_by == "as it stands":
            return np.array([np.arctan2(*(home - pivot)[::-1])]), np.array([np.hypot(*(home - pivot))])
        heading = np.radians(ask.each(self.begin) - 90.0)
        if self.radius_by == "free":
            return tuple(np.broadcast_arrays(heading, ask.each(self.radius)))  # type: ignore[return-value]
        radius = np.empty(len(counts))
        body = union_of(ring_bodies(above, len(counts) > 1))
        for count in np.unique(counts):
            at = counts == count
            apart = float(angle[at][0] if len(angle) > 1 else angle[0])
            found = self._touching(body, int(count), apart, float(heading[0]), pivot, home)
            if found is None:
                raise RuleRefused(f"{count} copies cannot touch at any radius; choose another count or a free radius")
            radius[at] = found
        return tuple(np.broadcast_arrays(heading, radius))  # type: ignore[return-value]

    def _touching(self, body: Any, count: int, apart: float, heading: float, pivot: Array, home: Array) -> float | None:
        if count < 2:
            return 0.0
        box = body.bounds
        size = float(np.hypot(box[2] - box[0], box[3] - box[1])) + abs(self.gap)
        most = size / max(np.sin(np.radians(min(abs(apart), 180.0)) / 2), 1e-6)
        toward = np.array([np.cos(heading), np.sin(heading)])
        disc = disc_of(shapely.get_coordinates(body)[:-1])
        if disc is not None and np.hypot(*(disc[0] - home)) < 1e-9 * disc[1]:  # their middles stand on the ring
            return float((disc[1] + self.gap / 2) / np.sin(np.radians(min(abs(apart), 180.0)) / 2))
        own = self._own_of(1, np.array([apart]), np.array([heading]), home, rest(self.own_turn))[0]

        def next_one(radius: float) -> Any:
            """The neighbour, seen from the first copy."""
            out = moves(pivot - home + radius * toward)
            return placed(body, compose(compose(turns(apart, pivot), out), own))

        def first(radius: float) -> Any:
            return placed(body, moves(pivot - home + radius * toward))

        return least_apart(body, lambda r: _relative(first(r), next_one(r), body), self.gap, most)

    def _own(self, ask: Ask, k: Array, angle: Array, heading: Array, home: Array) -> Array:
        """What each copy does about its own middle before it goes round (K, 1 or n, 2, 3)."""
        further = ask.each(self.own_turn)
        wide = max(len(angle), len(heading), len(further))
        parts = [np.broadcast_to(v, wide) for v in (angle, heading, further)]
        made = [self._own_of(int(step), parts[0], parts[1], home, parts[2]) for step in k]
        return np.stack(made)

    def _own_of(self, k: int, angle: Array, heading: Array, home: Array, further: Any) -> Array:
        turn = {"with the ring": 0.0 * angle, "upright": -k * angle, "further on their own": k * further + 0.0 * angle}[self.facing]
        own = turns_about(turn, home)
        if self.mirrored == "every second" and k % 2:
            own = compose(own, mirrors(np.degrees(heading) + 0.0 * turn, home))
        return own

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return pivot, radius and first copy, and the last copy for the count."""
        ring = above.bodies(np.array([above.origin]))[0]
        pivot = resolve(self.pivot, above, ground)
        own: Array = np.flatnonzero(stage.parent == above.origin)
        own = own[np.argsort(stage.key[own, 1], kind="stable")]
        middle = (above.body_ring.min(0) + above.body_ring.max(0)) / 2
        at = apply(stage.xform[own], middle[None, None])[:, 0]
        radius = float(stage.found.values["radius"])
        words = f"radius {describe(radius, unit)}"
        handles = [
            Handle("pivot", pivot, f"pivot: {self.pivot.words()}", "pivot"),
            Handle("first", at[0], f"{words}: drag it, the rest follow", "frame"),
        ]
        if len(at) > 1:
            handles.append(Handle("second", at[1], f"{len(at)} in all", "bead"))
        frame = apply(stage.xform[own[0]], above.body_ring)
        return HandleSet(tuple(handles), ring, frame, (Arrow(pivot, at[0], ""),))

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Return pivot, radius and beginning, or the count."""
        if drag.name == "pivot":
            return {"pivot": nearest_spot(drag.to, above, ground, drag)}
        pivot = resolve(self.pivot, above, ground)
        away, heading = polar(drag.to - pivot)
        if drag.name == "first":
            turned = {"begin": with_start(self.begin, drag.angle(heading + 90.0))}
            if self.radius_by == "touching":
                return turned
            return turned | {"radius_by": "free", "radius": with_start(self.radius, max(0.0, drag.length(away, 0.0)))}
        known = self.handles(above, stage, ground, "")
        first = next(handle.at for handle in known.handles if handle.name == "first") if known else drag.to
        between = abs((heading - polar(first - pivot)[1] + 180.0) % 360.0 - 180.0)
        if self.spread == "the angle between":
            return {"apart": with_start(self.apart, math.copysign(drag.angle(between), rest(self.apart) or 1.0))}
        arc, both = (
            abs(rest(self.arc)),
            self.ends == "both" or (self.ends == "by the arc" and abs(abs(rest(self.arc)) - 360) > 1e-9),
        )
        count = round(arc / max(between, 0.2)) + (1 if both else 0)
        return {"count": with_start(self.count, float(min(max(count, 1), MOST)))}

    def overlap_cure(self, gap: float, stage: Stage) -> Cure | None:
        """Return the radius at which neighbours touch, where it is free; lengths in the unit of the work."""
        return Cure(self.id, "radius_by", "touching", "Set radius to touching") if self.radius_by == "free" else None

    def starts(self, around: Surroundings) -> tuple[Start, ...]:
        """Return a ring, a flower, a fan, a necklace and a dial."""
        radius = tidy(around.least * 0.3)
        foot = {"count": 8, "radius_by": "as it stands", "pivot": Anchor(spot="motif bottom")}
        return (
            Start("ring", "Evenly round the pivot.", {"count": 12, "radius": radius}),
            Start("flower", "Petals on one foot.", foot),
            Start("fan", "Over part of a turn.", {"count": 9, "radius": radius, "arc": 160.0, "begin": -80.0}),
            Start("necklace", "Neighbours just touch.", {"count": 18, "radius_by": "touching"}),
            Start("dial", "Upright, as numbers on a clock.", {"count": 12, "radius": radius, "facing": "upright"}),
        )

    @classmethod
    def suggested(cls, around: Surroundings) -> dict[str, Any]:
        """Return a small wreath round what is repeated already, or a wide one."""
        if around.spread:
            return {"count": 6, "radius": tidy(around.size)}
        return {"radius": tidy(around.least * 0.32), "count": 12}

    def key_line(self, unit: str) -> str:
        """Return count, radius and arc."""
        count = f"{short(self.count.start)} → {short(self.count.end)}" if isinstance(self.count, Varied) else f"{short(self.count)}"
        said = [f"{count} round"]
        if self.radius_by == "free":
            said.append(f"radius {describe(self.radius, unit)}")
        elif self.radius_by == "touching":
            said.append("touching")
        if self.spread == "the angle between":
            said.append(f"{describe(self.apart, '°')} apart")
        elif isinstance(self.arc, Varied) or abs(self.arc) != 360.0:
            said.append(f"arc {describe(self.arc, '°', 0)}")
        return ", ".join(said)


def turns_about(degrees: Array, pivot: Array) -> Array:
    """Turns (..., 2, 3) about a point."""
    return about(linear(degrees), pivot)


def _relative(first: Any, second: Any, body: Any) -> Any:
    """The second copy as it stands to the body, when the first is brought back onto it."""
    dx, dy = first.bounds[0] - body.bounds[0], first.bounds[1] - body.bounds[1]
    return placed(second, moves(np.array([-dx, -dy])))
