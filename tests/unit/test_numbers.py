"""Typed numbers, units and numbers that vary."""

import numpy as np
import pytest

from tests.chains import evaluated, last_stage
from under_lattice.core.errors import InputError
from under_lattice.core.units import convert, parted, short, typed
from under_lattice.geometry.chance import lots_of_keys, lots_of_places
from under_lattice.pattern.ask import Ask
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.vary.numbers import CURVES, Varied, curved


@pytest.mark.parametrize(
    ("text", "unit", "value"),
    [
        ("41.57/2", "mm", 20.785), ("1.2 cm", "mm", 12.0), ("360/7", "°", 360 / 7), ("-(2+3)*4", "", -20.0), ("1in", "mm", 25.4),
        ("1,5", "mm", 1.5), ("−3", "mm", -3.0), ("90°", "°", 90.0), ("97 %", "%", 97.0), ("0.97", "%", 97.0), ("97", "%", 97.0),
        ("2 cm + 3 mm", "mm", 23.0), ("72 pt", "in", 1.0), ("96 px", "in", 1.0), (" 5 ", "", 5.0),
        ("0.5 turn", "°", 180.0), ("1/8turn", "°", 45.0), ("2 rad", "°", 360 / np.pi), ("3.5deg", "°", 3.5),
        ("100 grad", "°", 90.0),
        ("1 turn + 90°", "°", 450.0),
    ],
)  # fmt: skip
def test_typed(text, unit, value):
    assert typed(text, unit) == pytest.approx(value)


@pytest.mark.parametrize(
    ("text", "unit", "value"),
    [
        ("1/2 in", "mm", 12.7), ("3/8 in", "mm", 9.525), ("1 in/2", "mm", 12.7), ("(1+2)/2 in", "mm", 38.1),
        ("5 + 1/2 in", "mm", 17.7),
        ("-1/2 in", "mm", -12.7), ("1/2in - 1 cm", "mm", 2.7), ("1/2 in", "in", 0.5), ("12,5", "mm", 12.5), ("1,5/2 cm", "mm", 7.5),
        ("1.2 cm", "mm", 12.0), ("=3", "mm", 3.0), ("1e2 mm", "cm", 10.0),
    ],
)  # fmt: skip
def test_a_unit_binds_to_the_whole_product(text, unit, value):
    assert typed(text, unit) == pytest.approx(value, rel=1e-12)


@pytest.mark.parametrize(
    ("text", "point", "comma"),
    [
        ("1,000", 1000.0, 1.0), ("1.000", 1.0, 1000.0), ("12,345,678", 12345678.0, None), ("1.234,5", None, 1234.5),
        ("1,234.5", 1234.5, None), ("0,500", 0.5, 0.5), ("0.125", 0.125, 0.125), ("1,50", 1.5, 1.5), ("1,0000", 1.0, 1.0),
        ("1,000/4", 250.0, 0.25), ("1,000 + 1,5", 1001.5, 2.5), ("-1,000", -1000.0, -1.0), ("1.5", 1.5, 1.5),
        ("1000", 1000.0, 1000.0),
        ("2.500", 2.5, 2500.0), ("1,000 mm", 1000.0, 1.0),
    ],
)  # fmt: skip
def test_thousands_in_groups_are_read_as_the_language_writes_them(text, point, comma):
    for decimal, value in ((".", point), (",", comma)):
        if value is None:
            with pytest.raises(InputError):
                typed(text, "mm", decimal=decimal)
        else:
            assert typed(text, "mm", decimal=decimal) == pytest.approx(value)


@pytest.mark.parametrize(
    ("text", "unit", "now", "value"),
    [
        ("97 %", "mm", 200.0, 194.0), ("-3 %", "mm", 200.0, 194.0), ("+1 %", "cm", 50.0, 50.5), ("−3 %", "px", 100.0, 97.0),
        ("100/3 %", "mm", 30.0, 10.0), ("97 %", "%", 40.0, 97.0), ("-3 %", "%", 40.0, 37.0), ("=-3 %", "%", 40.0, -3.0),
        ("=+1 %", "%", 40.0, 1.0),
        ("0,97", "%", 40.0, 97.0), ("=97", "mm", 200.0, 97.0), ("-3", "%", 40.0, -3.0),
    ],
)  # fmt: skip
def test_per_cent_are_a_part_of_a_length_and_a_ratio_itself(text, unit, now, value):
    assert typed(text, unit, now=now) == pytest.approx(value)


@pytest.mark.parametrize("text", ["97 %", "=97 %"])
def test_per_cent_of_no_length_are_refused(text):
    with pytest.raises(InputError, match="per cent of a length"):
        typed(text, "mm", now=5.0 if text.startswith("=") else None)


@pytest.mark.parametrize(
    ("text", "parts"),
    [
        ("1;2;3", ["1", "2", "3"]), ("1 2 3", ["1", "2", "3"]), ("1, 2, 3", ["1", "2", "3"]), ("1,5 2,5", ["1,5", "2,5"]),
        ("1,5; 2,5", ["1,5", "2,5"]),
        ("10 mm 2 cm", ["10mm", "2cm"]), ("10 mm; 1/2 in", ["10mm", "1/2in"]), ("10 -5", ["10", "-5"]), ("10 - 5", ["10-5"]),
        ("3 * 2 7", ["3*2", "7"]),
        ("-80, 0", ["-80", "0"]), ("  ", []), (" 5 % 6 % ", ["5%", "6%"]), ("1;;2", ["1", "2"]),
    ],
)  # fmt: skip
def test_lists_are_parted_by_semicolons_and_spaces(text, parts):
    assert parted(text) == parts


def test_changes_in_per_cent_need_a_present_value():
    assert typed("-3 %", "%", now=100.0) == 97.0
    assert typed("+1 %", "%", now=50.0) == 51.0


@pytest.mark.parametrize("text", ["", "abc", "1/0", "1e400", "2**9", "__import__('os')", "(1", "1" * 300, "[1]", "True"])
def test_what_is_no_number_is_refused_with_a_sentence(text):
    with pytest.raises(InputError):
        typed(text, "mm")


def test_units_convert_both_ways():
    assert convert(1.0, "in", "mm") == pytest.approx(25.4)
    assert convert(convert(7.3, "mm", "px", 300), "px", "mm", 300) == pytest.approx(7.3)


@pytest.mark.parametrize(("value", "text"), [(0.0, "0"), (-0.00001, "0"), (1.5, "1.5"), (1e7, "10000000"), (0.1234567, "0.123")])
def test_short_numbers(value, text):
    assert short(value) == text


@pytest.mark.parametrize("curve", CURVES)
def test_curves_start_at_nought_and_stay_within(curve):
    height = curved(curve, np.linspace(0, 1, 101))
    assert height[0] == 0
    assert height.min() >= 0
    assert height.max() == pytest.approx(1.0)


def lattice(columns=5, rows=3):
    return last_stage(Polygon(size=4.0), Lattice(form="squares", extent="by number", columns=columns, rows=rows, grow="top left"))


@pytest.mark.parametrize(
    ("channel", "values"), [("column", [0, 1, 2, 3, 4] * 3), ("row", [0] * 5 + [2] * 5 + [4] * 5), ("step", np.arange(15) * 4 / 14)]
)
def test_varied_runs_from_start_to_end(channel, values):
    stage = lattice()
    assert Ask(stage).each(Varied(rule="floor-lattice", channel=channel, start=0, end=4)) == pytest.approx(values)


def test_distance_is_from_the_pivot_and_chance_is_lasting():
    distance = Varied(rule="floor-lattice", channel="distance", start=0, end=1)
    assert Ask(lattice()).each(distance)[0] == 0
    chance = Varied(rule="floor-lattice", channel="chance", start=0, end=1)
    small, large = lattice(), lattice(9, 9)
    kept = [int(np.flatnonzero((large.key == key).all(1))[0]) for key in small.key]
    assert Ask(large).each(chance)[kept] == pytest.approx(Ask(small).each(chance))


def test_fields_are_read_at_any_place_and_held_past_the_ends():
    stage = lattice()
    points = np.broadcast_to(np.array([[2.0, 0.0]]), (stage.n, 1, 2))
    read = Ask(stage).at(Varied(rule="floor-lattice", channel="column", start=0, end=4), points)[:, 0]
    assert read[:5] == pytest.approx([0.5, 1.5, 2.5, 3.5, 4.0])


def test_one_copy_reads_the_start():
    stage = lattice(1, 1)
    assert Ask(stage).each(Varied(rule="floor-lattice", channel="column", start=3, end=9)) == pytest.approx([3.0])


def test_a_rule_that_is_gone_leaves_the_start_and_is_told():
    gone = Varied(rule="never", channel="column", start=12.0, end=24.0)
    result = evaluated(Polygon(size=gone), Lattice())
    assert "gone" in result.problems[0].sentence
    assert Ask(result.last.stage, result.known).each(gone) == pytest.approx([12.0])


def test_lots_are_even_and_seeded():
    keys = np.stack(np.mgrid[-100:100, -100:100], -1).reshape(-1, 2)
    lots = lots_of_keys(keys, 1)
    assert 0 <= lots.min() <= lots.max() < 1
    assert lots.mean() == pytest.approx(0.5, abs=0.01)
    assert np.abs(np.corrcoef(lots, lots_of_keys(keys, 2))[0, 1]) < 0.02
    assert (lots_of_places(np.array([[1.0, 2.0]]), 3) == lots_of_places(np.array([[1.0 + 1e-12, 2.0]]), 3)).all()
