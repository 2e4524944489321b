"""Leave out and Loosen."""

import numpy as np
import pytest
from scipy.spatial.distance import pdist

from tests.chains import centres, evaluated, last_stage
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.copies.leave_out import LeaveOut
from under_lattice.rules.copies.loosen import Loosen, loosened
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.progression import Progression
from under_lattice.rules.repeats.seed_head import SeedHead
from under_lattice.rules.shared.scope import EACH
from under_lattice.vary.numbers import Varied

ROW = Lattice(form="squares", spacing="free", pitch=20.0, extent="by number", columns=9, rows=1, grow="top left")
SQUARE = Polygon(sides=4, size=20.0, stands="on a flat")


def test_every_third_goes():
    assert centres(last_stage(SQUARE, ROW, LeaveOut(every=3, first=2)))[:, 0].tolist() == [0, 40, 60, 100, 120, 160]


def test_checks_go_by_row_and_column():
    grid = Lattice(form="squares", spacing="free", pitch=20.0, row_pitch=20.0, extent="by number", columns=4, rows=4)
    stage = last_stage(SQUARE, grid, LeaveOut(every=2, first=1, counted="by row and column"))
    assert stage.n == 8
    assert (stage.key.sum(1) % 2 == 1).all()


def test_chance_goes_by_lasting_names():
    few, many = (last_stage(SQUARE, ROW.model_copy(update={"columns": n}), LeaveOut(which="by chance", share=50.0)) for n in (6, 9))
    assert set(map(tuple, few.key.tolist())) <= set(map(tuple, many.key.tolist()))
    assert 0 < many.n < 9


@pytest.mark.parametrize(("side", "count"), [("outside", 4), ("inside", 5)])
def test_a_circle_keeps_its_inside_or_its_outside(side, count):
    assert last_stage(SQUARE, ROW, LeaveOut(which="outside a circle", radius=65.0, side=side)).n == count


def test_a_box():
    assert last_stage(SQUARE, ROW, LeaveOut(which="outside a box", width=90.0, height=10.0)).n == 3


def test_overlapping_ones_go_and_touching_ones_stay():
    assert last_stage(SQUARE, ROW, LeaveOut(which="overlapping ones")).n == 9
    near = ROW.model_copy(update={"pitch": 12.0})
    assert centres(last_stage(SQUARE, near, LeaveOut(which="overlapping ones")))[:, 0].tolist() == [0, 24, 48, 72, 96]


def test_exact_doubles_go():
    twice = Progression(count=3, distance=0.0)
    assert last_stage(SQUARE, ROW, twice, LeaveOut(which="exact doubles")).n == 9


def test_loosened_seeds_do_not_overlap():
    grow = Varied(rule="floor-seed-head", channel="step", start=60.0, end=150.0)
    seeds = SeedHead(count=400, spacing=4.0, size=grow)
    stage = last_stage(Ellipse(width=7.0), seeds, Loosen())
    size = np.sqrt(np.abs(np.linalg.det(stage.xform[:, :, :2]))) * 3.5
    index = np.triu_indices(len(size), 1)
    assert (pdist(centres(stage)) - (size[index[0]] + size[index[1]])).min() > -2e-5 * 20
    assert (stage.key == stage.above.key).all()
    assert int(stage.found.said["until"].split()[0]) < 1000


def test_a_full_seed_head_is_not_blown_up_and_keeps_its_order():
    tight = last_stage(Ellipse(width=20.0), SeedHead(count=400, spacing=10.0))
    loose = last_stage(Ellipse(width=20.0), SeedHead(count=400, spacing=10.0), Loosen())
    before, after = centres(tight), centres(loose)
    assert np.hypot(*before.T).max() == pytest.approx(199.7, abs=0.2)
    assert pdist(after).min() > 19.99
    middle = before.mean(0)
    assert np.hypot(*(after - middle).T).max() < 224
    order = np.argsort(np.hypot(*(before - middle).T), kind="stable")
    assert (np.diff(np.hypot(*(after - middle).T)[order]) > -2e-3).all()


def test_a_lattice_that_even_growth_sets_free_stays_one():
    grid = Lattice(form="squares", spacing="free", pitch=15.0, row_pitch=15.0, extent="by number", columns=20, rows=20)
    at = centres(last_stage(Ellipse(width=20.0), grid, Loosen())).reshape(20, 20, 2)
    assert np.hypot(*np.moveaxis(np.diff(at, axis=1), -1, 0)) == pytest.approx(20.0, abs=1e-3)


@pytest.mark.parametrize("passes", [1, 5, 25])
def test_passes_have_an_effect(passes):
    crowd = (Ellipse(width=20.0), SeedHead(count=100, spacing=8.0))
    few, more = (centres(last_stage(*crowd, Loosen(until="so many passes", passes=n))) for n in (passes, passes * 2))
    assert pdist(more).min() > pdist(few).min()


def test_loosening_keeps_still_what_is_loose_and_is_always_the_same():
    at = np.array([(0.0, 0.0), (10.0, 0.0), (0.0, 10.0)])
    moved, passes, worst = loosened(at, np.full(3, 2.0), 50)
    assert (passes, worst) == (0, 0.0)
    assert moved == pytest.approx(at, abs=1e-5)
    crowd = np.random.default_rng(2).normal(size=(60, 2))
    assert (loosened(crowd, np.full(60, 0.5), 30)[0] == loosened(crowd, np.full(60, 0.5), 30)[0]).all()


def test_so_many_passes_say_what_is_left():
    stage = last_stage(Ellipse(width=12.0), SeedHead(count=200, spacing=4.0), Loosen(until="so many passes", passes=2))
    assert "is left" in stage.found.said["until"]
    jitter = Adjust(scope=EACH, x=Varied(rule="floor-lattice", channel="chance", start=-8.0, end=8.0))
    assert last_stage(SQUARE, ROW, jitter, Loosen(gap=1.0)).n == 9


@pytest.mark.parametrize(("count", "spread"), [(400, 1.0), (600, 0.01), (50, 0.0)])
def test_a_crowd_settles_as_well(count, spread):
    at = np.random.default_rng(1).normal(size=(count, 2)) * spread
    moved, passes, worst = loosened(at, np.full(count, 1.0), 1000)
    assert worst <= 1e-6
    assert passes < 1000
    assert pdist(moved).min() > 2 - 1e-5


def test_overlaps_among_very_many_are_refused_with_the_count():
    many = Lattice(form="squares", spacing="free", pitch=1.0, row_pitch=1.0, extent="by number", columns=200, rows=101)
    result = evaluated(SQUARE, many, LeaveOut(which="overlapping ones"))
    assert "at most 20,000 copies; there are 20,200" in result.problems[0].sentence
