"""Values over the loop: what hangs on the string, what follows a course, and the work at a moment."""

import numpy as np
import pytest

from tests.chains import work_of
from under_lattice.core.errors import InputError
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator, evaluate
from under_lattice.files.storage import from_text, to_text
from under_lattice.library import demo
from under_lattice.loop import hanging, turning
from under_lattice.loop.moment import at_moment, stored, value_at
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.motifs.rectangle import Rectangle
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.vary.motion import Bead, Lag, Motion, Place
from under_lattice.vary.numbers import Varied
from under_lattice.work.carrying import layer_alone, with_layer_of
from under_lattice.work.edits import lock_layer, set_dial
from under_lattice.work.grouping import duplicated
from under_lattice.work.model import Design, Loop, Work
from under_lattice.work.named import add_named
from under_lattice.work.sheets import set_unit

ANY = (Place(dial="any"),)


def hung(*beads, **how):
    return Motion(id="one", places=ANY, beads=tuple(Bead(time=t, value=v) for t, v in beads), **how)


def still(name):
    """A demo work in which nothing moves."""
    return edited(demo(name).design, motions=(), loop=Loop())


def place(design, layer, kind, dial, end=""):
    found = design.tree.by_id[layer] if layer in design.tree.by_id else next(one for one in design.chains() if one.handle == layer)
    rule = next(one for one in found.every_rule if one.kind == kind)
    return Place(layer=found.id, rule=rule.id, dial=dial, end=end)


def test_ten_to_ninety_over_eight_seconds_is_forty_at_three():
    assert hung((0, 10), (1, 90)).numbers(3 / 8, False) == pytest.approx(40)


def test_one_turn_in_six_seconds_is_at_105_degrees_in_picture_42():
    turn, loop = hung((0, 0), (1, 360)), Loop(seconds=6, rate=24)
    assert loop.pictures == 144
    assert turn.numbers(42 / loop.pictures, True) == pytest.approx(105)
    assert turn.numbers(144 / 144, True) % 360 == pytest.approx(0)


def test_there_and_back_in_five_seconds():
    course = hung((0, 0), (0.5, 1), course="there and back")
    assert course.numbers(np.array([3 / 5, 2.5 / 5]), True) == pytest.approx([0.8, 1.0])


@pytest.mark.parametrize(("way", "halfway"), [("even", 50), ("gentle", 50), ("hold", 0)])
def test_each_way_from_bead_to_bead(way, halfway):
    motion = Motion(id="one", places=ANY, beads=(Bead(time=0.2, value=0, way=way), Bead(time=0.6, value=100)))
    assert motion.numbers(0.4, False) == pytest.approx(halfway)
    assert motion.numbers(np.array([0.0, 0.2, 0.6, 1.0]), False) == pytest.approx([0, 0, 100, 100])
    if way == "gentle":
        assert motion.numbers(0.3, False) == pytest.approx(100 * (3 / 16 - 2 / 64))


def test_a_drawn_way_goes_through_its_points():
    bead = Bead(time=0.0, value=0, way="drawn", points=((0, 0), (0.25, 0.8), (1, 1)))
    motion = Motion(id="one", places=ANY, beads=(bead, Bead(time=1.0, value=10)))
    assert motion.numbers(np.array([0.25, 0.125]), False) == pytest.approx([8, 4])


def test_a_closed_string_leads_from_its_last_bead_to_its_first():
    motion = hung((0.25, 10), (0.75, 90))
    assert motion.numbers(np.array([0.0, 0.25, 0.5, 0.75, 1.0, 1.25, -0.25]), True) == pytest.approx([50, 10, 50, 90, 50, 10, 90])


def test_further_rounds_go_on_from_the_end():
    assert hung((0, 10), (1, 70)).numbers(np.array([-0.5, 0.5, 1.5]), True) == pytest.approx([-20, 40, 100])


@pytest.mark.parametrize("course", ["there and back", "swing", "pulse", "wander"])
@pytest.mark.parametrize("times", [1, 3])
def test_courses_stay_between_their_ends_and_come_back(course, times):
    motion = hung((0, -5), (0.5, 20), course=course, times=times, width=0.4, seed=9)
    values = motion.numbers(np.linspace(0, 1, 301), True)
    assert -5 <= values.min() < values.max() <= 20
    assert values[0] == pytest.approx(values[-1]) == pytest.approx(-5)
    assert np.abs(np.diff(values)).max() < 25 * times * 0.06  # nothing jumps


def test_two_values_at_one_time_are_refused():
    with pytest.raises(ValueError, match="at one time"):
        hung((0.5, 1), (0.5, 2))


def test_what_does_not_move_stays_the_same_object():
    design = still("seed-clock")
    hands = place(design, "hands", "layer", "place_turn")
    design = hanging.begin_motion(design, hands, "whole turn")
    then = at_moment(design, 0.25)
    moved = [a.id for a, b in zip(design.layers, then.layers, strict=True) if a is not b]
    assert moved == [hands.layer]
    assert stored(then, hands) == stored(design, hands) + 90
    evaluator = Evaluator()
    evaluator.design(design)
    evaluator.design(then)
    rules = {rule.id for layer in then.layers if layer.id == hands.layer for rule in layer.every_rule}
    assert set(evaluator.computed) <= rules


def test_a_work_in_which_nothing_moves_is_itself():
    design = still("entrance-floor")
    assert at_moment(design, 0.7) is design


def moving_demo(name, layer, kind, dial, *beads):
    design = still(name)
    spot = place(design, layer, kind, dial)
    for time, value in beads:
        design = hanging.hang(design, spot, time, value)
    return design, spot


@pytest.mark.parametrize(
    ("dial", "other", "halfway"),
    [
        ("turn", 20.0, 13.0),  # it was 6
        ("count", 20, 53),  # 86
        ("stacking", "last on top", "smaller on top"),  # goes over at its time
    ],
)
def test_dials_of_every_kind_move(dial, other, halfway):
    design, spot = moving_demo("festival-poster", "whirls", "progression", dial, (0.5, other))
    assert stored(at_moment(design, 0.25), spot) == halfway
    assert stored(at_moment(design, 0.5), spot) == other
    assert stored(at_moment(design, 0.0), spot) == stored(still("festival-poster"), spot)


def test_points_and_colours_move():
    design = still("festival-poster")
    ink, pivot = place(design, "whirls", "ink", "palette"), place(design, "whirls", "mirror", "pivot")
    design = hanging.hang(design, ink, 0.5, ("#FFFFFF", "#000000"))
    design = hanging.hang(design, pivot, 0.5, edited(stored(design, pivot), dx=10.0))
    then = at_moment(design, 0.25)
    assert stored(then, pivot).dx == pytest.approx(5)
    first, second = stored(then, ink)
    assert "#60" < first < "#A0"
    assert "#50" < second < "#A0"
    assert stored(at_moment(design, 0.5), ink) == ("#FFFFFF", "#000000")
    opened = from_text(to_text(Work(design=design)))
    assert opened.design == design
    assert at_moment(opened.design, 0.25) == then


def test_the_end_of_a_number_that_varies_moves_alone():
    design = still("tide-rings")
    spot = place(design, "drops", "rosette", "count", "end")
    design = hanging.hang(design, spot, 0.5, 90.0)
    number = at_moment(design, 0.25).tree.by_id[spot.layer].rule(spot.rule).count
    assert (number.start, number.end) == (6.0, 72.0)
    with pytest.raises(InputError, match="move its start or its end"):
        hanging.hang(design, edited(spot, end=""), 0.5, 9)


def test_a_named_dial_moves_all_that_follow_it():
    design = still("entrance-floor")
    spot = place(design, "floor", "lattice", "gap")
    design = add_named(design, spot.layer, spot.rule, "gap", "Joint")
    joint = Place(dial=design.dials[0].id)
    design = hanging.hang(design, joint, 0.5, stored(design, joint) + 4)
    assert stored(at_moment(design, 0.25), spot) == pytest.approx(stored(design, spot) + 2)
    assert at_moment(design, 0.25).dials[0].value == pytest.approx(design.dials[0].value + 2)


def test_a_locked_layer_moves_all_the_same():
    design, spot = moving_demo("festival-poster", "whirls", "progression", "turn", (0.5, 20.0))
    assert stored(at_moment(lock_layer(design, spot.layer, True), 0.5), spot) == 20


def test_what_a_motion_moved_and_is_gone_is_passed_over():
    design, spot = moving_demo("festival-poster", "whirls", "progression", "turn", (0.5, 20.0))
    gone = edited(spot, rule="no more")
    design = edited(design, motions=tuple(edited(one, places=(gone, spot)) for one in design.motions))
    assert stored(at_moment(design, 0.5), spot) == 20
    assert hanging.told(design, gone).words == "what it moved is gone"


def test_values_beyond_the_range_of_a_dial_are_held():
    design, spot = moving_demo("festival-poster", "whirls", "layer", "opacity", (0.5, 0.0))
    low = design.motions[0].beads[1]
    design = edited(design, motions=(edited(design.motions[0], beads=(design.motions[0].beads[0], edited(low, value=-100.0))),))
    assert stored(at_moment(design, 0.5), spot) == 0


def waves(count=12):
    """A row of squares that grow one after the other."""
    design = work_of(
        Rectangle(width=10.0, height=10.0), Lattice(form="squares", extent="by number", rows=1, columns=count), Adjust()
    ).design
    chain = design.chains()[0]
    lattice, adjust = chain.rules[1:3]
    design = hanging.hang(design, Place(layer=chain.id, rule=adjust.id, dial="across"), 0.5, 50.0)
    return hanging.set_lag(design, design.motions[0].id, Lag(rule=lattice.id, channel="column")), chain


def sizes_at(design, chain, time):
    result = evaluate(at_moment(design, time))[chain.id]
    stage = result.last.stage
    order = np.argsort(stage.xform[:, 0, 2])
    return stage.xform[order, 0, 0]


def test_in_a_wave_each_copy_is_where_the_first_was_a_twelfth_before():
    design, chain = waves()
    for time in (0.0, 0.3, 0.71):
        sizes = sizes_at(design, chain, time)
        first = [sizes_at(design, chain, (time - k / 12) % 1.0)[0] for k in range(12)]
        assert sizes == pytest.approx(first)
    assert np.ptp(sizes_at(design, chain, 0.0)) > 0.4


@pytest.mark.parametrize("channel", ["step", "row", "distance", "chance", "x", "noise"])
def test_waves_by_other_readings_close(channel):
    design, chain = waves()
    lag = edited(design.motions[0].lag, channel=channel)
    design = edited(design, motions=(edited(design.motions[0], lag=lag),))
    assert sizes_at(design, chain, 0.0) == pytest.approx(sizes_at(design, chain, 1.0))


def test_a_wave_needs_a_number_that_can_vary():
    design, _ = moving_demo("festival-poster", "whirls", "ink", "palette", (0.5, ("#FFFFFF", "#000000")))
    with pytest.raises(InputError, match="a wave needs a number that can vary"):
        hanging.set_lag(design, design.motions[0].id, Lag(rule="x"))


def test_endless_zoom_each_copy_stands_where_the_next_stood():
    design, spot = moving_demo("festival-poster", "whirls", "progression", "begins", (1.0, -300.0))

    def places(time):
        result = evaluate(at_moment(design, time))[spot.layer]
        stage = next(step.stage for step in result.steps if step.rule.id == spot.rule)
        return stage.xform[np.argsort(stage.channels["step"])]

    assert np.array_equal(places(1.0)[:-1], places(0.0)[1:])
    assert np.abs(places(0.5)[:-1] - places(0.0)[1:]).max() > 0.01


def test_formulas_know_the_time():
    _, chain = waves()
    lattice, adjust = chain.rules[1:3]
    number = Varied(rule=lattice.id, channel="step", start=100, end=100, formula="100 + 100*t + 10*s")
    design = set_dial(edited(Design(), layers=(chain,)), chain.id, adjust.id, "across", number)
    sizes = [Evaluator().design(edited(design, loop=Loop(seconds=4)), time=t)[chain.id].last.stage.xform[0, 0, 0] for t in (0, 0.5)]
    assert sizes == pytest.approx([1.0, 1.7])


def test_a_dial_turned_in_other_ways_takes_its_motion_along():
    design, spot = moving_demo("festival-poster", "whirls", "progression", "turn", (0.5, 20.0))
    design = turning.in_step(set_dial(design, spot.layer, spot.rule, "turn", 10.0))
    assert [bead.value for bead in design.motions[0].beads] == pytest.approx([10, 24])
    assert stored(at_moment(design, 0.5), spot) == pytest.approx(24)


def test_one_motion_of_several_layers_moves_each_from_where_it_stands():
    design = still("seed-clock")
    first, second = (place(design, name, "layer", "place_turn") for name in ("hands", "hours"))
    design = set_dial(design, second.layer, second.rule, "place_turn", 30.0)
    design = hanging.begin_motion(design, first, "whole turn")
    design = hanging.link(design, design.motions[0].id, second)
    then = at_moment(design, 0.25)
    assert (stored(then, first), stored(then, second)) == (90, 120)
    design = hanging.hang(design, second, 0.5, 330.0)  # typed where the second stands
    assert value_at(design, design.motions[0], first, 0.5) == pytest.approx(300)
    design = hanging.unlink(design, first)
    assert stored(at_moment(design, 0.5), second) == pytest.approx(330)
    assert stored(at_moment(design, 0.5), first) == 0


def test_what_is_turned_as_one_moves_as_one_while_it_is_equal():
    design = still("festival-poster")
    spot = place(design, "whirls", "progression", "across")
    both = hanging.as_one_with(design, spot)
    assert [one.dial for one in both] == ["along"]
    moved = hanging.begin_motion(design, spot, "swing", both)
    then = at_moment(moved, 0.5)
    assert stored(then, spot) == stored(then, both[0]) != stored(design, spot)
    assert hanging.title_of(moved, moved.motions[0]).endswith(", size")
    apart = set_dial(design, spot.layer, spot.rule, "along", 50.0)
    assert hanging.as_one_with(apart, spot) == ()
    opacity = place(design, "whirls", "layer", "opacity")
    assert hanging.as_one_with(design, opacity) == ()
    more = hanging.link(moved, moved.motions[0].id, opacity)
    assert hanging.title_of(more, more.motions[0]).endswith(", size and 1 more")
    with pytest.raises(InputError, match="moves already"):
        hanging.link(more, more.motions[0].id, both[0])


def test_a_bead_at_the_beginning_takes_all_places_along():
    design = still("seed-clock")
    first, second = (place(design, name, "layer", "place_x") for name in ("hands", "hours"))
    design = hanging.hang(design, first, 0.5, 8.0)
    design = hanging.link(design, design.motions[0].id, second)
    design = hanging.hang(design, first, 0.0, 3.0)
    assert (stored(design, first), stored(design, second)) == (3, 3)


def test_beads_are_moved_stretched_copied_and_taken_off():
    design, spot = moving_demo("festival-poster", "whirls", "progression", "turn", (0.2, 20.0), (0.4, 8.0))
    key = design.motions[0].id

    def times(one):
        return pytest.approx([bead.time for bead in one.motions[0].beads])

    assert times(hanging.stretch(design, key, (1, 2), 2.0, 0.1)) == [0, 0.3, 0.7]
    assert times(hanging.copy_beads(design, key, (1, 2), 0.5)) == [0, 0.2, 0.4, 0.7, 0.9]
    with pytest.raises(InputError, match="beyond the string"):
        hanging.stretch(design, key, (1, 2), 5.0)
    with pytest.raises(InputError, match="at one time"):
        hanging.set_bead(design, key, 1, time=0.4)
    with pytest.raises(InputError, match="is allowed"):
        hanging.set_bead(design, key, 1, value=1e9)
    assert not hanging.drop_beads(design, key, (0, 1, 2)).motions
    assert hanging.remove_motion(design, key, 0.2).tree.by_id[spot.layer].rule(spot.rule).turn == 20


def test_another_unit_of_length_leaves_what_moves_as_it_is():
    design, spot = moving_demo("festival-poster", "whirls", "lattice", "pitch", (0.5, 120.0))
    inches = set_unit(design, "in")
    assert stored(at_moment(inches, 0.25), spot) * 25.4 == pytest.approx(stored(at_moment(design, 0.25), spot))
    assert turning.in_step(inches) == inches


def test_a_file_holds_what_moves_and_nothing_where_nothing_does():
    plain = Work(design=still("festival-poster"))
    assert '"motions"' not in to_text(plain)
    design, _ = moving_demo("festival-poster", "whirls", "progression", "turn", (0.5, 20.0))
    work = Work(design=edited(design, loop=Loop(seconds=3, rate=30, closed=False)))
    assert from_text(to_text(work)).design == work.design


def test_bounds_of_the_string_are_said():
    for wrong in ({"seconds": 1e6}, {"rate": 0}, {"begin": 0.5, "end": 0.5}):
        with pytest.raises(InputError):
            edited(Loop(), **wrong)


def test_at_a_moment_nothing_moves_any_more():
    design, spot = moving_demo("festival-poster", "whirls", "progression", "turn", (0.5, 20.0))
    frozen = at_moment(design, 0.5)
    assert not frozen.motions
    assert at_moment(frozen, 0.1) is frozen
    assert stored(frozen, spot) == 20


def test_copies_of_layers_move_along_and_waves_run_through_each():
    design = still("seed-clock")
    hands = place(design, "hands", "layer", "place_turn")
    design = hanging.begin_motion(design, hands, "whole turn")
    design, copy = duplicated(design, hands.layer)
    assert [one.layer for one in design.motions[0].places] == [hands.layer, copy]
    assert stored(at_moment(design, 0.25), design.motions[0].places[1]) == 90

    design, chain = waves()
    design, copy = duplicated(design, chain.id)
    assert len(design.motions) == 2
    assert design.motions[1].lag.rule in {rule.id for rule in design.chain(copy).rules}
    assert sizes_at(design, design.chain(copy), 0.3) == pytest.approx(sizes_at(design, chain, 0.3))


def test_a_layer_carried_to_another_work_moves_there_too():
    design, chain = waves()
    there, fresh = with_layer_of(still("seed-clock"), layer_alone(design, chain.id))
    assert [one.layer for one in there.motions[0].places] == [fresh]
    assert sizes_at(there, there.chain(fresh), 0.3) == pytest.approx(sizes_at(design, chain, 0.3))


def test_turned_at_a_moment_a_dial_hangs_there():
    design, spot = moving_demo("festival-poster", "whirls", "progression", "turn", (0.5, 20.0))
    after = turning.turned_at(design, set_dial(design, spot.layer, spot.rule, "turn", 12.0), 0.25)
    assert [(bead.time, bead.value) for bead in after.motions[0].beads] == [(0, 6), (0.25, 12), (0.5, 20)]
    assert stored(after, spot) == 6
    at_start = turning.turned_at(design, set_dial(design, spot.layer, spot.rule, "turn", 7.0), 0.0)
    assert [bead.value for bead in at_start.motions[0].beads] == [7, 20]
    other = set_dial(design, spot.layer, spot.rule, "count", 20)
    assert turning.turned_at(design, other, 0.25) == other
