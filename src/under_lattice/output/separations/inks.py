"""What each ink covers: inks knocked out or laid over each other, with trap."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, NamedTuple

import numpy as np
import shapely

from under_lattice.colour.colour import luminance
from under_lattice.core.errors import InputError
from under_lattice.core.progress import Progress
from under_lattice.geometry.affine import Array
from under_lattice.geometry.outline import polygon_verbs
from under_lattice.output.cut.contours import paths_of
from under_lattice.output.cut.gathered import Gathered, Shape, gathered
from under_lattice.output.cut.visible import visible
from under_lattice.scene.tree import Scene

INKS_MOST = 24
TRAP_STEPS = 4  # pieces of a quarter of a circle round a corner: off by a fiftieth of the trap

Path = tuple[bytes, Array]  # verbs and points (K, 2) of closed contours, on the page


class Plate(NamedTuple):
    """One ink by its colour, and what it covers: winding number not zero."""

    colour: str
    paths: list[Path]


def plates(
    scene: Scene, beyond: float, ground: bool, overprint: bool, trap: float, stray: float, progress: Progress
) -> list[Plate]:
    """Return what each ink covers, pale inks first, as they are printed.

    Parameters
    ----------
    scene : Scene
    beyond : float
        How far all goes on beyond the page, in its unit.
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
    x, y = scene.width / 2 + beyond, scene.height / 2 + beyond
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
        out.append(Plate(colour, _trapped(own, inked, trap) if trap else _plain(found, own, stray, progress)))
    return out


def _plain(found: Gathered, own: Sequence[Shape], stray: float, progress: Progress) -> list[Path]:
    """Outlines with their curves."""
    return [(path.verbs, path.points) for path in paths_of(found._replace(lines=[]), own, 0.0, stray, progress)]


def _trapped(own: Sequence[Shape], inked: Any, trap: float) -> list[Path]:
    """What an ink covers and so much more, as far as other inks lie there."""
    area = shapely.union_all([one.area for one in own])
    wide = shapely.union(area, shapely.intersection(shapely.buffer(area, trap, quad_segs=TRAP_STEPS), inked))
    parts = [part for part in shapely.get_parts(shapely.orient_polygons(wide)) if part.geom_type == "Polygon"]
    rings = [np.asarray(ring.coords)[:-1] for part in parts for ring in (part.exterior, *part.interiors)]
    return [(polygon_verbs(len(ring)), ring) for ring in rings]
