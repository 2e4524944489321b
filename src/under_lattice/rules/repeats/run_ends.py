"""Where a run of copies ends: at the sheet, at a size, when the sheet is covered; and where a line that goes on begins and ends."""

from __future__ import annotations

from typing import Any

import numpy as np

from under_lattice.core.errors import RuleRefused
from under_lattice.core.units import short
from under_lattice.geometry.affine import Array, apply, compose, inverse
from under_lattice.geometry.body import hull
from under_lattice.geometry.outline import CLOSE, MOVE
from under_lattice.pattern.ask import Ask
from under_lattice.pattern.known import Known
from under_lattice.pattern.stage import Stage
from under_lattice.rules.ground import Ground
from under_lattice.rules.shared.runs import meets_sheet

REACHED = 1e-9  # of a size, by which it may be missed and is reached
EDGE = 1e-9  # of the sheet, by which a corner may lie outside and is covered


def ends_of(above: Stage, known: Known) -> Array:
    """Return where the line that stands above begins and ends (2, 2), as it is drawn of the first copy.

    Raises
    ------
    RuleRefused
        When it is closed or is in several pieces.
    """
    body = above.shape.body()
    if body.verbs[-1] != CLOSE:
        return np.asarray(apply(above.xform[above.origin], body.points[[0, -1]][None])[0])
    lines = []
    for family in above.shape.draw(Ask(above, known)):
        shown = int(family.variant[above.origin if len(family.variant) > 1 else 0])
        if shown >= 0:
            lines.append((family.verbs, family.points[shown]))
    if any(verbs.count(CLOSE) for verbs, _ in lines):
        raise RuleRefused("what stands above is closed and has no ends; only an open line can go on where it ended")
    if len(lines) != 1 or lines[0][0].count(MOVE) != 1:
        raise RuleRefused(f"what stands above is in {len(lines)} pieces; keep one of them, so that it can go on where it ended")
    return np.asarray(apply(above.xform[above.origin], lines[0][1][[0, -1]][None])[0])


def reached(run: Any, whole: Array, own: Array, above: Stage, ground: Ground) -> int:
    """Return how many copies there are until a Progression leaves the sheet, comes to a size or covers the sheet.

    Raises
    ------
    RuleRefused
        When it never does.
    """
    steps = compose(whole, own)[:, 0]
    if run.extent == "until the sheet is covered":
        done = np.flatnonzero(_covers(steps, above, ground))
        if not len(done):
            raise RuleRefused("no copy ever covers the sheet; let the size grow in each step")
        return int(done[0]) + 1
    if run.extent == "until a size is reached":
        size = 100 * np.sqrt(np.abs(np.linalg.det(steps[:, :, :2])))
        if abs(size[-1] - size[0]) < 1e-9 or (size[-1] < size[0]) != (run.until < 100.0):
            raise RuleRefused(f"sizes never come to {short(run.until)} %; change the size in each step")
        slack = REACHED * run.until
        inside = size >= run.until - slack if run.until < 100 else size <= run.until + slack
    else:
        inside = meets_sheet(steps, above.together, ground)
    out = np.flatnonzero(~inside)
    if not len(out):
        raise RuleRefused(f"more than {len(steps):,} copies would stand on the sheet; give their number instead")
    return max(1, int(out[0]))


def _covers(steps: Array, above: Stage, ground: Ground) -> Array:
    """Which of the steps (K, 2, 3) lay a body over all corners of the sheet; (K,) bool. What is hollow counts as full."""
    corners = hull(above.together.reshape(-1, 2))
    if len(corners) < 3:
        return np.zeros(len(steps), bool)
    back = compose(ground.back[None], steps)
    size = np.abs(np.linalg.det(back[:, :, :2]))
    sane = np.isfinite(size) & (size > 0)
    seen = np.zeros(len(steps), bool)
    sheet = ground.sheet()
    at = apply(inverse(back[sane]), sheet[None])
    edge = np.roll(corners, -1, 0) - corners
    away = at[:, :, None] - corners[None, None]
    side = edge[:, 0] * away[..., 1] - edge[:, 1] * away[..., 0]
    slack = EDGE * float(np.ptp(sheet, 0).max()) * np.hypot(*edge.T)
    seen[sane] = (side >= -slack).all((1, 2))
    return seen
