"""Named starts: each acts, differs from the others, and leaves the rule its place, name and handle."""

import numpy as np
import pytest

from tests.chains import SHEET, centres, work_of
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import evaluate
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.mirror import Mirror
from under_lattice.rules.repeats.progression import Progression
from under_lattice.rules.repeats.rosette import Rosette
from under_lattice.rules.repeats.seed_head import SeedHead
from under_lattice.work.suggest import begun, starts_of

GRID = Lattice(form="squares", extent="by number", columns=6, rows=5, spacing="free", pitch=24.0, row_pitch=24.0)
CASES = [(Progression(), ()), (Rosette(), ()), (SeedHead(), ()), (Adjust(), (GRID,))]


def stages(rule, above, motif):
    """The stage after a rule at each of its starts, by name."""
    design = work_of(motif, *above, edited(rule, name="Mine")).design
    chain = design.layers[0]
    out = {}
    for start in starts_of(chain.rules[-1], chain, SHEET):
        made = begun(design, chain.id, chain.rules[-1].id, start)
        assert (made.layers[0].rules[-1].id, made.layers[0].rules[-1].name) == (chain.rules[-1].id, "Mine")
        result = evaluate(made)["floor"]
        assert not result.problems, (start.name, result.problems)
        out[start.name] = result.last.stage
    return out


@pytest.mark.parametrize(("rule", "above"), CASES, ids=lambda one: getattr(one, "kind", ""))
@pytest.mark.parametrize("motif", [Polygon(sides=6, size=22.0), Ellipse(width=16.0, roundness=240.0)], ids=["hexagon", "petal"])
def test_every_start_acts_and_no_two_are_alike(rule, above, motif):
    made = stages(rule, above, motif)
    assert len(made) >= 3
    seen = {stage.xform.tobytes() for stage in made.values()}
    assert len(seen) == len(made)
    assert all(np.isfinite(stage.xform).all() for stage in made.values())


def test_starts_are_what_they_are_called():
    made = stages(Progression(), (), Polygon(sides=4, measure="side", size=20.0, stands="on a flat"))
    assert np.allclose(np.diff(np.sort(centres(made["row"])[:, 0])), 20.0)  # touching
    assert np.allclose(centres(made["stack"]), 0)
    assert np.ptp(np.hypot(*centres(made["coil"]).T)) > 10
    jitter = stages(Adjust(), (GRID,), Polygon(size=20.0))["jitter"]
    aside = np.abs(centres(jitter) - centres(jitter.above))
    assert 0 < aside.max() <= 0.12 * 24


def test_rules_without_starts_have_none_and_an_adjust_needs_copies():
    design = work_of(Polygon(size=10.0), Mirror(), Adjust()).design
    chain = design.layers[0]
    assert starts_of(chain.rules[1], chain, SHEET) == ()
    alone = work_of(Polygon(size=10.0), Adjust()).design.layers[0]
    assert starts_of(alone.rules[1], alone, SHEET) == ()
