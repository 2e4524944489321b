"""The hull of many outlines, by which motifs of several shapes are laid touching."""

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from under_lattice.geometry.affine import apply, turns
from under_lattice.geometry.body import hull, hull_of_outlines
from under_lattice.geometry.outline import flatten, on_outline
from under_lattice.rules import Ellipse, Line, Petal, Polygon

OUTLINES = [rule.shape().body() for rule in (Ellipse(width=8.0), Polygon(sides=5, size=6.0), Petal(length=12.0), Line(length=9.0))]
PLACED = st.tuples(st.sampled_from(OUTLINES), st.floats(0, 360), st.floats(-50, 50), st.floats(-50, 50))


@given(st.lists(PLACED, min_size=1, max_size=30))
def test_the_hull_of_outlines_is_that_of_all_their_points(placed):
    outlines = [(one.verbs, np.add(apply(turns(turn), one.points), (x, y))) for one, turn, x, y in placed]
    everything = np.concatenate([ring[0] for verbs, points in outlines for ring in flatten(verbs, points[None], 12)])
    found, wanted = (shapely.Polygon(one).buffer(0) for one in (hull_of_outlines(outlines, 12), hull(everything)))
    assert found.symmetric_difference(wanted).area < 1e-9 * max(1.0, wanted.area)
    assert hull_of_outlines(outlines, 12).shape[1] == 2


@pytest.mark.parametrize("outline", OUTLINES)
def test_points_on_an_outline_are_where_its_straight_pieces_meet(outline):
    on = outline.points[on_outline(outline.verbs)]
    corners = np.concatenate([ring[0] for ring in flatten(outline.verbs, outline.points[None], 3)])
    assert all(np.hypot(*(corners - point).T).min() < 1e-12 for point in on)
    assert len(on) <= len(outline.points)


def test_many_outlines_within_a_few_cost_little_and_change_nothing():
    rim, dot = Ellipse(width=400.0).shape().body(), Ellipse(width=2.0).shape().body()
    places = np.random.default_rng(1).uniform(-130, 130, (20_000, 2))
    outlines = [(dot.verbs, dot.points + place) for place in places]
    assert hull_of_outlines([*outlines, (rim.verbs, rim.points)], 12) == pytest.approx(
        hull_of_outlines([(rim.verbs, rim.points)], 12)
    )
