"""Polygon, Split and Push edges: their figures."""

import numpy as np
import pytest

from tests.chains import evaluated, last_stage, tiles
from under_lattice.core.errors import InputError
from under_lattice.geometry.outline import areas
from under_lattice.geometry.profiles import profile_of
from under_lattice.pattern.ask import Ask
from under_lattice.pattern.stage import start
from under_lattice.rules.motifs.polygon import Polygon, circumradius_of
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.shapes.push_edges import PushEdges
from under_lattice.rules.shapes.pushed import first_crossing, forward
from under_lattice.rules.shapes.split import Split
from under_lattice.rules.shared.named_points import parse_chords
from under_lattice.vary.numbers import Varied

HEXAGON = Polygon(measure="circumradius", size=24.0)


def faces(*rules):
    stage = last_stage(*rules)
    return stage.shape.draw(Ask(stage))


def face_areas(*rules):
    return [float(abs(areas(f.verbs, f.points)[0])) for f in faces(*rules)]


@pytest.mark.parametrize(
    ("measure", "sides", "value"),
    [
        ("across flats", 6, 41.569219),
        ("side", 6, 24.0),
        ("apothem", 6, 20.784610),
        ("circumradius", 6, 24.0),
        ("across flats", 3, 36.0),
    ],
)
def test_measures_are_views_of_one_number(measure, sides, value):
    assert value * circumradius_of(measure, sides) == pytest.approx(24.0, abs=1e-6)


def test_choosing_another_measure_keeps_the_size():
    changes = HEXAGON.converted("measure", "side")
    assert changes == {"measure": "side", "size": pytest.approx(24.0)}


@pytest.mark.parametrize(("stands", "size"), [("on a point", (41.569219, 48)), ("on a flat", (48, 41.569219))])
def test_hexagon_stands(stands, size):
    ring = last_stage(Polygon(measure="circumradius", size=24.0, stands=stands)).body_ring
    assert np.ptp(ring, 0) == pytest.approx(size, abs=1e-6)


def test_areas_of_hexagon_and_its_rhombs():
    assert face_areas(HEXAGON) == pytest.approx([1496.491898], abs=1e-6)
    assert face_areas(HEXAGON, Split()) == pytest.approx([498.830633] * 3, abs=1e-6)
    assert face_areas(HEXAGON, Split(into="triangles")) == pytest.approx([1496.491898 / 6] * 6, abs=1e-6)


def test_part_0_is_first_clockwise_from_straight_up():
    middles = [f.points[0].mean(0) for f in faces(HEXAGON, Split())]
    assert middles[0] == pytest.approx((0, -12))
    angles = [np.degrees(np.arctan2(y, x)) + 90 for x, y in middles]
    assert [a % 360 for a in angles] == pytest.approx([0, 120, 240], abs=1e-6)


def test_chosen_chords():
    assert len(faces(HEXAGON, Split(into="chords", chords="1-4"))) == 2
    assert len(faces(HEXAGON, Split(into="chords", chords="s1-s4, s2-s5, s3-s6"))) == 6
    assert sum(face_areas(HEXAGON, Split(into="chords", chords="1-3, 3-5, 5-1"))) == pytest.approx(1496.491898, abs=1e-6)


@pytest.mark.parametrize("text", ["", "1", "1-1", "x-2", "1-2-3", "0-2"])
def test_a_wrong_chord_says_how_to_write_one(text):
    with pytest.raises(InputError, match="1-3"):
        parse_chords(text)


def test_a_chord_to_a_missing_corner_is_refused():
    assert "6 corners" in evaluated(HEXAGON, Split(into="chords", chords="1-7")).problems[0].sentence


@pytest.mark.parametrize(
    ("rules", "profile", "figure"),
    [((), "bow", 20.19), ((), "S", 20.62), ((Split(),), "bow", 3.4641), ((Split(),), "S", 10.484)],
)
def test_first_self_crossing(rules, profile, figure):
    shape = last_stage(HEXAGON, *rules).shape
    assert first_crossing(shape, profile_of(profile)) == pytest.approx(figure, rel=5e-4)


def test_bow_adds_two_thirds_and_s_adds_nothing():
    square = Polygon(sides=4, size=30.0, stands="on a flat")
    triangle = Polygon(sides=3, measure="circumradius", size=24.0)
    assert face_areas(triangle, PushEdges(profile="S", amount=1.5), Lattice(form="triangles"))[0] == pytest.approx(
        748.246, abs=1e-3
    )
    stage = last_stage(triangle, PushEdges(profile="bow", amount=1.5), Lattice(form="triangles"))
    (family,) = stage.shape.draw(Ask(stage))
    found = np.abs(areas(family.verbs, family.points))
    gained = 3 * 2 / 3 * 1.5 * 24 * np.sqrt(3)  # three parabolas of height 1.5 on sides of 24 sqrt 3
    assert sorted({round(float(v), 6) for v in found}) == pytest.approx([748.245949 - gained, 748.245949 + gained], abs=1e-5)
    assert face_areas(square, PushEdges(profile="bow", amount=2.0), Lattice(form="squares"))[0] == pytest.approx(900.0)


def test_greatest_push_is_the_amount():
    for profile in ("S", "bow"):
        result = evaluated(Polygon(sides=4, size=30.0, stands="on a flat"), PushEdges(profile=profile, amount=2.0))
        left, top, right, bottom = tiles(result, 400)[0][0].bounds
        assert max(right - 15, bottom - 15, -15 - left, -15 - top) == pytest.approx(2.0, abs=1e-4)


def test_forward_is_opposite_for_opposite_ways_and_alike_by_thirds_of_a_turn():
    angle = np.radians(np.arange(0, 360, 30))
    run = np.stack([np.cos(angle), np.sin(angle)], -1)
    assert (forward(run) == -forward(-run)).all()
    assert (forward(run) == np.roll(forward(run), 4)).all()


def test_push_varies_over_a_repeat_below():
    amount = Varied(rule="floor-lattice", channel="column", start=0.0, end=5.4)
    stage = last_stage(HEXAGON, Split(), PushEdges(amount=amount), Lattice())
    families = stage.shape.draw(Ask(stage))
    assert max(len(f.points) for f in families) > 5
    assert families[0].variant.shape == (stage.n,)


def test_edges_that_are_not_shared_whole_are_refused_with_the_reason():
    square = Polygon(sides=4, size=30.0, stands="on a flat")
    problems = evaluated(square, PushEdges(amount=2.0), Lattice(form="staggered rows")).problems
    assert "meets two neighbours" in problems[0].sentence
    assert not evaluated(square, PushEdges(amount=2.0), Lattice(form="staggered rows", shift=0.0)).problems


def test_split_and_push_refuse_curves():
    assert "straight edges" in evaluated(HEXAGON, PushEdges(), Split()).problems[0].sentence
    assert "straight edges" in evaluated(HEXAGON, PushEdges(), PushEdges()).problems[0].sentence
    assert "even number" in evaluated(Polygon(sides=5), Split()).problems[0].sentence


def test_a_step_picture_above_the_repeat_stands_at_the_end_of_the_run():
    amount = Varied(rule="floor-lattice", channel="column", start=0.0, end=5.0)
    result = evaluated(HEXAGON, PushEdges(amount=amount), Lattice())
    early = result.steps[1].stage
    (varied,) = early.shape.draw(Ask(early, result.known))
    (constant,) = evaluated(HEXAGON, PushEdges(amount=5.0)).last.stage.shape.draw(Ask(early))
    assert np.allclose(varied.points, constant.points)


def test_a_lone_polygon_draws_one_variant():
    stage = start(HEXAGON.shape())
    assert len(stage.shape.draw(Ask(stage))[0].points) == 1
