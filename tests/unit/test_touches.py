"""Copies changed by hand: found by their places in the repeats, changed about their middle, coloured, left out."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.chains import centres, evaluated, last_stage, work_of
from under_lattice.core.errors import InputError
from under_lattice.evaluate.evaluator import Evaluator, evaluate
from under_lattice.files.storage import from_text, to_text
from under_lattice.library import DEMOS
from under_lattice.measure.facts import measure
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.copies.leave_out import LeaveOut
from under_lattice.rules.copies.touch_up import TouchUp
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.rosette import Rosette
from under_lattice.rules.shared.touches import Touch, picked, places_of, read_touches
from under_lattice.work import edits
from under_lattice.work.grouping import with_new_ids
from under_lattice.work.model import Sheet
from under_lattice.work.sheets import set_unit

TILE = Polygon(sides=4, size=10.0)


def grid(columns=5, rows=3):
    return Lattice(form="squares", spacing="free", pitch=20.0, row_pitch=20.0, extent="by number", columns=columns, rows=rows)


def touch(row, column, **changes):
    return Touch(at=(("floor-lattice", row, column),), **changes)


def test_one_copy_is_moved_turned_and_sized_about_its_own_middle_and_no_other():
    plain = last_stage(TILE, grid())
    stage = last_stage(TILE, grid(), TouchUp(picks=(touch(1, -2, x=3.0, y=4.0, turn=30.0, size=50.0),)))
    changed = np.flatnonzero(np.abs(stage.xform - plain.xform).max((1, 2)) > 1e-12)
    (k,) = changed
    assert tuple(plain.key[k]) == (1, -2)
    assert np.allclose(centres(stage)[k] - centres(plain)[k], (3, 4))
    assert np.linalg.det(stage.xform[k, :, :2]) == pytest.approx(0.25)
    assert np.degrees(np.arctan2(stage.xform[k, 1, 0], stage.xform[k, 0, 0])) == pytest.approx(30.0)


@given(st.integers(5, 12), st.integers(3, 9))
def test_more_copies_never_reshuffle_touch_ups(columns, rows):
    by_hand = TouchUp(picks=(touch(1, 1, x=7.0), touch(-1, 0, y=2.0)))
    few = last_stage(TILE, grid(), by_hand)
    many = last_stage(TILE, grid(columns, rows), by_hand)

    def moved(stage):
        shift = centres(stage) - centres(stage.above)
        return {tuple(stage.key[k]): tuple(shift[k]) for k in np.flatnonzero(np.abs(shift).max(1) > 1e-9)}

    assert moved(few).keys() == moved(many).keys() == {(1, 1), (-1, 0)}


def test_a_place_in_every_copy_of_the_wider_repeat_or_a_wider_copy_as_one():
    ring = Rosette(count=6, radius=8.0)
    inner = TouchUp(picks=(Touch(at=(("floor-rosette", 0, 2),), size=50.0),))
    stage = last_stage(Ellipse(width=2.0), ring, grid(), inner)
    small = np.isclose(np.abs(np.linalg.det(stage.xform[:, :, :2])), 0.25)
    assert small.sum() == 15
    whole = TouchUp(picks=(touch(0, 0, turn=90.0),))
    before = last_stage(Ellipse(width=2.0), ring, grid())
    after = last_stage(Ellipse(width=2.0), ring, grid(), whole)
    mine = picked(before, whole.picks[0])
    assert mine.sum() == 6
    middle = centres(before)[mine].mean(0)
    assert np.allclose(centres(after)[mine].mean(0), middle)  # turned as one, about the middle of the ring
    x, y = (centres(before)[mine] - middle).T
    assert np.allclose(centres(after)[mine] - middle, np.stack([-y, x], 1))


def test_every_copy_of_every_demo_work_has_a_name_of_its_own_that_finds_it_again():
    for make in DEMOS.values():
        for result in evaluate(make()).values():
            stage = result.last.stage
            for copy in range(0, stage.n, max(1, stage.n // 7)):
                assert np.flatnonzero(picked(stage, Touch(at=places_of(stage, copy)))).tolist() == [copy]


def test_a_colour_by_hand_covers_ramps_and_leaves_the_rest():
    result = evaluated(TILE, grid(), Ink(palette=("#102030",)), TouchUp(picks=(touch(0, 0),), colour="#FF0000"))
    (coat,) = Evaluator().picture(result).coats
    red = (coat.fill[:, :3] == (255, 0, 0)).all(1)
    assert red.sum() == 1
    assert tuple(result.last.stage.key[red][0]) == (0, 0)
    shaded = Ink(inside="straight ramp", palette=("#102030", "#FFFFFF"))
    ramp = evaluated(TILE, grid(), shaded, TouchUp(picks=(touch(0, 0),), colour="#FF0000"))
    coats = Evaluator().picture(ramp).coats
    assert coats[-1].paint is None
    assert (coats[-1].fill[:, 3] > 0).sum() == 1


def test_copies_are_left_out_by_hand_and_rules_below_see_through():
    stage = last_stage(TILE, grid(), LeaveOut(which="by hand", picks=(touch(0, 1), touch(1, 1))))
    assert stage.n == 13
    assert not {(0, 1), (1, 1)} & {tuple(key) for key in stage.key}
    cover = Lattice(form="squares", spacing="free", pitch=40.0, row_pitch=40.0)
    turned = last_stage(TILE, cover, LeaveOut(which="by hand", picks=(touch(0, 1),)), Adjust(turn=45.0))
    plain = last_stage(TILE, cover, Adjust(turn=45.0))
    assert turned.n == plain.n - 1  # the cover still reaches the corners of the sheet


def test_what_is_not_there_now_is_said_and_comes_back():
    gone = last_stage(TILE, grid(3, 3), TouchUp(picks=(touch(0, 0, x=1.0), touch(0, 2, x=1.0))))
    assert gone.found.said["picks"] == "1 of 2 not there now"
    assert last_stage(TILE, grid(5, 3), TouchUp(picks=(touch(0, 0), touch(0, 2)))).found.said["picks"] == ""


def test_picks_follow_their_rules_into_a_copied_layer_and_through_a_file():
    work = work_of(TILE, grid(), TouchUp(picks=(touch(0, 1, x=2.5),)))
    assert from_text(to_text(work, None)).design == work.design
    copied = with_new_ids(work.design.layers[0])
    assert copied.rules[2].picks[0].at[0][0] == copied.rules[1].id
    inches = set_unit(work.design, "cm")
    assert inches.layers[0].rules[2].picks[0].x == pytest.approx(0.25)


def test_a_copy_is_added_to_the_rule_at_the_end_and_refused_twice():
    design = work_of(TILE, grid()).design
    once = edits.add_pick(design, "floor", TouchUp, touch(0, 0))
    twice = edits.add_pick(once, "floor", TouchUp, touch(0, 1))
    assert len(twice.layers[0].rules) == 3
    assert len(twice.layers[0].rules[-1].picks) == 2
    with pytest.raises(InputError, match="already"):
        edits.add_pick(twice, "floor", TouchUp, touch(0, 1))


def test_touches_are_read_from_text_or_refused_with_what_is_allowed():
    ids = {"lattice": "L", "rosette": "R"}
    one, two = read_touches("lattice 0, -2 / rosette 0, 4 = 2, 3.5, 15, 80; rosette 0, 1", ids)
    assert one == Touch(at=(("L", 0, -2), ("R", 0, 4)), x=2.0, y=3.5, turn=15.0, size=80.0)
    assert two.at == (("R", 0, 1),)
    bad = {"lattice": "is not RULE", "mirror 0, 1": "there is: lattice, rosette", "lattice 0, 0 = 1, 2, 3, 0": "size from"}
    for text, why in bad.items():
        with pytest.raises(InputError, match=why):
            read_touches(text, ids)


def test_a_colour_alone_is_a_change_and_no_pick_is_told():
    def warned(*rules):
        return [warn.sentence for warn in measure(evaluated(TILE, grid(), Ink(), *rules), Evaluator(), Sheet()).warnings]

    assert warned(TouchUp(picks=(touch(0, 0),), colour="#FF0000")) == []
    assert warned(TouchUp(colour="")) == []  # it comes so, and its card says it
    assert TouchUp(colour="").key_line("mm") == "no copy is picked yet"
    assert warned(TouchUp(picks=(touch(0, 0),))) == []
