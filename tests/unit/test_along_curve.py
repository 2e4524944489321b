"""Along a curve: places by arc length, closed and open lines, sides, other layers."""

import numpy as np
import pytest

from tests.chains import centres, last_stage
from under_lattice.core.errors import InputError
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator, evaluate
from under_lattice.geometry.path import line_through, paths_of
from under_lattice.library.layers import chain
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.repeats.along_curve import AlongCurve
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.rosette import Rosette
from under_lattice.vary.numbers import Varied
from under_lattice.work.model import Design, Sheet

DOT = Ellipse(width=2.0)
RING = Ellipse(width=120.0)
BOX = "-50, -30; 50, -30; 50, 30; -50, 30"


def along(**settings):
    return last_stage(DOT, AlongCurve(**settings))


def two_layers(*rules, source=(RING,)):
    ring, beads = chain("Ring", *source), chain("Beads", DOT, *rules)
    return Design(sheet=Sheet(width=300, height=300), layers=(beads, ring))


def test_an_open_straight_line_has_copies_at_both_ends_in_even_steps():
    stage = along(points="0, 0; 30, 40", bends="straight", count=6)
    assert np.allclose(centres(stage), np.outer(np.arange(6) * 10, (0.6, 0.8)))
    assert np.allclose(np.degrees(np.arctan2(stage.xform[:, 1, 0], stage.xform[:, 0, 0])), np.degrees(np.arctan2(4, 3)))


def test_a_closed_line_has_no_copy_twice_and_a_pitch_is_fitted_to_it():
    stage = along(points=BOX, bends="straight", ends="closed", spacing="by pitch", pitch=31.0)
    assert stage.n == 10  # 320 / 31 is 10.3
    assert stage.found.values["pitch"] == pytest.approx(32.0)
    typed = along(points=BOX, bends="straight", ends="closed", spacing="by pitch", pitch=31.0, fit="as typed")
    assert typed.n == 10
    assert typed.found.said["fit"].startswith("10 is left over")


def test_on_a_corner_a_copy_looks_halfway_between_the_sides():
    stage = along(points=BOX, bends="straight", ends="closed", count=2, begin=31.25)  # 100 of 320: the corner at the right
    angle = np.degrees(np.arctan2(stage.xform[0, 1, 0], stage.xform[0, 0, 0]))
    assert angle == pytest.approx(45.0)


def test_the_sheets_edge_is_followed_within_its_inset_and_told_of_when_nothing_is_left():
    stage = along(line="the sheet's edge", inset=12.0, count=40)
    at = np.abs(centres(stage))
    on_edge = np.isclose(at[:, 0], 150.0) | np.isclose(at[:, 1], 149.0)
    assert on_edge.all()
    assert stage.n == 40
    with pytest.raises(AssertionError, match="leaves no line"):
        along(line="the sheet's edge", inset=161.0)


def test_copies_follow_the_outlines_of_another_layer_with_exact_places_and_headings():
    found = evaluate(two_layers(AlongCurve(line="another layer", layer="ring", count=36, aside=5.0)))
    assert not found["beads"].problems
    stage = found["beads"].last.stage
    at = centres(stage)
    assert np.allclose(np.hypot(*at.T), 55.0, atol=2e-2)  # to the right of a clockwise line is inwards; four cubics make the circle
    heading = np.degrees(np.arctan2(stage.xform[:, 1, 0], stage.xform[:, 0, 0]))
    place = np.degrees(np.arctan2(at[:, 1], at[:, 0]))
    assert np.allclose((heading - place) % 360, 90.0, atol=0.1)


def test_every_copy_of_the_layer_is_a_line_of_its_own_with_rows_and_keys():
    design = two_layers(
        AlongCurve(line="another layer", layer="ring", count=6), source=(Polygon(sides=6, size=20.0), Rosette(count=5))
    )
    stage = evaluate(design)["beads"].last.stage
    assert stage.n == 30
    assert set(stage.channels["row"]) == {0, 1, 2, 3, 4}
    assert len(np.unique(stage.key, axis=0)) == 30


def test_two_layers_that_follow_each_other_are_told_and_neither_hangs():
    one = chain("Ring", DOT, AlongCurve(line="another layer", layer="beads"))
    two = chain("Beads", DOT, AlongCurve(line="another layer", layer="ring"))
    found = evaluate(Design(layers=(one, two)))
    assert any("follows this one" in p.sentence for result in found.values() for p in result.problems)


def test_only_the_follower_of_a_changed_layer_is_made_anew():
    design, evaluator = two_layers(AlongCurve(line="another layer", layer="ring")), Evaluator()
    before = evaluate(design, evaluator)["beads"].last.stage
    assert evaluate(design, evaluator)["beads"].last.stage is before
    ring = chain("Ring", Ellipse(width=90.0))
    after = evaluate(edited(design, layers=(design.layers[0], ring)), evaluator)["beads"].last.stage
    assert np.hypot(*centres(after)[0]) == pytest.approx(45.0)


def test_side_turn_and_size_vary_by_the_own_steps_and_by_the_copies_above():
    own = last_stage(
        DOT, AlongCurve(points="0, 0; 90, 0", count=10, aside=Varied(rule="floor-along-curve", channel="step", start=0.0, end=9.0))
    )
    assert np.allclose(centres(own)[:, 1], np.arange(10))
    row = Lattice(form="squares", extent="by number", columns=3, rows=1, spacing="free", pitch=5.0)
    sized = AlongCurve(points="0, 0; 90, 0", count=4, size=Varied(rule="floor-lattice", channel="column", start=50.0, end=100.0))
    stage = last_stage(DOT, row, sized)
    assert stage.n == 12
    assert set(np.round(stage.xform[:, 0, 0], 6)) == {0.5, 0.75, 1.0}


def test_the_line_is_followed_as_a_whole_where_a_rule_below_turns_it():
    stage = last_stage(DOT, AlongCurve(points="-10, 0; 10, 0", count=3), Adjust(turn=90.0))
    assert np.allclose(np.ptp(centres(stage), 0), (0, 20))


def test_a_smooth_line_goes_through_its_points_and_a_circle_has_its_length():
    points = np.array([(-60.0, 20.0), (-20.0, -25.0), (20.0, 25.0), (60.0, -20.0)])
    (path,) = paths_of(*(lambda o: (o.verbs, o.points))(line_through(points, False, True)))
    for point in points:
        assert np.hypot(*(path.points - point).T).min() < 1e-9
    body = Ellipse(width=2.0).shape().body()
    (circle,) = paths_of(body.verbs, body.points)
    assert circle.length == pytest.approx(2 * np.pi, rel=5e-4)


@pytest.mark.parametrize("text", ["", "1, 2", "1, 2; x, 3", "1, 2, 3; 4, 5, 6", "1, 2; 1e9, 0"])
def test_what_is_no_line_is_refused_with_what_is_allowed(text):
    with pytest.raises((InputError, ValueError), match=r"point|allowed"):
        AlongCurve(points=text)


def test_points_on_one_spot_are_told():
    with pytest.raises(AssertionError, match="one spot"):
        along(points="3, 3; 3, 3")
