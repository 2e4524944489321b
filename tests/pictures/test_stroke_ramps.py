"""Lines of a ramp, along them and across; lines that blend in a way of their own."""

import numpy as np
import pytest

from tests.pictures.compare import FOREIGN, ours, scene_of
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.library.layers import chain
from under_lattice.output.svg import Svg, write_svg
from under_lattice.picking.picker import Picker
from under_lattice.rules import (
    Adjust,
    Ellipse,
    Ink,
    Lattice,
    LayerMotif,
    Lettering,
    Line,
    Mirror,
    Outline,
    Polygon,
    Rectangle,
    Ring,
    Rosette,
    Roulette,
    Star,
    WaveLine,
)
from under_lattice.scene.along import ROWS_MOST, pieced
from under_lattice.scene.tree import make_scene, whole_page
from under_lattice.vary.numbers import Varied
from under_lattice.work.model import Design, Sheet

SHEET = Sheet(width=200.0, height=200.0, background="#FFFFFF")
FROM_BLACK = "0 #000000; 100 #FF0000"


def ink(**more):
    return Ink(**{"colours": "none", "stroke": "a ramp", "stroke_ramp": FROM_BLACK, "stroke_width": 8.0} | more)


def work(*rules):
    return Design(sheet=SHEET, layers=(chain("Lines", *rules),))


def pixels(*rules, width=200):
    return ours(scene_of(work(*rules)), width)


def test_the_colour_runs_from_where_a_line_begins_to_where_it_ends():
    row = pixels(Line(length=160.0, thickness=0.0), ink())[100, :, 0]
    for share in (0.1, 0.25, 0.5, 0.75, 0.9):
        assert row[20 + int(160 * share)] == pytest.approx(255 * share, abs=4)
    turned = pixels(Line(length=160.0, thickness=0.0), ink(), Adjust(turn=180.0))[100, :, 0]
    assert turned[20:180] == pytest.approx(row[20:180][::-1], abs=4)


def test_it_runs_by_length_not_by_points_and_once_round_a_closed_outline():
    square = pixels(Rectangle(width=100.0, height=100.0), ink(stroke_width=4.0))
    corners = [(50, 50), (50, 150), (150, 150), (150, 50)]
    found = sorted(float(square[y, x, 0]) for y, x in corners)
    assert found[:3] == pytest.approx([64, 128, 191], abs=8)  # the last is where it begins and ends
    wave = WaveLine(width=160.0, height=0.001, waves=3)
    assert pixels(wave, ink())[100, 100, 0] == pytest.approx(128, abs=4)


def test_across_shapes_it_runs_as_fills_do():
    disc = pixels(Ellipse(width=120.0), ink(stroke_runs="each shape", stroke_angle=0.0))
    assert [disc[100, 40, 0], disc[40, 100, 0], disc[100, 160, 0]] == pytest.approx([0, 128, 255], abs=9)
    lattice = Lattice(form="squares", spacing="free", pitch=60.0, row_pitch=60.0, extent="by number", columns=3, rows=1)
    rule = ink(stroke_runs="the sheet", stroke_angle=0.0, stroke_width=3.0)
    sheet = pixels(Ellipse(width=40.0), rule, lattice)
    tops = [sheet[80, x, 0] for x in (40, 100, 160)]
    assert tops == pytest.approx([255 * x / 200 for x in (40, 100, 160)], abs=5)


SHAPES = {
    "a line": (Line(length=150.0, thickness=0.0), Adjust(turn=20.0)),
    "corners": (Star(points=7, size=150.0),),
    "letters": (Lettering(text="AB8", size=90.0),),
    "rings": (
        Ring(width=60.0),
        Lattice(form="squares", spacing="free", pitch=66.0, row_pitch=66.0, extent="by number", columns=3, rows=3),
    ),
    "mirrored and turned": (Polygon(sides=5, size=50.0), Rosette(count=5), Mirror()),
}
LINES = {
    "mitred": {},
    "round": {"join": "round", "cap": "round"},
    "clear in part": {"stroke_ramp": "0 #1D3A4F; 50 #3F8A8C 30%; 100 #C2513A", "stroke_width": 5.0},
    "half clear": {"stroke_opacity": 50.0, "stroke_width": 3.0},
    "filled": {"colours": "one colour", "palette": ("#E4B45C",), "stroke_width": 3.0},
    "each shape": {"stroke_runs": "each shape"},
}


@pytest.mark.parametrize("line", LINES)
@pytest.mark.parametrize("shape", SHAPES)
def test_other_readers_see_the_same(shape, line):
    by = list(FOREIGN)[-1 if line == "mitred" else 0]
    motif, *rules = SHAPES[shape]
    scene = scene_of(work(motif, ink(**LINES[line]), *rules))
    assert np.abs(ours(scene, 300) - FOREIGN[by](scene, SHEET, 300)).mean() < 1.5  # edges that lie over each other


def test_sizes_that_vary_and_a_layer_of_such_lines_as_motif():
    growing = Varied(rule="row", channel="column", start=10.0, end=50.0)
    row = Lattice(id="row", form="squares", spacing="free", pitch=60.0, extent="by number", columns=3, rows=1)
    lines = chain("Lines", WaveLine(width=growing, height=20.0), ink(stroke_width=4.0), row)
    again = chain("Again", LayerMotif(layer="lines", size=80.0), Adjust(turn=90.0))
    for layers in ((lines,), (again, edited(lines, source_only=True))):
        scene = scene_of(Design(sheet=SHEET, layers=layers))
        for by in FOREIGN.values():
            assert np.abs(ours(scene, 300) - by(scene, SHEET, 300)).mean() < 1.0
        seen = ours(scene, 300)
        assert ((seen[..., 0] < 60) & (seen[..., 1] < 60)).any()  # black begins
        assert ((seen[..., 0] > 200) & (seen[..., 1] < 60)).any()  # red ends


def test_many_lines_are_cut_into_few_pieces_and_none_into_none():
    grid = Lattice(form="squares", spacing="free", pitch=2.0, row_pitch=2.0)
    (layer,) = scene_of(work(Line(length=2.0, thickness=0.0), ink(stroke_width=0.1), grid)).layers
    assert layer.picture.marks.count > 9_000
    assert pieced(layer.picture).marks.count < 1.2 * ROWS_MOST
    plain = scene_of(work(Line(length=2.0, thickness=0.0), Ink(stroke="one colour"))).layers[0].picture
    assert pieced(plain) is plain


def test_a_line_of_very_many_points_is_cut_into_as_few_pieces():
    t = np.linspace(0, 1, 90_000)
    places = np.column_stack([160 * t - 80, 20 * np.sin(40 * np.pi * t)])
    text = "M" + " L".join(f"{x:.3f} {y:.3f}" for x, y in places)
    scene = scene_of(work(Outline(outline=text, width=160.0), ink(stroke_width=2.0)))
    assert pieced(scene.layers[0].picture).marks.count <= 66
    seen = ours(scene, 300)
    assert np.abs(seen - FOREIGN["resvg"](scene, SHEET, 300)).mean() < 1.5
    closed = scene_of(work(Roulette(ring=60, wheel=25, arm=30.0, width=146.0), ink(stroke_width=1.0)))
    assert np.abs(ours(closed, 300) - FOREIGN["resvg"](closed, SHEET, 300)).mean() < 1.5


def test_a_line_is_picked_as_one():
    design, evaluator = work(Line(length=160.0, thickness=0.0), ink(), Lattice(extent="by number", columns=1, rows=1)), Evaluator()
    results = evaluator.design(design)
    scene = make_scene(design, results, evaluator)
    found = Picker(scene, whole_page(scene, 200), results).pick(40.0, 0.0)
    assert found.mark == 0
    assert "part" not in found.levels[0].words


def test_lines_blend_in_a_way_of_their_own():
    base = Ink(colours="one colour", palette=("#F0C060",), stroke="one colour", stroke_colour="#F0C060", stroke_width=20.0)
    square = Rectangle(width=100.0, height=100.0)
    plain, own = pixels(square, base), pixels(square, base.model_copy(update={"stroke_blend": "multiply"}))
    assert own[100, 100, :3].tolist() == plain[100, 100, :3].tolist() == [0xF0, 0xC0, 0x60]
    assert own[100, 54, :3] == pytest.approx([0xE2, 0x91, 0x24], abs=1)  # on its own fill
    assert own[100, 45, :3] == pytest.approx([0xF0, 0xC0, 0x60], abs=1)  # on the ground
    scene = scene_of(work(square, base.model_copy(update={"stroke_blend": "multiply"})))
    assert np.abs(ours(scene, 200) - FOREIGN["resvg"](scene, SHEET, 200)).mean() < 0.5


def test_another_ink_in_its_place_takes_the_lines_too_and_as_before_keeps_them():
    first = ink(colours="one colour", palette=("#3F8A8C",), stroke_width=12.0)
    square = Rectangle(width=100.0, height=100.0)
    gone = pixels(square, first, Ink(colours="one colour", palette=("#00FF00",), stroke="none"))
    assert gone[100, 50, :3].tolist() == [0, 255, 0]
    kept = pixels(square, first, Ink(colours="one colour", palette=("#00FF00",), stroke="as before"))
    alone = pixels(square, first)
    assert kept[100, 100, :3].tolist() == [0, 255, 0]
    assert kept[100, 48].tolist() == alone[100, 48].tolist()
    lines = pixels(square, first, Ink(colours="as before", stroke="one colour", stroke_colour="#FF00FF", stroke_width=12.0))
    assert lines[100, 100].tolist() == alone[100, 100].tolist()
    assert lines[100, 48, :3].tolist() == [255, 0, 255]


def test_dashes_have_no_say_along_a_line_and_say_so():
    along, across = ink(line="dashes"), ink(line="dashes", stroke_runs="each shape")
    assert {"line", "dash", "dash_gap", "dash_fit"} <= along.idle_dials()
    assert "dash" not in across.idle_dials()
    row = pixels(Line(length=160.0, thickness=0.0), along)[100, 25:175, 0]
    assert (np.diff(row) >= 0).all()  # unbroken
    broken = pixels(Line(length=160.0, thickness=0.0), across.model_copy(update={"stroke_angle": 0.0}))[100, 25:175, 1]
    assert np.ptp(broken) > 200


def test_plain_paths_have_the_pieces_where_they_lie():
    scene = scene_of(work(Line(length=300.0, thickness=0.0), ink()))
    data = write_svg(scene, SHEET, Svg(recipe=False, plain=True)).decode()
    assert data.count("<path") > 30
    assert "<use" not in data
