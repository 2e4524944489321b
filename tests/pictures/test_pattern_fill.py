"""Shapes filled with the pattern of another layer: in step over the sheet, anew in each shape, larger than it was drawn."""

import numpy as np
import pytest

from tests.pictures.compare import FOREIGN, ours, scene_of
from under_lattice.core.errors import InputError
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.library.layers import chain
from under_lattice.measure.facts import measure
from under_lattice.output.svg import Svg, write_svg
from under_lattice.rules import Adjust, Ellipse, Ink, Lattice, LayerEnd, LayerMotif, Lettering, Polygon, Rectangle, Star
from under_lattice.vary.numbers import Varied
from under_lattice.work.freeze import frozen_text
from under_lattice.work.layers import Group
from under_lattice.work.model import Design, Sheet

SHEET = Sheet(width=200.0, height=200.0, background="#FFFFFF")
RED = Ink(colours="one colour", palette=("#C83C1E",))
BLUE = Ink(colours="one colour", palette=("#26374F",))


def lines(pitch=10.0, **more):
    """Red bars, as a source only."""
    rules = (
        Rectangle(width=pitch * 0.8, height=pitch / 2),
        RED,
        Lattice(form="squares", spacing="free", pitch=pitch, row_pitch=pitch),
    )
    return edited(chain("Bars", *rules), source_only=True, **more)


def filled(motif=None, *rules, source=None, **ink):
    """A motif filled with bars, and the bars."""
    source = source if source is not None else lines()
    coat = Ink(**{"colours": "one colour", "palette": ("#26374F",), "inside": "another layer", "pattern": source.id} | ink)
    shape = chain("Shape", motif or Rectangle(width=120.0, height=120.0), coat, *rules)
    return Design(sheet=SHEET, layers=(shape, source))


def red(design, width=200):
    """Where the picture is red (H, W) bool."""
    pixels = ours(scene_of(design), width)
    return (pixels[..., 0] > 180) & (pixels[..., 2] < 80)


def test_a_shape_shows_the_pattern_where_it_lies_and_nothing_beyond_its_outline():
    within = red(filled())
    alone = red(Design(sheet=SHEET, layers=(edited(lines(), source_only=False),)))
    assert (within[41:159, 41:159] == alone[41:159, 41:159]).all()
    assert not within[:40].any()
    assert not within[:, 161:].any()
    assert red(filled(), 400).sum() == pytest.approx(240 * 240 * 0.4, rel=0.02)


def test_two_shapes_on_one_sheet_are_in_step_and_a_shift_moves_both():
    apart = Lattice(form="squares", spacing="free", pitch=87.0, row_pitch=83.0, extent="by number", columns=2, rows=2)
    design = filled(Ellipse(width=70.0), apart)
    whole, seen = red(Design(sheet=SHEET, layers=(edited(lines(), source_only=False),))), red(design)
    assert seen.any()
    assert not (seen & ~whole).any()
    moved = red(filled(Ellipse(width=70.0), apart, pattern_y=5.0))
    assert (moved & seen).sum() < 0.05 * seen.sum()


def test_a_smaller_or_turned_pattern_goes_on_to_the_ends_of_the_sheet():
    whole = Rectangle(width=200.0, height=200.0)
    for size, turn in ((20.0, 0.0), (100.0, 45.0), (33.0, 70.0)):
        seen = red(filled(whole, pattern_size=size, pattern_turn=turn), 400)
        corners = [seen[:60, :60], seen[:60, -60:], seen[-60:, :60], seen[-60:, -60:]]
        assert all(0.2 < float(corner.mean()) < 0.5 for corner in corners)


def test_a_pattern_that_runs_from_first_to_last_is_left_as_it_is():
    source = lines()
    lattice = source.rules[-1]
    bars = edited(source.rules[0], width=Varied(rule=lattice.id, channel="column", start=2.0, end=10.0))
    running = edited(source, rules=(bars, *source.rules[1:]))
    seen = red(filled(Rectangle(width=200.0, height=200.0), source=running, pattern_size=50.0))
    assert seen[60:140, 60:140].any()
    assert not seen[:40].any()


def test_in_each_shape_the_pattern_lies_alike_and_turns_with_it():
    apart = Lattice(form="squares", spacing="free", pitch=90.0, row_pitch=90.0, extent="by number", columns=2, rows=2)
    seen = red(filled(Rectangle(width=63.0, height=63.0), apart, pattern_of="each shape"))
    quarters = [seen[y : y + 63, x : x + 63] for y in (24, 114) for x in (24, 114)]
    for other in quarters[1:]:
        assert (quarters[0] != other).mean() < 0.03
    upright = red(filled(Rectangle(width=100.0, height=100.0), Adjust(turn=90.0), pattern_of="each shape"))
    across, down = upright[60:140, 60:140].mean(0), upright[60:140, 60:140].mean(1)
    assert np.ptp(across) > 0.7 > 0.6 > np.ptp(down)


def test_numbers_of_the_pattern_may_vary_from_copy_to_copy():
    lattice = Lattice(id="grid", form="squares", spacing="free", pitch=60.0, row_pitch=60.0, extent="by number", columns=3, rows=1)
    turning = Varied(rule="grid", channel="column", start=0.0, end=90.0)
    design = filled(Ellipse(width=50.0), source=lines(4.0), pattern_of="each shape", pattern_turn=turning)
    shape = edited(design.layers[0], rules=(*design.layers[0].rules, lattice))
    seen = red(edited(design, layers=(shape, design.layers[1])), 400)
    first, last = seen[160:240, 44:116], seen[160:240, 284:356]
    assert np.ptp(first.mean(1)) > 0.7 > 0.6 > np.ptp(first.mean(0))
    assert np.ptp(last.mean(0)) > 0.7 > 0.6 > np.ptp(last.mean(1))


def test_a_group_of_shape_and_pattern_moves_as_one_and_a_moved_shape_slides_over_its_pattern():
    shape, source = filled(Ellipse(width=70.0)).layers
    moved = {"place_x": 30.0, "place_turn": 90.0}
    before = red(edited(filled(), layers=(shape, source)))
    group = Group(id="both", handle="both", name="Both", layers=(shape, source), end=LayerEnd(id="both-end", **moved))
    seen = red(edited(filled(), layers=(group,)))
    turned = np.rot90(before, -1)
    assert (seen[:, 60:] != turned[:, 30:-30]).mean() < 0.01
    alone = edited(shape, end=edited(shape.end, place_x=30.0))
    slid, whole = red(edited(filled(), layers=(alone, source))), red(filled(Rectangle(width=200.0, height=200.0)))
    assert slid.sum() > 1000
    assert not (slid & ~whole).any()


WAYS = {
    "on the sheet": {},
    "turned and sized": {"pattern_size": 50.0, "pattern_turn": 30.0},
    "in each shape": {"pattern_of": "each shape", "pattern_size": 150.0},
    "over all": {"pattern_of": "all copies", "pattern_turn": 20.0},
    "half clear": {"fill_opacity": 50.0},
    "multiplied": {"blend": "multiply"},
    "with a line": {"stroke": "one colour", "stroke_width": 3.0},
    "as a second coat": {"coat": "on top"},
}


@pytest.mark.parametrize("way", WAYS)
@pytest.mark.parametrize("by", FOREIGN)
def test_other_readers_see_the_same(way, by):
    apart = Lattice(form="hexagons on points", spacing="free", pitch=74.0, extent="by number", columns=3, rows=3)
    scene = scene_of(filled(Polygon(sides=6, size=70.0), apart, **WAYS[way]))
    assert np.abs(ours(scene, 300) - FOREIGN[by](scene, SHEET, 300)).mean() < 1.0


@pytest.mark.parametrize("by", FOREIGN)
def test_filled_shapes_in_groups_masks_clips_and_motifs(by):
    design = filled(Lettering(text="TERN", size=80.0))
    shape, source = design.layers
    disc = edited(chain("Disc", Ellipse(width=150.0), RED), source_only=True)
    masked = edited(shape, end=edited(shape.end, mask="disc", mask_by="opacity"))
    clipped = Group(id="both", handle="both", name="Both", layers=(shape,), end=LayerEnd(id="both-end", clip="disc", opacity=70.0))
    again = chain("Again", LayerMotif(layer=shape.id, size=60.0), Adjust(turn=30.0))
    for layers in ((masked,), (clipped,), (again, edited(shape, source_only=True))):
        scene = scene_of(Design(sheet=SHEET, layers=(*layers, source, disc)))
        assert np.ptp(ours(scene, 200)) > 100
        assert np.abs(ours(scene, 300) - FOREIGN[by](scene, SHEET, 300)).mean() < 1.0
    by_fill = edited(
        chain("Lit", Rectangle(width=150.0, height=150.0), BLUE), end=LayerEnd(id="lit-end", mask=shape.id, mask_by="opacity")
    )
    scene = scene_of(Design(sheet=SHEET, layers=(by_fill, edited(shape, source_only=True), source)))
    assert np.abs(ours(scene, 300) - FOREIGN[by](scene, SHEET, 300)).mean() < 1.0


def test_a_pattern_within_a_pattern_and_a_group_as_pattern():
    fine = edited(lines(4.0), id="fine", handle="fine")
    ink = Ink(colours="one colour", inside="another layer", pattern="fine")
    discs = chain("Discs", Ellipse(width=30.0), ink, Lattice(form="squares", spacing="free", pitch=40.0, row_pitch=40.0))
    group = Group(id="pair", handle="pair", name="Pair", layers=(discs,), source_only=True)
    base = filled(source=group)
    seen = red(edited(base, layers=(*base.layers, fine)))
    assert 0.1 < seen[40:160, 40:160].mean() < 0.5
    assert not seen[:39].any()


@pytest.mark.parametrize("by", FOREIGN)
def test_lines_are_filled_with_a_layer_too(by):
    source = lines(6.0)
    for more in ({}, {"stroke_opacity": 50.0}, {"stroke_blend": "multiply"}, {"line": "dashes", "dash": 13.0, "dash_gap": 4.0}):
        coat = Ink(
            colours="one colour", palette=("#E4B45C",), stroke="another layer", stroke_pattern=source.id, stroke_width=16.0, **more
        )
        apart = Lattice(form="squares", spacing="free", pitch=90.0, row_pitch=90.0, extent="by number", columns=2, rows=2)
        scene = scene_of(Design(sheet=SHEET, layers=(chain("Shape", Star(points=5, size=80.0), coat, apart), source)))
        seen = ours(scene, 300)
        assert (seen[..., 0] > 180).any()
        assert np.abs(seen - FOREIGN[by](scene, SHEET, 300)).mean() < 1.0


def test_one_ink_fills_shapes_and_lines_with_different_layers():
    red_bars, fine = lines(), edited(lines(4.0), id="fine", handle="fine")
    coat = {
        "inside": "another layer",
        "pattern": red_bars.id,
        "stroke": "another layer",
        "stroke_pattern": "fine",
        "stroke_width": 20.0,
    }
    base = filled(source=red_bars, **coat)
    both = edited(base, layers=(*base.layers, fine))
    plates = [one.paint for one in scene_of(both).layers[0].picture.coats]
    assert plates[0].marks.count < plates[1].marks.count
    assert red(both)[100, 35:45].any()


def test_a_layer_that_is_missing_or_not_chosen_is_said_and_the_shape_stays_flat():
    def said(design):
        evaluator = Evaluator()
        result = evaluator.design(design)["shape"]
        return [warn.sentence for warn in measure(result, evaluator, SHEET).warnings]

    unset = filled(pattern="")
    assert any("is not chosen yet" in one for one in said(unset))
    pixels = ours(scene_of(unset), 100)
    assert pixels[50, 50, :3].tolist() == [0x26, 0x37, 0x4F]
    gone = edited(filled(), layers=filled().layers[:1])
    assert any("is gone or shows nothing" in one for one in said(gone))
    assert said(filled()) == []


def test_plain_paths_and_freezing_refuse_what_they_cannot_say():
    scene = scene_of(filled())
    with pytest.raises(InputError, match="filled with another layer"):
        write_svg(scene, SHEET, Svg(plain=True))
    with pytest.raises(InputError, match="filled with another layer"):
        frozen_text(scene.layers[0].picture)


def test_a_very_small_pattern_is_held_to_a_number_of_copies():
    design = filled(source=lines(2.0), pattern_size=5.0)
    (plate,) = (coat.paint for coat in scene_of(design).layers[0].picture.coats)
    assert 10_000 <= plate.marks.count <= 62_000
