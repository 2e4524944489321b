"""Symmetry groups: their orders, and that the pattern is unchanged by each generator."""

from typing import get_args

import numpy as np
import pytest

from tests.chains import last_stage
from under_lattice.geometry.affine import compose, inverse, mirrors, moves, turns
from under_lattice.geometry.groups import Frieze, Plane, cell_of, maps_of, mirror_lines
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.repeats.symmetry import Symmetry

ORDERS = dict(zip(get_args(Plane), (1, 2, 2, 2, 4, 4, 4, 4, 8, 4, 8, 8, 3, 6, 6, 6, 12), strict=True))
FRIEZES = dict(zip(get_args(Frieze), (1, 2, 2, 2, 4, 2, 4), strict=True))
MOTIF = Polygon(sides=3, size=6.0)


def rows(maps):
    return {tuple(row) for row in np.round(maps.reshape(-1, 6), 6) + 0.0}


def middle(stage, reach):
    near = np.abs(stage.xform[:, :, 2]).max(1) < reach
    return stage.xform[near]


@pytest.mark.parametrize("group", ORDERS)
def test_order_and_isometries(group):
    maps = maps_of(group, cell_of(group, 50.0, 70.0, 75.0))
    assert len(maps) == ORDERS[group]
    assert len(rows(maps)) == len(maps)
    gram = np.einsum("kji,kjl->kil", maps[:, :, :2], maps[:, :, :2])
    assert gram == pytest.approx(np.broadcast_to(np.eye(2), gram.shape), abs=1e-9)  # lengths are kept


@pytest.mark.parametrize("group", ORDERS)
def test_the_pattern_is_unchanged_by_each_generator(group):
    rule = Symmetry(group=group, width=50.0, height=70.0, lean=75.0, x=9.0, y=4.0, motif_turn=20.0)
    stage = last_stage(MOTIF, rule)
    all_of_them = rows(stage.xform)
    cell = rule.cell()
    for generator in (*rule.maps(), moves(cell[:, 0]), moves(cell[:, 1])):
        assert rows(compose(generator[None], middle(stage, 60.0))) <= all_of_them


@pytest.mark.parametrize("group", FRIEZES)
def test_strips(group):
    rule = Symmetry(over="a strip", strip=group, width=40.0, x=7.0, y=5.0, motif_turn=20.0)
    stage = last_stage(MOTIF, rule)
    assert len(rule.maps()) == FRIEZES[group]
    assert np.abs(stage.xform[:, 1, 2]).max() < 10
    for generator in (*rule.maps(), moves(np.array([40.0, 0.0]))):
        assert rows(compose(generator[None], middle(stage, 60.0))) <= rows(stage.xform)


@pytest.mark.parametrize(("mirrored", "order"), [("turned only", 5), ("mirrored too", 10)])
def test_about_a_point(mirrored, order):
    stage = last_stage(MOTIF, Symmetry(over="a point", count=5, mirrored=mirrored, x=9.0, y=-20.0, motif_turn=20.0))
    assert stage.n == order
    assert rows(compose(turns(72.0)[None], stage.xform)) == rows(stage.xform)
    if mirrored == "mirrored too":
        assert rows(compose(mirrors(90.0)[None], stage.xform)) == rows(stage.xform)


def test_the_cell_turns_about_its_pivot_and_the_motif_keeps_its_place_in_it():
    plain, turned = (last_stage(MOTIF, Symmetry(group="p2", turn=angle)) for angle in (0.0, 30.0))
    first, other = (stage.xform[stage.origin] for stage in (plain, turned))
    assert compose(turns(30.0), first) == pytest.approx(other, abs=1e-9)


def test_mirrors_and_glides_are_found():
    lines = mirror_lines(maps_of("pg", cell_of("pg", 50.0, 70.0, 90.0)))
    assert [glide for _, _, glide in lines] == [True]
    assert len(mirror_lines(maps_of("p6m", cell_of("p6m", 50.0, 0.0, 0.0)))) == 6
    point, way, _ = mirror_lines(mirrors(30.0, (5.0, 0.0))[None])[0]
    assert compose(mirrors(30.0, (5.0, 0.0)), inverse(mirrors(30.0, point))) == pytest.approx(np.eye(2, 3), abs=1e-9)
    assert abs(way @ (np.cos(np.radians(30)), np.sin(np.radians(30)))) == pytest.approx(1.0)
