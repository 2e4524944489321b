"""Ramps with stops of their own, one flat colour by place, chances with weights, neighbours that are never alike."""

from collections import Counter

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from tests.chains import evaluated, tiles, work_of
from tests.pictures.compare import FOREIGN, apart, ours, scene_of
from under_lattice.colour.ramp import Ramp, Stop
from under_lattice.colour.ramp_text import STOPS_MOST, stops_of_text, text_of_stops
from under_lattice.core.errors import InputError
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.files.storage import from_text, to_text
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.line import Line
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.motifs.rectangle import Rectangle
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.progression import Progression
from under_lattice.rules.repeats.rosette import Rosette
from under_lattice.rules.repeats.seed_head import SeedHead
from under_lattice.rules.shapes.split import Split
from under_lattice.work.model import Sheet

SQUARES = Lattice(form="squares", extent="by number", columns=6, rows=6)
BY_PLACE = {"colours": "one colour", "inside": "straight ramp", "ramp_taken": "one colour a copy", "ramp_of": "all copies"}


def fills(*rules):
    result = evaluated(*rules)
    assert not result.problems, result.problems
    picture = Evaluator().picture(result)
    return np.broadcast_to(picture.coats[-1].fill, (picture.marks.count, 4)), picture.marks


# -- stops ---------------------------------------------------------------------------------------
shares = st.integers(0, 100).map(lambda v: v / 100)
stop = st.builds(
    Stop, shares, st.sampled_from(["#FF0000", "#00FF80", "#123456"]), shares, st.integers(5, 95).map(lambda v: v / 100)
)


@given(st.lists(stop, min_size=2, max_size=9))
def test_stops_as_text_there_and_back(stops):
    text = text_of_stops(stops)
    again = stops_of_text(text)
    assert text_of_stops(again) == text
    assert [one.place for one in again] == sorted(one.place for one in stops)
    assert Ramp(again).table().shape == (1024, 4)


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("0 #FFF", "from 2 to 64 stops"),
        ("0 #FFF; x #000", "stop 2, “x #000”, cannot be read"),
        ("0 #FFF; 120 #000", "its place is 120"),
        ("0 #FFF; 50 #000 140%", "its opacity is 140"),
        ("0 #FFF; 50 blurple", "stop 2"),
        ("; ".join(["0 #FFF"] * (STOPS_MOST + 1)), "from 2 to 64 stops"),
        ("; ".join(["0 #FFF"] * 100_000), "at most 64 stops"),
    ],
)
def test_stops_that_cannot_be_say_which_and_what_is_allowed(text, said):
    with pytest.raises(InputError, match=said):
        stops_of_text(text)


def test_names_rgb_and_what_is_clear_are_understood():
    stops = stops_of_text("0 teal; 30 rgb(10, 20, 30) 50% (20); 100 transparent")
    assert stops == (Stop(0, "#008080"), Stop(0.3, "#0A141E", 0.5, 0.2), Stop(1, "#0A141E", 0.0))


def test_an_ink_with_stops_is_kept_typed_and_counts_in_place_of_its_palette():
    ink = Ink(inside="straight ramp", ramp="0 #000; 25 #fff; 100 #f00 40%")
    assert ink.ramp == "0 #000000; 25 #FFFFFF; 100 #FF0000 40%"
    work = work_of(Ellipse(), ink)
    assert from_text(to_text(work)).design == work.design
    assert len(ink.stops()) == 3
    assert [one.colour for one in Ink(palette=("#111111", "#222222")).stops()] == ["#111111", "#222222"]
    assert ink.idle("ramp") == ""
    assert "no ramp" in Ink().idle("ramp")


INSIDE, SCOPES = ("straight ramp", "round ramp", "turning ramp"), ("each shape", "all copies", "the sheet")
EITHER = [(inside, scope, list(FOREIGN)[(i + k) % 2]) for i, inside in enumerate(INSIDE) for k, scope in enumerate(SCOPES)]


@pytest.mark.parametrize(("inside", "scope", "renderer"), EITHER)
def test_ramps_with_stops_look_the_same_elsewhere(inside, scope, renderer):
    ink = Ink(
        colours="one colour", inside=inside, ramp_of=scope, ramp="0 #102030; 40 #F0C060 (30); 70 #C03020 60%; 100 #FFFFFF",
        ramp_angle=30.0, ramp_across=40.0, ramp_down=65.0, ramp_reach=80.0, mixing="Oklab",
    )  # fmt: skip
    design = work_of(Polygon(size=40.0), ink, Lattice(gap=4.0), sheet=Sheet(width=120, height=90, background="#F4EFE4")).design
    scene = scene_of(design)
    away, much = apart(ours(scene, 360), FOREIGN[renderer](scene, design.sheet, 360))
    assert away < 1.5
    assert much < 0.02


def test_where_a_ramp_stands_and_how_far_it_reaches():
    def table_at(**how):
        picture = Evaluator().picture(
            evaluated(Rectangle(width=100.0, height=40.0), Ink(inside="straight ramp", ramp_angle=0.0, **how))
        )
        ramp = picture.coats[0].paint
        return lambda x: float(ramp.to_ramp[0] @ (x, 0.0, 1.0))

    plain, moved, short = table_at(), table_at(ramp_across=80.0), table_at(ramp_reach=50.0)
    assert (plain(-50), plain(50)) == pytest.approx((0.0, 1.0))
    assert moved(30) == pytest.approx(0.5)
    assert (short(-25), short(25)) == pytest.approx((0.0, 1.0))


# -- one colour a copy ---------------------------------------------------------------------------
@pytest.mark.parametrize("pitch", [1.0, 37.0])
def test_cells_under_a_slanting_ramp_have_eleven_values(pitch):
    ink = Ink(**BY_PLACE, palette=("#000000", "#FFFFFF"), ramp_angle=45.0)
    colours, _ = fills(Polygon(sides=4, measure="side", size=20.0 * pitch / 37, stands="on a flat"), SQUARES, ink)
    counts = Counter(map(tuple, colours.tolist()))
    assert [counts[one] for one in sorted(counts)] == [1, 2, 3, 4, 5, 6, 5, 4, 3, 2, 1]
    assert {one[0] == one[1] == one[2] and one[3] == 255 for one in counts} == {True}


def test_marks_of_one_copy_have_one_colour_and_other_forms_are_read_there_too():
    ink = Ink(**BY_PLACE, palette=("#000000", "#FFFFFF"))
    colours, marks = fills(Polygon(size=20.0), Split(), Lattice(extent="by number", columns=5, rows=4), ink)
    for copy in range(20):
        assert len(np.unique(colours[marks.copy == copy], axis=0)) == 1
    round_ = Ink(**(BY_PLACE | {"inside": "round ramp", "ramp_of": "the sheet"}), palette=("#000000", "#FFFFFF"))
    colours, marks = fills(Ellipse(width=6.0), SeedHead(count=200), round_)
    far = np.hypot(*marks.xform[:, :, 2].T)
    assert np.all(np.diff(colours[np.argsort(far), 0].astype(int)) >= 0)
    turning = Ink(**(BY_PLACE | {"inside": "turning ramp", "ramp_angle": 0.0}), palette=("#000000", "#FFFFFF"))
    colours, marks = fills(Ellipse(width=6.0), Rosette(count=8, radius=50.0), turning)
    angle = np.degrees(np.arctan2(marks.xform[:, 1, 2], marks.xform[:, 0, 2])) % 360
    want = np.rint(angle / 360 * 255)
    assert np.abs(colours[:, 0].astype(int) - want)[(angle > 1) & (angle < 359)].max() <= 1


def test_of_a_repeat_further_up_all_its_copies_share_a_colour():
    ink = Ink(**BY_PLACE, palette=("#000000", "#FFFFFF"), of="floor-lattice")
    floor = Lattice(form="squares", extent="by number", columns=3, rows=3, spacing="free", pitch=60.0, row_pitch=60.0)
    colours, _ = fills(Ellipse(width=4.0), Rosette(count=6, radius=8.0), floor, ink)
    assert len(colours) == 54
    assert len(np.unique(colours, axis=0)) == 3  # a level ramp down three rows


# -- chance --------------------------------------------------------------------------------------
def test_colours_come_as_often_as_their_weights_say():
    ink = Ink(colours="chance", palette=("#FF0000", "#00FF00", "#0000FF"), weights="6, 3, 1")
    colours, _ = fills(Ellipse(width=2.0), ink, Lattice(form="squares", extent="by number", columns=100, rows=100))
    counts = Counter(map(tuple, colours.tolist()))
    share = [counts[one] / 10_000 for one in ((255, 0, 0, 255), (0, 255, 0, 255), (0, 0, 255, 255))]
    assert share == pytest.approx([0.6, 0.3, 0.1], abs=0.015)
    none = Ink(colours="chance", palette=("#FF0000", "#00FF00"), weights="0, 1")
    assert len(np.unique(fills(Ellipse(), none, SQUARES)[0], axis=0)) == 1
    for wrong in ("3, x", "-1", "0, 0"):
        with pytest.raises(ValueError, match=r"weight|number"):
            Ink(weights=wrong)


@pytest.mark.parametrize(
    "rules",
    [
        (Polygon(size=20.0), Lattice(extent="by number", columns=12, rows=12)),
        (Polygon(sides=4, measure="side", size=12.0, stands="on a flat"), SQUARES),
        (Rectangle(width=30.0, height=10.0), Lattice(form="staggered rows", extent="by number", columns=8, rows=12)),
        (Polygon(size=20.0), Split(), Lattice(extent="by number", columns=8, rows=8)),
    ],
    ids=["hexagons", "squares", "bricks", "rhombs"],
)
@pytest.mark.parametrize("seed", [1, 7])
def test_shapes_that_touch_are_never_alike_where_that_is_asked(rules, seed):
    *shape, floor = rules
    ink = Ink(colours="chance", palette=("#FF0000", "#00FF00", "#0000FF", "#888888"), neighbours="never alike", seed=seed)
    colours, _ = fills(*shape, ink, floor)
    shapes, _ = tiles(evaluated(*shape, ink, floor))
    one, other = shapely.STRtree(shapes).query(shapely.buffer(shapes, 1e-3), predicate="intersects")
    sides = shapely.length(shapely.intersection(shapely.buffer(shapes[one], 1e-3), shapely.boundary(shapes[other]))) > 1.0
    pairs = (one < other) & sides
    assert pairs.sum() > 50
    assert not (colours[one[pairs]] == colours[other[pairs]]).all(1).any()
    again, _ = fills(*shape, ink, floor)
    assert (again == colours).all()
    free, _ = fills(*shape, Ink(colours="chance", palette=ink.palette, seed=seed), floor)
    assert (free[one[pairs]] == free[other[pairs]]).all(1).any()


# -- masks ---------------------------------------------------------------------------------------
WHOLE = (Rectangle(width=100.0, height=80.0), Ink(colours="one colour", palette=("#FFFFFF",)))
BLACK = Sheet(width=100, height=80, background="#000000")


def masked(**end):
    work = work_of(*WHOLE, sheet=BLACK).design
    layer = edited(work.layers[0], end=edited(work.layers[0].end, **end))
    return ours(scene_of(edited(work, layers=(layer,))), 200)[..., 0] / 255


def test_a_ramp_over_the_sheet_says_how_much_is_seen():
    down = masked(masked="straight ramp")
    rows = (np.arange(160) + 0.5) / 160
    assert np.abs(down.mean(1) - (1 - rows)).max() < 2 / 255
    across = masked(masked="straight ramp", mask_angle=0.0, mask_way="inverted")
    assert np.abs(across.mean(0) - (np.arange(200) + 0.5) / 200).max() < 2 / 255
    half = masked(masked="straight ramp", mask_reach=50.0)
    assert half[:38].min() > 0.98
    assert half[-38:].max() < 0.02
    round_ = masked(masked="round ramp", mask_ramp="0 #FFFFFF; 100 #000000")
    assert round_[80, 100] > 0.97
    assert round_[0, 0] < 0.05
    assert masked(masked="straight ramp", mask_on="off").min() == 1.0


def test_dials_of_a_mask_say_when_they_have_no_effect():
    end = work_of(*WHOLE).design.layers[0].end
    assert end.idle("mask_way") == "no mask is chosen"
    assert end.idle("mask_ramp")
    ramped = edited(end, masked="straight ramp")
    assert not ramped.idle("mask_way")
    assert not ramped.idle("mask_ramp")
    assert ramped.idle("mask_by")
    assert ramped.layers() == ()


def test_translucent_marks_over_each_other_and_blends_are_those_of_the_formulas():
    def middle(sheet, *rules):
        return ours(scene_of(work_of(*rules, sheet=sheet).design), 100)[40, 50, :3]

    for times, share in ((1, 0.4), (2, 0.64), (3, 0.784)):
        white = Ink(colours="one colour", palette=("#FFFFFF",), fill_opacity=40.0)
        assert middle(BLACK, Rectangle(width=60.0, height=60.0), white, Progression(count=times, distance=0.0))[0] == pytest.approx(
            255 * share, abs=1
        )
    gold = Ink(colours="one colour", palette=("#F0C060",), blend="multiply")
    seen = middle(Sheet(width=100, height=80, background="#F0C060"), Rectangle(width=60.0, height=60.0), gold)
    assert seen == pytest.approx((0xE2, 0x91, 0x24), abs=1)
    grey = Ink(colours="one colour", palette=("#999999",), blend="luminosity")
    under = "#{:02X}{:02X}{:02X}".format(*(round(255 * v) for v in (0.7, 0.5, 0.3)))
    seen = middle(Sheet(width=100, height=80, background=under), Rectangle(width=60.0, height=60.0), grey)
    assert seen / 255 == pytest.approx((0.762, 0.562, 0.362), abs=3 / 255)


# -- width of lines ------------------------------------------------------------------------------
@pytest.mark.parametrize("grows", ["no", "with the size of its copy"])
def test_lines_are_as_wide_everywhere_or_grow_with_their_copy(grows):
    ring = Progression(count=5, x=30.0, turn=20.0, across=80.0, along=80.0)
    ink = Ink(colours="none", stroke="one colour", stroke_width=2.0, stroke_grows=grows)
    for above in ((), (Split(into="rhombs"),)):
        result = evaluated(Polygon(sides=6, size=40.0), *above, ring, ink)
        picture = Evaluator().picture(result)
        sizes = np.sqrt(np.abs(np.linalg.det(picture.marks.xform[:, :, :2])))
        widths = np.broadcast_to(picture.coats[-1].width, picture.marks.count)
        wanted = 2.0 * sizes if grows != "no" else np.full(len(sizes), 2.0)
        assert widths == pytest.approx(wanted)
        assert np.ptp(sizes) > 0.4


def test_open_lines_without_a_stroke_keep_to_it_too():
    ring = Progression(count=3, x=30.0, across=50.0, along=50.0)
    result = evaluated(Line(length=20.0, thickness=0.0), ring, Ink(stroke_width=2.0, stroke_grows="with the size of its copy"))
    assert Evaluator().picture(result).coats[-1].width == pytest.approx([2.0, 1.0, 0.5])


@given(mirrored=st.sampled_from(["none", "every second"]), step=st.sampled_from([30.0, 100.0, 140.0]), width=st.floats(0.0, 9.0))
def test_a_width_that_grows_is_true_in_copies_of_copies(mirrored, step, width):
    rules = [Progression(count=3, x=30.0, across=step, along=step), Rosette(count=4, radius=90.0, mirrored=mirrored)]
    result = evaluated(Ellipse(), *rules, Ink(stroke="one colour", stroke_width=width, stroke_grows="with the size of its copy"))
    picture = Evaluator().picture(result)
    widths = np.broadcast_to(picture.coats[-1].width, picture.marks.count)
    assert sorted(set(np.round(widths, 6))) == sorted({round(width * (step / 100) ** k, 6) for k in range(3)})


def strokes(*rules):
    result = evaluated(*rules)
    assert not result.problems
    picture = Evaluator().picture(result)
    coat = picture.coats[-1]
    return [bytes(one[:3]).hex() for one in np.broadcast_to(coat.stroke, (picture.marks.count, 4))], picture.marks


THREE = ("#FF0000", "#00FF00", "#0000FF")


@pytest.mark.parametrize(("by", "wanted"), [("row", 3), ("in turn", 3), ("part", 2), ("chance", 3), ("x", 3), ("noise", 2)])
def test_strokes_take_a_palette_of_their_own(by, wanted):
    ink = Ink(colours="none", stroke="a palette", stroke_by=by, stroke_palette=THREE)
    taken, _ = strokes(Polygon(size=8.0), *((Split(into="rhombs"),) if by == "part" else ()), SQUARES, ink)
    assert set(taken) <= {"ff0000", "00ff00", "0000ff"}
    assert len(set(taken)) >= wanted
    if by == "row":
        assert [taken[6 * k] for k in range(6)] == ["ff0000", "00ff00", "0000ff"] * 2


def test_fill_and_stroke_are_chosen_apart():
    ink = Ink(colours="column", palette=("#111111", "#222222"), stroke="a palette", stroke_by="row", stroke_palette=THREE)
    fill, marks = fills(Polygon(sides=4, size=8.0), SQUARES, ink)
    taken, _ = strokes(Polygon(sides=4, size=8.0), SQUARES, ink)
    assert {bytes(fill[k, :3]).hex() for k in (0, 2, 4)} != {bytes(fill[k, :3]).hex() for k in (1, 3, 5)}
    assert len({bytes(one[:3]).hex() for one in fill[:6]}) == 2
    assert set(taken[:6]) == {"ff0000"}
    faint = edited(ink, stroke_opacity=50.0)
    assert marks.count == 36
    result = evaluated(Polygon(sides=4, size=8.0), SQUARES, faint)
    assert set(Evaluator().picture(result).coats[-1].stroke[:, 3].tolist()) == {128}


@pytest.mark.parametrize("stroke", ["one colour", "a palette"])
@pytest.mark.parametrize("colour", ["transparent", "#00000000", ""])
def test_a_clear_stroke_is_clear(stroke, colour):
    ink = Ink(stroke=stroke, stroke_colour=colour, stroke_palette=("#00000000",))
    picture = Evaluator().picture(evaluated(Polygon(size=8.0), ink))
    assert picture.coats[-1].stroke[:, 3].tolist() == [0]
