"""The handles of a ramp stand where its stops lie in the picture, and a drag makes the dials that put them there."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.chains import evaluated, last_stage
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.geometry.affine import IDENTITY, apply, compose, inverse
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Drag
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.motifs.rectangle import Rectangle
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.paints.ramp_handles import CENTRE, END
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.rosette import Rosette

FORMS = ("straight ramp", "round ramp", "turning ramp")
ABOVE = {
    "one": (Rectangle(width=40.0, height=24.0),),
    "lattice": (Polygon(size=20.0), Lattice(form="hexagons on flats", extent="by number", columns=4, rows=3, turn=20.0)),
    "rosette": (Rectangle(width=30.0, height=18.0), Rosette(count=7, radius=50.0)),
}
INKS = st.builds(
    Ink,
    colours=st.just("one colour"),
    inside=st.sampled_from(FORMS),
    ramp_of=st.sampled_from(["each shape", "all copies", "the sheet"]),
    ramp_turn=st.sampled_from(["turns with it", "stays upright"]),
    ramp_angle=st.floats(-175, 175),
    ramp_across=st.floats(0, 100),
    ramp_down=st.floats(0, 100),
    ramp_reach=st.floats(20, 300),
)


def seen(ink, name):
    """The ink's handles, and its coat and marks."""
    result = evaluated(*ABOVE[name], ink)
    assert not result.problems
    stage, ground = result.last.stage, Ground(IDENTITY, result.known)
    return ink.handles(stage, stage, ground, "mm"), stage, ground, Evaluator().picture(result)


@given(ink=INKS, name=st.sampled_from(list(ABOVE)))
def test_they_stand_where_the_picture_has_its_stops(ink, name):
    handles, _, _, picture = seen(ink, name)
    coat = picture.coats[-1]
    place = picture.marks.xform[0] if coat.seat is None else coat.seat[0]
    at = {one.name: apply(compose(coat.paint.to_ramp[None], inverse(place[None]))[0], one.at[None])[0] for one in handles.handles}
    middle, end = {
        "straight ramp": ((0.5, 0.0), (1.0, 0.0)),
        "round ramp": ((0.0, 0.0), (1.0, 0.0)),
        "turning ramp": ((0.0, 0.0), (1.0, 0.0)),
    }[ink.inside]
    assert at[CENTRE][0] == pytest.approx(middle[0], abs=1e-9)
    assert at[END][0] == pytest.approx(end[0], abs=1e-9)
    if ink.inside != "straight ramp":
        assert at[END][1] == pytest.approx(0.0, abs=1e-9)


@given(ink=INKS, name=st.sampled_from(list(ABOVE)), across=st.floats(5, 95), down=st.floats(5, 95))
def test_a_drag_to_where_a_handle_would_stand_makes_its_dials(ink, name, across, down):
    wanted = edited(ink, ramp_across=across, ramp_down=down)
    there, *_ = seen(wanted, name)
    _, stage, ground, _ = seen(ink, name)
    changes = ink.dragged(Drag(CENTRE, there.handles[0].at, 1.0, free=True), stage, stage, ground)
    assert changes == pytest.approx({"ramp_across": across, "ramp_down": down}, abs=0.1)
    begun = edited(wanted, ramp_angle=10.0, ramp_reach=100.0)
    turned = begun.dragged(Drag(END, there.handles[1].at, 1.0, free=True), stage, stage, ground)
    near = {"ramp_angle": 0.05, "ramp_reach": 0.2}
    assert turned
    for dial, value in turned.items():
        assert value == pytest.approx(getattr(wanted, dial), abs=near[dial])


def test_angles_snap_and_nothing_is_refused_however_far_one_drags():
    ink = Ink(colours="one colour", inside="straight ramp", ramp_of="the sheet")
    _, stage, ground, _ = seen(ink, "one")
    assert ink.dragged(Drag(END, np.array([50.0, 1.0]), 1.0), stage, stage, ground)["ramp_angle"] == 0.0
    for far in (1e7, 1e-12):
        for name in (CENTRE, END):
            made = edited(ink, **ink.dragged(Drag(name, np.array([far, -far]), 1.0, free=True), stage, stage, ground))
            assert 1 <= made.ramp_reach <= 1000


@pytest.mark.parametrize(
    "ink",
    [Ink(), Ink(colours="none", inside="round ramp"), Ink(colours="one colour", inside="round ramp", ramp_of="floor-lattice")],
)
def test_where_no_ramp_can_be_shown_there_are_no_handles(ink):
    stage = last_stage(*ABOVE["one"])
    result = evaluated(*ABOVE["one"], ink)
    assert ink.handles(stage, stage, Ground(IDENTITY, result.known), "mm") is None
    assert ink.dragged(Drag(END, np.zeros(2), 1.0), stage, stage, Ground(IDENTITY, result.known)) == {}
