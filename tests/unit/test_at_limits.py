"""Every number of every rule at both ends of its range: worked out and drawn, or refused with a sentence."""

import pytest

from tests.at_limits import KINDS, at_ends, crowds, works
from under_lattice.core.errors import LatticeError
from under_lattice.evaluate.evaluator import Evaluator


@pytest.mark.parametrize("kind", [kind for kind in KINDS if any(at_ends(KINDS[kind]))])
def test_a_number_at_the_end_of_its_range_is_taken_or_refused_in_words(kind):
    for words, design in works(KINDS[kind]):
        evaluator = Evaluator()
        (result,) = evaluator.design(design).values()
        assert all(problem.sentence for problem in result.problems), words
        if result.last is not None and result.last.stage.n * result.last.stage.shape.faces < 100_000:
            try:
                evaluator.marks(result.last.stage, result.known)
            except LatticeError as refused:
                assert str(refused), words


@pytest.mark.parametrize("kind", ["polygon", "split", "leave-out", "rosette"])
def test_a_thousand_million_copies_are_refused_with_the_number_that_is_allowed(kind):
    for words, design in crowds(KINDS[kind]):
        (result,) = Evaluator().design(design).values()
        assert any("000,000 copies; at most 2,000,000 are allowed" in one.sentence for one in result.problems), words
