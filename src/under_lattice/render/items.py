"""Items: a picture flattened for one view, as the flat arrays the kernels read."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from under_lattice.core.affine import Array, compose
from under_lattice.core.blend import BLENDS
from under_lattice.core.marks import Coat, Marks
from under_lattice.core.outline import CLOSE, areas, contours, flatten, steps_for
from under_lattice.core.ramp import Ramp
from under_lattice.render.scene import View
from under_lattice.work.evaluate import Picture

FLAT = 0.1  # px; no flattened curve strays further
FARTHEST = 1e9
HAIR = 0.35  # half a hairline, px: thinner lines are drawn this wide
JOINS = {"mitre": 0, "round": 1, "bevel": 2}
CAPS = {"butt": 0, "round": 1, "square": 2}
MODE_OF = {name: at for at, name in enumerate(BLENDS)}
KERNEL_TYPES = {
    "kind": np.int64,
    "half": np.float64,
    "colour": np.float32,
    "bounds": np.float64,
    "xform": np.float64,
    "contour_of": np.int64,
    "contours": np.int64,
    "closed": np.int64,
    "area": np.float64,
    "points": np.float64,
    "tables": np.float32,
    "ramps": np.float64,
    "ramp_forms": np.int64,
    "ramp_places": np.int64,
}


@dataclass(frozen=True, eq=False)
class Shapes:
    """All variants of all families, flattened.

    Attributes
    ----------
    first : (F,)
        Row of each family's first variant.
    contour_of : (S + 1,)
        First contour of each shape.
    contours : (C + 1,)
        First point of each contour.
    closed : (C,)
    points : (P, 2)
    radius, area : (S,)
        About the shape's own origin; area by the winding of its contours.
    """

    first: Array
    contour_of: Array
    contours: Array
    closed: Array
    points: Array
    radius: Array
    area: Array


@dataclass(frozen=True, eq=False)
class Items:
    """What one layer paints, in order from back to front: fills and strokes as flat arrays (see `kernels.paint_items`).

    runs holds stretches of opaque and of other items; the opaque ones in reverse, to be painted front to back.
    mark tells which mark each item belongs to.
    """

    kind: Array
    half: Array
    colour: Array
    bounds: Array
    xform: Array
    contour_of: Array
    contours: Array
    closed: Array
    area: Array
    points: Array
    tables: Array
    ramps: Array
    ramp_forms: Array
    ramp_places: Array
    mark: Array
    runs: tuple[tuple[bool, Array], ...]

    def __post_init__(self) -> None:
        """Hold to one memory layout, so that one compiled kernel serves all."""
        for name, kind in KERNEL_TYPES.items():
            object.__setattr__(self, name, np.require(getattr(self, name), kind, ["C", "W"]))

    def arrays(self) -> tuple[Array, ...]:
        """Return the arrays in the order the kernel takes them."""
        return tuple(getattr(self, name) for name in KERNEL_TYPES)


def items_of(picture: Picture, view: View) -> Items:
    """Flatten a picture for a view; marks whose place or shape is not a number, or is further than `FARTHEST`, are left out."""
    marks = picture.marks
    sane: Array = np.asarray((np.abs(marks.xform) < FARTHEST).all((1, 2)))  # also refuses what is not a number
    xform = compose(view.page_to_pixels()[None], np.where(sane[:, None, None], marks.xform, 0.0))
    stretch = np.sqrt(np.abs(xform[:, 0, 0] * xform[:, 1, 1] - xform[:, 0, 1] * xform[:, 1, 0]))
    scale = float(stretch.max(initial=0.0)) or 1.0
    shapes = flat_shapes(marks, FLAT / max(scale, 1e-9))
    shape = shapes.first[marks.family] + marks.variant if len(shapes.first) else marks.family
    shown: Array = (marks.variant >= 0) & sane
    shown[shown] &= shapes.radius[shape[shown]] < FARTHEST
    ramps = tuple(dict.fromkeys(coat.ramp for coat in picture.coats if coat.ramp is not None))
    if not len(shapes.radius) or not picture.coats:
        return _nothing()
    rows = [_rows(k, coat, stroke, marks, shape, shown, view, ramps, len(picture.coats))
            for k, coat in enumerate(picture.coats) for stroke in (False, True)]  # fmt: skip
    mark, kind, half, rgba, clear, rank = (np.concatenate(part) for part in zip(*rows, strict=True))
    if len(rows) > 1:
        order = np.argsort(rank, kind="stable")
        mark, kind, half, rgba, clear = mark[order], kind[order], half[order], rgba[order], clear[order]
    colour = rgba.astype(np.float32) / np.float32(255.0)
    colour[:, :3] *= colour[:, 3:]
    where = xform[mark]
    reach = np.hypot(where[:, 1, 0], where[:, 1, 1]) * shapes.radius[kind[:, 0]] + np.maximum(half, 0) * 4 + 1
    bounds = np.stack([where[:, 1, 2] - reach, where[:, 1, 2] + reach], 1)
    tables, places, forms, own = _ramp_arrays(ramps, view)
    return Items(
        kind, half, colour, bounds, where, shapes.contour_of, shapes.contours, shapes.closed, shapes.area, shapes.points,
        tables, places, forms, own, mark, _runs(~clear),
    )  # fmt: skip


def _nothing() -> Items:
    none = np.zeros(0)
    start, places = np.zeros(1), (np.zeros((1, 2, 4)), np.zeros((1, 2, 3)), np.zeros(1), np.zeros(1))
    six = none.reshape(0, 6)
    return Items(
        six, none, none.reshape(0, 4), none.reshape(0, 2), none.reshape(0, 2, 3), start, start, none, none, none.reshape(0, 2),
        *places, none, (),
    )  # fmt: skip


def _rows(
    at: int, coat: Coat, stroke: bool, marks: Marks, shape: Array, shown: Array, view: View, ramps: Sequence[Ramp], coats: int
) -> tuple[Array, ...]:
    """The items of one coat's fill or stroke: mark, kind, half width, colour, whether something shines through, rank."""
    colour = coat.stroke if stroke else coat.fill
    ramp = None if stroke else coat.ramp
    mark = np.flatnonzero(shown & np.broadcast_to(colour[:, 3] > 0, marks.count))
    rgba = colour[mark] if len(colour) > 1 else np.broadcast_to(colour, (len(mark), 4))
    half = np.full(len(mark), -1.0)
    if stroke:
        half = np.maximum(np.broadcast_to(coat.width, marks.count)[mark] * view.scale / 2, HAIR)
    kind = np.empty((len(mark), 6), np.int64)
    kind[:, 0] = shape[mark]
    kind[:, 1:] = (ramps.index(ramp) if ramp else -1, JOINS[coat.join], CAPS[coat.cap], MODE_OF[coat.blend], int(coat.even_odd))
    clear = (rgba[:, 3] < 255) | (coat.blend != "normal") | (ramp is not None and not ramp.opaque)
    return mark, kind, half, rgba, clear, mark * (2 * coats) + 2 * at + stroke


def _ramp_arrays(ramps: Sequence[Ramp], view: View) -> tuple[Array, Array, Array, Array]:
    if not ramps:
        return np.zeros((1, 2, 4), np.float32), np.zeros((1, 2, 3)), np.zeros(1, np.int64), np.zeros(1, np.int64)
    to_page = np.array([(1 / view.scale, 0.0, -view.left / view.scale), (0.0, 1 / view.scale, -view.top / view.scale)])
    return (
        np.stack([ramp.table() for ramp in ramps]),
        np.stack([ramp.to_ramp if ramp.of_marks else compose(ramp.to_ramp, to_page) for ramp in ramps]),
        np.array([("linear", "radial", "around").index(ramp.form) for ramp in ramps]),
        np.array([int(ramp.of_marks) for ramp in ramps]),
    )


def _runs(opaque: Array) -> tuple[tuple[bool, Array], ...]:
    """Stretches of opaque and of other items; the opaque ones in reverse, to be painted front to back."""
    if not len(opaque):
        return ()
    cuts = np.flatnonzero(np.diff(opaque.astype(np.int8))) + 1
    out = []
    for part in np.split(np.arange(len(opaque)), cuts):
        solid = bool(opaque[part[0]])
        out.append((solid, part[::-1].copy() if solid else part))
    return tuple(out)


def flat_shapes(marks: Marks, tolerance: float) -> Shapes:
    """Flatten all variants of all families; contours of fewer than two points are dropped."""
    first, pieces, lengths, per_shape, closed, radius, area = [], [], [], [], [], [], []
    shapes = 0
    with np.errstate(invalid="ignore", over="ignore"):
        for family in marks.families:
            first.append(shapes)
            parts = contours(family.verbs)
            rings = flatten(family.verbs, family.points, steps_for(family.verbs, family.points, tolerance))
            many = len(family.points)
            joined = np.concatenate(rings, 1)
            pieces.append(joined.reshape(-1, 2))
            lengths.append(np.tile([ring.shape[1] for ring in rings], many))
            closed.append(np.tile([int(verbs[-1] == CLOSE) for verbs, _ in parts], many))
            per_shape.append(np.full(many, len(rings)))
            radius.append(np.hypot(joined[..., 0], joined[..., 1]).max(1, initial=0.0))
            area.append(np.abs(areas(family.verbs, family.points)))
            shapes += many
    if not first:
        none = np.zeros(0)
        return Shapes(none, np.zeros(1), np.zeros(1), none, none.reshape(0, 2), none, none)
    return Shapes(
        np.array(first),
        np.concatenate([[0], np.cumsum(np.concatenate(per_shape))]),
        np.concatenate([[0], np.cumsum(np.concatenate(lengths))]),
        np.concatenate(closed),
        np.concatenate(pieces),
        np.concatenate(radius),
        np.concatenate(area),
    )
