"""Masks painted with a soft brush: the profile of a stroke, erasing, text there and back, units, bad text, other readers."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.chains import work_of
from tests.pictures.compare import FOREIGN, apart, ours, scene_of
from under_lattice.core.errors import InputError
from under_lattice.declare.frozen import edited
from under_lattice.declare.mask_strokes import STROKES_MOST, stroke_along, strokes_of_text, text_of_strokes
from under_lattice.files.storage import from_text, to_text
from under_lattice.rules.motifs.rectangle import Rectangle
from under_lattice.rules.paints.ink import Ink
from under_lattice.work.model import Sheet, Work
from under_lattice.work.sheets import set_sheet

WHOLE = (Rectangle(width=100.0, height=80.0), Ink(colours="one colour", palette=("#FFFFFF",)))
SHEET = Sheet(width=100, height=80, background="#000000")


def design(strokes, sheet=SHEET, **end):
    work = work_of(*WHOLE, sheet=sheet).design
    layer = edited(work.layers[0], end=edited(work.layers[0].end, masked="painted", mask_strokes=strokes, **end))
    return edited(work, layers=(layer,))


def seen(strokes, **end):
    """How much is seen (h, w), 4 px for each mm."""
    return ours(scene_of(design(strokes, **end)), 400)[..., 0] / 255


@pytest.mark.parametrize(("soft", "strength"), [(60, 100), (100, 50), (0, 80), (30, 30)])
def test_a_stroke_is_as_strong_in_its_middle_and_as_soft_at_its_edge_as_was_said(soft, strength):
    picture = seen(f"hides 40 {soft} {strength}: -60,0 60,0")
    y = np.abs((np.arange(320) + 0.5) / 4 - 40)
    t = np.clip((20 - y) / max(20 * soft / 100, 1e-9), 0, 1)
    want = 1 - strength / 100 * (t * t * (3 - 2 * t) if soft else (y < 20))
    away = np.abs(picture[:, 200] - want)
    assert away[np.abs(y - 20) > 0.3].max() < 0.035
    assert np.abs(picture - picture[:, :1]).max() < 1e-6  # the same all along


def test_what_was_hidden_is_shown_again_and_inverted_masks_are_the_other_way_round():
    both = "hides 40 0 100: -60,0 60,0\nshows 20 0 100: 0,-60 0,60"
    picture = seen(both)
    assert picture[160, 40] == 0.0
    assert picture[160, 200] == 1.0
    again = seen(both + "\nhides 6 0 100: 0,0")
    assert again[160, 200] == 0.0
    assert seen(both, mask_way="inverted")[160, 40] == 1.0
    assert seen(both, mask_on="off").min() == 1.0
    assert seen("").min() == 1.0


def test_a_stroke_over_itself_does_no_more_than_once():
    crossing = seen("hides 20 50 40: -30,0 30,0 30,0.01 -30,0.01 -30,0")
    once = seen("hides 20 50 40: -30,0 30,0")
    assert np.abs(crossing - once).max() < 0.02


numbers = st.floats(-500, 500).map(lambda v: round(v, 2))
pressed = st.floats(0, 1).map(lambda v: round(v, 3))
lines = st.lists(st.tuples(numbers, numbers), min_size=1, max_size=20) | st.lists(
    st.tuples(numbers, numbers, pressed), min_size=1, max_size=20
)
stroke = st.tuples(
    lines, st.floats(0.1, 200), st.floats(0, 100), st.floats(0, 100),
    st.booleans(),
)  # fmt: skip


@given(st.lists(stroke, max_size=6))
def test_strokes_as_text_there_and_back(strokes):
    made = [
        stroke_along(np.array(points), round(size, 2), round(soft), round(much), hides)
        for points, size, soft, much, hides in strokes
    ]
    text = text_of_strokes(made)
    again = strokes_of_text(text)
    assert text_of_strokes(again) == text
    assert [one.hides for one in again] == [one.hides for one in made]


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("rubs 20 60 100: 0,0", "stroke 1 cannot be read"),
        ("hides 20 60 100: 0,0\nhides 20 60: 0,0", "stroke 2 cannot be read"),
        ("hides 20 60 100:", "needs from 1 to"),
        ("hides 0 60 100: 0,0", "not allowed"),
        ("hides 20 160 100: 0,0", "not allowed"),
        ("hides 20 60 100: nan,0", "not allowed"),
        ("hides 20 60 100: 0,0,50 9,9,130", "not allowed"),
        ("hides 20 60 100: 0,0,50 9,9", "stroke 1 cannot be read"),
        ("\n".join(["hides 20 60 100: 0,0"] * (STROKES_MOST + 1)), "at most"),
    ],
)
def test_strokes_that_cannot_be_read_say_where(text, said):
    with pytest.raises(InputError, match=said):
        strokes_of_text(text)


def test_a_drawn_line_becomes_one_stroke_of_few_places_with_the_brush_there_is():
    end = design("").layers[0].end
    line = np.stack([np.linspace(-40, 40, 500), np.zeros(500)], 1)
    once = edited(end, **edited(end, brush=12.0, brush_soft=20.0, brush_does="shows").drawn(line))
    (made,) = strokes_of_text(once.mask_strokes)
    assert (made.size, made.soft, made.hides, len(made.points)) == (12.0, 0.2, False, 2)
    assert len(strokes_of_text(edited(once, **once.drawn(line + 5)).mask_strokes)) == 2


def test_painted_masks_are_kept_and_follow_the_unit():
    one = design("hides 40 60 100: -50,0 25,10", sheet=Sheet(width=100, height=80, background="#000000", unit="mm"))
    assert from_text(to_text(Work(design=one))).design == one
    other = set_sheet(one, unit="cm")
    (made,) = strokes_of_text(other.layers[0].end.mask_strokes)
    assert made.size == pytest.approx(4.0)
    assert made.points.tolist() == [[-5.0, 0.0], [2.5, 1.0]]


@pytest.mark.parametrize(("soft", "strength"), [(60, 100), (0, 80), (100, 40)])
def test_a_pressed_stroke_is_as_wide_as_it_was_pressed(soft, strength):
    """A stroke from nothing to 40 wide over 100: its profile at each place is that of a stroke so wide."""
    picture = seen(f"hides 40 {soft} {strength}: -50,0,0 50,0,100")
    y = np.abs((np.arange(320) + 0.5) / 4 - 40)
    for at in (160, 280, 380):
        half = 20 * (at + 0.5) / 400 / np.cos(np.arcsin(0.2))  # discs that grow by 20 over 100 lean their common edge
        t = np.clip((half - y) / max(half * soft / 100, 1e-9), 0, 1)
        want = 1 - strength / 100 * (t * t * (3 - 2 * t) if soft else (y < half))
        assert np.abs(picture[:, at] - want)[np.abs(y - half) > 0.6].max() < 0.05


def test_pressure_of_a_stroke_is_kept_where_it_changes_and_full_pressure_is_as_no_tablet():
    along = np.linspace(-40, 40, 500)
    hat = np.stack([along, np.zeros(500), 1 - np.abs(along) / 40], 1)
    made = stroke_along(hat, 12.0, 20.0, 100.0, True)
    assert len(made.points) == 3
    assert made.pressure.tolist() == pytest.approx([0.0, 1.0, 0.0], abs=0.01)
    assert stroke_along(np.column_stack([hat[:, :2], np.ones(500)]), 12.0, 20.0, 100.0, True).pressure is None


@pytest.mark.parametrize("renderer", list(FOREIGN))
@pytest.mark.parametrize("way", ["as it is", "inverted"])
def test_painted_masks_look_the_same_elsewhere(renderer, way):
    strokes = "hides 40 80 100: -40,-20 0,10 40,-25\nshows 14 50 80: -40,20,20 0,0,100 40,-20,50\nhides 10 0 60: 0,30"
    work = design(strokes, mask_way=way, sheet=Sheet(width=100, height=80, background="#204060"))
    scene = scene_of(work)
    away, much = apart(ours(scene, 300), FOREIGN[renderer](scene, work.sheet, 300))
    assert away < 1.0
    assert much < 0.01
