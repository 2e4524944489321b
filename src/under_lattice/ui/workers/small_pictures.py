"""Small pictures: a step close up, a group on its sheet, a whole work, what a rule would do."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from PySide6.QtGui import QImage

from under_lattice.colour.colour import bytes_of, luminance
from under_lattice.core.errors import RuleRefused
from under_lattice.core.progress import QUIET, Progress
from under_lattice.evaluate.cache import SHARED
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.evaluate.result import ChainResult, Step, keeps_its_own
from under_lattice.geometry.affine import Array
from under_lattice.geometry.outline import flatten
from under_lattice.loop.moment import at_moment
from under_lattice.pattern.marks import Coat, Picture
from under_lattice.render.painter import paint_now
from under_lattice.scene.close_up import stands_alone
from under_lattice.scene.tree import Scene, SceneLayer, View, leaves, make_scene, whole_page
from under_lattice.work.model import Design
from under_lattice.work.reading import needed

THUMB = 80
NOTHING_NEW = "it would change nothing here"
DUSK, PALE = "#4A4A4A", "#EDEDED"  # grounds of small pictures of what cannot be told from the ground of its sheet
STANDS_OUT, SEEN_LEAST = 60, 0.03  # of 255, in parts of the picture
ACROSS = 3.4  # so many copies stand side by side in the picture of a step with many
TINY = 0.085  # of a figure: copies smaller than this are shown close up
ALONE = 4.0  # copies far apart: one is seen, so many times its size is shown
FEW = 12  # so many copies are shown whole in a step picture


@dataclass(frozen=True)
class Seen:
    """A picture, and whether an ink has reached it; without ink it is seen in greys with its outlines."""

    picture: Picture
    inked: bool

    @classmethod
    def after(cls, step: Step, result: ChainResult, evaluator: Evaluator, progress: Progress = QUIET) -> Seen | None:
        """Return what is seen of a chain after a step; None where nothing stands."""
        picture = evaluator.picture(result, step, progress)
        if picture is None:
            return None
        return cls(picture, bool(step.inks) or keeps_its_own(result.chain))


def step_image(
    seen: Seen, design: Design, before: Seen | None = None, width: int = THUMB, height: int = THUMB, progress: Progress = QUIET
) -> QImage:
    """Paint a step close up, or on its whole sheet if only there it differs from what was `before` it."""
    near, far = _close_view(seen.picture, design, width, height), _sheet_view(design, width, height)
    close = _painted(seen, design, near, progress)
    if before is None or before == seen or (close != _painted(before, design, near, progress)).any():
        return to_image(close)
    whole = _painted(seen, design, far, progress)
    return to_image(whole if (whole != _painted(before, design, far, progress)).any() else close)


def _painted(seen: Seen, design: Design, view: View, progress: Progress) -> Array:
    """Paint a step in a view (h, w, 4): inked as it is if that can be seen, else as outlines."""
    picture, inked = seen.picture, seen.inked
    if not inked or picture.bones:
        line = Coat(np.zeros((1, 4), np.uint8), bytes_of(("#5A5A5A",)), np.zeros(1))
        picture = replace(picture, coats=(line,) if picture.bones else (*picture.coats, line))
    ground = (design.sheet.background if inked else "") or "#FFFFFF"
    pixels = paint_now(Scene(1e7, 1e7, ground, (SceneLayer("", picture),)), view, progress)
    if inked and (share := _seen_of(pixels, ground)) < SEEN_LEAST:  # light on light: shown on a ground it stands out from
        other = DUSK if luminance(ground) > 0.3 else PALE
        on_other = paint_now(Scene(1e7, 1e7, other, (SceneLayer("", picture),)), view, progress)
        pixels = on_other if _seen_of(on_other, other) > share else pixels  # small things are hardly seen on any
    if inked and (pixels == pixels[0, 0]).all():  # in the colour of the ground: as outlines at least
        return _painted(Seen(seen.picture, False), design, view, progress)
    return pixels


def _seen_of(pixels: Array, ground: str) -> float:
    """Return the share of a picture (h, w, 4) that stands out from its ground."""
    away = np.abs(pixels[..., :3].astype(np.int16) - bytes_of((ground,))[0, :3]).max(-1)
    return float((away > STANDS_OUT).mean())


def sheet_image(picture: Picture, design: Design) -> QImage:
    """Paint a picture as it lies on the whole sheet."""
    ground = design.sheet.background or "#FFFFFF"
    return to_image(paint_now(Scene(1e7, 1e7, ground, (SceneLayer("", picture),)), _sheet_view(design, THUMB, THUMB)))


def _sheet_view(design: Design, width: int, height: int) -> View:
    """The whole sheet in the middle of `width` x `height` px."""
    return View(width, height, min(width / design.sheet.width, height / design.sheet.height), width / 2, height / 2)


def _close_view(picture: Picture, design: Design, width: int, side: int) -> View:
    """The whole of one or a few copies; of many, the middle of the sheet, large enough to tell them apart."""
    view = _square_view(picture, design, side)
    return replace(view, width=width, left=view.left + (width - side) / 2)


def _square_view(picture: Picture, design: Design, side: int) -> View:
    marks = picture.marks
    sheet = design.sheet
    if marks.count == 0:
        return View(side, side, 1.0, side / 2, side / 2)
    size = _extent(picture)
    if marks.copy[-1] < FEW:
        low, high = marks.xform[:, :, 2].min(0), marks.xform[:, :, 2].max(0)
        centre = (low + high) / 2
        scale = side * 0.82 / max(float((high - low).max()) + size, 1e-9)
        return View(side, side, scale, side / 2 - float(centre[0]) * scale, side / 2 - float(centre[1]) * scale)
    low, high = marks.xform[:, :, 2].min(0), marks.xform[:, :, 2].max(0)
    spread = float((high - low).max()) + size
    if spread < min(sheet.width, sheet.height) and size > TINY * spread:  # a figure of its own, not a cover: all of it
        centre, scale = (low + high) / 2, side * 0.9 / (float((high - low).max()) + size)
        return View(side, side, scale, side / 2 - float(centre[0]) * scale, side / 2 - float(centre[1]) * scale)
    apart = float(np.sqrt(np.prod(np.maximum(high - low, size)) / (marks.copy[-1] + 1)))
    span = min(max(sheet.width, sheet.height), max(size * ACROSS, min(apart * ACROSS, size * ALONE)))
    nearest = marks.xform[np.argmin(np.hypot(marks.xform[:, 0, 2], marks.xform[:, 1, 2])), :, 2]
    if np.abs(nearest).max() < span / 4:  # well inside: the middle of the sheet, as it lies
        return View(side, side, side / span, side / 2, side / 2)
    return View(side, side, side / span, side / 2 - float(nearest[0]) * side / span, side / 2 - float(nearest[1]) * side / span)


def _extent(picture: Picture) -> float:
    """Twice the reach of the outlines drawn for the first copy, from its origin."""
    marks = picture.marks
    rings = [
        flatten(f.verbs, f.points[max(int(v), 0) : max(int(v), 0) + 1], 8)
        for f, v in zip(marks.families, marks.variant, strict=False)
    ]
    reach = max(float(np.abs(ring).max()) for parts in rings for ring in parts)
    return 2 * reach * float(np.hypot(marks.xform[0, 0, 0], marks.xform[0, 1, 0]))


def to_image(pixels: Array) -> QImage:
    """Return premultiplied RGBA bytes as an image that owns its memory."""
    high, wide = pixels.shape[:2]
    data = np.ascontiguousarray(pixels)
    return QImage(data.data, wide, high, wide * 4, QImage.Format.Format_RGBA8888_Premultiplied).copy()


def picture_of(
    design: Design, width: int, height: int, bones: str = "", time: float = 0.0, progress: Progress = QUIET
) -> QImage:  # fmt: skip
    """Paint a whole work small at a time of the loop, 0..1, filling `width` x `height` px with the middle of its sheet.

    With `bones`, a colour, only outlines are drawn, and no ground.
    """
    evaluator, design = Evaluator(SHARED), at_moment(design, time)
    scene = make_scene(design, evaluator.design(design, progress, time, needed(design)), evaluator, progress=progress)
    scale = max(width / scene.width, height / scene.height)
    if bones and stands_alone(scene):
        scale = min(width / scene.width, height / scene.height)
    if bones:
        line = Coat(np.zeros((1, 4), np.uint8), bytes_of((bones,)), np.array([2.4 / scale]))
        outlined = [SceneLayer("", Picture(one.picture.marks, (line,))) for one in leaves(scene.layers)]  # from back to front
        layers = tuple(outlined[::-1])
        scene = replace(scene, layers=layers, background="")
    return to_image(paint_now(scene, replace(whole_page(scene, width, height), scale=scale), progress))


def changed_picture(design: Design, before: Design, width: int, height: int, progress: Progress = QUIET) -> QImage:
    """Paint a whole work small.

    Raises
    ------
    RuleRefused
        When it looks as another did `before`.
    """
    image = picture_of(design, width, height, progress=progress)
    if image == picture_of(before, width, height, progress=progress):
        raise RuleRefused(NOTHING_NEW)
    return image


def rule_picture(
    design: Design, layer: str, after: str, width: int, height: int, before: Design | None = None, progress: Progress = QUIET
) -> QImage:
    """Paint a layer close up, as it is right after the rule that follows `after`.

    Raises
    ------
    LatticeError
        When that rule cannot act; with the design `before` it, also when it would change nothing that is seen.
    """
    evaluator = Evaluator(SHARED)
    result = evaluator.design(design, progress, only={layer})[layer]
    at = next((k for k, step in enumerate(result.steps) if step.rule.id == after), len(result.steps) - 2) + 1
    step = result.steps[at]
    if step.problem:
        raise RuleRefused(step.problem)
    # the rule may act late, on what a repeat below it makes: the whole layer shows more than its own step
    late = step.rule.family in ("shape", "paint") and result.last is not None
    seen = Seen.after(result.last if late and result.last is not None else step, result, evaluator, progress)
    if seen is None:
        raise RuleRefused(result.problems[0].sentence if result.problems else "nothing stands here")
    was = _before_rule(before, layer, after, late, progress) if before is not None else None
    image = step_image(seen, design, was, width, height, progress)
    if was is not None and before is not None and image == step_image(was, before, None, width, height, progress):
        raise RuleRefused(NOTHING_NEW)
    return image


def _before_rule(design: Design, layer: str, after: str, late: bool, progress: Progress) -> Seen | None:
    """What is seen without the rule that would follow `after`: of the whole layer if it acts late."""
    evaluator = Evaluator(SHARED)
    result = evaluator.design(design, progress, only={layer})[layer]
    shown = result.last if late else next((step for step in result.steps if step.rule.id == after), result.last)
    return None if shown is None else Seen.after(shown, result, evaluator, progress)
