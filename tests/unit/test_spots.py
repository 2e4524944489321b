"""Spots: places by hand as a list in and out."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.chains import centres, last_stage
from under_lattice.core.errors import InputError
from under_lattice.declare.frozen import edited
from under_lattice.library.layers import chain
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.repeats.progression import Progression
from under_lattice.rules.repeats.spots import SPOTS_MOST, Spots, read_spots, spots_text
from under_lattice.work.model import Design, Sheet
from under_lattice.work.sheets import set_unit

PLACE, TURN, SIZE = st.floats(-999, 999), st.floats(-360, 360), st.floats(1, 500)


def test_a_copy_stands_at_each_spot_turned_and_sized():
    stage = last_stage(Polygon(), Spots(spots="10, -20; 0 5 90 50\n-3.5, 1e1"))
    assert centres(stage) == pytest.approx(np.array([(10, -20), (0, 5), (-3.5, 10)]))
    assert stage.xform[1, :, :2] == pytest.approx(np.array([(0, -0.5), (0.5, 0)]), abs=1e-9)
    assert stage.key[:, 1].tolist() == [0, 1, 2]


def test_what_stands_above_goes_to_each_spot_as_a_whole():
    stage = last_stage(Polygon(), Progression(count=2, distance=7.0), Spots(spots="0, 0; 100, 0"))
    assert centres(stage)[:, 0].tolist() == [0, 7, 100, 107]


WRONG = {
    "": "0 spots",
    "1": "spot 1",
    "1, 2; x, 3": "spot 2",
    "1, 2, 3, 4, 5": "spot 1",
    "nan, 1": "spot 1",
    "1e9, 0": "range",
    "0, 0, 0, 0": "range",
    "0,0;" * (SPOTS_MOST + 1): "spots",
    "0" * 70_000: "characters",
}


@pytest.mark.parametrize("text", WRONG, ids=lambda text: text[:12])
def test_lists_that_cannot_be_read_are_refused(text):
    with pytest.raises(InputError, match=WRONG[text]):
        edited(Spots(), spots=text)


@given(st.lists(st.tuples(PLACE, PLACE, TURN, SIZE), min_size=1, max_size=20))
def test_a_list_goes_out_and_comes_back(spots):
    assert read_spots(spots_text(np.array(spots))) == pytest.approx(np.array(spots), abs=1e-3)


def test_another_unit_keeps_the_places():
    design = Design(sheet=Sheet(), layers=(chain("Floor", Polygon(), Spots(spots="10, -20, 45, 50; 0, 5")),))
    assert set_unit(design, "cm").layers[0].rules[1].spots == "1, -2, 45, 50; 0, 0.5"
