"""Adjust by scope, Ink by source."""

import numpy as np
import pytest

from tests.chains import centres, evaluated, last_stage, work_of
from under_lattice.colour.colour import checked, contrast, from_oklch, to_oklch
from under_lattice.core.errors import InputError
from under_lattice.declare.moving import mixed_colours
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.output.svg import Svg, write_svg
from under_lattice.pattern.marks import Dash
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.paints.fill import SOURCES
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.shapes.split import Split
from under_lattice.rules.shared.anchor import Anchor
from under_lattice.rules.shared.scope import ALL, EACH
from under_lattice.scene.tree import make_scene
from under_lattice.vary.numbers import Varied
from under_lattice.work.model import Sheet

DISC = Polygon(sides=12, measure="circumradius", size=9.0)
ROW = Lattice(form="squares", spacing="free", pitch=20.0, extent="by number", columns=3, rows=1, grow="top left")


def test_all_turns_about_the_pivot():
    stage = last_stage(DISC, ROW, Adjust(turn=90.0, pivot=Anchor(spot="sheet centre")))
    assert centres(stage) == pytest.approx(np.array([(0, 0), (0, 20), (0, 40)]), abs=1e-9)


def test_each_turns_about_its_own_centre():
    stage = last_stage(DISC, ROW, Adjust(scope=EACH, turn=90.0, across=50.0))
    assert centres(stage) == pytest.approx(np.array([(0, 0), (20, 0), (40, 0)]), abs=1e-9)
    assert stage.xform[1, :, :2] == pytest.approx(np.array([(0, -1), (0.5, 0)]), abs=1e-9)


def test_each_copy_of_an_outer_rule_is_taken_as_one():
    pair = Lattice(form="squares", spacing="free", row_pitch=100.0, extent="by number", columns=1, rows=2, grow="top left")
    stage = last_stage(DISC, ROW, pair, Adjust(scope="floor-lattice-2", turn=90.0))
    assert centres(stage)[:3] == pytest.approx(np.array([(0, 0), (0, 20), (0, 40)]), abs=1e-9)
    assert centres(stage)[3:] == pytest.approx(np.array([(0, 100), (0, 120), (0, 140)]), abs=1e-9)


def test_numbers_vary_by_row_and_keys_stay():
    size = Varied(rule="floor-lattice", channel="column", start=100.0, end=50.0)
    stage = last_stage(DISC, ROW, Adjust(scope=EACH, across=size, along=size, x=3.0))
    assert stage.xform[:, 0, 0] == pytest.approx([1.0, 0.75, 0.5])
    assert (stage.key == stage.above.key).all()
    assert centres(stage)[:, 0] == pytest.approx([3, 23, 43])


def test_skew_leans_to_the_side():
    stage = last_stage(Polygon(sides=4, size=10.0, stands="on a flat"), Adjust(skew=45.0))
    assert stage.xform[0, :, :2] == pytest.approx(np.array([(1, 1), (0, 1)]), abs=1e-9)


@pytest.mark.parametrize("scope", [ALL, EACH])
def test_nothing_changed_is_nothing_changed(scope):
    stage = last_stage(DISC, ROW, Adjust(scope=scope))
    assert stage.xform == pytest.approx(stage.above.xform)


def fills(ink, *rules):
    result = evaluated(*rules, ink)
    (coat,) = Evaluator().picture(result).coats
    return coat.fill


RGB = ("#FF0000", "#00FF00", "#0000FF")


@pytest.mark.parametrize(
    ("source", "want"),
    [("column", [0, 1, 2, 0, 0, 1, 2, 0]), ("row", [0, 0, 0, 0, 1, 1, 1, 1]), ("step", [0, 1, 2, 0, 1, 2, 0, 1])],
)
def test_colours_by_place(source, want):
    grid = Lattice(form="squares", extent="by number", columns=4, rows=2, grow="top left")
    assert fills(Ink(colours=source, palette=RGB), DISC, grid)[:, :3].argmax(1).tolist() == want


def test_colours_by_part_in_turn_and_none():
    hexagon = (Polygon(), Split())
    assert fills(Ink(colours="part", palette=RGB), *hexagon)[:, :3].argmax(1).tolist() == [0, 1, 2]
    assert fills(Ink(colours="in turn", palette=RGB[:2]), *hexagon)[:, :3].argmax(1).tolist() == [0, 1, 0]
    assert fills(Ink(colours="none"), *hexagon)[0, 3] == 0


def test_chance_is_seeded_and_lasting():
    def drawn(columns, seed):
        grid = Lattice(form="squares", extent="by number", columns=columns, rows=1, grow="top left")
        return fills(Ink(colours="chance", palette=RGB, seed=seed), DISC, grid)[:6].tolist()

    assert drawn(6, 1) == drawn(30, 1) != drawn(6, 2)


def test_opacity_may_vary_and_a_later_ink_changes_only_what_it_sets():
    fade = Varied(rule="floor-lattice", channel="column", start=100.0, end=0.0)
    first = Ink(colours="one colour", palette=RGB[:1], fill_opacity=fade)
    result = evaluated(DISC, ROW, first, Ink(colours="as before", stroke="one colour", stroke_width=2.0))
    (coat,) = Evaluator().picture(result).coats
    assert coat.fill[:, 3].tolist() == [255, 128, 0]
    assert coat.width.tolist() == [2.0]


def test_a_coat_on_top():
    result = evaluated(DISC, Ink(), Ink(colours="one colour", coat="on top"))
    assert len(Evaluator().picture(result).coats) == 2


def test_without_ink_parts_are_grey():
    (coat,) = Evaluator().picture(evaluated(Polygon(), Split())).coats
    assert (coat.fill[:, 0] == coat.fill[:, 1]).all()


@pytest.mark.parametrize("text", ["", "#12", "reddish", "#GGGGGG", "12345", "#12345", "#C020", "rgba(1, 2, 3, 0.5)", "rgb(1, 2)"])
def test_wrong_colours_say_how_to_write_one(text):
    with pytest.raises(InputError, match="for instance #C4694C, #C64, teal, rgb"):
        checked(text)


@pytest.mark.parametrize(
    ("text", "meant"),
    [
        ("#c2694c", "#C2694C"),
        ("c2694c", "#C2694C"),
        ("#f00", "#FF0000"),
        ("0af", "#00AAFF"),
        ("Teal", "#008080"),
        ("rgb(196, 105, 76)", "#C4694C"),
        ("rgb(100% 0% 0%)", "#FF0000"),
        ("hsl(120, 100%, 50%)", "#00FF00"),
    ],
)
def test_a_colour_may_be_written_in_several_ways(text, meant):
    assert checked(text) == meant


@pytest.mark.parametrize("text", ["#00000000", "transparent", "c4694c00"])
def test_what_is_clear_is_clear_everywhere(text):
    assert checked(text) == "#00000000"
    assert Sheet(background=text).background == ""
    assert Ink(stroke_colour=text).stroke_colour == ""
    squares = (Polygon(sides=4, size=20.0), Lattice(form="squares", extent="by number", columns=4, rows=1))
    for inside, paints in (("flat", 2), ("straight ramp", 4), ("round ramp", 4)):
        work = work_of(*squares, Ink(colours="column", palette=("#C4694C", text), inside=inside))
        evaluator = Evaluator()
        scene = make_scene(work.design, evaluator.design(work.design), evaluator)
        drawn = write_svg(scene, work.design.sheet, Svg()).decode()
        assert drawn.count("<use ") + drawn.count("<path d") == paints, inside
        assert "#000000" not in drawn
    assert mixed_colours(("#C4694C", checked(text)), ("#FFFFFF", "#FFFFFF"), 0.25)[1] == checked(text)


def test_what_is_half_clear_is_refused_with_what_is_meant():
    with pytest.raises(InputError, match="half clear; a colour is opaque"):
        checked("#C4694C80")
    assert checked("#c4694cff") == checked("#C4694C")


@pytest.mark.parametrize("colour", ["#C2694C", "#000000", "#FFFFFF", "#26374F", "#00FF00"])
def test_oklch_there_and_back(colour):
    assert from_oklch(*to_oklch(colour)) == colour


def test_oklch_figures_and_gamut():
    assert to_oklch("#FF0000") == pytest.approx((0.62796, 0.25768, 29.234), abs=1e-3)
    assert checked(from_oklch(0.7, 0.37, 150)) == from_oklch(0.7, 0.37, 150)
    assert contrast("#000000", "#FFFFFF") == pytest.approx(21.0)


def test_a_palette_is_run_through_as_a_ramp():
    run = fills(Ink(colours="column", palette=("#000000", "#FFFFFF"), run="as a ramp"), DISC, ROW)
    assert run[:, 0].tolist() == [0, 128, 255]
    in_turn = fills(Ink(colours="column", palette=("#000000", "#FFFFFF")), DISC, ROW)
    assert in_turn[:, 0].tolist() == [0, 255, 0]


@pytest.mark.parametrize("source", [s for s in SOURCES if s not in ("none", "as before", "one colour")])
def test_every_source_gives_each_copy_a_colour_of_the_palette(source):
    grid = Lattice(form="squares", spacing="free", pitch=20.0, extent="by number", columns=4, rows=3)
    colours = fills(Ink(colours=source, palette=("#102030", "#405060", "#708090")), DISC, grid)
    allowed = {(0x10, 0x20, 0x30), (0x40, 0x50, 0x60), (0x70, 0x80, 0x90)}
    found = {tuple(int(v) for v in rgba[:3]) for rgba in colours}
    assert found <= allowed
    assert len(found) > 1 or source in ("part", "facing", "picture")


def test_dashes_caps_ramps_and_blend_reach_the_coat():
    ink = Ink(stroke="one colour", line="dashes", dash=3.0, dash_gap=1.0, cap="round", inside="round ramp", blend="multiply")
    result = evaluated(DISC, ink)
    coat = Evaluator().picture(result).coats[-1]
    assert coat.dash == Dash((3.0, 1.0), 0.0, True)
    assert (coat.cap, coat.blend, coat.paint.form) == ("round", "multiply", "radial")


# ---------------------------------------------------------------- readings
def read(channel, *rules, **more):
    number = Varied(rule="floor-lattice", channel=channel, start=0.0, end=1.0, **more)
    stage = last_stage(DISC, *rules, Adjust(scope=EACH, x=number))
    return centres(stage)[:, 0] - centres(stage.above)[:, 0]


GRID = Lattice(form="squares", spacing="free", pitch=20.0, row_pitch=20.0, extent="by number", columns=3, rows=3)


def test_diagonal_ring_and_parity():
    assert read("diagonal", GRID).reshape(3, 3) == pytest.approx(np.add.outer(np.arange(3), np.arange(3)) / 4)
    assert read("ring", GRID).reshape(3, 3) == pytest.approx(np.array([(1, 1, 1), (1, 0, 1), (1, 1, 1)]))
    assert read("parity", GRID).reshape(3, 3) == pytest.approx(np.array([(0, 1, 0), (1, 0, 1), (0, 1, 0)]))


def test_smooth_chance_is_smooth_seeded_and_within_its_ends():
    fine = Lattice(form="squares", spacing="free", pitch=1.0, row_pitch=1.0, extent="by number", columns=60, rows=1)
    values = read("noise", fine)
    assert 0 <= values.min() < values.max() <= 1
    assert np.abs(np.diff(values)).max() < 0.2
    assert read("noise", fine) == pytest.approx(values)
    assert not np.allclose(read("noise", fine, seed=5), values)


def test_a_run_may_repeat():
    row = Lattice(form="squares", spacing="free", pitch=20.0, extent="by number", columns=5, rows=1)
    assert read("column", row, repeats=2.0) == pytest.approx([0, 0.5, 0, 0.5, 1.0])


def test_one_opacity_for_fill_and_stroke_alike_varies_with_them():
    whole = Varied(rule="floor-lattice", channel="column", start=100.0, end=50.0)
    ink = Ink(colours="one colour", fill_opacity=50.0, stroke="one colour", opacity=whole)
    (coat,) = Evaluator().picture(evaluated(DISC, ROW, ink)).coats
    assert coat.fill[:, 3].tolist() == [128, 96, 64]
    assert coat.stroke[:, 3].tolist() == [255, 191, 128]
