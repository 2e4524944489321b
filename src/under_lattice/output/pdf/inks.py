"""A page for each ink: what of the page that ink covers, in black, with marks by which the plates are laid on each other."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, NamedTuple

import numpy as np
import shapely

from under_lattice.colour.colour import luminance
from under_lattice.core.errors import InputError
from under_lattice.core.progress import Progress
from under_lattice.core.units import short
from under_lattice.geometry.outline import polygon_verbs
from under_lattice.output.cut.contours import paths_of
from under_lattice.output.cut.gathered import Gathered, Shape, gathered
from under_lattice.output.cut.visible import visible
from under_lattice.output.pdf.streams import Book, Stream
from under_lattice.scene.tree import Scene

TARGET = 2.0  # mm, the radius of a registration mark
CURVE = 0.5523  # of a radius: the handles of a quarter of a circle
INKS_MOST = 24
TRAP_STEPS = 4  # pieces of a quarter of a circle round a corner: off by a fiftieth of the trap


class Plate(NamedTuple):
    """One ink by its colour, and the operators of what it covers, in the unit of the page."""

    colour: str
    paths: list[str]


def plates(scene: Scene, book: Book, ground: bool, overprint: bool, trap: float, stray: float, progress: Progress) -> list[Plate]:
    """Return what each ink covers, pale inks first, as they are printed.

    Parameters
    ----------
    scene : Scene
    book : Book
    ground : bool
        Whether the colour of the ground is an ink too.
    overprint : bool
        Inks lie over each other; else each leaves out what others cover in front of it.
    trap : float
        How far an ink goes on under those it meets, in the unit of the page.
    stray : float
        By which curves may be beside the edges they stand for, in the unit of the page.
    progress : Progress

    Raises
    ------
    InputError, GivenUp
    """
    found = gathered(scene, "all", progress)
    x, y = (float(v) for v in book.half)
    page = shapely.box(-x, -y, x, y)
    shapes = [Shape(page, scene.background.upper()[:7], "", of_line=True)] if ground and scene.background else []
    shapes += found.shapes
    if not overprint:
        shapes = visible(shapes, page, progress)
    colours = sorted(dict.fromkeys(one.colour for one in shapes), key=luminance, reverse=True)
    if len(colours) > INKS_MOST:
        raise InputError(f"there are {len(colours)} inks; at most {INKS_MOST} go on plates. Ramps and pictures cannot be separated")
    inked = shapely.union_all([one.area for one in shapes]) if trap else None
    out = []
    for colour in progress.each(colours):
        own = [one for one in shapes if one.colour == colour]
        out.append(Plate(colour, _trapped(own, inked, trap, book) if trap else _plain(found, own, stray, book, progress)))
    return out


def _plain(found: Gathered, own: Sequence[Shape], stray: float, book: Book, progress: Progress) -> list[str]:
    """Outlines with their curves."""
    stream = Stream(book)
    return [stream.path(path.verbs, path.points) for path in paths_of(found._replace(lines=[]), own, 0.0, stray, progress)]


def _trapped(own: Sequence[Shape], inked: Any, trap: float, book: Book) -> list[str]:
    """What an ink covers and so much more, as far as other inks lie there."""
    stream = Stream(book)
    area = shapely.union_all([one.area for one in own])
    wide = shapely.union(area, shapely.intersection(shapely.buffer(area, trap, quad_segs=TRAP_STEPS), inked))
    parts = [part for part in shapely.get_parts(shapely.orient_polygons(wide)) if part.geom_type == "Polygon"]
    rings = [np.asarray(ring.coords)[:-1] for part in parts for ring in (part.exterior, *part.interiors)]
    return [stream.path(polygon_verbs(len(ring)), ring) for ring in rings]


def registration(wide: float, high: float, room: float, name: str) -> str:
    """Return marks in the middle of each side, in points, in the room beside the bleed, and the name of the ink at the foot.

    They are crosses in circles, which lie on each other where the plates do.
    """
    point = 72 / 25.4
    r, at = TARGET * point, room - (TARGET + 3.0) * point
    out = ["q 0.25 w 0 G"]
    for x, y in ((wide / 2, at), (wide / 2, high - at), (at, high / 2), (wide - at, high / 2)):
        out.append(f"q 1 0 0 1 {short(x, 3)} {short(y, 3)} cm {_target(r)} Q")
    out.append(f"0 g BT /F1 6 Tf {short(room + 6, 3)} {short(at - 2, 3)} Td ({name}) Tj ET")
    return "\n".join([*out, "Q"])


def _target(r: float) -> str:
    """A cross in a circle of that radius about the origin, in points."""
    k, arm = short(CURVE * r, 3), short(1.6 * r, 3)
    s = short(r, 3)
    circle = f"{s} 0 m {s} {k} {k} {s} 0 {s} c -{k} {s} -{s} {k} -{s} 0 c -{s} -{k} -{k} -{s} 0 -{s} c {k} -{s} {s} -{k} {s} 0 c"
    return f"{circle} -{arm} 0 m {arm} 0 l 0 -{arm} m 0 {arm} l S"
