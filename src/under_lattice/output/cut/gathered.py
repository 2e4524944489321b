"""The shapes of a scene as areas on the page, from back to front: fills, lines as wide as they are, what clips leave of them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Any, NamedTuple

import numpy as np
import shapely

from under_lattice.core.progress import QUIET, Progress
from under_lattice.geometry.affine import Array, apply
from under_lattice.geometry.outline import CLOSE, MOVE, flatten, steps_for
from under_lattice.output.outlines import Drawn, clip_outlines, drawn_of
from under_lattice.pattern.clipping import area_of
from under_lattice.pattern.marks import Marks, Picture
from under_lattice.pattern.pieces import areas_of_marks, grid_of
from under_lattice.pattern.stage import Family
from under_lattice.scene.along import pieced
from under_lattice.scene.tree import Node, Scene, SceneGroup, SceneLayer

STRAY = 1e-5  # of the size of an outline, by which straight pieces may be beside its curves
JOINS = {"mitre": "mitre", "round": "round", "bevel": "bevel"}
CAPS = {"butt": "flat", "round": "round", "square": "square"}
ROUND = 24  # straight pieces of a quarter of a round end
MITRE = 4  # times the width, beyond which a mitre is cut off


class Shape(NamedTuple):
    """An area on the page, with the colour by hexadecimal figures and the name of its layer.

    With `of_line` its edges are those of a line as wide as it is, not of an outline.
    """

    area: Any
    colour: str
    layer: str
    of_line: bool = False


class Line(NamedTuple):
    """A line (k, 2) that is followed, on the page; a closed one ends where it begins."""

    line: Array
    colour: str
    layer: str


class Gathered(NamedTuple):
    """Shapes from back to front and lines, the marks curves come of, the grid of their corners, what was left aside, in words."""

    shapes: list[Shape]
    lines: list[Line]
    marks: list[Marks]
    grid: float
    aside: tuple[str, ...]


def gathered(scene: Scene, lines: str = "where there is no fill", progress: Progress = QUIET) -> Gathered:
    """Return the shapes of a scene.

    Parameters
    ----------
    scene : Scene
    lines : str
        Which lines are shapes as wide as they are: ``where there is no fill``, ``all`` or ``none``; or they are ``followed``.
    progress : Progress

    Raises
    ------
    GivenUp
    """
    aside: dict[str, None] = {}
    leaves = list(_leaves(scene.layers, None, aside))
    pictures = [pieced(leaf.picture) for leaf, _ in leaves]
    grid = grid_of(*(one.marks for one in pictures)) if pictures else 1e-9
    shapes, followed = list[Shape](), list[Line]()
    for (leaf, clip), picture in zip(leaves, pictures, strict=True):
        every = list(_shapes(picture, leaf.name, grid, lines, aside, progress))
        own = [one for one in every if isinstance(one, Shape)]
        region = clip if leaf.clip is None else _meet(clip, _clip_area(leaf.clip))
        if region is not None:
            cut = shapely.intersection(np.array([one.area for one in own], object), region)
            own = [one._replace(area=area) for one, area in zip(own, cut, strict=True) if not shapely.is_empty(area)]
        shapes += own
        followed += [one for one in every if isinstance(one, Line)]
    marks = [one.marks for one in pictures]
    return Gathered(shapes, followed, marks, grid, tuple(aside))


def _leaves(layers: Sequence[Node], clip: Any, aside: dict[str, None]) -> Iterator[tuple[SceneLayer, Any]]:
    """Layers from back to front, each with what clips of its groups let through."""
    for layer in reversed(layers):
        if layer.opacity <= 0:
            continue
        if layer.mask is not None:
            aside[f"the mask of {layer.name}"] = None
        if isinstance(layer, SceneGroup):
            own = clip if layer.clip is None else _meet(clip, _clip_area(layer.clip))
            yield from _leaves(layer.members, own, aside)
        elif isinstance(layer, SceneLayer):
            if layer.picture.closed:
                aside[f"the finishes of {layer.name}"] = None
            yield layer, clip
        else:
            aside[layer.name] = None


def _meet(one: Any, other: Any) -> Any:
    return other if one is None else shapely.intersection(one, other)


def _clip_area(picture: Picture) -> Any:
    areas = [area_of(Family(verbs, points[None], np.zeros(1, np.int32)), 0)[0] for verbs, points in clip_outlines(picture)]
    return shapely.union_all(areas)


def _shapes(
    picture: Picture, name: str, grid: float, lines: str, aside: dict[str, None], progress: Progress
) -> Iterator[Shape | Line]:
    marks = picture.marks
    filled: list[Any] | None = None
    has_fill = {int(k) for coat in picture.coats for k in np.flatnonzero(np.broadcast_to(coat.fill[:, 3] > 0, marks.count))}
    for one in drawn_of(picture, 0.0, progress=progress):
        if one.fill[3] and not one.coat.lines:
            filled = filled if filled is not None else areas_of_marks(_shut(marks), grid)
            yield Shape(filled[one.mark], _hex(one.fill), name)
        if not one.stroke[3]:
            continue
        if lines == "followed":
            yield from (Line(line, _hex(one.stroke), name) for line in lines_of(one, marks) if len(line) > 1)
        elif one.width == 0 and one.mark not in has_fill:
            aside[f"lines of {name} that have no width"] = None
        elif one.width > 0 and (lines == "all" or (lines != "none" and one.mark not in has_fill)):
            yield Shape(line_area(one, marks), _hex(one.stroke), name, of_line=True)


def _shut(marks: Marks) -> Marks:
    """The same marks, every outline closed, as fills are."""
    families = tuple(f if f.verbs[-1] == CLOSE else Family(f.verbs + bytes([CLOSE]), f.points, f.variant) for f in marks.families)
    return Marks(families, marks.family, marks.variant, marks.xform, marks.copy)


def lines_of(one: Drawn, marks: Marks, stray: float = 0.0) -> list[Array]:
    """Return the contours of a shape as lines (k, 2) on the page, closed ones ending where they begin, broken up into its dashes.

    `stray`, in the unit of the page, is how far they may be beside the curves; without, a small part of its size.
    """
    verbs, own = one.outline(marks)
    points = apply(one.xform, own)
    size = float(np.ptp(points, 0).max()) or 1.0
    flat = flatten(verbs, points[None], steps_for(verbs, points[None], stray or STRAY * size))
    shut = _closings(verbs)
    lines = [np.concatenate([ring[0], ring[0][:1]]) if end else ring[0] for ring, end in zip(flat, shut, strict=True)]
    if one.dash is None:
        return lines
    return [dash for line in lines for dash in _dashes(line, one.dash.lengths, one.dash.offset)]


def _closings(verbs: bytes) -> list[bool]:
    """For each contour whether it is closed."""
    out: list[bool] = []
    for verb in verbs:
        if verb == MOVE:
            out.append(False)
        elif verb == CLOSE:
            out[-1] = True
    return out


def _dashes(line: Array, lengths: Sequence[float], offset: float) -> Iterator[Array]:
    """The dashes of a line."""
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(line, axis=0).T))])
    period = float(sum(lengths))
    at = -(offset % period) if period > 0 else 0.0
    while period > 0 and at < along[-1]:
        for k, length in enumerate(lengths):
            begin, end = max(at, 0.0), min(at + length, along[-1])
            at += length
            if k % 2 == 0 and end > begin:
                inner = (along > begin) & (along < end)
                ends = [np.array([np.interp(t, along, line[:, axis]) for axis in (0, 1)]) for t in (begin, end)]
                yield np.concatenate([ends[0][None], line[inner], ends[1][None]])


def line_area(one: Drawn, marks: Marks) -> Any:
    """Return what the line of a shape covers on the page, joins, ends and dashes as they are drawn."""
    lines = [line for line in lines_of(one, marks) if len(line) > 1]
    made = [shapely.LinearRing(line[:-1]) if _is_ring(line) and one.dash is None else shapely.LineString(line) for line in lines]
    ends: dict[str, Any] = {"cap_style": CAPS[one.coat.cap], "join_style": JOINS[one.coat.join], "mitre_limit": MITRE}
    areas = shapely.buffer(np.array(made, object), one.width / 2, quad_segs=ROUND, **ends)
    return shapely.union_all(areas)


def _is_ring(line: Array) -> bool:
    return len(line) > 3 and bool((line[0] == line[-1]).all())


def _hex(rgba: Array) -> str:
    return "#" + "".join(f"{int(v):02X}" for v in rgba[:3])
