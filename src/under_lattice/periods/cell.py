"""The smallest upright cell a work repeats by: found from what each layer repeats by, and made a page of its own."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from typing import NamedTuple

import numpy as np

from under_lattice.core.errors import InputError
from under_lattice.core.progress import QUIET, Progress
from under_lattice.core.units import short
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.beyond import larger
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.geometry.affine import Array, inverse
from under_lattice.geometry.translations import NOTHING, Oblong, common, nearest_miss, oblong
from under_lattice.loop.moment import at_moment
from under_lattice.pattern.marks import Picture
from under_lattice.periods.found import Found, periods_of
from under_lattice.periods.outlined import held_by_outlines
from under_lattice.scene.tree import Node, Scene, SceneGroup, SceneVeil, brought, make_scene
from under_lattice.work.model import Design, Sheet

ROOM = 1.1  # times the cell that is drawn, so that what lies just beyond its edges is seen
GROWN = 3.0  # times the sheet, on which a cell is looked for that the sheet itself is too small to tell
MANY = 8  # of the smallest repeats; where an upright cell holds more, a pattern is filled with the smallest as it lies
ALMOST = 0.05  # of a repeat, by which two layers may miss each other and are told which size would fit


class LayerRepeat(NamedTuple):
    """What one picture of a work repeats by; the name is of its layer."""

    name: str
    picture: Picture
    found: Found


@dataclass(frozen=True, eq=False)
class Cell:
    """What a work repeats by.

    Attributes
    ----------
    basis : (k, 2)
        The smallest translations, reduced; one where it repeats along one side only.
    box : Oblong
        Two translations along the sides of an upright rectangle; along a side without repeat, the side of the sheet.
    scene : Scene
        That was looked at: on a larger sheet where its own was too small.
    sheet : Sheet
        Of the work.
    """

    basis: Array
    box: Oblong
    scene: Scene
    sheet: Sheet

    @property
    def along_one(self) -> bool:
        """Whether it repeats along one side only."""
        return len(self.basis) == 1

    @property
    def corners(self) -> Array:
        """The corners (4, 2) of the cell on the sheet, about its middle."""
        return corners_of(np.array([self.box.across, self.box.down]))

    @property
    def aslant(self) -> bool:
        """Whether the smallest repeat is a parallelogram, and no small rectangle stands for it."""
        return not self.along_one and (self.box.miss > 0 or self._smallest > MANY)

    @property
    def _smallest(self) -> int:
        """How many of the smallest repeat an upright cell holds."""
        return round(self.box.width * self.box.height / abs(float(np.linalg.det(self.basis))))

    def words(self) -> str:
        """Return how large it is, how far from upright, and what the smallest repeat is where that is a parallelogram."""
        unit = self.sheet.unit
        said = f"{short(self.box.width, 3)} × {short(self.box.height, 3)} {unit}"  # noqa: RUF001
        if self.along_one:
            side = "across" if self.basis[0, 0] else "down"
            return f"{said}, repeats {side} only"
        if self.box.miss:
            said += f", the nearest to upright: off by {short(self.box.miss, 3)} {unit}"
        elif self._smallest > 1:
            said += f", {self._smallest} of the smallest repeat"
        return f"{said}; as a pattern {self._sides()}" if self.aslant else said

    def _sides(self) -> str:
        """Return the parallelogram in words."""
        one, other = np.hypot(*self.basis.T)
        between = np.degrees(np.arccos(np.dot(*self.basis) / (one * other)))
        sides = f"{short(float(one), 3)} and {short(float(other), 3)} {self.sheet.unit}"
        return f"a parallelogram of {sides} at {short(float(between), 2)}°"


def corners_of(sides: Array) -> Array:
    """Return the corners (4, 2) of a parallelogram of two sides (2, 2), about its middle."""
    across, down = sides / 2
    return np.array([-across - down, across - down, across + down, down - across])


def find_cell(design: Design, progress: Progress = QUIET, evaluator: Evaluator | None = None) -> Cell:
    """Return the smallest upright cell of a work.

    Raises
    ------
    InputError
        Says which layer does not repeat, or which two do not fit each other, by how much they miss, and what would fit.
    GivenUp
    """
    evaluator, design = evaluator or Evaluator(), at_moment(design, 0.0)

    def on_sheet(by: float) -> Scene | None:
        """The work as it is on a sheet so many times as large; None where there would be too many copies."""
        wide = edited(design, sheet=larger(design.sheet, by, results.values())) if by > 1 else design
        if by > 1 and wide.sheet.width < 0.99 * by * design.sheet.width:
            return None
        found = evaluator.design(wide, progress) if by > 1 else results
        return make_scene(wide, found, evaluator, progress=progress)

    results = evaluator.design(design, progress)
    scene = on_sheet(1.0)
    assert scene is not None
    try:
        cell = _cell_of(scene, design.sheet, progress)
    except InputError as error:
        grown = on_sheet(GROWN)
        if grown is None:
            raise
        try:
            cell = _cell_of(grown, design.sheet, progress)
        except InputError:
            raise error from None
    return _whole(cell, on_sheet)


def _whole(cell: Cell, on_sheet: Callable[[float], Scene | None]) -> Cell:
    """The same cell with a scene in which all of it is drawn."""
    own = np.array([cell.sheet.width, cell.sheet.height]) / 2
    corners = np.concatenate([cell.corners, corners_of(cell.basis)]) if cell.aslant else cell.corners
    wanted = float((ROOM * np.abs(corners).max(0) / own).max())
    if wanted <= 1.0 or (ROOM * np.abs(corners) <= np.array([cell.scene.width, cell.scene.height]) / 2).all():
        return cell
    scene = on_sheet(wanted)
    if scene is None:
        raise InputError(f"the smallest upright cell, {cell.words()}, has too many copies to be drawn")
    return replace(cell, scene=scene)


def _cell_of(scene: Scene, sheet: Sheet, progress: Progress) -> Cell:
    """The cell that a scene tells of."""
    half = np.array([scene.width, scene.height]) / 2
    every = [LayerRepeat(name, picture, periods_of(picture, half, progress)) for name, picture in _pictures(scene.layers)]
    _refuse_effects(scene.layers)
    told = [one for one in every if len(one.found.basis)]
    if not told:
        raise InputError(_none(every))
    basis = told[0].found.basis
    for k, one in enumerate(told[1:], 1):
        both = common(basis, one.found.basis)
        if not len(both):
            raise InputError(_apart(told[:k], one, sheet))
        basis = both
    for one in every:
        if not len(one.found.basis) and not one.found.all_over:
            basis = held_by_outlines(one.picture, basis, half, progress) if "ramp" not in one.found.why else NOTHING
            if not len(basis):
                raise InputError(f"“{one.name}” does not repeat with the others: {one.found.why}")
    return Cell(basis, _box(basis, sheet), scene, sheet)


def _box(basis: Array, sheet: Sheet) -> Oblong:
    """The upright rectangle of translations; the side of the sheet where they go one way only."""
    if len(basis) == 2:
        return oblong(basis)
    (x, y), zero = basis[0], 0.0
    if abs(y) < 1e-6 * abs(x):
        return Oblong(np.array([abs(x), zero]), np.array([zero, sheet.height]), zero)
    if abs(x) < 1e-6 * abs(y):
        return Oblong(np.array([sheet.width, zero]), np.array([zero, abs(y)]), zero)
    raise InputError(
        f"it repeats one way only, aslant by {short(float(np.degrees(np.arctan2(y, x))), 2)}°, so no upright cell holds it"
    )


def _pictures(layers: Sequence[Node]) -> Iterator[tuple[str, Picture]]:
    """All that is painted, masks and what clips let through, with the name of its layer."""
    for layer in layers:
        if layer.opacity <= 0:
            continue
        if isinstance(layer, SceneGroup):
            yield from _pictures(layer.members)
        elif not isinstance(layer, SceneVeil):
            yield layer.name, layer.picture
        if layer.clip is not None:
            yield f"clip of {layer.name}", layer.clip
        if layer.mask is not None:
            for name, picture in _pictures(layer.mask.layers):
                yield f"mask of {layer.name or name}", picture


def _refuse_effects(layers: Sequence[Node]) -> None:
    """Refuse veils whose finishes are not the same all over."""
    for layer in layers:
        if isinstance(layer, SceneGroup):
            _refuse_effects(layer.members)
        elif isinstance(layer, SceneVeil) and not all(effect.anywhere for effect in layer.effects):
            raise InputError(f"“{layer.name}” has a finish with a middle or lattice of its own on the sheet, which does not repeat")


def _none(every: Sequence[LayerRepeat]) -> str:
    """Why nothing repeats."""
    named = next((one for one in every if one.found.why), None)
    return f"“{named.name}” does not repeat: {named.found.why}" if named else "nothing is drawn that could repeat"


def _apart(before: Sequence[LayerRepeat], one: LayerRepeat, sheet: Sheet) -> str:
    """By how much a layer misses another one, and which size would fit."""
    other = next((each for each in before if not len(common(each.found.basis, one.found.basis))), before[-1])
    there, here = nearest_miss(other.found.basis, one.found.basis)
    miss, unit = float(np.hypot(*(there - here))), sheet.unit
    said = f"“{other.name}” and “{one.name}” have no repeat in common"
    aside = abs(there[0] * here[1] - there[1] * here[0]) / max(float(np.hypot(*there) * np.hypot(*here)), 1e-300)
    if miss > ALMOST * np.hypot(*there) or aside > 1e-6:
        return said
    long, wanted = float(np.hypot(*here)), float(np.hypot(*there))
    return f"{said}: after {short(wanted, 3)} {unit} they miss each other by {short(miss, 3)} {unit}; " + (
        f"“{one.name}” fits where its {short(long, 3)} {unit} are {short(wanted, 6)} {unit}"
    )


def cell_scene(cell: Cell, width: float, height: float, part: Array | None = None) -> Scene:
    """Return the cell as a page of its own, its translations brought to the sides of a rectangle.

    Parameters
    ----------
    cell : Cell
    width, height : float
        Of the rectangle, in units of the page; may be in other proportions, to fit whole px.
    part : array (2,), optional
        Where the middle of the page is, in the unit of the work; the middle of the sheet without.
    """
    through = np.concatenate([_onto(cell.box, width, height), np.zeros((2, 1))], 1)
    if part is not None:
        through[:, 2] = -through[:, :2] @ part
    layers = tuple(brought(layer, through) for layer in cell.scene.layers)
    return Scene(width, height, cell.scene.background, layers)


def aslant_scene(cell: Cell) -> Scene:
    """Return the smallest repeat as it lies, on a page of the upright rectangle round it."""
    width, height = 2 * np.abs(corners_of(cell.basis)).max(0)
    return replace(cell.scene, width=float(width), height=float(height))


def _onto(box: Oblong, width: float, height: float) -> Array:
    """The map (2, 2) that brings the translations to the sides of an upright rectangle."""
    sides = np.array([box.across, box.down]).T
    place = np.concatenate([sides, np.zeros((2, 1))], 1)
    return np.diag([width, height]) @ inverse(place)[:, :2]


def cell_sheet(cell: Cell, name: str = "") -> Sheet:
    """Return the sheet of a page that shows the cell."""
    return edited(cell.sheet, width=cell.box.width, height=cell.box.height)
