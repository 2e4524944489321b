"""Shapes of an SVG file cut as it says: by clip paths, and lines by dashes; lines that cannot stay lines as bands."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, NamedTuple

import numpy as np
import shapely
from fontTools.misc.transform import Transform

from under_lattice.files.svg.style import Style
from under_lattice.files.svg.tree import Clip, Met, Tree, Viewport
from under_lattice.files.svg.winding import with_winding
from under_lattice.geometry.arc_length import Walk
from under_lattice.geometry.cutting import cubics_of, parts_between
from under_lattice.geometry.fitting import smoothed
from under_lattice.geometry.outline import CLOSE, contours, flatten, steps_for
from under_lattice.geometry.path_text import Part
from under_lattice.pattern.clipping import rings_of
from under_lattice.pattern.cut_out import contour, cut_out, joined, marks_of
from under_lattice.pattern.marks import Marks
from under_lattice.pattern.pieces import areas_of_marks

NESTED_MOST = 8  # clip paths that are clipped themselves
DASHES_MOST = 5_000  # of one line
FINE = 1e-5  # of the size of a line, by which straight pieces may stray from its curves
QUARTER = 24  # pieces of a round corner's quarter turn
JOINS: dict[str, Any] = {"round": "round", "bevel": "bevel"}
CAPS: dict[str, Any] = {"round": "round", "square": "square"}

ShapeOf = Callable[[Met, bool], Part | None]


class Region(NamedTuple):
    """What stays, as a geometry, and the marks whose curves its edges come of."""

    area: Any
    edge: Marks


class Clips:
    """Reads the clip paths of a file, each once for each place it is laid in."""

    def __init__(self, tree: Tree, shape_of: ShapeOf) -> None:
        self._tree, self._shape_of = tree, shape_of
        self._regions: dict[tuple[Any, ...], Region] = {}

    def cut(self, met: Met, part: Part, beyond: float = 0.0) -> list[Part] | None:
        """Return what stays of a shape; None where no clip path cuts it, its line `beyond` its outline to both sides included."""
        pieces = None
        for clip in met.viewport.clips:
            region = self._region(clip, part, 0)
            low, high = part[1].min(0) - beyond, part[1].max(0) + beyond
            if region.area.contains(shapely.box(*low, *high)):
                continue
            pieces = [one for piece in ([part] if pieces is None else pieces) for one in cut_out(piece, region.area, region.edge)]
        return pieces

    def _region(self, clip: Clip, part: Part, deep: int) -> Region:
        through = clip.through
        if clip.boxed:
            inside = through.inverse()
            corners = np.array(inside.transformPoints(part[1].tolist()))
            (left, top), (right, bottom) = corners.min(0), corners.max(0)
            through = through.translate(left, top).scale(right - left, bottom - top)
        key = (id(clip.element), *through)
        if key not in self._regions:
            self._regions[key] = self._made(clip, through, part, deep)
        return self._regions[key]

    def _made(self, clip: Clip, through: Transform, part: Part, deep: int) -> Region:
        """The union of the shapes a clip path is made of; nothing stays where there are none."""
        kept: list[Part] = []
        for met in self._tree.kept_by(clip, through):
            own = self._shape_of(met, True)
            if own is None:
                continue
            own = with_winding(own) if met.style["clip-rule"] == "evenodd" else own
            pieces = [own]
            for inner in met.viewport.clips if deep < NESTED_MOST else ():
                region = self._region(inner, part, deep + 1)
                pieces = [one for piece in pieces for one in cut_out(piece, region.area, region.edge)]
            kept += pieces
        edge = marks_of(kept)
        area = shapely.union_all(areas_of_marks(edge)) if kept else shapely.Polygon()
        shapely.prepare(area)
        return Region(area, edge)


def dashed(part: Part, style: Style, viewport: Viewport, scale: float) -> Part | None:
    """Return an outline's dashes as open lines; None where it has none, or far too many.

    Lengths in the style are `scale` long each on the drawing.
    """
    words = style["stroke-dasharray"].replace(",", " ").split()
    lengths = np.array([viewport.length(one, "r", -1.0) for one in words]) * scale
    if not len(lengths) or (lengths < 0).any() or not lengths.sum() > 0 or not np.isfinite(lengths).all():
        return None
    lengths = np.tile(lengths, 1 + len(lengths) % 2)
    offset = viewport.length(style["stroke-dashoffset"], "r") * scale
    least = 1e-3 * viewport.length(style["stroke-width"], "r", 1.0) * scale  # a dash of no length is a dot where ends are round
    out = []
    for cubics, _ in cubics_of(*part):
        walk = Walk(cubics)
        if walk.length / lengths.sum() * len(lengths) > DASHES_MOST:
            return None
        begin, end = _spans(lengths, offset, walk.length)
        parts, owner = parts_between(cubics, walk.places(begin), walk.places(np.maximum(end, begin + least)))
        out += [contour(parts[owner == k], closes=False) for k in np.unique(owner)]
    return joined(out) if out else None


def _spans(lengths: np.ndarray, offset: float, whole: float) -> tuple[np.ndarray, np.ndarray]:
    """Where dashes begin and end (n,) along a line that is `whole` long."""
    period = float(lengths.sum())
    edges = np.concatenate([[0.0], np.cumsum(lengths)])
    first = -(offset % period)
    turns = first + period * np.arange(int(np.ceil((whole - first) / period)) + 1)
    begin = (turns[:, None] + edges[:-1:2]).ravel()
    end = (turns[:, None] + edges[1::2]).ravel()
    seen = (end >= 0) & (begin < whole)
    return np.maximum(begin[seen], 0.0), np.minimum(end[seen], whole)


def band_of(part: Part, width: float, style: Style, limit: float) -> Part | None:
    """Return what a line covers, as one closed outline; None where that is nothing. Corners longer than `limit` are cut off."""
    verbs, points = part
    size = float(np.ptp(points, 0).max())
    lines = []
    flat = flatten(verbs, points[None], steps_for(verbs, points[None], FINE * max(size, width)))
    for (ring,), (own, _) in zip(flat, contours(verbs), strict=True):
        line = ring[np.append(True, np.abs(np.diff(ring, axis=0)).max(1) > 1e-12 * max(size, width))]
        if len(line) > 1:
            lines.append(shapely.LinearRing(line) if own[-1] == CLOSE and len(line) > 2 else shapely.LineString(line))
    with np.errstate(divide="ignore", invalid="ignore"):  # the library divides by lengths that may be none
        bands = shapely.buffer(
            np.array(lines, object), width / 2, quad_segs=QUARTER, cap_style=CAPS.get(style["stroke-linecap"], "flat"),
            join_style=JOINS.get(style["stroke-linejoin"], "mitre"), mitre_limit=max(limit, 1.0),
        )  # fmt: skip
    rings = rings_of(shapely.union_all(bands), max(size, width))
    return joined([contour(smoothed(ring, max(size, width))) for ring in rings]) if rings else None
