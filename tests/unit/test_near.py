"""Compiled kernels that tell how near outlines are, held against another library and closed forms."""

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial import cKDTree

from tests.chains import evaluated, tiles
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.geometry.affine import apply, turns
from under_lattice.geometry.neighbours import Nearest
from under_lattice.geometry.outline import CLOSE, CURVE, LINE, MOVE, farthest, flatten
from under_lattice.geometry.rings import rings_of
from under_lattice.measure.gaps import gaps_of
from under_lattice.measure.kernel_common import thickness
from under_lattice.measure.kernel_near import TOUCH, look, shared_sides
from under_lattice.pattern.drawn import TOUCH as drawn_touch
from under_lattice.pattern.drawn import Drawn
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.motifs.rectangle import Rectangle
from under_lattice.rules.motifs.star import Star
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.progression import Progression
from under_lattice.rules.repeats.seed_head import SeedHead
from under_lattice.rules.shapes.split import Split
from under_lattice.vary.numbers import Varied

FINE = {"abs": 1e-9}


def ring(corners, depth, seed, size=10.0):
    """A star-shaped outline (V, 2): with no depth its corners lie on an ellipse, and it is convex."""
    chance = np.random.default_rng(seed)
    angle = np.sort(chance.uniform(0, 2 * np.pi, corners))
    far = size * (1 - depth * chance.uniform(0, 1, corners))
    return np.stack([far * np.cos(angle), 0.7 * far * np.sin(angle)], 1)


def pair(one, other, place):
    """Two outlines as kernels take them, the second one placed, and as the library has them."""
    families = [(points[None], np.array([len(points)]), np.ones(1, bool)) for points in (one, other)]
    rings = rings_of(families, np.ones(2, bool))
    maps = np.stack([np.eye(2, 3), place])[None]
    return rings, np.array([[0, 1]]), maps, shapely.Polygon(one), shapely.Polygon(apply(place, other))


def looked(rings, kinds, maps):
    apart, inside = np.empty(len(kinds)), np.empty(len(kinds), bool)
    look(rings, kinds, maps, apart, inside)
    return float(apart[0]), bool(inside[0])


def width(area):
    """The least width of a convex area, by turning it."""
    corners = shapely.get_coordinates(area)
    run = np.diff(corners, axis=0)
    run = run[np.hypot(*run.T) > 1e-9]
    normals = np.stack([-run[:, 1], run[:, 0]]) / np.hypot(*run.T)
    return np.ptp(corners @ normals, 0).min()


PLACES = st.tuples(st.floats(-30, 30), st.floats(-30, 30), st.floats(0, 360), st.sampled_from([1.0, -0.4, 2.5]))


@settings(max_examples=80, deadline=None)
@given(st.integers(3, 200), st.integers(3, 40), st.sampled_from([0.0, 0.8]), st.integers(0, 999), PLACES)
def test_outlines_are_as_far_apart_as_the_library_says(many, much, depth, seed, where):
    x, y, turn, size = where
    place = turns(turn) * size
    place[0, :2] *= np.sign(size)  # mirrored where it is less than nothing
    place[:, 2] = x, y
    *arrays, mine, its = pair(ring(many, depth, seed), ring(much, depth, seed + 1), place)
    if min(mine.area, its.area) < 1e-3 or not (mine.is_valid and its.is_valid):
        return
    apart, inside = looked(*arrays)
    common = mine.intersection(its)
    if mine.boundary.intersects(its.boundary):
        assert apart <= TOUCH
        assert inside == (common.area > 1e-6) or common.area < 1e-4
    else:
        assert apart == pytest.approx(mine.boundary.distance(its.boundary), **FINE)
        assert inside == mine.intersects(its)
    rings, kinds, maps = arrays
    if rings.convex.all() and common.area > 1e-3:
        deep, box, areas = np.empty(1), np.empty((1, 4)), np.empty((1, 3))
        thickness(rings, kinds, maps, TOUCH, deep, box, areas)
        assert deep[0] == pytest.approx(width(common), rel=1e-6)
        assert box[0] == pytest.approx(common.bounds, abs=1e-6)
        assert areas[0] == pytest.approx([common.area, mine.area, its.area], rel=1e-6)


def test_kernels_and_outlines_have_one_notion_of_touching():
    assert drawn_touch == TOUCH


def test_shapes_with_no_depth_are_convex_and_others_are_not():
    for depth, convex in ((0.0, 1), (0.8, 0)):
        rings, *_ = pair(ring(60, depth, 3), ring(5, 0.0, 4), np.eye(2, 3))
        assert rings.convex.tolist() == [convex, 1]


@pytest.mark.parametrize("turn", [0.0, 17.3, 211.0])
@pytest.mark.parametrize(("step", "sides"), [((10.0, 0.0), 10.0), ((10.0, 4.0), 6.0), ((10.0, 10.0), 0.0), ((10.1, 0.0), 0.0)])
def test_sides_are_shared_as_far_as_they_lie_on_each_other(turn, step, sides):
    square = np.array([(-5.0, -5.0), (5.0, -5.0), (5.0, 5.0), (-5.0, 5.0)])
    at = turns(turn)
    one, other = apply(at, square), apply(at, square + step)
    rings, kinds, maps, _, _ = pair(one, other, np.eye(2, 3))
    long = np.empty(1)
    shared_sides(rings, kinds, maps, np.array([1e-6]), long)
    assert long[0] == pytest.approx(sides, abs=1e-5)
    apart, inside = looked(rings, kinds, maps)
    assert (apart <= TOUCH, inside) == (step != (10.1, 0.0), False)


CROSSES = {  # the second one against a square of 10: what they have in common, and whether it lies within
    "a bar across, no corner inside": ([(-9, -1), (9, -1), (9, 1), (-9, 1)], True),
    "a corner on a side, the rest inside": ([(5, 0), (0, 3), (0, -3)], True),
    "a diamond on the middles of the sides": ([(5, 0), (0, 5), (-5, 0), (0, -5)], True),
    "a corner on a side, the rest outside": ([(5, 0), (9, 3), (9, -3)], False),
    "the same": ([(-5, -5), (5, -5), (5, 5), (-5, 5)], True),
    "well inside": ([(-1, -1), (1, -1), (1, 1)], True),
    "beside": ([(7, 0), (9, 3), (9, -3)], False),
}


@pytest.mark.parametrize(("corners", "inside"), CROSSES.values(), ids=CROSSES)
def test_what_lies_inside_is_told_where_corners_lie_on_sides(corners, inside):
    square = np.array([(-5.0, -5.0), (5.0, -5.0), (5.0, 5.0), (-5.0, 5.0)])
    at = turns(23.0)
    one, other = apply(at, square), apply(at, np.array(corners, float))
    rings, kinds, maps, _, _ = pair(one, other, np.eye(2, 3))
    for way in (slice(None), slice(None, None, -1)):
        assert looked(rings, kinds[:, way], maps[:, way])[1] == inside


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 9999), st.integers(1, 40))
def test_curves_reach_exactly_as_far_as_they_do(seed, many):
    chance = np.random.default_rng(seed)
    verbs = bytes([MOVE, CURVE, CURVE, LINE, CURVE, CLOSE, MOVE, CURVE, LINE])
    points, ways = chance.normal(size=(many, 16, 2)) * 40, chance.normal(size=(2, 5))
    fine = (np.concatenate(flatten(verbs, points, 2000), 1) @ ways).max(1)
    found = farthest(verbs, points @ ways)
    assert (found >= fine - 1e-9).all()
    assert found == pytest.approx(fine, abs=1e-3)


def turned_by_row(start, end):
    return Varied(rule="floor-lattice", channel="step", start=start, end=end)


SEEDS = SeedHead(count=150, spacing=11.0)
MANY = {  # more pairs than are looked at
    "stars of a seed head": (Star(points=7, size=12.0), SEEDS),
    "seeds": (Ellipse(width=9.0, roundness=50.0), SEEDS),
    "parts": (Polygon(size=9.0), Split(), SEEDS.model_copy(update={"count": 40})),
    "sizes by row": (
        Star(points=5, size=20.0),
        Lattice(form="squares", gap=3.0, extent="by number", columns=11, rows=11),
        Adjust(scope="each", across=turned_by_row(100.0, 40.0), along=turned_by_row(100.0, 40.0)),
    ),
}


@pytest.mark.parametrize("rules", MANY.values(), ids=MANY)
def test_of_very_many_pairs_the_range_is_of_copies_whose_neighbours_were_all_looked_at(rules, monkeypatch):
    from under_lattice.measure import pairs

    result = evaluated(*rules)
    drawn = Drawn(Evaluator().marks(result.last.stage, result.known))
    shapes, copies = tiles(result, 48)
    whole = [shapely.union_all(shapes[copies == copy]) for copy in np.unique(copies)]
    tree = shapely.STRtree(whole)
    nearest = [one.distance(tree.geometries[tree.query_nearest(one, exclusive=True)[0]]) for one in whole]
    exact = gaps_of(drawn)
    assert (exact.least, exact.most) == pytest.approx((min(nearest), max(nearest)), abs=2e-3)
    monkeypatch.setattr(pairs, "POINTS_MOST", 100)  # now only so many are looked at as ever
    some = gaps_of(Drawn(drawn.marks))
    assert some.least == pytest.approx(min(nearest), abs=2e-3)
    assert some.most <= max(nearest) + 2e-3


def test_what_touches_from_within_stands_within():
    square = Rectangle(width=40.0, height=40.0)
    result = evaluated(square, Progression(count=2, distance=6.0, across=70.0, along=70.0))  # they share a stretch of a side
    rings = tiles(result)[0]
    assert rings[0].covers(rings[1])
    assert not rings[0].contains_properly(rings[1])
    assert gaps_of(Drawn(Evaluator().marks(result.last.stage, result.known))).within


PLACED = {
    "a square": lambda rng, n: rng.uniform(-100, 100, (n, 2)),
    "a line": lambda rng, n: np.stack([rng.uniform(-100, 100, n), np.full(n, 3.0)], 1),
    "a spiral": lambda rng, n: np.sqrt(np.arange(n))[:, None] * np.stack([np.cos(np.arange(n)), np.sin(np.arange(n))], 1),
    "a crowd and one far off": lambda rng, n: np.concatenate([[(1e5, 0.0)], rng.uniform(-0.1, 0.1, (n - 1, 2))]),
    "one place": lambda rng, n: np.full((n, 2), 1.5),
}


@pytest.mark.parametrize("placed", PLACED.values(), ids=PLACED)
@pytest.mark.parametrize("many", [1, 2, 9, 50, 3000])
def test_the_nearest_of_points_are_those_a_tree_finds(placed, many):
    points = placed(np.random.default_rng(many), many)
    count, places = min(9, many), points[:500]
    found = Nearest(points).to(places, count)
    away = np.hypot(*np.moveaxis(points[found] - places[:, None], -1, 0))
    want = cKDTree(points).query(places, count)[0].reshape(len(places), count)
    assert away == pytest.approx(want, abs=1e-9)
    assert all(len(set(row)) == count for row in found.tolist())
