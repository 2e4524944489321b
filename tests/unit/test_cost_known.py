"""What would take too much is refused before memory is taken, with the number that would fit; what is too fine is drawn coarser."""

import numpy as np
import pytest
import shapely

from tests.chains import evaluated, work_of
from under_lattice.core.errors import LimitError
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.measure.facts import measure
from under_lattice.pattern.drawn import Drawn
from under_lattice.pattern.stage import SHAPES_MOST
from under_lattice.render import flatten
from under_lattice.render.flatten import DENSE, FLAT, flat_shapes
from under_lattice.rules import Adjust, Ellipse, LeaveOut, Polygon, Spiral, Split, Warp, WaveEdges
from under_lattice.rules.repeats.lattice import Lattice


def squares(side, pitch=1.0):
    return Lattice(form="squares", spacing="free", pitch=pitch, row_pitch=pitch, extent="by number", columns=side, rows=side)


@pytest.mark.parametrize("side", [60, 100, 300])
def test_parts_of_all_copies_are_counted_before_they_are_drawn(side):
    split = Split(into="cells", columns=60, rows=60)
    result = evaluated(Polygon(sides=4, size=10.0), split, squares(side))
    parts = result.steps[1].stage.shape.faces
    if side * side * parts <= SHAPES_MOST:
        assert not result.problems
        return
    assert f"{SHAPES_MOST // parts:,} such copies fit" in result.problems[0].sentence
    assert f"{side * side * parts:,} shapes" in result.problems[0].sentence


def test_as_many_copies_as_are_said_to_fit_do():
    split = Split(into="cells", columns=60, rows=60)
    parts = evaluated(Polygon(sides=4, size=10.0), split).last.stage.shape.faces
    side = int((SHAPES_MOST // parts) ** 0.5)
    assert not evaluated(Polygon(sides=4, size=10.0), split, squares(side)).problems
    assert evaluated(Polygon(sides=4, size=10.0), split, squares(side + 1)).problems


@pytest.mark.parametrize("wavelength", [0.01, 0.1])
def test_bends_finer_than_can_be_held_are_refused_at_once(wavelength):
    result = evaluated(Polygon(sides=4, size=1.0), squares(300), Warp(form="wave", wavelength=wavelength, height=0.2))
    assert "at most 4,000,000 are allowed" in result.problems[0].sentence
    assert result.last.stage.n == 90_000


def distance_to(points, line):
    """How far points (P, 2), as many as are looked at, are from a line (L, 2) of straight pieces at most."""
    some = points[:: max(1, len(points) // 80)]
    return float(shapely.distance(shapely.points(some), shapely.linestrings(line)).max())


@pytest.mark.parametrize(("size", "height"), [(0.3, 0.001), (2.0, 0.4), (17.0, 0.4)])
def test_dense_outlines_keep_within_a_tenth_of_a_pixel(size, height):
    result = evaluated(Polygon(sides=100, size=10.0), WaveEdges(waves=40, height=height))
    marks = Evaluator().marks(result.last.stage, result.known)
    (points,) = [family.points[0] for family in marks.families]
    assert len(points) > DENSE
    shapes, _ = flat_shapes(marks, np.full(marks.count, size))
    fine, _ = flat_shapes(marks, np.full(marks.count, 1e4))
    assert distance_to(fine.points, np.concatenate([shapes.points, shapes.points[:1]])) * size < 2 * FLAT
    assert len(shapes.points) < len(fine.points)
    if height < 0.01 and size < 1:
        assert len(shapes.points) < 400 < len(points) / 100


def test_outlines_of_too_many_points_together_are_drawn_coarser_and_that_is_said(monkeypatch):
    monkeypatch.setattr(flatten, "POINTS_MOST", 50_000)
    result = evaluated(Polygon(sides=100, size=10.0), WaveEdges(waves=60, height=2.0), squares(8, 12.0))
    marks = Evaluator().marks(result.last.stage, result.known)
    shapes, row = flat_shapes(marks, np.full(marks.count, 9.0))
    assert shapes.stride > 1
    assert shapes.stride % 2 == 1
    assert np.diff(shapes.contours[shapes.contour_of])[row].sum() < 2 * 50_000
    plain = evaluated(Polygon(sides=6, size=1.0), squares(200))
    marks = Evaluator().marks(plain.last.stage, plain.known)
    assert flat_shapes(marks, np.full(marks.count, 9.0))[0].stride == 1  # nothing to leave out


@pytest.mark.parametrize("turns", [60, 300])
def test_an_open_line_that_is_drawn_coarser_keeps_its_ends(monkeypatch, turns):
    spiral = evaluated(Spiral(turns=turns, width=50.0), squares(6, 60.0))
    marks = Evaluator().marks(spiral.last.stage, spiral.known)
    fine, _ = flat_shapes(marks, np.full(marks.count, 400.0))
    monkeypatch.setattr(flatten, "POINTS_MOST", 5_000)
    coarse, _ = flat_shapes(marks, np.full(marks.count, 400.0))
    assert coarse.stride > 1
    assert len(coarse.points) < len(fine.points) / 2
    assert coarse.points[[0, -1]] == pytest.approx(fine.points[[0, -1]])


def test_more_points_than_can_be_held_are_refused_before_they_are_placed(monkeypatch):
    monkeypatch.setattr(flatten, "POINTS_MOST", 1_000)
    monkeypatch.setattr(flatten, "HELD_MOST", 100_000)
    for side, fits in ((20, True), (200, False)):
        result = evaluated(Polygon(sides=6, size=1.0), squares(side))
        marks = Evaluator().marks(result.last.stage, result.known)
        if fits:
            assert flat_shapes(marks, np.full(marks.count, 9.0))[0].stride == 1
        else:
            with pytest.raises(LimitError, match="240,000 points in all; at most 100,000"):
                flat_shapes(marks, np.full(marks.count, 9.0))


def test_the_box_of_dense_outlines_is_that_of_all_their_points():
    for turn in (0.0, 17.0):
        result = evaluated(Polygon(sides=100, size=10.0), WaveEdges(waves=12, height=1.5), squares(3, 20.0), Adjust(turn=turn))
        drawn = Drawn(Evaluator().marks(result.last.stage, result.known))
        assert drawn.points > 2_000
        every = np.concatenate([x[:, :2] @ drawn.ring(0).T + x[:, 2:] for x in drawn.xform], 1)
        assert drawn.box == pytest.approx([*every.min(1), *every.max(1)], abs=1e-6)


def test_gaps_between_outlines_too_fine_are_said_not_to_be_measured():
    work = work_of(Polygon(sides=120, size=10.0), WaveEdges(waves=60), squares(4, 20.0))
    evaluator = Evaluator()
    (result,) = evaluator.design(work.design).values()
    facts = measure(result, evaluator, work.design.sheet)
    assert facts.gap_words == "too fine to measure gaps"
    assert facts.copies == 16
    assert facts.bounds is not None


def test_a_chain_of_many_rules_costs_in_proportion():
    """Where the sheet is, through all that stands below, is worked out for the rules that read it alone."""
    asked = []

    class Counting(Adjust):
        def seen_through(self, above, ground):
            asked.append(1)
            return super().seen_through(above, ground)

    rules = tuple(Counting(turn=0.5) for _ in range(120))
    evaluated(Ellipse(width=4.0), squares(5), *rules)
    assert len(asked) <= 120
    asked.clear()
    evaluated(Ellipse(width=4.0), squares(5), LeaveOut(which="beside the sheet"), *rules)
    assert len(asked) <= 240
