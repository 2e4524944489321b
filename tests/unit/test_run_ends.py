"""Where a run ends: lines chained end to end, runs until the sheet is covered or a size is reached, how copies look."""

import numpy as np
import pytest
import shapely

from tests.chains import SHEET, evaluated, last_stage, work_of
from under_lattice.evaluate.derived import derived_values
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.geometry.affine import apply
from under_lattice.measure.facts import measure
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.motifs.star import Star
from under_lattice.rules.motifs.triangle import Triangle
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.progression import Progression
from under_lattice.rules.repeats.rosette import Rosette
from under_lattice.rules.repeats.seed_head import SeedHead
from under_lattice.rules.shapes.cut import Cut
from under_lattice.rules.shapes.split import Split
from under_lattice.rules.shared.scope import EACH
from under_lattice.work.address import Address
from under_lattice.work.turning import turned, turned_together

HALF = (Ellipse(width=24.0, roundness=750.0), Cut(at="even parts", parts=2, shift=25.0, keep="1"))
ON = "each begins where the last ended"


def test_cut_arcs_are_chained_end_to_end_and_close():
    result = evaluated(*HALF, Progression(count=72, turn=185.0, spacing=ON))
    assert not result.problems
    assert measure(result, Evaluator(), SHEET).warnings == ()
    marks = Evaluator().marks(result.last.stage, result.known)
    ends = np.array([apply(x, marks.families[0].points[0][[0, -1]]) for x in marks.xform])
    assert ends[1:, 0] == pytest.approx(ends[:-1, 1], abs=1e-6)
    assert ends[0, 0] == pytest.approx(ends[-1, 1], abs=1e-6)


@pytest.mark.parametrize(
    ("count", "turn", "size", "cures"),
    [
        (70, 185.0, 100.0, {"Use 72 copies", "Set turn to 190.285714°"}),
        (11, 32.0, 100.0, {"Set turn to 32.727273°"}),
        (12, 30.0, 99.0, {"Set size to 100 %"}),
        (12, 31.0, 99.0, set()),
    ],
)
def test_a_line_that_misses_itself_is_closed_by_its_cures(count, turn, size, cures):
    design = work_of(*HALF, Progression(count=count, turn=turn, across=size, along=size, spacing=ON)).design

    def told(one):
        return [w for w in measure(Evaluator().design(one)["floor"], Evaluator(), SHEET).warnings if "outside" not in w.sentence]

    assert {one.cure.words for one in told(design) if one.cure} == cures
    for one in told(design):
        assert "misses itself by" in one.sentence
        if one.cure:
            assert told(turned_together(design, "floor", one.rule, {one.cure.dial: one.cure.value, **one.cure.also})) == []


def test_what_has_no_ends_or_many_cannot_go_on():
    for motif, said in (
        ((Ellipse(),), "closed and has no ends"),
        ((Ellipse(), Cut(parts=6, keep="1, 3")), "in 2 pieces; keep one"),
    ):
        assert said in evaluated(*motif, Progression(spacing=ON)).problems[0].sentence


def test_a_run_grows_until_the_sheet_is_covered():
    for motif in (Ellipse(width=10.0), Polygon(sides=4, size=8.0), Star(size=12.0)):
        run = Progression(extent="until the sheet is covered", distance=0.0, turn=5.0, across=140.0, along=140.0)
        stage = last_stage(motif, run)
        sheet = shapely.box(-162, -161, 162, 161)
        bodies = [shapely.Polygon(ring).convex_hull for ring in stage.bodies()]
        order = np.argsort(stage.key[:, 1])
        covers = [bool(bodies[k].buffer(1e-6).covers(sheet)) for k in order]
        assert covers.count(True) == 1
        assert covers[-1]
    shrinks = evaluated(
        Ellipse(width=10.0), Progression(extent="until the sheet is covered", distance=0.0, across=90.0, along=90.0)
    )
    assert "no copy ever covers the sheet" in shrinks.problems[0].sentence


@pytest.mark.parametrize(
    ("step", "until", "count"), [(200.0, 25600.0, 9), (200.0, 25599.0, 8), (50.0, 12.5, 4), (110.0, 100 * 1.1**60, 61)]
)
def test_a_run_includes_the_copy_that_comes_to_the_last_size(step, until, count):
    run = Progression(extent="until a size is reached", until=until, distance=0.0, across=step, along=step)
    assert last_stage(Ellipse(width=1.0), run).n == count


@pytest.mark.parametrize(
    ("motif", "turn", "said"),
    [
        (Polygon(sides=6, size=20.0), 20.0, "last 220°, looks like 40°"),
        (Polygon(sides=6, size=20.0), 60.0, "last 660°, looks the same"),
        (Polygon(sides=4, size=20.0), 25.0, "last 275°, looks like 5°"),
        (Ellipse(width=20.0), 25.0, "last 275°, looks the same"),
        (Triangle(), 3.0, "last 33°"),
    ],
)
def test_how_the_last_copy_looks_lies_between_0_and_its_symmetry(motif, turn, said):
    result = evaluated(motif, Progression(count=12, turn=turn))
    assert result.last.stage.found.said["turn"] == said


@pytest.mark.parametrize(
    ("rules", "handle", "said"),
    [
        ((Polygon(sides=6, size=20.0, turn=60.0), Lattice()), "motif", "looks the same"),
        ((Polygon(sides=6, size=20.0, turn=30.0), Lattice()), "motif", None),
        ((Polygon(sides=6, size=20.0, turn=60.0), Split(), Lattice()), "motif", None),
        ((Ellipse(turn=17.0),), "motif", "looks the same"),
        ((Polygon(sides=6, size=20.0), Lattice(), Adjust(scope=EACH, turn=120.0)), "adjust", "looks the same"),
        ((Polygon(sides=6, size=20.0), Lattice(), Adjust(scope=EACH, turn=70.0)), "adjust", "looks like 10°"),
        ((Polygon(sides=6, size=20.0), Lattice(), Adjust(turn=60.0)), "adjust", None),  # all together, about the pivot
        (
            (Polygon(sides=6, size=20.0), Split(), Lattice(), Adjust(scope=EACH, turn=60.0)),
            "adjust",
            None,
        ),  # its parts change places
        ((Polygon(sides=6, size=20.0), Lattice(), Adjust(scope=EACH, turn=60.0, across=90.0, along=90.0)), "adjust", None),
    ],
)
def test_what_a_turn_does_not_change_is_said(rules, handle, said):
    found = measure(evaluated(*rules), Evaluator(), SHEET).derived
    assert found.get(f"floor-{handle}", {}).get("turn") == said


@pytest.mark.parametrize("apart", [61.0, 137.5, 3599.0])
def test_arc_and_angle_between_are_two_views_however_often_they_go_round(apart):
    rules = (Ellipse(width=3.0), Rosette(count=100, spread="the angle between", apart=apart))
    design = work_of(*rules).design
    known = derived_values(design, "floor", "floor-rosette")
    assert known["arc"] == pytest.approx(99 * apart)
    turned_ = turned(design, Address("floor", "floor-rosette", "arc"), known["arc"], derived_values)
    assert turned_.chain("floor").rules[1].spread == "the arc"
    one, other = (Evaluator().design(each)["floor"].last.stage.xform for each in (design, turned_))
    assert one == pytest.approx(other, abs=1e-6)


@pytest.mark.parametrize("divergence", ["golden", "free"])
def test_the_total_of_a_seed_head_and_its_angle_are_two_views(divergence):
    design = work_of(Ellipse(width=3.0), SeedHead(count=120, divergence=divergence, angle=99.5)).design
    known = derived_values(design, "floor", "floor-seed-head")
    assert known["total"] == pytest.approx(119 * known["angle"])
    choice = Address("floor", "floor-seed-head", "divergence")
    by_total = turned(design, choice, "by the total", derived_values, carries=True)
    assert by_total.chain("floor").rules[1].total == pytest.approx(known["total"])
    back = turned(by_total, choice, "free", derived_values, carries=True)
    assert back.chain("floor").rules[1].angle == pytest.approx(known["angle"], abs=1e-4)
    one, other, third = (Evaluator().design(each)["floor"].last.stage.xform for each in (design, by_total, back))
    assert one == pytest.approx(other, abs=1e-6)
    assert one == pytest.approx(third, abs=0.02)
    whole = turned(by_total, Address("floor", "floor-seed-head", "total"), 119 * 90.0, derived_values)
    assert whole.chain("floor").rules[1].divergence_angle() == pytest.approx(90.0)
