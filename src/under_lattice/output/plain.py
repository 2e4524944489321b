"""Outlines cut off at the page, for machines that know neither clips nor shared shapes; and shapes of one colour as one path."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import pairwise
from typing import Any

import numpy as np
import shapely

from under_lattice.core.progress import QUIET, Progress
from under_lattice.geometry.affine import Array
from under_lattice.geometry.cutting import as_outline, cubics_of, part_between
from under_lattice.geometry.outline import flatten
from under_lattice.pattern.cut_out import contour, cut_out

Outline = tuple[bytes, Array]
ON_EDGE = 1e-9  # of the page, by which a place may lie outside and is on it
COVERS = 1e-6  # of a shape, that two colours may have in common and lie beside each other
STEPS = 8  # straight pieces for each curve where it is asked whether colours lie over each other


def inside(points: Array, half: Array) -> bool | None:
    """Tell whether points (K, 2) lie on a page of so much to each side of the middle (2,); None where some may and some may not."""
    if (np.abs(points) <= half * (1 + ON_EDGE)).all():
        return True
    low, high = points.min(0), points.max(0)
    return False if (low > half).any() or (high < -half).any() else None


def areas_on_page(verbs: bytes, points: Array, half: Array) -> list[Outline]:
    """Return what of the area of an outline (K, 2) lies on the page: closed outlines, their curves kept.

    An open one is closed first, as every reader fills it.
    """
    return cut_out((verbs, points), shapely.box(*-half, *half))


def lines_on_page(verbs: bytes, points: Array, half: Array) -> list[Outline]:
    """Return what of the line of an outline (K, 2) lies on the page: open lines, curves cut where they leave it."""
    out = []
    for cubics, whole in cubics_of(verbs, points):
        stops = sorted({k + t for k, cubic in enumerate(cubics) for t in _crossings(cubic, half)})
        if not stops:
            if inside(cubics[0], half) is not False and _within(part_between(cubics, 0.0, float(len(cubics))), half):
                out.append(contour(cubics) if whole else as_outline(cubics))
            continue
        ends = [*stops, stops[0] + len(cubics)] if whole else [0.0, *stops, float(len(cubics))]
        for begin, end in pairwise(ends):
            part = part_between(cubics, begin, end)
            if len(part) and _within(part, half):
                out.append(as_outline(part))
    return out


def _within(cubics: Array, half: Array) -> bool:
    """Whether the middle of the middle piece lies on the page."""
    a, b, c, d = cubics[len(cubics) // 2]
    return bool((np.abs((a + 3 * b + 3 * c + d) / 8) <= half).all())


def _crossings(cubic: Array, half: Array) -> Iterator[float]:
    """Shares 0..1 of a cubic (4, 2) at which it meets a side of the page."""
    for axis in (0, 1):
        a, b, c, d = cubic[:, axis]
        for side in (-half[axis], half[axis]):
            roots = np.roots([d - 3 * c + 3 * b - a, 3 * c - 6 * b + 3 * a, 3 * b - 3 * a, a - side])
            for t in roots[np.abs(roots.imag) < 1e-9].real:
                if 1e-9 < t < 1 - 1e-9:
                    yield float(t)


def _covered(outline: Outline) -> Any:
    """What an outline covers, holes and all, in a few straight pieces."""
    lines = flatten(outline[0], outline[1][None], STEPS)
    return shapely.union_all([shapely.make_valid(shapely.Polygon(line[0])) for line in lines if line.shape[1] > 2])


def lie_beside(outlines: Sequence[Outline], colours: Sequence[bytes], progress: Progress = QUIET) -> bool:
    """Tell whether no closed outline lies over one of another colour, so that their order does not matter.

    Raises
    ------
    GivenUp
    """
    areas = [_covered(one) for one in outlines]
    one, other = shapely.STRtree(areas).query(areas, predicate="intersects")
    kinds = {colour: k for k, colour in enumerate(dict.fromkeys(colours))}
    which = np.array([kinds[colour] for colour in colours])
    differ = np.flatnonzero((which[one] != which[other]) & (one < other))
    shapes = np.array(areas, object)
    size = shapely.area(shapes)
    for begin in range(0, len(differ), 1000):
        progress.check()
        some = differ[begin : begin + 1000]
        common = shapely.area(shapely.intersection(shapes[one[some]], shapes[other[some]]))
        if (common > COVERS * np.minimum(size[one[some]], size[other[some]])).any():
            return False
    return True
