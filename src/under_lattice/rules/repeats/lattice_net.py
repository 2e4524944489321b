"""The net of a lattice: its two vectors, how rows or columns shift, and what touches."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from typing import Literal, get_args

import numpy as np

from under_lattice.geometry.affine import Array
from under_lattice.geometry.body import clearance, edges_of, grown, hull
from under_lattice.pattern.findings import Findings
from under_lattice.pattern.stage import Stage, limit_copies

Form = Literal[
    "hexagons on points", "hexagons on flats", "squares", "triangles", "staggered rows", "dropped columns", "two vectors",
    "as the tiles lie",
]  # fmt: skip
FORMS: tuple[str, ...] = get_args(Form)
AS_TILES = FORMS[-1]  # by the vectors of a motif that is a cell of tiles
TIED = FORMS[:2] + FORMS[3:4]  # one pitch gives both
FORM_OF_SIDES = {3: "triangles", 6: "hexagons on points"}  # that suits a motif with so many sides
HALF_ROOT = np.sqrt(3) / 2


@dataclass(frozen=True)
class Net:
    """Places ``i a + j b``, with rows or columns shifted by a fraction.

    Attributes
    ----------
    a, b : (g, 2)
        Step to the next column and to the next row, one for each group of copies.
    fraction : (g,)
        Shift of a row (along a) or a column (along b), in parts of the step.
    columns : bool
        Columns are shifted, not rows.
    progressive : bool
        0, f, 2f ... instead of 0, f, 0, f.
    odd : (2,) or None
        Every second place is turned by half a turn and moved by this.
    """

    a: Array
    b: Array
    fraction: Array
    columns: bool = False
    progressive: bool = False
    odd: Array | None = None

    def places(self, i: Array, j: Array, group: Array | int = 0) -> Array:
        """Offsets (s, 2) of whole places `i`, `j` (s,)."""
        a, b = self.a[group], self.b[group]
        x = np.multiply(i, a[..., 0]) + np.multiply(j, b[..., 0])
        y = np.multiply(i, a[..., 1]) + np.multiply(j, b[..., 1])
        if self.fraction.any():
            line = i if self.columns else j
            shift = self.fraction[group] * (line if self.progressive else line % 2)
            along = b if self.columns else a
            x, y = x + shift * along[..., 0], y + shift * along[..., 1]
        if self.odd is not None:
            odd = (i + j) % 2
            x, y = x + odd * self.odd[0], y + odd * self.odd[1]
        return np.stack([x, y], -1)

    def leaning(self) -> tuple[Array, Array]:
        """The vectors with a progressive shift taken in: what ranges of places are reckoned by."""
        if not self.progressive:
            return self.a, self.b
        f = self.fraction[:, None]
        return (self.a + f * self.b, self.b) if self.columns else (self.a, self.b + f * self.a)

    def ranges(self, corners: Array) -> Array:
        """Whole places (g, 4), least i, most i, least j, most j, whose offsets may fall within `corners` (Q, 2)."""
        a, b = self.leaning()
        det = (a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0])[:, None]
        x, y = corners[:, 0], corners[:, 1]
        i = (x * b[:, 1:2] - y * b[:, 0:1]) / det
        j = (y * a[:, 0:1] - x * a[:, 1:2]) / det
        pad = 1.0
        return np.stack(
            [np.ceil(i.min(1) - pad), np.floor(i.max(1) + pad), np.ceil(j.min(1) - pad), np.floor(j.max(1) + pad)], 1
        ).astype(np.int64)

    def continuous(self, points: Array) -> tuple[Array, Array]:
        """Column and row (...) of `points` (..., 2), continuous; by the plain vectors."""
        a, b = self.a[0], self.b[0]
        det = a[0] * b[1] - a[1] * b[0]
        x, y = points[..., 0], points[..., 1]
        return (x * b[1] - y * b[0]) / det, (y * a[0] - x * a[1]) / det

    def scaled(self, across: float, down: float) -> Net:
        """The net drawn out across and down by two factors; with 1 it stays, from 0 to 1 it shrinks."""
        factor = np.array([across, down])
        odd = None if self.odd is None else self.odd * factor
        return replace(self, a=self.a * factor, b=self.b * factor, odd=odd)


@dataclass(frozen=True)
class LatticeFound(Findings):
    """What a lattice found: its net, and the map (2, 3) that takes the motif to column `i` and row `j`."""

    net: Net = field(kw_only=True)
    step_at: Callable[[int, int], Array] = field(kw_only=True)


def found_of(stage: Stage) -> LatticeFound:
    """Return what the lattice that made a stage found."""
    assert isinstance(stage.found, LatticeFound)
    return stage.found


def direction(degrees: float) -> Array:
    """Unit vector (2,), clockwise as seen."""
    return np.array([np.cos(np.radians(degrees)), np.sin(np.radians(degrees))])


def tied_net(form: str, pitch: Array, down: bool = False) -> Net:
    """Net of a form whose one pitch (g,) gives both vectors; `down`: the first turned triangle stands below."""
    zero, row = np.zeros_like(pitch), pitch * HALF_ROOT
    half = np.full(len(pitch), 0.5)
    if form == "hexagons on points":
        return Net(_vectors(pitch, zero), _vectors(zero, row), half)
    if form == "hexagons on flats":
        return Net(_vectors(row, zero), _vectors(zero, pitch), half, columns=True)
    offset = float(pitch[0]) / np.sqrt(3)  # circumradius of the triangle with this side
    odd = np.array([0.0, -offset / 2 if down else offset / 2])
    return Net(_vectors(pitch / 2, zero), _vectors(zero, row), np.zeros(len(pitch)), odd=odd)


def _vectors(x: Array, y: Array) -> Array:
    return np.stack([x, y], -1)


def touching_pitches(
    form: str, body: Array, gap: float, shift: float, progressive: bool, angles: tuple[float, float]
) -> tuple[float, float]:
    """Pitches at which neighbours touch, or leave `gap`, measured on the body grown by half the gap on every side.

    Parameters
    ----------
    form : str
    body : (n, V, 2)
        Bodies of what is repeated.
    gap : float
        Negative overlaps.
    shift : float
        Fraction of staggered rows or dropped columns.
    progressive : bool
    angles : (float, float)
        Directions of the two vectors, degrees.

    Returns
    -------
    across, down : float
        0 where the body has no width in that direction.
    """
    if gap:
        body = np.stack([grown(ring, gap / 2) for ring in (body if len(body) == 1 else hull(body.reshape(-1, 2))[None])])
    edges = edges_of(body)
    if form == "hexagons on points":
        pitch = max(clearance(edges, d) for d in (0, 60, 120))
        return pitch, pitch * HALF_ROOT
    if form == "hexagons on flats":
        pitch = max(clearance(edges, d) for d in (30, 90, 150))
        return pitch, pitch * HALF_ROOT
    if form == "triangles":
        pitch = max(clearance(edges, d) for d in (0, 60, 120))
        return pitch, pitch * HALF_ROOT
    if form == "dropped columns":
        down = clearance(edges, 90)
        return _lines(edges, 0, direction(90) * down, shift, progressive), down
    first = angles[0] if form == "two vectors" else 0.0
    across = clearance(edges, first)
    second = angles[1] if form == "two vectors" else 90.0
    fraction = shift if form == "staggered rows" else 0.0
    return across, _lines(edges, second, direction(first) * across, fraction, progressive)


def _lines(edges: Array, towards: float, along: Array, shift: float, progressive: bool) -> float:
    """Least pitch between whole lines of copies: line k, shifted, clear of every copy in line 0."""
    need, aside = 0.0, direction(towards + 90.0)
    wide, met = float(np.ptp(edges @ aside)), set()
    for k in (1, 2, 3):
        fraction = shift * (k if progressive else k % 2) % 1.0
        if fraction in met:  # a line nearer by stands the same way, and needs more of each step
            continue
        met.add(fraction)
        for m in range(-4, 5):
            offset = along * (fraction + m)
            if abs(float(offset @ aside)) <= wide:  # no line in the direction meets both of what is farther aside
                need = max(need, clearance(edges, towards, (float(offset[0]), float(offset[1]))) / k)
    return need


def turned_below(body: Array) -> bool:
    """Tell whether the turned neighbour of a triangle stands below it (its flat side is down)."""
    edges = edges_of(body)
    turned = edges_of(2 * body.reshape(-1, 2).mean(0) - body)
    return clearance(edges, 90, other=turned) < clearance(edges, -90, other=turned)


def split_sharing(body: Array, offsets: Array, turned: Array) -> bool:
    """Tell whether neighbours touch along parts of edges: then no edge is one curve for both.

    Parameters
    ----------
    body : (V, 2)
    offsets : (k, 2)
        Of the neighbours.
    turned : (k,) bool
        Neighbours turned by half a turn.
    """
    edges = np.stack([body, np.roll(body, -1, 0)], 1)
    edges = edges[(edges[:, 0] != edges[:, 1]).any(1)]  # a side without length meets nobody
    run = edges[:, 1] - edges[:, 0]
    length = np.hypot(run[:, 0], run[:, 1])
    unit, tiny = run / length[:, None], 1e-6 * float(length.max())
    for offset, half in zip(offsets, turned, strict=True):
        other = (-edges if half else edges) + offset
        away = other - edges[:, None, :1].reshape(-1, 1, 1, 2)  # (E, F, 2, 2)
        side = away[..., 0] * unit[:, 1, None, None] - away[..., 1] * unit[:, 0, None, None]
        along = away[..., 0] * unit[:, 0, None, None] + away[..., 1] * unit[:, 1, None, None]
        low, high = np.maximum(along.min(-1), 0), np.minimum(along.max(-1), length[:, None])
        meets = (np.abs(side) < tiny).all(-1) & (high - low > tiny * 10)
        apart = np.abs(along.mean(-1) - length[:, None] / 2) > tiny * 10
        if (meets & apart).any():
            return True
    return False


def block(grow: str, columns: Array, rows: Array) -> Array:
    """Return ranges (g, 4) of counted places, the motif in the middle or in the corner that `grow` names."""
    columns, rows = np.broadcast_arrays(columns, rows)
    left = 0 * columns if grow.endswith("left") else columns - 1 if grow.endswith("right") else columns // 2
    top = 0 * rows if grow.startswith("top") else rows - 1 if grow.startswith("bottom") else rows // 2
    return np.stack([-left, columns - left - 1, -top, rows - top - 1], 1)


def grid(ranges: Array) -> tuple[Array, Array, Array]:
    """Return all whole places of ranges (g, 4), row by row: i, j and group, (s,) each."""
    wide, high = ranges[:, 1] - ranges[:, 0] + 1, ranges[:, 3] - ranges[:, 2] + 1
    limit_copies(float(np.sum(wide.astype(float) * high)), 8_000_000)
    if len(ranges) == 1:
        least_i, most_i, least_j, most_j = ranges[0]
        i, j = np.arange(least_i, most_i + 1), np.arange(least_j, most_j + 1)
        return np.tile(i, len(j)), np.repeat(j, len(i)), np.zeros(len(i) * len(j), np.int32)
    counts = wide * high
    group = np.repeat(np.arange(len(ranges), dtype=np.int32), counts)
    at = np.arange(len(group)) - np.repeat(np.cumsum(counts) - counts, counts)
    return at % wide[group] + ranges[group, 0], at // wide[group] + ranges[group, 2], group


def refusal(form: str, net: Net, bodies: Array) -> str:
    """Say why no edge can be one curve for both its tiles on a lattice of bodies (g, V, 2), or nothing."""
    if bodies.shape[1] > 60 or form == AS_TILES:
        return ""
    i, j = (v.ravel() for v in np.mgrid[-2:3, -2:3])
    home = (i == 0) & (j == 0)
    odd = (i + j) % 2 == 1 if net.odd is not None else np.zeros(len(i), bool)
    middle = bodies[0].mean(0)
    offsets = net.places(i, j)[~home]
    if split_sharing(bodies[0] - middle, offsets, odd[~home]):
        cure = "a shift of 0" if form in ("staggered rows", "dropped columns") else "directions along the sides"
        return f"on this lattice a side meets two neighbours, so no edge is one curve for both; choose {cure}"
    return ""
