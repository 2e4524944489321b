"""The shapes of a scene as areas on the page, from back to front: fills, lines as wide as they are, what clips leave of them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Any, NamedTuple

import numpy as np
import shapely

from under_lattice.core.progress import QUIET, Progress
from under_lattice.geometry.affine import Array, apply
from under_lattice.geometry.cutting import cubics_of
from under_lattice.geometry.outline import CLOSE
from under_lattice.output.outlines import Drawn, clip_outlines, drawn_of
from under_lattice.output.svg_paints import hex_of
from under_lattice.pattern.clipping import area_of
from under_lattice.pattern.marks import Marks, Picture
from under_lattice.pattern.pieces import areas_of_marks, grid_of
from under_lattice.pattern.stage import Family
from under_lattice.scene.along import pieced
from under_lattice.scene.tree import Node, Scene, SceneGroup, SceneLayer

STRAY = 1e-5  # of the size of an outline, by which straight pieces may be beside its curves
JOINS = {"mitre": "mitre", "round": "round", "bevel": "bevel"}
CAPS = {"butt": "flat", "round": "round", "square": "square"}
PIECES_MOST = 200  # of one curve
STRAIGHT = 1e-9  # of a chord, by which handles lie beside its thirds where a curve is none
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


class Followed(NamedTuple):
    """A line (k, 2) that is followed, on the page; a closed one ends where it begins."""

    line: Array
    colour: str
    layer: str


class Gathered(NamedTuple):
    """Shapes from back to front and lines, the marks curves come of, the grid of their corners, what was left aside, in words."""

    shapes: list[Shape]
    lines: list[Followed]
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
    leaves = list(leaves_of(scene.layers, aside))
    pictures = [pieced(leaf.picture) for leaf, _ in leaves]
    grid = grid_of(*(one.marks for one in pictures)) if pictures else 1e-9
    shapes, followed = list[Shape](), list[Followed]()
    for (leaf, clip), picture in zip(leaves, pictures, strict=True):
        every = list(_shapes(picture, leaf.name, grid, lines, aside, progress))
        own = [one for one in every if isinstance(one, Shape)]
        if clip is not None:
            cut = shapely.intersection(np.array([one.area for one in own], object), clip)
            own = [one._replace(area=area) for one, area in zip(own, cut, strict=True) if not shapely.is_empty(area)]
        shapes += own
        followed += [one for one in every if isinstance(one, Followed)]
    marks = [one.marks for one in pictures]
    return Gathered(shapes, followed, marks, grid, tuple(aside))


def leaves_of(layers: Sequence[Node], aside: dict[str, None], clip: Any = None) -> Iterator[tuple[SceneLayer, Any]]:
    """Yield layers from back to front, each with what clips of its groups, and its own, let through; names what is left aside."""
    for layer in reversed(layers):
        if layer.opacity <= 0:
            continue
        if layer.mask is not None:
            aside[f"the mask of {layer.name}"] = None
        if isinstance(layer, SceneGroup):
            own = clip if layer.clip is None else _meet(clip, _clip_area(layer.clip))
            yield from leaves_of(layer.members, aside, own)
        elif isinstance(layer, SceneLayer):
            if layer.picture.closed:
                aside[f"the finishes of {layer.name}"] = None
            yield layer, clip if layer.clip is None else _meet(clip, _clip_area(layer.clip))
        else:
            aside[layer.name] = None


def _meet(one: Any, other: Any) -> Any:
    return other if one is None else shapely.intersection(one, other)


def _clip_area(picture: Picture) -> Any:
    areas = [area_of(Family(verbs, points[None], np.zeros(1, np.int32)), 0)[0] for verbs, points in clip_outlines(picture)]
    return shapely.union_all(areas)


def _shapes(
    picture: Picture, name: str, grid: float, lines: str, aside: dict[str, None], progress: Progress
) -> Iterator[Shape | Followed]:
    marks = picture.marks
    filled: list[Any] | None = None
    has_fill = {int(k) for coat in picture.coats for k in np.flatnonzero(np.broadcast_to(coat.fill[:, 3] > 0, marks.count))}
    for one in drawn_of(picture, 0.0, progress=progress):
        if one.fill[3] and not one.coat.lines:
            filled = filled if filled is not None else areas_of_marks(closed_marks(marks), grid)
            yield Shape(filled[one.mark], hex_of(one.fill), name)
        if not one.stroke[3]:
            continue
        if lines == "followed":
            yield from (Followed(line, hex_of(one.stroke), name) for line in lines_of(one, marks) if len(line) > 1)
        elif one.width == 0 and one.mark not in has_fill:
            aside[f"lines of {name} that have no width"] = None
        elif one.width > 0 and (lines == "all" or (lines != "none" and one.mark not in has_fill)):
            yield Shape(line_area(one, marks), hex_of(one.stroke), name, of_line=True)


def closed_marks(marks: Marks) -> Marks:
    """Return the same marks, every outline closed, as fills are."""
    families = tuple(f if f.verbs[-1] == CLOSE else Family(f.verbs + bytes([CLOSE]), f.points, f.variant) for f in marks.families)
    return Marks(families, marks.family, marks.variant, marks.xform, marks.copy)


def lines_of(one: Drawn, marks: Marks, stray: float = 0.0) -> list[Array]:
    """Return the contours of a shape as lines (k, 2) on the page, closed ones ending where they begin, broken up into its dashes.

    `stray`, in the unit of the page, is how far they may be beside the curves; without, a small part of its size.
    """
    verbs, own = one.outline(marks)
    points = apply(one.xform, own)
    lines = flat_lines(verbs, points, stray or STRAY * (float(np.ptp(points, 0).max()) or 1.0))
    if one.dash is None:
        return lines
    return [dash for line in lines for dash in _dashes(line, one.dash.lengths, one.dash.offset)]


def flat_lines(verbs: bytes, points: Array, stray: float) -> list[Array]:
    """Return the contours of an outline (K, 2) as lines (k, 2), closed ones ending where they begin.

    Each curve is in as many pieces as it needs alone, so that neighbours that share it have the same ones, whichever way they run.
    A cubic a, b, c, d of n pieces strays from them by 3/4 of the greater of a - 2b + c and b - 2c + d by n squared at most.
    """
    out = []
    for cubics, closed in cubics_of(verbs, points):
        a, b, c, d = np.moveaxis(cubics, 1, 0)
        bend = np.maximum(np.hypot(*(a - 2 * b + c).T), np.hypot(*(b - 2 * c + d).T))
        handles = np.maximum(np.hypot(*(b - a - (d - a) / 3).T), np.hypot(*(c - d - (a - d) / 3).T))
        straight = handles < STRAIGHT * np.hypot(*(d - a).T)
        count = np.where(straight, 1, np.clip(np.ceil(np.sqrt(0.75 * bend / stray)), 1, PIECES_MOST)).astype(np.int64)
        which = np.repeat(np.arange(len(cubics)), count)
        t = ((np.arange(len(which)) - np.repeat(np.cumsum(count) - count, count)) / count[which])[:, None]
        p, q, r, s = a[which], b[which], c[which], d[which]
        line = (1 - t) ** 3 * p + 3 * (1 - t) ** 2 * t * q + 3 * (1 - t) * t * t * r + t**3 * s
        out.append(np.concatenate([line, line[:1] if closed else d[-1:]]))
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
