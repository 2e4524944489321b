"""All who go through the tree of a scene, over all kinds of node: each does it, or says what it leaves aside."""

import itertools

import numpy as np
import pytest

from tests.chains import SHEET
from tests.pictures.compare import FOREIGN, ours
from under_lattice.core.progress import Progress
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.library.layers import chain
from under_lattice.measure.facts import measure
from under_lattice.picking.picker import Picker
from under_lattice.render.stand_in import paint_plainly
from under_lattice.rules import Ellipse, Ink, LayerEnd, LayerMotif, Rectangle
from under_lattice.scene.aside import left_aside, specials_of
from under_lattice.scene.tree import make_scene, whole_page
from under_lattice.work.layers import Group
from under_lattice.work.model import Design

SQUARE_INK = Ink(colours="one colour", palette=("#C2694C",))
SQUARE = edited(chain("Square", Rectangle(width=120.0, height=120.0), SQUARE_INK), source_only=True)
GROUND = chain("Under", Rectangle(width=300.0, height=300.0), Ink(colours="one colour", palette=("#6E9C94",)))
SPECIAL = {
    "plain": {},
    "blend": {"blend": "multiply"},
    "opacity": {"opacity": 50.0},
    "isolated": {"isolated": "yes"},
    "clip": {"clip": "square"},
    "mask": {"mask": "square", "mask_by": "opacity"},
}
SAID = {"blend": "blend modes", "clip": "clips", "mask": "masks"}
NODES = list(itertools.product(["leaf", "group"], SPECIAL))


def work(kind, special):
    disc = chain("Disc", Ellipse(width=200.0), Ink(colours="one colour", palette=("#26374F",)))
    end = LayerEnd(id="disc-layer", **SPECIAL[special])
    if kind == "leaf":
        return Design(sheet=SHEET, layers=(edited(disc, end=end), SQUARE, GROUND))
    node = Group(id="both", handle="both", name="Both", layers=(disc,), end=edited(end, id="e"))
    return Design(sheet=SHEET, layers=(node, SQUARE, GROUND))


def scene(design, notes=None, bones=False):
    evaluator = Evaluator()
    results = evaluator.design(design)
    progress = Progress(note=notes.append) if notes is not None else Progress()
    return make_scene(design, results, evaluator, bones, progress=progress), results, evaluator


@pytest.mark.parametrize(("kind", "special"), NODES)
def test_the_painter_and_the_svg_do_all_of_it(kind, special):
    seen = scene(work(kind, special))[0]
    for by in FOREIGN.values():
        assert np.abs(ours(seen, 200) - by(seen, SHEET, 200)).mean() < 0.6


@pytest.mark.parametrize(("kind", "special"), NODES)
def test_the_plain_painter_does_it_or_says_what_it_leaves_aside(kind, special):
    seen, notes = scene(work(kind, special))[0], []
    paint_plainly(seen, whole_page(seen, 60), Progress(note=notes.append))
    wanted = "opacity of groups" if (kind, special) == ("group", "opacity") else SAID.get(special, "")
    assert notes == ([f"the plain picture leaves {wanted} aside"] if wanted else [])
    assert (wanted in specials_of(seen.layers)) == bool(wanted)
    assert left_aside("someone", seen.layers, specials_of(seen.layers)) == ""


@pytest.mark.parametrize(("kind", "special"), NODES)
def test_lines_only_say_that_clips_and_masks_are_left_aside(kind, special):
    notes = []
    scene(work(kind, special), notes, bones=True)
    assert bool(notes) == (special in ("clip", "mask"))


@pytest.mark.parametrize(("kind", "special"), NODES)
def test_picking_finds_what_is_seen(kind, special):
    seen, results, _ = scene(work(kind, special))
    picker = Picker(seen, whole_page(seen, 400), results)
    middle, rim = picker.pick(0.0, 0.0), picker.pick(90.0, 0.0)
    assert middle.layer == "disc"
    assert rim.layer == ("under" if special == "clip" else "disc")  # the rim of the disc lies outside the clip
    assert all(("under a mask" in level.words) == (special == "mask") for level in middle.levels)


@pytest.mark.parametrize(("kind", "special"), NODES)
def test_a_layer_as_motif_brings_it_along_or_the_facts_say_what_not(kind, special):
    design = work(kind, special)
    named = "disc" if kind == "leaf" else "both"
    linked = chain("Linked", LayerMotif(layer=named, size=50.0))
    _, results, evaluator = scene(edited(design, layers=(linked, *design.layers)))
    said = [warn.sentence for warn in measure(results["linked"], evaluator, SHEET).warnings if "left aside" in warn.sentence]
    wanted = {"clip": "clip", "mask": "mask"}.get(special, "")
    wanted = "opacity of the group as a whole" if (kind, special) == ("group", "opacity") else wanted
    assert said == ([f"{wanted} of the layer that is the motif is left aside"] if wanted else [])
    coats = evaluator.picture(results["linked"]).coats
    assert len(coats) == 1
    assert bool((np.asarray(coats[0].fill)[:, 3] < 200).all()) == (special == "opacity")
    assert (coats[0].blend == "multiply") == (special == "blend")
