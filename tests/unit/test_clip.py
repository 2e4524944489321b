"""Motifs clipped to their region of a symmetry group: regions fill the cell, pieces never overlap, shapes are shared."""

from typing import get_args

import numpy as np
import pytest
import shapely

from tests.chains import evaluated, last_stage
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.geometry.affine import apply
from under_lattice.geometry.groups import Plane
from under_lattice.geometry.outline import areas, contours, flatten
from under_lattice.pattern.clipping import area_of, nearest_region
from under_lattice.pattern.known import NOTHING_KNOWN
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.rosette import Rosette
from under_lattice.rules.repeats.symmetry import Symmetry
from under_lattice.rules.shapes.split import Split
from under_lattice.rules.shared.anchor import Anchor

BOX = np.array([(-500.0, -500.0), (500.0, -500.0), (500.0, 500.0), (-500.0, 500.0)])
SHEET_WIDE = Polygon(sides=4, measure="side", size=400.0, stands="on a flat")


def clipped(group, motif=SHEET_WIDE, **more):
    settings = {"width": 80.0, "height": 60.0, "x": 13.0, "y": 7.0, "pivot": Anchor(spot="sheet centre")} | more
    return Symmetry(group=group, shows="clipped to its region", **settings), motif


@pytest.mark.parametrize("group", get_args(Plane))
def test_a_motif_larger_than_its_region_fills_the_plane_without_overlap(group):
    rule, motif = clipped(group)
    marks = Evaluator().marks(last_stage(motif, rule), NOTHING_KNOWN)
    (family,) = marks.families
    assert len(family.points) == 1  # one shape for all copies
    cell = abs(float(np.linalg.det(rule.cell())))
    (area,) = np.abs(areas(family.verbs, family.points))
    assert area == pytest.approx(cell / len(rule.maps()), rel=1e-9)
    near = np.argsort(np.hypot(*marks.xform[:, :, 2].T))[:60]
    ring = flatten(family.verbs, family.points, 1)[0][0]
    areas_there = [shapely.Polygon(apply(marks.xform[k], ring)) for k in near]
    pieces = shapely.set_precision(shapely.make_valid(areas_there), 1e-7)
    assert shapely.union_all(pieces).area == pytest.approx(shapely.area(pieces).sum(), rel=1e-7)


def test_the_nearest_region_of_a_square_grid_is_a_square():
    grid = np.stack(np.meshgrid(np.arange(-3, 4), np.arange(-3, 4)), -1).reshape(-1, 2) * 10.0
    region = nearest_region(np.zeros(2), grid[np.abs(grid).max(1) > 0], BOX)
    assert shapely.Polygon(region).area == pytest.approx(100.0)
    assert np.abs(region).max() == pytest.approx(5.0)


def test_a_motif_on_a_mirror_is_told_to_move():
    rule, motif = clipped("p4m", x=20.0, y=0.0)
    result = evaluated(motif, rule)
    assert "stands on a mirror or an axis" in result.problems[0].sentence


def test_about_a_point_the_region_is_a_sector():
    rule, _ = clipped("p1", over="a point", count=6, mirrored="turned only", x=0.0, y=-40.0)
    marks = Evaluator().marks(last_stage(Ellipse(width=60.0), rule), NOTHING_KNOWN)
    (area,) = np.abs(areas(marks.families[0].verbs, marks.families[0].points))
    away = 40.0 * np.sin(np.radians(30.0))  # of the middle from the sides of its sector
    cap = 30.0**2 * np.arccos(away / 30.0) - away * np.sqrt(30.0**2 - away**2)
    assert area == pytest.approx(np.pi * 900 - 2 * cap, rel=1e-3)


def test_faces_and_groups_are_clipped_and_inked_as_ever():
    rule, _ = clipped("p6m", width=90.0)
    result = evaluated(Polygon(sides=6, size=26.0), Split(into="rhombs"), Rosette(count=4, radius=14.0), Ink(colours="part"), rule)
    assert not result.problems
    picture = Evaluator().picture(result)
    assert len(picture.marks.families) == 3
    for family in picture.marks.families:
        assert all(len(points) for _, points in ((v, family.points[:, where]) for v, where in contours(family.verbs)))
    whole = evaluated(Polygon(sides=6, size=26.0), Rosette(count=4, radius=14.0), rule.model_copy(update={"shows": "overlapping"}))
    assert result.last.stage.n == whole.last.stage.n


def visible(stage):
    """What of each copy can be seen, the later ones lying over the earlier."""
    marks = Evaluator().marks(stage, NOTHING_KNOWN)
    shapes = []
    for family, variant, xform in zip(marks.family, marks.variant, marks.xform, strict=True):
        own, _ = area_of(marks.families[family], int(variant))
        shapes.append(shapely.transform(own, lambda points, at=xform: apply(at, points)))
    return [shape.difference(shapely.union_all(shapes[k + 1 :])) for k, shape in enumerate(shapes)]


@pytest.mark.parametrize("radius", [18.0, 14.0, 12.0])
def test_in_a_ring_laid_round_and_round_every_copy_shows_alike(radius):
    ring = Rosette(count=9, radius=radius, stacking="round and round", pivot=Anchor(spot="sheet centre"))
    stage = last_stage(Ellipse(width=16.0, roundness=130.0), ring)
    seen = [shape.area for shape in visible(stage)]
    assert np.allclose(seen, seen[0], rtol=1e-3)
    plain = visible(last_stage(Ellipse(width=16.0, roundness=130.0), ring.model_copy(update={"stacking": "last on top"})))
    assert plain[-1].area > plain[0].area * 1.05
    whole = shapely.union_all(visible(stage)).area
    assert whole == pytest.approx(shapely.union_all(plain).area, rel=1e-6)


def test_groups_lie_round_and_round_too_and_an_arc_cannot():
    petals = (Ellipse(width=5.0), Rosette(count=3, radius=3.0), Rosette(count=8, radius=12.0, stacking="round and round"))
    stage = last_stage(*petals)
    assert stage.n == 24
    assert len({one is None for one in stage.shape.regions}) == 2
    with pytest.raises(AssertionError, match="full turn"):
        last_stage(Ellipse(width=5.0), Rosette(count=8, arc=200.0, stacking="round and round"))
