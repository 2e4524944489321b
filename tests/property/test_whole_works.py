"""Whole works: what is kept is what would be worked out afresh, files, units, undo, other renderers, the command line."""

import gc
import weakref

import numpy as np
from hypothesis import HealthCheck, Phase, assume, given, settings
from hypothesis import strategies as st

from tests.pictures.compare import apart, by_resvg, ours, scene_of
from tests.whole_works import designs, rules_of
from under_lattice.core.errors import LatticeError
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.cache import Cache
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.files.storage import from_text, to_text
from under_lattice.library import DEMOS
from under_lattice.rules import RULES
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.scene.tree import leaves, make_scene
from under_lattice.ui.state.document import Document
from under_lattice.vary.numbers import Varied
from under_lattice.work import edits
from under_lattice.work.grouping import duplicated, moved_to, remove_layer
from under_lattice.work.model import Work
from under_lattice.work.reading import needed
from under_lattice.work.sheets import set_unit

SLOW = [HealthCheck.too_slow, HealthCheck.data_too_large, HealthCheck.filter_too_much]
ADDED = [kind for kind in RULES if kind.family not in ("motif", "end")]


@st.composite
def changed(draw, design):
    """The design after one edit of any kind, or as it is where that is refused."""
    layer = draw(st.sampled_from(design.all_layers()))
    rule = draw(st.sampled_from(layer.every_rule))
    way = draw(st.sampled_from(["dial", "switch", "add", "remove", "double", "move", "drop", "sheet", "hide", "rename"]))
    try:
        match way:
            case "dial":
                fresh = draw(rules_of(type(rule)))
                name = draw(st.sampled_from([*rule.dials()]))
                return edits.set_dial(design, layer.id, rule.id, name, getattr(fresh, name))
            case "switch":
                return edits.with_rule(design, layer.id, rule.id, lambda one: edited(one, on=not one.on))
            case "add":
                return edits.add_rule(design, layer.id, draw(rules_of(draw(st.sampled_from(ADDED)))), rule.id)
            case "remove":
                return edits.remove_rule(design, layer.id, rule.id)
            case "double":
                return duplicated(design, layer.id)[0] if len(design.chains()) < 6 else design
            case "move":
                return moved_to(design, layer.id, draw(st.integers(0, 4)))
            case "drop":
                return remove_layer(design, layer.id) if len(design.chains()) > len(layer.chains()) else design
            case "sheet":
                return edited(design, sheet=edited(design.sheet, width=draw(st.floats(60, 160))))
            case "hide":
                return edits.show_layer(design, layer.id, not layer.hidden)
    except LatticeError:
        return design
    return edits.with_layer(design, layer.id, lambda one: edited(one, name="Renamed"))


def seen(design, evaluator, time):
    """All that is painted of a design as plain arrays, or the sentence of a refusal."""
    try:
        scene = make_scene(design, evaluator.design(design, time=time, only=needed(design)), evaluator)
    except LatticeError as error:
        return str(error)
    out = []
    for layer in leaves(scene.layers):
        marks = layer.picture.marks
        parts = [family.points for family in marks.families]
        coats = [np.asarray(value) for coat in layer.picture.coats for value in (coat.fill, coat.stroke, coat.width)]
        out.append((layer.name, layer.opacity, layer.blend, marks.xform, marks.variant, *parts, *coats))
    return out


def same(one, other):
    if isinstance(one, str) or isinstance(other, str):
        return one == other
    return len(one) == len(other) and all(
        len(a) == len(b) and all(np.array_equal(x, y, equal_nan=not isinstance(x, str)) for x, y in zip(a, b, strict=True))
        for a, b in zip(one, other, strict=True)
    )


@given(data=st.data())
@settings(max_examples=25, deadline=None, suppress_health_check=SLOW)
def test_what_is_kept_is_what_would_be_worked_out_afresh(data):
    design = data.draw(designs())
    kept = Evaluator(Cache(most=data.draw(st.sampled_from([60_000, 50_000_000]))))
    before = design
    for _ in range(4):
        time = data.draw(st.sampled_from([0.0, 0.25, 0.5]))
        assert same(seen(design, kept, time), seen(design, Evaluator(), time))
        before, design = design, data.draw(changed(design))
    assert same(seen(before, kept, 0.0), seen(before, Evaluator(), 0.0))  # back again


@given(design=designs())
@settings(max_examples=40, deadline=None, suppress_health_check=SLOW)
def test_whole_works_go_out_and_come_back_the_same(design):
    work = Work(design=design)
    back = from_text(to_text(work))
    assert to_text(back) == to_text(work)
    assert same(seen(back.design, Evaluator(), 0.25), seen(from_text(to_text(back)).design, Evaluator(), 0.25))


@given(design=designs(), unit=st.sampled_from(["cm", "in", "pt", "px"]))
@settings(max_examples=15, deadline=None, suppress_health_check=SLOW)
def test_another_unit_there_and_back_gives_the_same_picture(design, unit):
    back = set_unit(set_unit(design, unit), "mm")
    one, other = seen(design, Evaluator(), 0.0), seen(back, Evaluator(), 0.0)
    assume(not isinstance(one, str) and not isinstance(other, str))
    assert [part[0] for part in one] == [part[0] for part in other]
    mean, _ = apart(ours(scene_of(design), 90), ours(scene_of(back), 90))
    assert mean < 1.0  # a number may round the other way where two answers are equally near


@given(design=designs())
@settings(max_examples=7, deadline=None, suppress_health_check=SLOW)
def test_another_renderer_draws_whole_works_the_same(design):
    try:
        scene = scene_of(design)
    except LatticeError:
        return
    mean, _ = apart(ours(scene, 240), by_resvg(scene, design.sheet, 240))
    assert mean < 8.0  # thin lines and touching edges look a little different there


@given(data=st.data())
@settings(max_examples=2, deadline=None, suppress_health_check=SLOW, phases=[Phase.generate])
def test_fifty_edits_are_taken_back_to_the_byte(data):
    document = Document(Work(design=data.draw(designs())))
    before = to_text(document.work)
    for _ in range(50):
        document.apply("edit", data.draw(changed(document.design)))
    after = to_text(document.work)
    while document.can_undo:
        document.undo()
    assert to_text(document.work) == before
    while document.can_redo:
        document.redo()
    assert to_text(document.work) == after


# -- what is remade, counted ----------------------------------------------------------------------
def test_two_designs_in_turn_remake_nothing_they_share():
    one = DEMOS["entrance-floor"]()
    floor = one.chain("floor")
    lattice = next(rule for rule in floor.rules if isinstance(rule, Lattice))
    other = edits.set_dial(one, "floor", lattice.id, "turn", 10.0)
    evaluator = Evaluator()
    evaluator.design(one)
    evaluator.design(other)
    assert evaluator.computed
    for design in (one, other, one):
        evaluator.design(design)
        assert evaluator.computed == []
    Evaluator(evaluator.cache).design(one)
    assert evaluator.computed == []  # and none for another that shares the cache


def test_time_remakes_only_what_reads_it():
    design = DEMOS["entrance-floor"]()
    floor = design.chain("floor")
    evaluator = Evaluator()
    evaluator.design(design)
    evaluator.design(design, time=0.5)
    assert evaluator.computed == []
    push = next(rule for rule in floor.rules if rule.kind == "adjust" or rule.kind == "lattice")
    dial = "gap" if push.kind == "lattice" else "x"
    moving = edits.set_dial(design, "floor", push.id, dial, 0.0)
    ink = next(rule for rule in floor.rules if rule.kind == "ink")
    swing = Varied(rule=push.id, channel="column", start=0.0, end=1.0, midway=(1.0, 0.0))
    moving = edits.set_dial(moving, "floor", ink.id, "stroke_width", swing)
    evaluator.design(moving)
    evaluator.design(moving, time=0.5)
    assert evaluator.computed == []  # an ink makes no copies


def test_an_unused_picture_and_a_hidden_layer_cost_nothing():
    design = DEMOS["entrance-floor"]()
    evaluator = Evaluator()
    shown = edits.show_layer(design, "floor", True)
    results = evaluator.design(shown, only=needed(shown))
    assert "floor" not in results
    assert not [one for one in evaluator.computed if one.startswith("floor-")]
    from under_lattice.library.sample_pictures import sample_picture

    evaluator.design(design)
    evaluator.design(edits.with_picture(design, sample_picture("fish")))
    assert evaluator.computed == []


def test_closed_works_are_freed():
    cache = Cache()
    held = []
    for name in DEMOS:
        evaluator = Evaluator(cache)
        design = DEMOS[name]()
        results = evaluator.design(design)
        for result in results.values():
            evaluator.picture(result)
            held += [weakref.ref(step.stage) for step in result.steps if step.stage is not None]
        del evaluator, design, results, result
        cache.clear()
    gc.collect()
    assert len(held) > 100
    assert sum(one() is not None for one in held) == 0
    assert (len(cache), cache.size) == (0, 0)


def test_the_cache_keeps_to_its_bytes():
    cache = Cache(most=2_000_000)
    evaluator = Evaluator(cache)
    for name in ("entrance-floor", "tide-rings", "seed-clock", "kelp-curtain"):
        evaluator.design(DEMOS[name]())
        assert cache.size <= 2_000_000 or len(cache) == 1
