"""Pictures of the sheet, its facts and step pictures, asked of the worker; the newest request wins."""

from __future__ import annotations

import itertools
import time
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from functools import cached_property, partial

from PySide6.QtCore import QObject, QTimer, Signal, SignalInstance
from PySide6.QtGui import QImage

from under_lattice.core.errors import LatticeError
from under_lattice.core.progress import Progress
from under_lattice.evaluate.cache import SHARED
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.evaluate.finishing import effects_down_to
from under_lattice.evaluate.result import ChainResult, Step
from under_lattice.loop.moment import at_moment
from under_lattice.measure.facts import Facts, measure, measure_together
from under_lattice.picking.picker import Picked, Picker
from under_lattice.render.coverage import coverage, shares_of_colours
from under_lattice.render.painter import paint_now
from under_lattice.render.tones import tones_in
from under_lattice.render.warm import is_warm, share_ready, warm, warm_elsewhere
from under_lattice.scene.tree import View, make_scene
from under_lattice.ui.workers.small_pictures import THUMB, Seen, picture_of, sheet_image, step_image, to_image
from under_lattice.ui.workers.worker import Job, Urgency, worker
from under_lattice.work.colours import colours_of_rules
from under_lattice.work.model import Design, Sheet
from under_lattice.work.reading import needed

WARMING_POLL = 300  # ms
PATIENCE = 0.08  # seconds; where pictures take longer, one is given up at once for a newer request for so long after the last
OUT_OF_DATE = 0.5  # seconds after which a picture under way is given up for a newer request all the same
LONG = 0.4  # seconds after which a rule, or the painter, says how far it is
DRAWING = "drawing"
SHEET, BESIDE = "sheet", "beside"
FAULT = "this could not be drawn ({}); the last picture stays. Undo takes the change back"
STOPPED = "stopped; the picture is the one before. Undo takes the change back"


@dataclass(frozen=True)
class Request:
    """What is wanted: a design in a view at a time of the loop (0..1), with the pictures of one layer's steps.

    One that is `aside` is looked at instead of the work for a while: a picture alone is wanted. `mask_of` is the layer whose mask
    is shown, if any.
    """

    number: int
    design: Design
    view: View
    layer: str
    bones: bool = False
    time: float = 0.0
    aside: bool = False
    mask_of: str = ""

    @cached_property
    def now(self) -> Design:
        """The design as it is at that time."""
        return at_moment(self.design, self.time)


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


@dataclass(frozen=True, eq=False)
class _Shown:
    """What was painted last, which serves as long as the work is seen the same way."""

    request: Request
    plain: bool
    picture: QImage
    notes: tuple[str, ...]
    picker: Picker

    def serves(self, request: Request, plain: bool) -> bool:
        """Whether the same picture is wanted; another layer may be chosen."""
        own = self.request
        return own.design is request.design and (own.view, own.bones, own.time, own.mask_of, self.plain) == (
            request.view,
            request.bones,
            request.time,
            request.mask_of,
            plain,
        )


NUMBERS = itertools.count(1)  # of all requests, whoever asks: an answer meant for a work closed since is known by it


class Engine(QObject):
    """Asks the worker for pictures of the sheet, and for what stands round it."""

    painted = Signal(object)
    picked = Signal(object)  # Picked or None
    thumbs = Signal(object)
    beside = Signal(object, object)  # picture and view of what the work is compared with
    warming = Signal(float)  # how much of the compiling is done
    working = Signal(str, float)  # a rule or the painter that works long, and how far it is

    def __init__(self) -> None:
        super().__init__()
        self._evaluator, self._measurer = Evaluator(SHARED), Evaluator(SHARED)  # each looks at one design at a time
        self._shown: _Shown | None = None
        self._shown_at = self._took = 0.0  # when the last picture was there, and how long it took
        self._last: Request | None = None
        self._job: Job | None = None
        self._begun = 0.0
        self._facts_kept: tuple[object, Facts] | None = None
        self._seen: dict[tuple[str, str], tuple[object, QImage]] = {}
        self._warming = None if is_warm() else warm_elsewhere()
        self._look = QTimer(self, interval=WARMING_POLL)
        self._look.timeout.connect(self._look_at_warming)
        if self._warming is not None:
            self._look.start()

    def ask(self, request: Request) -> None:
        """Take a request; one not yet begun is dropped, one under way is stopped."""
        self._last = request
        job = Job(SHEET, Urgency.SHEET, partial(self._answer, request), told=self._tell, owner=self, fault=FAULT)
        job.gives_way = self._give_way
        job.failed = lambda sentence: self._failed(request, job, sentence)
        self._job = worker().ask(job)

    def ask_beside(self, design: Design, view: View, time: float) -> None:
        """Ask for a picture of another design in the view of the sheet; `beside` brings it."""

        def painted(progress: Progress) -> QImage:
            evaluator, now = Evaluator(SHARED), at_moment(design, time)
            results = evaluator.design(now, progress, time, needed(now))
            return to_image(paint_now(make_scene(now, results, evaluator, progress=progress), view, progress))

        job = Job(BESIDE, Urgency.LOOKED_AT, painted, lambda picture: self.beside.emit(picture, view), owner=self)
        worker().ask(job)

    def pick(self, x: float, y: float) -> None:
        """Ask what is seen at a point of the page in the last painted view; `picked` answers."""

        def picked(_: Progress) -> Picked | None:
            shown = self._shown
            return shown.picker.pick(x, y) if shown is not None and not shown.plain else None

        worker().ask(Job("pick", Urgency.SHEET, picked, self.picked.emit, owner=self))

    def forget(self) -> None:
        """Let go of all that was worked out for a work that is closed."""
        worker().drop(self)
        self._last = self._shown = self._job = None
        self._facts_kept = None
        self._seen.clear()
        SHARED.clear()
        if is_warm():
            from under_lattice.render.finish.kept import FINISHED  # loads the compiled kernels

            FINISHED.clear()

    def close(self) -> None:
        """Give everything up; nobody waits for it."""
        self._look.stop()
        worker().drop(self)
        if self._warming is not None:
            self._warming.terminate()
            self._warming.wait(10)  # it ends at once

    def give_up(self) -> None:
        """Stop the picture that is under way; its answer says so."""
        if self._job is not None:
            worker().cancel(self._job)

    def _failed(self, request: Request, job: Job, sentence: str) -> None:
        """Say why there is no picture: a fault, or that the person stopped it; one that gave way says nothing."""
        if sentence or job.cancelled:
            self.painted.emit(Answer(request, QImage(), {}, 0.0, sentence or STOPPED))

    def _hand(self, signal: SignalInstance, what: object) -> None:
        """Emit a signal on the interface thread."""
        worker().hand(self, signal.emit, what)

    def _tell(self, name: str, share: float) -> None:
        """Say how far what has been at work for a while is."""
        if time.perf_counter() - self._begun > LONG:
            self.working.emit(name, share)

    def _give_way(self) -> bool:
        """Whether to stop for a newer request; a quick picture is finished, since it is seen sooner than the next would be."""
        now = time.perf_counter()
        return now - self._begun > OUT_OF_DATE or (self._took > PATIENCE and now - self._shown_at < PATIENCE)

    def _look_at_warming(self) -> None:
        """When the compiled painter has become ready, paint once more with it."""
        if self._warming is not None and self._warming.poll() is None and not is_warm():
            self.warming.emit(share_ready())
            return
        self._warming = None
        self._look.stop()
        if is_warm():
            self._again()
        else:  # that process came to grief; a thread does it
            worker().ask(Job("warming", Urgency.REST, lambda _: warm(), lambda _: self._again(), owner=self))

    def _again(self) -> None:
        if self._last is not None:
            self.ask(replace(self._last, number=next(NUMBERS)))

    def _answer(self, request: Request, progress: Progress) -> None:
        begun = self._begun = time.perf_counter()
        plain = not is_warm()
        notes: list[str] = []
        progress = replace(progress, note=notes.append)
        problem, picture = "", QImage(1, 1, QImage.Format.Format_RGBA8888_Premultiplied)
        results: dict[str, ChainResult] = {}
        try:
            if request.aside:
                self._look_aside(request, progress, notes)
                return
            wanted = needed(request.now, request.layer)
            results = self._evaluator.design(request.now, progress, request.time, wanted)
            if self._shown is None or not self._shown.serves(request, plain):
                scene = make_scene(request.now, results, self._evaluator, request.bones, True, progress, request.mask_of)
                painted = to_image(paint_now(scene, request.view, progress.named(DRAWING)))
                self._shown = _Shown(request, plain, painted, tuple(notes), Picker(scene, request.view, results))
            picture, notes = self._shown.picture, list(self._shown.notes)
        except LatticeError as error:
            problem = str(error)
        self._shown_at = time.perf_counter()
        self._took = self._shown_at - begun
        self._hand(self.painted, Answer(request, picture, results, self._took, problem, plain, tuple(notes)))
        if results and not problem:
            worker().ask(Job("facts", Urgency.LOOKED_AT, partial(self._thumbs, request), owner=self))

    def _look_aside(self, request: Request, progress: Progress, notes: list[str]) -> None:
        """Paint another design in place of the work; what is kept of the work stays."""
        evaluator = Evaluator(SHARED)
        results = evaluator.design(request.now, progress, request.time, needed(request.now))
        scene = make_scene(request.now, results, evaluator, request.bones, progress=progress)
        picture = to_image(paint_now(scene, request.view, progress.named(DRAWING)))
        self._shown_at = time.perf_counter()
        self._hand(
            self.painted, Answer(request, picture, results, self._shown_at - self._begun, plain=not is_warm(), notes=tuple(notes))
        )

    def _thumbs(self, request: Request, progress: Progress) -> None:
        later = replace(progress, stop=lambda: progress.stop() or self._last is not request)
        later.check()
        results = self._measurer.design(request.now, later, request.time, needed(request.now, request.layer))
        facts = Facts()
        if not request.layer:
            pass
        elif request.layer in results:
            facts = self._facts(results[request.layer], request.design.sheet, later)
        elif request.design.layer(request.layer).veils:
            facts = Facts(gap_words="changes what lies beneath it", veils=True)
        else:
            own = request.design.layer(request.layer).chains()
            facts = measure_together([results[one.id] for one in own if one.id in results])
        self._hand(self.thumbs, Thumbs(request, facts))
        facts = replace(facts, tones=tones_in(request.now, results, self._measurer, request.layer, later))
        steps, layers = {}, {}
        chosen = results.get(request.layer)
        before = None
        for step in chosen.steps if chosen else ():
            if step.stage is not None and chosen is not None:
                steps[step.rule.id] = self._step_picture(request, chosen, step, later, before=before)
                before = step
        self._hand(self.thumbs, Thumbs(request, facts, steps, {}))
        results = self._measurer.design(request.now, later, request.time)  # the hidden ones too, now that nobody waits
        for layer_id, result in results.items():
            if result.last is not None:
                layers[layer_id] = self._step_picture(request, result, result.last, later, "layer")
        for layer in request.now.all_layers():
            seen = self._measurer.seen_as(layer, results, later) if layer.members else None
            if seen is not None and seen.marks.count:
                layers[layer.id] = self._kept((layer.id, "group"), seen, partial(sheet_image, seen, request.design))
            if layer.veils:
                made = partial(picture_of, request.design, THUMB, THUMB)
                layers[layer.id] = self._kept((layer.id, "veil"), request.design, made)
                steps |= {rule.id: layers[layer.id] for rule in layer.own_rules if layer.id == request.layer}
        self._hand(self.thumbs, Thumbs(request, facts, steps, layers))

    def _facts(self, result: ChainResult, sheet: Sheet, progress: Progress) -> Facts:
        """The facts of a chain, those of before where it is as it was: another view changes none."""
        last = result.last
        inks = tuple(ink for ink, _ in last.inks) if last else ()
        key = (result.chain, last.stage if last else None, inks, sheet, result.problems)
        if self._facts_kept is not None and self._facts_kept[0] == key:
            return self._facts_kept[1]
        facts = measure(result, self._measurer, sheet, progress)
        picture = self._measurer.picture(result, progress=progress)
        if picture is not None:
            size = sheet.width, sheet.height
            colours = colours_of_rules(inks)
            facts = replace(
                facts, coverage=coverage(picture, *size, progress), shares=shares_of_colours(picture, colours, *size, progress)
            )
        self._facts_kept = key, facts
        return facts

    def _step_picture(
        self, request: Request, result: ChainResult, step: Step, progress: Progress, kind: str = "", before: Step | None = None
    ) -> QImage:
        progress.check()
        sheet = request.design.sheet
        key = (
            step.stage,
            tuple(ink for ink, _ in step.inks),
            effects_down_to(result, step),
            sheet.background,
            sheet.width,
            sheet.height,
        )
        slot = (result.chain.id, kind or step.rule.id)

        def made() -> QImage:
            seen = Seen.after(step, result, self._measurer, progress)
            was = Seen.after(before, result, self._measurer, progress) if before is not None else None
            assert seen is not None
            return step_image(seen, request.design, was, progress=progress)

        return self._kept(slot, key, made)

    def _kept(self, slot: tuple[str, str], key: object, make: Callable[[], QImage]) -> QImage:
        """A picture as long as its key is the same, else made anew."""
        known = self._seen.get(slot)
        if known is None or known[0] != key:
            known = self._seen[slot] = (key, make())
        return known[1]
