"""SVG read by two renderers that are not ours: parts that are gone, blend modes over a ground, groups, lines of no width."""

import numpy as np
import pytest

from tests.chains import work_of
from tests.pictures.compare import FOREIGN, apart, demo_scene, ours, scene_of
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.library import DEMOS, demo
from under_lattice.library.layers import chain
from under_lattice.output import svg
from under_lattice.output.svg import Svg, write_svg
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.copies.join_ends import JoinEnds
from under_lattice.rules.copies.leave_out import LeaveOut
from under_lattice.rules.copies.trim import Trim
from under_lattice.rules.ends.layer_end import LayerEnd
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.motifs.rectangle import Rectangle
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.shapes.offset import Offset
from under_lattice.rules.shapes.split import Split
from under_lattice.scene.tree import make_scene
from under_lattice.vary.numbers import Varied
from under_lattice.work.edits import add_rule
from under_lattice.work.layers import Group
from under_lattice.work.model import Design, Sheet

SHEET = Sheet(width=120, height=90, background="#F4EFE4")
RED, BLUE = ("#D04030",), ("#3050C0",)
by_each_renderer = pytest.mark.parametrize("renderer", list(FOREIGN))


def looks_the_same(design, renderer, width=360, mean=1.5, far=0.01):
    scene = scene_of(design)
    away, much = apart(ours(scene, width), FOREIGN[renderer](scene, design.sheet, width))
    assert away < mean
    assert much < far


SHRINKING = Varied(rule="floor-lattice", channel="column", start=-1.0, end=-40.0)
WITH_PARTS_GONE = {
    "trimmed": (Polygon(size=30.0), Split(), Ink(), Lattice(), Trim()),
    "joined": (Rectangle(width=20.0, height=20.0), Split(), Ink(), Lattice(), JoinEnds()),
    "offset": (Polygon(size=30.0), Ink(), Offset(distance=SHRINKING), Lattice()),
}  # fmt: skip


@by_each_renderer
@pytest.mark.parametrize("name", list(WITH_PARTS_GONE))
def test_parts_that_are_gone_are_left_out(name, renderer):
    design = work_of(*WITH_PARTS_GONE[name], sheet=SHEET).design
    marks = scene_of(design).layers[0].picture.marks
    assert (marks.variant < 0).any() or name == "joined"
    looks_the_same(design, renderer, mean=4.0, far=0.02)


def discs(handle, palette, blend="normal", x=0.0, opacity=100.0, **ink):
    made = chain(handle, Ellipse(width=60.0), Adjust(x=x), Ink(colours="one colour", palette=palette, **ink))
    return edited(made, end=edited(made.end, blend=blend, opacity=opacity))


def crowd(blend, opacity=100.0):
    ink = Ink(colours="one colour", palette=RED, blend=blend)
    made = chain("a", Ellipse(width=40.0), Lattice(spacing="free", pitch=25.0), ink)
    return edited(made, end=edited(made.end, opacity=opacity))


def group(*members, **settings):
    return Group(id="g", handle="g", name="Both", layers=members, end=LayerEnd(isolated="yes", **settings))


MULTIPLIED = discs("a", RED, "multiply", 12.0)
BACK = discs("b", BLUE, x=-12.0)
BLENDING = {
    "a layer": (MULTIPLIED, BACK),
    "marks": (crowd("multiply"),),
    "faint marks": (crowd("screen", 60.0),),
    "a group of blending members": (group(MULTIPLIED, BACK),),
    "blending members over a layer": (group(MULTIPLIED, discs("c", RED, "screen", 30.0)), BACK),
    "a blending group": (group(discs("a", RED, x=12.0), discs("c", BLUE, x=30.0), blend="difference", opacity=80.0), BACK),
}


@by_each_renderer
@pytest.mark.parametrize("ground", ["#E8D8B0", ""])
@pytest.mark.parametrize("name", list(BLENDING))
def test_blending_sees_the_ground_and_groups_are_isolated(name, ground, renderer):
    looks_the_same(Design(name="Trial", sheet=edited(SHEET, background=ground), layers=BLENDING[name]), renderer)


def lying(layer, **how):
    return edited(layer, end=edited(layer.end, **how))


HOLE = edited(discs("hole", ("#FFFFFF",), x=8.0), source_only=True)
FADING = edited(discs("fading", ("#FFFFFF", "#000000"), inside="straight ramp"), source_only=True)
GLASS = edited(discs("glass", RED, opacity=40.0), source_only=True)
EMPTY = edited(discs("empty", RED, x=900.0), source_only=True)
CUT = {
    "a clip": (lying(BACK, clip="hole"), HOLE),
    "a mask by lightness": (lying(BACK, mask="fading"), FADING),
    "a mask by opacity": (lying(BACK, mask="glass", mask_by="opacity"), GLASS),
    "a group clipped and masked": (lying(group(discs("a", RED, x=12.0), BACK), clip="hole", mask="fading"), HOLE, FADING),
    "an inverted mask by lightness": (lying(BACK, mask="fading", mask_way="inverted"), FADING),
    "an inverted mask by opacity": (lying(BACK, mask="glass", mask_by="opacity", mask_way="inverted"), GLASS),
    "a straight ramp as mask": (lying(BACK, masked="straight ramp", mask_angle=20.0, mask_reach=60.0), FADING),
    "a round ramp as mask, inverted": (lying(BACK, masked="round ramp", mask_ramp="0 #FFF; 60 #888; 100 #000", mask_across=30.0,
                                             mask_way="inverted"), FADING),
    "a group under a ramp": (lying(group(discs("a", RED, x=12.0), BACK), masked="straight ramp"), FADING),
    "a mask that shows nothing": (lying(BACK, mask="empty"), EMPTY, discs("a", RED, x=20.0)),
}  # fmt: skip


@by_each_renderer
@pytest.mark.parametrize("name", list(CUT))
def test_clips_and_masks(name, renderer):
    design = Design(name="Trial", sheet=SHEET, layers=CUT[name])
    plain = edited(design, layers=tuple(lying(one, clip="", mask="", masked="another layer") for one in CUT[name]))
    assert np.abs(ours(scene_of(design), 120) - ours(scene_of(plain), 120)).mean() > 1
    looks_the_same(design, renderer)


@pytest.mark.parametrize(
    ("name", "renderer"), [(name, "resvg" if "print" in name else list(FOREIGN)[k % len(FOREIGN)]) for k, name in enumerate(DEMOS)]
)
def test_every_demo_work(name, renderer, monkeypatch):
    """But for the print, whose fine dots rsvg, unlike resvg, softens wherever they lie."""
    scene = demo_scene(name)
    monkeypatch.setattr(svg, "PICTURE_PX", 360 * max(1.0, scene.height / scene.width))
    mean, far = apart(ours(scene, 360), FOREIGN[renderer](scene, demo(name).design.sheet, 360))
    assert mean < {"rsvg": 4.0, "resvg": 5.8}[renderer]  # others leave hairlines between neighbours and draw thin lines fainter
    assert far < 0.02


@by_each_renderer
@pytest.mark.parametrize("scale", [1.0, 4.0])
def test_a_line_of_no_width_is_a_hairline(scale, renderer):
    """Which is a stated thin line in a file, a tenth of a millimetre."""
    sheet = Sheet(width=120 * scale, height=90 * scale, background="#FFFFFF")
    ink = Ink(colours="none", stroke="one colour", stroke_width=0.0)
    scene = scene_of(work_of(Rectangle(width=80.0 * scale, height=50.0 * scale), ink, sheet=sheet).design)
    seen, printed = (float((255 - painted[..., 0]).sum()) for painted in (ours(scene, 360), FOREIGN[renderer](scene, sheet, 360)))
    assert seen > 0
    assert printed == pytest.approx(
        seen / 0.7 * 0.1 * 3 / scale, rel={"rsvg": 0.1, "resvg": 0.6}[renderer]
    )  # 0.7 px are seen at any zoom


def test_a_width_below_nothing_is_no_line():
    """A formula may give it; it is told like any number that is out of range, or it is nothing, everywhere the same."""
    width = Varied(rule="floor-lattice", channel="column", start=0.0, end=1.0, formula="col - 3")
    ink = Ink(colours="none", stroke="one colour", stroke_width=width)
    design = work_of(Polygon(size=20.0), Lattice(), ink, sheet=SHEET).design
    text = write_svg(scene_of(design), SHEET, Svg()).decode()
    assert 'stroke-width="-' not in text
    for renderer in FOREIGN:
        looks_the_same(design, renderer, mean=4.0, far=0.05)


@pytest.mark.parametrize("name", list(DEMOS)[::3])
def test_a_layer_left_with_no_copies_is_an_empty_layer(name):
    """Everything is left out after each rule of each layer in turn; painting and writing go on."""
    design, evaluator = demo(name).design, Evaluator()
    for layer in design.chains():
        if layer.source_only:
            continue
        for rule in layer.rules:
            emptied = add_rule(design, layer.id, LeaveOut(which="by chance", share=100.0), rule.id)
            scene = make_scene(emptied, evaluator.design(emptied), evaluator)  # the other layers are worked out once
            ours(scene, 60)
            write_svg(scene, design.sheet, Svg())
