"""Adjust by scope, Ink by source."""

import numpy as np
import pytest

from tests.chains import centres, evaluated, last_stage
from under_lattice.core.colour import checked, contrast, from_oklch, to_oklch
from under_lattice.core.errors import InputError
from under_lattice.rules.adjust import Adjust
from under_lattice.rules.anchor import Anchor
from under_lattice.rules.ink import Ink
from under_lattice.rules.lattice import Lattice
from under_lattice.rules.polygon import Polygon
from under_lattice.rules.scope import ALL, EACH
from under_lattice.rules.split import Split
from under_lattice.vary.numbers import Varied
from under_lattice.work.evaluate import Evaluator

DISC = Polygon(sides=12, measure="circumradius", size=9.0)
ROW = Lattice(form="squares", spacing="free", pitch=20.0, extent="by number", columns=3, rows=1, grow="top left")


def test_all_turns_about_the_pivot():
    stage = last_stage(DISC, ROW, Adjust(turn=90.0, pivot=Anchor(spot="sheet centre")))
    assert centres(stage) == pytest.approx(np.array([(0, 0), (0, 20), (0, 40)]), abs=1e-9)


def test_each_turns_about_its_own_centre():
    stage = last_stage(DISC, ROW, Adjust(scope=EACH, turn=90.0, across=50.0))
    assert centres(stage) == pytest.approx(np.array([(0, 0), (20, 0), (40, 0)]), abs=1e-9)
    assert stage.xform[1, :, :2] == pytest.approx(np.array([(0, -1), (0.5, 0)]), abs=1e-9)


def test_each_copy_of_an_outer_rule_is_taken_as_one():
    pair = Lattice(form="squares", spacing="free", row_pitch=100.0, extent="by number", columns=1, rows=2, grow="top left")
    stage = last_stage(DISC, ROW, pair, Adjust(scope="floor-lattice-2", turn=90.0))
    assert centres(stage)[:3] == pytest.approx(np.array([(0, 0), (0, 20), (0, 40)]), abs=1e-9)
    assert centres(stage)[3:] == pytest.approx(np.array([(0, 100), (0, 120), (0, 140)]), abs=1e-9)


def test_numbers_vary_by_row_and_keys_stay():
    size = Varied(rule="floor-lattice", channel="column", start=100.0, end=50.0)
    stage = last_stage(DISC, ROW, Adjust(scope=EACH, across=size, along=size, x=3.0))
    assert stage.xform[:, 0, 0] == pytest.approx([1.0, 0.75, 0.5])
    assert (stage.key == stage.above.key).all()
    assert centres(stage)[:, 0] == pytest.approx([3, 23, 43])


def test_skew_leans_to_the_side():
    stage = last_stage(Polygon(sides=4, size=10.0, stands="on a flat"), Adjust(skew=45.0))
    assert stage.xform[0, :, :2] == pytest.approx(np.array([(1, 1), (0, 1)]), abs=1e-9)


@pytest.mark.parametrize("scope", [ALL, EACH])
def test_nothing_changed_is_nothing_changed(scope):
    stage = last_stage(DISC, ROW, Adjust(scope=scope))
    assert stage.xform == pytest.approx(stage.above.xform)


def fills(ink, *rules):
    result = evaluated(*rules, ink)
    (coat,) = Evaluator().picture(result).coats
    return coat.fill


RGB = ("#FF0000", "#00FF00", "#0000FF")


@pytest.mark.parametrize(
    ("source", "want"),
    [("column", [0, 1, 2, 0, 0, 1, 2, 0]), ("row", [0, 0, 0, 0, 1, 1, 1, 1]), ("step", [0, 1, 2, 0, 1, 2, 0, 1])],
)
def test_colours_by_place(source, want):
    grid = Lattice(form="squares", extent="by number", columns=4, rows=2, grow="top left")
    assert fills(Ink(colours=source, palette=RGB), DISC, grid)[:, :3].argmax(1).tolist() == want


def test_colours_by_part_in_turn_and_none():
    hexagon = (Polygon(), Split())
    assert fills(Ink(colours="part", palette=RGB), *hexagon)[:, :3].argmax(1).tolist() == [0, 1, 2]
    assert fills(Ink(colours="in turn", palette=RGB[:2]), *hexagon)[:, :3].argmax(1).tolist() == [0, 1, 0]
    assert fills(Ink(colours="none"), *hexagon)[0, 3] == 0


def test_chance_is_seeded_and_lasting():
    def drawn(columns, seed):
        grid = Lattice(form="squares", extent="by number", columns=columns, rows=1, grow="top left")
        return fills(Ink(colours="chance", palette=RGB, seed=seed), DISC, grid)[:6].tolist()

    assert drawn(6, 1) == drawn(30, 1) != drawn(6, 2)


def test_opacity_may_vary_and_a_later_ink_changes_only_what_it_sets():
    fade = Varied(rule="floor-lattice", channel="column", start=100.0, end=0.0)
    first = Ink(colours="one colour", palette=RGB[:1], fill_opacity=fade)
    result = evaluated(DISC, ROW, first, Ink(colours="as before", stroke="one colour", stroke_width=2.0))
    (coat,) = Evaluator().picture(result).coats
    assert coat.fill[:, 3].tolist() == [255, 128, 0]
    assert coat.width.tolist() == [2.0]


def test_a_coat_on_top():
    result = evaluated(DISC, Ink(), Ink(colours="one colour", coat="on top"))
    assert len(Evaluator().picture(result).coats) == 2


def test_without_ink_parts_are_grey():
    (coat,) = Evaluator().picture(evaluated(Polygon(), Split())).coats
    assert (coat.fill[:, 0] == coat.fill[:, 1]).all()


@pytest.mark.parametrize("text", ["", "#12", "red", "#GGGGGG", "12345"])
def test_wrong_colours_say_how_to_write_one(text):
    with pytest.raises(InputError, match="hexadecimal"):
        checked(text)


@pytest.mark.parametrize("colour", ["#C2694C", "#000000", "#FFFFFF", "#26374F", "#00FF00"])
def test_oklch_there_and_back(colour):
    assert from_oklch(*to_oklch(colour)) == colour


def test_oklch_figures_and_gamut():
    assert to_oklch("#FF0000") == pytest.approx((0.62796, 0.25768, 29.234), abs=1e-3)
    assert checked(from_oklch(0.7, 0.37, 150)) == from_oklch(0.7, 0.37, 150)
    assert contrast("#000000", "#FFFFFF") == pytest.approx(21.0)
