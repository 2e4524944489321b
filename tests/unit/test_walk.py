"""What forms show of a formula: its first and last value and the run between them, held against the copies themselves."""

import numpy as np
import pytest

from tests.chains import work_of
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.pattern.ask import Ask
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.rosette import Rosette
from under_lattice.rules.repeats.seed_head import SeedHead
from under_lattice.vary.numbers import Varied
from under_lattice.vary.walk import ONE_COPY, Walk

REPEATS = (Lattice(form="squares", extent="by number", columns=11, rows=7), Rosette(count=12, radius=40.0), SeedHead(count=90))
LONE = ("2 + col", "3 * row", "k / n", "u ^ 2", "x + y * 0", "r", "a / 10", "5", "col * pi")
SEVERAL = ("col + 100 * row", "x * y", "r + a", "k + chance", "k * u")


def last_stage(*rules):
    return Evaluator().design(work_of(Polygon(size=5.0), *rules).design)["floor"].steps[-1].stage


def by(stage, formula, **more):
    return Varied(rule=stage.rule, channel="step", start=1.0, end=2.0, formula=formula, **more)


@pytest.mark.parametrize("repeat", REPEATS, ids=lambda rule: rule.kind)
@pytest.mark.parametrize("formula", LONE)
def test_a_formula_on_one_reading_goes_from_its_least_to_its_greatest(repeat, formula):
    stage = last_stage(repeat)
    number = by(stage, formula)
    values = number.over(Ask(stage), None)
    shown = number.along(Walk(stage), 33)
    assert number.ends(Walk(stage)) == pytest.approx((shown[0], shown[-1]))
    if formula not in ("x + y * 0", "r", "a / 10"):  # none of these falls
        assert (shown.min(), shown.max()) == pytest.approx((values.min(), values.max()))
    assert shown.shape == (33,)


@pytest.mark.parametrize("repeat", REPEATS, ids=lambda rule: rule.kind)
@pytest.mark.parametrize("formula", SEVERAL)
def test_a_formula_on_several_readings_shows_values_that_copies_have(repeat, formula):
    stage = last_stage(repeat)
    number = by(stage, formula)
    values = number.over(Ask(stage), None).ravel()
    shown = number.along(Walk(stage), 21)
    apart = np.abs(shown[:, None] - values).min(1)
    assert apart.max() < (1.0 if "chance" in formula else 1e-9)  # the motif's own lot is drawn with those of the copies
    assert shown[-1] == pytest.approx(values[-1], abs=1.0 if "chance" in formula else 1e-9)


def test_columns_are_counted_as_columns_however_many_rows_there_are():
    stage = last_stage(Lattice(form="squares", extent="by number", columns=11, rows=7))
    assert by(stage, "0.6 * col").ends(Walk(stage)) == pytest.approx((0.6, 6.6))
    assert by(stage, "0.6 * row").ends(Walk(stage)) == pytest.approx((0.6, 4.2))
    assert by(stage, "0.6 * k").ends(Walk(stage)) == pytest.approx((0.0, 45.6))


def test_lengths_are_read_in_the_unit_a_formula_was_written_in():
    stage = last_stage(Lattice(form="squares", extent="by number", columns=11, rows=7))
    far = Ask(stage).raw(stage.rule, "r", None).max()
    inches = by(stage, "r", reads=1 / 25.4, gives=25.4)
    assert inches.ends(Walk(stage))[1] == pytest.approx(far * 25.4 * 25.4)


def test_where_there_are_no_copies_yet_there_is_one_at_the_pivot():
    number = Varied(rule="gone", channel="step", start=1.0, end=2.0, formula="10 + k + col * pi + r + t")
    assert number.ends(ONE_COPY) == pytest.approx((10 + np.pi, 10 + np.pi))
    assert number.ends(Walk(None)) == number.ends()
