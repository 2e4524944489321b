"""Drawn lines and points of outlines worked on by hand."""

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from tests.chains import last_stage, work_of
from under_lattice.core.errors import InputError
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.geometry.fitting import fitted
from under_lattice.geometry.outline import CURVE, areas, flatten
from under_lattice.geometry.path_points import contours_of, part_of
from under_lattice.geometry.path_text import parts_of_text
from under_lattice.rules.handles import Drag
from under_lattice.rules.motifs.drawn_curve import DrawnCurve
from under_lattice.rules.motifs.outline_motif import Outline
from under_lattice.work.sheets import set_unit


def far_from(verbs, points, line):
    """The greatest distance of the points of a line from a curve."""
    curve = shapely.LineString(flatten(verbs, points[None], 64)[0][0])
    return float(shapely.distance(shapely.points(line), curve).max())


@given(st.floats(0.05, 2.0), st.floats(5, 60), st.integers(2, 5), st.integers(0, 999))
def test_a_fitted_line_keeps_within_its_tolerance(tolerance, size, waves, seed):
    t = np.linspace(0, 1, 160)
    line = np.stack([size * 3 * t, size * np.sin(waves * np.pi * t)], -1)
    line = line + np.random.default_rng(seed).uniform(-tolerance / 4, tolerance / 4, line.shape)
    verbs, points = fitted(line, tolerance)
    assert far_from(verbs, points, line) <= tolerance * 1.05 + 1e-6
    assert np.allclose(points[[0, -1]], line[[0, -1]])


def test_a_coarser_tolerance_takes_fewer_curves_and_corners_stay():
    t = np.linspace(0, 2 * np.pi, 300, endpoint=False)
    ring = 40 * np.stack([np.cos(t), np.sin(t)], -1)
    fine, coarse = (fitted(ring, tolerance, True) for tolerance in (0.01, 1.0))
    assert fine[0].count(CURVE) > coarse[0].count(CURVE)
    assert areas(fine[0], fine[1][None])[0] == pytest.approx(np.pi * 1600, rel=1e-3)
    sides = [((0, 0), (50, 0)), ((50, 0), (50, 50)), ((50, 50), (0, 50))]
    square = np.concatenate([np.linspace(a, b, 30, endpoint=False) for a, b in sides])
    knots = contours_of(fitted(square, 0.5))[0].knots
    assert min(float(np.hypot(*(knot.at - (50, 0)))) for knot in knots) < 0.5
    with pytest.raises(InputError, match="apart"):
        fitted(np.zeros((5, 2)), 0.5)


@pytest.mark.parametrize(
    "text",
    ["M0 0 L10 0 L5 9 Z", "M0 0 C1 9 9 9 10 0 Z M3 1 L4 1 L4 2 Z", "M0 0 L5 5 C7 7 9 7 12 5", "M0 0 C1 1 2 1 3 0 C2 -1 1 -1 0 0 Z"],
)
def test_contours_of_knots_are_the_same_outline(text):
    (part,) = parts_of_text(text)
    back = part_of(contours_of(part))
    here, there = (flatten(verbs, points[None], 16) for verbs, points in (part, back))
    assert abs(sum(areas(*_one(part)))) == pytest.approx(abs(sum(areas(*_one(back)))))
    assert len(here) == len(there)


def _one(part):
    return part[0], part[1][None]


def shown(rule):
    stage = last_stage(rule)
    return rule, stage, {h.name: h for h in rule.handles(stage, stage, None, "mm").handles}


SQUARE = "M-10 -10 L10 -10 L10 10 L-10 10 Z"


def test_a_point_is_moved_and_the_others_stay_where_they_are():
    rule, stage, handles = shown(Outline(outline=SQUARE, width=40.0, turn=30.0))
    changed = edited(rule, **rule.dragged(Drag("point 0:0:1", np.array([60.0, -40.0]), 0.0), stage, stage, None))
    _, _, after = shown(changed)
    assert np.allclose(after["point 0:0:1"].at, (60.0, -40.0), atol=1e-3)
    for name in ("point 0:0:0", "point 0:0:2", "point 0:0:3"):
        assert np.allclose(after[name].at, handles[name].at, atol=1e-3)


def test_points_are_added_removed_made_smooth_and_straight():
    rule = DrawnCurve(line=SQUARE)
    more = edited(rule, **rule.reworked("add", "", np.array([0.5, -12.0])))
    assert np.allclose(shown(more)[2]["point 0:0:1"].at, (0.5, -10.0), atol=0.2)
    smooth = edited(more, **more.reworked("smooth", "point 0:0:1", np.zeros(2)))
    assert "leaves 0:0:1" in shown(smooth)[2]
    straight = edited(smooth, **smooth.reworked("straight", "point 0:0:1", np.zeros(2)))
    assert "leaves 0:0:1" not in shown(straight)[2]
    fewer = edited(straight, **straight.reworked("remove", "point 0:0:1", np.zeros(2)))
    assert parts_of_text(fewer.line)[0][0] == parts_of_text(SQUARE)[0][0]
    triangle = edited(fewer, **fewer.reworked("remove", "point 0:0:0", np.zeros(2)))
    with pytest.raises(InputError, match="last points"):
        triangle.reworked("remove", "point 0:0:0", np.zeros(2))
    with pytest.raises(InputError, match="pick a point"):
        rule.reworked("smooth", "width", np.zeros(2))


def test_a_handle_of_a_smooth_point_turns_the_one_across():
    rule = DrawnCurve(line="M-20 0 C-10 -10 -5 0 0 0 C5 0 10 10 20 0")
    _, stage, _ = shown(rule)
    bent = edited(rule, **rule.dragged(Drag("leaves 0:0:1", np.array([0.0, 5.0]), 0.0), stage, stage, None))
    assert np.allclose(shown(bent)[2]["arrives 0:0:1"].at, (0.0, -5.0), atol=1e-5)
    free = edited(rule, **rule.dragged(Drag("leaves 0:0:1", np.array([0.0, 5.0]), 0.0, free=True), stage, stage, None))
    assert np.allclose(shown(free)[2]["arrives 0:0:1"].at, (-5.0, 0.0), atol=1e-5)


def test_a_drawn_line_that_comes_back_is_closed_and_keeps_its_size_in_another_unit():
    t = np.linspace(0, 2 * np.pi, 90)
    ring = 30 * np.stack([np.cos(t), np.sin(t)], -1)
    rule = DrawnCurve(tolerance=0.3)
    rule = edited(rule, **rule.drawn(ring))
    design = work_of(rule).design
    size = [Evaluator().design(one)["floor"].last.stage.body_ring for one in (design, set_unit(design, "cm"))]
    assert np.ptp(size[0], 0) == pytest.approx([60, 60], rel=0.02)
    assert np.ptp(size[1], 0) == pytest.approx(np.ptp(size[0], 0) / 10, rel=1e-3)
    assert parts_of_text(rule.line)[0][0][-1] == 3
    line = edited(rule, **rule.drawn(ring[:60]))
    assert parts_of_text(line.line)[0][0][-1] != 3
