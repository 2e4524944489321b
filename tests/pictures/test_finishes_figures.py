"""Relief, contour, streaks, ripples, halftone, cells, grain and tones against closed forms."""

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.pictures.test_finish import finished, flat, seen
from under_lattice.colour.colour import linear_of
from under_lattice.colour.effects import (
    Balance,
    Cells,
    Contour,
    FewTones,
    Grain,
    Halftone,
    Relief,
    Ripple,
    Shadow,
    Smear,
    Streak,
    Tone,
    ToneCurve,
    ToneMap,
    Twist,
)
from under_lattice.colour.effects.light import Shine
from under_lattice.colour.ramp import Ramp
from under_lattice.colour.ramp_text import stops_of_text
from under_lattice.core.errors import InputError
from under_lattice.declare.frozen import edited
from under_lattice.geometry.affine import turns as turns_
from under_lattice.render.finish.edge import inwards
from under_lattice.render.finish.relief import heights, shades
from under_lattice.rules import ToneCurve as ToneCurveRule

LUMINANCE = (0.2126, 0.7152, 0.0722)


def about(side=200):
    """Places of the pixels of a square picture about its middle."""
    at = np.arange(side) + 0.5 - side / 2
    return at[None] + 0 * at[:, None], at[:, None] + 0 * at[None]


def shape(covered, colour=(0.8, 0.4, 0.2)):
    """Premultiplied pixels of one colour, by how much of each is covered."""
    return (covered[..., None] * np.array([*colour, 1.0])).astype(np.float32)


def disc(radius, side=200, at=(0.0, 0.0)):
    x, y = about(side)
    return np.clip(radius + 0.5 - np.hypot(x - at[0], y - at[1]), 0, 1)


def square(half, side=200):
    x, y = about(side)
    return np.clip(half + 0.5 - np.maximum(abs(x), abs(y)), 0, 1)


RINGS = (0.5 + 0.5 * np.sin(np.hypot(*about()) / 6.0))[..., None] * np.ones(3)
RAYS = (0.5 + 0.5 * np.cos(12 * np.arctan2(*about()[::-1])))[..., None] * np.ones(3)


def opaque(colours):
    return np.concatenate([colours, np.ones((*colours.shape[:2], 1))], -1).astype(np.float32)


# -- edges and relief ------------------------------------------------------------------------------------------------------
@pytest.mark.parametrize("radius", [12.0, 40.3, 77.7])
def test_distances_to_the_edge_of_a_disc(radius):
    """On both sides, in the mean to a twentieth of a pixel."""
    far = inwards(disc(radius, at=(0.3, -0.2)).astype(np.float32))
    x, y = about()
    wanted = radius - np.hypot(x - 0.3, y + 0.2)
    away = np.abs(far - wanted)[np.abs(wanted) < 30]
    assert away.mean() < 0.05
    assert away.max() < 0.25
    assert (inwards(np.ones((5, 7), np.float32)) > 1e5).all()
    assert (inwards(np.zeros((5, 7), np.float32)) < -1e5).all()


@pytest.mark.parametrize(
    ("profile", "middle"), [("straight", 0.5), ("round", np.sqrt(0.75)), ("hollow", 1 - np.sqrt(0.75)), ("soft", 0.5)]
)
def test_the_height_of_a_face_halfway(profile, middle):
    pixels = shape(square(80.0))
    relief = Relief(40.0, 10.0, 40.0, -90.0, profile)
    height = heights(pixels, inwards(pixels[..., 3]), relief, 1.0)
    assert height[40, 100] == pytest.approx(10 * middle, abs=0.2)
    assert height[100, 100] == pytest.approx(10.0, abs=1e-3)


def lit(direction, by=1.0):
    """Light on the four faces of a square at a slope of 30 degrees, and on its top: above, below, left, right, flat."""
    pixels = shape(square(80.0))
    relief = Relief(40.0, 40.0 * np.tan(np.radians(30.0)), 40.0, direction)
    light = shades(heights(pixels, inwards(pixels[..., 3]), relief, by), 40.0, direction)
    return light[40, 100], light[160, 100], light[100, 40], light[100, 160], light[100, 100]


def test_light_on_the_faces_of_a_square():
    """Slope 30°, light from the top at 40°: sin 70°, sin 10°, cos 30° sin 40° and sin 40°; a turn of 90° changes their places."""
    assert lit(-90.0) == pytest.approx((0.940, 0.174, 0.557, 0.557, 0.643), abs=2e-3)
    assert lit(0.0) == pytest.approx((0.557, 0.557, 0.174, 0.940, 0.643), abs=2e-3)


def test_light_that_stays_and_light_that_turns():
    """A copy turned by a quarter later: light that stays comes from a quarter less where it is painted."""
    quarter, mirror = turns_(90.0), np.array([(-1.0, 0.0, 5.0), (0.0, 1.0, 0.0)])
    stays, turns = Relief(3.0, 3.0, 40.0, -90.0), Relief(3.0, 3.0, 40.0, -90.0, turns=True)
    assert stays.placed(quarter).direction % 360 == pytest.approx(180.0)
    assert turns.placed(quarter) == turns
    assert Relief(3.0, 3.0, 40.0, 30.0).placed(mirror).direction == pytest.approx(150.0)
    assert Shadow(3.0, 60.0, 1.0, (0, 0, 0), 1.0, turns=False).placed(turns_(45.0)).direction == pytest.approx(15.0)
    assert Shadow(3.0, 60.0, 1.0, (0, 0, 0), 1.0).placed(turns_(45.0)).direction == 60.0


def test_a_relief_colours_faces_and_keeps_the_rest():
    """Alpha stays inside; the flat top keeps its colour; outside it lies on what was clear; with no opacity nothing changes."""
    pixels = shape(disc(60.0))
    inside = finished(pixels, [Relief(15.0, 15.0, 40.0, -90.0)])
    assert inside[..., 3] == pytest.approx(pixels[..., 3], abs=1e-6)
    assert inside[100, 100] == pytest.approx(pixels[100, 100], abs=2e-3)
    assert inside[46, 100, :3].sum() > pixels[46, 100, :3].sum() + 0.3  # the face above is in the light
    assert inside[154, 100, :3].sum() < pixels[154, 100, :3].sum() - 0.3
    outside = finished(pixels, [Relief(15.0, 15.0, 40.0, -90.0, side="outside")])
    covered = pixels[..., 3] == 1
    assert outside[covered] == pytest.approx(pixels[covered], abs=1e-6)
    assert outside[33, 100, 3] > 0.2
    assert outside[10, 100, 3] == 0
    none = Shine((1, 1, 1), 0.0)
    assert finished(pixels, [Relief(15.0, 15.0, 40.0, -90.0, light=none, shade=none)]) == pytest.approx(pixels, abs=1e-6)
    shade = finished(pixels, [Relief(15.0, 15.0, 40.0, -90.0, light=none, shade=Shine((0.5, 0.5, 0.5), 1.0, "multiply"))])
    assert 0.5 * pixels[154, 100, 0] - 1e-3 <= shade[154, 100, 0] < pixels[154, 100, 0]


def test_a_relief_by_lightness():
    """Along a ramp of lightness the slope is even: sin of the light's height less the slope, facing away from it."""
    x, _ = about()
    ramp = opaque(((x + 100) / 200)[..., None] * np.ones(3))
    relief = Relief(2.0, 200 * np.tan(np.radians(20.0)), 40.0, 0.0, by_lightness=True)
    light = shades(heights(ramp, None, relief, 1.0), 40.0, 0.0)
    assert light[100, 100] == pytest.approx(np.sin(np.radians(40.0 - 20.0)), abs=2e-3)


def test_a_contour_is_as_wide_as_told_and_lies_where_told():
    pixels = shape(disc(40.0))
    area = pixels[..., 3].sum()
    for side, wanted in (("outside", np.pi * (46**2 - 40**2)), ("both", np.pi * (43**2 - 40**2))):
        out = finished(pixels, [Contour(6.0, 0.0, (0.0, 0.0, 0.0), 1.0, side)])
        assert out[..., 3].sum() - area == pytest.approx(wanted, rel=0.02)
    inside = finished(pixels, [Contour(6.0, 2.0, (0.0, 0.0, 0.0), 1.0, "inside")])
    assert inside[..., 3] == pytest.approx(pixels[..., 3], abs=1e-6)
    assert inside[100, 65:68].max() < 0.01 + pixels[100, 65, 3] * 0 + 1  # painted over within
    assert inside[100, 66, 0] < 0.01
    assert inside[100, 61, 0] == pytest.approx(0.8, abs=0.02)  # the gap
    three = finished(pixels, [Contour(4.0, 6.0, (0.0, 0.0, 0.0), 0.5, "outside", 3)])[100, :, 3]
    assert [round(float(three[100 - 40 - k]), 2) for k in (4, 9, 14, 19, 24, 29, 34)] == [0.0, 0.5, 0.0, 0.5, 0.0, 0.5, 0.0]


def test_a_shadow_may_be_larger_than_what_throws_it():
    pixels = shape(disc(40.0))
    out = finished(pixels, [Shadow(0.0, 0.0, 0.0, (0.0, 0.0, 0.0), 1.0, spread=5.0)])
    assert out[..., 3].sum() == pytest.approx(np.pi * 45**2, rel=0.01)


# -- taken from elsewhere --------------------------------------------------------------------------------------------------
def test_streaks_outwards_leave_rays_and_streaks_round_leave_rings():
    """Also 12 wedges become even over 60 degrees, and the middle stays as it is."""
    far = np.hypot(*about())
    ring = (far > 25) & (far < 96)
    rays, rings = opaque(RAYS), opaque(RINGS)
    assert np.abs(finished(rays, [Streak(False, 0.4)]) - rays)[ring].max() < 0.04
    assert np.abs(finished(rings, [Streak(True, 60.0)]) - rings)[ring].max() < 0.02
    even = finished(opaque(np.round(RAYS)), [Streak(True, 60.0)])[ring]
    assert linear_of(even[:, 0]).std() < 0.02
    assert np.abs(finished(rings, [Streak(False, 0.4)]) - rings)[ring].max() > 0.2
    spot = shape(disc(3.0, at=(50, 0)))
    moved = finished(spot, [Streak(False, 0.5)])[100, :, 3]
    assert moved[195] > 0.05  # what stands at 50 is seen up to 100
    assert moved[140] < 1e-3
    by_length = finished(spot, [Streak(False, 1.0, longest=20.0)])[100, :, 3]
    assert by_length[168] > 0.02  # what stands at 50, three to each side, is seen 20 further out
    assert by_length[176] < 1e-3
    assert np.abs(finished(rays, [Streak(False, 1.0, longest=20.0)]) - rays)[ring & (far > 50)].max() < 0.04
    for none in (Streak(False, 0.0), Streak(True, 0.0), Streak(False, 1.0, longest=0.0)):
        assert finished(rings, [none]) is rings


def test_ripples_and_twists_take_pixels_from_where_they_say():
    x, y = about()
    place = opaque(np.stack([(x + 100) / 200, (y + 100) / 200, 0 * x], -1))
    inner = (slice(30, 170), slice(30, 170))
    across = finished(place, [Ripple(50.0, 8.0, 0.0)])[inner]
    wanted = y + 8 * np.sin(2 * np.pi * x / 50)
    assert across[..., 1] == pytest.approx((wanted[inner] + 100) / 200, abs=1e-3)
    assert across[..., 0] == pytest.approx(place[inner][..., 0], abs=1e-5)
    rings = finished(place, [Ripple(50.0, 8.0, rings=True)])[100, 60]
    assert rings[0] == pytest.approx((-39.5 - 8 * np.sin(2 * np.pi * np.hypot(39.5, 0.5) / 50) + 100) / 200, abs=1e-3)
    whirl = finished(place, [Twist("twist", 90.0, 80.0)])
    assert whirl[100, 190] == pytest.approx(place[100, 190], abs=1e-5)  # beyond the circle
    part, angle = np.hypot(*about()) / 80, np.arctan2(y, x)
    from_ = angle - np.radians(90) * (1 - part) ** 2
    assert whirl[100, 140, :2] == pytest.approx(
        [(80 * part[100, 140] * f(from_[100, 140]) + 100) / 200 for f in (np.cos, np.sin)], abs=1e-3
    )
    bulge, pinch = (finished(place, [Twist(way, 0.5, 80.0)])[100, 140, 0] for way in ("bulge", "pinch"))
    assert bulge < place[100, 140, 0] < pinch


def test_a_smear_draws_along_edges_and_keeps_flat_areas():
    dice = np.random.default_rng(3)
    stripes = np.repeat(np.round(dice.random(200))[None], 200, 0)[..., None] * np.ones(3)
    rough = opaque(np.clip(stripes + 0.2 * (dice.random((200, 200, 1)) - 0.5), 0, 1))
    out = finished(rough, [Smear(8.0, 2.0)])[40:160, 40:160, 0]
    assert out.std(0).mean() < 0.6 * rough[40:160, 40:160, 0].std(0).mean()  # along the stripes it is even
    assert out.mean(0).std() > 0.8 * stripes[0, 40:160, 0].std()  # across them they stay
    even = opaque(np.full((50, 50, 3), 0.3))
    assert finished(even, [Smear(8.0, 2.0)])[25, 25] == pytest.approx(even[25, 25], abs=1e-4)


# -- many small parts ------------------------------------------------------------------------------------------------------
@pytest.mark.parametrize("net", ["squares", "hexagons", "lines"])
@pytest.mark.parametrize("tone", [0.0, 0.08, 0.35, 0.5, 0.72, 0.93, 1.0])
def test_the_share_of_a_halftone_is_one_less_the_tone(net, tone):
    """In linear light, for every lattice, turned and not: circles until they touch, then their gaps."""
    even = opaque(np.full((240, 240, 3), np.where(tone <= 0.0031308, tone * 12.92, 1.055 * tone ** (1 / 2.4) - 0.055)))
    for angle in (0.0, 20.0):
        out = finished(even, [Halftone(net, 24.0, angle)])
        assert out[20:-20, 20:-20, 3].mean() == pytest.approx(1 - tone, abs=0.03)
    light = finished(even, [Halftone(net, 24.0, 20.0, light=True, ground=(1.0, 0.0, 0.0), ink=(0.0, 0.0, 1.0))])
    assert light[20:-20, 20:-20, 2].mean() == pytest.approx(tone, abs=0.03)
    assert light[..., 3].min() == 1.0


def test_dots_too_small_to_be_seen_are_as_dark_together():
    """A halftone seen from far is what the mean of one seen from near is, in linear light."""
    x, _ = about(320)
    ramp = opaque(((x + 160) / 320)[..., None] * np.ones(3))
    dots = Halftone("hexagons", 8.0, 20.0, ink=(0.1, 0.2, 0.5), ground=(1.0, 0.9, 0.8))
    near = linear_of(finished(ramp, [dots])[..., :3].astype(float)).reshape(10, 32, 10, 32, 3).mean((1, 3))
    far = linear_of(finished(ramp[::8, ::8].copy(), [dots], 0.125)[..., :3].astype(float)).reshape(10, 4, 10, 4, 3).mean((1, 3))
    assert far == pytest.approx(near, abs=0.08)


def test_halftone_dots_may_keep_their_colours_and_clear_stays_clear():
    pixels = shape(disc(60.0), (0.9, 0.1, 0.1))
    out = finished(pixels, [Halftone("hexagons", 10.0)])
    assert out[2:20, 2:20, 3].max() == 0
    colours = out[100, 60:140, :3] / np.maximum(out[100, 60:140, 3:], 1e-6)
    assert colours[out[100, 60:140, 3] > 0.9] == pytest.approx(
        np.tile([0.9, 0.1, 0.1], ((out[100, 60:140, 3] > 0.9).sum(), 1)), abs=0.02
    )


@pytest.mark.parametrize("net", ["squares", "hexagons"])
def test_cells_take_the_mean_of_what_is_in_them(net):
    """No light is lost, and what is even stays even."""
    dice = np.random.default_rng(1)
    noise = opaque(dice.random((200, 200, 3)))
    out = finished(noise, [Cells(net, 25.0, 10.0)])
    assert linear_of(out[..., :3]).mean() == pytest.approx(linear_of(noise[..., :3]).mean(), rel=5e-3)
    assert out[60:140, 60:140, 0].std() < 0.1 * noise[..., 0].std()
    even = opaque(np.full((60, 60, 3), 0.4))
    assert finished(even, [Cells(net, 7.0)]) == pytest.approx(even, abs=1e-4)
    assert finished(noise, [Cells(net, 0.1)]) is noise
    two = finished(noise, [Cells(net, 40.0)])
    assert len(np.unique(two[95:105, 95:105, 0])) == 1  # one cell stands about the middle


@given(st.floats(0.01, 0.3), st.floats(0.1, 0.9), st.integers(0, 999))
def test_grain_is_even_in_linear_light_and_as_strong_as_told(amount, tone, seed):
    even = opaque(np.full((120, 120, 3), tone))
    light = float(linear_of(np.array(tone)))
    out = linear_of(finished(even, [Grain(amount, 1.0, seed=seed)], 1.0)[..., 0].astype(float))
    assert out.mean() == pytest.approx(light, abs=0.07 * amount + 2e-4)
    assert out.std() == pytest.approx(min(amount * 4 * light * (1 - light), light / 6**0.5, (1 - light) / 6**0.5), rel=0.1)
    black = opaque(np.zeros((40, 40, 3)))
    assert finished(black, [Grain(amount, 1.0, seed=seed)]) == pytest.approx(black, abs=1e-6)


def test_grain_keeps_its_place_and_is_another_with_another_seed():
    even = opaque(np.full((60, 60, 3), 0.5))
    one, again, other = (finished(even, [Grain(0.2, 2.0, seed=seed)]) for seed in (1, 1, 2))
    assert (one == again).all()
    assert np.abs(one - other).mean() > 0.02
    assert np.ptp(one[..., :3], axis=-1).max() < 1e-6
    assert np.ptp(finished(even, [Grain(0.2, 2.0, coloured=True)])[..., :3], axis=-1).max() > 0.05


# -- tones -----------------------------------------------------------------------------------------------------------------
def test_a_tone_curve_goes_through_its_points():
    """(80, 50) and (180, 210) are fixed, 0 and 255 stay; blue alone leaves red and green."""
    curve = ToneCurveRule().effect()
    for value, wanted in ((0, 0), (80, 50), (180, 210), (255, 255)):
        assert seen(finished(flat(value, value, value), [curve])) == [wanted] * 3
    assert seen(finished(flat(80, 80, 80), [ToneCurve(curve.points, "blue")])) == [80, 80, 50]
    half = flat(80, 80, 80) * np.float32(0.5)
    assert finished(half, [curve])[0, 0] * 255 == pytest.approx([25, 25, 25, 127.5], abs=0.1)


@given(st.lists(st.tuples(st.integers(0, 255), st.integers(0, 255)), min_size=2, max_size=10, unique_by=lambda point: point[0]))
def test_a_tone_curve_never_turns_back_between_two_points(points):
    points = sorted(points)
    ramp = opaque(np.tile(np.linspace(0, 1, 256)[None, :, None], (2, 1, 3)))
    out = finished(ramp, [ToneCurve(tuple((x / 255, y / 255) for x, y in points))])[0, :, 0]
    for (x0, y0), (x1, y1) in pairwise(points):
        between = out[x0 : x1 + 1] * 255
        assert between.min() >= min(y0, y1) - 0.1
        assert between.max() <= max(y0, y1) + 0.1


@pytest.mark.parametrize(
    "text",
    ["", "0 0", "0 0; 0 5", "10 0; 5 9", "0 0; 300 5", "a b; c d", "0 0; 1", "0 0; nan 4", "; ".join(f"{k} 1" for k in range(17))],
)
def test_what_is_no_curve_is_refused(text):
    with pytest.raises(InputError, match="from 2 to 16 points"):
        edited(ToneCurveRule(), curve=text)


def test_few_tones_two_colours_and_a_ramp_that_is_shifted():
    assert seen(finished(flat(10, 100, 200), [FewTones(4)])) == [0, 85, 255]
    assert seen(finished(flat(10, 100, 255), [FewTones(2)])) == [0, 0, 255]
    dark, light = (0.1, 0.0, 0.2), (1.0, 0.9, 0.8)
    assert seen(finished(flat(120, 120, 120), [FewTones(4, 0.5, dark, light)])) == pytest.approx([26, 0, 51], abs=1)
    assert seen(finished(flat(130, 130, 130), [FewTones(4, 0.5, dark, light)])) == pytest.approx([255, 230, 204], abs=1)
    ramp = Ramp(stops_of_text("0 #000000; 100 #FFFFFF"))
    assert seen(finished(flat(51, 51, 51), [ToneMap(ramp, shift=0.5)])) == pytest.approx([179] * 3, abs=1)
    assert seen(finished(flat(204, 204, 204), [ToneMap(ramp, shift=0.5)])) == pytest.approx([77] * 3, abs=1)
    pale = Tone(saturation=2.0, favours_pale=True)
    assert seen(finished(flat(255, 0, 0), [pale])) == [255, 0, 0]
    grey, strong = (np.ptp(seen(finished(flat(*rgb), [pale]))) / np.ptp(rgb) for rgb in ((120, 128, 136), (60, 128, 196)))
    assert grey > strong > 1


def test_balance_keeps_the_luminance_of_white_and_colours_the_ends():
    grey = flat(128, 128, 128)
    for warmth, tint in ((0.6, 0.0), (-0.4, 0.3), (0.0, -1.0)):
        out = finished(grey, [Balance(warmth, tint)])[0, 0, :3]
        assert linear_of(out.astype(float)) @ LUMINANCE == pytest.approx(linear_of(np.array(128 / 255)), rel=1e-3)
        assert np.sign(out[0] - out[2]) == np.sign(warmth)
    ends = Balance(dark=(0.0, 0.0, 1.0), dark_share=0.5, light=(1.0, 0.8, 0.0), light_share=1.0)
    assert seen(finished(flat(0, 0, 0), [ends])) == [0, 0, 128]
    assert seen(finished(flat(255, 255, 255), [ends])) == [255, 204, 0]
    assert seen(finished(grey, [Balance()])) == [128, 128, 128]


@settings(max_examples=20)
@given(
    st.floats(0.05, 1.0),
    st.one_of(st.just(np.inf), st.floats(1.0, 500.0)),
    st.floats(-140.0, 140.0),
    st.floats(-140.0, 140.0),
    st.tuples(st.integers(0, 150), st.integers(0, 150)),
)
def test_what_a_streak_does_not_ask_for_does_not_change_it(amount, longest, across, down, corner):
    """A window of 50 px is the same when all is taken away that it does not need."""
    streak = Streak(False, amount, across, down, longest)
    left, top = corner
    needs = streak.needs((left - 100.0, top - 100.0, left - 50.0, top - 50.0))
    x, y = np.arange(200) - 99.5, np.arange(200)[:, None] - 99.5
    needed = (x > needs[0] - 2) & (x < needs[2] + 2) & (y > needs[1] - 2) & (y < needs[3] + 2)
    shown = (slice(top, top + 50), slice(left, left + 50))
    pixels = opaque(RAYS)
    assert finished(pixels, [streak])[shown] == pytest.approx(finished(pixels * needed[..., None], [streak])[shown], abs=1e-6)
    assert all(abs(one) <= max(240.0, abs(across), abs(down)) for one in needs)
