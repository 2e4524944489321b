"""Progression, Rosette, Seed head and Mirror: the figures they must give."""

from dataclasses import dataclass

import numpy as np
import pytest

from tests.chains import centres, evaluated, last_stage
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.geometry.affine import apply
from under_lattice.geometry.body import symmetry_of
from under_lattice.geometry.outline import CURVE, MOVE, Outline
from under_lattice.measure.facts import measure
from under_lattice.pattern.stage import Family, start
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.copies.leave_out import LeaveOut
from under_lattice.rules.ground import PLAIN
from under_lattice.rules.motifs.ellipse import Ellipse, unit_circle
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.mirror import Mirror
from under_lattice.rules.repeats.progression import Progression
from under_lattice.rules.repeats.rosette import Rosette
from under_lattice.rules.repeats.seed_head import SeedHead
from under_lattice.rules.shapes.push_edges import PushEdges
from under_lattice.rules.shapes.split import Split
from under_lattice.rules.shared.anchor import Anchor
from under_lattice.rules.shared.scope import EACH
from under_lattice.vary.numbers import Varied
from under_lattice.work.model import Sheet

SHEET = Anchor(spot="sheet centre")
DISC = Polygon(sides=12, measure="circumradius", size=9.0)
BAR = Polygon(sides=4, size=2.0, stands="on a flat")


def by_key(stage):
    """Maps in the order of their steps."""
    return stage.xform[np.argsort(stage.key[:, 1], kind="stable")]


def said(*rules):
    result = evaluated(*rules)
    assert not result.problems, result.problems
    return result.last.stage.found.said


def refused(*rules):
    return evaluated(*rules).problems[0].sentence


# ---------------------------------------------------------------- progression
def test_about_the_pivot_and_about_the_own_centre():
    start = Adjust(x=80.0)
    turn = Progression(
        count=11, distance=0.0, turn=12.0, across=97.0, along=97.0, turn_about="the pivot", size_about="the pivot", pivot=SHEET
    )
    about_pivot = by_key(last_stage(DISC, start, turn))[10]
    assert about_pivot[:, 2] == pytest.approx((-29.4970, 51.0902), abs=1e-4)
    assert 9 * np.sqrt(np.linalg.det(about_pivot[:, :2])) == pytest.approx(6.6368, abs=1e-4)
    own = by_key(last_stage(DISC, start, turn.model_copy(update={"size_about": "own centre"})))[10]
    assert own[:, 2] == pytest.approx((-40.0, 69.2820), abs=1e-4)
    assert 9 * np.sqrt(np.linalg.det(own[:, :2])) == pytest.approx(6.6368, abs=1e-4)


def test_sizes_by_ratio_and_by_equal_step():
    run = Progression(count=30, across=97.5, along=97.5)
    assert said(DISC, run)["across"] == "last 47.99 %"
    assert said(DISC, run.model_copy(update={"grows": "by equal step"}))["across"] == "last 27.5 %"
    assert "at most 5 in all" in refused(DISC, Progression(count=20, across=75.0, along=75.0, grows="by equal step")).replace(
        "4 in", "5 in"
    )


def test_moves_that_vary_by_the_own_step_add_up():
    move = Varied(rule="floor-progression", channel="step", start=10.0, end=30.0)
    stage = last_stage(DISC, Progression(count=5, distance=move))
    assert centres(stage)[:, 0] == pytest.approx([0, 10, 26.6666667, 50, 80])


def test_bars_that_touch_stand_by_half_extents():
    size = Varied(rule="floor-lattice", channel="column", start=4.0, end=4.0)
    assert isinstance(size, Varied)
    stage = last_stage(BAR, Progression(count=6, spacing="touching", across=150.0))
    x = centres(stage)[np.argsort(stage.key[:, 1]), 0]
    half = 1.5 ** np.arange(6)
    assert np.diff(x) == pytest.approx(half[:-1] + half[1:])


@pytest.mark.parametrize(("angle", "pitch"), [(0, 41.569219), (30, 48.0), (45, 43.035623)])
def test_touching_along_a_direction(angle, pitch):
    run = Progression(count=3, spacing="touching", direction=angle)
    at = centres(last_stage(Polygon(measure="circumradius", size=24.0), run))
    assert np.hypot(*at[1]) == pytest.approx(pitch, rel=1e-7)
    assert np.hypot(*(at[2] - at[1])) == pytest.approx(pitch, rel=1e-7)


def test_turns_are_said_as_they_look():
    assert said(Polygon(), Progression(count=30, turn=3.0))["turn"] == "last 87°, looks like 27°"


def test_until_the_sheet_is_left_and_until_a_size():
    stage = last_stage(DISC, Progression(extent="until it leaves the sheet", distance=20.0))
    assert stage.n == 9  # the disc of 160 still meets the edge at 162
    shrinking = Progression(extent="until a size is reached", until=50.0, across=90.0, along=90.0)
    assert last_stage(DISC, shrinking).n == 7  # 0.9^6 = 0.53, 0.9^7 = 0.48
    assert "never come to 50 %" in refused(DISC, Progression(extent="until a size is reached", until=50.0))
    assert "would stand on the sheet" in refused(DISC, Progression(extent="until it leaves the sheet", distance=0.0))


def test_the_own_centre_of_each_part_and_of_all():
    pair = Lattice(form="squares", spacing="free", pitch=40.0, extent="by number", columns=2, rows=1, grow="top left")
    run = Progression(count=2, distance=0.0, turn=90.0)
    all_turn = by_key(last_stage(DISC, pair, run))
    assert all_turn[3, :, 2] == pytest.approx((0, 40), abs=1e-9)
    each = by_key(last_stage(DISC, pair, run.model_copy(update={"own": EACH})))
    assert each[3, :, 2] == pytest.approx((40, 0), abs=1e-9)
    assert each[3, :, :2] == pytest.approx(np.array([(0, -1), (1, 0)]), abs=1e-9)


def test_a_closed_motif_cannot_go_on_where_it_ended():
    assert "no ends" in refused(DISC, Progression(spacing="each begins where the last ended"))


def test_counts_that_vary_over_the_copies_above_are_ragged():
    rings = Progression(count=3, distance=30.0)
    many = Varied(rule="floor-progression", channel="step", start=6.0, end=18.0)
    stage = last_stage(DISC, rings, Rosette(count=many, radius_by="as it stands", pivot=Anchor(spot="sheet top")))
    assert stage.n == 36
    assert np.bincount(stage.parent).tolist() == [6, 12, 18]


def test_smaller_copies_lie_on_top():
    growing = last_stage(DISC, Progression(count=4, across=120.0, along=120.0))
    assert growing.key[:, 1].tolist() == [3, 2, 1, 0]
    first = last_stage(DISC, Progression(count=4, stacking="first on top"))
    assert first.key[-1].tolist() == [0, 0]


def test_more_copies_never_reshuffle_chance():
    wander = Varied(rule="floor-progression", channel="chance", start=-30.0, end=30.0, seed=4)
    few, many = (last_stage(DISC, Progression(count=n, turn=wander)).xform for n in (6, 20))
    assert many[:6] == pytest.approx(few)


# ---------------------------------------------------------------- rosette
def test_a_full_turn_closes_and_an_arc_has_both_ends():
    ring = centres(last_stage(DISC, Rosette(count=12, radius=60.0)))
    assert np.hypot(*ring.T) == pytest.approx([60.0] * 12)
    assert ring.mean(0) == pytest.approx((0, 0), abs=1e-9)
    assert ring[0] == pytest.approx((0, -60), abs=1e-9)  # begins at the top
    assert ring[3] == pytest.approx((60, 0), abs=1e-9)  # clockwise
    fan = centres(last_stage(DISC, Rosette(count=4, radius=60.0, arc=90.0)))
    assert fan[-1] == pytest.approx((60, 0), abs=1e-9)
    half_open = centres(last_stage(DISC, Rosette(count=3, radius=60.0, arc=90.0, ends="first only")))
    assert half_open[1] == pytest.approx((30, -51.961524), abs=1e-6)


def test_discs_that_touch_in_a_ring():
    disc = Ellipse(width=18.0)
    stage = last_stage(disc, Rosette(count=12, radius_by="touching"))
    assert stage.found.values["radius"] == pytest.approx(9 / np.sin(np.pi / 12), rel=4e-4)  # four cubics are a circle to 3e-4
    gap = last_stage(disc, Rosette(count=12, radius_by="touching", gap=2.0)).found.values["radius"]
    assert gap == pytest.approx(10 / np.sin(np.pi / 12), rel=4e-4)


def test_copies_face_with_the_ring_upright_or_further():
    def turned(**more):
        linear = last_stage(BAR, Rosette(count=4, radius=30.0, **more)).xform[:, :, :2]
        return np.degrees(np.arctan2(linear[:, 1, 0], linear[:, 0, 0])).round(6) % 360

    assert turned().tolist() == [0, 90, 180, 270]
    assert turned(facing="upright").tolist() == [0, 0, 0, 0]
    assert turned(facing="further on their own", own_turn=10.0).tolist() == [0, 100, 200, 300]


def test_every_second_copy_is_mirrored():
    linear = last_stage(BAR, Rosette(count=6, radius=30.0, mirrored="every second")).xform[:, :, :2]
    assert np.linalg.det(linear).round(9).tolist() == [1, -1, 1, -1, 1, -1]


def test_as_it_stands_the_pivot_gives_the_radius():
    stage = last_stage(DISC, Rosette(count=6, radius_by="as it stands", pivot=Anchor(dx=0.0, dy=25.0)))
    assert stage.found.values["radius"] == pytest.approx(25.0)
    assert centres(stage)[0] == pytest.approx((0, 0), abs=1e-9)


# ---------------------------------------------------------------- seed head
def test_seed_head_figures():
    at = centres(last_stage(DISC, SeedHead(count=101, spacing=3.2)))
    assert SeedHead().divergence_angle() == pytest.approx(137.507764050)
    assert at[1] == pytest.approx((-2.359580, 2.161569), abs=1e-6)
    assert at[10] == pytest.approx((4.289020, -9.165386), abs=1e-6)
    assert at[100] == pytest.approx((10.536177, 30.215708), abs=1e-6)


def test_laws_skip_and_facing():
    linear = centres(last_stage(DISC, SeedHead(count=5, spacing=3.0, law="linear", skip=2)))
    assert np.hypot(*linear.T) == pytest.approx([6, 9, 12, 15, 18])
    power = centres(last_stage(DISC, SeedHead(count=5, spacing=3.0, law="power", power=100.0, skip=2)))
    assert power == pytest.approx(linear)
    stage = last_stage(DISC, SeedHead(count=20, skip=1))
    outward = np.einsum("nij,j->ni", stage.xform[:, :, :2], [0.0, -1.0])  # what was up
    assert outward == pytest.approx(centres(stage) / np.hypot(*centres(stage).T)[:, None], abs=1e-9)


def test_arms_are_numbers_of_fibonacci():
    assert said(Ellipse(width=4.0), SeedHead(count=500, spacing=4.0))["count"] in (
        "21 and 34 arms",
        "34 and 55 arms",
        "13 and 21 arms",
    )


def test_a_seed_head_covers_the_sheet():
    stage = last_stage(Ellipse(width=8.0), SeedHead(extent="covers the sheet", spacing=8.0))
    assert (np.abs(centres(stage)) < 162 + 5).all()
    corner = np.hypot(*(centres(stage) - np.array([160, 159])).T).min()
    assert corner < 16


# ---------------------------------------------------------------- mirror
def test_a_mirror_in_a_line_and_with_a_glide():
    mirror = Mirror(angle=90.0, pivot=Anchor(dx=20.0))
    stage = last_stage(DISC, mirror)
    assert centres(stage) == pytest.approx(np.array([(0, 0), (40, 0)]), abs=1e-9)
    assert np.linalg.det(stage.xform[1, :, :2]) == pytest.approx(-1)
    glide = last_stage(DISC, mirror.model_copy(update={"glide": 5.0, "keeps": "the mirrored only"}))
    assert centres(glide) == pytest.approx(np.array([(40, 5)]), abs=1e-9)


def test_every_second_copy_mirrored_in_its_place():
    row = Lattice(form="squares", spacing="free", pitch=30.0, extent="by number", columns=4, rows=1, grow="top left")
    stage = last_stage(BAR, row, Mirror(keeps="every second mirrored", pivot=Anchor()))
    assert np.linalg.det(stage.xform[:, :, :2]).round(9).tolist() == [1, -1, 1, -1]
    assert centres(stage) == pytest.approx(centres(stage.above), abs=1e-9)


# ---------------------------------------------------------------- order
def test_order_of_repeats_is_the_product_of_their_steps():
    row, ring = Progression(count=3, distance=20.0), Rosette(count=4, radius_by="as it stands", pivot=Anchor(spot="sheet bottom"))
    one, other = last_stage(DISC, row, ring), last_stage(DISC, ring, row)
    assert one.n == other.n == 12
    assert not np.allclose(np.sort(centres(one), 0), np.sort(centres(other), 0))
    for stage, outer, inner in ((one, ring, row), (other, row, ring)):
        outer_maps = last_stage(DISC, outer).xform
        inner_maps = last_stage(DISC, inner).xform
        for k, copy in enumerate(stage.xform):
            first, second = divmod(k, len(inner_maps))
            product = outer_maps[first][:, :2] @ inner_maps[second][:, :2]
            assert copy[:, :2] == pytest.approx(product, abs=1e-9)


def test_exchanging_the_motif_keeps_every_placement():
    rules = (Progression(count=5, distance=20.0, turn=10.0), Rosette(count=7, radius=50.0))
    assert last_stage(DISC, *rules).xform == pytest.approx(last_stage(Ellipse(), *rules).xform)


def test_a_split_motif_turns_as_a_whole_by_each_shape():
    run = Progression(count=3, distance=40.0, turn=30.0, own=EACH)
    assert last_stage(Polygon(), Split(), run).xform == pytest.approx(last_stage(Polygon(), run).xform)


@pytest.mark.parametrize(
    "rule", [Lattice(), Progression(), Rosette(radius_by="touching"), SeedHead(), Mirror(), Adjust(turn=3.0)], ids=lambda r: r.kind
)
def test_where_no_copy_stands_there_is_nothing_to_repeat(rule):
    small = Sheet(width=20.0, height=20.0)
    result = evaluated(Polygon(), Lattice(extent="whole copies inside"), rule, PushEdges(), sheet=small)
    assert result.problems[0].sentence == "no copies stand above to be repeated or adjusted"
    evaluator = Evaluator()
    assert evaluator.picture(result).marks.count == 0
    assert measure(result, evaluator, small).copies == 0


@pytest.mark.parametrize(
    ("rule", "why"),
    [
        (Rosette(count=1, radius=0.0), "there is one copy only"),
        (LeaveOut(which="exact doubles"), "no copy is of the kind that goes"),
    ],
    ids=lambda value: getattr(value, "kind", ""),
)
def test_a_rule_that_changes_nothing_says_why(rule, why):
    evaluator = Evaluator()
    result = evaluated(Polygon(), rule, evaluator=evaluator)
    warned = measure(result, evaluator, Sheet()).warnings
    assert [warn.sentence for warn in warned] == [f"{rule.title} changes nothing: {why}"]
    assert warned[0].rule == result.steps[1].rule.id


@dataclass(frozen=True, eq=False)
class HalfEllipse:
    """An open line, as no motif draws one yet."""

    faces: int = 1

    def body(self):
        quarter = unit_circle()[:10] * (12.0, 90.0)
        return Outline(np.concatenate([quarter[::-1] * (1, -1), quarter[1:]]), bytes([MOVE, *[CURVE] * 6]))

    def reach(self):
        return 0.0

    def draw(self, ask):
        return (Family(self.body().verbs, self.body().points[None], np.zeros(ask.n, np.int32)),)


def test_half_ellipses_end_to_end_make_one_closed_line():
    run = Progression(count=72, spacing="each begins where the last ended", turn=185.0)
    stage = run.place(start(HalfEllipse()), PLAIN)
    first, last = HalfEllipse().body().points[[0, -1]]
    begins, ends = (apply(by_key(stage), point[None, None])[:, 0] for point in (first, last))
    assert begins[1:] == pytest.approx(ends[:-1], abs=1e-9)
    assert ends[-1] == pytest.approx(begins[0], abs=1e-9)  # 72 times 185 degrees are 37 full turns
    shrinking = edited(run, count=5, across=80.0, along=80.0, turn=0.0)
    stage = shrinking.place(start(HalfEllipse()), PLAIN)
    assert centres(stage)[:, 1] == pytest.approx(np.cumsum([0, 90 * 1.8, 90 * 1.44, 90 * 1.152, 90 * 0.9216]))


def test_what_grows_beyond_all_numbers_is_refused_by_number_and_left_out_otherwise():
    square = Polygon(sides=4, size=10.0)
    grown = evaluated(square, Progression(count=3000, distance=10.0, across=150.0, along=150.0))
    assert "would be too large" in grown.problems[0].sentence
    stage = last_stage(square, Progression(extent="until a size is reached", until=400.0, distance=10.0, across=150.0, along=150.0))
    assert stage.n == 4


@pytest.mark.parametrize("points", [24, 2_400, 48_000])
def test_how_often_a_body_looks_the_same_is_found_however_many_points_it_has(points):
    t = np.radians(np.arange(points) * 360 / points)
    for lobes, times in ((6, 6), (1, 1)):
        far = 10 + np.cos(lobes * t)
        assert symmetry_of(np.stack([far * np.cos(t), far * np.sin(t)], 1)) == times
