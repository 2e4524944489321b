"""Rule: Touch-up, copies picked by hand are moved, turned, sized and coloured; they keep it by their place in the pattern."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any, ClassVar, Literal

import numpy as np

from under_lattice.colour.colour import bytes_of
from under_lattice.core.units import short
from under_lattice.declare.colour_dials import Colour
from under_lattice.declare.drawn_dials import Touches
from under_lattice.geometry.affine import IDENTITY, Array, about, compose, inverse, linear
from under_lattice.pattern.findings import Findings
from under_lattice.pattern.marks import Coat, MarkAsk, Marks
from under_lattice.pattern.stage import Stage
from under_lattice.rules.families import CopyRule
from under_lattice.rules.ground import Ground, Standing
from under_lattice.rules.handles import Arrow, Drag, Handle, HandleSet, polar
from under_lattice.rules.shared.touches import Touch, as_one, picked

HANDLES_MOST = 30
ARM = 0.75  # of a copy's extent: how far from its middle it is held to be turned and sized


class TouchUp(CopyRule):
    """Change some copies by hand."""

    title: ClassVar[str] = "Touch-up"
    words: ClassVar[str] = "Single copies moved, turned, sized or coloured by hand; they keep it by their place when counts change."
    search: ClassVar[str] = "manual single individual exception override move one copy recolour accent"

    pick_words: ClassVar[str] = "Touch up this copy"

    kind: Literal["touch-up"] = "touch-up"
    picks: Annotated[
        tuple[Touch, ...],
        Touches("Copies", "Those changed; “Touch up this copy” in the menu of the sheet adds one."),
    ] = ()
    colour: Annotated[str, Colour("Colour", "Of the fill of all of them; none leaves each its own.")] = ""

    def place(self, above: Stage, ground: Ground) -> Stage:
        """Return the same copies, those picked changed about their own middle, or about the middle of all that is picked as one."""
        xform, there = np.array(above.xform), 0
        for touch in self.picks:
            which = picked(above, touch)
            there += int(which.any())
            if not which.any():
                continue
            xform[which] = self._changed(xform[which], touch, as_one(above, touch))
        step = compose(xform, inverse(above.xform))
        gone = len(self.picks) - there
        said = f"{gone} of {len(self.picks)} not there now" if gone else ""
        channels = {"step": np.arange(above.n, dtype=float)}
        parent = np.arange(above.n, dtype=np.int32)
        return Stage(self.id, above.shape, xform, step, parent, above.key, above, channels, found=Findings(said={"picks": said}))

    @property
    def takes_picks(self) -> bool:
        """Whether copies picked by hand go here."""
        return True

    @staticmethod
    def _changed(xform: Array, touch: Touch, together: bool) -> Array:
        own = linear(touch.turn, touch.size / 100, touch.size / 100)
        middle = xform[:, :, 2].mean(0)[None] if together else xform[:, :, 2]
        out = compose(about(np.broadcast_to(own, (len(middle), 2, 3)), middle), xform)
        out[..., 2] += (touch.x, touch.y)
        return np.asarray(out)

    def lays(self, inks: Sequence[Any]) -> bool:
        """Tell whether there is a coat to change."""
        return bool(self.colour and inks)

    def paint(self, ask: MarkAsk, marks: Marks, coats: tuple[Coat, ...], at: Standing) -> tuple[Coat, ...]:
        """Return the coats with the fill of the picked copies changed; a ramp or a picture is covered."""
        stage = ask.stage(self.id)
        if not self.colour or not coats or stage is None or not self.picks:
            return coats
        which = np.any([picked(stage, touch) for touch in self.picks], 0)
        mine = which[ask.ancestors(self.id)][marks.copy]
        last = coats[-1]
        fill = np.array(np.broadcast_to(last.fill, (marks.count, 4)))
        new = np.concatenate([np.broadcast_to(bytes_of((self.colour,))[0][:3], (marks.count, 3)), fill[:, 3:]], 1)
        if last.paint is None:
            return (*coats[:-1], last._replace(fill=np.where(mine[:, None], new, fill)))
        clear = np.zeros(4, np.uint8)
        stroke = np.where(mine[:, None], np.broadcast_to(last.stroke, (marks.count, 4)), clear)
        return (*coats, last._replace(fill=np.where(mine[:, None], new, clear), stroke=stroke, paint=None))

    @property
    def at_rest(self) -> str:
        """Nothing is told: its key line says it."""
        return ""

    def seen_through(self, above: Stage, ground: Ground) -> Array | None:
        """Return the map (2, 3) that changes nothing: most copies stay."""
        return IDENTITY

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return for each picked copy a bead to move it, and a tip to turn and size it."""
        handles, arrows = [], []
        for k, touch in enumerate(self.picks[:HANDLES_MOST]):
            which = picked(above, touch)
            if not which.any():
                continue
            middle, arm = self._held(above, which)
            middle = middle + np.array([touch.x, touch.y])
            end = middle + linear(touch.turn)[:, :2] @ np.array([arm * touch.size / 100, 0.0])
            handles.append(
                Handle(f"move {k + 1}", middle, f"{k + 1}: moved {short(touch.x, 2)}, {short(touch.y, 2)} {unit}", "bead")
            )
            handles.append(Handle(f"turn {k + 1}", end, f"turn {short(touch.turn, 2)}°, size {short(touch.size, 2)} %", "tip"))
            arrows.append(Arrow(middle, end, ""))
        return HandleSet(tuple(handles), None, None, tuple(arrows)) if handles else None

    @staticmethod
    def _held(above: Stage, which: Array) -> tuple[Array, float]:
        """Where the first of what is picked stands, and how long the arm is that turns it."""
        first = np.flatnonzero(which)[:1]
        return above.xform[first[0], :, 2], ARM * float(np.ptp(above.bodies(first)[0], 0).max())

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Return the touches with one moved, or turned and sized."""
        what, number = drag.name.split()
        k = int(number) - 1
        touch = self.picks[k]
        middle, arm = self._held(above, picked(above, touch))
        if what == "move":
            x, y = drag.on_grid() - middle
            changes = {"x": drag.length(float(x), 0.0), "y": drag.length(float(y), 0.0)}
        else:
            away, angle = polar(drag.to - middle - (touch.x, touch.y))
            size = float(np.clip(round(100 * away / arm, 1), 0.1, 10000.0))
            changes = {"turn": drag.angle(angle), "size": 100.0 if abs(size - 100) < 2 and not drag.free else size}
        return {"picks": (*self.picks[:k], touch.model_copy(update=changes), *self.picks[k + 1 :])}

    def key_line(self, unit: str) -> str:
        """Return how many."""
        return f"{len(self.picks)} picked" if self.picks else "no copy is picked yet"
