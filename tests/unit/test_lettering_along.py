"""Lettering along a line of another layer: letters are rigid, stand on it, and follow it when it changes."""

import numpy as np
import pytest

from tests.chains import SHEET
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.geometry.affine import apply
from under_lattice.geometry.lettering import letters
from under_lattice.library.layers import chain
from under_lattice.rules import Adjust, Ellipse, Ink, Lattice, Lettering, Line, Polygon, SheetMotif
from under_lattice.work.model import Design


def drawn(line, text="TERN", size=20.0, *rules, **more):
    """The points of each letter on the sheet, and the problems."""
    motif = Lettering(text=text, size=size, runs="along a line", line="line", **more)
    layers = (chain("Words", motif, Ink(), *rules), *((chain("Line", *line),) if line else ()))
    evaluator = Evaluator()
    result = evaluator.design(Design(sheet=SHEET, layers=layers))["words"]
    if result.last is None or result.problems:
        return [], [problem.sentence for problem in result.problems]
    marks = evaluator.marks(result.last.stage, result.known)
    shown = [apply(x, marks.families[f].points[v]) for x, f, v in zip(marks.xform, marks.family, marks.variant, strict=True)]
    return shown, []


def straight(text, size):
    return [points * size for _, points in letters(text, Lettering().font, 0.0)]


def spans(points):
    """All distances between the points of a letter."""
    return np.hypot(*(points[:, None] - points[None]).transpose(2, 0, 1))


@pytest.mark.parametrize("line", [(Ellipse(width=150.0),), (Polygon(sides=5, size=200.0),), (Line(length=40.0, thickness=0.0),)])
@pytest.mark.parametrize("side", ["as it runs", "other side"])
def test_letters_keep_their_shape(line, side):
    shown, _ = drawn(line, line_side=side)
    for own, plain in zip(shown, straight("TERN", 20.0), strict=True):
        assert spans(own) == pytest.approx(spans(plain), abs=1e-6)


def test_on_a_circle_feet_stand_on_it_outside_or_inside_it():
    for side, least, most in (("as it runs", 75.0, 90.0), ("other side", 60.0, 75.0)):
        shown, _ = drawn((Ellipse(width=150.0),), "HHHHHH", line_side=side)
        far = [np.hypot(*points.T) for points in shown]
        assert min(one.min() for one in far) > least - 1.0
        assert max(one.max() for one in far) < most + 1.0
    middles = np.array([points.mean(0) for points in shown])
    turn = np.unwrap(np.arctan2(middles[:, 1], middles[:, 0]))
    assert np.ptp(np.diff(turn)) < 0.02  # as far from each other


def test_its_middle_stands_where_it_is_said_and_above_lifts_it():
    for at, wanted in ((25.0, (0.0, 75.0)), (75.0, (0.0, -75.0))):
        shown, _ = drawn((Ellipse(width=150.0),), "OOO", line_at=at)
        middle = np.concatenate(shown).mean(0)
        assert np.hypot(*middle) > 60
        assert middle[0] == pytest.approx(wanted[0], abs=1.0)
        assert np.sign(middle[1]) == np.sign(wanted[1])
    low, _ = drawn((Line(length=200.0, thickness=0.0),), "HH")
    high, _ = drawn((Line(length=200.0, thickness=0.0),), "HH", line_above=5.0)
    assert np.concatenate(high)[:, 1] == pytest.approx(np.concatenate(low)[:, 1] - 5.0)
    assert np.concatenate(low)[:, 1].max() == pytest.approx(0.0, abs=1e-6)


def test_beyond_the_ends_it_goes_on_straight_and_a_closed_line_goes_round():
    long, _ = drawn((Line(length=10.0, thickness=0.0),), "HARBOUR")
    plain = np.concatenate(straight("HARBOUR", 20.0))
    assert np.ptp(np.concatenate(long)[:, 0]) == pytest.approx(np.ptp(plain[:, 0]), abs=1e-6)
    round_, _ = drawn((Ellipse(width=30.0),), "HARBOUR" * 10, size=5.0)
    assert np.hypot(*np.concatenate(round_).T).max() < 21.0


def test_it_stands_on_the_line_as_that_lies_and_can_be_repeated():
    moved, _ = drawn((Line(length=200.0, thickness=0.0), Adjust(y=30.0)), "HH")
    assert np.concatenate(moved)[:, 1].max() == pytest.approx(30.0, abs=1e-6)
    many, _ = drawn((Line(length=60.0, thickness=0.0),), "HH", 20.0, Lattice(extent="by number", columns=3, rows=2, gap=4.0))
    assert len(many) == 12
    edge, _ = drawn((SheetMotif(inset=10.0),), "HHHH")
    assert edge


def test_refusals_say_what_is_missing():
    assert drawn((), line_at=10.0)[1] == ["the layer along whose line the lettering runs is gone or empty, or it follows this one"]
    motif = Lettering(text="A", runs="along a line")
    result = Evaluator().design(Design(sheet=SHEET, layers=(chain("Words", motif),)))["words"]
    assert "choose the layer" in result.problems[0].sentence
    itself = edited(motif, line="words")
    result = Evaluator().design(Design(sheet=SHEET, layers=(chain("Words", itself),)))["words"]
    assert "follows this one" in result.problems[0].sentence
