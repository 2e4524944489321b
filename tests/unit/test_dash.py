"""Dash: a whole number on each line, pieces with their lengths and numbers, corners kept."""

import numpy as np
import pytest

from tests.chains import evaluated, last_stage
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.geometry.affine import apply
from under_lattice.geometry.arc_length import Walk
from under_lattice.geometry.cutting import cubics_of
from under_lattice.geometry.outline import CLOSE, areas
from under_lattice.rules.copies.dash import Dash
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.line import Line
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.mirror import Mirror
from under_lattice.rules.repeats.progression import Progression
from under_lattice.rules.repeats.rosette import Rosette
from under_lattice.rules.shapes.stroke_to_shape import StrokeToShape


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


def true_lengths(*rules):
    """Lengths of the dashes as they lie, measured along their curves."""
    result = evaluated(*rules)
    assert not result.problems, result.problems
    marks = Evaluator().marks(result.last.stage, result.known)
    (family,) = marks.families
    found = []
    for variant, xform in zip(marks.variant, marks.xform, strict=True):
        ((cubics, _),) = cubics_of(family.verbs, apply(xform, family.points[variant]))
        found.append(Walk(cubics).length)
    return np.array(found), marks


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


def test_the_motif_itself_stays_the_origin_of_what_is_dashed():
    """Handles of the motif stand where the motif stands, not on the first copy of the lattice."""
    rules = Polygon(size=20.0), Lattice(extent="by number", columns=5, rows=5), Dash()
    stage = last_stage(*rules)
    assert np.hypot(*stage.xform[stage.origin][:, 2]) < 14
    assert stage.parent[stage.origin] == stage.above.origin


def test_too_many_dashes_are_refused():
    assert "would fall into" in evaluated(Ellipse(width=400.0), Dash(dash=0.001, gap=0.0)).problems[0].sentence


@pytest.mark.parametrize("more", [(), (Rosette(count=5, radius=300.0),), (Mirror(),)], ids=["alone", "five turned", "mirrored"])
def test_dashes_of_a_disc_are_exact_and_share_one_outline(more):
    found, marks = true_lengths(Ellipse(width=120.0), *more, Dash(fit="by number", count=37, dash=1.0, gap=2.0))
    assert len(found) == 37 * (5 if more and more[0].kind == "rosette" else 2 if more else 1)
    assert found == pytest.approx(np.pi * 120 / 37 / 3, rel=1e-6)
    assert marks.distinct == 1


def test_on_an_ellipse_dashes_are_even_along_the_curve():
    found, marks = true_lengths(Ellipse(width=24.0, roundness=750.0), Dash(fit="by number", count=50, dash=2.0, gap=1.0))
    a, e = 90.0, 1 - (12 / 90) ** 2
    t = (np.arange(200_000) + 0.5) / 200_000 * np.pi / 2
    whole = 4 * a * np.sqrt(1 - e * np.sin(t) ** 2).mean() * np.pi / 2
    assert found == pytest.approx(whole / 50 * 2 / 3, rel=1e-6)
    assert marks.distinct > 10


def test_dashes_of_a_square_are_few_outlines_and_straight():
    square = Polygon(sides=4, measure="side", size=20.0, stands="on a flat")
    found, marks = true_lengths(square, Dash(dash=2.0, gap=2.0, shift=-25.0))
    assert len(found) == 20
    assert found == pytest.approx(2.0)
    assert marks.distinct == 2  # straight ones, and those round a corner
    assert marks.families[0].points.shape[1] == 3


def test_sizes_that_vary_have_dashes_of_their_own_as_long_as_the_others():
    rules = Ellipse(width=40.0), Progression(count=4, distance=90.0, across=150.0, along=150.0)
    found, marks = true_lengths(*rules, Dash(dash=4.0, gap=2.0, fit="as typed"))
    assert np.sort(found)[4:] == pytest.approx(4.0, rel=1e-6)
    assert marks.distinct >= 4


def test_bands_of_dashes_are_cut_square_to_the_line():
    rules = Ellipse(width=100.0), Dash(fit="by number", count=9, dash=1.0, gap=1.0), StrokeToShape(width=6.0, ends="cut")
    result = evaluated(*rules)
    marks = Evaluator().marks(result.last.stage, result.known)
    (family,) = marks.families
    assert areas(family.verbs, family.points) == pytest.approx(np.pi * (53**2 - 47**2) / 18, rel=1e-4)
    corners = np.concatenate([apply(x, family.points[v]) for x, v in zip(marks.xform, marks.variant, strict=True)])
    far = np.hypot(*corners.T)
    assert np.abs(far[np.abs(far - 47) < 0.01] - 47).max() < 1e-3
    assert np.abs(far[np.abs(far - 53) < 0.01] - 53).max() < 1e-3


def test_the_card_says_what_was_fitted():
    (said,) = [r.said["dash"] for r in [evaluated(Ellipse(width=120.0), Dash(dash=10.0, gap=20.0)).last.stage.found]]
    assert said == "13 in all, 9.67 and gap 19.33"
    two = Ellipse(width=120.0), Progression(count=2, distance=300.0, across=50.0, along=50.0), Dash(dash=10.0, gap=20.0)
    assert evaluated(*two).last.stage.found.said["dash"] == "19 in all, 9.67 … 10.47 and gap 19.33 … 20.94"


@pytest.mark.parametrize("thickness", [0.0, 3.0])
def test_no_gap_makes_whole_lines_and_nothing_refuses(thickness):
    found, _ = true_lengths(Line(length=70.0, thickness=thickness), Dash(fit="by number", count=1, dash=5.0, gap=0.0, shift=30.0))
    assert found == pytest.approx(70.0 if not thickness else 146.0)
