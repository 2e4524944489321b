"""The families of rules: motifs begin a chain, shape rules reshape, copy rules place copies."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Annotated, Any, ClassVar, Self

import numpy as np

from under_lattice.colour.effects import Effect
from under_lattice.core.errors import InputError, RuleRefused
from under_lattice.declare.dials import Length
from under_lattice.geometry.affine import Array, compose, moves
from under_lattice.geometry.body import LOOKS_THE_SAME, looks_turned
from under_lattice.geometry.outline import Outline
from under_lattice.pattern.stage import Shape, Stage, reshaped, start
from under_lattice.rules.base import Rule, RuleFamily
from under_lattice.rules.findings import Placed
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Drag, Handle, HandleSet
from under_lattice.rules.surroundings import Surroundings
from under_lattice.rules.true_lengths import true_lengths

PLACE = Length("", "To the right of the middle of the sheet.", main=False, group="Place", slides=(-120.0, 120.0), stays=True)


class MotifRule(Rule):
    """The first rule of a chain: the shape."""

    family: ClassVar[RuleFamily] = "motif"

    place_x: Annotated[float, replace(PLACE, label="Place across")] = 0.0
    place_y: Annotated[float, replace(PLACE, label="Place down", words="Below the middle of the sheet.")] = 0.0

    @property
    def stands_at(self) -> Array:
        """Where it stands on the sheet (2,), from the middle, in the unit of the work."""
        return np.array([self.place_x, self.place_y])

    def said(self, placed: Placed, unit: str) -> Mapping[str, str]:
        """Return also that it looks the same, where it is one shape turned by an angle of its symmetry."""
        turn, ring = getattr(self, "turn", 0.0), placed.stage.body_ring
        same = bool(turn) and placed.stage.shape.faces == 1 and looks_turned(ring, float(turn)) == LOOKS_THE_SAME
        return {**placed.stage.found.said, "turn": LOOKS_THE_SAME} if same else placed.stage.found.said

    def shown_handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return its handles where it stands; it is moved by dragging itself."""
        found = self.handles(above, stage, ground, unit) or HandleSet(())
        mover = Handle("place", np.zeros(2), "the motif: drag it", "frame")
        frame = stage.body_ring if found.frame is None else found.frame
        return replace(found, handles=(*found.handles, mover), frame=frame).shifted(self.stands_at)

    def pulled(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Return the place, or what else follows a dragged handle."""
        if drag.name == "place":
            x, y = np.where(np.hypot(*drag.to) < drag.near and not drag.free, 0.0, drag.on_grid())
            return {"place_x": round(float(x), 2), "place_y": round(float(y), 2)}
        return self.dragged(drag.shifted(self.stands_at), above, stage, ground)

    def shape(self) -> Shape:
        """Return the lazy shape."""
        raise InputError("a motif draws its own shape")

    def own_body(self) -> Outline | None:
        """Return the body of its shape."""
        return self.shape().body()

    def shape_on(self, ground: Ground) -> Shape:
        """Return the lazy shape on a sheet; of most motifs the same on all.

        Raises
        ------
        RuleRefused
        """
        return self.shape()

    def begin(self, ground: Ground) -> Stage:
        """Return the copies a chain begins with: of most motifs the one.

        Raises
        ------
        RuleRefused
        """
        return start(self.shape_on(ground), self.id)

    def acts(self, above: Stage | None, ground: Ground) -> Stage | None:
        """Return the copies a chain begins with, where the motif stands."""
        stage, move = self.begin(ground), moves(self.stands_at)
        return (
            stage
            if not (self.place_x or self.place_y)
            else replace(stage, xform=compose(move, stage.xform), step=compose(move, stage.step))
        )


class ShapeRule(Rule):
    """Reshapes what stands above; draws nothing until copies ask."""

    family: ClassVar[RuleFamily] = "shape"

    def reshape(self, shape: Shape, ground: Ground) -> Shape:
        """Return a taller shape tree."""
        raise InputError("a shape rule reshapes")

    def as_it_lies(self, above: Stage) -> Self:
        """Return the rule with its lengths as those of the copies it stands below, whatever size each was given."""
        changes = true_lengths({name: (dial, getattr(self, name)) for name, dial in self.dials().items()}, above)
        return self.model_copy(update=changes) if changes else self

    def acts(self, above: Stage | None, ground: Ground) -> Stage | None:
        """Return the same copies with another shape."""
        return above if above is None else reshaped(above, self.as_it_lies(above).reshape(above.shape, ground))


NATURAL_SHEET, NATURAL_SIZE = 320.0, 24.0  # of the shorter side, and of the motif, where lengths of finishes are as declared


class FinishRule(Rule):
    """Changes the pixels of all that stands above together; copies and shapes stay as they are."""

    family: ClassVar[RuleFamily] = "finish"
    along_edges: ClassVar[bool] = False
    works_in: ClassVar[str] = "coded values"

    def effect(self) -> Effect:
        """Return what it does to pixels."""
        raise InputError("a finish changes pixels")

    @classmethod
    def suggested(cls, around: Surroundings) -> dict[str, Any]:
        """Return its lengths in proportion to the sheet, and those of what lies along an edge to a small motif too."""
        share = around.least / NATURAL_SHEET
        if cls.along_edges and around.spread:
            share = min(share, around.size / NATURAL_SIZE)
        lengths = [name for name, dial in cls.dials().items() if dial.kind == "length"]
        return {name: float(f"{cls.model_fields[name].default * share:.2g}") for name in lengths}

    def acts(self, above: Stage | None, ground: Ground) -> Stage | None:
        """Return what stands above."""
        return above


class CopyRule(Rule):
    """Places copies: eager, over whole arrays."""

    family: ClassVar[RuleFamily] = "copies"

    def place(self, above: Stage, ground: Ground) -> Stage:
        """Return the copies after this rule."""
        raise InputError("a copy rule places copies")

    def laid(self, above: Stage, ground: Ground) -> Stage:
        """Return the copies after this rule, in the order in which they lie over each other."""
        return self.place(above, ground)

    def acts(self, above: Stage | None, ground: Ground) -> Stage | None:
        """Return the copies after this rule.

        Raises
        ------
        RuleRefused, LimitError
        """
        if above is not None and not above.n:
            raise RuleRefused("no copies stand above to be repeated or adjusted")
        return above if above is None else self.laid(above, ground)

    def seen_through(self, above: Stage, ground: Ground) -> Array | None:
        """Return the one map (2, 3) this rule applies to all that stands above it, if it is one and the same."""
        return None
