"""What no finish may do: fail, go on without end, give what is no colour, or take more memory than there is."""

import threading
from time import sleep

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.pictures.compare import ours, scene_of
from tests.pictures.test_finish import RED, SHEET, dots, finished, work
from tests.whole_works import values
from under_lattice import rules
from under_lattice.core.errors import GivenUp
from under_lattice.core.progress import Progress
from under_lattice.declare.frozen import edited
from under_lattice.library.layers import chain, veil
from under_lattice.render.finish import bent, closing, kept, plates
from under_lattice.render.finish.kept import Kept
from under_lattice.render.paint import paint
from under_lattice.rules import Blur, Ellipse, Grain, Lattice, Relief, Shadow, Smear, Streaks, Tone
from under_lattice.scene.tree import View, whole_page
from under_lattice.work.model import Sheet

FINISHES = [kind for kind in rules.RULES if kind.family == "finish"]


@st.composite
def finish(draw):
    kind = draw(st.sampled_from(FINISHES))
    return kind.model_validate({name: draw(values(name, dial)) for name, dial in kind.dials().items()})


@settings(max_examples=80)
@given(
    finish(), st.sampled_from([(1, 1), (1, 90), (90, 1), (3, 2), (61, 47), (330, 20)]), st.floats(0.01, 30.0), st.integers(0, 99)
)
def test_any_finish_of_any_picture_gives_premultiplied_colours(rule, shape, scale, seed):
    """Also of pictures of one pixel, of clear ones, and at any scale."""
    dice = np.random.default_rng(seed)
    alpha = np.clip(dice.normal(0.5, 1.0, (*shape, 1)), 0, 1) * (seed % 5 > 0)
    pixels = np.concatenate([dice.random((*shape, 3)) * alpha, alpha], -1).astype(np.float32)
    out = finished(pixels, [rule.effect()], scale)
    assert out.shape == pixels.shape
    assert np.isfinite(out).all()
    assert out.min() >= -1e-4
    assert (out[..., :3] <= out[..., 3:] + 1e-4).all()
    assert out.max() <= 1 + 1e-4


def test_what_is_no_number_becomes_nothing():
    pixels = np.full((30, 30, 4), np.nan, np.float32)
    pixels[10:20, 10:20] = (0.5, 0.2, np.inf, 1.0)
    for kind in FINISHES:
        assert np.isfinite(finished(pixels.copy(), [kind.model_validate({}).effect()])).all(), kind


@pytest.mark.parametrize("size", [0.0, 10_000.0])
def test_lengths_of_nothing_and_beyond_the_sheet(size):
    """Every length of every finish, on a layer, on copies and on a veil."""
    for kind in FINISHES:
        lengths = {name: min(max(size, dial.least), dial.most) for name, dial in kind.dials().items() if dial.kind == "length"}
        rule = kind.model_validate(lengths)
        grid = Lattice(form="squares", spacing="free", pitch=40.0, row_pitch=40.0, extent="by number", columns=2, rows=2)
        for layers in ((dots(rule),), (chain("A", Ellipse(width=30.0), RED, rule, grid),), (veil("V", rule), dots())):
            out = ours(scene_of(work(*layers)), 40)
            assert np.isfinite(out).all()
            assert out.shape == (32, 40, 4)


def test_plates_too_large_are_painted_coarser_and_that_is_said(monkeypatch):
    monkeypatch.setattr(plates, "PIXELS_MOST", 3_000)
    notes = []
    many = Lattice(form="squares", spacing="free", pitch=20.0, row_pitch=20.0, extent="by number", columns=4, rows=3)
    layer = chain(
        "A", Ellipse(width=12.0), rules.Ink(colours="chance", palette=("#C02020", "#2060A0", "#20A060")), Relief(size=2.0), many
    )
    scene = scene_of(work(layer))
    out = paint(scene, whole_page(scene, 500), Progress(note=notes.append)).astype(float)
    assert any("painted coarser" in note for note in notes)
    monkeypatch.undo()
    assert np.abs(out - paint(scene, whole_page(scene, 500)).astype(float)).mean() < 8


@pytest.mark.parametrize(
    ("finishes", "count"), [((Blur(size=0.5), Shadow(), Tone()), 3), ((Relief(size=2.0), Grain(size=0.3)), 3), ((Streaks(),), 8)]
)
def test_a_large_picture_is_painted_in_bands_that_fit(monkeypatch, finishes, count):
    """The same picture, but for what must be seen whole, which is done at once; bands are told as one."""
    scene = scene_of(work(veil("V", *finishes), dots(Shadow(distance=1.0))))
    view = whole_page(scene, 600)
    whole = paint(scene, view).astype(float)
    monkeypatch.setattr(closing, "BAND", 600 * 480 / count + 1)
    monkeypatch.setattr(closing, "PIXELS_MOST", 10_000_000)
    shares = []
    bands = paint(scene, view, Progress(tell=lambda name, share: shares.append(share))).astype(float)
    assert np.abs(bands - whole).max() <= 2
    assert closing.rows_at_once(scene, view) == (view.height if isinstance(finishes[0], Streaks) else view.height / count)
    assert max(shares) <= 1.0
    assert closing.rows_at_once(scene_of(work(dots())), view) == view.height


def test_long_finishes_are_stopped(monkeypatch):
    """Of a smear of millions of pixels that is not wanted any more few rows are done yet."""
    done, whole = [], bent.flow_rows
    monkeypatch.setattr(bent, "flow_rows", lambda *given: done.append(1) or sleep(0.02) or whole(*given))
    scene = scene_of(work(dots(Smear(length=2.0))))
    with pytest.raises(GivenUp):
        paint(scene, whole_page(scene, 2200), Progress(stop=lambda: len(done) >= 3))
    assert 3 <= len(done) < 15  # of about thirty bands


def test_what_was_finished_is_found_again_while_it_is_the_same(monkeypatch):
    """A layer moved in front of it makes nothing anew; a colour, a place or a finish does; what is kept stays within its bytes."""
    store = Kept(8 * 400_000)
    monkeypatch.setattr(closing, "FINISHED", store)
    grid = Lattice(form="squares", spacing="free", pitch=20.0, row_pitch=20.0, extent="by number", columns=4, rows=3)
    below = chain("A", Ellipse(width=12.0), RED, Relief(size=1.0), grid)
    front = chain("B", Ellipse(width=9.0), RED)

    def made(*layers):
        before = store.made
        ours(scene_of(work(*layers)), 100)
        return store.made - before

    assert made(front, below) == 1
    moved = edited(front, end=edited(front.end, place_x=20.0))
    assert made(moved, below) == 0
    assert made(moved, edited(below, rules=(*below.rules[:3], edited(below.rules[3], pitch=24.0)))) == 0
    assert made(moved, edited(below, rules=(below.rules[0], edited(below.rules[1], palette=("#00FF00",)), *below.rules[2:]))) == 1
    assert made(moved, edited(below, rules=(*below.rules[:2], edited(below.rules[2], slope=20.0), below.rules[3]))) == 1
    assert made(veil("V", Blur()), moved, below) >= 1
    assert made(veil("V", Blur()), moved, below) == 0
    for k in range(40):
        store.get((k,), lambda: np.zeros((100, 250, 4), np.float32))
        assert store.size <= store.most
    large = store.get(("large",), lambda: np.zeros((1000, 1000, 4), np.float32))
    assert store.get(("large",), lambda: large + 1).max() == 1.0  # too large to be kept
    with pytest.raises(AssertionError):
        store.get((threading,), lambda: large)
    assert kept.FINISHED.most == kept.BYTES_MOST


@pytest.mark.parametrize("sheet", [edited(SHEET, background=""), Sheet(width=3.0, height=300.0)])
def test_a_veil_over_nothing(sheet):
    for kind in FINISHES:
        assert np.isfinite(ours(scene_of(work(veil("V", kind.model_validate({})), sheet=sheet)), 8)).all()


def test_a_part_of_the_sheet_is_as_in_the_whole_for_every_finish():
    """Seen from near and from far, also where it is taken from elsewhere."""
    for kind in FINISHES:
        scene = scene_of(work(veil("V", kind.model_validate({})), dots()))
        whole = ours(scene, 400)
        part = paint(scene, View(100, 80, 4.0, 200 - 120, 160 - 90)).astype(float)
        assert np.abs(part - whole[90:170, 120:220]).mean() < 1.0, kind
