"""Warp: places in closed form, outlines as curves within the error, tiles still fit, readings of rules above go on."""

import numpy as np
import pytest
import shapely

from tests.chains import SHEET, evaluated, last_stage, tiles
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.geometry.outline import areas, flatten
from under_lattice.library.layers import chain
from under_lattice.pattern.marks import draw
from under_lattice.rules.copies.warp import Warp
from under_lattice.rules.ground import PLAIN
from under_lattice.rules.handles import Drag
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.line import Line
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.motifs.rectangle import Rectangle
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.rosette import Rosette
from under_lattice.rules.shapes.bow import Bow
from under_lattice.rules.shapes.split import Split
from under_lattice.rules.shared.anchor import Anchor
from under_lattice.vary.numbers import Varied
from under_lattice.work.model import Design

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
    found = warp.mapping()(np.array([[at]]))[0, 0]
    if want is None:  # turned by 90 x (1 - 1/4)^2 degrees
        angle = np.radians(90 * 0.75**2)
        want = (-50 * np.sin(angle), 50 * np.cos(angle))
    assert found == pytest.approx(want)


@pytest.mark.parametrize("warp", FORMS, ids=lambda warp: warp.form)
def test_warped_outlines_are_the_outline_warped(warp):
    result = evaluated(Ellipse(width=18.0), GRID, warp)
    plain = outlines(evaluated(Ellipse(width=18.0), GRID), 64)
    for curve, before in zip(outlines(result, 32), plain, strict=True):
        exact = shapely.LinearRing(warp.mapping()(before[None])[0])
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
        assert (np.diff(Warp(form="bulge", amount=amount, reach=130.0).mapping()(away[None])[0, :, 0]) > 0).all()


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


def test_numbers_of_a_warp_vary_over_the_copies():
    turn = Varied(rule="floor-lattice", channel="column", start=0.0, end=90.0)
    rules = Polygon(sides=4, size=20.0), Lattice(form="squares", extent="by number", columns=3, rows=1, spacing="free", pitch=40.0)
    still, bent = last_stage(*rules), last_stage(*rules, Warp(form="twist", angle=turn, reach=1e6))
    away = bent.xform[:, :, 2]
    angle = np.degrees(np.arctan2(away[:, 1], away[:, 0])) - np.degrees(np.arctan2(*still.xform[:, ::-1, 2].T))
    assert away[0] == pytest.approx(still.xform[0, :, 2], abs=1e-3)
    assert angle[2] == pytest.approx(90.0, abs=1e-2)


def test_along_a_line_lengths_stay_true_or_are_spread_over_it():
    bar = Rectangle(width=100.0, height=10.0)
    line = Warp(form="along a line", points="0, 0; 0, 60")  # straight down
    (true,) = draw(last_stage(bar, line)).families
    assert np.ptp(true.points[0], 0) == pytest.approx((10.0, 100.0), abs=1e-3)
    (spread,) = draw(last_stage(bar, edited(line, spread="over the whole line"))).families
    assert np.ptp(spread.points[0], 0) == pytest.approx((10.0, 60.0), abs=1e-3)


def test_along_a_circle_a_bar_becomes_a_ring_of_the_same_middle_length():
    guide = chain("Guide", Ellipse(width=100.0))
    floor = chain("Floor", Rectangle(width=50.0, height=10.0), Warp(form="along a line", line="another layer", layer=guide.id))
    results = Evaluator().design(Design(sheet=SHEET, layers=(floor, guide)))
    assert not results[floor.id].problems
    marks = draw(results[floor.id].last.stage)
    area = abs(areas(marks.families[0].verbs, marks.families[0].points)[0])
    assert area == pytest.approx(500.0, rel=2e-3)  # half outside, half inside: the ring keeps the area
    assert "choose a layer" in evaluated(Line(), Warp(form="along a line", line="another layer")).problems[0].sentence


def test_a_point_of_the_line_is_moved_on_the_sheet():
    rule = Warp(form="along a line", points="-50, 0; 50, 0")
    above, stage = last_stage(Rectangle()), last_stage(Rectangle(), rule)
    assert [one.name for one in rule.handles(above, stage, PLAIN, "mm").handles] == ["point 1", "point 2"]
    assert rule.dragged(Drag("point 2", np.array([60.0, 20.0]), 0.0), above, stage, PLAIN) == {"points": "-50, 0; 60, 20"}


BAR = Rectangle(width=300.0, height=30.0)


@pytest.mark.parametrize("phase", [0.0, 30.0, 90.0, 180.0])
@pytest.mark.parametrize("wavelength", [300.0, 150.0, 75.0, 7.5, 1.3])
def test_long_straight_edges_follow_every_wave(phase, wavelength):
    """Also where an edge lies evenly about the pivot, so that what is off cancels out in its middle."""
    result = evaluated(BAR, Warp(form="wave", height=10.0, wavelength=wavelength, phase=phase))
    (curve,) = outlines(result, 48)
    top = curve[np.argmin(np.abs(curve[:, 0] + 150)) :]
    upper = curve[(curve[:, 1] < 0) & (np.abs(curve[:, 0]) < 149.9)]
    want = -15 - 10 * np.sin(2 * np.pi * upper[:, 0] / wavelength + np.radians(phase))
    assert len(top)
    assert np.abs(upper[:, 1] - want).max() < 0.1
    crossings = np.flatnonzero(np.diff(np.sign(upper[:, 1] + 15)))
    assert len(crossings) == pytest.approx(600 / wavelength, abs=2)


@pytest.mark.parametrize("form", ["twist", "bulge"])
def test_a_long_line_is_bent_where_it_passes_a_small_reach(form):
    line = Line(length=300.0, thickness=0.0)
    warp = Warp(form=form, reach=9.0, angle=160.0, amount=300.0, pivot=Anchor(spot="sheet centre", dx=41.0, dy=3.0))
    (curve,) = outlines(evaluated(line, warp), 64)
    moved = curve[np.abs(curve[:, 0] - 41.0) < 9.0]
    before = np.stack([np.linspace(-150, 150, 30_001), np.zeros(30_001)], 1)
    exact = shapely.LineString(warp.mapping()((before - (41.0, 3.0))[None])[0] + (41.0, 3.0))
    assert shapely.distance(exact, shapely.points(moved)).max() < 0.1
    assert np.abs(curve[:, 1]).max() == pytest.approx(np.abs(shapely.get_coordinates(exact)[:, 1]).max(), abs=0.1)
