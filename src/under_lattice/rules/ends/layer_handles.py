"""What of a layer as a whole can be dragged on the sheet: where it is brought, how it is turned and sized."""

from __future__ import annotations

from typing import Any

import numpy as np

from under_lattice.core.units import short
from under_lattice.geometry.affine import Array
from under_lattice.rules.handles import Drag, Handle, HandleSet, polar

MOVE, TURN, SIZE = "layer moved", "layer turned", "layer sized"
ARM = 0.22  # of the shorter side of the sheet, from the middle to the bead of a layer in its own size
LEAST, MOST = 0.1, 10_000.0  # per cent


def place_handles(at: Array, turn: float, size: float, side: float) -> HandleSet:
    """Return the handles of a layer brought to `at` (2,), turned by degrees, sized to per cent; `side` is the sheet's."""
    sized, turned = at + _way(turn) * ARM * side * size / 100, at + _way(turn - 90.0) * ARM * side
    handles = (
        Handle(MOVE, at, "the layer: drag it", "pivot"),
        Handle(TURN, turned, f"turned {short(turn, 2)}°", "bead"),
        Handle(SIZE, sized, f"sized {short(size, 1)} %", "bead"),
    )
    return HandleSet(handles, lines=(np.array([turned, at, sized]),))


def place_dragged(drag: Drag, at: Array, side: float) -> dict[str, Any]:
    """Return what a dragged handle makes of x, y, turn and size, under these names."""
    if drag.name == MOVE:
        x, y = drag.on_grid()
        return {"x": drag.length(float(x), 0.0), "y": drag.length(float(y), 0.0)}
    far, angle = polar(drag.to - at)
    if far < 1e-9:
        return {}
    if drag.name == TURN:
        return {"turn": drag.angle(angle + 90.0)}
    size = 100 * far / (ARM * side)
    whole = abs(size - 100) < 2 and not drag.free
    return {"size": 100.0 if whole else round(float(np.clip(size, LEAST, MOST)), 1)}


def _way(degrees: float) -> Array:
    return np.array([np.cos(np.radians(degrees)), np.sin(np.radians(degrees))])
