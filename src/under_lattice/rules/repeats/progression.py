"""Rule: Progression, each copy a step on from the one before: moved, turned, sized and leaned by the same or by changing steps."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Annotated, Any, ClassVar, Literal, get_args

import numpy as np

from under_lattice.core.errors import RuleRefused
from under_lattice.core.units import short
from under_lattice.declare.dials import Angle, Choice, Count, Length, Point, Ratio, RuleChoice, When
from under_lattice.geometry.affine import Array, about, accumulated, apply, compose, inverse, linear
from under_lattice.geometry.body import clearance, edges_of, looks_turned
from under_lattice.geometry.partway import begun_at
from under_lattice.pattern.ask import Ask, StepAsk, rest
from under_lattice.pattern.stage import Stage
from under_lattice.rules.base import Rule, describe
from under_lattice.rules.findings import Cure, NoEffect, Placed, Site, Warn
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Drag, HandleSet
from under_lattice.rules.repeats.progression_handles import RunFound, progression_dragged, progression_handles
from under_lattice.rules.repeats.progression_says import WHOLE, misses, starts_of_run, vanishing
from under_lattice.rules.repeats.run_ends import ends_of, reached
from under_lattice.rules.shared.anchor import Anchor, resolve
from under_lattice.rules.shared.runs import LEVEL, STACKING, Repeat, Stacking, laid_out, own_centred
from under_lattice.rules.shared.scope import ALL, OTHERS, scope_frames, scope_stage
from under_lattice.rules.surroundings import Start, Surroundings
from under_lattice.vary.numbers import Number, Varied

Extent = Literal["by number", "until it leaves the sheet", "until the sheet is covered", "until a size is reached"]
Spacing = Literal["free", "touching", "each begins where the last ended"]
About = Literal["the pivot", "own centre"]
STEPS_MOST = 5000
FARTHEST = 1e12
TOUCHING_MOST = 600
FREE = When(field="spacing", values=("free",), reason="the distance follows from the copies")
BY_XY = When(field="by", values=("across and down",), reason="distance and direction are given")
BY_POLAR = When(field="by", values=("distance and direction",), reason="across and down are given")
SIZED = When(field="extent", values=("until a size is reached",), reason="only until a size is reached")


class Progression(Repeat):
    """Repeat step by step."""

    title: ClassVar[str] = "Progression"
    words: ClassVar[str] = "Repeat step by step: rows, stacks of nested outlines, whirls, coils; each copy goes on from the last."
    search: ClassVar[str] = "row line stack whirl vortex coil spiral drift chain array step blend nested echo"
    own_steps: ClassVar[tuple[str, ...]] = ("x", "y", "distance", "direction", "turn", "across", "along", "skew", *Repeat.own_steps)

    kind: Literal["progression"] = "progression"
    extent: Annotated[Extent, Choice("Extent", "How far it goes.", options=get_args(Extent))] = "by number"
    count: Annotated[
        Number,
        Count(
            "Copies",
            "How many copies in all, the motif included.",
            most=STEPS_MOST,
            vary=True,
            slides=(1, 80),
            when=(When(field="extent", values=("by number",), reason="the count follows"),),
        ),
    ] = 12
    until: Annotated[
        float, Ratio("Last size", "No copy passes it; one may come to it.", least=0.1, most=1e7, slides=(1.0, 100.0), when=(SIZED,))
    ] = 10.0
    spacing: Annotated[Spacing, Choice("Spacing", "How far apart copies stand.", options=get_args(Spacing))] = "free"
    gap: Annotated[
        float,
        Length(
            "Gap",
            "How much is left between neighbours; below zero they overlap.",
            least=-1e4,
            most=1e4,
            slides=(-10.0, 10.0),
            when=(When(field="spacing", values=("touching",), reason="only where copies touch"),),
        ),
    ] = 0.0
    by: Annotated[
        Literal["across and down", "distance and direction"],
        Choice(
            "Moved by",
            "By so much across and down, or by a distance and a direction.",
            options=("across and down", "distance and direction"),
            main=False,
            group="Steps",
            when=(FREE,),
        ),
    ] = "distance and direction"
    x: Annotated[
        Number, Length("Across", "How far each step goes to the right.", vary=True, slides=(-60.0, 60.0), when=(FREE, BY_XY))
    ] = 0.0
    y: Annotated[Number, Length("Down", "How far each step goes down.", vary=True, slides=(-60.0, 60.0), when=(FREE, BY_XY))] = 0.0
    distance: Annotated[
        Number, Length("Distance", "How far each step goes.", least=-1e6, vary=True, slides=(0.0, 60.0), when=(FREE, BY_POLAR))
    ] = 20.0
    direction: Annotated[
        Number,
        Angle(
            "Direction",
            "Where each step goes, clockwise from the right.",
            vary=True,
            when=(
                When(field="spacing", values=("free", "touching"), reason="the ends of the line give the direction"),
                When(field="by", values=("distance and direction",), reason="across and down are given"),
            ),
        ),
    ] = 0.0
    turn: Annotated[Number, Angle("Turn", "Of each copy against the one before, clockwise.", vary=True, roams=24.0)] = 0.0
    across: Annotated[
        Number,
        Ratio(
            "Size across", "Width, in parts of the one before.", vary=True, least=1.0, most=1000.0, digits=1, slides=(80.0, 120.0)
        ),
    ] = 100.0
    along: Annotated[
        Number,
        Ratio(
            "Size along",
            "Height of each copy, in parts of the one before.",
            beside="across",
            both="Size",
            vary=True,
            least=1.0,
            most=1000.0,
            digits=1,
            slides=(80.0, 120.0),
        ),
    ] = 100.0
    pivot: Annotated[Anchor, Point("Pivot", "The spot that turning and sizing leave in place.")] = Anchor()
    turn_about: Annotated[About, Choice("Turn about", "What stays in place as copies turn.", options=get_args(About))] = (
        "own centre"
    )
    size_about: Annotated[About, Choice("Size about", "What stays in place as copies grow or shrink.", options=get_args(About))] = (
        "own centre"
    )
    grows: Annotated[
        Literal["by ratio", "by equal step"],
        Choice(
            "Size change",
            "By the same ratio in each step (q, q², q³), or by the same length.",
            options=("by ratio", "by equal step"),
            main=False,
            group="Steps",
        ),
    ] = "by ratio"
    skew: Annotated[
        Number,
        Angle(
            "Skew",
            "Of each copy against the one before.",
            vary=True,
            least=-85.0,
            most=85.0,
            roams=10.0,
            winds=True,
            main=False,
            group="Steps",
        ),
    ] = 0.0
    begins: Annotated[
        float,
        Ratio(
            "Begins",
            "How far on from the motif it begins; 100 % is a whole step. Moved by whole steps over a loop it zooms without end.",
            least=-10000.0,
            most=10000.0,
            slides=(-200.0, 200.0),
            main=False,
            group="Steps",
            stays=True,
            search="endless zoom phase",
            whole="step",
        ),
    ] = 0.0
    own: Annotated[
        str,
        RuleChoice(
            "Centre of", "Which copies count as one, with one own centre.", nearest="", others=OTHERS, main=False, group="Steps"
        ),
    ] = ALL
    stacking: Annotated[Stacking, STACKING] = "smaller on top"
    level: Annotated[Number, LEVEL] = 0.0

    def place(self, above: Stage, ground: Ground) -> Stage:
        """Return the copies.

        ``copy k = S1 ... Sk`` with ``S = move · about pivot (turn, size, skew)``; what turns or sizes about its own centre does so
        first.

        Raises
        ------
        RuleRefused
            When a size passes zero, the line does not end, or copies never leave the sheet.
        LimitError
        """
        counts = np.clip(np.rint(Ask(above, ground.known).each(self.count)), 1, STEPS_MOST).astype(np.int64)
        most = int(counts.max()) if self.extent == "by number" else STEPS_MOST
        if self.extent != "by number" and self.spacing == "touching":
            most = TOUCHING_MOST
        whole, own = self._within_reach(*self._products(above, ground, most))
        if self.extent != "by number":
            most = reached(self, whole, own, above, ground)
            whole, own = whole[:most], own[:most]
        pivot = resolve(self.pivot, above, ground)
        found = self._found(above, whole, own, most)
        more: dict[str, Any] = {"pivot": pivot, "found": found}
        whole, own = begun_at(whole, self.begins / 100), begun_at(own, self.begins / 100)
        ragged = counts if self.extent == "by number" and len(counts) > 1 else None
        steps = whole
        if not np.array_equal(own, np.broadcast_to(np.eye(2, 3), own.shape)):
            frames = scope_frames(scope_stage(self.own, above), above)
            if self.own == ALL:
                steps = compose(whole, own)
            else:
                first = own_centred(own, frames, above.xform)
                steps = compose(whole, compose(first, inverse(above.xform)[None]))
        return laid_out(above, self.id, steps, self.stacking, ragged, **more)

    def _products(self, above: Stage, ground: Ground, most: int) -> tuple[Array, Array]:
        """What is done about the pivot and what about the own centre, for each copy k: (most, 1 or n, 2, 3) each."""
        ask = StepAsk(above, ground.known, self.id, max(0, most - 1))
        turn, skew = ask.steps(self.turn), ask.steps(self.skew)
        across, along = (self._ratios(ask.steps(n) / 100, most) for n in (self.across, self.along))
        one, none = np.ones((1, 1)), np.zeros((1, 1))
        joined = self.spacing == "each begins where the last ended"  # then the ends say where each stands
        turns_own, sizes_own = (not joined and place == "own centre" for place in (self.turn_about, self.size_about))
        own = linear(turn if turns_own else none, across if sizes_own else one, along if sizes_own else one)
        rest_of = linear(none if turns_own else turn, one if sizes_own else across, one if sizes_own else along, skew)
        scope = scope_stage(self.own, above)
        centre = scope.xform[scope.origin, :, 2] if self.own == ALL else np.zeros(2)
        own = accumulated(about(_long(own, most - 1), centre)) if most > 1 else np.zeros((0, 1, 2, 3))
        own = np.concatenate([np.broadcast_to(np.eye(2, 3), (1, own.shape[1], 2, 3)), own])
        rest_of = about(_long(rest_of, most - 1), resolve(self.pivot, above, ground))
        move = self._moves(above, ask, rest_of, own)
        moved = np.array(np.broadcast_to(rest_of, np.broadcast_shapes(rest_of.shape, (*move.shape[:2], 2, 3))))
        moved[..., 2] += move
        whole = accumulated(moved) if most > 1 else moved
        start = np.broadcast_to(np.eye(2, 3), (1, whole.shape[1], 2, 3))
        return np.concatenate([start, whole]), own

    def _within_reach(self, whole: Array, own: Array) -> tuple[Array, Array]:
        """Leave out what grows or goes beyond what can be reckoned with; by number that is refused."""
        with np.errstate(invalid="ignore"):
            sane = np.array([(np.abs(maps) < FARTHEST).all((1, 2, 3)) for maps in (whole, own)]).all(0)
        if sane.all():
            return whole, own
        most = int(np.argmin(sane))
        if self.extent == "by number":
            raise RuleRefused(f"copy {most + 1} would be too large or too far away; at most {most} in all")
        return whole[:most], own[:most]

    def _ratios(self, ratio: Array, most: int) -> Array:
        """Factor on the size in each step; an equal step keeps the difference of the first."""
        if self.grows == "by ratio" or most < 2:
            return ratio
        size = 1 + np.cumsum(np.broadcast_to(ratio - 1, (most - 1, ratio.shape[1])), 0)
        passed = np.flatnonzero((size <= 1e-9).any(1))
        if len(passed):
            if self.extent == "by number":
                raise RuleRefused(f"copy {passed[0] + 1} would have no size left; at most {passed[0] + 1} in all, or by ratio")
            size[passed[0] :] = 1e-9
        before = np.concatenate([np.ones((1, size.shape[1])), size[:-1]])
        return np.asarray(size / before)

    def _moves(self, above: Stage, ask: StepAsk, rest_of: Array, own: Array) -> Array:
        """Move of each step (1 or K, 1 or n, 2)."""
        if self.spacing == "free":
            if self.by == "across and down":
                x, y = np.broadcast_arrays(ask.steps(self.x), ask.steps(self.y))
                return np.stack([x, y], -1)
            distance, angle = np.broadcast_arrays(ask.steps(self.distance), np.radians(ask.steps(self.direction)))
            return np.stack([distance * np.cos(angle), distance * np.sin(angle)], -1)
        if self.spacing == "touching":
            return self._touching(above, ask, rest_of, own)
        first, last = ends_of(above, ask.known)
        return np.asarray(last - apply(rest_of, first[None])[..., 0, :])

    def _touching(self, above: Stage, ask: StepAsk, rest_of: Array, own: Array) -> Array:
        """The least moves at which each copy clears the one before, measured on bodies."""
        bodies = above.together
        edges = edges_of(bodies)
        angle = ask.steps(self.direction)[:, 0]
        steps = len(rest_of)
        alike = np.abs(np.diff(own[:, 0], axis=0)).max(initial=0.0) < 1e-12
        if alike and np.abs(rest_of[:, 0, :, :2] - np.eye(2)).max(initial=0.0) < 1e-12 and len(angle) == 1:
            away = np.full(steps, clearance(edges, float(angle[0])))
        else:
            if steps > TOUCHING_MOST:
                raise RuleRefused(f"at most {TOUCHING_MOST} copies can touch where their size or turn changes")
            centre = bodies.reshape(-1, 2).mean(0)
            pairs = zip(own[:-1, 0], compose(rest_of[:, 0], own[1:, 0]), np.broadcast_to(angle, steps), strict=True)
            away = np.array([_clear(edges - centre, before, after, float(toward)) for before, after, toward in pairs])
        if (away <= 0).any():
            raise RuleRefused("what stands above has no touching distance in this direction; choose spacing free")
        away = away + self.gap
        radians = np.radians(np.broadcast_to(angle, steps))
        return np.stack([away * np.cos(radians), away * np.sin(radians)], -1)[:, None]

    def _found(self, above: Stage, whole: Array, own: Array, most: int) -> RunFound:
        """What is said of the run: the last copy's size and turn."""
        last = compose(whole[most - 1], own[most - 1])[0] if len(whole) >= most else np.eye(2, 3)
        size = 100 * float(np.sqrt(abs(np.linalg.det(last[:, :2]))))
        angle = float(np.degrees(np.arctan2(last[1, 0], last[0, 0])))
        said = {}
        if abs(size - 100) > 0.005:
            said["across"] = f"last {short(size, 2)} %"
        if abs(angle) > 0.005 or isinstance(self.turn, Varied) or self.turn != 0:
            total = float(self.turn) * (most - 1) if isinstance(self.turn, (int, float)) else angle
            said["turn"] = f"last {short(total, 2)}°"
            looks = looks_turned(above.body_ring, total)
            said["turn"] += f", {looks}" if looks else ""
        said["extent"] = f"{most:,} in all"
        return RunFound({"count": most}, said, first=compose(whole[1], own[1])[0] if len(whole) > 1 else None)

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return the pivot, the first copy's frame to move, turn and size, and the end of the run."""
        return progression_handles(self, above, stage, ground, unit)

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Return what a dragged handle changes."""
        return progression_dragged(self, drag, above, stage, ground)

    def converted(self, name: str, value: Any) -> dict[str, Any]:
        """Keep the step where the way it is given changes."""
        numbers = (self.x, self.y, self.distance, self.direction)
        if name != "by" or value == self.by or any(isinstance(number, Varied) for number in numbers):
            return {name: value}
        x, y, distance, direction = (rest(number) for number in numbers)
        if value == "across and down":
            angle = np.radians(direction)
            return {"by": value, "x": round(float(distance * np.cos(angle)), 4), "y": round(float(distance * np.sin(angle)), 4)}
        angle = float(np.degrees(np.arctan2(y, x)))
        return {"by": value, "distance": round(float(np.hypot(x, y)), 4), "direction": round(angle, 4)}

    def without_effect(self, motif: Rule | None = None) -> Mapping[str, NoEffect]:
        """Return the pivot that was moved, where nothing turns or is sized about it."""
        found = self.idle_pivot()
        return {"pivot": found} if found is not None and self.pivot != Anchor() else {}

    def idle_pivot(self) -> NoEffect | None:
        """Return why the pivot has no effect, with what would give it one; None where it has."""
        turns, sizes = self.turn != 0, (self.across, self.along) != (100.0, 100.0)
        about = (turns and self.turn_about == "the pivot") or (sizes and self.size_about == "the pivot") or self.skew != 0
        if about or self.spacing == "each begins where the last ended":
            return None
        if not (turns or sizes):
            return NoEffect("Nothing turns or changes size yet, so the pivot has no effect.")
        words = "Each copy turns and is sized about its own centre, so the pivot has no effect."
        return NoEffect(words, "Turn and size about the pivot", dict(WHOLE))

    def overlap_cure(self, gap: float, stage: Stage) -> Cure | None:
        """Return the spacing at which neighbours touch, where it is free; lengths in the unit of the work."""
        return Cure(self.id, "spacing", "touching", "Set spacing to touching") if self.spacing == "free" else None

    def warnings(self, placed: Placed, site: Site) -> Iterable[Warn]:
        """Return by how much a line of pieces that comes round misses itself, and copies too small to be seen."""
        return (*misses(self, placed, site.unit), *vanishing(self, placed, site))

    @classmethod
    def suggested(cls, around: Surroundings) -> dict[str, Any]:
        """Return a whirl: nested, turned and smaller with each step."""
        whirl = {"count": 24, "distance": 0.0, "turn": 6.0, "across": 94.0, "along": 94.0, **WHOLE}
        return whirl | ({"pivot": Anchor(spot="sheet centre")} if around.spread else {})

    def starts(self, around: Surroundings) -> tuple[Start, ...]:
        """Return a row, a stack, a whirl, a coil, a drift and a chain."""
        return starts_of_run(around)

    def key_line(self, unit: str) -> str:
        """Return count, step, turn and size."""
        said = []
        if self.spacing != "free":
            said.append({"touching": "touching"}.get(self.spacing, "end to end"))
        elif self.by == "distance and direction" and (isinstance(self.distance, Varied) or self.distance):
            said.append(describe(self.distance, unit))
        elif self.by == "across and down" and (self.x or self.y):
            said.append(f"{describe(self.x, unit)} across")
        if isinstance(self.turn, Varied) or self.turn:
            said.append(f"turn {describe(self.turn, '°')}")
        if isinstance(self.across, Varied) or self.across != 100.0:
            said.append(f"size {describe(self.across, '%', 1)}")
        return ", ".join(said) or "copies on one spot"


def _long(steps: Array, count: int) -> Array:
    """The same steps for each of `count`: (count, 1 or n, 2, 3)."""
    return np.broadcast_to(steps, (max(count, 0), steps.shape[1], 2, 3))


def _clear(edges: Array, before: Array, after: Array, angle: float) -> float:
    one, other = (edges @ linear_part[:, :2].T for linear_part in (before, after))
    return clearance(one, angle, other=other)
