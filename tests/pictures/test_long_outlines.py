"""Outlines of very many points and of huge lengths: they are painted right, and painting them ends or can be stopped."""

import threading

import numpy as np
import pytest

from tests.pictures.compare import demo_scene, ours, scene_of
from tests.pictures.small import BLACK, NONE, darkness, scene
from under_lattice.core.errors import GivenUp
from under_lattice.core.progress import Progress
from under_lattice.geometry.outline import LINE, MOVE, polygon_verbs
from under_lattice.library import demo
from under_lattice.many.settings import apply_setting
from under_lattice.pattern.marks import Coat, Dash
from under_lattice.render.paint import paint
from under_lattice.scene.tree import View, whole_page

MANY = 6000


def saw(teeth, wide, high=20.0):
    """A band `wide` long whose upper edge has teeth, about the middle, and its area."""
    x = np.linspace(-wide / 2, wide / 2, teeth)
    top = np.stack([x, np.where(np.arange(teeth) % 2, -high / 2, -high)], 1)
    points = np.concatenate([top, [(wide / 2, high / 2), (-wide / 2, high / 2)]])
    return points, float(np.trapezoid(high / 2 - top[:, 1], x))


@pytest.mark.parametrize("wide", [64, 290, 509, 510, 511, 800])
def test_a_long_outline_that_goes_on_to_the_right_of_a_tile_is_filled_to_its_edge(wide):
    points, _ = saw(MANY, 3000.0)
    painted = paint(scene(polygon_verbs(len(points)), points, Coat(BLACK, NONE, np.zeros(1))), View(wide, 70, 1.0, wide / 2, 35.0))
    assert (painted[26:44, :, 0] == 0).all()
    assert (painted[:14, :, 0] == 255).all()


def test_a_narrow_wave_on_the_deck_chair_is_painted_at_any_width():
    design = apply_setting(demo("deck-chair-canvas").design, "stripes.wave-edges.wavelength=6")
    made = scene_of(design)
    large = ours(made, 800)
    small = ours(made, 400)
    halved = large[:, :800].reshape(large.shape[0] // 2, 2, 400, 2, 4).mean((1, 3))
    assert np.abs(halved - small[: len(halved)]).mean() < 1.0


@pytest.mark.parametrize("look", ["fill", "stroke", "dashes"])
def test_an_outline_of_a_million_points(look):
    teeth = 1_000_000
    points, _ = saw(teeth, 400.0, 40.0)
    line = points[:-2]
    view = View(440, 70, 1.0, 220.0, 45.0)
    if look == "fill":
        painted = paint(scene(polygon_verbs(len(points)), points, Coat(BLACK, NONE, np.zeros(1))), view)
        assert darkness(painted) == pytest.approx(400 * (60 + 40) / 2, rel=0.001)
        return
    dash = Dash((0.5, 0.5), 0.0, True) if look == "dashes" else None
    painted = paint(scene(bytes([MOVE]) + bytes([LINE]) * (teeth - 1), line, Coat(NONE, BLACK, np.array([1.0]), dash=dash)), view)
    assert darkness(painted) == pytest.approx(400 * 20, rel=0.06)  # the teeth stand so near that nothing shows between them


@pytest.mark.parametrize("look", ["fill", "stroke", "dashes", "fine dashes", "wide"])
def test_lengths_of_a_thousand_millions(look):
    points = np.array([(-9e8, -10.0), (9e8, -10.0), (9e8, 10.0), (-9e8, 10.0)])
    view = View(300, 80, 1.0, 150.0, 40.0)
    if look == "fill":
        painted = paint(scene(polygon_verbs(4), points, Coat(BLACK, NONE, np.zeros(1))), view)
        assert darkness(painted) == pytest.approx(300 * 20, rel=0.001)
        return
    dash = {"dashes": Dash((4e7, 4e7), 0.0, False), "fine dashes": Dash((3.0, 2.0), 0.0, True)}.get(look)
    width = 1e9 if look == "wide" else 2.0
    painted = paint(scene(polygon_verbs(4), points, Coat(NONE, BLACK, np.array([width]), join="round", dash=dash)), view)
    assert darkness(painted) > 0


def test_a_stop_ends_the_painting_of_one_long_outline():
    """The flag is raised while a tile is being painted: no tile after it has to be waited for."""
    points, _ = saw(400_000, 300.0, 40.0)
    dash = Dash((1.0, 1.0), 0.0, False)
    made = scene(bytes([MOVE]) + bytes([LINE]) * (len(points) - 1), points, Coat(NONE, BLACK, np.array([1.0]), dash=dash))
    raised = threading.Event()
    timer = threading.Timer(0.05, raised.set)
    timer.start()
    with pytest.raises(GivenUp):
        paint_on_and_on(made, raised.is_set)
    timer.join()


def paint_on_and_on(made, stop):
    for _ in range(1000):  # a bound, should nothing ever stop
        paint(made, View(300, 2000, 1.0, 150.0, 45.0), Progress(stop))


def test_demo_works_with_long_lines_look_the_same_in_pieces():
    made = demo_scene("rope-mat")
    whole = paint(made, whole_page(made, 1100), threads=1)
    assert (whole == paint(made, whole_page(made, 1100), threads=2)).all()
