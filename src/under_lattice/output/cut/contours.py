"""Paths to cut: rings beside the cut, all wound alike, from the inside outwards, with bridges that hold what would fall."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, NamedTuple

import numpy as np
import shapely
from shapely.ops import substring

from under_lattice.core.progress import QUIET, Progress
from under_lattice.geometry.affine import Array
from under_lattice.geometry.fitting import fitted
from under_lattice.geometry.outline import polygon_verbs
from under_lattice.geometry.path_text import Part
from under_lattice.output.cut.gathered import Followed, Gathered, Shape, flat_lines
from under_lattice.output.plot.once import once
from under_lattice.pattern.cut_out import contour
from under_lattice.pattern.recurve import chords_of, contours_of_areas

MITRE = 4.0  # times the way it is moved, beyond which a corner is cut off
ROUND = 32  # straight pieces of a quarter of a circle
CORNERS = 12  # up to which a ring is straight lines
BRIDGED = 4.0  # times all its bridges: a path that is shorter is left without


class CutPath(NamedTuple):
    """A path on the page: verbs and points (K, 2) with curves, and the same as a line (k, 2), closed ones ending where they begin.

    `deep` is in how many others it lies; `hole` whether it bounds a hole.
    """

    verbs: bytes
    points: Array
    line: Array
    colour: str
    layer: str
    hole: bool = False
    deep: int = 0

    @property
    def closed(self) -> bool:
        """Whether it ends where it begins."""
        return bool((self.line[0] == self.line[-1]).all())

    @property
    def length(self) -> float:
        """In the unit of the page."""
        return float(np.hypot(*np.diff(self.line, axis=0).T).sum())


def paths_of(found: Gathered, shapes: Sequence[Shape], aside: float, stray: float, progress: Progress = QUIET) -> list[CutPath]:
    """Return the rings of shapes, outer ones with the clock and holes against it, those that lie inside others first.

    Parameters
    ----------
    found : Gathered
    shapes : sequence of Shape
    aside : float
        How far outer ones are moved outwards and holes inwards, half the kerf; below zero the other way.
    stray : float
        By which a curve may be beside the ring it stands for, in the unit of the page.
    progress : Progress

    Raises
    ------
    GivenUp
    """
    each = [(one, shapely.orient_polygons(part)) for one in shapes for part in shapely.get_parts(one.area)
            if part.geom_type == "Polygon" and part.area > 0]  # fmt: skip
    curved = _curved(found, each, stray, progress)
    if aside:
        moved = []
        for (one, _), rings in progress.each(zip(each, curved, strict=True)):
            outer, *holes = (flat_lines(*ring, stray / 4)[0] for ring in rings)
            wide = shapely.buffer(shapely.Polygon(outer, holes), aside, quad_segs=ROUND, join_style="mitre", mitre_limit=MITRE)
            moved += [
                (one, shapely.orient_polygons(own))
                for own in shapely.get_parts(wide)
                if own.geom_type == "Polygon" and own.area > 0
            ]
        each = moved
        curved = [_fitted_rings(part, stray) for _, part in progress.each(each)]
    out: list[CutPath] = []
    for (one, part), rings in zip(each, curved, strict=True):
        lines = [np.asarray(ring.coords) for ring in (part.exterior, *part.interiors)]  # neighbours have these in common
        out += [CutPath(*ring, line, one.colour, one.layer, k > 0) for k, (ring, line) in enumerate(zip(rings, lines, strict=True))]
    return [*_inside_out(out), *(_along(line, stray) for line in found.lines)]


def _along(line: Followed, stray: float) -> CutPath:
    """The path along a line."""
    verbs, points = fitted(line.line, stray) if len(line.line) > CORNERS else (polygon_verbs(len(line.line))[:-1], line.line)
    return CutPath(verbs, points, line.line, line.colour, line.layer)


def _curved(found: Gathered, each: Sequence[tuple[Shape, Any]], stray: float, progress: Progress) -> list[list[Part]]:
    """The rings of polygons as outlines, with the curves their edges come of."""
    if not each:
        return []
    parts = [part for _, part in each]
    chords = chords_of(found.grid, *found.marks)
    if chords is None:
        return [_fitted_rings(part, stray) for part in parts]
    found_again = contours_of_areas(parts, chords, progress)
    return [
        _fitted_rings(part, stray) if one.of_line else [contour(cubics) for cubics in rings]
        for (one, _), part, rings in zip(each, parts, found_again, strict=True)
    ]


def _fitted_rings(part: Any, stray: float) -> list[Part]:
    """The rings of a polygon as few curves as keep near to them, the outer one first."""
    return [_fit(np.asarray(ring.coords), stray) for ring in (part.exterior, *part.interiors)]


def _straight(ring: Array) -> Part:
    return polygon_verbs(len(ring) - 1), ring[:-1]


def _fit(ring: Array, stray: float) -> Part:
    """A ring (k, 2) as few curves as keep near to it."""
    return fitted(ring, stray, closed=True) if len(ring) > CORNERS else _straight(ring)


def _inside_out(paths: list[CutPath]) -> list[CutPath]:
    """The deepest paths first, each after the one that ends nearest to where it begins."""
    if not paths:
        return []
    areas = shapely.polygons([shapely.LinearRing(path.line) for path in paths])
    inner, outer = shapely.STRtree(areas).query(areas, predicate="within")
    deep = np.bincount(inner[inner != outer], minlength=len(paths))
    out: list[CutPath] = []
    here = np.zeros(2)
    for level in sorted(set(deep.tolist()), reverse=True):
        own = [k for k in range(len(paths)) if deep[k] == level]
        order = nearest_first(np.array([paths[k].line[0] for k in own]), here)
        out += [paths[own[k]]._replace(deep=level) for k in order]
        here = out[-1].line[0]
    return out


def nearest_first(places: Array, here: Array) -> list[int]:
    """Return an order of places (n, 2) in which each is, of those that are left, the nearest to the one before."""
    left, order = np.arange(len(places)), list[int]()
    for _ in range(len(places)):
        at = int(((places[left] - here) ** 2).sum(1).argmin())
        order.append(int(left[at]))
        here = places[order[-1]]
        left[at] = left[-1]
        left = left[:-1]
    return order


def bridged(paths: Sequence[CutPath], count: int, width: float) -> list[CutPath]:
    """Return paths with `count` gaps of `width` each, evenly along them, which hold what would fall out; short ones stay whole."""
    if not count or width <= 0:
        return list(paths)
    out = []
    for path in paths:
        if not path.closed or path.length < BRIDGED * count * width:
            out.append(path)
            continue
        line, step = shapely.LineString(_from_longest(path.line)), path.length / count
        for k in range(count):
            piece = np.asarray(substring(line, k * step + width / 2, (k + 1) * step - width / 2).coords)
            out.append(path._replace(verbs=polygon_verbs(len(piece))[:-1], points=piece, line=piece))
    return out


def once_of(paths: Sequence[CutPath], stray: float, progress: Progress = QUIET) -> list[CutPath]:
    """Return the lines of paths, each place once; those of each colour together, of two colours the one that comes first.

    Raises
    ------
    GivenUp
    """
    out: list[CutPath] = []
    for colour in dict.fromkeys(path.colour for path in paths):
        own = [path for path in paths if path.colour == colour]
        lines = once([path.line for path in own], progress)
        for line in lines:  # in as few straight pieces as keep near: curves of many shapes run on in each other
            few = np.asarray(shapely.simplify(shapely.LineString(line), stray).coords)
            out.append(own[0]._replace(verbs=polygon_verbs(len(few))[:-1], points=few, line=line, hole=False))
    return out


def _from_longest(line: Array) -> Array:
    """A closed line that begins in the middle of its longest straight piece, away from corners."""
    at = int(np.hypot(*np.diff(line, axis=0).T).argmax())
    middle = (line[at : at + 1] + line[at + 1 : at + 2]) / 2
    return np.concatenate([middle, line[at + 1 :], line[1 : at + 1], middle])
