"""Offset: parallels in closed form, out and in again, many at once, what is refused."""

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from tests.chains import evaluated
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.geometry.outline import CLOSE, CURVE, MOVE, flatten
from under_lattice.pattern.ask import Ask
from under_lattice.pattern.clipping import area_of
from under_lattice.pattern.stage import start
from under_lattice.rules.copies.combine import Combine
from under_lattice.rules.ground import PLAIN
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.line import Line
from under_lattice.rules.motifs.outline_motif import Outline
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.motifs.ring import Ring
from under_lattice.rules.motifs.spiral import Spiral
from under_lattice.rules.motifs.star import Star
from under_lattice.rules.motifs.wave_line import WaveLine
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.progression import Progression
from under_lattice.rules.shapes.offset import Offset
from under_lattice.rules.shapes.split import Split
from under_lattice.rules.shapes.stroke_to_shape import StrokeToShape
from under_lattice.vary.numbers import Varied

SQUARE = Polygon(sides=4, measure="side", size=20.0, stands="on a flat")


def shapes(motif, *rules):
    shape = motif.shape()
    for rule in rules:
        shape = rule.reshape(shape, PLAIN)
    drawn = shape.draw(Ask(start(shape)))
    assert len(drawn) == shape.faces
    return [area_of(family, 0)[0] if family.variant[0] >= 0 else shapely.Polygon() for family in drawn]


@pytest.mark.parametrize(
    ("joins", "want"),
    [("mitred", 24.0**2), ("round", 400 + 4 * 20 * 2 + np.pi * 4), ("cut", 400 + 4 * 20 * 2 + 4 * 2)],
)
def test_corners_of_an_outward_parallel(joins, want):
    (found,) = shapes(SQUARE, Offset(distance=2.0, rings=1, joins=joins, keeps="the parallels only"))
    assert found.area == pytest.approx(want, rel=1e-3)


def test_parallels_stand_from_the_outermost_to_the_innermost():
    outwards = shapes(SQUARE, Offset(distance=2.0, rings=3))
    assert [shape.area for shape in outwards] == pytest.approx([32.0**2, 28.0**2, 24.0**2, 400.0])
    inwards = shapes(SQUARE, Offset(distance=-2.0, rings=3))
    assert [shape.area for shape in inwards] == pytest.approx([400.0, 16.0**2, 12.0**2, 8.0**2])


def test_a_disc_keeps_its_middle():
    (found,) = shapes(Ellipse(width=20.0), Offset(distance=-4.0, rings=1, keeps="the parallels only"))
    assert found.area == pytest.approx(np.pi * 36, rel=3e-3)


def test_a_hole_shrinks_while_the_outline_grows():
    grown, ring = shapes(Ring(width=40.0, inner=50.0), Offset(distance=2.0, rings=1))
    assert ring.area == pytest.approx(np.pi * (400 - 100), rel=2e-3)
    assert grown.area == pytest.approx(np.pi * (22**2 - 8**2), rel=2e-3)


@given(sides=st.integers(3, 9), size=st.floats(10, 40), distance=st.floats(0.2, 3.0))
def test_out_and_in_again_is_as_before_where_corners_are_pointed(sides, size, distance):
    motif = Polygon(sides=sides, size=size)
    (before,) = shapes(motif)
    (out,) = shapes(motif, Offset(distance=distance, rings=1, keeps="the parallels only"))
    back = out.buffer(-distance, join_style="mitre", mitre_limit=20)
    assert before.within(out.buffer(1e-6))
    assert back.symmetric_difference(before).area < 1e-6 * before.area


def test_parallels_that_shrink_to_nothing_are_not_shown_and_those_that_part_are():
    many = shapes(Star(points=5, size=40.0, inner=30.0), Offset(distance=-2.0, rings=8))
    areas = [shape.area for shape in many]
    assert areas == sorted(areas, reverse=True)
    assert areas[-1] == 0.0


def test_a_distance_that_varies_and_parts_with_colours_of_their_own():
    distance = Varied(rule="floor-lattice", channel="column", start=-0.5, end=-2.5)
    grid = Lattice(form="squares", extent="by number", columns=5, rows=2)
    result = evaluated(SQUARE, Offset(distance=distance, rings=2), Ink(palette=("#101010", "#808080", "#F0F0F0")), grid)
    assert not result.problems
    marks = Evaluator().marks(result.last.stage, result.known)
    assert [len(family.points) for family in marks.families] == [1, 5, 5]
    (coat,) = Evaluator().picture(result).coats
    assert coat.fill[:3, 0].tolist() == [0x10, 0x80, 0xF0]


def test_faces_of_a_split_and_open_lines():
    assert len(shapes(Polygon(size=30.0), Split(into="rhombs"), Offset(distance=-1.0, rings=2))) == 9
    assert "closed outlines" in evaluated(Spiral(), Offset()).problems[0].sentence
    sentence = evaluated(SQUARE, Offset(distance=-50.0, keeps="the parallels only")).problems[0].sentence
    assert "nothing is left 50 inside" in sentence


# -- stroke to shape ---------------------------------------------------------------------------------
BANDS = [
    (SQUARE, StrokeToShape(width=2.0, joins="mitred"), 22.0**2 - 18.0**2),
    (SQUARE, StrokeToShape(width=2.0, joins="round"), 22.0**2 - 18.0**2 - (4 - np.pi)),
    (Ellipse(width=20.0), StrokeToShape(width=2.0), np.pi * (121 - 81)),
    (Line(length=20.0, thickness=0.0), StrokeToShape(width=2.0, ends="cut"), 40.0),
    (Line(length=20.0, thickness=0.0), StrokeToShape(width=2.0, ends="round"), 40.0 + np.pi),
    (Line(length=20.0, thickness=0.0), StrokeToShape(width=2.0, ends="square"), 44.0),
]


@pytest.mark.parametrize(("motif", "rule", "want"), BANDS)
def test_bands_in_closed_form(motif, rule, want):
    (found,) = shapes(motif, rule)
    assert found.area == pytest.approx(want, rel=2e-3)


def test_bands_of_lines_that_cross_are_one_area_and_can_be_combined():
    result = evaluated(Spiral(width=40.0), StrokeToShape(width=2.0), Progression(count=2, distance=20.0), Combine())
    assert not result.problems
    assert result.last.stage.n == 1
    width = Varied(rule="floor-progression", channel="step", start=1.0, end=4.0)
    result = evaluated(SQUARE, StrokeToShape(width=width), Progression(count=4, distance=40.0))
    assert len(Evaluator().marks(result.last.stage, result.known).families[0].points) == 4


def outlines(*rules):
    """The families of one copy."""
    result = evaluated(*rules)
    assert not result.problems, result.problems
    return Evaluator().marks(result.last.stage, result.known).families


@pytest.mark.parametrize(("distance", "joins"), [(-5.0, "mitred"), (5.0, "round"), (-11.0, "cut"), (30.0, "mitred")])
def test_parallels_of_discs_are_circles_of_few_cubics(distance, joins):
    (family,) = outlines(Ellipse(width=40.0), Offset(distance=distance, rings=1, joins=joins, keeps="the parallels only"))
    assert set(family.verbs) == {MOVE, CURVE, CLOSE}
    assert family.verbs.count(CURVE) <= 13
    (line,) = flatten(family.verbs, family.points, 48)
    assert np.abs(np.hypot(*line[0].T) - (20 + distance)).max() < 1e-5 * max(40, 2 * (20 + distance))


@pytest.mark.parametrize("distance", [6.0, 1.5, -1.5, -3.0])
@pytest.mark.parametrize("roundness", [50.0, 80.0])
def test_parallels_of_ellipses_are_within_a_ten_thousandth_of_their_size(distance, roundness):
    motif = Ellipse(width=40.0, roundness=roundness)
    (family,) = outlines(motif, Offset(distance=distance, rings=1, keeps="the parallels only"))
    a, x, y = np.linspace(0, 2 * np.pi, 20_001), 20.0, 20.0 * roundness / 100
    normal = np.stack([np.cos(a) / x, np.sin(a) / y], 1)
    normal /= np.hypot(*normal.T)[:, None]
    true = shapely.LinearRing(np.stack([x * np.cos(a), y * np.sin(a)], 1) + distance * normal)
    (line,) = flatten(family.verbs, family.points, 24)
    assert shapely.distance(shapely.points(line[0]), true).max() < 1e-4 * 40
    assert family.verbs.count(CURVE) < 80


@pytest.mark.parametrize("sides", [3, 5, 8])
def test_round_corners_are_arcs_and_sides_stay_straight(sides):
    (family,) = outlines(Polygon(sides=sides, size=30.0), Offset(distance=6.0, rings=1, joins="round", keeps="the parallels only"))
    (line,) = flatten(family.verbs, family.points, 48)
    corners = Polygon(sides=sides, size=30.0).shape().body().points
    away = shapely.distance(shapely.points(line[0]), shapely.Polygon(corners))
    assert np.abs(away - 6.0).max() < 6e-6
    assert family.verbs.count(CURVE) <= sides * (1 + int(np.ceil(360 / sides / 30)))


@pytest.mark.parametrize(("ends", "joins"), [("round", "round"), ("cut", "round"), ("round", "mitred")])
def test_bands_of_curves_are_curves(ends, joins):
    wave = WaveLine(width=80.0, height=8.0, waves=2)
    (family,) = outlines(wave, StrokeToShape(width=3.0, ends=ends, joins=joins))
    (line,) = flatten(family.verbs, family.points, 16)
    own = outlines(wave)[0]
    (middle,) = flatten(own.verbs, own.points, 96)
    away = shapely.distance(shapely.points(line[0]), shapely.LineString(middle[0]))
    assert away.max() < 1.5 + 1e-4 * 80
    assert (np.abs(away - 1.5) < 1e-4 * 80).mean() > 0.9  # all but its cut ends
    assert CURVE in family.verbs
    assert len(family.points[0]) < len(line[0]) / 4


def test_parallels_that_vary_and_such_that_part_are_curves_too():
    vary = Varied(rule="floor-lattice", channel="column", start=-1.0, end=-9.0)
    lattice = Lattice(form="squares", extent="by number", columns=5, rows=1)
    families = outlines(Ellipse(width=40.0), Offset(distance=vary, rings=2, keeps="the parallels only"), lattice)
    assert all(CURVE in family.verbs for family in families)
    eight = "M-20 0C-20 -9 -6 -9 0 -3 C6 -9 20 -9 20 0 C20 9 6 9 0 3 C-6 9 -20 9 -20 0Z"
    (family,) = outlines(Outline(outline=eight, width=40.0), Offset(distance=-3.5, rings=1, keeps="the parallels only"))
    assert family.verbs.count(MOVE) == 2  # it parts at its waist
