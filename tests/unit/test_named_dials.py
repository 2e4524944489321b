"""Named dials: shared by dials, by ends of numbers that vary and by formulas; refused where one that follows does not allow it."""

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.chains import work_of
from under_lattice.core.errors import InputError
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.files.storage import from_text, to_text
from under_lattice.many.settings import apply_setting
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.rosette import Rosette
from under_lattice.vary.numbers import Varied
from under_lattice.vary.walk import Walk
from under_lattice.work.model import Work
from under_lattice.work.named import (
    add_named,
    followers,
    named_in,
    remove_named,
    rename_named,
    set_named,
    tie,
    tie_of,
    untie,
)
from under_lattice.work.sheets import set_unit
from under_lattice.work.turning import turned_together

LAYER = "floor"


def design(*rules):
    return work_of(Polygon(size=10.0), *rules or (Rosette(count=6, radius=40.0),)).design


def rule(found, handle):
    return next(one for one in found.layers[0].rules if one.handle == handle)


def over(repeat):
    """The walk over the copies of a repeat by itself."""
    return Walk(Evaluator().design(design(repeat))[LAYER].steps[-1].stage)


@pytest.fixture
def swell():
    """A design whose motif's size and ring's radius follow one named dial."""
    made = add_named(design(), LAYER, "floor-motif", "size", "Swell of the sea")
    return tie(made, LAYER, "floor-rosette", "radius", made.dials[0].id)


def test_one_dial_turns_all_that_follow_it(swell):
    assert swell.dials[0].value == 10.0
    assert rule(swell, "rosette").radius == 10.0
    turned = set_named(swell, swell.dials[0].id, 25.0)
    assert (rule(turned, "motif").size, rule(turned, "rosette").radius) == (25.0, 25.0)
    assert followers(turned, turned.dials[0].id) == ["Floor, Motif: Size", "Floor, Rosette: Radius"]


def test_turning_a_dial_that_follows_turns_the_others(swell):
    turned = turned_together(swell, LAYER, "floor-rosette", {"radius": 33.0})
    assert turned.dials[0].value == 33.0
    assert rule(turned, "motif").size == 33.0
    free = untie(turned, LAYER, "floor-rosette", "radius")
    alone = turned_together(free, LAYER, "floor-rosette", {"radius": 50.0})
    assert (rule(alone, "motif").size, rule(alone, "rosette").radius) == (33.0, 50.0)


def test_a_value_one_of_them_refuses_is_refused_whole_and_says_where(swell):
    with pytest.raises(InputError, match=r"Swell of the sea turns Motif of Floor: .*allowed"):
        set_named(swell, swell.dials[0].id, -5.0)


def test_only_dials_of_one_kind_are_tied(swell):
    with pytest.raises(InputError, match="is a length, Copies is a count"):
        tie(swell, LAYER, "floor-rosette", "count", swell.dials[0].id)


def test_a_new_name_changes_nothing_else_and_the_file_comes_back_the_same(swell):
    renamed = rename_named(swell, swell.dials[0].id, "Tide")
    assert renamed.dials[0].handle == "swell_of_the_sea"
    assert renamed.layers == swell.layers
    work = Work(design=renamed)
    assert from_text(to_text(work, None)).design == renamed


def test_a_file_changed_by_hand_follows_its_dials_when_opened(swell):
    data = json.loads(to_text(Work(design=swell), None))
    data["design"]["dials"][0]["value"] = 18.0
    opened = from_text(json.dumps(data)).design
    assert (rule(opened, "motif").size, rule(opened, "rosette").radius) == (18.0, 18.0)


def test_an_end_of_a_number_that_varies_follows():
    made = design(Lattice(), Rosette(count=6, radius=Varied(rule="floor-lattice", channel="row", start=5.0, end=40.0)))
    made = add_named(made, LAYER, "floor-rosette", "radius.end", "Reach")
    made = set_named(made, made.dials[0].id, 60.0)
    assert (rule(made, "rosette").radius.start, rule(made, "rosette").radius.end) == (5.0, 60.0)
    stopped = turned_together(made, LAYER, "floor-rosette", {"radius": 12.0})  # no longer varies: its end cannot follow
    assert tie_of(rule(stopped, "rosette"), "radius.end") == ""


def test_formulas_read_named_dials_and_follow_them():
    made = add_named(design(Lattice(), Rosette(count=6, radius=40.0)), LAYER, "floor-motif", "size", "Swell")
    text = "swell * 2 + k"
    number = Varied(rule="floor-lattice", channel="step", start=20.0, end=20.0, named=named_in(made, text), formula=text)
    made = turned_together(made, LAYER, "floor-rosette", {"radius": number})
    turned = set_named(made, made.dials[0].id, 15.0)
    assert dict(rule(turned, "rosette").radius.named) == {"swell": 15.0}
    assert rule(turned, "rosette").radius.ends(over(Lattice(form="squares", extent="by number", columns=11, rows=1))) == (
        30.0,
        40.0,
    )
    inches = set_unit(turned, "in")
    assert rule(inches, "rosette").radius.ends(
        over(Lattice(form="squares", extent="by number", columns=11, rows=1))
    ) == pytest.approx((30.0 / 25.4, 40.0 / 25.4))  # the formula keeps its unit
    further = set_named(inches, inches.dials[0].id, 20.0 / 25.4)
    assert rule(further, "rosette").radius.ends()[0] == pytest.approx(40.0 / 25.4)
    assert inches.dials[0].value == pytest.approx(15.0 / 25.4)
    with pytest.raises(InputError, match=r"not known here.*swell"):
        named_in(made, "swelling + 1")


def test_a_removed_dial_leaves_the_values(swell):
    gone = remove_named(swell, swell.dials[0].id)
    assert gone.dials == ()
    assert rule(gone, "rosette").radius == 10.0
    assert all(not one.ties for one in gone.layers[0].rules)


def test_orders_turn_named_dials(swell):
    assert rule(apply_setting(swell, "dials.swell_of_the_sea=2 cm"), "rosette").radius == 20.0
    with pytest.raises(InputError, match="there is: swell_of_the_sea"):
        apply_setting(swell, "dials.swell=3")


@given(st.text(max_size=40))
def test_any_name_gives_a_handle_that_formulas_know(name):
    made = add_named(design(), LAYER, "floor-motif", "size", name)
    assert named_in(made, f"{made.dials[0].handle} + 1") == ((made.dials[0].handle, 10.0),)
