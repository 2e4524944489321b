"""Warp: places in closed form, outlines as curves within the error, tiles still fit, readings of rules above go on."""

import numpy as np
import pytest
import shapely

from tests.chains import evaluated, last_stage, tiles
from under_lattice.core.outline import flatten
from under_lattice.rules.bow import Bow
from under_lattice.rules.ellipse import Ellipse
from under_lattice.rules.ink import Ink
from under_lattice.rules.lattice import Lattice
from under_lattice.rules.line import Line
from under_lattice.rules.polygon import Polygon
from under_lattice.rules.rosette import Rosette
from under_lattice.rules.split import Split
from under_lattice.rules.warp import Warp
from under_lattice.work.evaluate import Evaluator

GRID = Lattice(form="squares", extent="by number", columns=7, rows=6)
SQUARE = Polygon(sides=4, measure="side", size=20.0, stands="on a flat")
FORMS = [
    Warp(form="twist", angle=90.0, reach=100.0),
    Warp(form="bulge", amount=60.0, reach=80.0),
    Warp(form="wave", height=6.0, wavelength=70.0, direction=20.0),
    Warp(form="taper", amount=-60.0, reach=120.0),
    Warp(form="round", reach=600.0),
]


def outlines(result, steps=16):
    marks = Evaluator().marks(result.last.stage, result.known)
    return [
        flatten(marks.families[f].verbs, marks.families[f].points[v : v + 1], steps)[0][0] @ x[:, :2].T + x[:, 2]
        for f, v, x in zip(marks.family, marks.variant, marks.xform, strict=True)
    ]


@pytest.mark.parametrize(
    ("warp", "at", "want"),
    [
        (Warp(form="twist", angle=90.0, reach=100.0), (0.0, 50.0), None),
        (Warp(form="bulge", amount=50.0, reach=100.0), (50.0, 0.0), (60.0, 0.0)),
        (Warp(form="wave", height=8.0, wavelength=80.0), (20.0, 5.0), (20.0, -3.0)),
        (Warp(form="taper", amount=-50.0, reach=100.0), (40.0, 100.0), (20.0, 100.0)),
        (Warp(form="round", reach=400.0), (100.0, 0.0), (400 / (2 * np.pi), 0.0)),
        (Warp(form="twist", angle=77.0, reach=100.0), (80.0, 70.0), (80.0, 70.0)),
    ],
)
def test_where_a_place_goes(warp, at, want):
    found = warp.mapping()(np.array(at))
    if want is None:  # turned by 90 x (1 - 1/4)^2 degrees
        angle = np.radians(90 * 0.75**2)
        want = (-50 * np.sin(angle), 50 * np.cos(angle))
    assert found == pytest.approx(want)


@pytest.mark.parametrize("warp", FORMS, ids=lambda warp: warp.form)
def test_warped_outlines_are_the_outline_warped(warp):
    result = evaluated(Ellipse(width=18.0), GRID, warp)
    plain = outlines(evaluated(Ellipse(width=18.0), GRID), 64)
    for curve, before in zip(outlines(result, 32), plain, strict=True):
        exact = shapely.LinearRing(warp.mapping()(before))
        assert shapely.distance(exact, shapely.points(curve)).max() < 0.08


@pytest.mark.parametrize("warp", FORMS, ids=lambda warp: warp.form)
def test_tiles_that_touch_still_do(warp):
    result = evaluated(SQUARE, GRID, warp)
    assert not result.problems
    shapes, _ = tiles(result, 24)
    assert all(shape.is_valid for shape in shapes)
    union = shapely.union_all([shape.buffer(1e-3) for shape in shapes])
    assert len(shapely.get_parts(union)) == 1
    assert not [ring for ring in shapely.get_parts(union)[0].interiors if shapely.Polygon(ring).area > 0.05]
    overlap = sum(shape.area for shape in shapes) - shapely.union_all(shapely.set_precision(shapes, 1e-6)).area
    assert abs(overlap) < 1e-4 * sum(shape.area for shape in shapes)


def test_no_bulge_folds_the_place():
    away = np.stack([np.linspace(0, 200, 2001), np.zeros(2001)], -1)
    for amount in (-95.0, -40.0, 90.0, 1000.0):
        assert (np.diff(Warp(form="bulge", amount=amount, reach=130.0).mapping()(away)[:, 0]) > 0).all()


def test_a_line_bends_round_into_a_ring():
    result = evaluated(Line(length=200.0, thickness=0.0), Warp(form="round", reach=200.0))
    (curve,) = outlines(result, 32)
    assert np.hypot(*curve.T) == pytest.approx(200 / (2 * np.pi), abs=0.05)
    assert curve[0] == pytest.approx(curve[-1], abs=1e-6)


def test_rules_above_are_still_read_and_rules_below_repeat_it():
    ink = Ink(colours="column", palette=("#000000", "#FFFFFF"), of="floor-lattice")
    result = evaluated(SQUARE, GRID, FORMS[0], ink, Rosette(count=3, radius=300.0))
    assert result.last.stage.n == 126
    (coat,) = Evaluator().picture(result).coats
    assert set(coat.fill[:, 0].tolist()) == {0, 255}
    parts = last_stage(Polygon(size=20.0), Split(into="rhombs"), Lattice(form="hexagons on points", extent="by number"), FORMS[1])
    assert parts.shape.faces == 3


def test_nothing_is_done_with_numbers_at_rest():
    plain = evaluated(SQUARE, GRID)
    still = evaluated(SQUARE, GRID, Warp(form="wave", height=0.0))
    for one, other in zip(outlines(plain, 4), outlines(still, 4), strict=True):
        assert shapely.Polygon(one).symmetric_difference(shapely.Polygon(other)).area < 1e-6


def test_rules_on_shapes_below_a_warp_say_that_its_sides_are_bent():
    assert "needs straight sides" in evaluated(SQUARE, GRID, FORMS[0], Bow()).problems[0].sentence
