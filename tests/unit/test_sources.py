"""More ways for a number to vary: values in turn, two readings together, a drawn curve."""

import numpy as np
import pytest
from pydantic import ValidationError

from tests.chains import last_stage, work_of
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.progression import Progression
from under_lattice.vary.numbers import Second, Varied, curved, mixed
from under_lattice.work.grouping import with_new_ids
from under_lattice.work.sheets import set_unit

GRID = Lattice(form="squares", spacing="free", pitch=20.0, row_pitch=20.0, extent="by number", columns=5, rows=4)


def sizes(**more):
    """Sizes in per cent (rows, columns) of a grid of copies."""
    number = Varied(rule="floor-lattice", **({"channel": "column", "start": 10.0, "end": 50.0} | more))
    stage = last_stage(Polygon(sides=4, size=10.0), GRID, Adjust(scope="each", across=number, along=number))
    order = np.lexsort((stage.key[:, 1], stage.key[:, 0]))
    return 100 * np.sqrt(np.abs(np.linalg.det(stage.xform[order][:, :, :2]))).reshape(4, 5)


def test_values_are_taken_in_turn_by_what_one_can_count():
    assert np.allclose(sizes(taken=(20.0, 40.0, 60.0)), [[20, 40, 60, 20, 40]] * 4)
    by_row = sizes(channel="row", taken=(20.0, 40.0, 60.0))
    assert np.allclose(by_row[:, 0], [20, 40, 60, 20])
    assert np.allclose(sizes(channel="diagonal", taken=(20.0, 30.0))[1], [30, 20, 30, 20, 30])


def test_values_in_turn_are_steps_of_equal_width_by_what_one_cannot_count():
    found = sizes(channel="x", taken=(20.0, 40.0))
    assert set(np.round(found.ravel(), 9)) == {20.0, 40.0}
    assert (np.diff(found[0]) >= -1e-9).all()


def test_values_in_turn_also_by_the_own_steps():
    turn = Varied(rule="floor-progression", channel="step", start=0.0, end=0.0, taken=(10.0, 20.0))
    stage = last_stage(Polygon(sides=4, size=4.0), Progression(count=5, distance=10.0, turn=turn))
    angles = np.degrees(np.arctan2(stage.xform[:, 1, 0], stage.xform[:, 0, 0])) % 360
    assert np.allclose(np.diff(angles), [10, 20, 10, 20])


TOGETHER = {
    "product": lambda u, v: u * v,
    "mean": lambda u, v: (u + v) / 2,
    "sum": lambda u, v: min(u + v, 1),
    "smaller": min,
    "larger": max,
}


@pytest.mark.parametrize(("how", "want"), TOGETHER.items())
def test_two_readings_are_taken_together(how, want):
    found = sizes(second=Second(rule="floor-lattice", channel="row", how=how))
    for row in range(4):
        for column in range(5):
            assert found[row, column] == pytest.approx(10 + 40 * want(column / 4, row / 3))
    assert np.allclose(mixed(how, np.array([0.25]), np.array([0.5])), want(0.25, 0.5))


def test_a_second_reading_that_is_gone_has_no_say():
    assert np.allclose(sizes(second=Second(rule="gone", channel="row")), sizes())


def test_a_drawn_curve_goes_through_its_points():
    points = ((0.0, 1.0), (0.25, 0.0), (1.0, 0.5))
    assert np.allclose(curved("drawn", np.array([0.0, 0.125, 0.25, 0.625, 1.0]), points), [1, 0.5, 0, 0.25, 0.5])
    assert np.allclose(sizes(curve="drawn", points=points)[0], [50, 10, 10 + 40 / 6, 10 + 40 / 3, 30])


@pytest.mark.parametrize("points", [((0.0, 0.0),), ((0.0, 0.0), (0.0, 1.0)), ((0.5, 0.0), (0.2, 1.0)), ((0.0, 0.0), (1.0, 1.5))])
def test_what_is_no_curve_is_refused(points):
    with pytest.raises(ValidationError, match=r"points|between 0 and 1"):
        Varied(rule="r", channel="row", start=0.0, end=1.0, curve="drawn", points=points)


def test_ends_are_the_first_and_last_of_the_values_and_ranges_hold_for_all():
    number = Varied(rule="floor-lattice", channel="row", start=1.0, end=2.0, taken=(30.0, 80.0, 50.0))
    assert (number.start, number.end, number.largest) == (30.0, 50.0, 80.0)
    with pytest.raises(ValidationError, match="allowed"):
        Adjust(across=Varied(rule="r", channel="row", start=1.0, end=2.0, taken=(30.0, -80.0)))


def test_second_readings_and_values_follow_into_a_copied_layer_and_another_unit():
    number = Varied(rule="floor-lattice", channel="column", start=5.0, end=9.0, second=Second(rule="floor-lattice", channel="row"))
    values = Varied(rule="floor-lattice", channel="column", start=5.0, end=9.0, taken=(5.0, 9.0))
    work = work_of(Polygon(size=10.0), GRID, Adjust(scope="each", x=number, y=values))
    copied = with_new_ids(work.design.layers[0])
    assert copied.rules[2].x.second.rule == copied.rules[2].x.rule == copied.rules[1].id
    assert set_unit(work.design, "cm").layers[0].rules[2].y.taken == pytest.approx((0.5, 0.9))
