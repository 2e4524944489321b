"""Handles of a Progression: the pivot, the first copy to hold and move, turn and size, and the end of the run.

The rule itself stands above this file, so it is not named in its types.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from under_lattice.geometry.affine import Array, apply
from under_lattice.pattern.ask import rest
from under_lattice.pattern.findings import Findings
from under_lattice.pattern.stage import Stage
from under_lattice.rules.base import describe
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Arrow, Drag, Handle, HandleSet, length_words, polar, with_start
from under_lattice.rules.shared.anchor import nearest_spot, resolve


@dataclass(frozen=True)
class RunFound(Findings):
    """What a run found: the map (2, 3) that takes what stands above to its first copy, if it has one."""

    first: Array | None = None


def first_of(stage: Stage) -> Array | None:
    """Return the map (2, 3) that takes what stands above to the first copy of a run."""
    return stage.found.first if isinstance(stage.found, RunFound) else None


def progression_handles(rule: Any, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
    """Return the handles, in the place of the rule."""
    ring = above.bodies(np.array([above.origin]))[0]
    pivot = resolve(rule.pivot, above, ground)
    idle = ", no effect yet" if rule.idle_pivot() is not None else ""
    handles = [Handle("pivot", pivot, f"pivot: {rule.pivot.words()}{idle}", "pivot")]
    first = first_of(stage)
    if first is None:
        return HandleSet(tuple(handles), ring)
    frame = apply(first, ring)
    centre, start = _middle(frame), _middle(ring)
    corner = frame[int(np.argmax(np.hypot(*(frame - centre).T)))]
    beyond = centre + (corner - centre) * 1.0
    under = centre + np.array([0.0, max(1e-6, float(np.ptp(frame[:, 1]))) * 0.7])
    handles += [
        Handle("first", centre, "the first copy: drag it, the rest follow", "frame"),
        Handle("turn", under, f"turn {describe(rest(rule.turn), '°')}", "bead"),
        Handle("size", beyond, f"size {describe(rest(rule.across), '%', 1)}", "bead"),
    ]
    arrows = []
    if np.hypot(*(centre - start)) > 1e-9:
        arrows.append(Arrow(start, centre, length_words(centre - start, unit)))
    if rule.extent == "by number":
        ends = _middles(rule, above, stage)
        handles.append(Handle("end", ends[-1], f"{len(ends)} in all", "bead"))
    return HandleSet(tuple(handles), ring, frame, tuple(arrows))


def progression_dragged(rule: Any, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
    """Return what a dragged handle changes."""
    if drag.name == "pivot":
        return {"pivot": nearest_spot(drag.to, above, ground, drag)}
    if drag.name == "end":
        return _end(rule, drag, above, stage)
    ring = above.bodies(np.array([above.origin]))[0]
    first = first_of(stage)
    if first is None:
        return {}
    frame = apply(first, ring)
    centre = _middle(frame)
    if drag.name == "first":
        return _moved(rule, drag, drag.to - centre)
    known = progression_handles(rule, above, stage, ground, "")
    assert known is not None
    before = next(handle.at for handle in known.handles if handle.name == drag.name)
    hub = (
        resolve(rule.pivot, above, ground)
        if (rule.turn_about if drag.name == "turn" else rule.size_about) == "the pivot"
        else centre
    )
    if drag.name == "turn":
        change = polar(drag.to - hub)[1] - polar(before - hub)[1]
        return {"turn": with_start(rule.turn, drag.angle(rest(rule.turn) + change))}
    ratio = polar(drag.to - hub)[0] / max(polar(before - hub)[0], 1e-9)
    across, along = (float(np.clip(round(rest(n) * ratio, 1), 1.0, 1000.0)) for n in (rule.across, rule.along))
    if not drag.free and abs(across - 100) < 1.0:
        along, across = along * 100 / across, 100.0
    return {"across": with_start(rule.across, across), "along": with_start(rule.along, round(along, 1))}


def _moved(rule: Any, drag: Drag, by: Array) -> dict[str, Any]:
    """The first copy is moved; touching copies keep touching and only turn their direction."""
    angle = np.radians(rest(rule.direction))
    heading = np.array([np.cos(angle), np.sin(angle)])
    if rule.spacing == "each begins where the last ended":
        return {}
    if rule.spacing == "free" and rule.by == "across and down":
        x, y = rest(rule.x) + by[0], rest(rule.y) + by[1]
        return {"x": with_start(rule.x, drag.length(float(x), 0.0)), "y": with_start(rule.y, drag.length(float(y), 0.0))}
    length = rest(rule.distance) if rule.spacing == "free" else 1e3
    to = heading * length + by
    away, heading_to = polar(to)
    direction = {"direction": with_start(rule.direction, drag.angle(heading_to))}
    if rule.spacing == "touching":
        return direction
    return direction | {"distance": with_start(rule.distance, drag.length(away, 0.0))}


def _end(rule: Any, drag: Drag, above: Stage, stage: Stage) -> dict[str, Any]:
    """The run is made longer or shorter: the copy nearest to the pointer becomes the last."""
    middles = _middles(rule, above, stage)
    count = len(middles)
    near = int(np.argmin(np.hypot(*(middles - drag.to).T))) + 1
    if near == count and count > 1:  # beyond the end: as many more as the last step goes into the way
        step = middles[-1] - middles[-2]
        length = float(step @ step)
        if length > 1e-12:
            near = count + max(0, int(np.floor(float((drag.to - middles[-1]) @ step) / length + 0.5)))
    return {"count": with_start(rule.count, float(min(max(near, 1), 5000)))}


def _middles(rule: Any, above: Stage, stage: Stage) -> Array:
    """Middles (K, 2) of the motif's own copies, in the order of their steps."""
    own: Array = np.flatnonzero(stage.parent == above.origin)
    own = own[np.argsort(stage.key[own, 1], kind="stable")]
    maps = stage.xform[own]
    ring = above.body_ring
    return apply(maps, ((ring.min(0) + ring.max(0)) / 2)[None, None])[:, 0]


def _middle(ring: Array) -> Array:
    return np.asarray((ring.min(0) + ring.max(0)) / 2)
