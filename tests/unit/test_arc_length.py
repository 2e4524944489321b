"""Lengths along curves: against adaptive integration, at turnings back, and the places that lie so far along."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import quad

from tests.chains import evaluated
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.geometry.arc_length import Walk, speeds
from under_lattice.geometry.cutting import cubics_of, part_between
from under_lattice.geometry.path import paths_of
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.petal import Petal
from under_lattice.rules.motifs.rectangle import Rectangle
from under_lattice.rules.motifs.rose import Rose
from under_lattice.rules.motifs.spiral import Spiral

numbers = st.floats(-100, 100).map(lambda v: round(v, 3))
cubic = st.lists(st.tuples(numbers, numbers), min_size=4, max_size=4, unique=True).map(np.array)


@settings(max_examples=30)
@given(cubic)
def test_a_cubic_is_as_long_as_its_speed_adds_up_to(points):
    want = sum(quad(lambda t: speeds(points[None], np.array([[t]]))[0, 0], a, a + 0.05, limit=200)[0] for a in np.arange(20) / 20)
    assert Walk(points[None]).length == pytest.approx(want, rel=1e-6)


def test_a_line_that_turns_back_is_walked_to_its_point_and_back():
    assert Walk(np.array([[(0, 0), (10, 0), (10, 0), (0, 0)]], float)).length == pytest.approx(15.0, rel=1e-6)
    assert Walk(np.array([[(0, 0), (30, 0), (-20, 0), (10, 0)]], float)).length > 10


@given(st.lists(cubic, min_size=1, max_size=4), st.floats(0.0, 1.0))
def test_what_lies_before_a_place_is_as_long_as_was_asked(cubics, share):
    walk = Walk(np.array(cubics))
    (place,) = walk.places(np.array([share * walk.length]))
    before = part_between(walk.cubics, 0.0, float(place))
    assert (Walk(before).length if len(before) else 0.0) == pytest.approx(share * walk.length, abs=2e-6 * walk.length)


@pytest.mark.parametrize(
    "motif",
    [Ellipse(width=24.0, roundness=750.0), Ellipse(width=2.0), Petal(), Rose(), Spiral(), Rectangle(rounded=30.0)],
    ids=lambda motif: motif.kind,
)
def test_outlines_in_straight_pieces_are_as_long_as_their_curves(motif):
    result = evaluated(motif)
    (family,) = Evaluator().marks(result.last.stage, result.known).families
    want = [Walk(cubics).length for cubics, _ in cubics_of(family.verbs, family.points[0])]
    assert [path.length for path in paths_of(family.verbs, family.points[0])] == pytest.approx(want, rel=1e-6)
