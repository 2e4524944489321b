"""Whatever moves, a closed string comes back; and what stands still is painted once, to the same byte."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.explore.movable import Movables
from under_lattice.frames.frames import Frames
from under_lattice.frames.standing import standing
from under_lattice.library import DEMOS, demo
from under_lattice.loop.hanging import hang
from under_lattice.loop.moment import at_moment, stored
from under_lattice.render.paint import paint
from under_lattice.scene.tree import make_scene, whole_page
from under_lattice.vary.motion import COURSES, WAYS, Bead, Motion, Place
from under_lattice.vary.numbers import Varied

NUMBERS = st.floats(-1e4, 1e4)


@st.composite
def motions(draw):
    times = sorted(draw(st.sets(st.integers(0, 999), min_size=1, max_size=8)))
    beads = tuple(Bead(time=t / 1000, value=draw(NUMBERS), way=draw(st.sampled_from(WAYS))) for t in times)
    how = {"course": draw(st.sampled_from(COURSES)), "times": draw(st.integers(1, 9)), "seed": draw(st.integers(0, 99))}
    return Motion(id="one", places=(Place(dial="any"),), beads=beads, **how)


@given(motions(), st.floats(0, 1))
def test_every_closed_string_closes(motion, time):
    assert motion.numbers(1.0, True) == pytest.approx(float(motion.numbers(0.0, True)), abs=1e-6)
    assert motion.numbers(time + 1, True) == pytest.approx(float(motion.numbers(time, True)), rel=1e-6, abs=1e-3)
    low, high = (fold(float(bead.value) for bead in motion.beads) for fold in (min, max))
    assert low - 1e-6 <= motion.numbers(time, True) <= high + 1e-6


@given(motions(), st.lists(st.floats(-3, 3), min_size=1, max_size=30), st.booleans())
def test_many_times_at_once_are_as_one_after_the_other(motion, times, closed):
    together = motion.numbers(np.array(times), closed)
    assert together == pytest.approx([float(motion.numbers(time, closed)) for time in times])


def whole_picture(design, time, wide):
    now, evaluator = at_moment(design, time), Evaluator()
    scene = make_scene(now, evaluator.design(now, time=time), evaluator)
    return paint(scene, whole_page(scene, wide))


def moved_at_random(design, pick, count):
    """A work in which some dials have another value half way."""
    free = [one for one in Movables(design).free if one.address.layer and one.address.end in ("", "start", "end")]
    for k in range(count):
        one = free[(pick * 7919 + k * 104729) % len(free)]
        place = Place(layer=one.address.layer, rule=one.address.rule, dial=one.address.dial, end=one.address.end)
        if stored(design, place) is None or isinstance(stored(design, place), Varied) or one.address.dial == "kind":
            continue
        value = one.value * 1.1 if isinstance(one.value, float) else one.value
        try:
            design = hang(design, place, 0.5, one.dial.held(value) if isinstance(value, float) else value)
        except Exception as error:
            assert "allowed" in str(error), error
    return design


@settings(max_examples=25)
@given(st.sampled_from(sorted(DEMOS)), st.integers(0, 500), st.sampled_from([0.0, 0.21, 0.5]))
def test_frames_are_the_pictures_of_their_moments(name, pick, time):
    design = moved_at_random(demo(name).design, pick, 2)
    sheet = design.sheet
    wide = 96
    whole = whole_picture(design, time, wide)
    frames = Frames(design, whole_page(_page(sheet), wide))
    frames.picture(0.8)
    away = np.abs(frames.picture(time).astype(int) - whole)
    assert away.max() <= 1  # what lies above is laid over once, not mark by mark
    again = frames.picture(1.0 if time == 0 else time).astype(int)  # after a whole turn sines are as good as the same
    assert np.abs(again - frames.picture(time)).max() <= (1 if time == 0 else 0)
    front, moving, back = standing(design)
    assert len(front) + len(moving) + len(back) == len([one for one in design.layers if not one.hidden and not one.source_only])


def _page(sheet):
    from under_lattice.scene.tree import Scene

    return Scene(sheet.width, sheet.height, sheet.background, ())


def test_what_stands_still_is_painted_once():
    design = edited(demo("seed-clock").design, motions=())
    hands = next(one for one in design.chains() if one.handle == "hands")
    design = hang(design, Place(layer=hands.id, rule=hands.end.id, dial="place_turn"), 1.0, 360.0)
    frames = Frames(design, whole_page(_page(design.sheet), 96))
    for k in range(10):
        frames.picture(k / 10)
    still = len(design.layers) - 1
    assert frames.painted == still + 10
    assert not Frames(edited(design, motions=()), frames.view).moving
