"""Interlace: crossings found once, over and under by turns, straps of exact areas, and what is impossible said."""

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from tests.chains import evaluated, last_stage, tiles
from under_lattice.core.errors import GivenUp, RuleRefused
from under_lattice.core.progress import Progress
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.geometry.outline import CURVE, areas, polygon
from under_lattice.geometry.path import paths_of
from under_lattice.measure.facts import measure
from under_lattice.pattern.interlacing import alternating, crossings, straps
from under_lattice.pattern.known import NOTHING_KNOWN
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.copies.interlace import Interlace
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.rosette import Rosette
from under_lattice.rules.repeats.spots import Spots
from under_lattice.work.model import Sheet

SQUARE = Polygon(sides=4, measure="side", size=40.0, stands="on a flat")
PAIR = Spots(spots="0, 0; 20, 20")


def circle(x, y, r):
    outline = Ellipse(width=2 * r).shape().body()
    return paths_of(outline.verbs, outline.points + np.array([x, y]), 0.02)[0]


def test_straps_are_given_up_soon_after_nobody_wants_them():
    paths = [path for k in range(14) for path in (circle(9.0 * k, 0.0, 40.0), circle(3.0, 9.0 * k + 5.0, 40.0))]
    found = crossings(paths)
    over, _ = alternating(found, len(paths))
    asked = []

    def stop():
        asked.append(1)
        return len(asked) > 2

    with pytest.raises(GivenUp):
        straps(paths, found, over, 1.0, 0.2, "round", Progress(stop))
    assert len(asked) == 3
    whole = straps(paths, found, over, 1.0, 0.2, "round", Progress(lambda: bool(asked.append(1))))
    assert len(whole) == len(paths)
    assert len(asked) > 5


def test_two_squares_pass_over_and_under_and_nothing_of_their_straps_is_lost():
    shapes, _ = tiles(evaluated(SQUARE, PAIR, Interlace(width=6.0, gap=1.5)))
    assert len(shapes) == 2
    whole = 46.0**2 - 34.0**2
    assert shapely.area(shapes) == pytest.approx(whole - 6.0 * (6.0 + 2 * 1.5), rel=1e-9)
    assert shapely.distance(*shapes) == pytest.approx(1.5)


def test_the_first_crossing_is_over_or_under_as_chosen():
    over, _ = tiles(evaluated(SQUARE, PAIR, Interlace(width=6.0)))
    under, _ = tiles(evaluated(SQUARE, PAIR, Interlace(width=6.0, begins="under")))
    assert not over[0].equals(under[0])
    assert shapely.area(over) == pytest.approx(shapely.area(under))


def test_a_crossing_right_on_a_corner_is_found_once():
    found = crossings([paths_of(o.verbs, o.points)[0] for o in (polygon(np.array(p, float)) for p in (
        [(-10, 0), (0, -10), (10, 0), (0, 10)], [(0, -10), (20, -8), (20, 8), (-6, 3)])
    )])  # fmt: skip
    assert len(found.places) == len(np.unique(np.round(found.places, 6), axis=0))
    assert len(found.places) % 2 == 0


def test_lines_that_only_touch_do_not_cross():
    assert not len(crossings([circle(0, 0, 10), circle(20, 0, 10)]).places)
    result = evaluated(Ellipse(width=20.0), Spots(spots="0, 0; 20, 0"), Interlace(width=2.0))
    (warn,) = [warn for warn in measure(result, Evaluator(), Sheet()).warnings if "lines cross" in warn.sentence]
    assert warn.sentence.startswith("no lines cross")


def test_lines_upon_each_other_are_refused_with_their_length():
    square = polygon(np.array([(0.0, 0.0), (20.0, 0.0), (20.0, 20.0), (0.0, 20.0)]))
    beside = [paths_of(square.verbs, square.points + shift)[0] for shift in ((0, 0), (20, 0))]
    with pytest.raises(RuleRefused, match="upon each other along 20 in all"):
        crossings(beside)
    with pytest.raises(AssertionError, match="upon each other"):
        last_stage(SQUARE, Lattice(form="squares", extent="by number", columns=3, rows=2), Interlace())


@given(st.lists(st.tuples(st.floats(-20, 20), st.floats(-20, 20), st.floats(8, 25)), min_size=2, max_size=7))
def test_closed_lines_always_take_turns(circles):
    lines = [circle(*one) for one in circles]
    try:
        found = crossings(lines)
    except RuleRefused:
        return  # the same circle twice
    over, broken = alternating(found, len(lines))
    if any(np.hypot(*(found.places[:, None] - found.places[None])[np.triu_indices(len(found.places), 1)].T) < 0.05):
        return  # nearly touching, or three through a point: there the turns need not come out
    assert not broken.any()
    for line in range(len(lines)):
        visits = [(found.along[c, s], over[c] == (s == 0)) for c in range(len(over)) for s in (0, 1) if found.line[c, s] == line]
        turns = [passes for _, passes in sorted(visits)]
        assert all(a != b for a, b in zip(turns, turns[1:] + turns[:1], strict=True)) or not turns


def test_straps_can_be_coloured_by_line_and_repeated_below():
    ring = (Ellipse(width=40.0), Rosette(count=8, radius=30.0), Interlace(width=3.0, gap=0.8))
    stage = last_stage(*ring)
    assert set(stage.channels["row"]) == set(range(8))
    assert len(np.unique(stage.key, axis=0)) == stage.n
    result = evaluated(*ring, Ink(colours="row", palette=("#AA0000", "#00AA00")), Spots(spots="-60, 0; 60, 0"), Adjust(turn=10.0))
    assert not result.problems
    assert result.last.stage.n == 2 * stage.n
    assert len(Evaluator().picture(result).coats) == 1


def test_a_ring_that_never_passes_under_keeps_its_hole():
    stage = last_stage(Ellipse(width=20.0), Spots(spots="0, 0; 12, 0; 100, 0"), Interlace(width=2.0))
    marks = Evaluator().marks(stage, NOTHING_KNOWN)
    assert stage.n == 3
    (family,) = marks.families
    area = np.abs(areas(family.verbs, family.points))[family.variant[np.argmax(marks.xform[:, 0, 2])]]
    assert area == pytest.approx(np.pi * (11**2 - 9**2), rel=2e-3)


def test_more_than_two_lines_through_a_point_are_told_of_and_shown():
    clear = (Polygon(sides=4, measure="side", size=40.0), Spots(spots="0, 0; 20, 0, 30; 8, 9, 75"), Interlace(width=1.0))
    assert not measure(evaluated(*clear), Evaluator(), Sheet()).warnings
    star = (Ellipse(width=40.0), Rosette(count=3, radius=20.0), Interlace(width=1.0))  # all three pass through the middle
    turns, many = measure(evaluated(*star), Evaluator(), Sheet()).warnings
    assert turns.sentence.startswith("over and under cannot take turns at ")
    assert many.sentence == "more than two lines cross in one place"
    assert np.allclose(many.rings[0].mean(0), 0)


def lens(r, s, d):
    """Area that discs of radii r and s share, their middles d apart."""
    if d <= abs(r - s):
        return np.pi * min(r, s) ** 2
    one, other = (np.arccos((d * d + a * a - b * b) / (2 * d * a)) for a, b in ((r, s), (s, r)))
    root = np.sqrt((-d + r + s) * (d + r - s) * (d - r + s) * (d + r + s))
    return r * r * one + s * s * other - root / 2


@pytest.mark.parametrize("corners", ["sharp", "round"])
def test_straps_of_discs_are_few_curves_of_the_area_the_formula_gives(corners):
    apart, width, gap = 25.0, 3.0, 1.0
    result = evaluated(Ellipse(width=40.0), Spots(spots=f"0, 0; {apart}, 0"), Interlace(width=width, gap=gap, corners=corners))
    marks = Evaluator().marks(result.last.stage, result.known)
    (family,) = marks.families
    rings = [[20 - w, 20 + w] for w in (width / 2, width / 2 + gap)]
    cut = sum(lens(r, s, apart) * (-1) ** (i + j) for i, r in enumerate(rings[0]) for j, s in enumerate(rings[1]))
    whole = 2 * np.pi * (21.5**2 - 18.5**2)
    assert np.abs(areas(family.verbs, family.points)).sum() == pytest.approx(whole - cut, rel=2e-5)
    assert family.verbs.count(CURVE) <= 40
