"""Dash: a whole number on each line, pieces with their lengths and numbers, corners kept."""

import numpy as np
import pytest

from tests.chains import evaluated, last_stage
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.geometry.outline import CLOSE
from under_lattice.rules.copies.dash import Dash
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.line import Line
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.progression import Progression
from under_lattice.rules.repeats.rosette import Rosette


def pieces(*rules):
    """The dashes as they lie (k, P, 2)."""
    result = evaluated(*rules)
    assert not result.problems, result.problems
    marks = Evaluator().marks(result.last.stage, result.known)
    (family,) = marks.families
    assert CLOSE not in family.verbs
    return np.einsum("nij,nkj->nki", marks.xform[:, :, :2], family.points[marks.variant]) + marks.xform[:, None, :, 2]


def lengths(found):
    return np.hypot(*np.diff(found, axis=1).transpose(2, 0, 1)).sum(1)


def test_a_circle_takes_twelve_dashes_of_a_third_of_their_period():
    found = pieces(Ellipse(width=120.0), Dash(dash=10.0, gap=20.0))
    period = 2 * np.pi * 60 / 13  # 376.99 / 30 is nearest to 13
    assert len(found) == 13
    assert lengths(found) == pytest.approx(period / 3, rel=2e-3)
    exact = pieces(Ellipse(width=120.0), Dash(dash=10.471976, gap=20.943951))
    assert len(exact) == 12
    assert lengths(exact) == pytest.approx(10.471976, rel=2e-3)


def test_an_open_line_begins_and_ends_with_a_dash():
    found = pieces(Line(length=100.0, thickness=0.0), Dash(dash=7.0, gap=3.0))
    assert found[:, :, 0].min() == pytest.approx(-50.0)
    assert found[:, :, 0].max() == pytest.approx(50.0)
    assert len(found) == 10
    assert np.ptp(lengths(found)) < 1e-9


def test_as_typed_the_last_is_cut_off_and_corners_are_kept():
    found = pieces(Line(length=100.0, thickness=0.0), Dash(dash=30.0, gap=10.0, fit="as typed"))
    assert lengths(found) == pytest.approx([30.0, 30.0, 20.0])
    square = Polygon(sides=4, measure="side", size=20.0, stands="on a flat")
    whole = pieces(square, Dash(dash=80.0, gap=0.0))
    assert len(whole) == 1
    assert lengths(whole) == pytest.approx([80.0])
    over = pieces(square, Dash(dash=10.0, gap=10.0, shift=-25.0))
    assert lengths(over) == pytest.approx([10.0] * 4)
    turned = [len(np.unique(np.round(piece, 6), axis=0)) for piece in over]
    assert turned == [3, 3, 3, 3]  # each runs round a corner


def test_dashes_have_numbers_of_their_own_and_go_on():
    ink = Ink(colours="column", palette=("#102030", "#C08040"), of="floor-dash")
    rules = Ellipse(width=40.0), Progression(count=3, distance=60.0), Dash(dash=5.0, gap=3.0)
    result = evaluated(*rules, ink, Rosette(count=2, radius=200.0))
    assert not result.problems
    stage = last_stage(*rules)
    assert set(stage.channels["row"]) == {0.0, 1.0, 2.0}
    assert len(np.unique(stage.key, axis=0)) == stage.n
    assert result.last.stage.n == 2 * stage.n
    (coat,) = Evaluator().picture(result).coats
    assert set(coat.stroke[:, 0].tolist()) == {0x10, 0xC0}


def test_too_many_dashes_are_refused():
    assert "would fall into" in evaluated(Ellipse(width=400.0), Dash(dash=0.001, gap=0.0)).problems[0].sentence
