"""Picking, the plain painter, and compiling once."""

import numpy as np
import pytest

from tests.chains import work_of
from tests.pictures.compare import FINISHED, apart, demo_scene
from under_lattice.core.errors import GivenUp
from under_lattice.core.progress import Progress
from under_lattice.evaluate.evaluator import Evaluator, evaluate
from under_lattice.library import DEMOS, demo
from under_lattice.picking.picker import Picker
from under_lattice.render import painter
from under_lattice.render.paint import paint
from under_lattice.render.painter import paint_now
from under_lattice.render.stand_in import paint_plainly
from under_lattice.render.warm import is_warm, warm
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.shapes.split import Split
from under_lattice.scene.tree import View, make_scene, whole_page


def picker(design, scale=2.0):
    evaluator = Evaluator()
    results = evaluate(design, evaluator)
    return Picker(make_scene(design, results, evaluator), View(600, 600, scale, 300, 300), results)


SQUARE = Polygon(sides=4, size=20.0, stands="on a flat")
INK = Ink(colours="one colour", palette=("#334455",))
THREE = Lattice(form="squares", extent="by number", columns=3, rows=1, grow="top left")


def test_the_face_then_the_copy_then_the_wider_copy():
    outer = Lattice(form="squares", extent="by number", columns=1, rows=2, grow="top left", spacing="free", row_pitch=50.0)
    found = picker(work_of(SQUARE, Split(into="triangles"), INK, THREE, outer).design).pick(20.0, 45.0)
    words = [level.words for level in found.levels]
    assert words == ["part 1 of 4", "Lattice: row 2, column 1 › Lattice: row 1, column 2", "Lattice: row 2, column 1"]
    assert [len(level.rings) for level in found.levels] == [1, 4, 12]
    assert np.concatenate(found.levels[1].rings).min(0) == pytest.approx((10, 40))


def test_the_topmost_is_picked_and_gaps_are_empty():
    over = Lattice(form="squares", extent="by number", columns=2, rows=1, grow="top left", spacing="free", pitch=10.0)
    look = picker(work_of(SQUARE, INK, over).design)
    assert look.pick(5.0, 0.0).mark == 1
    assert look.pick(-5.0, 0.0).mark == 0
    assert look.pick(50.0, 0.0) is None


def test_what_is_not_painted_is_not_picked():
    assert picker(work_of(SQUARE, Ink(colours="none"), THREE).design).pick(0.0, 0.0) is None
    line = Ink(colours="none", stroke="one colour", stroke_width=2.0)
    look = picker(work_of(SQUARE, line, Adjust(turn=10.0)).design)
    assert look.pick(0.0, 0.0) is None
    assert look.pick(10.0, 1.7).levels[-1].words == "the motif"


def test_the_front_layer_comes_first():
    look = picker(demo("dyed-towels").design, 1.5)
    assert look.pick(0.0, -23.094).layer == "pearls"
    assert look.pick(9.0, -10.0).layer == "sails"


@pytest.mark.parametrize("name", [name for name in DEMOS if name not in FINISHED])
def test_the_plain_painter_shows_about_the_same(name):
    scene = demo_scene(name)
    view = whole_page(scene, 300)
    mean, _ = apart(paint_plainly(scene, view).astype(float), paint(scene, view).astype(float))
    assert mean < 18.0  # of 255; fine op art and ramps differ most


def test_the_plain_painter_stands_in_until_the_kernels_are_ready(monkeypatch):
    warm()
    assert is_warm()
    scene = demo_scene("rope-mat")
    view = whole_page(scene, 120)
    assert (paint_now(scene, view) == paint(scene, view)).all()
    monkeypatch.setattr(painter, "is_warm", lambda: False)
    assert (paint_now(scene, view) == paint_plainly(scene, view)).all()
    with pytest.raises(GivenUp):
        paint_now(scene, view, Progress(lambda: True))
