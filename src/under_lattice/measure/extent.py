"""How large all that is drawn is: its outlines, and with their strokes."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from under_lattice.geometry.affine import Array, apply
from under_lattice.pattern.drawn import SHORT, Drawn
from under_lattice.pattern.marks import Coat

Box = tuple[float, float, float, float]
MITRE = 4.0  # a corner sharper than this is cut, as in SVG
LOOKED_MOST = 40  # marks at each side whose strokes are looked at


def outlines_box(drawn: Drawn) -> Box | None:
    """Return left, top, right and bottom of all outlines on the sheet; None of nothing."""
    if not len(drawn.rows):
        return None
    left, top, right, bottom = drawn.box.tolist()
    return left, top, right, bottom


def strokes_box(drawn: Drawn, coats: Sequence[Coat]) -> Box | None:
    """Return left, top, right and bottom of all outlines with their strokes; None where nothing has one.

    Corners and ends are as the strokes have them; of many marks those at the sides are looked at.
    """
    outlines = outlines_box(drawn)
    if outlines is None:
        return None
    ends, any_stroke = np.array(outlines) * [-1, -1, 1, 1], False
    for coat in coats:
        half = np.broadcast_to(np.where(coat.stroked(), np.maximum(coat.width, 0.0), 0.0) / 2, drawn.marks.count)[drawn.rows]
        any_stroke |= bool(half.any())
        for side, way in enumerate(((-1.0, 0.0), (0.0, -1.0), (1.0, 0.0), (0.0, 1.0)) if half.any() else ()):
            to = np.array(way)
            most = drawn.centre @ to + drawn.reach * (1 + SHORT) + half * MITRE
            looked = np.argsort(-most, kind="stable")[:LOOKED_MOST]
            most = drawn.ends(looked, to[:, None])[:, 0]
            if coat.join == "round" and (coat.cap == "round" or drawn.closed.all()):  # as far everywhere
                ends[side] = max(ends[side], float((most + half[looked]).max()))
                continue
            most += half[looked] * MITRE
            for k in np.argsort(-most, kind="stable").tolist():
                if most[k] <= ends[side]:
                    break
                ends[side] = max(ends[side], _reach(drawn, int(looked[k]), float(half[looked[k]]), coat, to))
    left, top, right, bottom = (ends * [-1, -1, 1, 1]).tolist()
    return (left, top, right, bottom) if any_stroke else None


def _reach(drawn: Drawn, at: int, half: float, coat: Coat, way: Array) -> float:
    """How far the stroke of a mark, `half` as wide, reaches in a direction (2,)."""
    best, closed = -np.inf, bool(drawn.closed[drawn.kind[at]])
    for line in drawn.contours(int(drawn.kind[at]), fine=True):
        points = apply(drawn.xform[at], line)
        far = points @ way
        if float(far.max()) + MITRE * half <= best:
            continue
        if coat.join == "round" and (closed or coat.cap == "round"):
            best = max(best, float(far.max()) + half)
        else:
            near = far >= far.max() - MITRE * half  # no other corner of the stroke reaches farther
            best = max(best, float((_corners(points, half, closed, coat, near) @ way).max()))
            if not closed and coat.cap == "round":
                best = max(best, float(far[[0, -1]].max()) + half)
    return best


def _corners(points: Array, half: float, closed: bool, coat: Coat, near: Array) -> Array:
    """The corners (k, 2) of the stroke of a contour (P, 2): both sides of each piece, mitres, and the ends' own.

    Of pieces and corners those at points that are `near` (P,).
    """
    if closed and (points[0] != points[-1]).any():
        points, near = np.concatenate([points, points[:1]]), np.concatenate([near, near[:1]])
    run = np.diff(points, axis=0)
    long = np.hypot(*run.T)
    keep = long > 0
    run, begin, end = run[keep] / long[keep, None], points[:-1][keep], points[1:][keep]
    if not len(run):
        return np.concatenate([points - half, points + half])
    aside = np.stack([-run[:, 1], run[:, 0]], 1)
    here, there = near[:-1][keep], near[1:][keep]
    out = [one[its] + sign * half * aside[its] for one, its in ((begin, here), (end, there)) for sign in (1, -1)]
    before, after = (np.roll(aside, 1, 0), aside) if closed else (aside[:-1], aside[1:])
    joints, its = (begin, here) if closed else (begin[1:], here[1:])
    joints, before, after = joints[its], before[its], after[its]
    turn = np.einsum("kc,kc->k", before, after)
    if coat.join == "mitre":
        sharp = MITRE**2 * (1 + turn) >= 2  # the mitre's length over the width, squared; straight back it has no end
        tip = half * (before + after)[sharp] / (1 + turn[sharp])[:, None]
        out += [joints[sharp] + tip, joints[sharp] - tip]
    if not closed and coat.cap == "square":
        ends = ((begin[0], -run[0], aside[0]), (end[-1], run[-1], aside[-1]))
        out += [one + half * (on + sign * side) for one, on, side in ends for sign in (1, -1)]
    return np.concatenate([np.atleast_2d(one) for one in out])
