"""Clips and masks of layers that are moved: they stay on the sheet or go along, and always go along with a group."""

import numpy as np
import pytest

from tests.pictures.compare import FOREIGN, ours, scene_of
from under_lattice.declare.frozen import edited
from under_lattice.library.layers import chain
from under_lattice.rules import Ellipse, Ink, LayerEnd, Rectangle
from under_lattice.work.layers import Group
from under_lattice.work.model import Design, Sheet

SHEET = Sheet(width=200.0, height=200.0, background="#FFFFFF")
INK = Ink(colours="one colour", palette=("#000000",))
DISC = edited(chain("Disc", Ellipse(width=60.0), Ink(colours="one colour", palette=("#FFFFFF",))), source_only=True)
MASKS = {
    "clip": {"clip": "disc"},
    "layer": {"mask": "disc", "mask_by": "opacity"},
    "ramp": {"masked": "straight ramp", "mask_angle": 0.0},
    "painted": {"masked": "painted", "mask_strokes": "hides 60 20 100: -40,0 10,0"},
}


def masked(kind, group=None, **end):
    layer = chain("Box", Rectangle(width=120.0, height=120.0), INK)
    layer = edited(layer, end=LayerEnd(id="box-end", **MASKS[kind], **end))
    node = layer if group is None else Group(id="g", handle="g", name="G", layers=(layer, DISC), end=LayerEnd(id="g-end", **group))
    return Design(sheet=SHEET, layers=(node,) if group is not None else (node, DISC))


def dark(design):
    return 255 - ours(scene_of(design), 200)[..., 0]


def moved_by(pixels, x, y):
    out = np.zeros_like(pixels)
    out[max(y, 0) :, max(x, 0) :] = pixels[: len(pixels) - y, : len(pixels) - x]
    return out


@pytest.mark.parametrize("kind", MASKS)
def test_they_go_along_where_they_are_told_to_and_stay_where_not(kind):
    still = dark(masked(kind))
    along = dark(masked(kind, place_x=30.0, place_y=20.0, mask_moves="move with the layer"))
    assert np.abs(along - moved_by(still, 30, 20)).mean() < 0.1
    stays = dark(masked(kind, place_x=30.0))
    assert np.abs(stays - moved_by(still, 30, 0)).mean() > 1.0


@pytest.mark.parametrize("kind", MASKS)
def test_with_a_group_they_always_go_along(kind):
    still = dark(masked(kind))
    group = dark(masked(kind, group={"place_x": 30.0, "place_y": 20.0}))
    assert np.abs(group - moved_by(still, 30, 20)).mean() < 0.1
    turned = dark(masked(kind, group={"place_turn": 90.0}))
    assert np.abs(turned - np.rot90(still, -1)).mean() < 0.5
    both = dark(masked(kind, group={"place_turn": 90.0}, place_x=20.0, mask_moves="move with the layer"))
    assert np.abs(both - moved_by(np.rot90(still, -1), 0, 20)).mean() < 0.5


@pytest.mark.parametrize("by", FOREIGN)
@pytest.mark.parametrize("kind", MASKS)
def test_other_readers_see_the_same(kind, by):
    design = masked(kind, group={"place_turn": 30.0}, place_size=70.0, mask_moves="move with the layer")
    scene = scene_of(design)
    assert np.abs(ours(scene, 300) - FOREIGN[by](scene, SHEET, 300)).mean() < 1.0


def test_strokes_are_kept_as_they_lie_before_the_layer_is_moved():
    end = LayerEnd(masked="painted", place_x=50.0, mask_moves="move with the layer", brush=10.0)
    assert "0,0 10,0" in end.drawn(np.array([(50.0, 0.0), (60.0, 0.0)]))["mask_strokes"]
    assert "50,0 60,0" in LayerEnd(masked="painted", place_x=50.0).drawn(np.array([(50.0, 0.0), (60.0, 0.0)]))["mask_strokes"]
