"""Numbers that follow from a choice, as the work stands: a pitch that touches, a count that covers."""

from __future__ import annotations

from collections.abc import Mapping

from under_lattice.core.progress import QUIET, Progress
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.evaluate.result import ChainResult
from under_lattice.work.model import Design


def derived_values(
    design: Design, layer: str, rule: str, evaluator: Evaluator | None = None, progress: Progress = QUIET
) -> Mapping[str, float]:
    """Return the numbers of a rule that follow from a choice, by dial; none where the layer is no chain or the rule cannot act.

    Raises
    ------
    GivenUp
        When `progress` says that they are not wanted any more.
    """
    chain = next((one for one in design.chains() if one.id == layer), None)
    if chain is None:
        return {}
    result = (evaluator or Evaluator()).design(design, progress, only={layer})[layer]
    return values_of(result).get(rule, {})


def values_of(result: ChainResult) -> dict[str, dict[str, float]]:
    """Return the numbers that follow from a choice in an evaluated chain, by rule and dial, lengths in the unit of the work."""
    return {step.rule.id: dict(step.stage.found.values) for step in result.steps if step.acted and step.stage is not None}
