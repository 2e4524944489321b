"""The worker: evaluates and paints off the interface thread; the newest request wins."""

from __future__ import annotations

import itertools
import logging
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from functools import partial

import numpy as np
from PySide6.QtCore import QObject, Signal
from PySide6.QtGui import QImage

from under_lattice.colour.colour import bytes_of
from under_lattice.core.errors import GivenUp, LatticeError, RuleRefused
from under_lattice.core.progress import QUIET, Progress
from under_lattice.evaluate.evaluator import ChainResult, Evaluator, Step, evaluate, keeps_its_own
from under_lattice.geometry.affine import Array
from under_lattice.geometry.outline import flatten
from under_lattice.measure.facts import Facts, measure
from under_lattice.pattern.marks import Coat, Picture
from under_lattice.picking.picker import Picker
from under_lattice.render.painter import paint_now
from under_lattice.render.warm import is_warm, share_ready, warm, warm_elsewhere
from under_lattice.scene.tree import Scene, SceneLayer, View, make_scene, whole_page
from under_lattice.work.model import Design

THUMB = 80
WARMING_POLL = 0.3  # seconds
PATIENCE = 0.08  # seconds without a picture after which one is no longer given up at once for a newer request
OUT_OF_DATE = 0.5  # seconds after which a picture under way is given up for a newer request all the same
ACROSS = 3.4  # so many copies stand side by side in the picture of a step with many
LONG = 0.4  # seconds after which a rule, or the painter, says how far it is
DRAWING = "drawing"
TOLD_EVERY = 0.1
STOPPED = "stopped; the picture is the one before. Undo takes the change back"
FEW = 12  # so many copies are shown whole in a step picture


@dataclass(frozen=True)
class Request:
    """What is wanted: a design in a view, with the pictures of one layer's steps."""

    number: int
    design: Design
    view: View
    layer: str
    bones: bool = False


@dataclass(frozen=True, eq=False)
class Answer:
    """A painted sheet, and what was worked out on the way."""

    request: Request
    picture: QImage
    results: dict[str, ChainResult]
    seconds: float
    problem: str = ""
    plain: bool = False
    notes: tuple[str, ...] = ()


@dataclass(frozen=True, eq=False)
class Thumbs:
    """Step pictures and layer pictures by id, and the facts of the chosen layer."""

    request: Request
    facts: Facts
    steps: dict[str, QImage] = field(default_factory=dict)
    layers: dict[str, QImage] = field(default_factory=dict)


log = logging.getLogger(__name__)
NUMBERS = itertools.count(1)  # of all requests, whoever asks: an answer meant for a work closed since is known by it


class Engine(QObject):
    """One thread with a one-slot mailbox."""

    painted = Signal(object)
    picked = Signal(object)  # Picked or None
    thumbs = Signal(object)
    warming = Signal(float)  # how much of the compiling is done
    working = Signal(str, float)  # a rule or the painter that works long, and how far it is

    def __init__(self) -> None:
        super().__init__()
        self._wake = threading.Condition()
        self._wanted: Request | None = None
        self._running = True
        self._evaluator = Evaluator()
        self._shown_at = 0.0
        self._last: Request | None = None
        self._under_way: Request | None = None
        self._given_up = -1  # number of a request the person has stopped
        self._begun = self._told = 0.0
        self._pick_at: tuple[float, float] | None = None
        self._picker: Picker | None = None
        self._warming = None if is_warm() else warm_elsewhere()
        self._seen: dict[tuple[str, str], tuple[object, QImage]] = {}
        self._thread = threading.Thread(target=self._work, name="engine", daemon=True)
        self._thread.start()

    def ask(self, request: Request) -> None:
        """Take a request; one not yet begun is dropped, one under way is stopped."""
        with self._wake:
            self._wanted = request
            self._wake.notify()

    def pick(self, x: float, y: float) -> None:
        """Ask what is seen at a point of the page in the last painted view; `picked` answers."""
        with self._wake:
            self._pick_at = (x, y)
            self._wake.notify()

    def close(self) -> None:
        """End the thread, as soon as what it is at looks up; nobody waits for it."""
        with self._wake:
            self._running = False
            self._wanted = None
            self._wake.notify()
        if self._warming is not None:
            self._warming.terminate()
            self._warming.wait(10)  # it ends at once

    def give_up(self) -> None:
        """Stop what is under way; its answer says so."""
        if self._under_way is not None:
            self._given_up = self._under_way.number

    def _tell(self, name: str, share: float) -> None:
        """Say how far what has been at work for a while is."""
        now = time.perf_counter()
        if now - self._begun > LONG and now - self._told > TOLD_EVERY:
            self._told = now
            self.working.emit(name, share)

    def _newer(self) -> bool:
        return self._wanted is not None or not self._running

    def _give_way(self) -> bool:
        """Whether to stop for a newer request; after a while without a picture a quick one is finished all the same."""
        if not self._running or (self._under_way is not None and self._under_way.number == self._given_up):
            return True
        now = time.perf_counter()
        return self._wanted is not None and (now - self._shown_at < PATIENCE or now - self._begun > OUT_OF_DATE)

    def _work(self) -> None:
        while True:
            with self._wake:
                while self._wanted is None and self._pick_at is None and self._running:
                    self._wake.wait(WARMING_POLL if self._warming else None)
                    self._look_at_warming()
                if not self._running:
                    return
                request, self._wanted = self._wanted, None
                if request is None:
                    point, self._pick_at = self._pick_at, None
            if request is None:
                if point is not None:
                    self.picked.emit(self._picker.pick(*point) if self._picker is not None else None)
                continue
            self._last = self._under_way = request
            try:
                self._answer(request)
            except GivenUp:
                if request.number == self._given_up:
                    self.painted.emit(Answer(request, to_image(np.zeros((1, 1, 4), np.uint8)), {}, 0.0, STOPPED))
                continue
            except Exception as error:  # a fault of ours must not leave the window without pictures for good
                log.exception("painting failed")
                sentence = f"this could not be drawn ({type(error).__name__}); the last picture stays. Undo takes the change back"
                self.painted.emit(Answer(request, to_image(np.zeros((1, 1, 4), np.uint8)), {}, 0.0, sentence))

    def _look_at_warming(self) -> None:
        """When the compiled painter has become ready, paint once more with it."""
        if self._warming is None:
            return
        if self._warming.poll() is None and not is_warm():
            self.warming.emit(share_ready())
            return
        self._warming = None
        if not is_warm():
            warm()  # that process came to grief; this thread does it
        if self._wanted is None and self._last is not None:
            self._wanted = replace(self._last, number=next(NUMBERS))

    def _answer(self, request: Request) -> None:
        begun = self._begun = time.perf_counter()
        plain = not is_warm()
        notes: list[str] = []
        progress = Progress(self._give_way, self._tell, notes.append)
        problem, results, pixels = "", {}, np.zeros((1, 1, 4), np.uint8)  # type: tuple[str, dict[str, ChainResult], Array]
        try:
            results = self._evaluator.design(request.design, progress)
            scene = make_scene(request.design, results, self._evaluator, request.bones, construction=True, progress=progress)
            pixels = paint_now(scene, request.view, progress.named(DRAWING))
            self._picker = None if plain else Picker(scene, request.view, results)
        except LatticeError as error:
            problem = str(error)
        self._shown_at = time.perf_counter()
        took = time.perf_counter() - begun
        self.painted.emit(Answer(request, to_image(pixels), results, took, problem, plain, tuple(notes)))
        if results and not problem:
            self._thumbs(request, results)

    def _thumbs(self, request: Request, results: dict[str, ChainResult]) -> None:
        later = Progress(self._newer)
        later.check()
        facts = Facts()
        if request.layer in results:
            facts = measure(results[request.layer], self._evaluator, request.design.sheet, later)
        self.thumbs.emit(Thumbs(request, facts))
        steps, layers = {}, {}
        chosen = results.get(request.layer)
        for step in chosen.steps if chosen else ():
            if step.stage is not None and chosen is not None:
                steps[step.rule.id] = self._step_picture(request, chosen, step, later)
        self.thumbs.emit(Thumbs(request, facts, steps, {}))
        for layer_id, result in results.items():
            if result.last is not None:
                layers[layer_id] = self._step_picture(request, result, result.last, later, "layer")
        for layer in request.design.all_layers():
            seen = self._evaluator.seen_as(layer, results, later) if layer.members else None
            if seen is not None and seen.marks.count:
                layers[layer.id] = self._kept((layer.id, "group"), seen, partial(_step_image, seen, request.design, True))
        self.thumbs.emit(Thumbs(request, facts, steps, layers))

    def _step_picture(self, request: Request, result: ChainResult, step: Step, progress: Progress, kind: str = "") -> QImage:
        progress.check()
        sheet = request.design.sheet
        key = (step.stage, tuple(ink for ink, _ in step.inks), sheet.background, sheet.width, sheet.height)
        slot = (result.chain.id, kind or step.rule.id)
        inked = bool(step.inks) or keeps_its_own(result.chain)

        def made() -> QImage:
            picture = self._evaluator.picture(result, step, progress)
            assert picture is not None
            return _step_image(picture, request.design, inked, progress=progress)

        return self._kept(slot, key, made)

    def _kept(self, slot: tuple[str, str], key: object, make: Callable[[], QImage]) -> QImage:
        """A picture as long as its key is the same, else made anew."""
        known = self._seen.get(slot)
        if known is None or known[0] != key:
            known = self._seen[slot] = (key, make())
        return known[1]


def _step_image(
    picture: Picture, design: Design, inked: bool, width: int = THUMB, height: int = THUMB, progress: Progress = QUIET
) -> QImage:
    """Paint a step close up; in greys with their outlines while no ink has reached it."""
    if not inked or picture.bones:
        line = Coat(np.zeros((1, 4), np.uint8), bytes_of(("#5A5A5A",)), np.zeros(1))
        picture = replace(picture, coats=(line,) if picture.bones else (*picture.coats, line))
    view = _close_view(picture, design, height)
    view = replace(view, width=width, left=view.left + (width - height) / 2)
    ground = (design.sheet.background if inked else "") or "#FFFFFF"
    pixels = paint_now(Scene(1e7, 1e7, ground, (SceneLayer("", picture),)), view, progress)
    if inked and (pixels == pixels[0, 0]).all():  # in the colour of the ground: as outlines at least
        return _step_image(picture, design, False, width, height, progress)
    return to_image(pixels)


def _close_view(picture: Picture, design: Design, side: int = THUMB) -> View:
    """The whole of one or a few copies; of many, the middle of the sheet, large enough to tell them apart."""
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
    if float((high - low).max()) + size < min(sheet.width, sheet.height):  # a figure of its own, not a cover: all of it
        centre, scale = (low + high) / 2, side * 0.9 / (float((high - low).max()) + size)
        return View(side, side, scale, side / 2 - float(centre[0]) * scale, side / 2 - float(centre[1]) * scale)
    apart = float(np.sqrt(np.prod(np.maximum(high - low, size)) / (marks.copy[-1] + 1)))
    span = min(max(sheet.width, sheet.height), max(size, apart) * ACROSS)
    nearest = marks.xform[np.argmin(np.hypot(marks.xform[:, 0, 2], marks.xform[:, 1, 2])), :, 2]
    if np.abs(nearest).max() < span / 2:
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


def picture_of(design: Design, width: int, height: int, bones: str = "") -> QImage:
    """Paint a whole work small, filling `width` x `height` px with the middle of its sheet.

    With `bones`, a colour, only outlines are drawn, and no ground.
    """
    evaluator = Evaluator()
    scene = make_scene(design, evaluate(design, evaluator), evaluator)
    scale = max(width / scene.width, height / scene.height)
    if bones and _stands_alone(scene):
        scale = min(width / scene.width, height / scene.height)
    if bones:
        line = Coat(np.zeros((1, 4), np.uint8), bytes_of((bones,)), np.array([2.4 / scale]))
        layers = tuple(SceneLayer("", Picture(one.picture.marks, (line,))) for one in scene.layers if isinstance(one, SceneLayer))
        scene = replace(scene, layers=layers, background="")
    return to_image(paint_now(scene, replace(whole_page(scene, width, height), scale=scale)))


def _stands_alone(scene: Scene) -> bool:
    """Whether all that is drawn is a figure on the sheet, not a cover that goes on beyond it."""
    half = np.array([scene.width, scene.height]) / 2
    layers = [one for one in scene.layers if isinstance(one, SceneLayer)]
    return all((np.abs(one.picture.marks.xform[:, :, 2]) < half * 0.8).all() for one in layers)


def rule_picture(design: Design, layer: str, after: str, width: int, height: int) -> QImage:
    """Paint a layer close up, as it is right after the rule that follows `after`.

    Raises
    ------
    LatticeError
        When that rule cannot act.
    """
    evaluator = Evaluator()
    result = evaluator.design(design)[layer]
    at = next((k for k, step in enumerate(result.steps) if step.rule.id == after), len(result.steps) - 2) + 1
    step = result.steps[at]
    if step.problem:
        raise RuleRefused(step.problem)
    # the rule may act late, on what a repeat below it makes: the whole layer shows more than its own step
    shown = result.last if step.rule.family in ("shape", "paint") and result.last is not None else step
    picture = evaluator.picture(result, shown)
    if picture is None:
        raise RuleRefused(result.problems[0].sentence if result.problems else "nothing stands here")
    return _step_image(picture, design, bool(shown.inks) or keeps_its_own(result.chain), width, height)
