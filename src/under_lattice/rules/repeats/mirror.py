"""Rule: Mirror, a reflection in a line through the pivot, with or without a glide along it."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal, get_args

import numpy as np

from under_lattice.declare.dials import Angle, Choice, Length, Point
from under_lattice.geometry.affine import IDENTITY, Array, compose, inverse, mirrors
from under_lattice.pattern.ask import Ask, rest
from under_lattice.pattern.stage import Stage
from under_lattice.rules.base import describe
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Arrow, Drag, Handle, HandleSet, polar, with_start
from under_lattice.rules.shared.anchor import Anchor, nearest_spot, resolve
from under_lattice.rules.shared.runs import LEVEL, PLAIN_STACKING, PlainStacking, Repeat, laid_out
from under_lattice.rules.surroundings import Surroundings
from under_lattice.vary.numbers import Number

Keeps = Literal["both", "the mirrored only", "every second mirrored"]


class Mirror(Repeat):
    """Reflect in a line."""

    title: ClassVar[str] = "Mirror"
    words: ClassVar[str] = "Reflect in a line through the pivot: beside the original, instead of it, or every second copy."
    turns_back: ClassVar[bool] = True
    search: ClassVar[str] = "reflect flip symmetry glide reverse handed"

    kind: Literal["mirror"] = "mirror"
    keeps: Annotated[Keeps, Choice("Shown", "What is there afterwards.", options=get_args(Keeps))] = "both"
    angle: Annotated[Number, Angle("Line", "Direction of the mirror line, clockwise from the right; 90 is upright.", vary=True)] = (
        90.0
    )
    glide: Annotated[Number, Length("Glide", "How far copies are also moved along the line.", vary=True, slides=(-60.0, 60.0))] = (
        0.0
    )
    pivot: Annotated[Anchor, Point("Pivot", "The line passes through it.")] = Anchor(spot="motif right")
    stacking: Annotated[PlainStacking, PLAIN_STACKING] = "last on top"
    level: Annotated[Number, LEVEL] = 0.0

    def place(self, above: Stage, ground: Ground) -> Stage:
        """Return the copies and their reflections; of every second copy each in a line through its own middle."""
        ask = Ask(above, ground.known)
        pivot = resolve(self.pivot, above, ground)
        angle, glide = np.broadcast_arrays(ask.each(self.angle), ask.each(self.glide))
        if self.keeps == "every second mirrored":
            return self._every_second(above, angle, glide, ground)
        mirrored = mirrors(angle, pivot)
        radians = np.radians(angle)
        mirrored[..., 2] += glide[:, None] * np.stack([np.cos(radians), np.sin(radians)], -1)
        steps = np.stack([np.broadcast_to(IDENTITY, mirrored.shape), mirrored])
        if self.keeps == "the mirrored only":
            steps = steps[1:]
        return laid_out(above, self.id, steps, "last on top", None, pivot=pivot)

    def _every_second(self, above: Stage, angle: Array, glide: Array, ground: Ground) -> Stage:
        """The copies of the rule above whose number is odd, each reflected as a whole, in the place of what that rule repeats."""
        inner = above.above or above
        pivot = resolve(self.pivot, inner, ground)
        mirrored = mirrors(angle, pivot)
        radians = np.radians(angle)
        mirrored[..., 2] += glide[:, None] * np.stack([np.cos(radians), np.sin(radians)], -1)
        odd = above.key.sum(1) % 2 == 1
        step = compose(compose(above.step, mirrored), inverse(above.step))
        xform = np.where(odd[:, None, None], compose(step, above.xform), above.xform)
        step = np.where(odd[:, None, None], step, IDENTITY)
        number = np.arange(above.n)
        return Stage(
            self.id,
            above.shape,
            xform,
            step,
            number.astype(np.int32),
            above.key,
            above,
            {"step": number.astype(float)},
            pivot=pivot,
        )

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return the pivot and the end of the line."""
        ring = above.bodies(np.array([above.origin]))[0]
        pivot = resolve(self.pivot, above, ground)
        angle = np.radians(rest(self.angle))
        reach = float(np.hypot(*np.ptp(ring, 0))) * 0.9
        end = pivot + reach * np.array([np.cos(angle), np.sin(angle)])
        handles = (
            Handle("pivot", pivot, f"pivot: {self.pivot.words()}", "pivot"),
            Handle("line", end, f"mirror {describe(rest(self.angle), '°')}", "bead"),
        )
        return HandleSet(handles, ring, None, (Arrow(2 * pivot - end, end, ""),))

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Return pivot or angle."""
        if drag.name == "pivot":
            return {"pivot": nearest_spot(drag.to, above, ground, drag)}
        pivot = resolve(self.pivot, above, ground)
        return {"angle": with_start(self.angle, drag.angle(polar(drag.to - pivot)[1]))}

    @classmethod
    def suggested(cls, around: Surroundings) -> dict[str, Any]:
        """Return the middle of the sheet as pivot, where copies are spread already."""
        return {"pivot": Anchor(spot="sheet centre")} if around.spread else {}

    def key_line(self, unit: str) -> str:
        """Return the line and what is kept."""
        line = f"at {describe(self.angle, '°', 0)}"
        return line if self.keeps == "both" else f"{line}, {self.keeps}"
