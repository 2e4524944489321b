"""What pens draw of a scene: its lines, outlines of what has none, fills as hatching; without what lies under other shapes."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal, NamedTuple, get_args

import numpy as np
import shapely
from shapely.affinity import rotate

from under_lattice.core.errors import LimitError
from under_lattice.core.progress import QUIET, Progress
from under_lattice.geometry.affine import Array
from under_lattice.output.cut.gathered import closed_marks, leaves_of, lines_of
from under_lattice.output.outlines import drawn_of
from under_lattice.output.svg_paints import hex_of
from under_lattice.pattern.marks import Picture
from under_lattice.pattern.pieces import areas_of_marks, grid_of
from under_lattice.scene.along import pieced
from under_lattice.scene.tree import Scene

Outlines = Literal["where there is no line", "all", "none"]
Fills = Literal["none", "hatched", "crossed", "lines inwards"]
OUTLINES, FILLS = get_args(Outlines), get_args(Fills)
LINES_MOST = 2_000_000  # of hatching
RINGS_MOST = 2_000  # lines inwards in one shape


class PenLine(NamedTuple):
    """A line (k, 2) on the page in one colour; `over` is how many shapes lie beneath it in all."""

    line: Array
    colour: str
    over: int


@dataclass(frozen=True)
class Wanted:
    """What is drawn; lengths are in the unit of the page, the angle in degrees clockwise from the right."""

    outlines: Outlines = "where there is no line"
    fills: Fills = "none"
    angle: float = 45.0
    pitch: float = 1.0
    pen: float = 0.3
    hidden: bool = True
    stray: float = 0.01


@dataclass(eq=False)
class _Collected:
    """Lines and the areas they may lie under, in their order from back to front."""

    lines: list[PenLine] = field(default_factory=list)
    areas: list[Any] = field(default_factory=list)


def pen_lines(scene: Scene, wanted: Wanted, progress: Progress = QUIET) -> tuple[list[PenLine], tuple[str, ...]]:
    """Return what pens draw of a scene, cut off at the page, and what was left aside, in words.

    Raises
    ------
    GivenUp, LimitError
    """
    aside: dict[str, None] = {}
    collected = _Collected()
    page = shapely.box(-scene.width / 2, -scene.height / 2, scene.width / 2, scene.height / 2)
    for leaf, clip in leaves_of(scene.layers, aside):
        region = page if clip is None else shapely.intersection(page, clip)
        _collect(leaf.picture, region, wanted, collected, progress)
    seen = _seen(collected, wanted, progress)
    return seen, tuple(aside)


def _collect(picture: Picture, region: Any, wanted: Wanted, into: _Collected, progress: Progress) -> None:
    picture = pieced(picture)
    marks = picture.marks
    filled: list[Any] | None = None
    stroked = {int(k) for coat in picture.coats for k in np.flatnonzero(np.broadcast_to(coat.stroked(), marks.count))}
    for one in drawn_of(picture, 0.0, progress=progress):
        lines: list[Array] = []
        if one.fill[3] and not one.coat.lines:
            filled = filled if filled is not None else areas_of_marks(closed_marks(marks), grid_of(marks))
            area = shapely.intersection(filled[one.mark], region)
            if one.fill[3] == 255:
                into.areas.append(area)
            outline = wanted.outlines == "all" or (wanted.outlines != "none" and one.mark not in stroked)
            if outline:
                lines += _on(lines_of(one._replace(dash=None), marks, wanted.stray), region)
            lines += _filling(area, wanted)
            into.lines += [PenLine(line, hex_of(one.fill), len(into.areas)) for line in lines]
        if one.stroke[3]:
            own = _on(lines_of(one, marks, wanted.stray), region)
            into.lines += [PenLine(line, hex_of(one.stroke), len(into.areas)) for line in own]
        if len(into.lines) > LINES_MOST:
            raise LimitError(f"there are more than {LINES_MOST:,} lines; hatch with a wider pitch")


def _on(lines: Sequence[Array], region: Any) -> list[Array]:
    """What of lines lies in a region."""
    out: list[Array] = []
    left, top, right, bottom = shapely.bounds(region)
    plain = region.geom_type == "Polygon" and abs(region.area - (right - left) * (bottom - top)) < 1e-9 * region.area
    for line in lines:
        if plain and ((line >= (left, top)) & (line <= (right, bottom))).all():
            out.append(line)
        else:
            out += _parts(shapely.intersection(shapely.LineString(line), region))
    return out


def _parts(geometry: Any) -> list[Array]:
    """The lines of a geometry."""
    merged = shapely.line_merge(geometry) if geometry.geom_type == "MultiLineString" else geometry
    lines = [part for part in shapely.get_parts(merged) if part.geom_type in ("LineString", "LinearRing")]
    return [np.asarray(line.coords) for line in lines if line.length > 0]


def _filling(area: Any, wanted: Wanted) -> list[Array]:
    """The lines that fill an area, half a pen inside its edge so that nothing is drawn beyond it."""
    if wanted.fills == "none" or shapely.is_empty(area):
        return []
    inner = shapely.buffer(area, -wanted.pen / 2, join_style="mitre")
    if shapely.is_empty(inner):
        return []
    if wanted.fills == "lines inwards":
        return list(_inwards(inner, wanted.pitch))
    angles = (wanted.angle, wanted.angle + 90.0) if wanted.fills == "crossed" else (wanted.angle,)
    return [line for angle in angles for line in _hatched(inner, angle, wanted.pitch)]


def _hatched(area: Any, angle: float, pitch: float) -> Iterator[Array]:
    """Even lines through an area; they lie on one grid on the whole page, so that those of neighbours go on in each other."""
    level = rotate(area, -angle, origin=(0.0, 0.0))
    left, top, right, bottom = shapely.bounds(level)
    rows = np.arange(np.ceil(top / pitch), np.floor(bottom / pitch) + 1) * pitch
    if not len(rows):
        return
    lines = shapely.linestrings([[(left - pitch, y), (right + pitch, y)] for y in rows.tolist()])
    for found in shapely.intersection(lines, level):
        for part in shapely.get_parts(found):
            if part.geom_type == "LineString" and part.length > 0:
                yield np.asarray(rotate(part, angle, origin=(0.0, 0.0)).coords)


def _inwards(area: Any, pitch: float) -> Iterator[Array]:
    """The edge of an area, and lines at even distances inside it, as far as there is room."""
    for k in range(RINGS_MOST):
        own = shapely.buffer(area, -k * pitch) if k else area
        rings = [ring for part in shapely.get_parts(own) if part.geom_type == "Polygon" and not part.is_empty
                 for ring in (part.exterior, *part.interiors)]  # fmt: skip
        if not rings:
            return
        yield from (np.asarray(ring.coords) for ring in rings)


def _seen(collected: _Collected, wanted: Wanted, progress: Progress) -> list[PenLine]:
    """The lines without what lies under areas in front of them."""
    if not wanted.hidden or not collected.areas or not collected.lines:
        return collected.lines
    shapes = np.array([shapely.LineString(one.line) for one in collected.lines], object)
    areas = shapely.buffer(np.array(collected.areas, object), -2 * wanted.stray, join_style="mitre")  # edges in common stay seen
    tree = shapely.STRtree(areas)
    line, area = tree.query(shapes, predicate="intersects")
    before = np.array([one.over for one in collected.lines])
    over = area >= before[line]
    line, area = line[over], area[over]
    order = np.argsort(line, kind="stable")
    line, area = line[order], area[order]
    begin = np.searchsorted(line, np.arange(len(shapes) + 1))
    out = []
    for k, one in enumerate(progress.each(collected.lines)):
        if begin[k + 1] == begin[k]:
            out.append(one)
            continue
        left = shapely.difference(shapes[k], shapely.union_all(areas[area[begin[k] : begin[k + 1]]]))
        out += [one._replace(line=part) for part in _parts(left)]
    return out
