"""Round ramps whose first colour stands off their middle: by the formula, in other readers, dragged, brought in, frozen."""

import numpy as np
import pytest

from tests.pictures.compare import FOREIGN, ours, scene_of
from under_lattice.colour.ramp import FOCUS_MOST, Ramp, Stop
from under_lattice.core.errors import InputError
from under_lattice.declare.shape_list import shapes_of_text
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.files.svg.shapes import read_svg
from under_lattice.geometry.affine import IDENTITY
from under_lattice.library.layers import chain
from under_lattice.output.svg import Svg, write_svg
from under_lattice.rules import Adjust, Ellipse, Ink, Lattice, Rectangle
from under_lattice.rules.handles import Drag
from under_lattice.rules.paints.ramp_handles import FOCUS, ramp_dragged, ramp_handles
from under_lattice.rules.paints.ramps import RampLay, sheet_span
from under_lattice.work.freeze import frozen_text
from under_lattice.work.model import Design, Sheet

SHEET = Sheet(width=200.0, height=200.0, background="#FFFFFF")


def work(*rules, motif=None, **more):
    ink = {"colours": "one colour", "inside": "round ramp", "ramp": "0 #FFFFFF; 100 #000000", "ramp_angle": 0.0} | more
    return Design(sheet=SHEET, layers=(chain("Ball", motif or Ellipse(width=160.0), Ink(**ink), *rules),))


def test_colours_are_as_far_from_the_focus_as_towards_the_circle():
    painted = ours(scene_of(work(ramp_focus=60.0)), 200)[..., 0]
    focus = np.array([48.0, 0.0])
    for at in ((0.0, 0.0), (60.0, 10.0), (-50.0, 30.0), (48.0, -40.0), (20.0, 60.0)):
        way = np.array(at) - focus
        a, b, c = way @ way, 2 * way @ focus, focus @ focus - 80.0**2
        whole = (-b + np.sqrt(b * b - 4 * a * c)) / (2 * a)  # from the focus through the place to the circle, in steps of `way`
        x, y = (round(100 + one - 0.5) for one in at)
        assert painted[y, x] == pytest.approx(255 * (1 - 1 / whole), abs=8)
    assert painted[100, 148] > 245
    assert np.argmax(painted[100, 22:178]) == pytest.approx(148 - 22, abs=1)


def test_at_rest_it_is_the_ramp_it_was_and_the_angle_turns_it():
    plain = ours(scene_of(work()), 200)
    assert np.abs(plain - ours(scene_of(work(ramp_focus=0.0, ramp_angle=70.0)), 200)).max() <= 1
    down = ours(scene_of(work(ramp_focus=60.0, ramp_angle=90.0)), 200)[..., 0]
    right = ours(scene_of(work(ramp_focus=60.0)), 200)[..., 0]
    assert np.abs(np.rot90(right, -1) - down).mean() < 0.5


@pytest.mark.parametrize("by", FOREIGN)
@pytest.mark.parametrize("more", [{}, {"ramp_of": "the sheet"}, {"ramp_across": 80.0, "ramp_reach": 40.0}, {"mixing": "Oklab"}])
def test_other_readers_see_the_same(more, by):
    grid = Lattice(form="squares", spacing="free", pitch=90.0, row_pitch=90.0, extent="by number", columns=2, rows=2)
    design = work(Adjust(turn=20.0), grid, motif=Ellipse(width=80.0), ramp_focus=70.0, ramp_angle=30.0, **more)
    scene = scene_of(design)
    assert np.abs(ours(scene, 300) - FOREIGN[by](scene, SHEET, 300)).mean() < 1.0


def test_one_colour_a_copy_follows_it():
    grid = Lattice(form="squares", spacing="free", pitch=10.0, row_pitch=10.0, extent="by number", columns=19, rows=1)
    more = {"ramp_taken": "one colour a copy", "ramp_of": "the sheet", "ramp_focus": 50.0, "of": ""}
    design = Design(
        sheet=SHEET,
        layers=(
            chain(
                "Row",
                Rectangle(width=10.0, height=10.0),
                grid,
                Ink(colours="one colour", inside="round ramp", ramp="0 #FFFFFF; 100 #000000", ramp_angle=0.0, **more),
            ),
        ),
    )
    row = ours(scene_of(design), 200)[100, 10:190:10, 0]
    assert np.argmax(row) > 9  # lightest right of the middle


def test_its_handle_is_dragged_and_snaps_to_the_middle():
    span, lay = sheet_span(200.0, 200.0), RampLay("radial", 0.0, np.array([0.5, 0.5]), 0.5)
    reach = 0.5 * np.hypot(100.0, 100.0)
    bead = next(one for one in ramp_handles(span, IDENTITY, lay).handles if one.name == FOCUS)
    assert 0 < np.hypot(*bead.at) < 0.2 * reach
    changes = ramp_dragged(Drag(FOCUS, np.array([0.0, 0.6 * reach]), 0.1), span, IDENTITY, lay)
    assert changes == {"ramp_focus": pytest.approx(60.0, abs=0.1), "ramp_angle": 90.0}
    assert ramp_dragged(Drag(FOCUS, np.array([0.01 * reach, 0.0]), 0.1), span, IDENTITY, lay)["ramp_focus"] == 0.0
    assert ramp_dragged(Drag(FOCUS, np.array([9 * reach, 0.0]), 0.1), span, IDENTITY, lay)["ramp_focus"] == 100 * FOCUS_MOST
    assert all(one.name != FOCUS for one in ramp_handles(span, IDENTITY, lay._replace(form="linear")).handles)


def test_drawings_bring_it_along_and_frozen_shapes_keep_it():
    scene = scene_of(work(ramp_focus=70.0, ramp_angle=30.0))
    drawn = read_svg(write_svg(scene, SHEET, Svg(recipe=False)), "ball.svg")
    assert drawn.left_out == ()
    (laid,) = [row.ramp for row in drawn.rows if row.ramp is not None]
    assert laid.ramp.focus == pytest.approx(0.7, abs=1e-3)
    design, evaluator = work(ramp_focus=70.0), Evaluator()
    picture = evaluator.picture(evaluator.design(design)["ball"])
    (frozen,) = shapes_of_text(frozen_text(picture)).ramps
    assert frozen.ramp.focus == pytest.approx(0.7)


def test_a_focus_on_the_circle_or_beyond_is_refused_by_the_ramp():
    with pytest.raises(InputError, match="focus"):
        Ramp((Stop(0.0, "#000000"),), "radial", focus=1.0)
