"""Handles: where they stand, and what follows when they are dragged."""

import numpy as np
import pytest

from tests.chains import SHEET, evaluated
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.result import place_on_sheet
from under_lattice.geometry.affine import apply, inverse
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Drag
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.shared.anchor import Anchor
from under_lattice.vary.numbers import Varied
from under_lattice.work.model import Grid

GROUND = Ground.on(SHEET.width, SHEET.height)
SQUARE = Polygon(sides=4, size=30.0, stands="on a flat")


def setting(*rules, at=-1):
    result = evaluated(*rules)
    step = result.steps[at]
    above = result.steps[result.steps.index(step) - 1].stage if len(result.steps) > 1 else step.stage
    return step.rule, above, step.stage, result


def handle(name, *rules):
    rule, above, stage, _ = setting(*rules)
    return next(h for h in rule.handles(above, stage, GROUND, "mm").handles if h.name == name)


def dragged(name, by, *rules, **how):
    """Drag a handle by a vector; the rule as it is afterwards."""
    rule, above, stage, _ = setting(*rules)
    to = handle(name, *rules).at + np.array(by, float)
    return edited(rule, **rule.dragged(Drag(name, to, near=1.0, **how), above, stage, GROUND))


@pytest.mark.parametrize("form", ["hexagons on points", "hexagons on flats"])
def test_dragging_the_first_copy_away_makes_an_even_gap(form):
    stands = "on a point" if "points" in form else "on a flat"
    hexagon, lattice = Polygon(size=36.0, stands=stands), Lattice(form=form)
    at = handle("first copy", hexagon, lattice).at
    after = dragged("first copy", at / np.hypot(*at) * 5.0, hexagon, lattice)
    assert (after.gap, after.turn, after.spacing) == (pytest.approx(5.0), 0.0, "touching")


def test_close_to_touching_snaps_unless_it_is_freed():
    assert dragged("first copy", (0.6, 0.0), Polygon(), Lattice()).gap == 0.0
    assert dragged("first copy", (0.6, 0.0), Polygon(), Lattice(), free=True).gap == pytest.approx(0.6)


def test_dragging_round_turns_the_whole_lattice_in_tidy_angles():
    assert dragged("first copy", (-10.0, 21.0), Polygon(), Lattice(gap=6.0)).turn == pytest.approx(33.27, abs=0.02)
    assert dragged("first copy", (-5.6, 21.5), Polygon(), Lattice(), whole=True).turn == 30.0


def test_free_pitch_follows_the_hand():
    lattice = Lattice(form="squares", spacing="free", pitch=40.0, row_pitch=50.0)
    after = dragged("row step", (0.0, 7.0), SQUARE, lattice)
    assert (after.pitch, after.row_pitch) == (40.0, 57.0)


def test_row_step_of_staggered_rows_sets_the_shift():
    after = dragged("row step", (7.4, 4.0), SQUARE, Lattice(form="staggered rows", shift=0.0))
    assert (after.shift, after.gap) == (25.0, pytest.approx(4.0))


def test_first_copy_of_dropped_columns_sets_the_drop():
    after = dragged("first copy", (0.0, -15.2), SQUARE, Lattice(form="dropped columns", shift=50.0))
    assert after.shift == 0.0


def test_vectors_get_angle_and_length():
    after = dragged(
        "row step", (5.0, 0.0), SQUARE, Lattice(form="two vectors", spacing="free", pitch=30.0, row_pitch=30.0, row_angle=90.0)
    )
    assert after.row_angle == pytest.approx(80.54, abs=0.01)
    assert after.row_pitch == pytest.approx(30.41, abs=0.01)


def test_pivot_snaps_to_spots_then_to_the_grid():
    assert dragged("pivot", (0.3, -21.0), Polygon(), Lattice()).pivot == Anchor(spot="motif top")
    free = dragged("pivot", (5.3, 3.0), Polygon(), Lattice(), free=True).pivot
    assert (free.spot, free.dx, free.dy) == ("motif centre", 5.3, 3.0)
    assert dragged("pivot", (9.6, 10.2), Polygon(), Lattice(), grid=Grid(spacing=10.0).nearest).pivot == Anchor(dx=10.0, dy=10.0)


def test_turning_the_bead_turns_each_copy():
    bead = handle("turn each", SQUARE, Lattice(form="squares", gap=12.0)).at
    middle = handle("first copy", SQUARE, Lattice(form="squares", gap=12.0)).at
    turned = apply(np.array([(0, -1, 0), (1, 0, 0)]), (bead - middle)[None])[0] + middle
    after = dragged("turn each", turned - bead, SQUARE, Lattice(form="squares", gap=12.0))
    assert after.turn_each == pytest.approx(90.0)


def test_size_of_the_motif_and_move_of_adjust():
    corner = handle("size", Polygon(measure="circumradius", size=24.0)).at
    assert dragged("size", corner / 24 * 6, Polygon(measure="circumradius", size=24.0)).size == pytest.approx(30.0)
    after = dragged("move", (12.0, -4.0), SQUARE, Adjust(x=3.0))
    assert (after.x, after.y) == (15.0, -4.0)
    assert dragged("pivot", (-15.0, -15.0), SQUARE, Adjust()).pivot.spot in ("motif top left", "motif corner 4")


def test_a_varied_number_moves_its_start():
    size = Varied(rule="floor-lattice", channel="row", start=20.0, end=30.0)
    rule, _, stage, _ = setting(Polygon(measure="circumradius", size=size), Lattice(), at=0)
    after = rule.dragged(Drag("size", np.array([25.0, 0.0]), 0.1), stage, stage, GROUND)["size"]
    assert (after.start, after.end) == (25.0, 30.0)


def test_handles_stand_where_the_motif_lands_below():
    rule, _above, stage, result = setting(SQUARE, Lattice(form="squares"), Adjust(x=20.0, turn=90.0), at=1)
    place = place_on_sheet(result, stage)
    assert apply(place, np.zeros((1, 2)))[0] == pytest.approx((20.0, 0.0))
    assert apply(inverse(place), apply(place, np.array([[3.0, 4.0]])))[0] == pytest.approx((3.0, 4.0))
    assert rule.kind == "lattice"
