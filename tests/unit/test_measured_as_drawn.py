"""Gaps, overlaps, doubles and bounds are those of the outlines as they are drawn, held against closed forms and another library."""

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.chains import SHEET, centres, evaluated, last_stage, tiles, work_of
from under_lattice.core.errors import GivenUp
from under_lattice.core.progress import Progress
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.measure import gaps
from under_lattice.measure.facts import measure
from under_lattice.measure.gaps import gaps_of
from under_lattice.pattern.doubles import doubles
from under_lattice.pattern.drawn import Drawn
from under_lattice.render.coverage import coverage
from under_lattice.render.paint import paint
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.copies.leave_out import LeaveOut
from under_lattice.rules.copies.trim import Trim
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.line import Line
from under_lattice.rules.motifs.petal import Petal
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.motifs.rectangle import Rectangle
from under_lattice.rules.motifs.star import Star
from under_lattice.rules.motifs.wave_line import WaveLine
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.progression import Progression
from under_lattice.rules.repeats.rosette import Rosette
from under_lattice.rules.repeats.seed_head import SeedHead
from under_lattice.rules.repeats.spots import Spots
from under_lattice.rules.repeats.symmetry import Symmetry
from under_lattice.rules.shapes.push_edges import PushEdges
from under_lattice.rules.shapes.split import Split
from under_lattice.scene.tree import make_scene, whole_page
from under_lattice.vary.numbers import Varied
from under_lattice.work.edits import add_rule, set_dial


def over_rows(start, end):
    return Varied(rule="floor-lattice", channel="step", start=start, end=end)


SQUARES = Lattice(form="squares", extent="by number", columns=7, rows=6)
TWO = Progression(count=2, distance=30.0)


def marks(*rules):
    result = evaluated(*rules)
    assert not result.problems, result.problems
    return Evaluator().marks(result.last.stage, result.known)


def facts(*rules):
    design, evaluator = work_of(*rules).design, Evaluator()
    return measure(evaluator.design(design)["floor"], evaluator, SHEET)


def nearest(*rules):
    """The distance of each copy to its nearest neighbour, by the library."""
    shapes, copies = tiles(evaluated(*rules), 96)
    whole = [shapely.union_all(shapes[copies == copy]) for copy in np.unique(copies)]
    apart = np.array([[one.distance(other) if one is not other else np.inf for other in whole] for one in whole])
    return apart.min(1)


GAPS = {
    "a ramp of sizes": (
        Rectangle(width=20.0, height=14.0),
        SQUARES,
        Adjust(scope="each", across=over_rows(start=100.0, end=40.0), along=over_rows(start=100.0, end=70.0)),
    ),
    "petals turned": (
        Petal(length=18.0),
        SQUARES.model_copy(update={"gap": 14.0}),
        Adjust(scope="each", turn=over_rows(start=0.0, end=75.0)),
    ),
    "parts": (Polygon(size=20.0), Split(), Lattice(gap=3.0, extent="by number", columns=5, rows=4)),
    "stars": (Star(size=22.0), Lattice(form="squares", gap=1.0, extent="by number", columns=5, rows=5)),
    "one large": (Ellipse(width=8.0), Spots(spots="0, 0, 0, 900; 44, 0; 0, 48; -52, 0; 90, 90")),
    "ellipses": (Ellipse(width=8.0, roundness=60.0), Rosette(count=17, radius=60.0)),
}


@pytest.mark.parametrize("rules", GAPS.values(), ids=GAPS)
def test_the_gap_and_its_range_are_those_of_the_outlines(rules):
    found, apart = gaps_of(Drawn(marks(*rules))), nearest(*rules)
    assert found.least == pytest.approx(apart.min(), abs=2e-3)
    assert found.most == pytest.approx(apart.max(), abs=2e-3)
    low, high = f"{found.least:.2f}", f"{found.most:.2f}"
    low, high = low.lstrip("-"), high.lstrip("-")
    assert found.words("mm").removesuffix(", touching") == (f"gap {low} mm" if low == high else f"gap {low} … {high} mm")


def test_gaps_of_discs_are_exact():
    assert facts(Ellipse(width=30.0), Lattice(gap=2.0)).gap == pytest.approx(2.0, abs=1e-9)
    assert facts(Ellipse(width=30.0), Lattice(form="squares")).gap_words == "gap 0.00 mm, touching"
    assert facts(Ellipse(width=30.0), Rosette(count=11, radius_by="touching", gap=1.5)).gap == pytest.approx(1.5, abs=1e-9)
    assert facts(Ellipse(width=30.0), Progression(count=4, spacing="touching", direction=37.0)).gap == 0.0
    stage = last_stage(Ellipse(width=6.0), SeedHead(count=300, spacing=8.0))
    at = centres(stage)
    apart = np.hypot(*(at[:, None] - at[None]).transpose(2, 0, 1)) + np.diag(np.full(len(at), np.inf))
    found = facts(Ellipse(width=6.0), SeedHead(count=300, spacing=8.0))
    assert found.gap == pytest.approx(apart.min() - 6.0, abs=1e-9)
    assert f"… {apart.min(1).max() - 6.0:.2f}" in found.gap_words


OVERLAPS = {
    "discs": ((Ellipse(width=40.0), TWO), 10.0),
    "squares": ((Rectangle(width=36.0, height=36.0), TWO), 6.0),
    "hexagons": ((Polygon(size=36.0), TWO), 6.0),
    "split hexagons": ((Polygon(size=36.0), Split(), TWO), 6.0),
    "ellipses": ((Ellipse(width=40.0, roundness=50.0), TWO), None),
}


@pytest.mark.parametrize(("rules", "deep"), OVERLAPS.values(), ids=OVERLAPS)
def test_an_overlap_is_as_deep_as_what_is_common_is_thick(rules, deep):
    found = gaps_of(Drawn(marks(*rules)))
    if deep is None:
        (one, other), _ = tiles(evaluated(*rules), 96)
        corners = shapely.get_coordinates(shapely.minimum_rotated_rectangle(one.intersection(other)))
        deep = np.hypot(*np.diff(corners[:3], axis=0).T).min()
    assert -found.least == pytest.approx(deep, rel=1e-3)
    assert found.words("mm") == f"overlap {deep:.2f} mm"


def test_sizes_that_vary_no_longer_touch_everywhere():
    sizes = over_rows(100.0, 60.0)
    found = facts(Polygon(size=36.0), Lattice(extent="by number"), Adjust(scope="each", across=sizes, along=sizes))
    assert found.gap_words.startswith("gap 0.")
    assert " … " in found.gap_words
    waves = WaveLine(width=90.0, height=6.0), Progression(count=9, distance=8.0, direction=90.0)
    lines = [shapely.LineString(one.exterior.coords[:-1]) for one in tiles(evaluated(*waves), 96)[0]]
    assert facts(*waves).gap == pytest.approx(lines[0].distance(lines[1]), abs=1e-3)  # of lines, not of boxes round them


def test_what_lies_within_or_crosses_is_said_instead():
    assert (
        facts(Ellipse(width=90.0), Progression(count=6, distance=0.0, across=80.0, along=80.0)).gap_words
        == "copies stand within copies"
    )
    assert facts(Rectangle(width=90.0), Progression(count=6, distance=0.0, across=80.0, along=80.0)).gap_words.endswith(
        "within copies"
    )
    assert facts(Line(length=90.0, thickness=0.0), Rosette(count=5, radius=0.0)).gap_words == "lines cross"


def test_petals_that_overlap_are_areas_though_their_tips_are_rounded():
    for length in (82.34, 41.17, 10.0, 7.3):
        petals = (Petal(length=length, width=34.0), Rosette(count=16, radius=length * 0.76))
        assert facts(*petals).gap_words.startswith("overlap"), length
    assert facts(Petal(length=82.34, width=34.0), Rosette(count=5, radius=62.0)).gap_words.startswith("gap")


@pytest.mark.parametrize("waves", [6, 90])
def test_long_lines_are_as_far_apart_as_another_library_finds(waves):
    height = Varied(rule="floor-progression", channel="step", start=2.0, end=9.0)
    rules = (WaveLine(width=60.0, height=height, waves=waves), Progression(count=3, distance=17.0, direction=90.0))
    lines = Drawn(marks(*rules)).placed(np.arange(3), fine=True)
    assert facts(*rules).gap == pytest.approx(min(lines[0].distance(lines[1]), lines[1].distance(lines[2])), abs=1e-3)


def test_many_copies_are_asked_in_part_and_it_can_be_stopped():
    many = marks(Rectangle(width=1.0, height=1.0), Lattice(form="squares", spacing="free", pitch=1.5, row_pitch=1.5))
    assert many.count > 20_000
    assert gaps_of(Drawn(many)).words("mm") == "gap 0.50 mm"
    discs = marks(Ellipse(width=4.0), Lattice(form="squares", spacing="free", pitch=1.5, row_pitch=1.5))
    assert gaps_of(Drawn(discs)).words("mm") == "overlap 2.50 mm"
    with pytest.raises(GivenUp):
        gaps_of(Drawn(many), Progress(stop=lambda: True))
    assert gaps_of(Drawn(marks(Ellipse()))).words("mm") == ""


def test_corners_only_is_told_with_what_ends_it():
    for rules in ((Polygon(turn=90.0), Lattice()), (Polygon(sides=4, stands="on a point"), Lattice(form="squares"))):
        found = facts(*rules)
        assert found.gap_words == "gap 0.00 mm, touching at corners only"
        (warn,) = found.warnings
        assert warn.sentence.startswith("touches at corners only")
        evaluator = Evaluator()
        design = set_dial(work_of(*rules).design, "floor", warn.cure.rule, warn.cure.dial, warn.cure.value)
        cured = measure(evaluator.design(design)["floor"], evaluator, SHEET)
        assert cured.gap_words == "gap 0.00 mm, touching"
        assert cured.warnings == ()
    assert facts(Star(), Lattice(form="squares")).warnings == ()  # as tight as stars can stand there


BOXES = {
    "waves": (WaveLine(width=90.0, height=6.0), Progression(count=5, distance=8.0, direction=70.0)),
    "pushed": (Polygon(size=30.0), PushEdges(profile="bow", amount=3.0), Lattice(extent="by number", columns=3, rows=3)),
    "sizes": (Petal(length=18.0), SQUARES, Adjust(scope="each", along=over_rows(start=60.0, end=240.0))),
    "trimmed": (Ellipse(width=90.0), Lattice(form="squares"), Trim(inset=12.0)),
    "discs": (Ellipse(width=8.0), SeedHead(count=200)),
}


@pytest.mark.parametrize("rules", BOXES.values(), ids=BOXES)
def test_bounds_are_those_of_the_outlines(rules):
    shapes, _ = tiles(evaluated(*rules), 200)
    assert facts(*rules).bounds == pytest.approx(shapely.total_bounds(shapes), abs=1e-3)


def test_strokes_are_told_apart():
    line = Ink(stroke="one colour", stroke_width=2.0)
    square = facts(Polygon(sides=4, measure="side", size=20.0, stands="on a point"), line)
    assert square.bounds == pytest.approx(np.array([-1, -1, 1, 1]) * 10 * np.sqrt(2))
    assert square.inked == pytest.approx(np.array([-1, -1, 1, 1]) * 11 * np.sqrt(2))  # mitred corners
    rounded = facts(Polygon(sides=4, measure="side", size=20.0, stands="on a point"), line.model_copy(update={"join": "round"}))
    assert rounded.inked == pytest.approx(np.array([-1, -1, 1, 1]) * (10 * np.sqrt(2) + 1), abs=1e-3)
    bar = facts(Line(length=20.0, thickness=0.0), Ink(colours="none", stroke="one colour", stroke_width=2.0, cap="square"))
    assert bar.inked == pytest.approx((-11, -1, 11, 1))
    assert facts(Ellipse(width=20.0), line, Lattice(gap=3.0)).gap_inked == pytest.approx(1.0)
    assert facts(Ellipse(width=20.0)).inked is None


TWICE = {
    "ellipses round": ((Ellipse(width=30.0, roundness=50.0), Progression(count=18, distance=0.0, turn=20.0)), 9),
    "discs on the spot": ((Ellipse(width=30.0), Progression(count=18, distance=0.0, turn=20.0)), 17),
    "hexagons": ((Polygon(size=30.0), Progression(count=12, distance=0.0, turn=30.0)), 10),
    "petals upside down": ((Petal(length=30.0), Spots(spots="0, 0; 0, 0, 180; 30, 0")), 1),
    "lines": ((Line(length=30.0, thickness=0.0), Rosette(count=12, radius=0.0)), 6),
    "parts": ((Polygon(size=30.0), Split(), Progression(count=4, distance=0.0, turn=120.0)), 3),
    "a square in other sizes": ((Polygon(sides=4, size=30.0), Progression(count=9, distance=0.0, across=90.0, along=90.0)), 0),
    "triangles upside down": ((Polygon(sides=3, size=30.0), Progression(count=2, distance=0.0, turn=180.0)), 0),
    "petals of a p6m": ((Ellipse(width=13.0, roundness=250.0), Symmetry(group="p6m", width=92.0, x=0.0, y=-22.0)), None),
}


@pytest.mark.parametrize(("rules", "count"), TWICE.values(), ids=TWICE)
def test_doubles_are_told_by_outlines_and_the_cure_leaves_one_of_each(rules, count):
    twice = doubles(Drawn(marks(*rules)))
    shapes, copies = tiles(evaluated(*rules), 96)
    if count is None:
        count = sum(
            any(one.symmetric_difference(other).area < 1e-3 * one.area for other in shapes[:k]) for k, one in enumerate(shapes)
        )
        assert count > 90
    assert len(twice) == count
    left = last_stage(*rules, LeaveOut(which="exact doubles"))
    assert left.n == len(np.unique(copies)) - count
    if count:
        design, evaluator = work_of(*rules).design, Evaluator()
        (warn,) = [w for w in facts(*rules).warnings if "exactly on another" in w.sentence]
        cured = add_rule(design, "floor", warn.cure.value, warn.cure.rule)
        found = measure(evaluator.design(cured)["floor"], evaluator, SHEET)
        assert not [w for w in found.warnings if "exactly" in w.sentence]


@settings(max_examples=25, deadline=None)
@given(
    st.lists(st.tuples(st.integers(-3, 3), st.integers(-3, 3), st.sampled_from([0, 90, 180, 270, 45])), min_size=1, max_size=14),
    st.sampled_from([Rectangle(width=12.0, height=12.0), Rectangle(width=12.0, height=6.0), Star(points=4, size=12.0)]),
)
def test_doubles_are_as_many_as_the_library_finds(spots, motif):
    told = "; ".join(f"{10 * x}, {10 * y}, {turn}" for x, y, turn in spots)
    rules = (motif, Spots(spots=told))
    shapes, _ = tiles(evaluated(*rules))
    want = [k for k, one in enumerate(shapes) if any(one.symmetric_difference(other).area < 1e-6 for other in shapes[k + 1 :])]
    assert doubles(Drawn(marks(*rules))).tolist() == want


def test_nothing_has_no_gap_and_no_bounds():
    found = facts(Ellipse(width=10.0), LeaveOut(which="outside a circle", radius=1.0, side="inside"))
    assert (found.bounds, found.inked, found.gap, found.gap_words) == (None, None, None, "")


def test_coverage_is_that_of_the_areas():
    design, evaluator = work_of(Rectangle(width=81.0, height=161.0), Ink()).design, Evaluator()
    picture = evaluator.picture(evaluator.design(design)["floor"])
    assert coverage(picture, SHEET.width, SHEET.height) == pytest.approx(100 * 81 * 161 / (324 * 322), abs=0.3)


MOTIFS = (
    Ellipse(width=20.0), Ellipse(width=26.0, roundness=30.0), Polygon(size=18.0), Star(size=22.0), Petal(length=30.0),
    Line(length=20.0, thickness=0.0), Line(length=24.0, thickness=3.0),
)  # fmt: skip


@settings(max_examples=40, deadline=None)
@given(
    motif=st.sampled_from(MOTIFS),
    pitch=st.floats(8.0, 60.0),
    row=st.floats(8.0, 60.0),
    turn=st.floats(0.0, 180.0),
    sizes=st.tuples(st.floats(20.0, 200.0), st.floats(20.0, 200.0)),
    split=st.booleans(),
)
def test_only_pairs_that_decide_are_asked_and_the_answer_is_that_of_all(motif, pitch, row, turn, sizes, split):
    rules = (motif, *((Split(),) if split and motif.kind == "polygon" else ()))
    varied = Adjust(turn=over_rows(0.0, turn), across=over_rows(*sizes), along=over_rows(*sizes))
    floor = Lattice(form="squares", extent="by number", columns=6, rows=4, spacing="free", pitch=pitch, row_pitch=row)
    drawn = Drawn(marks(*rules, floor, varied))
    fewer = gaps_of(drawn)
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(gaps, "_that_decide", lambda drawn, one, other, apart, asked: (np.ones(len(one), bool), asked))
        everything = gaps_of(Drawn(drawn.marks))
    assert (fewer.within, fewer.cross, fewer.corners) == (everything.within, everything.cross, everything.corners)
    if fewer.least is not None:
        assert fewer.least == pytest.approx(everything.least, abs=1e-9)
        assert fewer.most == pytest.approx(everything.most, abs=1e-3)


def test_the_disc_an_outline_covers_is_that_of_the_formula():
    for motif, radius in ((Polygon(size=20.0), 10.0), (Polygon(sides=4, measure="side", size=8.0), 4.0), (Ellipse(width=9.0), 4.5)):
        (inner,) = Drawn(marks(motif)).inner
        assert inner == pytest.approx(radius, rel=5e-3)
        assert inner <= radius
    assert Drawn(marks(Line(length=20.0, thickness=0.0))).inner[0] < 0


def test_without_doubles_the_picture_is_the_same():
    rules = (
        Polygon(sides=4, size=60.0),
        Progression(count=7, distance=0.0, turn=45.0),
        Ink(colours="step", palette=("#E08030", "#102040", "#FFFFFF"), of="floor-progression"),
    )
    pictures = []
    for more in ((), (LeaveOut(which="exact doubles"),)):
        design, evaluator = work_of(*rules, *more).design, Evaluator()
        scene = make_scene(design, evaluator.design(design), evaluator)
        pictures.append(paint(scene, whole_page(scene, 120)))
    assert last_stage(*rules, LeaveOut(which="exact doubles")).n == 2
    away = np.abs(pictures[0].astype(int) - pictures[1]).max(-1)
    assert (away > 0).mean() < 0.05  # at their edges alone
    assert away[50:70, 50:70].max() == 0


@pytest.mark.parametrize("stroke", ["one colour", "a palette", "a ramp"])
@pytest.mark.parametrize("clear", [False, True])
def test_between_strokes_of_one_width_whatever_their_colours(stroke, clear):
    colours = ("#B5452C", "#00000000" if clear else "#2C6AB5")
    ink = Ink(stroke=stroke, stroke_palette=colours, stroke_colour="#B5452C", stroke_width=1.5)
    found = facts(Rectangle(width=20.0, height=20.0), Lattice(form="squares", gap=4.0), ink)
    assert found.gap == pytest.approx(4.0)
    assert found.gap_inked == pytest.approx(2.5)
