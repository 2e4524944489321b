"""Every shape rule below every repeat, as each of its choices has it: it acts or refuses with a sentence."""

from typing import Any

import pytest

from tests.chains import evaluated
from under_lattice.declare.dials import Choice
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.pattern.stage import Stage
from under_lattice.rules import RULES, Interlace, JoinEnds, Lattice, Polygon, Split

REPEATS = [kind for kind in RULES if kind.family == "repeat" and kind not in (Interlace, JoinEnds)]  # which take lines alone
SHAPES: list[Any] = [kind for kind in RULES if kind.family == "shape"]


def choices(kind: Any) -> Any:
    """The rule as it comes, and with each option of each choice that is not the first."""
    yield kind()
    for name, dial in kind.dials().items():
        if type(dial) is Choice:
            for option in dial.options:
                if option != getattr(kind(), name):
                    yield edited(kind(), **{name: option})


@pytest.mark.parametrize("repeat", REPEATS)
def test_a_shape_rule_below_a_repeat_acts_or_refuses(repeat):
    evaluator, acted = Evaluator(), 0
    small = {"columns": 3, "rows": 2, "extent": "by number"} if repeat is Lattice else {}
    for k, laid in enumerate(choices(repeat)):
        for shape in SHAPES if not k else SHAPES[k % 3 :: 3]:  # of further choices a third of the shapes each
            chain: tuple[Any, ...] = (Polygon(sides=6, size=20.0), Split(), edited(laid, **small), shape())
            result = evaluated(*chain, evaluator=evaluator)
            stage = result.last.stage
            assert isinstance(stage, Stage)
            if stage.n < 200:
                evaluator.marks(stage, result.known)
            acted += not result.problems
    assert acted > len(SHAPES) / 4
