"""Anchors: spots of the motif or the sheet, resolved late so that a recipe works on another motif."""

from __future__ import annotations

import re

import numpy as np
from pydantic import field_validator

from under_lattice.declare.frozen import Frozen
from under_lattice.declare.moving import Push, at_half, mixed_evenly, tidied
from under_lattice.geometry.affine import Array
from under_lattice.pattern.stage import Stage
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Drag

SPOTS = (
    "centre",
    "centroid",
    "top left",
    "top",
    "top right",
    "right",
    "bottom right",
    "bottom",
    "bottom left",
    "left",
)
_PLACES = {
    "centre": (0, 0),
    "top left": (-1, -1),
    "top": (0, -1),
    "top right": (1, -1),
    "right": (1, 0),
    "bottom right": (1, 1),
    "bottom": (0, 1),
    "bottom left": (-1, 1),
    "left": (-1, 0),
}
RING = SPOTS[2:]  # round the middle
CORNERS_MOST = 24
_NUMBERED = re.compile(r"motif (corner|side) ([1-9]\d?)\Z")


class Anchor(Frozen):
    """A spot such as ``motif centre``, ``motif corner 2``, ``motif side 1`` or ``sheet top left``, plus an offset."""

    spot: str = "motif centre"
    dx: float = 0.0
    dy: float = 0.0

    @field_validator("spot")
    @classmethod
    def _known(cls, spot: str) -> str:
        whose, _, place = spot.partition(" ")
        if (whose in ("motif", "sheet") and place in SPOTS) or _NUMBERED.match(spot):
            return spot
        raise ValueError(f"“{spot[:40]}” is not a spot; for instance motif centre, motif corner 1, sheet top left")

    def moved(self, push: Push) -> Anchor:
        """Return a neighbouring spot; a point that has an offset is moved by a part of the sheet."""
        if self.dx or self.dy:
            across, down = push.side * push.by("across") / 4, push.side * push.by("down") / 4
            return self.model_copy(update={"dx": tidied(self.dx + across), "dy": tidied(self.dy + down)})
        whose, _, place = self.spot.partition(" ")
        if place in RING:
            at = RING.index(place)
            near = [RING[at - 1], RING[(at + 1) % len(RING)], "centre"]
        elif place in SPOTS:
            near = list(RING)
        else:
            near = ["centre"]
        return self.model_copy(update={"spot": f"{whose} {near[push.picked(len(near), 'spot')]}"})

    def mixed(self, other: Anchor, share: float) -> Anchor:
        """Return the point `share` (0..1) of the way to another of the same spot; else the nearer."""
        if self.spot != other.spot:
            return at_half(self, other, share)
        dx, dy = mixed_evenly(self.dx, other.dx, share), mixed_evenly(self.dy, other.dy, share)
        return self.model_copy(update={"dx": dx, "dy": dy})

    def words(self) -> str:
        """Return the spot in words, with its offset if there is one."""
        return self.spot if not (self.dx or self.dy) else f"{self.spot} {self.dx:+.2f}, {self.dy:+.2f}"


def resolve(anchor: Anchor, stage: Stage, ground: Ground) -> Array:
    """Return the point (2,) in the place of `stage`."""
    points = spots(stage, ground)
    at = points.get(anchor.spot)
    if at is None:  # a corner the present motif does not have
        at = points["motif centre"]
    return at + np.array([anchor.dx, anchor.dy])


def nearest_spot(point: Array, stage: Stage, ground: Ground, drag: Drag) -> Anchor:
    """Return the anchor at a dragged `point` (2,): a spot within reach, a point of the grid, or free of both."""
    points = spots(stage, ground)
    if not drag.free:
        names = list(points)
        away = np.hypot(*(np.array([points[name] for name in names]) - point).T)
        if away.min() <= drag.near:
            return Anchor(spot=names[int(np.argmax(away <= away.min() + 1e-6))])  # of spots that coincide the plainest
        point = drag.on_grid()
    dx, dy = np.round(point - points["motif centre"], 3)
    return Anchor(dx=float(dx), dy=float(dy))


def spots(stage: Stage, ground: Ground) -> dict[str, Array]:
    """Return all named spots (2,): of the motif where it stands after `stage`, and of the sheet."""
    ring = stage.bodies(np.array([stage.origin]))[0]
    low, high = ring.min(0), ring.max(0)
    out = {f"motif {name}": _in_box(name, low, high) for name in _PLACES}
    out["motif centre"] = stage.xform[stage.origin, :, 2]
    out["motif centroid"] = ring.mean(0)
    half = np.array([ground.width, ground.height]) / 2
    out |= {f"sheet {name}": _in_box(name, -half, half) for name in _PLACES}
    out["sheet centroid"] = np.zeros(2)
    corners = ordered_corners(ring)
    if len(corners) <= CORNERS_MOST:
        for k, corner in enumerate(corners):
            out[f"motif corner {k + 1}"] = corner
            out[f"motif side {k + 1}"] = (corner + corners[(k + 1) % len(corners)]) / 2
    return out


def ordered_corners(ring: Array) -> Array:
    """Corners (V, 2) clockwise as seen, the first at or next after straight up from the middle."""
    away = ring - ring.mean(0)
    angle = (np.degrees(np.arctan2(away[:, 1], away[:, 0])) + 90 + 1e-6) % 360
    return np.asarray(ring[np.argsort(angle, kind="stable")])


def _in_box(name: str, low: Array, high: Array) -> Array:
    middle, half = (low + high) / 2, (high - low) / 2
    return np.asarray(middle + half * np.array(_PLACES[name], float))
