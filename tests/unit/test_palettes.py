"""Palettes from one colour, from pixels, and as files."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from under_lattice.colour.colour import checked, to_oklch
from under_lattice.colour.made_palettes import ANGLES, harmony, lightness_of, sampled, shades
from under_lattice.colour.palette_text import FORMS, palette_of_text, text_of_palette
from under_lattice.core.errors import InputError
from under_lattice.library.palettes import PALETTES

COLOURS = st.lists(st.integers(0, 0xFFFFFF).map(lambda v: f"#{v:06X}"), min_size=1, max_size=12).map(tuple)


@given(colours=COLOURS, ending=st.sampled_from(list(FORMS)), name=st.text(max_size=12))
def test_what_is_written_is_read_again(colours, ending, name):
    assert palette_of_text(text_of_palette(colours, ending, name)) == colours


@pytest.mark.parametrize(
    "text",
    [
        "#0A64C8 tomato\n",
        "0A64C8\nFF6347",
        "// quay\n#0a64c8, rgb(255, 99, 71)",
        ":root{--a:#0a64c8;--pad:4px;/*--z:#fff;*/--b: hsl(9 100% 64%)}",
        '["#0a64c8", "tomato"]',
        '{"deep": "#0a64c8", "warm": "tomato"}',
        '{"colors": [{"name": "deep", "color": "#0a64c8"}, "tomato"]}',
    ],
)
def test_the_three_forms_are_told_from_the_text(text):
    assert palette_of_text(text) == ("#0A64C8", "#FF6347")


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("", "has 0 colours"),
        ("{", "is no JSON in line 1"),
        ("[1, 2]", "“1” is not a colour"),
        ('{"colours": 3}', "has no list of colours"),
        ("#12", "“#12” is not a colour"),
        ("#000\n" * 13, "has 13 colours; a palette has from 1 to 12"),
        ("x" * 300_000, "too long"),
        ("[" * 100_000, "is no JSON"),
    ],
)
def test_what_is_no_palette_is_said(text, said):
    with pytest.raises(InputError, match=f"file.css.*{said}" if said else None):
        palette_of_text(text, "file.css")


@pytest.mark.parametrize("words", ANGLES)
def test_harmonies_keep_lightness_and_stand_at_their_angles(words):
    grown = harmony("#7A6E9C", ANGLES[words])
    lightness, _, hue = to_oklch("#7A6E9C")
    assert grown[0] == "#7A6E9C"
    for colour, angle in zip(grown, ANGLES[words], strict=True):
        assert to_oklch(colour)[0] == pytest.approx(lightness, abs=0.01)
        assert (to_oklch(colour)[2] - hue - angle + 180) % 360 - 180 == pytest.approx(0, abs=2)


@pytest.mark.parametrize("colour", ["#C4694C", "#2050FF", "#808080", "#FFFF00", "#000000"])
@pytest.mark.parametrize("count", [2, 5, 12])
def test_shades_have_even_steps_of_lightness_and_one_hue(colour, count):
    row = shades(colour, count)
    steps = np.diff([lightness_of(one) for one in row])
    assert np.allclose(steps, (20 - 92) / (count - 1), atol=0.6)
    if to_oklch(colour)[1] > 0.05:
        hues = [to_oklch(one)[2] for one in row if to_oklch(one)[1] > 0.04]
        assert np.ptp((np.array(hues) - to_oklch(colour)[2] + 180) % 360) < 4


def test_lightness_is_that_of_the_standard():
    assert [lightness_of(one) for one in ("#000000", "#777777", "#FFFFFF")] == pytest.approx([0, 50.03, 100], abs=0.01)


def test_the_colours_of_pixels_come_back_most_first():
    colours = [tuple(int(one[k : k + 2], 16) for k in (1, 3, 5)) for one in PALETTES["Swim caps"]]
    pixels = np.zeros((100, 100, 4), np.uint8)
    bounds = np.cumsum([0, 40, 25, 20, 10, 5])
    for k, colour in enumerate(colours):
        pixels[bounds[k] : bounds[k + 1]] = (*colour, 255)
    assert sampled(pixels, 5) == PALETTES["Swim caps"]
    assert sampled(pixels[::-1], 5) == PALETTES["Swim caps"]
    assert sampled(pixels, 12) == PALETTES["Swim caps"]  # no more than there are
    noise = np.random.default_rng(1).integers(0, 256, (300, 300, 4), np.uint8)
    assert len(sampled(noise, 6)) == 6
    assert sampled(noise, 6) == sampled(noise.copy(), 6)
    assert sampled(np.zeros((4, 4, 4), np.uint8), 3) == ()
    assert all(checked(one) == one for one in sampled(noise, 6))
