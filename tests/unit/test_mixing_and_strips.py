"""Mixing two designs, and strips: every number on its natural scale, both ends exact, every cell a whole design."""

import numpy as np
import pytest

from tests.chains import work_of
from under_lattice.core.errors import InputError
from under_lattice.declare.dials import Angle
from under_lattice.declare.frozen import edited
from under_lattice.explore.dealing import Hand, Terms
from under_lattice.explore.looks import Looks
from under_lattice.explore.mixing import differences, mix
from under_lattice.explore.strips import Strip, kept_axis, listed_axis, read_axis, suggested_axis
from under_lattice.files.storage import to_text
from under_lattice.library import DEMOS, demo
from under_lattice.render.paint import paint
from under_lattice.rules import Ink, Lattice, Polygon, Progression, PushEdges
from under_lattice.rules.shared.anchor import Anchor
from under_lattice.scene.tree import whole_page
from under_lattice.vary.numbers import Varied
from under_lattice.work.edits import set_dial, set_dials
from under_lattice.work.grouping import with_new_ids
from under_lattice.work.model import Kept, Work

SPUN = (Polygon(size=100.0, sides=4), Progression(count=8, turn=6.0, across=90.0, along=90.0), Ink(palette=("#000000", "#FFFFFF")))


def spun(**changes):
    design = work_of(*SPUN).design
    return set_dials(design, "floor", "floor-progression", changes) if changes else design


def test_lengths_mix_by_ratio_angles_the_short_way_counts_whole_colours_in_oklab_and_choices_at_half():
    one = spun(turn=350.0, count=4)
    other = spun(turn=10.0, count=16, stacking="last on top")
    other = set_dial(other, "floor", "floor-motif", "size", 25.0)
    other = set_dial(other, "floor", "floor-ink", "palette", ("#FFFFFF", "#FFFFFF"))
    half = mix(one, other, 0.5).layers[0]
    assert half.rules[0].size == pytest.approx(50.0, abs=1e-9)
    assert half.rules[1].turn % 360 == pytest.approx(0.0)
    assert half.rules[1].count == 8
    assert half.rules[2].palette == ("#636363", "#FFFFFF")  # halfway in Oklab's lightness, no even mean of sRGB
    assert [mix(one, other, share).layers[0].rules[1].stacking for share in (0.49, 0.5)] == ["smaller on top", "last on top"]
    assert mix(one, other, 0.0) is one
    assert mix(one, other, 1.0) is other
    wound = Angle("Arc", "", winds=True)
    assert wound.mixed(360.0, 90.0, 0.5) == 225.0


def test_numbers_that_vary_mix_with_those_that_do_not_end_by_end():
    run = Varied(rule="floor-lattice", channel="column", start=0.0, end=8.0)
    one = work_of(Polygon(), PushEdges(amount=2.0), Lattice()).design
    other = set_dial(one, "floor", "floor-push-edges", "amount", run)
    half = mix(one, other, 0.5).layers[0].rules[1].amount
    assert (half.start, half.end, half.channel) == (1.0, 4.0, "column")
    bent = edited(run, curve="drawn", points=((0, 0), (0.5, 0.2), (1, 1)))
    more = edited(bent, points=((0, 0), (0.5, 0.8), (1, 1)))
    ones = [set_dial(one, "floor", "floor-push-edges", "amount", number) for number in (bent, more)]
    assert mix(ones[0], ones[1], 0.5).layers[0].rules[1].amount.points[1] == pytest.approx((0.5, 0.5))


def test_works_of_another_build_are_refused_and_it_is_said_which_rules_differ():
    one, other = spun(), work_of(Polygon(), Lattice(), Ink()).design
    assert differences(one, one) == ()
    assert differences(one, other) == ("Floor has Progression in one, Lattice in the other",)
    with pytest.raises(InputError, match="Floor has Progression in one, Lattice in the other"):
        mix(one, other, 0.5)
    assert differences(one, edited(one, layers=())) == ("Floor is in one only",)


def test_the_same_build_with_other_ids_mixes_and_stays_whole():
    one = work_of(
        Polygon(size=10.0), PushEdges(amount=Varied(rule="floor-lattice", channel="row", start=0, end=1)), Lattice()
    ).design
    other = edited(one, layers=(with_new_ids(one.layers[0]),))
    other = set_dial(other, other.layers[0].id, other.layers[0].rules[0].id, "size", 40.0)
    for share in (0.25, 0.75):
        mixed = mix(one, other, share)
        assert mixed.layers[0].rules[1].amount.rule == mixed.layers[0].rules[2].id
        assert Looks().look(mixed).copies > 10


@pytest.mark.parametrize("name", list(DEMOS)[::3])
def test_two_states_of_each_demo_work_mix_all_the_way(name):
    design, looks = demo(name).design, Looks()
    hand = Hand(design, Terms(seed=5, colours=True))
    pairs = [(hand.proposed(place, 0).design, hand.proposed(place, 1).design) for place in (2, 3)]
    for one, other in pairs:
        assert differences(one, other) == ()
        for share in (0.0, 0.4, 1.0):
            assert looks.look(mix(one, other, share)).marks > 0


@pytest.mark.parametrize(
    ("order", "words"),
    [
        ("floor.progression.turn=3..9/5", ["3°", "4.5°", "6°", "7.5°", "9°"]),
        ("floor.motif.size=25..100/3 by ratio", ["25 mm", "50 mm", "100 mm"]),
        ("floor.motif.size=2.5cm..10cm/4", ["25 mm", "50 mm", "75 mm", "100 mm"]),
        ("floor.progression.count=2..5/9", ["2", "3", "4", "5"]),
        ("floor.progression.stacking=last on top; first on top", ["last on top", "first on top"]),
        ("floor.progression.across=90; 95; 100", ["90 %", "95 %", "100 %"]),
        ("floor.motif.kind=star; ellipse", ["star", "ellipse"]),
        ("floor.progression.pivot=motif top; motif corner 2", ["motif top", "motif corner 2"]),
        ("floor.ink.palette=#112233, #445566; #AABBCC", ["2 colours", "#AABBCC"]),
    ],
)
def test_an_axis_is_read_from_its_words_and_written_back(order, words):
    axis = read_axis(spun(), order)
    assert [step.words for step in axis.steps] == words
    again = read_axis(spun(), axis.text(spun()))
    assert [step.value for step in again.steps] == [step.value for step in axis.steps]
    strip = Strip(spun(), axis)
    assert len({to_text(Work(design=strip.cell(k))) for k in range(strip.columns)}) == strip.columns


@pytest.mark.parametrize(
    ("order", "said"),
    [
        ("floor.progression.turn", "is not LAYER.RULE.NUMBER=FROM..TO/STEPS"),
        ("floor.progression.turn=3..9/1", "from 2 to 24 steps"),
        ("floor.progression.turn=3..9/900", "from 2 to 24 steps"),
        ("floor.progression.turn=*", "has no list of options"),
        ("floor.progression.stacking=sideways", "is not one of"),
        ("floor.progression.turn=a..9/4", "only numbers"),
        ("floor.progression.wind=3..9/4", "there is no number"),
        ("kept=*", "no version is kept"),
        ("dials.none=1..2/2", "no named dial"),
        ("floor.progression.count=7..7/3", "one value"),
    ],
)
def test_what_is_no_axis_is_refused_in_words(order, said):
    with pytest.raises(InputError, match=said):
        read_axis(spun(), order)


def test_a_strip_of_two_axes_knows_now_swaps_and_closes_in():
    across, down = read_axis(spun(), "floor.progression.turn=2..10/5"), read_axis(spun(), "floor.progression.across=80..100/3")
    strip = Strip(spun(), across, down)
    assert (strip.columns, strip.rows, strip.now) == (5, 3, (2, 1))
    rule = strip.cell(4, 0).layers[0].rules[1]
    assert (rule.turn, rule.across, rule.along) == (10.0, 80.0, 80.0)  # equal sizes stay equal
    assert strip.swapped().cell(0, 4) == strip.cell(4, 0)
    finer = strip.finer(4, 1)
    assert [step.value for step in finer.across.steps] == [8.0, 9.0, 10.0, 11.0, 12.0]
    assert [step.value for step in finer.down.steps] == [85.0, 90.0, 95.0]
    with pytest.raises(InputError, match="both across and down"):
        Strip(spun(), across, across)
    with pytest.raises(InputError, match="at most 240"):
        Strip(
            spun(), read_axis(spun(), "floor.progression.turn=1..24/24"), read_axis(spun(), "floor.progression.across=80..100/24")
        )


def test_kept_versions_make_an_axis_and_the_other_axis_holds_in_each():
    kept = (Kept(name="Near", design=spun(count=3)), Kept(name="Far", design=spun(count=20)))
    strip = Strip(spun(), kept_axis(kept), read_axis(spun(), "floor.progression.turn=1..2/2"))
    cells = [[strip.cell(column, row).layers[0].rules[1] for column in range(2)] for row in range(2)]
    assert [[(rule.count, rule.turn) for rule in row] for row in cells] == [[(3, 1.0), (20, 1.0)], [(3, 2.0), (20, 2.0)]]


def test_a_named_dial_and_an_end_of_a_number_that_varies_are_stepped_too():
    run = Varied(rule="floor-lattice", channel="column", start=0.0, end=8.0)
    design = work_of(Polygon(), PushEdges(amount=run), Lattice()).design
    axis = read_axis(design, "floor.push-edges.amount.end=2..4/3")
    assert [Strip(design, axis).cell(k).layers[0].rules[1].amount.end for k in range(3)] == [2.0, 3.0, 4.0]
    curves = read_axis(design, "floor.push-edges.amount.curve=*")
    assert "smooth" in [step.words for step in curves.steps]
    assert curves.now(design) is not None


def test_what_is_suggested_has_now_in_its_middle():
    design = spun()
    for dial in ("turn", "across", "count", "stacking", "pivot"):
        address = read_axis(design, f"floor.progression.{dial}={'*' if dial in ('stacking', 'pivot') else '5..9/2'}").address
        axis = suggested_axis(design, address)
        assert axis.now(design) is not None, dial
        assert dial in ("stacking", "pivot") or len(axis.steps) == 5


def test_nine_pivots_of_a_whirl_give_nine_pictures_each_the_whole_one_made_small():
    around = ("top left", "top", "top right", "left", "centre", "right", "bottom left", "bottom", "bottom right")
    spots = [Anchor(spot=f"motif {spot}") for spot in around]
    design = spun(turn_about="the pivot", size_about="the pivot")
    address = read_axis(design, "floor.progression.pivot=motif centre").address
    strip, looks = Strip(design, listed_axis(design, address, spots)), Looks()
    small = []
    for k in range(9):
        scene, _ = looks.scene(strip.cell(k))
        own = paint(scene, whole_page(scene, 150), depth="float")
        large = paint(scene, whole_page(scene, 1200), depth="float")
        high = own.shape[0]
        scaled = large[: high * 8].reshape(high, 8, 150, 8, 4).mean((1, 3))
        assert np.abs(scaled - own).mean() < 1 / 255
        small.append(own)
    assert all(np.abs(a - b).mean() > 1 / 255 for k, a in enumerate(small) for b in small[:k])
