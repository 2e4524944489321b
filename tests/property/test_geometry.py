"""Affine maps, outlines, bodies and stages: laws that hold for any input."""

import numpy as np
import pytest
import shapely
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from tests.chains import last_stage
from under_lattice.core.errors import LimitError
from under_lattice.geometry.affine import IDENTITY, about, apply, compose, frozen, inverse, linear, moves, turns
from under_lattice.geometry.body import EDGES_MOST, clearance, edges_of, grown, half_planes, hull, inside, meeting, together, within
from under_lattice.geometry.outline import CLOSE, CURVE, LINE, MOVE, Outline, areas, contours, flatten, polygon, steps_for
from under_lattice.pattern.stage import limit_copies, repeat, share, start
from under_lattice.rules.ground import Ground
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.shared.anchor import Anchor, ordered_corners, resolve, spots

NUMBER = st.floats(-50, 50)
POINT = st.tuples(NUMBER, NUMBER)
MAPS = st.builds(
    lambda turn, across, along, skew, x, y: compose(moves(np.array([x, y])), linear(turn, across, along, skew)),
    st.floats(-360, 360), st.floats(0.2, 3), st.floats(0.2, 3), st.floats(-60, 60), NUMBER, NUMBER,
)  # fmt: skip


@given(one=MAPS, other=MAPS, point=POINT)
def test_composing_is_doing_one_after_the_other(one, other, point):
    points = np.array([point])
    assert apply(compose(one, other), points) == pytest.approx(apply(one, apply(other, points)), abs=1e-6)


@given(one=MAPS, point=POINT)
def test_the_inverse_takes_back(one, point):
    assert apply(inverse(one), apply(one, np.array([point]))) == pytest.approx(np.array([point]), abs=1e-6)
    assert compose(one, inverse(one)) == pytest.approx(IDENTITY, abs=1e-9)


@given(degrees=st.floats(-720, 720), pivot=POINT)
def test_turns_keep_their_pivot_and_go_clockwise_as_seen(degrees, pivot):
    assert apply(turns(degrees, pivot), np.array([pivot]))[0] == pytest.approx(pivot, abs=1e-9)
    assert apply(turns(90.0), np.array([(1.0, 0.0)]))[0] == pytest.approx((0.0, 1.0), abs=1e-12)


@given(one=MAPS, pivot=POINT)
def test_a_map_about_a_pivot_moves_it_only_by_its_own_move(one, pivot):
    moved = apply(about(one, np.array(pivot)), np.array([pivot]))[0] - pivot
    assert moved == pytest.approx(one[:, 2], abs=1e-6)


def test_frozen_arrays_leave_the_callers_writable():
    mine = np.zeros(3)
    made = frozen(mine)
    mine[0] = 1.0
    assert made[0] == 0.0
    with pytest.raises(ValueError, match="read-only"):
        made[0] = 2.0


# ---------------------------------------------------------------- outlines
@given(corners=st.lists(POINT, min_size=3, max_size=8))
def test_area_of_straight_outlines_is_the_shoelace(corners):
    ring = np.array(corners)
    found = areas(polygon(ring).verbs, ring[None])[0]
    assert found == pytest.approx(
        0.5 * sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(ring, np.roll(ring, -1, 0), strict=True)), abs=1e-6
    )


@given(points=st.lists(POINT, min_size=7, max_size=7))
@settings(max_examples=50)
def test_area_of_curves_is_that_of_a_fine_flattening(points):
    verbs, given_points = bytes([MOVE, CURVE, CURVE, CLOSE]), np.array(points)[None]
    flat = flatten(verbs, given_points, 400)[0]
    fine = areas(polygon(flat[0]).verbs, flat)[0]
    assert areas(verbs, given_points)[0] == pytest.approx(fine, rel=2e-4, abs=0.5)


@given(points=st.lists(POINT, min_size=4, max_size=4), tolerance=st.floats(0.01, 5))
@settings(max_examples=60)
def test_flattening_strays_less_than_it_is_allowed_to(points, tolerance):
    verbs, curve = bytes([MOVE, CURVE]), np.round(np.array(points), 3)[None]
    assume(np.ptp(curve[0], 0).max() > 0.1)
    steps = steps_for(verbs, curve, tolerance)
    assume(steps < 512)
    coarse, fine = flatten(verbs, curve, steps)[0][0], flatten(verbs, curve, 600)[0][0]
    assert max(shapely.distance(shapely.LineString(coarse), shapely.points(fine))) <= tolerance * 1.0001


def test_a_shared_edge_gets_the_same_corners_from_either_end():
    curve = np.array([(0.0, 0.0), (3.0, 7.0), (9.0, -4.0), (12.0, 1.0)])
    verbs = bytes([MOVE, CURVE])
    there, back = (flatten(verbs, c[None], 17)[0][0] for c in (curve, curve[::-1]))
    assert there == pytest.approx(back[::-1], abs=1e-12)


def test_contours_and_boxes():
    verbs = bytes([MOVE, LINE, LINE, CLOSE, MOVE, CURVE, CLOSE])
    assert [where for _, where in contours(verbs)] == [slice(0, 3), slice(3, 7)]
    bow = Outline(np.array([(0.0, 0.0), (0.0, 4.0), (6.0, 4.0), (6.0, 0.0)]), bytes([MOVE, CURVE]))
    assert bow.box() == pytest.approx((0.0, 0.0, 6.0, 3.0), abs=1e-3)
    assert bow.through(np.array([(2.0, 0, 1), (0, 2.0, 0)])).box()[2] == pytest.approx(13.0)


# ---------------------------------------------------------------- bodies
def regular(sides, radius, turn):
    angle = np.radians(turn + 360 / sides * np.arange(sides))
    return radius * np.stack([np.cos(angle), np.sin(angle)], -1)


BODIES = st.builds(regular, st.integers(3, 9), st.floats(1, 20), st.floats(0, 360))


@given(body=BODIES, degrees=st.floats(0, 360))
def test_clearance_touches_and_does_not_overlap(body, degrees):
    t = clearance(edges_of(body[None]), degrees)
    way = np.array([np.cos(np.radians(degrees)), np.sin(np.radians(degrees))])
    here, there = shapely.Polygon(body), shapely.Polygon(body + way * t)
    assert here.buffer(-1e-6).intersection(there).area < 1e-6
    assert here.intersection(shapely.Polygon(body + way * (t - 1e-3 * t))).area > 0
    assert here.distance(there) < 1e-6


@given(body=BODIES, by=st.floats(0.1, 4))
def test_a_grown_body_has_every_side_moved_out(body, by):
    normal, height = half_planes(grown(hull(body), by))
    plain_normal, plain_height = half_planes(hull(body))
    assert np.sort(height) == pytest.approx(np.sort(plain_height) + by, abs=1e-6)
    assert len(normal) == len(plain_normal)


@given(body=BODIES, reach=st.floats(0, 5), points=st.lists(POINT, min_size=1, max_size=20))
@settings(max_examples=60)
def test_meeting_and_inside_agree_with_polygons(body, reach, points):
    sheet = np.array([(-20.0, -15), (20, -15), (20, 15), (-20, 15)])
    offsets, page = np.array(points), shapely.Polygon(sheet)
    met = within(offsets, *meeting(sheet, body, reach), 1e-9)
    whole = within(offsets, *inside(sheet, body, 0.0), -1e-9)
    for offset, meets, lies in zip(offsets, met, whole, strict=True):
        moved = shapely.Polygon(body + offset)
        if page.distance(moved) < 1e-9 and page.intersection(moved).area > 1e-6:
            assert meets
        if page.distance(moved) > reach * np.sqrt(2) / np.sin(np.pi / 9) + 1e-6:
            assert not meets
        assert lies == page.buffer(1e-7).contains(moved)


# ---------------------------------------------------------------- stages
@given(values=st.lists(st.integers(0, 5), min_size=1, max_size=60))
def test_sharing_finds_each_distinct_row_once(values):
    keys = np.array(values, float)[:, None] * 0.37
    first, variant = share(keys)
    assert len(first) == len(set(values))
    assert (keys[first][variant] == keys).all()


def test_a_repeat_is_an_outer_product_and_remembers_where_copies_came_from():
    shape = Polygon().shape()
    places = moves(np.array([(0.0, 0.0), (10.0, 0.0), (20.0, 0.0)]))
    key = np.stack([np.zeros(3, np.int64), np.arange(3)], 1)
    once = repeat(start(shape), "row", places, key, {"step": np.arange(3.0)})
    twice = repeat(once, "pair", moves(np.array([(0.0, 0.0), (0.0, 5.0)])), key[:2], {"step": np.arange(2.0)})
    assert twice.n == 6
    assert twice.parent.tolist() == [0, 1, 2, 0, 1, 2]
    assert twice.xform[4, :, 2].tolist() == [10.0, 5.0]
    assert twice.origin == 0
    ragged = repeat(once, "some", places[:2], key[:2], {}, group=np.array([2, 0]))
    assert ragged.parent.tolist() == [2, 0]
    assert ragged.xform[0, :, 2].tolist() == [20.0, 0.0]


def test_limits_name_the_count():
    with pytest.raises(LimitError, match="3,000,000"):
        limit_copies(3_000_000)


# ---------------------------------------------------------------- anchors
@given(sides=st.integers(3, 12), turn=st.floats(0, 360))
def test_corners_are_told_clockwise_from_straight_up(sides, turn):
    ring = ordered_corners(regular(sides, 10.0, turn))
    angle = (np.degrees(np.arctan2(ring[:, 1], ring[:, 0])) + 90 + 1e-6) % 360
    assert (np.diff(angle) > 0).all()


def test_spots_of_motif_and_sheet():
    stage = last_stage(Polygon(sides=4, size=20.0, stands="on a flat"), Lattice(form="squares"))
    ground = Ground.on(100.0, 60.0)
    found = spots(stage, ground)
    assert found["motif top left"] == pytest.approx((-10, -10))
    assert found["sheet bottom right"] == pytest.approx((50, 30))
    assert found["motif corner 1"] == pytest.approx((10, -10))
    assert found["motif side 1"] == pytest.approx((10, 0))
    assert resolve(Anchor(spot="motif right", dx=2.0, dy=-1.0), stage, ground) == pytest.approx((12, -1))
    assert resolve(Anchor(spot="motif corner 9"), stage, ground) == pytest.approx((0, 0))  # this motif has four


@given(
    corners=st.lists(st.tuples(st.floats(-50, 50), st.floats(-50, 50)), min_size=3, max_size=40),
    slack=st.sampled_from([-1.0, -1e-9, 0.0, 1e-9, 1.0]),
    reach=st.sampled_from([-30.0, 0.0, 5.0]),
)
def test_what_lies_within_half_planes_is_what_lies_within_each(corners, slack, reach):
    ring = hull(np.array(corners))
    if len(ring) < 3:
        return
    normal, height = half_planes(ring)
    height = height + reach
    points = np.stack(np.meshgrid(np.linspace(-90, 90, 37), np.linspace(-90, 90, 41)), -1).reshape(-1, 2)
    each = (points @ normal.T < height - slack).all(1)
    near = (np.abs(points @ normal.T - (height - slack)) < 1e-9).any(1)
    assert (within(points, normal, height, slack) == each)[~near].all()


@given(st.integers(0, 2**32 - 1), st.integers(1, 400), st.integers(3, 40), st.floats(0, 50), st.booleans())
def test_the_hull_of_copies_is_that_of_all_their_corners(seed, copies, corners, spread, alike):
    """Copies far apart, over each other, in a line, of one size or of many; few corners are given back as bodies."""
    dice = np.random.default_rng(seed)
    ring = dice.normal(size=(corners, 2))
    xform = np.tile(np.eye(2, 3), (copies, 1, 1)) if alike else dice.normal(size=(copies, 2, 3))
    xform[:, :, 2] = spread * dice.normal(size=(copies, 2)) * [1, dice.integers(0, 2)]
    bodies, found = apply(xform, ring[None]), together(xform, ring)
    assert found.shape[1:] == bodies.shape[1:] if copies * corners <= EDGES_MOST else found.shape[0] == 1
    one, other = (shapely.Polygon(hull(some.reshape(-1, 2))) for some in (found, bodies))
    assert one.symmetric_difference(other).area <= 1e-9 * other.area
