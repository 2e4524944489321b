"""Bounds of formulas are sure, and what a formula makes large is not missing at the edge of the sheet."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.chains import SHEET, evaluated
from under_lattice.core.errors import InputError
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.measure.facts import measure
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.shapes.offset import Offset
from under_lattice.rules.shapes.push_edges import PushEdges
from under_lattice.vary.bounds import FAR, bounds
from under_lattice.vary.formula import FUNCTIONS, read_formula
from under_lattice.vary.numbers import LARGEST, Varied

NAMES = ["k", "n", "u", "row", "col", "x", "y", "r", "a", "chance", "pi"]
FORMULAS = st.recursive(
    st.one_of(st.sampled_from(NAMES), st.sampled_from(["0", "1", "2.5", "7", "-3", "0.5"])),
    lambda part: st.one_of(
        st.tuples(part, st.sampled_from(["+", "-", "*", "/", "%", "**", "<", ">="]), part).map(lambda p: f"({p[0]} {p[1]} {p[2]})"),
        st.tuples(
            st.sampled_from([one for one in FUNCTIONS if one not in ("min", "max", "atan2", "mix", "clamp", "where")]), part
        ).map(lambda p: f"{p[0]}({p[1]})"),
        st.tuples(st.sampled_from(["min", "max"]), part, part).map(lambda p: f"{p[0]}({p[1]}, {p[2]})"),
        st.tuples(st.sampled_from(["mix", "clamp", "where"]), part, part, part).map(lambda p: f"{p[0]}({p[1]}, {p[2]}, {p[3]})"),
    ),
    max_leaves=6,
)


@given(text=FORMULAS, seed=st.integers(0, 2**20))
@settings(max_examples=200, deadline=None)
def test_no_value_of_a_formula_lies_outside_its_bounds(text, seed):
    try:
        formula = read_formula(text)
    except InputError:
        return
    rng = np.random.default_rng(seed)
    low, high = bounds(formula, {})
    for _ in range(20):
        k, n = sorted(rng.integers(0, 300, 2))
        known = {
            "k": float(k), "n": float(n + 1), "u": rng.random(), "row": float(k + 1), "col": float(n + 1), "chance": rng.random(),
            "x": rng.uniform(-FAR, FAR) * rng.choice([1, 1e-3]), "y": rng.uniform(-500, 500), "r": rng.uniform(0, FAR),
            "a": rng.uniform(-180, 360),
        }  # fmt: skip
        try:
            value = float(formula.values(known))
        except InputError:
            continue
        assert low - 1e-6 * (1 + abs(value)) <= value <= high + 1e-6 * (1 + abs(value)), (text, known)


@pytest.mark.parametrize(
    ("text", "most"),
    [("40 * sin(a)", 40.0), ("clamp(x, -9, 5)", 9.0), ("10 + 5 * cos(r) ** 2", 15.0), ("where(x > 0, 3, -8)", 8.0), ("x", LARGEST)],
)
def test_the_greatest_size_of_a_formula(text, most):
    assert Varied(rule="r", channel="step", start=0.0, end=0.0, formula=text).largest == pytest.approx(most)


def test_copies_that_a_formula_makes_reach_into_the_sheet_are_there():
    """The first and the last step are small; in between outlines grow by 60: no bite is missing at the edge."""
    swell = Varied(rule="floor-lattice", channel="column", start=1.0, end=1.0, formula="60")
    plain = evaluated(Polygon(size=20.0), Offset(distance=60.0), Lattice(spacing="free", pitch=60.0), sheet=SHEET)
    grown = evaluated(Polygon(size=20.0), Offset(distance=swell), Lattice(spacing="free", pitch=60.0), sheet=SHEET)
    assert grown.last.stage.n == plain.last.stage.n


READ = ["0.7 * col", "0.4 * row", "0.02 * x", "0.03 * r", "0.05 * k", "4 * u", "3 * sin(40 * col)", "0.3 * row + 0.2 * col"]


@settings(max_examples=30)
@given(st.sampled_from(READ), st.floats(12.0, 60.0), st.sampled_from(["squares", "hexagons on points", "triangles"]))
def test_whole_copies_stay_where_a_formula_reads_how_many_there_are(text, size, form):
    """No formula takes them all away, and none that is there passes the edge of the sheet."""
    sides = {"squares": 4, "triangles": 3}.get(form, 6)
    amount = Varied(rule="floor-lattice", channel="column", start=0.0, end=0.0, formula=text)
    lattice = Lattice(form=form, extent="whole copies inside")
    plain = evaluated(Polygon(sides=sides, size=size), lattice)
    result = evaluated(Polygon(sides=sides, size=size), PushEdges(amount=amount), lattice)
    assert not result.problems
    assert 0 < result.last.stage.n <= plain.last.stage.n
    box = np.abs(measure(result, Evaluator(), SHEET).bounds).reshape(2, 2)
    assert (box <= np.array([SHEET.width, SHEET.height]) / 2 + 1e-6).all()
