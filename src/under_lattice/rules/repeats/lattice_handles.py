"""Handles of the lattice: its pivot, its two steps and the frame of its first copy.

The rule itself stands above this file, so it is not named in its types.
"""

from __future__ import annotations

from typing import Any

import numpy as np

from under_lattice.geometry.affine import Array, apply
from under_lattice.pattern.ask import rest
from under_lattice.pattern.stage import Stage
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Arrow, Drag, Handle, HandleSet, length_words, polar, with_start
from under_lattice.rules.repeats import lattice_net as nets
from under_lattice.rules.shared.anchor import nearest_spot

FIRST, ROW, EACH, PIVOT = "first copy", "row step", "turn each", "pivot"


def lattice_handles(rule: Any, above: Stage, stage: Stage, unit: str) -> HandleSet:
    """Return the handles of a placed lattice."""
    home, one, row = (_centre(above, stage, i, j) for i, j in ((0, 0), (1, 0), (0, 1)))
    body = above.bodies(np.array([above.origin]))[0]
    frame = apply(nets.found_of(stage).step_at(1, 0), body)
    handles = [Handle(PIVOT, stage.pivot, f"pivot: {rule.pivot.words()}", "pivot")]
    if rule.extent != "fits a box":
        handles += [
            Handle(ROW, row, length_words(row - home, unit), "tip"),
            Handle(EACH, frame[_rightmost(frame)], "turn each copy", "bead"),
            Handle(FIRST, one, "first copy: the rest follow", "frame"),
        ]
    arrows = (Arrow(home, one, length_words(one - home, unit)), Arrow(home, row, length_words(row - home, unit)))
    return HandleSet(tuple(handles), apply(nets.found_of(stage).step_at(0, 0), body), frame, arrows)


def _centre(above: Stage, stage: Stage, i: int, j: int) -> Array:
    return apply(nets.found_of(stage).step_at(i, j), above.xform[above.origin, :, 2][None])[0]


def _rightmost(ring: Array) -> int:
    return int(np.lexsort((ring[:, 1], -ring[:, 0].round(6)))[0])


def lattice_dragged(rule: Any, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
    """Return the changes of settings that follow a dragged handle."""
    if drag.name == PIVOT:
        return {"pivot": nearest_spot(drag.to, above, ground, drag)}
    one = _centre(above, stage, 1, 0)
    if drag.name == EACH:
        frame = apply(nets.found_of(stage).step_at(1, 0), above.bodies(np.array([above.origin]))[0])
        change = polar(drag.to - one)[1] - polar(frame[_rightmost(frame)] - one)[1]
        return {"turn_each": drag.angle(rule.turn_each + change)}
    home = _centre(above, stage, 0, 0)
    before = (one if drag.name == FIRST else _centre(above, stage, 0, 1)) - home
    now = drag.to - home
    if np.hypot(*now) < 1e-6:
        return {}
    return _stepped(rule, drag, before, now, above, ground)


def _stepped(rule: Any, drag: Drag, before: Array, now: Array, above: Stage, ground: Ground) -> dict[str, Any]:
    (was, was_angle), (length, angle) = polar(before), polar(now)
    across = drag.name == FIRST
    pitches = _Pitches(rule, drag, above, ground)
    turned = {"turn": drag.angle(rule.turn + angle - was_angle)}
    if rule.form in nets.TIED:
        return pitches.across(pitches.now[0] * length / was) | turned
    if rule.form == "two vectors":
        name, first = ("angle", 0) if across else ("row_angle", 1)
        return (pitches.across(length) if first == 0 else pitches.down(length)) | {name: drag.angle(angle - rule.turn)}
    raw = nets.direction(angle - rule.turn) * length
    if across and rule.form == "dropped columns":
        return pitches.across(abs(float(raw[0]))) | {"shift": _share(drag, raw[1] / pitches.now[1], rule.shift)}
    if not across and rule.form == "staggered rows":
        return pitches.down(abs(float(raw[1]))) | {"shift": _share(drag, raw[0] / pitches.now[0], rule.shift)}
    return (pitches.across(length) if across else pitches.down(length)) | turned


def _share(drag: Drag, share: float, number: Any) -> Any:
    per_cent = float(np.clip(share * 100, -100, 100))
    tidy = round(per_cent / 25) * 25.0
    per_cent = tidy if not drag.free and abs(per_cent - tidy) < 3 else round(per_cent, 1)
    return with_start(number, per_cent)


class _Pitches:
    """Turns a wanted pitch into a pitch, or into the gap where the pitch is touching."""

    def __init__(self, rule: Any, drag: Drag, above: Stage, ground: Ground) -> None:
        self.rule, self.drag = rule, drag
        bodies = rule.bodies(above, False)
        net = rule.net(above, ground, bodies)
        self.now = rule.shown_pitch(net)
        self.touching = rule.spacing == "touching"
        if self.touching:
            wider = rule.model_copy(update={"gap": rest(rule.gap) + 1.0})
            grown = rule.shown_pitch(wider.net(above, ground, bodies))
            self.slope = tuple(max(1e-3, b - a) for a, b in zip(self.now, grown, strict=True))

    def across(self, wanted: float) -> dict[str, Any]:
        """Return what gives this pitch."""
        return self._to("pitch", 0, wanted)

    def down(self, wanted: float) -> dict[str, Any]:
        """Return what gives this row pitch."""
        return self._to("row_pitch", 1, wanted)

    def _to(self, name: str, at: int, wanted: float) -> dict[str, Any]:
        if self.touching:
            gap = rest(self.rule.gap) + (wanted - self.now[at]) / self.slope[at]
            return {"gap": with_start(self.rule.gap, self.drag.length(gap, 0.0))}
        return {name: with_start(getattr(self.rule, name), max(0.01, self.drag.length(wanted)))}
