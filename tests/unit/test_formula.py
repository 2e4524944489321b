"""Formulas: what they give, what they refuse, and that nothing else can be said in them."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.chains import centres, evaluated, last_stage
from under_lattice.core.errors import InputError
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.library.layers import chain
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.progression import Progression
from under_lattice.rules.repeats.rosette import Rosette
from under_lattice.rules.shared.scope import EACH
from under_lattice.vary.formula import FUNCTIONS, NAMES, read_formula
from under_lattice.vary.numbers import Varied
from under_lattice.work.model import Design, Sheet
from under_lattice.work.sheets import set_unit

DISC = Polygon(sides=12, measure="circumradius", size=9.0)
GRID = Lattice(form="squares", spacing="free", pitch=20.0, row_pitch=30.0, extent="by number", columns=3, rows=2, grow="top left")


def by(text, rule="floor-lattice"):
    return Varied(rule=rule, channel="step", start=2.0, end=2.0, formula=text)


def value(text, **known):
    return float(read_formula(text).values({name: known.get(name, 0.0) for name in NAMES if name != "pi"}))


@pytest.mark.parametrize(
    ("text", "wanted"),
    [
        ("12 + 3 * k", 18.0), ("= 2 ^ 3", 8.0), ("-k % 3", 1.0), ("sin(30)", 0.5), ("atan2(1, 1)", 45.0), ("min(3, k, 7)", 2.0),
        ("mix(10, 20, 0.25)", 12.5), ("clamp(k, 3, 5)", 3.0), ("where(k > 1, 5, 6)", 5.0), ("where(k == 1, 5, 6)", 6.0),
        ("round(pi)", 3.0), ("acos(0.5)", 60.0), ("sqrt(abs(-16))", 4.0),
    ],
)  # fmt: skip
def test_values(text, wanted):
    assert value(text, k=2.0) == pytest.approx(wanted)


@pytest.mark.parametrize("name", FUNCTIONS)
def test_every_function_takes_whole_arrays(name):
    count = {"min": 2, "max": 2, "atan2": 2, "mix": 3, "clamp": 3, "where": 3}.get(name, 1)
    u = np.linspace(0.1, 0.9, 5)
    out = read_formula(f"{name}({', '.join(['u'] * count)})").values({"u": u})
    assert out.shape == (5,)


def test_names_are_read_of_the_rule_for_all_copies_at_once():
    stage = last_stage(DISC, GRID, Adjust(scope=EACH, x=by("100 * row + 10 * col + k / 10")))
    moved = centres(stage)[:, 0] - centres(stage.above)[:, 0]
    assert moved == pytest.approx([110, 120.1, 130.2, 210.3, 220.4, 230.5])
    place = last_stage(DISC, GRID, Adjust(scope=EACH, y=by("x + y + r + a + n")))
    assert (centres(place) - centres(place.above))[4, 1] == pytest.approx(
        20 + 30 + np.hypot(20, 30) + np.degrees(np.arctan2(30, 20)) + 6
    )


def test_the_own_steps_of_a_progression():
    stage = last_stage(DISC, Progression(count=4, distance=by("10 * k", "floor-progression")))
    assert centres(stage)[:, 0] == pytest.approx([0, 10, 30, 60])


def test_counts_by_formula():
    rings = Progression(count=3, distance=30.0)
    stage = last_stage(DISC, rings, Rosette(count=by("6 * (k + 1)", "floor-progression"), radius_by="as it stands"))
    assert np.bincount(stage.parent).tolist() == [6, 12, 18]


HOSTILE = [
    "__import__('os').system('x')", "().__class__", "k.real", "k[0]", "[k for k in (1,)]", "lambda: 1", "f'{k}'", "'a' * 9", "True",
    "open('x')", "eval('1')", "k if k else 1", "k and 1", "not k", "k := 3", "*k", "k @ k", "k // 2", "k << 2", "~k", "1 < k < 3",
    "1j", "min(k)", "sin(k, 2)", "sin(x=1)", "sin", "wibble", "1e400", "9" * 30, "(" * 90 + "k" + ")" * 90, "+".join(["k"] * 90),
    "", "=", "k k", "x" * 300, "-" * 150 + "k", "\x00", "k\n", "print(k)", "min(*k)", "{k}", "k;k", "...", "None",
]  # fmt: skip


@pytest.mark.parametrize("text", HOSTILE)
def test_nothing_else_can_be_said(text):
    try:
        formula = read_formula(text)
    except InputError as error:
        assert error.message
    else:
        assert text.strip().strip("()") == "k"  # white space and brackets say nothing
        assert formula.values({"k": 1.0}) == 1.0


@given(st.text(max_size=60))
def test_any_text_is_read_or_refused_with_a_sentence(text):
    try:
        read_formula(text)
    except InputError as error:
        assert error.message


@pytest.mark.parametrize("text", ["1 / k", "sqrt(-1 - k)", "9 ^ 9 ^ 9", "log(k)", "exp(1000)"])
def test_what_is_no_number_is_said_with_its_copy(text):
    result = evaluated(DISC, GRID, Adjust(scope=EACH, x=by(text)))
    assert "gives no number for copy" in result.problems[0].sentence


def test_wild_numbers_are_held_where_they_would_never_end():
    for rule in (Rosette(count=by("1000000000")), GRID.model_copy(update={"columns": by("1000000000"), "rows": 1})):
        stage = last_stage(DISC, GRID, edited(rule))
        assert stage.n <= 6 * 5000


def test_another_unit_keeps_real_lengths():
    rule = Adjust(scope=EACH, x=by("x / 2 + 10"), turn=by("x"))
    design = Design(sheet=Sheet(unit="mm"), layers=(chain("Floor", DISC, GRID, rule),))
    mm = Evaluator().design(design)["floor"].last.stage
    there = design
    for unit in ("in", "cm", "pt", "px") * 6:  # the text never grows
        there = set_unit(there, unit)
        assert there.layers[0].rules[2].x.formula == "x / 2 + 10"
    factor = 96 / 25.4
    px = Evaluator().design(there)["floor"].last.stage
    assert px.xform[..., 2] == pytest.approx(mm.xform[..., 2] * factor)
    assert px.xform[..., :2] == pytest.approx(mm.xform[..., :2])
    back = set_unit(there, "mm").layers[0].rules[2]
    assert (back.x.reads, back.x.gives, back.turn.gives) == (1.0, 1.0, 1.0)


def test_a_formula_that_cannot_be_read_is_refused_in_words():
    with pytest.raises(InputError, match="“wibble” is not known here"):
        edited(by("k"), formula="wibble + 1")
