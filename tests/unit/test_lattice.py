"""Lattices: the figures of pitch, rows, cover, counts and cells."""

import numpy as np
import pytest

from tests.chains import SHEET, centres, evaluated, last_stage, work_of
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.derived import derived_values
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.geometry.body import clearance, edges_of
from under_lattice.measure.facts import measure
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.lattice_net import touching_pitches
from under_lattice.rules.shared.anchor import Anchor
from under_lattice.vary.numbers import Varied
from under_lattice.work.address import Address
from under_lattice.work.model import Sheet
from under_lattice.work.turning import turned

HEXAGON = Polygon(measure="circumradius", size=24.0)
SQUARE = Polygon(sides=4, size=30.0, stands="on a flat")


def notes(*rules):
    return last_stage(*rules).found.values


@pytest.mark.parametrize(("degrees", "chord"), [(0, 41.569219), (10, 42.210), (30, 48.0), (45, 43.035623)])
def test_touching_along_a_direction_is_the_longest_chord(degrees, chord):
    ring = last_stage(HEXAGON).bodies()
    assert clearance(edges_of(ring), degrees) == pytest.approx(chord, abs=5e-4)


def test_an_arrow_head_nests_closer_than_its_box():
    arrow = np.array([[(0, 0), (4, 4), (0, 8), (2, 4)]], float)
    assert clearance(edges_of(arrow), 0) == pytest.approx(2.0)


@pytest.mark.parametrize(("gap", "pitch", "rows"), [(0.0, 41.569219, 36.0), (1.8, 43.369219, 37.558846)])
def test_hexagons_on_points(gap, pitch, rows):
    stage = last_stage(HEXAGON, Lattice(gap=gap))
    assert stage.found.values["pitch"] == pytest.approx(pitch, abs=1e-6)
    assert stage.found.values["row_pitch"] == pytest.approx(rows, abs=1e-6)
    odd = centres(stage)[(stage.key[:, 0] % 2 == 1)]
    assert np.allclose((odd[:, 0] - pitch / 2) % pitch % pitch, 0, atol=1e-5) or np.allclose(
        np.abs((odd[:, 0] / pitch) % 1 - 0.5), 0, atol=1e-6
    )


def test_hexagons_on_flats_are_the_same_turned():
    flat = last_stage(Polygon(measure="circumradius", size=24.0, stands="on a flat"), Lattice(form="hexagons on flats"))
    assert flat.found.values["pitch"] == pytest.approx(41.569219, abs=1e-6)
    assert np.diff(np.unique(centres(flat)[:, 0].round(6))) == pytest.approx(36.0)


def test_even_gap_is_even_on_all_six_sides():
    result = evaluated(HEXAGON, Lattice(gap=1.8))
    assert measure(result, Evaluator(), SHEET).gap == pytest.approx(1.8, abs=1e-9)


def test_plain_cover_counts_105():
    assert last_stage(Polygon(size=36.0), Lattice()).n == 105


def test_cover_follows_the_margin():
    assert last_stage(Polygon(size=36.0), Lattice(margin=36.0)).n > 105 > last_stage(Polygon(size=36.0), Lattice(margin=-30.0)).n


def test_cell_of_a_hexagon_lattice_is_two_hexagons():
    cell = measure(evaluated(HEXAGON, Lattice()), Evaluator(), SHEET).cell
    assert cell["width"] == pytest.approx(41.569219, abs=1e-6)
    assert cell["height"] == pytest.approx(72.0)
    assert cell["copies"] == 2
    assert cell["width"] * cell["height"] == pytest.approx(2 * 1496.491898, abs=1e-5)


@pytest.mark.parametrize(("march", "shifts"), [("alternating", [0, 0.25, 0]), ("progressive", [0, 0.25, 0.5])])
def test_staggered_rows_by_any_fraction(march, shifts):
    stage = last_stage(
        SQUARE, Lattice(form="staggered rows", shift=25.0, march=march, extent="by number", columns=1, rows=3, grow="top left")
    )
    assert np.allclose(centres(stage), [(s * 30, 30 * k) for k, s in enumerate(shifts)])


@pytest.mark.parametrize(("march", "shifts"), [("alternating", [0, 0.4, 0]), ("progressive", [0, 0.4, 0.8])])
def test_dropped_columns_by_any_fraction(march, shifts):
    stage = last_stage(
        SQUARE, Lattice(form="dropped columns", shift=40.0, march=march, extent="by number", columns=3, rows=1, grow="top left")
    )
    assert np.allclose(centres(stage), [(30 * k, s * 30) for k, s in enumerate(shifts)])


def test_triangles_turn_alternate_copies_and_fill_the_plane():
    stage = last_stage(Polygon(sides=3, measure="side", size=40.0), Lattice(form="triangles"))
    upright = stage.xform[:, 0, 0] > 0
    assert abs(int(upright.sum()) - int((~upright).sum())) <= 8
    assert stage.found.values["row_pitch"] == pytest.approx(40 * np.sqrt(3) / 2)


def test_two_free_vectors_touch_in_both_directions():
    stage = last_stage(
        SQUARE, Lattice(form="two vectors", angle=0, row_angle=60, extent="by number", columns=2, rows=2, grow="top left")
    )
    assert np.allclose(centres(stage)[1], (30, 0))
    assert centres(stage)[2, 1] == pytest.approx(30.0)


def test_parallel_vectors_are_refused_with_a_reason():
    problems = evaluated(SQUARE, Lattice(form="two vectors", angle=10, row_angle=190, spacing="free")).problems
    assert "same way" in problems[0].sentence


def test_free_pitch_is_taken_as_it_is():
    assert notes(SQUARE, Lattice(form="squares", spacing="free", pitch=31.0, row_pitch=47.0))["row_pitch"] == 47.0


@pytest.mark.parametrize(
    ("grow", "first"), [("top left", (0, 0)), ("bottom right", (-60, -30)), ("middle copy", (-30, -30)), ("middle", (-30, -15))]
)
def test_grow_from(grow, first):
    stage = last_stage(SQUARE, Lattice(form="squares", extent="by number", columns=3, rows=2, grow=grow))
    assert np.allclose(centres(stage).min(0), first)
    if grow != "middle":
        assert np.allclose(centres(stage)[stage.origin], 0)


def test_an_even_number_that_the_sheet_gave_stays_where_it_is():
    motif = Polygon(sides=4, size=30.0, stands="on a flat", place_x=15.0, place_y=15.0)
    design = work_of(motif, Lattice(form="squares", extent="whole copies inside")).design
    by_number = turned(design, Address("floor", "floor-lattice", "extent"), "by number", derived_values, carries=True)
    before, after = (Evaluator().design(one)["floor"].last.stage for one in (design, by_number))
    assert by_number.chain("floor").rules[1].columns % 2 == 0
    assert centres(after) == pytest.approx(centres(before))


@pytest.mark.parametrize("form", ["squares", "triangles", "two vectors", "hexagons on flats", "hexagons on points"])
@pytest.mark.parametrize(("columns", "rows"), [(4, 6), (5, 6), (2, 1), (7, 3)])
def test_what_grows_from_the_middle_stands_centred(form, columns, rows):
    motif = Polygon(sides=6, size=20.0) if "hexagons" in form else SQUARE
    for turn in (0.0, 33.0):
        lattice = Lattice(form=form, extent="by number", columns=columns, rows=rows, turn=turn, gap=3.0)
        stage = last_stage(motif, lattice)
        at = centres(stage)
        column, row = stage.channels["column"], stage.channels["row"]
        edge = (column == column.min()) | (column == column.max())
        rim = at[edge & ((row == row.min()) | (row == row.max()))]
        shifted = "hexagons" in form or form == "triangles"  # rows that are shifted reach farther on one side
        assert np.hypot(*rim.mean(0)) < (14.0 if shifted else 1e-6)


def test_whole_copies_inside():
    stage = last_stage(SQUARE, Lattice(form="squares", extent="whole copies inside"), sheet=Sheet(width=100, height=70))
    assert stage.n == 3
    assert np.abs(stage.bodies()[..., 0]).max() <= 50


def test_fits_a_box_exactly():
    stage = last_stage(SQUARE, Lattice(form="squares", extent="fits a box", columns=5, rows=3, box_width=200.0, box_height=120.0))
    ring = stage.bodies().reshape(-1, 2)
    assert np.allclose(ring.min(0), (-100, -60))
    assert np.allclose(ring.max(0), (100, 60))


def test_a_box_smaller_than_the_motif_is_refused():
    assert "smaller than the motif" in evaluated(SQUARE, Lattice(extent="fits a box", box_width=10.0)).problems[0].sentence


def test_turn_is_about_the_pivot():
    stage = last_stage(SQUARE, Lattice(form="squares", turn=30.0, pivot=Anchor(spot="motif top left")))
    assert stage.xform[stage.origin] @ (-15, -15, 1) == pytest.approx((-15, -15))


def test_ragged_repeat_counts_differ_for_each_copy_above():
    rows = Varied(rule="floor-lattice", channel="row", start=1, end=3)
    stage = last_stage(
        Polygon(size=4.0),
        Lattice(form="squares", extent="by number", columns=1, rows=3, spacing="free", row_pitch=100.0, grow="top left"),
        Lattice(form="squares", extent="by number", columns=rows, rows=1, spacing="free", pitch=5.0, grow="top left"),
    )
    assert np.bincount(stage.parent).tolist() == [1, 2, 3]
    assert stage.n == 6


def test_copy_count_has_a_limit_before_memory_is_taken():
    result = evaluated(Polygon(size=0.01), Lattice())
    assert "at most" in result.problems[0].sentence


@pytest.mark.parametrize("form", ["squares", "staggered rows", "dropped columns"])
def test_touching_accounts_for_the_gap_on_both_axes(form):
    ring = last_stage(SQUARE).bodies()
    across, down = touching_pitches(form, ring, 2.0, 0.0, False, (0.0, 90.0))
    assert (across, down) == pytest.approx((32.0, 32.0))


def test_stacking_changes_the_order_of_laying_and_nothing_else():
    plain = Lattice(form="squares", spacing="free", pitch=10.0, row_pitch=10.0, extent="by number", columns=3, rows=3)
    stages = {how: last_stage(Polygon(), edited(plain, stacking=how)) for how in ("last on top", "first on top", "middle on top")}
    assert tuple(stages["middle on top"].key[-1]) == (0, 0)
    assert tuple(stages["first on top"].key[0]) == (1, 1)
    for stage in stages.values():
        number = {tuple(key): step for key, step in zip(stage.key.tolist(), stage.channels["step"], strict=True)}
        assert number == {tuple(k): s for k, s in zip(stages["last on top"].key.tolist(), range(9), strict=True)}


@pytest.mark.parametrize(
    ("lattice", "said"),
    [
        (Lattice(), "touching"),
        (Lattice(gap=12.0), "gap 12.00 mm"),
        (Lattice(gap=-1.5), "gap −1.50 mm"),
        (Lattice(spacing="free", pitch=30.0, gap=12.0), "pitch 30.00 mm"),
        (Lattice(extent="fits a box"), "fits a box"),
    ],
)
def test_a_card_says_touching_only_where_neighbours_touch(lattice, said):
    assert lattice.key_line("mm") == said
