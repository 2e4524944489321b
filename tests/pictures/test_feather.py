"""Masks that go over evenly: by the formula, at any size, in other readers."""

import numpy as np
import pytest
from scipy.special import erf

from tests.pictures.compare import FOREIGN, ours, scene_of
from under_lattice.declare.frozen import edited
from under_lattice.library.layers import chain
from under_lattice.rules import Ellipse, Ink, Lattice, LayerEnd, Polygon, Rectangle
from under_lattice.vary.numbers import Varied
from under_lattice.work.layers import Group
from under_lattice.work.model import Design, Sheet

SHEET = Sheet(width=200.0, height=200.0, background="#FFFFFF")
BLACK = Ink(colours="one colour", palette=("#000000",))
EDGE = edited(chain("Edge", Rectangle(width=100.0, height=400.0, place_x=-50.0), BLACK), source_only=True)  # up to the middle


def design(edge=EDGE, group=False, motif=None, **end):
    own = LayerEnd(id="soft-end", **{"mask": edge.id, "mask_by": "opacity", "feather": 20.0} | end)
    layer = chain("Soft", motif or Rectangle(width=400.0, height=400.0), BLACK)
    node = Group(id="soft-group", handle="g", name="G", layers=(layer,), end=own) if group else edited(layer, end=own)
    return Design(sheet=SHEET, layers=(node, edge))


def shares(work, width=200):
    return 1 - ours(scene_of(work), width)[width // 2, :, 0] / 255


@pytest.mark.parametrize("group", [False, True])
def test_an_edge_goes_over_as_a_gaussian_of_half_the_feather_does(group):
    at = np.arange(200) + 0.5 - 100
    wanted = (1 - erf(at / (10.0 * np.sqrt(2)))) / 2
    found = shares(design(group=group))
    assert np.abs(found - wanted)[40:160].max() < 0.012
    turned = shares(design(group=group, mask_way="inverted"))
    assert turned[40:160] == pytest.approx(1 - found[40:160], abs=0.01)


def test_it_is_of_the_work_and_so_the_same_at_any_size():
    small, large = shares(design()), shares(design(), 800)
    assert large.reshape(200, 4).mean(1) == pytest.approx(small, abs=0.01)


def test_none_is_an_edge_and_switched_off_is_none():
    sharp = shares(design(feather=0.0))
    assert set(np.round(sharp, 2)) <= {0.0, 1.0}
    assert (shares(design(mask_on="off")) == 1.0).all()


def test_it_may_vary_over_the_loop():
    growing = Varied(rule="", channel="loop", start=0.0, end=40.0)
    assert set(np.round(shares(design(feather=growing)), 2)) <= {0.0, 1.0}  # at the beginning of the loop


KINDS = {
    "opacity": {},
    "lightness": {"mask_by": "lightness"},
    "inverted": {"mask_way": "inverted"},
    "ramp": {"masked": "round ramp", "mask_reach": 30.0, "mask_ramp": "0 #FFFFFF; 50 #FFFFFF; 50 #000000; 100 #000000"},
    "painted": {"masked": "painted", "mask_strokes": "hides 60 0 100: -40,0 40,20"},
    "wide": {"feather": 30.0},
    "fine": {"feather": 1.0},
}


@pytest.mark.parametrize("by", FOREIGN)
@pytest.mark.parametrize("kind", KINDS)
def test_other_readers_see_the_same(kind, by):
    grey = Ink(colours="parity", palette=("#FFFFFF", "#909090"))
    grid = Lattice(form="squares", spacing="free", pitch=60.0, row_pitch=60.0)
    edge = edited(chain("Edge", Ellipse(width=46.0), grey, grid), source_only=True)
    scene = scene_of(design(edge, motif=Polygon(sides=7, size=150.0), **KINDS[kind]))
    assert np.abs(ours(scene, 300) - FOREIGN[by](scene, SHEET, 300)).mean() < 1.0
