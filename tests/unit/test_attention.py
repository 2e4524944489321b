"""What needs attention: bare parts, copies outside, slivers, doubles and lines that miss themselves, each with its cure."""

import numpy as np
import pytest

from tests.chains import SHEET, evaluated, work_of
from tests.unit.test_repeats import HalfEllipse
from under_lattice.evaluate.evaluator import Evaluator, evaluate
from under_lattice.evaluate.result import ChainResult, Step
from under_lattice.library import DEMOS, demo
from under_lattice.library.layers import chain
from under_lattice.measure.attention import attention
from under_lattice.measure.facts import measure
from under_lattice.measure.gaps import Gaps
from under_lattice.pattern.drawn import Drawn
from under_lattice.pattern.marks import draw
from under_lattice.pattern.stage import start
from under_lattice.rules.base import Rule
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.ground import PLAIN
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.motifs.rectangle import Rectangle
from under_lattice.rules.repeats.along_curve import AlongCurve
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.progression import Progression
from under_lattice.rules.repeats.rosette import Rosette
from under_lattice.rules.repeats.seed_head import SeedHead
from under_lattice.rules.repeats.spots import Spots
from under_lattice.rules.shapes.offset import Offset
from under_lattice.rules.shared.anchor import Anchor
from under_lattice.work.edits import add_rule, set_dial
from under_lattice.work.model import Sheet

SQUARE = Polygon(sides=4, measure="side", size=20.0, stands="on a flat")


def warned(*rules, design=None):
    """Warnings of a chain, by their first words."""
    design, evaluator = design or work_of(*rules).design, Evaluator()
    return measure(evaluate(design, evaluator)["floor"], evaluator, SHEET).warnings


def said(warnings, words):
    found = [warn for warn in warnings if words in warn.sentence]
    assert found, [warn.sentence for warn in warnings]
    return found[0]


def cured(rules, warn):
    design = set_dial(work_of(*rules).design, "floor", warn.cure.rule, warn.cure.dial, warn.cure.value)
    return warned(design=design)


def test_too_few_rows_leave_the_sheet_bare_and_the_cure_covers_it():
    rules = (SQUARE, Lattice(form="squares", extent="by number", columns=17, rows=13))
    warn = said(warned(*rules), "is bare")
    assert warn.sentence == "about 8 % of the sheet is bare, all round"
    assert all(np.abs(ring[:, 1]).max() > 130 for ring in warn.rings)
    assert cured(rules, warn) == ()


def test_a_lattice_pushed_aside_is_bare_on_the_other_side():
    rules = (SQUARE, Lattice(form="squares", extent="by number", columns=17, rows=17), Adjust(x=-70.0, y=-70.0))
    assert said(warned(*rules), "is bare").sentence.endswith("bottom right")


def test_a_figure_on_the_sheet_is_not_called_bare():
    assert not [w for w in warned(SQUARE, Lattice(form="squares", extent="by number", columns=5, rows=5)) if "bare" in w.sentence]


@pytest.mark.parametrize(
    "rule",
    [
        Progression(count=5, distance=19.0),
        Rosette(count=8, radius_by="free", radius=24.0),
        AlongCurve(line="the sheet's edge", inset=30.0, count=56),
        SeedHead(count=60, spacing=11.4, skip=9),
        Spots(spots="-19, 0; 0, 0; 60, 0"),
    ],
    ids=lambda rule: rule.kind,
)
def test_a_slight_overlap_is_told_with_what_ends_it(rule):
    rules = (Ellipse(width=20.0), rule)
    warn = said(warned(*rules), "overlap")
    if isinstance(warn.cure.value, Rule):
        design = add_rule(work_of(*rules).design, "floor", warn.cure.value, warn.cure.rule)
    else:
        design = set_dial(work_of(*rules).design, "floor", warn.cure.rule, warn.cure.dial, warn.cure.value)
    assert not [one for one in warned(design=design) if "overlap" in one.sentence]


def test_a_deep_overlap_is_meant():
    assert not warned(Ellipse(width=20.0), Progression(count=5, distance=9.0))


def test_copies_outside_are_counted_and_shown():
    warn = said(warned(Ellipse(width=10.0), Progression(count=10, distance=40.0)), "outside the sheet")
    assert warn.sentence.startswith("5 copies")
    assert len(warn.rings) == 5
    assert all(ring[:, 0].min() > 162 for ring in warn.rings)
    design = add_rule(
        work_of(Ellipse(width=10.0), Progression(count=10, distance=40.0)).design, "floor", warn.cure.value, warn.cure.rule
    )
    assert not warned(design=design)
    assert evaluate(design)["floor"].last.stage.n == 5


def test_a_sliver_between_neighbours_is_closed_by_its_cure():
    rules = (SQUARE, Lattice(form="squares", spacing="free", pitch=20.05, row_pitch=20.05))
    warn = said(warned(*rules), "is left between")
    assert warn.sentence == "a gap of 0.05 mm is left between neighbours"
    assert cured(rules, warn) == ()
    wide = (SQUARE, Lattice(form="squares", spacing="free", pitch=24.0, row_pitch=24.0))
    assert warned(*wide) == ()


def test_doubles_are_shown_where_they_lie():
    again = Rosette(count=4, radius_by="as it stands", pivot=Anchor(spot="sheet centre"))
    warn = said(warned(Ellipse(width=10.0), Rosette(count=4, radius=30.0), again), "exactly on another")
    assert warn.sentence.startswith("12 copies")
    assert len(warn.rings) == 12
    design = work_of(Ellipse(width=10.0), Rosette(count=4, radius=30.0), again).design
    assert warned(design=add_rule(design, "floor", warn.cure.value, warn.cure.rule)) == ()


def test_a_line_that_nearly_closes_says_its_miss_and_the_turn_that_closes_it():
    half = start(HalfEllipse(), "motif")

    def line(turn):
        run = Progression(id="run", count=72, spacing="each begins where the last ended", turn=turn)
        stage = run.place(half, PLAIN)
        result = ChainResult(chain("Floor", SQUARE), (Step(SQUARE, half), Step(run, stage)), frozenset())
        return [
            warn
            for warn in attention(result, Gaps(), Sheet(width=9000, height=9000), Drawn(draw(stage)))
            if "misses" in warn.sentence
        ]

    (warn,) = line(185.1)
    assert warn.cure.value == 185.0
    assert float(warn.sentence.split(" by ")[1].split()[0]) == pytest.approx(
        np.hypot(*(warn.rings[0][0] - warn.rings[0][1])), rel=0.01
    )
    assert line(185.0) == []


def test_demo_works_need_no_attention_but_where_copies_are_meant_to_overlap():
    for make in DEMOS.values():
        design, evaluator = make(), Evaluator()
        for result in evaluate(design, evaluator).values():
            for warn in measure(result, evaluator, design.sheet).warnings:
                assert warn.sentence.startswith("overlap"), (design.name, warn.sentence)


@pytest.mark.parametrize("name", list(DEMOS))
def test_no_demo_work_needs_attention(name):
    design, evaluator = demo(name).design, Evaluator()
    for result in evaluator.design(design).values():
        assert not result.problems
        assert [warn.sentence for warn in measure(result, evaluator, design.sheet).warnings] == []


@pytest.mark.parametrize("name", list(DEMOS))
def test_every_demo_work_opens_on_a_layer_that_is_there(name):
    design = demo(name).design
    assert not design.main or design.main in {one.id for one in design.all_layers()}


@pytest.mark.parametrize("below", [(), (Lattice(id="r"),), (Rosette(id="r"),)])
def test_copies_of_which_nothing_is_left_to_draw_have_facts(below):
    """Rings so far inwards that none of them is there, and only they are kept."""
    rules = (Offset(id="o", distance=-2.5, joins="mitred", keeps="the parallels only"), *below)
    result = evaluated(Rectangle(id="m", width=5.0, height=5.0), *rules)
    found = measure(result, Evaluator(), SHEET)
    assert found.copies == result.last.stage.n > 0
    assert found.bounds is None
    assert not [one for one in found.warnings if "beside" in one.sentence]
