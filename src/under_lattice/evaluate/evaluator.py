"""Evaluation: a frozen design becomes stages, marks and coats; what did not change is not done again."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping
from dataclasses import dataclass, field, replace
from types import MappingProxyType

import numpy as np

from under_lattice.core.errors import LatticeError
from under_lattice.core.progress import QUIET, Progress
from under_lattice.evaluate.beyond import goes_on, larger
from under_lattice.evaluate.cache import Cache
from under_lattice.evaluate.finishing import closed_of, cut_off
from under_lattice.evaluate.placing import common_place, place_of
from under_lattice.evaluate.result import (
    NONE,
    ChainResult,
    Problem,
    Step,
    construction_parts,
    gone_sources,
    is_construction,
    keeps_its_own,
    nearest_repeat,
    refused_on_tiles,
)
from under_lattice.evaluate.seen import Part, aside_of, parts_of
from under_lattice.geometry.affine import IDENTITY, Array, compose, inverse
from under_lattice.pattern.coats import bare_coat, with_thin
from under_lattice.pattern.inked import joined, moved, own_closed, own_coats, with_opacity
from under_lattice.pattern.known import NOTHING_KNOWN, Brightness, Known
from under_lattice.pattern.marks import MarkAsk, Marks, Picture, draw
from under_lattice.pattern.stage import Stage, limit_parts, placed
from under_lattice.rules.base import Rule
from under_lattice.rules.ground import Filling, Ground, Standing
from under_lattice.work.layers import AnyLayer, Chain
from under_lattice.work.model import Design, Sheet
from under_lattice.work.pictures import StoredPicture, brightness_of, pixels_of

Fillings = tuple[tuple[str, Filling], ...]
NO_FILLS: Mapping[str, Fillings] = MappingProxyType({})
LONGEST = 4096  # px of the longer side of a picture that is painted


@dataclass
class Evaluator:
    """Keeps the last evaluation of each chain; stages are reused where rule, stage above and ground are the same.

    Attributes
    ----------
    computed : list of str
        Ids of the rules whose stages were made anew by the last call, for tests of the cache.
    """

    cache: Cache = field(default_factory=Cache)
    computed: list[str] = field(default_factory=list)
    _stored: dict[str, StoredPicture] = field(default_factory=dict)

    def design(
        self, design: Design, progress: Progress = QUIET, time: float = 0.0, only: Collection[str] | None = None
    ) -> dict[str, ChainResult]:
        """Return the steps of all chains by layer id, at a time of the loop 0..1; a layer that others read comes before them.

        With `only`, ids of layers, just of those and of what they read.

        Raises
        ------
        GivenUp
        """
        done: dict[str, ChainResult] = {}
        layers = {layer.id: layer for layer in design.all_layers()}
        self._stored = {picture.id: picture for picture in design.pictures}

        self.computed.clear()
        known = Known(time=time, seconds=time * design.loop.seconds, pictures=_Looked(self))

        def visit(chain: Chain, path: tuple[str, ...]) -> None:
            if chain.id in done:
                return
            others: dict[str, Picture] = {}
            for other in sorted({one for rule in chain.rules if rule.on for one in rule.layers()} & layers.keys()):
                members = layers[other].chains()
                if {member.id for member in members} & {*path, chain.id}:  # one that reads this one in turn is not there for it
                    continue
                for member in members:
                    visit(member, (*path, chain.id))
                seen = self.seen_as(layers[other], done, progress)
                if seen is not None:
                    others[other] = self._within(seen, common_place(design, chain, layers[other], known))
            fills = self._fills(chain, others, done, design, known, progress)
            done[chain.id] = self.chain(chain, design.sheet, progress, others, known, place_of(design, chain, known), fills)

        for chain in design.chains():
            if only is None or chain.id in only:
                visit(chain, ())
        return {chain.id: done[chain.id] for chain in design.chains() if chain.id in done}

    def _within(self, picture: Picture, place: Array) -> Picture:
        """What is seen of a layer, as it stands in a group that is brought to a place (2, 3)."""
        if np.array_equal(place, IDENTITY):
            return picture
        key = ("within", id(picture), place.tobytes())
        return self.cache.get(key, (picture,), NOTHING_KNOWN, lambda _: moved(picture, inverse(place)))

    def _fills(
        self, chain: Chain, others: Mapping[str, Picture], done: Mapping[str, ChainResult], design: Design, work: Known,
        progress: Progress,
    ) -> dict[str, Fillings]:  # fmt: skip
        """What the inks of a chain fill shapes and lines with, by their ids."""
        out: dict[str, Fillings] = {}
        for rule in chain.rules:
            if not rule.on or rule.family != "paint":
                continue
            for name in rule.layers():
                if name in others:
                    layer = design.layer(name)
                    filling = Filling(others[name], common_place(design, chain, layer, work))
                    filling = self._filling(rule, layer, filling, done, design, work, progress)
                    out[rule.id] = (*out.get(rule.id, ()), (name, filling))
        return out

    def _filling(
        self, rule: Rule, layer: AnyLayer, filling: Filling, done: Mapping[str, ChainResult], design: Design, work: Known,
        progress: Progress,
    ) -> Filling:  # fmt: skip
        """What an ink fills shapes with: a layer, on a larger sheet where it needs more of the same pattern."""
        by, members = rule.reads_beyond(layer.id, design.sheet.width, design.sheet.height), layer.chains()
        if by > 1 and goes_on(members):
            wide = larger(design.sheet, by, (done[member.id] for member in members))
            results = {
                member.id: self.chain(member, wide, progress, done[member.id].others, work, place_of(design, member, work))
                for member in members
            }
            beyond = self.seen_as(layer, results, progress)
            if beyond is not None:
                return Filling(self._within(beyond, filling.place), filling.place)
        return filling

    def seen_as(self, layer: AnyLayer, done: Mapping[str, ChainResult], progress: Progress = QUIET) -> Picture | None:
        """Return what other layers see of a chain or a group, the same object as long as nothing in it has changed.

        Groups inside are taken with their opacity, and those that are hidden are not seen.

        Raises
        ------
        GivenUp
        """
        parts = [part for part in parts_of(layer, done) if part.last is not None]
        parts = [replace(part, bones=is_construction(part.chain)) for part in parts]
        key = ("seen", layer.id, id(layer), *(part.told() for part in parts))
        holds = (layer, *((part.last, part.chain) for part in parts))
        return self.cache.get(key, holds, NOTHING_KNOWN, lambda _: self._seen(layer, parts, done, progress))

    def _seen(self, layer: AnyLayer, parts: list[Part], done: Mapping[str, ChainResult], progress: Progress) -> Picture | None:
        pictures = [
            (picture, part.opacity, part.blend)
            for part in parts
            if (picture := self.picture(done[part.chain.id], progress=progress)) is not None
            and (layer.id == part.chain.id or not picture.bones)
        ]
        if not pictures:
            return None
        known = next((result.known for result in done.values()), NOTHING_KNOWN)
        aside = tuple(sorted(aside_of(layer, known)))
        if layer.members:
            return replace(joined(pictures), aside=aside)
        picture, opacity, blend = pictures[0]  # its marks as they are, with their copies
        return replace(picture, coats=tuple(with_opacity(coat, opacity, blend) for coat in picture.coats), aside=aside)

    def chain(
        self,
        chain: Chain,
        sheet: Sheet,
        progress: Progress = QUIET,
        others: Mapping[str, Picture] = NONE,
        work: Known = NOTHING_KNOWN,
        place: Array = IDENTITY,
        fills: Mapping[str, Fillings] = NO_FILLS,
    ) -> ChainResult:
        """Return the steps of one chain.

        `others` are the layers its rules read, `work` is what numbers may know of the work; `place` (2, 3) is where the whole chain
        is brought in the end, and `fills` are what inks fill shapes with, by their ids.

        Raises
        ------
        GivenUp
            When `progress` says that they are not wanted any more.
        LimitError
            When `progress` refuses to go on.
        """
        if work is NOTHING_KNOWN:
            self.computed.clear()
        live = [rule for rule in chain.rules if rule.on]
        known = replace(work, rules=frozenset(rule.id for rule in live), width=sheet.width, height=sheet.height)
        stage: Stage | None = None
        inks: tuple[tuple[Rule, Standing], ...] = ()
        steps: list[Step] = []
        for at, rule in enumerate(chain.rules):
            progress.check()
            problem = ""
            if rule.on or rule.family == "motif":
                below = chain.rules[at + 1 :]
                try:
                    if rule.lays(inks):
                        above = stage.rule if stage is not None else ""
                        inks = (*inks, (rule, Standing(nearest_repeat(chain, at), above, fills.get(rule.id, ()))))
                    if rule.family != "paint":
                        stage = self._stage(
                            rule, stage, _seen_back(rule, stage, below, sheet, place), below, known, others, progress
                        )
                except LatticeError as error:
                    problem = str(error)
            progress.stood(stage.n if stage is not None else 0, problem)
            steps.append(Step(rule, stage, inks, problem))
        problems = tuple(Problem(chain.id, s.rule.id, s.problem) for s in steps if s.problem)
        return ChainResult(
            chain,
            tuple(steps),
            known,
            problems + gone_sources(chain, known) + refused_on_tiles(chain, steps) + cut_off(chain, steps),
            others,
            self._placed(chain.end.id, stage, place),
        )

    def _placed(self, end: str, stage: Stage | None, place: Array) -> Stage | None:
        """The copies brought to the place of the layer; nothing where they stay."""
        if stage is None or np.array_equal(place, IDENTITY):
            return None
        key = ("placed", end, id(stage), place.tobytes())
        return self.cache.get(key, (stage,), NOTHING_KNOWN, lambda _: placed(stage, end, place))

    def _stage(
        self, rule: Rule, above: Stage | None, back: Array, below: tuple[Rule, ...], known: Known, others: Mapping[str, Picture],
        progress: Progress,
    ) -> Stage | None:  # fmt: skip
        repeat_below = next((r.id for r in below if r.on and r.family == "repeat"), "")
        read = {layer: others[layer] for layer in rule.layers() if layer in others}
        key = ("stage", id(rule), id(above), repeat_below, back.tobytes(), *map(id, read.values()))

        def made(watched: Known) -> Stage | None:
            self.computed.append(rule.id)
            here = above.rule if above is not None else ""
            marks = {layer: picture.marks for layer, picture in read.items()}
            named = progress.named(rule.shown_name())
            stage = rule.acts(above, Ground(back, watched, repeat_below, marks, read, self.pixels, here, named))
            if stage is not None:
                limit_parts(stage)
            return stage

        return self.cache.get(key, (rule, above, *read.values()), known, made)

    def brightness(self, picture: str) -> Brightness:
        """Return how light a picture of the work last evaluated is; looked at once."""
        stored = self._stored[picture]
        return self.cache.get(("brightness", picture), (), NOTHING_KNOWN, lambda _: brightness_of(stored))

    def pixels(self, picture: str) -> Array | None:
        """Return the pixels (H, W, 4) of a picture of the work last evaluated; read once."""
        if picture not in self._stored:
            return None
        stored = self._stored[picture]
        return self.cache.get(("pixels", picture), (), NOTHING_KNOWN, lambda _: pixels_of(stored, LONGEST))

    def picture(self, result: ChainResult, step: Step | None = None, progress: Progress = QUIET) -> Picture | None:
        """Return marks and coats of a chain, or of one of its steps; greys where no ink has reached. Painted once for each result.

        Raises
        ------
        GivenUp
        """
        step = step or result.last
        if step is None or step.stage is None:
            return None
        stage, marks = step.stage, self.marks(step.stage, result.known, progress)
        if not marks.count:
            return Picture(marks, ())
        if is_construction(result.chain):
            return Picture(marks, (bare_coat(marks),), bones=True)
        key = "picture", id(result), id(step), id(marks)
        return self.cache.get(key, (result, step, marks), result.known, lambda known: _painted(result, step, stage, marks, known))

    def marks(self, stage: Stage, known: Known, progress: Progress = QUIET) -> Marks:
        """Draw the shapes of a stage; drawn once for each stage.

        Raises
        ------
        GivenUp
        """
        return self.cache.get(("marks", id(stage)), (stage,), known, lambda watched: draw(stage, watched, progress))


@dataclass(frozen=True)
class _Looked(Mapping[str, Brightness]):
    """How light the pictures of a work are, each looked at only when it is asked for."""

    evaluator: Evaluator

    def __getitem__(self, key: str) -> Brightness:
        if key not in self.evaluator._stored:
            raise KeyError(key)
        return self.evaluator.brightness(key)

    def __iter__(self) -> Iterator[str]:
        return iter(self.evaluator._stored)

    def __len__(self) -> int:
        return len(self.evaluator._stored)


def _seen_back(rule: Rule, above: Stage | None, below: tuple[Rule, ...], sheet: Sheet, place: Array) -> Array:
    """The map from a rule's place to the sheet, where what stands below, the layer's `place` included, brings all alike."""
    if not rule.sees_sheet or above is None or not above.n:
        return IDENTITY
    whole: Array = IDENTITY
    motif = replace(
        above,
        xform=above.xform[above.origin : above.origin + 1],
        step=above.step[:1],
        key=np.zeros((1, 2), np.int64),
        parent=np.zeros(1, np.int32),
        above=None,
        channels={},
        counted=None,
    )
    ground = Ground.on(sheet.width, sheet.height)
    for rule in below:
        if not rule.on:
            continue
        through = rule.seen_through(motif, ground)
        if through is None:
            break
        whole = compose(through, whole)
        motif = replace(motif, xform=compose(through[None], motif.xform))
    else:
        whole = compose(place, whole)
    return whole


def _painted(result: ChainResult, step: Step, stage: Stage, marks: Marks, known: Known) -> Picture:
    """The marks of a step with its inks and finishes."""
    coats = own_coats(stage, marks)
    if not (coats and keeps_its_own(result.chain)):
        coats = coats if step.inks else coats or (bare_coat(marks),)
        ask = MarkAsk(stage, known, marks)
        for ink, standing in step.inks:
            coats = ink.paint(ask, marks, coats, standing)
    closed = (*own_closed(stage, marks), *closed_of(result, step, marks))
    return with_thin(Picture(marks, coats, closed=closed), construction_parts(result.chain))


def evaluate(design: Design, evaluator: Evaluator | None = None) -> dict[str, ChainResult]:
    """Return the evaluated chains of a design by layer id."""
    return (evaluator or Evaluator()).design(design)
