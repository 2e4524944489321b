"""Siblings: the same deal from the same arguments, within ranges and locks, and what is shared is worked out once."""

import itertools

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.chains import work_of
from tests.whole_works import designs
from under_lattice.colour.colour import to_oklch
from under_lattice.core.errors import GivenUp, LatticeError
from under_lattice.core.progress import Progress
from under_lattice.declare.dials import Angle, Count, Length, NumberDial, Ratio
from under_lattice.declare.frozen import edited
from under_lattice.declare.moving import Push
from under_lattice.evaluate.cache import Cache
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.explore.dealing import Hand, Lots, Terms, deal, dealt
from under_lattice.explore.harmony import recoloured
from under_lattice.explore.looks import SAME, Looks, fault
from under_lattice.explore.movable import Movables, Scope, plain_motifs
from under_lattice.files.storage import to_text
from under_lattice.library import DEMOS, demo
from under_lattice.rules import Ellipse, Ink, Lattice, Polygon, Progression, PushEdges, Split
from under_lattice.rules.base import EVERY
from under_lattice.vary.numbers import Varied
from under_lattice.work.address import Address
from under_lattice.work.colours import uses_of
from under_lattice.work.edits import lock_layer, set_dial
from under_lattice.work.model import Work
from under_lattice.work.named import add_named

COLUMN = Varied(rule="floor-lattice", channel="column", start=0.0, end=5.0)


def floor():
    return work_of(
        Polygon(size=36.0), Split(), Ink(colours="part"), PushEdges(amount=COLUMN), Lattice(form="hexagons on points")
    ).design


def values(design, scope=None):
    return {one.key: one.value for one in (Movables(design, scope) if scope else Movables(design)).all}


def moved(design, sibling):
    was, now = values(design), values(sibling.design)
    return {key for key in was.keys() & now.keys() if was[key] != now[key]}


def push(strength=0.5, seed=1):
    return Push(strength, Lots(seed, 0, 0).named("x"), 36.0, 300.0)


def test_ends_curve_and_chance_of_a_number_that_varies_move_each_on_its_own():
    keys = values(floor())
    assert {"floor.push-edges.amount.start", "floor.push-edges.amount.end", "floor.push-edges.amount.curve"} <= keys.keys()
    assert "floor.push-edges.amount" not in keys
    chancy = set_dial(floor(), "floor", "floor-push-edges", "amount", edited(COLUMN, channel="noise"))
    assert "floor.push-edges.amount.seed" in values(chancy)
    formula = set_dial(floor(), "floor", "floor-push-edges", "amount", edited(COLUMN, formula="k/2"))
    assert not any("push-edges.amount" in key for key in values(formula))


def test_what_has_no_say_does_not_move():
    keys = values(floor())
    assert "floor.lattice.pitch" not in keys  # it follows from touching
    assert "floor.lattice.columns" not in keys  # as many as cover the sheet
    assert "floor.ink.stroke_width" not in keys
    hidden = edited(floor(), layers=(edited(floor().layers[0], hidden=True),))
    assert not values(hidden)


def test_sizes_across_and_along_move_as_one_until_they_part():
    spun = work_of(Polygon(), Progression(count=9, turn=6.0, across=90.0, along=90.0)).design
    assert "floor.progression.along" not in values(spun)
    for sibling in (Hand(spun, Terms(seed=k)).proposed(7, 0) for k in range(20)):
        rule = sibling.design.layers[0].rules[1]
        assert rule.across == rule.along
    parted = set_dial(spun, "floor", "floor-progression", "along", 95.0)
    assert {"floor.progression.across", "floor.progression.along"} <= values(parted).keys()


def test_a_named_dial_moves_once_and_takes_all_along():
    design = work_of(Polygon(size=10.0), Lattice(), Progression(count=3)).design
    design = add_named(design, "floor", "floor-motif", "size", "Breadth")
    keys = values(design)
    assert "floor.motif.size" not in keys
    one = next(one for one in Movables(design).all if one.key == "dials.breadth")
    after = one.put(design, 14.0)
    assert after.layers[0].rules[0].size == 14.0 == after.dials[0].value
    alone = Scope(chosen=frozenset({one.address}))
    assert [only.key for only in Movables(design, alone).all] == ["dials.breadth"]
    assert Hand(design, Terms(scope=alone)).proposed(3, 0).design.dials[0].value != 10.0
    locked = set_dial(design, "floor", "floor-motif", "locked", ("size",))
    assert next(one for one in Movables(locked).all if one.key == "dials.breadth").held


@pytest.mark.parametrize(
    ("dial", "value", "least", "most"),
    [
        (Length("L", ""), 25.0, 25 * np.exp(-1.0), 25 * np.exp(1.0)),
        (Angle("A", ""), 350.0, 350 - 90, 350 + 90),
        (Ratio("R", "", least=0.0, most=100.0), 50.0, 10.0, 90.0),
        (Count("C", "", least=3, most=200), 12, 4, 33),
    ],
)
def test_values_move_on_their_natural_scales(dial, value, least, most):
    found = [dial.moved(value, push(0.5, seed)) for seed in range(200)]
    assert all(least - 0.1 <= one <= most + 0.1 and one != value for one in found)
    assert min(found) < value < max(found)
    assert dial.moved(value, push(0.02, 3)) != value or not isinstance(dial, Count)  # a count steps by one at least


def test_a_length_of_nothing_moves_by_a_part_of_the_motif_and_a_bounded_ratio_stays_within():
    gap = Length("Gap", "", least=-1e4, most=1e4)
    assert all(0 < abs(gap.moved(0.0, push(0.5, seed))) <= 36 / 4 for seed in range(50))
    opacity = Ratio("Opacity", "")
    assert all(0 <= opacity.moved(100.0, push(1.0, seed)) <= 100 for seed in range(50))


@given(seed=st.integers(0, 9999), reach=st.floats(0, 1), place=st.integers(0, 7), colours=st.booleans())
def test_every_number_of_a_sibling_is_within_its_range_and_words_say_each_change(seed, reach, place, colours):
    sibling = Hand(floor(), Terms(seed=seed, reach=reach, colours=colours)).proposed(place, 0)
    for one in Movables(sibling.design).all:
        assert not isinstance(one.dial, NumberDial) or one.dial.check(one.value) == one.value
    assert sibling.changes
    assert all("→" in change.words() and change.was != change.now for change in sibling.changes)
    assert sibling == Hand(floor(), Terms(seed=seed, reach=reach, colours=colours)).proposed(place, 0)


@given(design=designs(), seed=st.integers(0, 999))
def test_whole_works_made_up_at_random_have_relatives_or_say_that_nothing_moves(design, seed):
    hand = Hand(design, Terms(seed=seed, reach=0.8, colours=True))
    for place in (0, 7):
        sibling = hand.proposed(place, 0)
        assert sibling is None or (sibling.changes and sibling.design != design)


def test_locks_of_dials_rules_and_layers_hold_in_hundreds_of_deals():
    design = demo("entrance-floor").design
    layer, rule = design.chains()[2], design.chains()[2].rules[1]
    design = set_dial(design, layer.id, rule.id, "locked", (EVERY,))
    design = set_dial(design, layer.id, layer.rules[0].id, "locked", ("size", "kind"))
    design = lock_layer(design, design.chains()[0].id, True)
    held = {one.key for one in Movables(design).all if one.held}
    assert any(key.startswith("gulls.") for key in held)
    assert "floor.motif.size" in held
    for seed in range(400):
        hand = Hand(design, Terms(seed=seed, reach=seed % 10 / 9, colours=True))
        assert not moved(design, hand.proposed(seed % 8, 0)) & held
    everything = lock_layer(lock_layer(design, design.chains()[1].id, True), layer.id, True)
    assert deal(everything, Terms(colours=False)) == ()


def test_scope_keeps_to_a_layer_a_rule_or_what_is_chosen():
    design = demo("dyed-towels").design
    sails = next(chain for chain in design.chains() if chain.name == "Sails")
    push_edges = next(rule for rule in sails.rules if rule.kind == "push-edges")
    one = Address(sails.id, push_edges.id, "amount")
    for scope, prefix in (
        (Scope(layer=sails.id), "sails."),
        (Scope(rule=push_edges.id), "sails.push-edges."),
        (Scope(chosen=frozenset({one})), "sails.push-edges.amount."),
    ):
        for seed in range(20):
            sibling = Hand(design, Terms(seed=seed, scope=scope, colours=True)).proposed(7, 0)
            assert sibling is None or all(key.startswith(prefix) for key in moved(design, sibling))
        assert values(design, scope)
        assert all(key.startswith(prefix) for key in values(design, scope))


def test_colours_stay_unless_they_are_free_and_then_keep_order_and_contrast():
    design = demo("lobby-panel").design
    still = [Hand(design, Terms(seed=k, reach=1.0)).proposed(7, 0) for k in range(40)]
    assert all(set(uses_of(one.design)) <= set(uses_of(design)) for one in still)
    colours = ("#101A2B", "#F6D58A", "#EE9C5B", "#C9566B", "#6C5BA7")
    for seed in range(60):
        out = recoloured(colours, push(1.0, seed))
        was, now = [to_oklch(one)[0] for one in colours], [to_oklch(out[one])[0] for one in colours]
        assert [sorted(was).index(one) for one in was] == [sorted(now).index(one) for one in now]
        gaps = [abs(a - b) for a, b in itertools.pairwise(was)], [abs(a - b) for a, b in itertools.pairwise(now)]
        assert all(b >= 0.78 * a - 0.01 for a, b in zip(*gaps, strict=True)), (seed, gaps)


def test_choices_change_only_in_the_far_half():
    design = floor()
    near = [Hand(design, Terms(seed=k, reach=1.0)).proposed(place, 0) for k in range(30) for place in range(4)]
    far = [Hand(design, Terms(seed=k, reach=1.0)).proposed(7, 0) for k in range(30)]
    words = {one.key for one in Movables(design).all if one.is_choice}
    assert not any(moved(design, one) & words for one in near)
    assert any(moved(design, one) & words for one in far)
    assert all(len(one.changes) <= 2 for one in near[::4])
    assert max(len(one.changes) for one in far) > 2


def test_the_same_arguments_deal_the_same_bytes_and_others_deal_others():
    design = floor()
    first, again = deal(design, Terms(seed=4, reach=0.6)), deal(floor(), Terms(seed=4, reach=0.6), Looks(Cache()))
    assert [to_text(Work(design=one.design)) for one in first] == [to_text(Work(design=one.design)) for one in again]
    assert [one.distance for one in first] == sorted(one.distance for one in first)
    assert {to_text(Work(design=one.design)) for one in deal(design, Terms(seed=5, reach=0.6))} != {
        to_text(Work(design=one.design)) for one in first
    }


@pytest.mark.parametrize("name", list(DEMOS)[1::4])
def test_a_deal_of_each_demo_work_has_eight_that_are_whole_and_different(name):
    design, looks = demo(name).design, Looks()
    now, seen = looks.look(design), []
    for sibling in deal(design, Terms(seed=2, reach=0.7, colours=True), looks):
        look = looks.allowing(now).look(sibling.design)
        assert not fault(look, now)
        assert all(look.away(other) >= SAME for other in seen)
        seen.append(look)
    assert len(seen) == 8


def test_a_refused_or_crowded_relative_is_not_looked_at_to_the_end():
    design, looks = floor(), Looks(Cache())
    near = looks.allowing(looks.look(design))
    for changed in (
        set_dial(design, "floor", "floor-motif", "size", 0.5),
        set_dial(design, "floor", "floor-split", "into", "all chords"),
    ):
        try:
            assert near.look(changed).copies < 12_000
        except LatticeError as error:
            assert str(error)
    with pytest.raises(LatticeError, match="copies"):
        near.look(set_dial(design, "floor", "floor-motif", "size", 0.5))


def test_what_eight_relatives_have_in_common_is_worked_out_once():
    design, cache = floor(), Cache()
    counted = []
    for k in range(8):
        evaluator = Evaluator(cache)
        evaluator.design(set_dial(design, "floor", "floor-lattice", "gap", 0.5 * k))
        counted += evaluator.computed
    above = [rule.id for rule in design.layers[0].rules[:4] if rule.family != "paint"]
    assert [counted.count(rule) for rule in above] == [1] * len(above)
    assert counted.count("floor-lattice") == 8


def test_a_deal_can_be_given_up_at_any_time():
    asked = []

    def stop():
        asked.append(1)
        return len(asked) > 30

    found = dealt(floor(), Terms(), Looks(Cache()), Progress(stop))
    with pytest.raises(GivenUp):
        list(found)
    assert len(asked) > 30


def test_motifs_that_are_exchanged_by_chance_are_drawn_from_numbers_alone():
    assert {"polygon", "ellipse", "star"} <= set(plain_motifs())
    assert not {"outline", "lettering", "picture", "layer", "sheet", "tiling"} & set(plain_motifs())
    design = work_of(Ellipse(width=20.0), Lattice()).design
    one = next(one for one in Movables(design).all if one.key == "floor.motif.kind")
    after = one.put(design, "star")
    assert after.layers[0].rules[0].kind == "star"
    assert after.layers[0].rules[0].id == "floor-motif"
