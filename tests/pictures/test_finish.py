"""Finishes against closed forms, at any size, in chains, groups and veils, and in files."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.special import ndtr

from tests.pictures.compare import RSVG, by_resvg, by_rsvg, ours, scene_of
from under_lattice import rules
from under_lattice.colour.colour import companded, linear_of
from under_lattice.colour.effects import Blur, Shadow, Tone, ToneMap
from under_lattice.colour.ramp import Ramp
from under_lattice.colour.ramp_text import stops_of_text
from under_lattice.core.errors import InputError
from under_lattice.core.progress import Progress
from under_lattice.declare.frozen import edited
from under_lattice.library.layers import chain, veil
from under_lattice.output import svg
from under_lattice.output.svg import Svg, write_svg
from under_lattice.render import finish
from under_lattice.render.paint import paint
from under_lattice.rules import Ellipse, Ink, Lattice, LayerEnd, Lettering, Rectangle
from under_lattice.rules.handles import polar
from under_lattice.scene.tree import View, whole_page
from under_lattice.work.layers import Group
from under_lattice.work.model import Design, Sheet
from under_lattice.work.suggest import suggested

SHEET = Sheet(width=100.0, height=80.0, background="#F4E8D0")
RED = Ink(palette=("#C02020",))


def flat(*rgb, wide=4):
    return np.tile(np.array([*rgb, 255], np.float32) / 255, (wide, wide, 1))


def seen(pixels):
    return (pixels[1, 1, :3] * 255).round().astype(int).tolist()


def finished(pixels, effects, scale=1.0):
    """Pixels finished, the middle of the page in the middle of them."""
    high, wide = pixels.shape[:2]
    return finish.finished(pixels, effects, View(wide, high, scale, wide / 2, high / 2))


def work(*layers, sheet=SHEET):
    return Design(sheet=sheet, layers=layers)


def dots(*finishes, name="Dots", ink=RED):
    grid = Lattice(form="squares", spacing="free", pitch=20.0, row_pitch=20.0, extent="by number", columns=4, rows=3)
    return chain(name, Ellipse(width=12.0), ink, grid, *finishes)


def layer_over(design, **changes):
    return edited(design, layers=(edited(design.layers[0], end=LayerEnd(id="end", **changes)), *design.layers[1:]))


@pytest.mark.parametrize("deviation", [0.7, 3.0, 12.0, 40.0])
@pytest.mark.parametrize("axis", [0, 1])
def test_a_step_is_blurred_as_the_normal_distribution_says(deviation, axis):
    """The error function at any distance, for coarse and for fine: sigma 12 gives 0.7734 at 9 and 0.9332 at 18."""
    side = int(16 * deviation) + 8
    step = np.zeros((side, side, 4), np.float32)
    step[side // 2 :] = 1.0
    step = step if axis == 0 else step.swapaxes(0, 1).copy()
    out = finished(step, [Blur(deviation)])[..., 3]
    line = (out if axis == 0 else out.T)[:, side // 2]
    away = np.arange(side) + 0.5 - side // 2
    near = np.abs(away) < 3 * deviation
    assert np.abs(line[near] - ndtr(away[near] / deviation)).max() < 1.5e-3


def test_colours_are_blurred_in_linear_light():
    edge = np.concatenate([np.tile(flat(255, 0, 0, wide=80), (1, 1, 1)), flat(0, 255, 0, wide=80)], 1)
    middle = finished(edge, [Blur(4.0)])[40, 79:81].mean(0)
    assert middle[:2] == pytest.approx(companded(np.full(2, 0.5)), abs=0.01)
    assert finished(edge, [Blur(0.0)]) is edge


@given(st.floats(0.3, 30), st.integers(0, 1000))
def test_a_blur_keeps_the_light_there_is_and_never_more_than_all(deviation, seed):
    dice = np.random.default_rng(seed)
    spot = np.zeros((260, 260, 4), np.float32)
    spot[126:134, 126:134] = (dice.random((8, 8, 1)) > 0.3) * np.array([*dice.random(3), 1.0])
    out = finished(spot, [Blur(deviation)])
    assert out[..., 3].sum() == pytest.approx(spot[..., 3].sum(), rel=2e-3)
    assert out.min() >= 0.0
    assert (out[..., :3] <= out[..., 3:] + 1e-5).all()


def test_a_blur_along_one_direction_leaves_lines_in_that_direction_alone():
    lines = np.zeros((90, 90, 4), np.float32)
    lines[30:60] = 1.0
    along, across = (finished(lines, [Blur(5.0, way)])[45, 45, 3] for way in (0.0, 90.0))
    assert along == pytest.approx(1.0, abs=1e-4)
    assert across == pytest.approx(ndtr(3.0) - ndtr(-3.0), abs=5e-3)


@pytest.mark.parametrize(("across", "down"), [(9.0, -5.0), (2.5, 3.25), (0.0, 0.0)])
def test_a_shadow_lies_as_far_as_it_is_told_and_as_dense(across, down):
    disc = np.zeros((120, 120, 4), np.float32)
    disc[50:70, 45:65] = (1.0, 0.5, 0.0, 1.0)
    cast = finished(disc, [Shadow(*polar(np.array([across, down])), 2.0, (0.0, 0.0, 0.0), 1.0)])
    assert (cast[50:70, 45:65] == disc[50:70, 45:65]).all()
    alone = finished(disc, [Shadow(*polar(np.array([across, down])), 2.0, (0.2, 0.4, 0.6), 1.0)])
    covered = alone[..., 3] - disc[..., 3]
    whole = np.zeros((120, 120), np.float32)
    whole[50:70, 45:65] = 1.0
    from under_lattice.render.finish.blur import gaussian, moved

    own = gaussian(moved(whole, across, down), 2.0)
    y, x = np.mgrid[:120, :120]
    assert own.sum() == pytest.approx(400, rel=1e-3)
    assert ((own * x).sum() / own.sum() - 54.5, (own * y).sum() / own.sum() - 59.5) == pytest.approx((across, down), abs=0.01)
    assert covered == pytest.approx(own * (1 - disc[..., 3]), abs=1e-5)


def test_a_shadow_inside_stays_inside():
    disc = np.zeros((60, 60, 4), np.float32)
    disc[20:40, 20:40] = 1.0
    out = finished(disc, [Shadow(4.0, 0.0, 1.0, (0.0, 0.0, 0.0), 1.0, inside=True)])
    assert (out[..., 3] == disc[..., 3]).all()
    assert out[30, 21, 0] < 0.1
    assert out[30, 38, 0] > 0.9


@pytest.mark.parametrize(
    ("tone", "given_", "wanted"),
    [
        (Tone(saturation=1.5), (0x59, 0x8C, 0xA6), (0x46, 0x93, 0xB9)),
        (Tone(saturation=0.0), (255, 0, 0), (128, 128, 128)),
        (Tone(hue=120.0), (255, 0, 0), (0, 255, 0)),
        (Tone(hue=-60.0), (200, 100, 100), (200, 100, 200)),
        (Tone(invert=True), (10, 100, 255), (245, 155, 0)),
        (Tone(contrast=2.0), (64, 128, 192), (0, 128, 255)),
        (Tone(contrast=0.0, about=0.25), (0, 128, 255), (64, 64, 64)),
        (Tone(black=0.2, white=0.8), (51, 128, 204), (0, 128, 255)),
        (Tone(mid=2.0), (64, 0, 255), (128, 0, 255)),
        (Tone(exposure=-1.0), (255, 128, 0), (188, 92, 0)),
        (Tone(), (12, 34, 56), (12, 34, 56)),
    ],
)
def test_tones_as_they_are_defined(tone, given_, wanted):
    assert seen(finished(flat(*given_), [tone])) == pytest.approx(wanted, abs=1)
    half = flat(*given_) * np.float32(0.5)
    assert seen(finished(half, [tone]) * 2) == pytest.approx(wanted, abs=2)


def test_half_as_much_light_is_half_in_linear_light():
    out = finished(flat(200, 120, 40), [Tone(exposure=-1.0)])[0, 0, :3]
    assert linear_of(out) == pytest.approx(linear_of(np.array([200, 120, 40]) / 255) / 2, abs=1e-4)


def test_tones_become_colours_of_a_ramp():
    ramp = ToneMap(Ramp(stops_of_text("0 #102040; 40 #E08030; 100 #FFFFFF")))
    assert seen(finished(flat(51, 51, 51), [ramp])) == [120, 80, 56]
    assert seen(finished(flat(0, 0, 0), [ramp])) == [16, 32, 64]
    assert seen(finished(flat(255, 255, 255), [ramp])) == [255, 255, 255]
    twice = ToneMap(ramp.ramp, 2, "there and back")
    assert seen(finished(flat(255, 255, 255), [twice])) == [16, 32, 64]
    assert seen(finished(flat(26, 26, 26), [ToneMap(ramp.ramp, 2)])) == pytest.approx([120, 80, 56], abs=3)


@pytest.mark.parametrize("finish", [kind for kind in rules.RULES if kind.family == "finish"])
def test_a_finish_looks_the_same_at_any_size(finish):
    """At once and at four times the size, away from edges of single pixels."""
    scene = scene_of(work(dots(finish()), veil("Veil", rules.Blur(size=1.0))))
    small, large = ours(scene, 200), ours(scene, 800)
    down = large.reshape(160, 4, 200, 4, 4).mean((1, 3))
    assert np.abs(small - down).mean() < 1.0


def test_a_veil_changes_what_lies_beneath_and_nothing_else():
    """Lettering above it is the same to the byte; a veil that is hidden, off, clear or without finishes changes nothing."""
    words = chain("Words", Lettering(text="TERN", size=20.0), Ink(palette=("#102030",)))
    blur = rules.Blur(size=4.0)
    bare = ours(scene_of(work(words, dots())), 200)
    veiled = ours(scene_of(work(words, veil("Veil", blur), dots())), 200)
    own = ours(scene_of(edited(work(words), sheet=edited(SHEET, background=""))), 200)[..., 3] == 255
    assert own.any()
    assert (bare[own] == veiled[own]).all()
    assert np.abs(bare - veiled).mean() > 5
    for still in (
        edited(veil("Veil", blur), hidden=True),
        veil("Veil", edited(blur, on=False)),
        veil("Veil"),
        edited(veil("Veil", blur), end=LayerEnd(id="e", opacity=0.0)),
    ):
        assert np.abs(ours(scene_of(work(words, still, dots())), 200) - bare).max() <= 1


def test_a_veil_in_front_of_nothing_and_a_veil_in_a_group():
    """In a group it changes the members alone; the ground is changed by one on the sheet."""
    invert = rules.Tone(contrast=100.0, saturation=100.0, invert="yes")
    ground = ours(scene_of(work(veil("Veil", invert))), 100)
    assert ground[0, 0, :3].tolist() == pytest.approx([255 - 0xF4, 255 - 0xE8, 255 - 0xD0], abs=1)
    group = Group(id="g", handle="g", name="G", layers=(veil("Veil", invert), dots()))
    inside = ours(scene_of(work(group)), 100)
    assert inside[0, 0, :3].tolist() == [0xF4, 0xE8, 0xD0]
    assert inside[40, 40, :3].tolist() == pytest.approx([255 - 0xC0, 255 - 0x20, 255 - 0x20], abs=1)


def test_a_veil_is_masked_clipped_faded_and_blended_as_a_layer_is():
    invert = rules.Tone(contrast=100.0, saturation=100.0, invert="yes")
    bare, whole = (ours(scene_of(work(*layers, dots())), 200) for layers in ((), (veil("Veil", invert),)))
    half = edited(veil("Veil", invert), end=LayerEnd(id="e", opacity=50.0))
    assert np.abs(ours(scene_of(work(half, dots())), 200) - (bare + whole) / 2).max() <= 1.5
    stencil = edited(chain("Left", Rectangle(width=50.0, height=80.0, place_x=-25.0), RED), source_only=True)
    clipped = edited(veil("Veil", invert), end=LayerEnd(id="e", clip="left"))
    cut = ours(scene_of(work(clipped, dots(), stencil)), 200)
    assert np.abs(cut[:, :99] - whole[:, :99]).max() <= 1
    assert np.abs(cut[:, 101:] - bare[:, 101:]).max() <= 1
    ramp = LayerEnd(id="e", masked="straight ramp", mask_ramp="0 #000000; 100 #FFFFFF")
    faded = ours(scene_of(work(edited(veil("Veil", invert), end=ramp), dots())), 200)
    for end in (bare, whole):  # at one side of the sheet as it is without, at another as it is with the whole veil
        away = np.abs(faded - end)
        assert min(away[2].mean(), away[-3].mean(), away[:, 2].mean(), away[:, -3].mean()) < 6
    multiplied = edited(veil("Veil", rules.Blur(size=3.0)), end=LayerEnd(id="e", blend="multiply"))
    assert ours(scene_of(work(multiplied, dots())), 200)[..., :3].mean() < bare[..., :3].mean() - 5


@pytest.mark.parametrize("sheet", [Sheet(width=30, height=20), Sheet(unit="px", width=3000, height=2000)])
def test_a_new_finish_suits_the_sheet(sheet):
    """On a veil a blur is a hundred and sixtieth of the shorter side; on repeated copies no more than a twelfth of one."""
    for layer, most in ((dots(), 1.0), (veil("Veil"), 1e9)):
        assert suggested(rules.Blur, layer, sheet).size == pytest.approx(min(sheet.height / 160, most), rel=0.05)
        assert suggested(rules.Tone, layer, sheet).contrast == 120.0


def test_a_part_of_the_sheet_is_as_it_is_in_the_whole():
    """Also where what is blurred stands beside what is seen."""
    scene = scene_of(work(veil("Veil", rules.Blur(size=5.0)), dots(rules.Shadow(distance=8.0))))
    whole = ours(scene, 400)
    part = paint(scene, View(100, 80, 4.0, 200 - 120, 160 - 90)).astype(float)
    assert np.abs(part - whole[90:170, 120:220]).max() <= 1
    many = scene_of(work(*(veil(f"Veil {k}", rules.Blur(size=1.0)) for k in range(6)), dots()))
    part = paint(many, View(60, 50, 2.0, 100 - 60, 80 - 45)).astype(float)
    assert np.abs(part - ours(many, 200)[45:95, 60:120]).max() <= 1


@pytest.mark.parametrize("by", ["a blurred layer", "a veil", "a group with a veil"])
def test_what_has_finishes_may_be_a_mask(by):
    """A blurred mask lets through softly; a veil alone is nothing, so nothing is let through."""
    spot = edited(chain("Spot", Ellipse(width=40.0), Ink(palette=("#FFFFFF",)), rules.Blur(size=4.0)), source_only=True)
    over = veil("Over", rules.Blur(size=4.0))
    plain = edited(spot, rules=spot.rules[:-1], source_only=False)
    mask = {"a blurred layer": spot, "a veil": edited(over, source_only=True)}.get(by)
    mask = mask or Group(id="both", handle="both", name="Both", layers=(over, plain), source_only=True)
    masked = edited(chain("Sheet", Rectangle(width=100.0, height=80.0), RED), end=LayerEnd(id="e", mask=mask.id))
    seen_ = ours(scene_of(work(masked, mask, sheet=edited(SHEET, background=""))), 100)[40, :, 3]
    if by == "a veil":
        assert seen_.max() == 0
        return
    assert seen_[50] > 250
    assert seen_[2] < 3
    assert 60 < seen_[30] < 200  # at the edge of the spot


@pytest.mark.parametrize("foreign", [by_resvg, pytest.param(by_rsvg, marks=pytest.mark.skipif(RSVG is None, reason="not there"))])
def test_finishes_in_svg_are_as_others_see_them(foreign, monkeypatch):
    monkeypatch.setattr(svg, "PICTURE_PX", 900)
    design = work(dots(ink=Ink(palette=("#205080",)), name="Front"), veil("Veil", rules.Blur(size=2.0)), dots(rules.Shadow()))
    scene = scene_of(design)
    assert np.abs(ours(scene, 300) - foreign(scene, design.sheet, 300)[:240]).mean() < 1.0
    text = write_svg(scene, design.sheet, Svg(recipe=False)).decode()
    assert text.count("<image") == 1  # all beneath the veil is one picture, what lies above it stays outlines
    (note,) = Svg().notes(design)
    assert "all beneath Veil" in note
    assert not Svg().notes(work(dots()))
    with pytest.raises(InputError, match="plain paths cannot say"):
        write_svg(scene, design.sheet, Svg(plain=True))


FILTERS = [
    rules.Blur(size=0.7),
    rules.Blur(size=3.0),
    rules.Blur(way="along one direction", size=3.0, direction=90.0),
    rules.Shadow(),
    rules.Shadow(falls="inside", distance=2.0, soft=1.0),
    rules.Shadow(distance=0.0, soft=3.0, colour="#2040FF", opacity=90.0),
    rules.Tone(contrast=140.0, saturation=100.0, mid=150.0, invert="yes"),
    rules.ToneCurve(),
    rules.ToneCurve(channels="blue"),
    rules.FewTones(),
]


@pytest.mark.parametrize("foreign", [by_resvg, pytest.param(by_rsvg, marks=pytest.mark.skipif(RSVG is None, reason="not there"))])
def test_some_finishes_are_filters_in_svg_and_their_shapes_stay_outlines(foreign):
    """One by one and three together, of a layer that is moved and sized: in the mean within 2 of 255, as others see them."""
    for finishes in [*((one,) for one in FILTERS), (rules.Blur(size=0.5), rules.ToneCurve(), rules.Shadow())]:
        layer = dots(*finishes)
        design = work(edited(layer, end=edited(layer.end, place_x=4.0, place_size=80.0)))
        scene = scene_of(design)
        text = write_svg(scene, design.sheet, Svg(recipe=False)).decode()
        assert "<image" not in text
        assert "<filter" in text
        assert not Svg().notes(design)
        away = np.abs(ours(scene, 300) - foreign(scene, design.sheet, 300)[:240])
        assert away.mean() < 2.0
        assert np.abs(ours(scene, 300) - ours(scene_of(work(layer)), 300)).mean() > away.mean()
    turned = dots(rules.Shadow())
    for layer in (edited(turned, end=edited(turned.end, place_turn=30.0)), dots(rules.Relief())):
        assert "Dots" in Svg().notes(work(layer))[0]
        assert "<image" in write_svg(scene_of(work(layer)), SHEET, Svg(recipe=False)).decode()


def test_what_reaches_too_far_is_painted_coarser_and_that_is_said():
    notes = []
    scene = scene_of(work(dots(rules.Blur(size=5000.0))))
    out = paint(scene, whole_page(scene, 500), Progress(note=notes.append))
    assert out.shape == (400, 500, 4)
    assert any("coarser" in note for note in notes)
