"""Dashes, pictures and plates as paint, clips, masks, groups, and what is said of a scene that cannot be painted."""

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.chains import work_of
from tests.pictures.compare import RSVG, apart, by_qpainter, by_rsvg, ours, scene_of
from tests.pictures.small import BLACK, BOX, NONE, VIEW, darkness, scene
from under_lattice.colour.texture import Texture
from under_lattice.core.errors import GivenUp, InputError
from under_lattice.core.progress import Progress
from under_lattice.geometry.outline import CLOSE, CURVE, LINE, MOVE, polygon_verbs
from under_lattice.pattern.marks import Coat, Dash, Plate
from under_lattice.render.paint import paint
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.progression import Progression
from under_lattice.rules.repeats.rosette import Rosette
from under_lattice.scene.tree import Mask, Scene, SceneGroup, View
from under_lattice.work.model import Sheet

NO_WIDTH = np.zeros(1)
HANDLE = 0.5522847498
QUARTER = np.array([(1, HANDLE), (HANDLE, 1), (0, 1)])
DISC = np.concatenate([[(1, 0)], *(QUARTER @ np.linalg.matrix_power([(0, 1), (-1, 0)], k) for k in range(4))])
DISC_VERBS = bytes([MOVE, CURVE, CURVE, CURVE, CURVE, CLOSE])
FILLED = Coat(BLACK, NONE, NO_WIDTH)
RED, GREEN = np.array([[255, 0, 0, 255]], np.uint8), np.array([[0, 255, 0, 255]], np.uint8)


def lined(points, dash, width=2.0, closed=False, cap="butt"):
    verbs = polygon_verbs(len(points)) if closed else bytes([MOVE] + [LINE] * (len(points) - 1))
    return paint(scene(verbs, points, Coat(NONE, BLACK, np.array([width]), cap=cap, dash=dash)), VIEW)


# ---------------------------------------------------------------- dashes
def test_dashes_begin_where_the_offset_says():
    painted = lined([(-40, 0), (40, 0)], Dash((8.0, 4.0)))
    row = painted[49, :, 0] < 128
    assert row[20:40].tolist() == [True] * 8 + [False] * 4 + [True] * 8
    moved = lined([(-40, 0), (40, 0)], Dash((8.0, 4.0), offset=3.0))[49, :, 0] < 128
    assert moved[20:29].tolist() == [True] * 5 + [False] * 4


@given(dash=st.floats(1.5, 30), gap=st.floats(1.5, 30))
@settings(max_examples=30)
def test_a_fitted_open_line_begins_and_ends_with_a_whole_dash(dash, gap):
    painted = lined([(-50, 0), (50, 0)], Dash((dash, gap), fit=True))
    row = 1.0 - painted[49, :, 0] / 255.0
    assert row == pytest.approx(row[::-1], abs=0.02)  # the same from either end
    many = max(1, math.floor((100 + gap) / (dash + gap) + 0.5))
    scale = 100 / (many * (dash + gap) - gap)
    assert darkness(painted) == pytest.approx(2 * many * dash * scale, rel=0.01)


def test_a_whole_number_of_dashes_fits_a_circle():
    circle = scene(DISC_VERBS, DISC * 40, Coat(NONE, BLACK, np.array([4.0]), dash=Dash((7.0, 14.0), fit=True)))
    painted = paint(circle, VIEW)
    assert darkness(painted) == pytest.approx(2 * math.pi * 40 / 3 * 4, rel=0.01)
    angle = np.radians(np.arange(0, 360, 0.25))
    on = painted[(50 + 40 * np.sin(angle)).astype(int), (60 + 40 * np.cos(angle)).astype(int), 0] < 128
    assert (on & ~np.roll(on, 1)).sum() == 12  # round(80 pi / 21)


def test_a_dash_runs_over_the_joint_of_a_closed_line_in_one_piece():
    whole = lined([(-30, -30), (30, -30), (30, 30), (-30, 30)], Dash((30.0, 30.0), offset=15.0, fit=True), 8.0, closed=True)
    assert whole[16:20, 26:30, 0].max() == 0  # the corner is mitred, not cut


def test_round_caps_lengthen_each_dash():
    flat = darkness(lined([(-40, 0), (40, 0)], Dash((10.0, 10.0))))
    assert darkness(lined([(-40, 0), (40, 0)], Dash((10.0, 10.0)), cap="round")) == pytest.approx(flat + 4 * math.pi, rel=0.01)


def test_dashes_far_finer_than_a_pixel_are_a_line():
    assert darkness(lined([(-40, 0), (40, 0)], Dash((1e-9, 1e-9)))) == pytest.approx(160, rel=0.01)


# ---------------------------------------------------------------- pictures
def checks(side=8):
    at = np.add.outer(np.arange(side), np.arange(side)) % 2
    return np.where(at[..., None], np.array([255, 255, 255, 255]), np.array([0, 0, 0, 255])).astype(np.uint8)


def pictured(texture, maps=None, view=VIEW, alpha=255):
    coat = Coat(np.full((1, 4), alpha, np.uint8), NONE, NO_WIDTH, paint=texture)
    return paint(scene(polygon_verbs(4), BOX, coat, maps, "#0000FF"), view).astype(int)


def test_a_picture_fills_a_shape_texel_by_texel():
    colours = np.random.default_rng(2).integers(0, 256, (60, 80, 4), dtype=np.uint8)
    colours[..., 3] = 255
    to_picture = np.array([(1 / 80, 0, 0.5), (0, 1 / 60, 0.5)])
    painted = pictured(Texture(colours, to_picture))
    assert np.abs(painted[20:80, 20:100] - colours).max() <= 1
    assert painted[10, 10].tolist() == [0, 0, 255, 255]


def test_a_repeated_picture_goes_on_and_another_keeps_its_edge():
    to_picture = np.array([(1 / 8, 0, 0), (0, 1 / 8, 0)])
    again, once = pictured(Texture(checks(), to_picture, repeat=True)), pictured(Texture(checks(), to_picture))
    assert (again[20:80, 20:92] == again[20:80, 28:100]).all()
    assert again[20:80, 20:100, 0].std() > 100
    assert (once[60, 70:100] == once[60, 70]).all()


def test_a_shrunk_picture_is_the_mean_of_what_it_stands_for():
    to_picture = np.array([(1 / 2.13, 0, 0.3), (0, 1 / 2.13, 0.1)])
    far = pictured(Texture(checks(64), to_picture, repeat=True))[25:75, 25:95, 0]
    assert far == pytest.approx(127.5, abs=2)


def test_a_picture_travels_with_its_mark_and_can_be_clear():
    colours = np.zeros((2, 2, 4), np.uint8)
    colours[0, 0] = [128, 0, 0, 128]
    to_picture = np.array([(1 / 80, 0, 0.5), (0, 1 / 60, 0.5)])
    turned = np.array([[(-1.0, 0, 0), (0, -1.0, 0)]])
    plain, other = pictured(Texture(colours, to_picture)), pictured(Texture(colours, to_picture), turned)
    assert plain[25, 25].tolist() == pytest.approx([128, 0, 127, 255], abs=1)
    assert other[75, 95].tolist() == pytest.approx([128, 0, 127, 255], abs=1)
    assert other[25, 25].tolist() == [0, 0, 255, 255]


def test_what_is_no_picture_is_refused():
    with pytest.raises(InputError, match="four channels"):
        Texture(np.zeros((4, 4, 3), np.uint8))


# ---------------------------------------------------------------- plates
def plate_of(coat=FILLED, clip=None):
    marks = scene(DISC_VERBS, DISC * 10, coat).layers[0].picture.marks
    return Plate(marks, (coat,), (-10.0, -10.0, 10.0, 10.0), clip)


PLATE_BOX = [(-10, -10), (10, -10), (10, 10), (-10, 10)]


@pytest.mark.parametrize("scale", [0.5, 1.0, 3.7])
def test_a_plate_is_what_its_marks_are(scale):
    maps = np.zeros((3, 2, 3))
    maps[:, 0, 0] = maps[:, 1, 1] = scale
    maps[:, 0, 2] = [-30, 0, 12]
    direct = paint(scene(DISC_VERBS, DISC * 10, FILLED, maps), VIEW).astype(int)
    plated = paint(scene(polygon_verbs(4), PLATE_BOX, Coat(BLACK, NONE, NO_WIDTH, paint=plate_of()), maps), VIEW).astype(int)
    assert np.abs(plated - direct).mean() < 1.5
    assert darkness(plated.astype(np.uint8)) == pytest.approx(darkness(direct.astype(np.uint8)), rel=0.02)


def test_many_sizes_of_a_plate_share_a_few_paintings(monkeypatch):
    from under_lattice.render import paint as module

    scales = []
    real = module.texture_of
    monkeypatch.setattr(module, "texture_of", lambda plate, scale, **more: scales.append(scale) or real(plate, scale, **more))
    maps = np.zeros((200, 2, 3))
    maps[:, 0, 0] = maps[:, 1, 1] = np.linspace(0.3, 2.0, 200)
    paint(scene(polygon_verbs(4), PLATE_BOX, Coat(BLACK, NONE, NO_WIDTH, paint=plate_of()), maps), VIEW)
    assert len(scales) == len(set(scales)) < 10
    assert max(scales) >= 2.0


def test_a_plate_is_clipped():
    half = scene(polygon_verbs(4), [(-10, -10), (0, -10), (0, 10), (-10, 10)], FILLED).layers[0].picture.marks
    painted = paint(scene(polygon_verbs(4), PLATE_BOX, Coat(BLACK, NONE, NO_WIDTH, paint=plate_of(clip=half))), VIEW)
    assert darkness(painted) == pytest.approx(math.pi * 50, rel=0.02)
    assert painted[50, 65, 0] == 255


# ---------------------------------------------------------------- clips, masks, groups
def layers_of(*made, ground="#FFFFFF"):
    """A scene of layers given from back to front."""
    return Scene(1e6, 1e6, ground, made[::-1])


def layer(coat, points=BOX, verbs=None, **more):
    return replace(scene(verbs or polygon_verbs(len(points)), points, coat).layers[0], **more)


def test_a_clip_keeps_what_lies_inside_its_outlines():
    disc = scene(DISC_VERBS, DISC * 20, FILLED).layers[0].picture
    assert darkness(paint(layers_of(layer(FILLED, clip=disc)), VIEW)) == pytest.approx(math.pi * 400, rel=0.005)
    group = SceneGroup("", (layer(FILLED),), clip=disc, isolated=False)
    assert darkness(paint(layers_of(group), VIEW)) == pytest.approx(math.pi * 400, rel=0.005)


def test_masks_by_opacity_and_by_lightness():
    grey = Coat(np.array([[128, 128, 128, 255]], np.uint8), NONE, NO_WIDTH)
    faint = Coat(np.array([[0, 0, 0, 64]], np.uint8), NONE, NO_WIDTH)
    by_lightness = paint(layers_of(layer(FILLED, mask=Mask((layer(grey),), "lightness"))), VIEW)
    by_opacity = paint(layers_of(layer(FILLED, mask=Mask((layer(faint),)))), VIEW)
    assert by_lightness[50, 60, 0] == pytest.approx(255 - 128, abs=1)
    assert by_opacity[50, 60, 0] == pytest.approx(255 - 64, abs=1)


def test_blending_in_an_isolated_group_does_not_see_what_is_beneath():
    multiply = Coat(GREEN, NONE, NO_WIDTH, blend="multiply")
    beneath = layer(Coat(RED, NONE, NO_WIDTH))
    assert paint(layers_of(beneath, SceneGroup("", (layer(multiply),))), VIEW)[50, 60].tolist() == [0, 255, 0, 255]
    open_group = SceneGroup("", (layer(multiply),), isolated=False)
    assert paint(layers_of(beneath, open_group), VIEW)[50, 60].tolist() == [0, 0, 0, 255]
    faint = replace(open_group, opacity=0.5)
    assert paint(layers_of(beneath, faint), VIEW)[50, 60].tolist() == pytest.approx([128, 0, 0, 255], abs=1)


# ---------------------------------------------------------------- out
def test_floats_are_the_same_picture_before_rounding():
    made = scene(DISC_VERBS, DISC * 30, Coat(np.array([[200, 10, 90, 130]], np.uint8), NONE, NO_WIDTH), ground="")
    floats = paint(made, VIEW, depth="float")
    assert floats.dtype == np.float32
    assert (np.round(floats * 255) == paint(made, VIEW)).mean() > 0.999
    assert floats[50, 60] == pytest.approx(np.array([200, 10, 90, 255]) / 255 * np.array([130 / 255] * 4), abs=1e-5)


def test_what_was_dropped_is_said():
    maps = np.eye(2, 3)[None].repeat(5, 0)
    maps[1, 0, 2], maps[3, 1, 1] = np.nan, 1e12
    said = []
    paint(scene(polygon_verbs(4), BOX, FILLED, maps), VIEW, Progress(note=said.append))
    assert said == ["2 marks are not drawn: their place is not a number or too far away"]
    said.clear()
    paint(scene(polygon_verbs(3), [(0, 0), (np.nan, 3), (3, 3)], FILLED), VIEW, Progress(note=said.append))
    assert "a point of their outline is not a number" in said[0]
    said.clear()
    broken = scene(bytes([MOVE, MOVE, LINE, LINE, CLOSE]), [(0, 0), (1, 1), (30, 0), (0, 30)], FILLED)
    paint(broken, VIEW, Progress(note=said.append))
    assert said == ["1 contours of fewer than two points are not drawn"]


def test_long_lines_are_the_same_looked_at_by_chunks():
    t = np.linspace(0, 40 * np.pi, 6000)
    points = np.stack([(5 + t / 4) * np.cos(t), (5 + t / 4) * np.sin(t)], -1)
    verbs, coat = bytes([MOVE] + [LINE] * 5999), Coat(NONE, BLACK, np.array([1.3]), join="round", cap="round")
    whole = paint(scene(verbs, points, coat), VIEW).astype(int)
    shorter = bytes([MOVE] + [LINE] * 2999)  # half as many points are painted piece by piece
    half = paint(scene(shorter, points[::2][:3000], coat), VIEW).astype(int)
    assert np.abs(whole - half).mean() < 2
    closed = polygon_verbs(6000)
    ring = 45 * np.stack([np.cos(t / 20), np.sin(t / 20)], -1)[:-1]
    big = View(1400, 1100, 12.0, 700.0, 550.0)
    painted = paint(scene(closed[:5999] + closed[-1:], ring, Coat(NONE, BLACK, np.array([0.5]))), big)
    assert darkness(painted) == pytest.approx(2 * math.pi * 45 * 0.5 * 144, rel=0.01)
    filled = paint(scene(closed[:5999] + closed[-1:], ring, FILLED), big)
    assert darkness(filled) == pytest.approx(math.pi * 45**2 * 144, rel=0.001)


@pytest.mark.parametrize("inside", ["straight ramp", "round ramp"])
@pytest.mark.parametrize("turn", ["turns with it", "stays upright"])
@pytest.mark.parametrize("scope", ["each shape", "floor-rosette", "all copies", "the sheet"])
def test_ramps_over_every_scope_look_the_same_as_the_plain_loop_and_a_foreign_renderer(scope, turn, inside):
    ink = Ink(colours="one colour", palette=("#102040", "#F0A020", "#FFFFFF"), inside=inside, ramp_of=scope, ramp_turn=turn)
    design = work_of(
        Polygon(sides=4, size=14.0),
        Progression(count=3, distance=15.0, across=80.0, along=80.0),
        Rosette(count=5, radius=0.0, pivot={"spot": "motif centre", "dx": -30.0}),
        ink,
        Adjust(turn=25.0),
        sheet=Sheet(width=160, height=160, background="#FFFFFF"),
    ).design
    scene = scene_of(design)
    assert apart(ours(scene, 320), by_qpainter(scene, 320))[0] < 1.0
    if RSVG:
        assert apart(ours(scene, 320), by_rsvg(scene, design.sheet, 320))[0] < 1.0


def test_a_stop_ends_the_painting_of_a_plate(monkeypatch):
    """It is asked for once the plate's own kernels are at work, so that only the flag they look at can end them."""
    from under_lattice.render import paint as module

    at_work, real = [], module._job

    def spy(scene, view, flag, depth, *more):
        job = real(scene, view, flag, depth, *more)
        if depth == "float":
            at_work.append(flag)
        return job

    monkeypatch.setattr(module, "_job", spy)
    plated = scene(polygon_verbs(4), PLATE_BOX, Coat(BLACK, NONE, NO_WIDTH, paint=plate_of()))
    with pytest.raises(GivenUp):
        paint(plated, VIEW, Progress(lambda: bool(at_work)))
    assert at_work
    assert at_work[0].any()  # the same flag the plate's kernels look at
