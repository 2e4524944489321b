"""What is wrong with paths to cut: open, crossing themselves, cut twice, too short, too near to others."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, NamedTuple

import numpy as np
import shapely

from under_lattice.core.progress import QUIET, Progress
from under_lattice.core.units import short
from under_lattice.geometry.affine import Array
from under_lattice.output.cut.contours import CutPath
from under_lattice.output.cut.gathered import Shape
from under_lattice.output.plot.once import BESIDE, doubled, segments_of

SAME = 1e-4  # of a length: lines that are no further apart are one
SHOWN_MOST = 500  # places of each kind that are shown


class Fault(NamedTuple):
    """What is wrong, in a sentence, which option mends it, and where: rings (k, 2) on the page.

    `cure` is the name of an option and the value it takes; empty where nothing here mends it.
    """

    words: str
    rings: tuple[Array, ...]
    cure: tuple[str, object] | None = None


class Limits(NamedTuple):
    """What is a fault: shorter paths, parts nearer to others, in the unit of the page; and whether shared lines are cut once."""

    shortest: float
    nearest: float
    once: bool


def faults_of(
    shapes: Sequence[Shape],
    paths: Sequence[CutPath],
    edges: Sequence[CutPath],
    limits: Limits,
    unit: str,
    progress: Progress = QUIET,
) -> list[Fault]:
    """Return the faults of what is cut, those that spoil it first.

    Parameters
    ----------
    shapes : sequence of Shape
        As they were gathered.
    paths, edges : sequence of CutPath
        Those that are cut, before bridges are left, and the edges of the shapes.
    limits : Limits
    unit : str
    progress : Progress

    Raises
    ------
    GivenUp
    """
    progress.check()
    out = [_open(paths), _overlapping(shapes)]
    progress.check()
    out += [None if limits.once else _twice(paths, unit, progress), _short(paths, limits.shortest, unit)]
    progress.check()
    out.append(_near(np.array([shapely.LineString(path.line) for path in edges], object), limits.nearest, unit))
    return [one for one in out if one is not None]


def _many(count: int, one: str, more: str) -> str:
    return f"{count:,} {one if count == 1 else more}"


def _open(paths: Sequence[CutPath]) -> Fault | None:
    """Lines whose ends do not meet, so that nothing falls out."""
    found = [path.line for path in paths if not path.closed]
    return Fault(_many(len(found), "line is open", "lines are open"), tuple(found[:SHOWN_MOST])) if found else None


def _overlapping(shapes: Sequence[Shape]) -> Fault | None:
    """Shapes that lie over each other, so that lines cross."""
    areas = np.array([one.area for one in shapes], object)
    if len(areas) < 2:
        return None
    one, other = shapely.STRtree(areas).query(areas, predicate="overlaps")
    first = one < other
    common = shapely.intersection(areas[one[first]], areas[other[first]])
    size = np.minimum(shapely.area(areas[one[first]]), shapely.area(areas[other[first]]))
    real = common[shapely.area(common) > 1e-6 * size]
    if not len(real):
        return None
    words = f"{_many(len(real), 'pair of shapes lies', 'pairs of shapes lie')} over each other"
    return Fault(words, _outer(real), ("shapes", "what is seen"))


def _twice(paths: Sequence[CutPath], unit: str, progress: Progress) -> Fault | None:
    """Lines that lie on others and would be cut twice."""
    pieces = segments_of([path.line for path in paths])
    if not len(pieces):
        return None
    near = BESIDE * float(np.abs(pieces).max())
    total, found = doubled(pieces, near, progress)
    if total <= SAME * min(path.length for path in paths):
        return None
    return Fault(f"{short(total, 1)} {unit} of line would be cut twice", tuple(found[:SHOWN_MOST]), ("once", True))


def _short(paths: Sequence[CutPath], shortest: float, unit: str) -> Fault | None:
    found = [path.line for path in paths if path.length < shortest]
    if not found:
        return None
    words = f"{_many(len(found), 'path is', 'paths are')} shorter than {short(shortest)} {unit}"
    return Fault(words, tuple(found[:SHOWN_MOST]))


def _near(lines: Array, nearest: float, unit: str) -> Fault | None:
    """Paths that do not meet and leave less between them than holds."""
    if len(lines) < 2 or nearest <= 0:
        return None
    one, other = shapely.STRtree(lines).query(lines, predicate="dwithin", distance=nearest)
    first = one < other
    one, other = one[first], other[first]
    far = shapely.distance(lines[one], lines[other])
    thin = (far > SAME * nearest) & (far < nearest)
    if not thin.any():
        return None
    links = [np.asarray(link.coords) for link in shapely.shortest_line(lines[one[thin]], lines[other[thin]])[:SHOWN_MOST]]
    least = float(far[thin].min())
    places = _many(int(thin.sum()), "place is", "places are")
    words = f"{places} thinner than {short(nearest)} {unit}, {short(least, 3)} {unit} at the least"
    return Fault(words, tuple(links))


def _outer(areas: Sequence[Any]) -> tuple[Array, ...]:
    """Rings round areas, those shown at most."""
    parts = [part for area in areas[:SHOWN_MOST] for part in shapely.get_parts(area)]
    return tuple(np.asarray(part.exterior.coords) for part in parts if part.geom_type == "Polygon" and part.area > 0)
