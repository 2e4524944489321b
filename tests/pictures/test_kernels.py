"""Strokes, ramps, fill rules, blend modes and hostile scenes, each against a slow or closed form."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.pictures.reference import lay
from tests.pictures.small import BLACK, BOX, NONE, VIEW, darkness, scene
from under_lattice.colour.blend import BLENDS
from under_lattice.colour.ramp import Ramp, Stop
from under_lattice.core.errors import InputError
from under_lattice.geometry.outline import CLOSE, LINE, MOVE, polygon_verbs
from under_lattice.pattern.marks import Coat, Marks, Picture
from under_lattice.render.kernel_blend import lay_layer
from under_lattice.render.paint import paint
from under_lattice.scene.tree import Scene, SceneLayer

CORNER = [(-40.0, 30.0), (0.0, -30.0), (35.0, 25.0), (45.0, -20.0)]
SHAPELY_JOIN = {"mitre": "mitre", "round": "round", "bevel": "bevel"}
SHAPELY_CAP = {"butt": "flat", "round": "round", "square": "square"}


@pytest.mark.parametrize("join", list(SHAPELY_JOIN))
@pytest.mark.parametrize("cap", list(SHAPELY_CAP))
@pytest.mark.parametrize("width", [0.9, 3.0, 9.0])
def test_open_strokes_cover_what_an_offset_covers(join, cap, width):
    coat = Coat(NONE, BLACK, np.array([width]), join=join, cap=cap)
    painted = paint(scene(bytes([MOVE, LINE, LINE, LINE]), CORNER, coat), VIEW)
    wanted = shapely.LineString(CORNER).buffer(
        width / 2, cap_style=SHAPELY_CAP[cap], join_style=SHAPELY_JOIN[join], mitre_limit=4.0, quad_segs=32
    )
    assert darkness(painted) == pytest.approx(wanted.area, rel=0.012, abs=0.6)


@given(
    points=st.lists(st.tuples(st.floats(-45, 45), st.floats(-40, 40)), min_size=3, max_size=9),
    width=st.floats(1, 8),
    join=st.sampled_from(["round", "bevel"]),
)
@settings(max_examples=50)
def test_closed_strokes_of_any_polygon_have_no_holes_and_no_excess(points, width, join):
    ring = np.round(np.array(points), 2)
    if np.hypot(*np.diff(np.vstack([ring, ring[:1]]), axis=0).T).min() < 0.5:
        return
    painted = paint(scene(polygon_verbs(len(ring)), ring, Coat(NONE, BLACK, np.array([width]), join=join)), VIEW)
    line = shapely.LineString(np.vstack([ring, ring[:2]]))
    wide, thin = line.buffer(width / 2 + 0.75), line.buffer(max(0.01, width / 2 - 0.75), cap_style="flat", join_style="bevel")
    grid = np.stack(np.meshgrid(np.arange(120) - 59.5, np.arange(100) - 49.5), -1)
    far = ~shapely.contains_xy(wide, grid[..., 0], grid[..., 1])
    assert painted[..., 0][far].min(initial=255) == 255
    if width > 3:
        inner = shapely.contains_xy(thin.buffer(-0.8), grid[..., 0], grid[..., 1])
        assert painted[..., 0][inner].max(initial=0) <= 2


def test_a_hairline_stays_visible():
    coat = Coat(NONE, BLACK, np.array([0.0]))
    assert darkness(paint(scene(bytes([MOVE, LINE]), [(-40, 0.3), (40, 0.3)], coat), VIEW)) == pytest.approx(80 * 0.7, rel=0.02)


STAR = [(30 * math.sin(4 * math.pi * k / 5), -30 * math.cos(4 * math.pi * k / 5)) for k in range(5)]


def test_fill_rules_of_a_pentagram():
    whole = darkness(paint(scene(polygon_verbs(5), STAR, Coat(BLACK, NONE, np.zeros(1))), VIEW))
    holed = darkness(paint(scene(polygon_verbs(5), STAR, Coat(BLACK, NONE, np.zeros(1), even_odd=True)), VIEW))
    lines = shapely.unary_union(shapely.LinearRing(STAR))
    faces = shapely.get_parts(shapely.polygonize([lines]))
    middle = max(faces, key=lambda face: face.contains(shapely.Point(0, 0))).area
    total = sum(face.area for face in faces)
    assert whole == pytest.approx(total, rel=0.01)
    assert holed == pytest.approx(total - middle, rel=0.01)


def test_two_contours_make_a_ring():
    square, hole = [(-30, -30), (30, -30), (30, 30), (-30, 30)], [(-10, -10), (-10, 10), (10, 10), (10, -10)]
    verbs = bytes([MOVE, LINE, LINE, LINE, CLOSE] * 2)
    assert darkness(paint(scene(verbs, square + hole, Coat(BLACK, NONE, np.zeros(1))), VIEW)) == pytest.approx(3600 - 400)


# ---------------------------------------------------------------- ramps
STOPS = (Stop(0.0, "#000000"), Stop(1.0, "#FFFFFF"))


def ramped(ramp, maps=None, alpha=255):
    coat = Coat(np.full((1, 4), alpha, np.uint8), NONE, np.zeros(1), paint=ramp)
    return paint(scene(polygon_verbs(4), BOX, coat, maps, "#0000FF"), VIEW).astype(int)


def test_linear_ramps_run_along_their_axis():
    painted = ramped(Ramp(STOPS, to_ramp=np.array([(1 / 80, 0, 0.5), (0, 1, 0)])))
    assert painted[50, 20:100, 0] == pytest.approx((np.arange(80) + 0.5) / 80 * 255, abs=1.0)
    assert (painted[25, 20:100] == painted[70, 20:100]).all()


def test_radial_and_around_ramps():
    across = np.array([(1 / 30, 0, 0), (0, 1 / 30, 0)])
    radial = ramped(Ramp(STOPS, "radial", across))
    assert radial[50, 75, 0] == pytest.approx(math.hypot(15.5, 0.5) / 30 * 255, abs=1.5)
    around = ramped(Ramp(STOPS, "around", across))
    assert around[70, 60, 0] == pytest.approx(0.25 * 255, abs=3)  # straight down is a quarter, clockwise


def test_a_ramp_of_marks_travels_with_them_and_one_of_the_sheet_does_not():
    moved = np.array([[(1.0, 0, 10), (0, 1.0, 0)]])
    to = np.array([(1 / 80, 0, 0.5), (0, 1, 0)])
    own, sheet = ramped(Ramp(STOPS, to_ramp=to), moved), ramped(Ramp(STOPS, to_ramp=to, of_marks=False), moved)
    assert own[50, 70, 0] == pytest.approx(ramped(Ramp(STOPS, to_ramp=to))[50, 60, 0], abs=1)
    assert sheet[50, 70, 0] == pytest.approx(ramped(Ramp(STOPS, to_ramp=to))[50, 70, 0], abs=1)


def test_stops_with_alpha_middle_and_oklab():
    table = Ramp((Stop(0, "#FF0000", 1.0, 0.25), Stop(1, "#0000FF", 0.0))).table(101)
    assert table[25, 3] == pytest.approx(0.5, abs=0.01)
    assert table[25, 0] == pytest.approx(0.25, abs=0.01)  # premultiplied
    oklab = Ramp((Stop(0, "#FFFFFF"), Stop(1, "#000000")), oklab=True).table(101)
    assert oklab[50, 0] == pytest.approx(0.3885, abs=0.01)  # Oklab lightness 0.5 as sRGB
    seen = ramped(Ramp((Stop(0, "#FF0000", 0.5), Stop(1, "#FF0000", 0.5))))
    assert seen[50, 60].tolist() == pytest.approx([128, 0, 128, 255], abs=1)


def test_ramps_refuse_stops_out_of_order():
    with pytest.raises(InputError, match="in order"):
        Ramp((Stop(0.5, "#000000"), Stop(0.2, "#FFFFFF")))


# ---------------------------------------------------------------- blending
@pytest.mark.parametrize("mode", BLENDS)
def test_compiled_blending_is_the_reference(mode):
    rng = np.random.default_rng(3)
    alpha = rng.choice([0.0, 0.25, 0.7, 1.0], (2, 40, 50, 1))
    pixels = np.concatenate([rng.choice([0.0, 0.2, 0.5, 0.8, 1.0], (2, 40, 50, 3)) * alpha, alpha], -1).astype(np.float32)
    into = pixels[0].copy()
    lay_layer(into, pixels[1], 0.8, BLENDS.index(mode))
    assert into == pytest.approx(lay(pixels[1] * np.float32(0.8), pixels[0], mode), abs=1 / 255)


def test_marks_blend_with_what_is_beneath_each():
    maps = np.array([[(1.0, 0, 0), (0, 1.0, 0)]] * 2)
    coat = Coat(np.array([[128, 255, 255, 255]], np.uint8), NONE, np.zeros(1), blend="multiply")
    painted = paint(scene(polygon_verbs(4), BOX, coat, maps), VIEW)
    assert painted[50, 60].tolist() == pytest.approx([64, 255, 255, 255], abs=1)


# ---------------------------------------------------------------- hostile scenes
WILD = [np.nan, np.inf, -np.inf, 1e300, -1e18, 1e9, 0.0, 1e-300]


@given(data=st.data())
@settings(max_examples=40)
def test_hostile_numbers_never_crash_and_never_stain(data):
    number = st.one_of(st.floats(-100, 100), st.sampled_from(WILD))
    maps = np.array(data.draw(st.lists(st.lists(number, min_size=6, max_size=6), min_size=1, max_size=5))).reshape(-1, 2, 3)
    points = np.array(data.draw(st.lists(st.tuples(number, number), min_size=1, max_size=6)), float)
    coat = Coat(BLACK, np.array([[255, 0, 0, 255]], np.uint8), np.array([data.draw(st.floats(0, 50))]))
    painted = paint(scene(bytes([MOVE] + [LINE] * (len(points) - 1) + [CLOSE]), points, coat, maps), VIEW)
    assert painted.shape == (100, 120, 4)
    assert (painted[..., 3] == 255).all()


def test_nothing_at_all_paints_the_ground():
    marks = Marks((), np.zeros(0, np.int32), np.zeros(0, np.int32), np.zeros((0, 2, 3)), np.zeros(0, np.int32))
    empty = Scene(
        1e6, 1e6, "#336699", (SceneLayer("", Picture(marks, (Coat(BLACK, NONE, np.zeros(1)),))), SceneLayer("", Picture(marks, ())))
    )
    assert (paint(empty, VIEW) == [0x33, 0x66, 0x99, 255]).all()


def test_a_million_points_in_one_outline():
    t = np.linspace(0, 2 * np.pi, 1_000_000, endpoint=False)
    ring = 40 * np.stack([np.cos(t), np.sin(t)], -1)
    assert darkness(paint(scene(polygon_verbs(len(ring)), ring, Coat(BLACK, NONE, np.zeros(1))), VIEW)) == pytest.approx(
        np.pi * 1600, rel=1e-3
    )


def test_copies_far_below_a_pixel_are_their_coverage():
    side = 400
    x, y = np.meshgrid((np.arange(side) + 0.5) / 5 - 40, (np.arange(side) + 0.5) / 5 - 40)
    maps = np.zeros((side * side, 2, 3))
    maps[:, 0, 0] = maps[:, 1, 1] = 0.05
    maps[:, 0, 2], maps[:, 1, 2] = x.ravel(), y.ravel()
    square = [(-1, -1), (1, -1), (1, 1), (-1, 1)]
    painted = paint(scene(polygon_verbs(4), square, Coat(BLACK, NONE, np.zeros(1)), maps), VIEW)
    assert darkness(painted) == pytest.approx(side * side * 0.01, rel=0.03)  # a quarter of the ground, evenly
    assert painted[20:80, 30:90, 0].std() < 4
