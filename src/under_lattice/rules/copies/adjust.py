"""Rule: Adjust, moves, turns and sizes what stands above it and makes no copies."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Any, ClassVar, Literal

import numpy as np

from under_lattice.declare.dials import Angle, Length, Point, Ratio, RuleChoice
from under_lattice.geometry.affine import Array, about, compose, inverse, linear
from under_lattice.geometry.body import looks_turned
from under_lattice.pattern.ask import Ask, rest
from under_lattice.pattern.stage import Stage
from under_lattice.rules.base import Rule, describe
from under_lattice.rules.families import CopyRule
from under_lattice.rules.findings import NoEffect, Placed
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Drag, Handle, HandleSet, polar, with_start
from under_lattice.rules.shared.anchor import Anchor, nearest_spot, resolve
from under_lattice.rules.shared.scope import ALL, EACH, OTHERS, scope_frames, scope_stage
from under_lattice.rules.surroundings import Start, Surroundings, tidy
from under_lattice.vary.numbers import Number, Varied


class Adjust(CopyRule):
    """Move, turn, size and skew about a pivot, for each shape, each copy of a rule, or all so far."""

    title: ClassVar[str] = "Adjust"
    words: ClassVar[str] = "Move, turn, size or skew without making copies; each number may vary across the copies."
    search: ClassVar[str] = "transform rotate scale move shear shrink grow"

    kind: Literal["adjust"] = "adjust"
    scope: Annotated[
        str,
        RuleChoice("Acts on", "What is taken as one.", nearest="", others=OTHERS),
    ] = ALL
    x: Annotated[Number, Length("Move across", "How far it is moved to the right.", vary=True, slides=(-60.0, 60.0))] = 0.0
    y: Annotated[Number, Length("Move down", "How far it is moved down.", vary=True, slides=(-60.0, 60.0))] = 0.0
    turn: Annotated[Number, Angle("Turn", "How far it is turned, clockwise.", vary=True)] = 0.0
    across: Annotated[
        Number, Ratio("Size across", "Width, in parts of what it was.", vary=True, least=0.1, most=10000.0, slides=(10.0, 200.0))
    ] = 100.0
    along: Annotated[
        Number,
        Ratio(
            "Size along",
            "Height, in parts of what it was.",
            beside="across",
            both="Size",
            vary=True,
            least=0.1,
            most=10000.0,
            slides=(10.0, 200.0),
        ),
    ] = 100.0
    skew: Annotated[
        Number,
        Angle(
            "Skew",
            "How far it leans to the side.",
            vary=True,
            least=-85.0,
            most=85.0,
            roams=30.0,
            winds=True,
            main=False,
            slides=(-60.0, 60.0),
        ),
    ] = 0.0
    pivot: Annotated[Anchor, Point("Pivot", "The spot that stays in place.")] = Anchor()

    def place(self, above: Stage, ground: Ground) -> Stage:
        """Return the same copies, adjusted.

        The scope is a place T above; the adjustment A acts there: ``xform' = xform T^-1 A T``.
        """
        scope = scope_stage(self.scope, above)
        maps, frames = self._maps(scope, above, ground)
        if self.scope == ALL:
            xform = compose(maps, above.xform)
        else:
            xform = compose(compose(compose(above.xform, inverse(frames)), maps), frames)
        if not np.isfinite(xform).all():
            xform = np.where(np.isfinite(xform), xform, 0.0)
        step = np.broadcast_to(maps, xform.shape) if self.scope == ALL else compose(xform, inverse(above.xform))
        pivot = resolve(self.pivot, above if self.scope == ALL else scope, ground)
        return Stage(
            self.id,
            above.shape,
            xform,
            step,
            np.arange(above.n, dtype=np.int32),
            above.key,
            above,
            {"step": np.arange(above.n, dtype=float)},
            pivot=pivot,
        )

    def _maps(self, scope: Stage, above: Stage, ground: Ground) -> tuple[Array, Array]:
        """The adjustment (n or 1, 2, 3) and the place of the scope (n or 1, 2, 3) for each copy."""
        ask = Ask(above, ground.known)
        if self.scope in (ALL, EACH):
            read, back = ask, None
        else:  # one number for each copy of the rule, asked where those copies end
            walk: Stage | None = above
            while walk is not None and walk.rule != self.scope:
                walk = walk.above
            read = Ask(walk, ground.known) if walk is not None else ask
            back = ask.ancestors(self.scope) if walk is not None else None
        maps = linear(read.each(self.turn), read.each(self.across) / 100, read.each(self.along) / 100, read.each(self.skew))
        pivot = resolve(self.pivot, scope, ground)
        maps = about(maps, pivot)
        maps = np.array(np.broadcast_to(maps, (max(len(maps), len(read.each(self.x)), len(read.each(self.y))), 2, 3)))
        maps[..., 0, 2] += read.each(self.x)
        maps[..., 1, 2] += read.each(self.y)
        if back is not None and len(maps) > 1:
            maps = maps[back]
        frames = scope_frames(scope, above)
        return maps, frames

    def seen_through(self, above: Stage, ground: Ground) -> Array | None:
        """Return the one map (2, 3) when all is adjusted alike; its pivot is told by the motif of `above`."""
        numbers: tuple[Any, ...] = (self.x, self.y, self.turn, self.across, self.along, self.skew)
        if self.scope != ALL or any(isinstance(n, Varied) for n in numbers):
            return None
        maps, _ = self._maps(above, above, ground)
        return np.asarray(maps[0])

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return the pivot, and the motif's frame where all is adjusted alike."""
        if self.scope != ALL:
            return None
        body = above.bodies(np.array([above.origin]))[0]
        frame = stage.bodies(np.array([stage.origin]))[0]
        middle = (frame.min(0) + frame.max(0)) / 2
        moved = np.array([rest(self.x), rest(self.y)])
        handles = (
            Handle("pivot", resolve(self.pivot, above, ground) + moved, f"pivot: {self.pivot.words()}", "pivot"),
            Handle("turn", np.array([frame[:, 0].max(), middle[1]]), f"turn {describe(rest(self.turn), '°')}", "bead"),
            Handle("move", middle, "the motif, adjusted: drag it", "frame"),
        )
        return HandleSet(handles, body, frame)

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Return pivot, turn or move."""
        moved = np.array([rest(self.x), rest(self.y)])
        if drag.name == "pivot":
            return {"pivot": nearest_spot(drag.to - moved, above, ground, drag)}
        known = self.handles(above, stage, ground, "")
        before = next(handle.at for handle in known.handles if handle.name == drag.name) if known else drag.to
        if drag.name == "turn":
            centre = resolve(self.pivot, above, ground) + moved
            change = polar(drag.to - centre)[1] - polar(before - centre)[1]
            return {"turn": with_start(self.turn, drag.angle(rest(self.turn) + change))}
        x, y = drag.to - before + moved
        return {"x": with_start(self.x, drag.length(float(x), 0.0)), "y": with_start(self.y, drag.length(float(y), 0.0))}

    def without_effect(self, motif: Rule | None = None) -> Mapping[str, NoEffect]:
        """Return the pivot, where nothing turns, is sized or leans."""
        if self.pivot == Anchor() or (self.turn, self.across, self.along, self.skew) != (0.0, 100.0, 100.0, 0.0):
            return {}
        return {"pivot": NoEffect("Nothing turns or changes size yet, so the pivot has no effect.")}

    def said(self, placed: Placed, unit: str) -> Mapping[str, str]:
        """Return also that copies of one shape look the same, where each is turned in its place by an angle of its symmetry."""
        above, sized = placed.above, (self.across, self.along, self.skew, self.pivot) != (100.0, 100.0, 0.0, Anchor())
        if above is None or isinstance(self.turn, Varied) or not self.turn or sized or above.shape.faces != 1:
            return placed.stage.found.said
        looks = looks_turned(above.body_ring, float(self.turn)) if self.scope == EACH or above.n == 1 else ""
        return {**placed.stage.found.said, "turn": looks}

    @property
    def at_rest(self) -> str:
        """Nothing is told: its key line says it."""
        return ""

    def starts(self, around: Surroundings) -> tuple[Start, ...]:
        """Return starts over the copies of the nearest repeat: jitter, squeeze, each row its own, swirl."""
        source = around.source
        if not source:
            return ()

        def lots(by: float, seed: int, about: float = 0.0) -> Varied:
            return Varied(rule=source, channel="chance", start=about - by, end=about + by, seed=seed)

        shift, sizes = tidy(around.size * 0.12), ("across", "along")
        by_rows = Varied(rule=source, channel="row", start=100.0, end=30.0)
        by_columns = Varied(rule=source, channel="column", start=100.0, end=20.0)
        away = Varied(rule=source, channel="distance", start=0.0, end=180.0)
        jitter = {"x": lots(shift, 1), "y": lots(shift, 2), "turn": lots(12.0, 3)} | dict.fromkeys(sizes, lots(15.0, 4, 100.0))
        made: tuple[tuple[str, str, dict[str, Any]], ...] = (
            ("jitter", "Each a little aside, turned and sized by chance.", jitter),
            ("squeeze", "Ever narrower from column to column.", {"across": by_columns}),
            ("each row its own", "Ever smaller from row to row.", dict.fromkeys(sizes, by_rows)),
            ("swirl", "Turned the more, the farther from the pivot.", {"turn": away}),
        )
        return tuple(Start(name, words, {"scope": EACH, **changes}) for name, words, changes in made)

    def key_line(self, unit: str) -> str:
        """Return what is not at rest."""
        said = []
        for name, words, u in (("x", "across", unit), ("y", "down", unit), ("turn", "turn", "°"), ("skew", "skew", "°")):
            value = getattr(self, name)
            if isinstance(value, Varied) or value:
                said.append(f"{words} {describe(value, u)}")
        if self.across == self.along and self.across != 100.0:
            said.append(f"size {describe(self.across, '%', 0)}")
        else:
            for name in ("across", "along"):
                value = getattr(self, name)
                if isinstance(value, Varied) or value != 100.0:
                    said.append(f"size {name} {describe(value, '%', 0)}")
        return ", ".join(said[:2]) or "nothing changed"
