"""Which copies lie over which, by any source; spots whose numbers vary; ramps over every scope."""

import numpy as np
import pytest

from tests.chains import evaluated, last_stage
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.copies.leave_out import LeaveOut
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.along_curve import AlongCurve
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.mirror import Mirror
from under_lattice.rules.repeats.progression import Progression
from under_lattice.rules.repeats.rosette import Rosette
from under_lattice.rules.repeats.seed_head import SeedHead
from under_lattice.rules.repeats.spots import Spots
from under_lattice.rules.repeats.symmetry import Symmetry
from under_lattice.vary.numbers import Varied

DISC = Ellipse(width=10.0)
REPEATS = [
    Progression(count=6, distance=7.0),
    Rosette(count=6, radius=20.0),
    SeedHead(count=12, spacing=4.0),
    Lattice(form="squares", spacing="free", pitch=8.0, row_pitch=8.0, extent="by number", columns=4, rows=3),
    AlongCurve(count=7),
    Spots(spots="-9, 4; 12, 8; 3, -20; 6, 6"),
    Symmetry(),
    Mirror(),
]


def by(channel, rule, **more):
    return Varied(rule=f"floor-{rule.kind}", channel=channel, start=0.0, end=10.0, **more)


@pytest.mark.parametrize("rule", REPEATS, ids=lambda rule: rule.kind)
def test_every_repeat_stacks_by_any_source(rule):
    plain = last_stage(DISC, rule)
    across = last_stage(DISC, rule.model_copy(update={"stacking": "by level", "level": by("x", rule)}))
    assert (np.diff(across.xform[:, 0, 2]) >= -1e-9).all()
    order = {tuple(np.round(m.ravel(), 6)) for m in plain.xform}
    assert order == {tuple(np.round(m.ravel(), 6)) for m in across.xform}
    by_formula = Varied(rule=f"floor-{rule.kind}", channel="step", start=0, end=0, formula="0 - y")
    upwards = last_stage(DISC, rule.model_copy(update={"stacking": "by level", "level": by_formula}))
    assert (np.diff(upwards.xform[:, 1, 2]) <= 1e-9).all()
    assert sorted(map(tuple, upwards.key.tolist())) == sorted(map(tuple, plain.key.tolist()))


@pytest.mark.parametrize("rule", REPEATS, ids=lambda rule: rule.kind)
def test_first_on_top_is_last_on_top_turned_round(rule):
    last = last_stage(DISC, rule.model_copy(update={"stacking": "last on top"}))
    first = last_stage(DISC, rule.model_copy(update={"stacking": "first on top"}))
    assert first.xform == pytest.approx(last.xform[::-1])
    assert (first.key == last.key[::-1]).all()


def test_numbers_and_picks_keep_to_their_copies_when_the_order_changes():
    lattice = REPEATS[3]
    level = Varied(rule="floor-lattice", channel="chance", start=0.0, end=10.0, seed=4)
    mixed = lattice.model_copy(update={"stacking": "by level", "level": level})
    turned = Adjust(scope="each", turn=Varied(rule="floor-lattice", channel="column", start=0.0, end=30.0))
    left = LeaveOut(which="by chance", share=40.0)
    plain, shuffled = last_stage(DISC, lattice, turned, left), last_stage(DISC, mixed, turned, left)
    assert not np.allclose(plain.xform, shuffled.xform)
    assert {tuple(np.round(m.ravel(), 6)) for m in plain.xform} == {tuple(np.round(m.ravel(), 6)) for m in shuffled.xform}


def test_spots_turn_and_grow_by_their_own_steps():
    size = Varied(rule="floor-spots", channel="step", start=100.0, end=40.0)
    stage = last_stage(DISC, Spots(spots="0, 0; 10, 0, 0, 50; 20, 0", size=size, turn=90.0))
    assert np.sqrt(np.linalg.det(stage.xform[:, :, :2])) == pytest.approx([1.0, 0.35, 0.4])
    assert stage.xform[:, 1, 0] > 0 if stage.n == 1 else (stage.xform[:, 1, 0] > 0).all()


SQUARE, ROW = Polygon(sides=4, measure="across flats", size=10.0, stands="on a flat"), Progression(count=3, distance=20.0)
RAMP = {"inside": "straight ramp", "ramp_angle": 0.0, "colours": "one colour", "palette": ("#000000", "#FFFFFF")}


def ends_of(result):
    """Where on the sheet each mark's ramp begins and ends (N, 2, 2)."""
    (coat,) = Evaluator().picture(result).coats
    marks = Evaluator().picture(result).marks
    places = marks.xform if coat.seat is None else np.broadcast_to(coat.seat, (marks.count, 2, 3))
    whole = np.linalg.inv(np.vstack([coat.paint.to_ramp, (0, 0, 1)]))[:2]
    along = np.stack([whole[:, 2], whole[:, 0] + whole[:, 2]])
    return np.einsum("nij,kj->nki", places[:, :, :2], along) + places[:, None, :, 2]


def test_a_ramp_over_each_shape_travels_and_one_over_all_does_not():
    own = ends_of(evaluated(SQUARE, ROW, Ink(**RAMP)))
    assert own[:, :, 0] == pytest.approx(np.array([(-5, 5), (15, 25), (35, 45)]))
    everything = ends_of(evaluated(SQUARE, ROW, Ink(**RAMP, ramp_of="all copies")))
    assert everything[:, :, 0] == pytest.approx(np.array([(-5, 45)] * 3))


def test_a_ramp_over_the_sheet_spans_it():
    over = ends_of(evaluated(SQUARE, ROW, Ink(**RAMP, ramp_of="the sheet")))
    assert over[:, :, 0] == pytest.approx(np.array([(-162, 162)] * 3))


def test_a_ramp_over_each_copy_of_a_rule_spans_what_that_rule_repeats():
    ring = Rosette(count=4, radius=0.0, pivot={"spot": "motif centre", "dy": 60.0})
    result = evaluated(SQUARE, ROW, ring, Ink(**RAMP, ramp_of="floor-rosette"))
    ends = ends_of(result)
    lengths = np.hypot(*(ends[:, 1] - ends[:, 0]).T)
    assert lengths == pytest.approx(50.0)  # a row of three squares
    marks = Evaluator().picture(result).marks
    first = ends[marks.xform[:, 0, 0] > 0.99]
    assert first[:, :, 0] == pytest.approx(np.array([(-5, 45)] * 3))


def test_all_so_far_is_what_stands_above_the_ink_and_is_repeated_with_it():
    down = Progression(count=2, distance=100.0, direction=90.0)
    above = ends_of(evaluated(SQUARE, ROW, Ink(**RAMP, ramp_of="all copies"), down))
    assert np.ptp(above[:, :, 0], 1) == pytest.approx(50.0)
    assert set(np.round(above[:, 0, 1], 6)) == {0.0, 100.0}


def test_an_upright_ramp_keeps_its_direction_where_its_shape_turns():
    ring = Rosette(count=6, radius=40.0)
    turning = ends_of(evaluated(SQUARE, ring, Ink(**RAMP)))
    upright = ends_of(evaluated(SQUARE, ring, Ink(**RAMP, ramp_turn="stays upright")))
    assert np.ptp(turning[:, 1, 1] - turning[:, 0, 1]) > 5.0
    assert upright[:, 1] - upright[:, 0] == pytest.approx(np.array([(10.0, 0.0)] * 6))
    assert upright.mean(1) == pytest.approx(turning.mean(1))
