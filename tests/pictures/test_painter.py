"""The painter against others and against what must hold."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.chains import work_of
from tests.pictures.compare import FINISHED, apart, by_qpainter, demo_scene, ours, scene_of
from tests.pictures.reference import lay
from under_lattice.colour.blend import BLENDS
from under_lattice.core.errors import GivenUp, LimitError
from under_lattice.core.progress import Progress
from under_lattice.declare.frozen import edited
from under_lattice.library import DEMOS
from under_lattice.render.paint import paint
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.shapes.push_edges import PushEdges
from under_lattice.rules.shapes.split import Split
from under_lattice.scene.tree import View, whole_page
from under_lattice.work.model import Sheet

SHEET = Sheet(width=100, height=80, background="#000000")
WHITE = Ink(colours="one colour", palette=("#FFFFFF",))


# the tide board is compared with others in test_pattern_fill.py, faster
PLAIN = [
    name
    for name in DEMOS
    if all(layer.end.blend == "normal" for layer in DEMOS[name]().chains()) and name not in ("tide-board", *FINISHED)
]


@pytest.mark.parametrize("name", PLAIN)
def test_same_picture_as_the_plain_loop(name):
    scene = demo_scene(name)
    mean, far = apart(ours(scene, 360), by_qpainter(scene, 360))
    assert mean < 4.0  # both antialias; the loop leaves hairlines between neighbours, the painter none
    assert far < 0.02


@given(
    sides=st.integers(3, 12),
    size=st.floats(2, 60),
    x=st.floats(-60, 60),
    y=st.floats(-60, 60),
    turn=st.floats(0, 360),
    scale=st.floats(0.5, 5),
)
@settings(max_examples=60)
def test_coverage_of_a_polygon_sums_to_its_area(sides, size, x, y, turn, scale):
    design = work_of(
        Polygon(sides=sides, measure="circumradius", size=size),
        WHITE,
        Adjust(turn=turn, x=x, y=y),
        sheet=edited(SHEET, width=600, height=600),
    ).design
    scene = scene_of(design)
    side = int(300 * scale)
    pixels = paint(scene, View(side, side, scale, side / 2, side / 2))
    area = sides / 2 * size**2 * np.sin(2 * np.pi / sides) * scale**2
    assert pixels[..., 0].sum() / 255 == pytest.approx(area, rel=4e-3, abs=2.0)


TILINGS = {
    "hexagons": (Polygon(size=13.0), Lattice()),
    "triangles": (Polygon(sides=3, measure="side", size=17.0), Lattice(form="triangles", turn=11.0)),
    "rhombs": (Polygon(size=13.0), Split(), Lattice(turn=7.0)),
    "pushed": (Polygon(size=13.0), Split(), PushEdges(amount=1.7), Lattice(turn=3.0)),
}


@pytest.mark.parametrize("ground", ["#000000", "#FFFFFF", ""])
@pytest.mark.parametrize("name", list(TILINGS))
def test_touching_shapes_leave_no_hairline(name, ground):
    grey = Ink(colours="one colour", palette=("#808080",))
    scene = scene_of(work_of(*TILINGS[name], grey, sheet=edited(SHEET, background=ground)).design)
    for scale in (1.0, 2.37, 7.9):
        pixels = paint(scene, View(300, 240, scale, 151.3, 119.6))
        page = pixels[pixels[..., 3] == 255] if ground == "" else pixels[100:140, 130:170].reshape(-1, 4)
        assert len(page) > 300
        assert np.abs(page[:, :3].astype(int) - 128).max() <= 1


def test_three_colours_meet_without_the_ground_shining_through():
    scene = scene_of(
        work_of(Polygon(size=13.0), Split(), Ink(palette=("#FF0000", "#00FF00", "#FF00FF")), Lattice(turn=5.0), sheet=SHEET).design
    )
    pixels = paint(scene, View(300, 240, 3.1, 150, 120))[20:-20, 20:-20].astype(int)
    assert (
        np.abs(np.maximum(pixels[..., 0], 0) + pixels[..., 1] - 255).max() <= 2
    )  # red and magenta share red; green fills the rest


def test_an_opaque_shape_hides_what_is_under_it():
    two = Lattice(form="squares", spacing="free", pitch=0.001, extent="by number", columns=2, rows=1, grow="top left")
    scene = scene_of(work_of(Polygon(size=30.0), Ink(colours="column", palette=("#FF0000", "#0000FF")), two, sheet=SHEET).design)
    pixels = paint(scene, View(200, 160, 2.0, 100, 80))
    assert pixels[80, 100].tolist() == [0, 0, 255, 255]


def test_bands_and_threads_do_not_show():
    scene = demo_scene("dyed-towels")
    view = whole_page(scene, 300)
    whole = paint(scene, view, threads=1)
    assert (paint(scene, view, threads=3) == whole).all()
    for top in (0, 37, 200):
        part = paint(scene, View(view.width, 50, view.scale, view.left, view.top - top))
        assert np.abs(part.astype(int) - whole[top : top + 50]).max() <= 1


BESIDE = [(-80, -37, 500, 420), (100, 60, 120, 90), (-400, 0, 300, 200), (0, -90, 320, 80), (150, -20, 400, 60)]


@pytest.mark.parametrize("name", ["entrance-floor", "seed-clock", "harbour-window"])
@pytest.mark.parametrize(("left", "top", "wide", "high"), BESIDE)
def test_what_is_beside_the_page_is_not_painted_and_that_is_not_seen(name, left, top, wide, high, monkeypatch):
    scene = demo_scene(name)
    page = whole_page(scene, 320)
    view = replace(page, width=wide, height=high, left=page.left - left, top=page.top - top)
    seen = paint(scene, view)
    monkeypatch.setattr("under_lattice.render.paint.page_in", lambda scene, view: (view, np.s_[:, :]))
    assert np.abs(seen.astype(int) - paint(scene, view).astype(int)).max() <= 1


def test_painting_stops_and_says_how_far_it_is():
    scene, shares = demo_scene("entrance-floor"), []
    paint(scene, whole_page(scene, 300), Progress(tell=lambda _, share: shares.append(share)))
    assert sorted(shares)[-1] == 1.0
    with pytest.raises(GivenUp):
        paint(scene, whole_page(scene, 300), Progress(lambda: True))


def test_too_many_pixels_are_refused_before_memory_is_taken():
    scene = demo_scene("entrance-floor")
    with pytest.raises(LimitError, match="too large"):
        paint(scene, whole_page(scene, 90_000))


@pytest.mark.parametrize(
    ("mode", "value"),
    [
        ("normal", 0.7),
        ("multiply", 0.28),
        ("screen", 0.82),
        ("overlay", 0.56),
        ("darken", 0.4),
        ("lighten", 0.7),
        ("difference", 0.3),
        ("exclusion", 0.54),
    ],
)
def test_blend_figures(mode, value):
    source, backdrop = np.array([0.7, 0.7, 0.7, 1.0]), np.array([0.4, 0.4, 0.4, 1.0])
    assert lay(source, backdrop, mode)[:3] == pytest.approx([value] * 3)


@pytest.mark.parametrize("mode", BLENDS)
def test_every_mode_leaves_clear_sources_alone_and_stays_in_range(mode):
    grid = np.linspace(0, 1, 6)
    colour, alpha = np.meshgrid(grid, grid)
    pixels = np.stack([colour * alpha, (1 - colour) * alpha, colour * 0.5 * alpha, alpha], -1)
    assert lay(np.zeros_like(pixels), pixels, mode) == pytest.approx(pixels)
    mixed = lay(pixels, pixels[::-1, ::-1], mode)
    assert -1e-9 <= mixed.min() <= mixed.max() <= 1 + 1e-9


def test_layer_opacity_and_blend_reach_the_pixels():
    design = work_of(Polygon(sides=4, size=90.0, stands="on a flat"), WHITE, sheet=edited(SHEET, background="#204060")).design
    layer = design.layers[0]
    half = edited(layer, end=edited(layer.end, opacity=50.0))
    pixels = paint(scene_of(edited(design, layers=(half,))), View(10, 10, 1, 5, 5))
    assert pixels[5, 5] == pytest.approx([143.5, 159.5, 175.5, 255], abs=0.6)
    multiplied = edited(layer, end=edited(layer.end, blend="multiply"))
    assert paint(scene_of(edited(design, layers=(multiplied,))), View(10, 10, 1, 5, 5))[5, 5].tolist() == [32, 64, 96, 255]
