"""How large all that is drawn is: its outlines, and with their strokes."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
import shapely

from under_lattice.geometry.affine import Array
from under_lattice.pattern.drawn import SHORT, Drawn
from under_lattice.pattern.marks import Coat

Box = tuple[float, float, float, float]
MITRE = 4.0  # a corner sharper than this is cut, as in SVG
LOOKED_MOST = 40  # marks at each side whose strokes are looked at
CAPS = {"butt": "flat", "round": "round", "square": "square"}


def outlines_box(drawn: Drawn) -> Box | None:
    """Return left, top, right and bottom of all outlines on the sheet; None of nothing."""
    if not len(drawn.rows):
        return None
    left, top, right, bottom = drawn.box().tolist()
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
        if not half.any():
            continue
        any_stroke = True
        for side, way in enumerate(((-1, 0), (0, -1), (1, 0), (0, 1))):
            most = drawn.centre @ np.array(way, float) + drawn.reach * (1 + SHORT) + half
            farthest = np.argsort(-most, kind="stable")[:LOOKED_MOST]
            ends[side] = max(ends[side], _reach(drawn, farthest, half[farthest], coat, side))
    left, top, right, bottom = (ends * [-1, -1, 1, 1]).tolist()
    return (left, top, right, bottom) if any_stroke else None


def _reach(drawn: Drawn, at: Array, half: Array, coat: Coat, side: int) -> float:
    """How far strokes of marks `at` (k,), `half` as wide (k,), reach towards a side: left, top, right or bottom."""
    ends: Any = {"cap_style": CAPS[coat.cap], "join_style": coat.join}
    grown = shapely.buffer(drawn.placed(at, fine=True), half, mitre_limit=MITRE, quad_segs=32, **ends)
    return float(shapely.bounds(grown)[:, side].max() if side > 1 else -shapely.bounds(grown)[:, side].min())
