"""Picking: the topmost visible face at a point, by the painter's own coverage, and what it belongs to."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
import shapely

from under_lattice.evaluate.result import ChainResult
from under_lattice.geometry.affine import Array, apply
from under_lattice.geometry.outline import flatten, steps_for
from under_lattice.pattern.marks import Marks, Picture
from under_lattice.pattern.pieces import areas_of_marks
from under_lattice.pattern.stage import Stage
from under_lattice.rules.shared.touches import Place, places_of
from under_lattice.scene.tree import Node, Scene, SceneGroup, SceneLayer, SceneVeil, View

RINGS_MOST = 1500
Clips = tuple[Picture, ...]
Found = tuple[SceneLayer, Clips, bool]


@dataclass(frozen=True, eq=False)
class Level:
    """One answer to "what is this?", from the face to ever wider copies.

    Words, outlines (k, 2) on the sheet, and the places in the repeats by which it is found again, the widest first.
    """

    words: str
    rings: tuple[Array, ...]
    at: tuple[Place, ...] = ()


@dataclass(frozen=True, eq=False)
class Picked:
    """What was found under a point of the page."""

    layer: str
    mark: int
    levels: tuple[Level, ...]
    colour: str = ""  # of the topmost coat that fills it evenly


class Picker:
    """Looks into one painted view; flattened items are kept from one question to the next."""

    def __init__(self, scene: Scene, view: View, results: dict[str, ChainResult]) -> None:
        self.scene, self.view, self.results = scene, view, results
        self._flat: dict[str, Any] = {}  # flattened items of each layer, as the painter's room makes them
        self._areas: dict[int, Any] = {}  # what each clip lets through

    def pick(self, x: float, y: float) -> Picked | None:
        """Return what is seen at a point of the page, in the unit of the work from its middle."""
        at = apply(self.view.page_to_pixels(), np.array([[x, y]]))[0]
        for layer, clips, masked in _clipped(self.scene.layers):
            if layer.layer not in self.results or not all(self._inside(clip, x, y) for clip in clips):
                continue
            mark = self.mark_at(layer, float(at[0]), float(at[1]))
            if mark >= 0:
                found = levels(layer.picture.marks, mark, self.results[layer.layer], 0.1 / self.view.scale)
                said = tuple(replace(level, words=f"{level.words}, under a mask") for level in found) if masked else found
                return Picked(layer.layer, mark, said, _colour_of(layer.picture, mark))
        return None

    def _inside(self, clip: Picture, x: float, y: float) -> bool:
        """Whether a point of the page lies within what a clip lets through."""
        if id(clip) not in self._areas:
            self._areas[id(clip)] = shapely.union_all(areas_of_marks(clip.marks))
        return bool(shapely.contains_xy(self._areas[id(clip)], x, y))

    def mark_at(self, layer: SceneLayer, x: float, y: float) -> int:
        """Return the topmost mark of one layer at a pixel, or -1."""
        from under_lattice.render.topmost import flat_for, mark_at  # loads the compiled kernels

        if layer.layer not in self._flat:
            self._flat[layer.layer] = flat_for(layer.picture, self.view)
        return mark_at(self._flat[layer.layer], x, y)


def _colour_of(picture: Picture, mark: int) -> str:
    """The colour of the topmost coat that fills a mark, or nothing where none does or a ramp or picture is laid in it."""
    for coat in reversed(picture.coats):
        red, green, blue, strength = (int(part) for part in coat.fill[mark if len(coat.fill) > 1 else 0])
        if strength:
            return "" if coat.paint is not None else f"#{red:02X}{green:02X}{blue:02X}"
    return ""


def _clipped(layers: Iterable[Node], clips: Clips = (), masked: bool = False) -> Iterator[Found]:
    """Yield the chains' pictures from front to back, each with the clips it is seen through and whether a mask is over it."""
    for layer in layers:
        if layer.opacity <= 0 or isinstance(layer, SceneVeil):
            continue
        through = (*clips, layer.clip) if layer.clip is not None else clips
        under = masked or layer.mask is not None
        if isinstance(layer, SceneGroup):
            yield from _clipped(layer.members, through, under)
        else:
            yield layer, through, under


def levels(marks: Marks, mark: int, result: ChainResult, tolerance: float) -> tuple[Level, ...]:
    """Return what a mark is, from its face to the widest copy it belongs to, `tolerance` in the unit of the work."""
    copy = int(marks.copy[mark])
    stage = result.last.stage if result.last is not None else None
    path = places_of(stage, copy) if stage is not None else ()
    out = []
    if len(marks.families) > 1:
        out.append(
            Level(
                f"part {int(marks.family[mark]) + 1} of {len(marks.families)}", rings_of(marks, np.array([mark]), tolerance), path
            )
        )
    names = {step.rule.id: step.rule.shown_name() for step in result.steps if step.rule.family == "repeat"}
    same = np.ones(len(marks.copy), bool)
    wider: list[Level] = []
    index: Array = marks.copy.astype(np.int64)
    own = copy
    while stage is not None:
        if stage.rule in names:
            same = same & (stage.key[index] == stage.key[own]).all(1)
            rings = rings_of(marks, np.flatnonzero(same), tolerance)
            wider.append(Level(_place_words(names[stage.rule], stage, own), rings, path[: len(wider) + 1]))
        index, own, stage = stage.parent[index], int(stage.parent[own]), stage.above
    words = " › ".join(  # noqa: RUF001
        level.words for level in wider
    )
    if wider:
        wider[-1] = Level(words, wider[-1].rings, path)
    return (*out, *reversed(wider)) if wider else (*out, Level("the motif", rings_of(marks, np.array([mark]), tolerance)))


def _place_words(name: str, stage: Stage, at: int) -> str:
    row, column = stage.key[at]
    low = stage.key.min(0)
    return f"{name}: row {int(row - low[0]) + 1}, column {int(column - low[1]) + 1}"


def rings_of(marks: Marks, which: Array, tolerance: float) -> tuple[Array, ...]:
    """Outlines on the sheet of some marks, at most `RINGS_MOST`, straight within `tolerance` in the unit of the work."""
    out = []
    for k in which[:RINGS_MOST]:
        family, variant = marks.families[int(marks.family[k])], int(marks.variant[k])
        if variant >= 0:
            points = family.points[variant : variant + 1]
            for ring in flatten(family.verbs, points, steps_for(family.verbs, points, tolerance)):
                out.append(apply(marks.xform[k], ring[0]))  # noqa: PERF401
    return tuple(out)
