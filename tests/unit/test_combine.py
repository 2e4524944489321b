"""Combine: union, intersection, exclusion and difference of copies, parts and layers."""

import numpy as np
import pytest
import shapely
from hypothesis import assume, given
from hypothesis import strategies as st

from tests.chains import evaluated, last_stage, tiles, work_of
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator, evaluate
from under_lattice.geometry.affine import apply
from under_lattice.geometry.body import needless
from under_lattice.geometry.outline import CURVE, LINE, areas, contours
from under_lattice.library.layers import chain
from under_lattice.pattern.ask import Ask
from under_lattice.pattern.clipping import area_of
from under_lattice.pattern.marks import draw
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.copies.combine import Combine, _union
from under_lattice.rules.copies.leave_out import LeaveOut
from under_lattice.rules.copies.trim import Trim
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.outline_motif import Outline
from under_lattice.rules.motifs.petal import Petal
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.motifs.rectangle import Rectangle
from under_lattice.rules.motifs.ring import Ring
from under_lattice.rules.motifs.spiral import Spiral
from under_lattice.rules.motifs.star import Star
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.progression import Progression
from under_lattice.rules.repeats.rosette import Rosette
from under_lattice.rules.shapes.offset import Offset
from under_lattice.rules.shapes.split import Split
from under_lattice.work.model import Design, Sheet

JOINTS = 30.0  # degrees between the joints of the curves of a disc
SQUARE = Polygon(sides=4, measure="side", size=20.0, stands="on a flat")
TWO = Progression(count=2, distance=12.0)


def left(*rules):
    """What is drawn, as one area."""
    result = evaluated(*rules)
    assert not result.problems, result.problems
    return area_drawn(result)


def area_drawn(result):
    marks = Evaluator().marks(result.last.stage, result.known)
    shapes = [
        shapely.transform(area_of(marks.families[f], int(v))[0], lambda p, x=x: p @ x[:, :2].T + x[:, 2])
        for f, v, x in zip(marks.family, marks.variant, marks.xform, strict=True)
        if v >= 0
    ]
    return shapely.union_all(shapes), sum(shape.area for shape in shapes)


@pytest.mark.parametrize(
    ("how", "want"), [("union", 640.0), ("intersection", 160.0), ("exclusion", 480.0), ("first less the rest", 240.0)]
)
def test_two_squares(how, want):
    whole, total = left(SQUARE, TWO, Combine(how=how))
    assert whole.area == pytest.approx(want, rel=1e-8)
    assert total == pytest.approx(want, rel=1e-8)  # pieces do not overlap


def test_curves_stay_curves_where_areas_are_overlaid():
    two = Ellipse(width=40.0), Progression(count=2, distance=20.0)
    for how, pieces in (("union", 1), ("intersection", 1), ("exclusion", 2)):
        stage = last_stage(*two, Combine(how=how))
        (family,) = draw(stage).families
        assert stage.n == pieces
        assert LINE not in family.verbs
        on = apply(stage.xform[:, None], family.points[stage.shape.draw(Ask(stage))[0].variant][:, None])[:, 0, ::3]
        far = np.minimum(*(np.abs(np.hypot(on[..., 0] - x, on[..., 1]) - 20.0) for x in (0.0, 20.0)))
        assert far.max() < 0.02  # every joint lies on one of the circles
        assert family.verbs.count(CURVE) <= 24  # and not on hundreds of corners


def covered(*rules):
    """Area of all that is left, along its curves."""
    result = evaluated(*rules)
    assert not result.problems
    marks = Evaluator().marks(result.last.stage, result.known)
    (family,) = marks.families
    return np.abs(areas(family.verbs, family.points))[marks.variant].sum()


def away_from_joints(heading, half):
    """Whether circles cross, `half` radians to both sides of a heading, away from where the curves of a disc meet."""
    crossed = heading + np.degrees(half) * np.array([1, -1])
    return (np.abs((crossed + JOINTS / 2) % JOINTS - JOINTS / 2) > 0.5).all()


@given(
    ratio=st.floats(30, 100),
    apart=st.floats(0.02, 0.98),
    heading=st.floats(0, 360),
    how=st.sampled_from(["union", "intersection", "exclusion", "first less the rest"]),
)
def test_overlaid_discs_have_the_areas_of_the_formula(ratio, apart, heading, how):
    r, s = 20.0, 0.2 * ratio
    d = (r - s) + apart * 2 * s if r > s + 1e-9 else apart * 40
    one, other = np.arccos((d * d + r * r - s * s) / (2 * d * r)), np.arccos((d * d + s * s - r * r) / (2 * d * s))
    assume(away_from_joints(heading, one) and away_from_joints(heading + 180, other))  # there it is within 1e-4
    both = r * r * one + s * s * other - np.sqrt((-d + r + s) * (d + r - s) * (d - r + s) * (d + r + s)) / 2
    step = Progression(count=2, distance=d, direction=heading, across=ratio, along=ratio, size_about="own centre")
    want = {"union": np.pi * (r * r + s * s) - both, "intersection": both, "exclusion": np.pi * (r * r + s * s) - 2 * both}
    want["first less the rest"] = np.pi * r * r - both
    assert covered(Ellipse(width=40.0), step, Combine(how=how)) == pytest.approx(want[how], rel=1e-6, abs=1e-6 * np.pi * r * r)


def with_layer(mine, other, rule):
    """Area that is left of a layer where it meets another."""
    edge = chain("Edge", other)
    floor = chain("Floor", mine, rule(edge.id))
    evaluator = Evaluator()
    result = evaluator.design(Design(sheet=Sheet(width=400, height=400), layers=(floor, edge)))[floor.id]
    assert not result.problems
    marks = evaluator.marks(result.last.stage, result.known)
    (family,) = marks.families
    return np.abs(areas(family.verbs, family.points))[marks.variant].sum()


SEGMENT = 400 * (np.arccos(0.4) - 0.4 * np.sqrt(1 - 0.4**2))  # of a disc of 20, from 8 beside its middle on


@pytest.mark.parametrize("turn", [0.0, 11.0, 45.0, 90.0])
@pytest.mark.parametrize("rule", [
    lambda layer: Combine(of="another layer", layer=layer, how="intersection"), lambda layer: Trim(at="another layer", layer=layer)
], ids=["combined", "trimmed"])  # fmt: skip
def test_a_disc_and_straight_edges_of_another_layer_leave_its_segment(turn, rule):
    way = np.array([np.cos(np.radians(turn)), np.sin(np.radians(turn))]) * 108.0
    disc = Ellipse(width=40.0)
    edge = Rectangle(width=200.0, height=300.0, turn=turn, place_x=way[0], place_y=way[1])
    assert with_layer(disc, edge, rule) == pytest.approx(SEGMENT, rel=2e-6)
    assert with_layer(edge, disc, rule) == pytest.approx(SEGMENT, rel=2e-6)  # the curve is that of the other layer


@given(
    x=st.floats(-30, 30), y=st.floats(-30, 30), turn=st.floats(0, 360), how=st.sampled_from(["union", "exclusion", "intersection"])
)
def test_curves_found_again_cover_what_straight_pieces_did(x, y, turn, how):
    rules = Petal(length=50.0, width=40.0), Progression(count=3, by="across and down", x=x, y=y, turn=turn), Combine(how=how)
    result = evaluated(*rules)
    if result.problems:
        return
    marks = Evaluator().marks(result.last.stage, result.known)
    (family,) = marks.families
    curved = np.abs(areas(family.verbs, family.points))[marks.variant].sum()
    assert curved == pytest.approx(area_drawn(result)[1], rel=2e-3, abs=0.5)


def test_an_outline_that_crosses_itself_is_combined_and_offset_as_it_is_painted():
    bow_tie = Outline(outline="M0 0 L10 10 L10 0 L0 10 Z", width=10.0, stands="as drawn")
    assert left(bow_tie, Combine())[0].area == pytest.approx(50.0)
    pentagram = Outline(
        outline="M0 -50 L29.389 40.451 L-47.553 -15.451 L47.553 -15.451 L-29.389 40.451 Z", width=95.106, stands="as drawn"
    )
    star = left(Star(points=5, size=100.0, corners="by density", density=2), Combine())[0].area
    assert left(pentagram, Combine())[0].area == pytest.approx(star, rel=1e-4)  # its middle is wound round twice, and full
    apart = Offset(distance=2.0, rings=1, joins="round", keeps="the parallels only")
    assert left(bow_tie, apart)[0].area > 50.0 + 2.0 * 30


@given(x=st.floats(-15, 15), y=st.floats(-15, 15), turn=st.floats(0, 360), sides=st.integers(3, 8), inner=st.floats(20, 90))
def test_union_and_intersection_add_up_to_both(x, y, turn, sides, inner):
    rules = (Star(points=sides, size=30.0, inner=inner), Progression(count=2, by="across and down", x=x, y=y, turn=turn))
    union = left(*rules, Combine())[0].area
    single = left(Star(points=sides, size=30.0, inner=inner), Combine())[0].area
    result = evaluated(*rules, Combine(how="intersection"))
    both = 0.0 if result.problems else area_drawn(result)[0].area
    apart = evaluated(*rules, Combine(how="exclusion"))
    odd = 0.0 if apart.problems else area_drawn(apart)[0].area
    assert union + both == pytest.approx(2 * single, rel=1e-6, abs=1e-4)
    assert odd == pytest.approx(union - both, rel=1e-6, abs=1e-4)


def test_holes_stay_holes_and_pieces_that_do_not_touch_are_copies():
    stage = last_stage(Ring(width=20.0, inner=50.0), Progression(count=3, distance=40.0), Combine())
    assert stage.n == 3
    whole, _ = left(Ring(width=20.0, inner=50.0), Progression(count=3, distance=40.0), Combine())
    assert whole.area == pytest.approx(3 * np.pi * 75, rel=2e-3)
    assert all(len(part.interiors) == 1 for part in shapely.get_parts(whole))


def test_a_ring_of_discs_has_a_hole_inside():
    whole, _ = left(Ellipse(width=20.0), Rosette(count=12, radius=30.0), Combine())
    assert whole.geom_type == "Polygon"
    assert len(whole.interiors) == 1


def test_touching_tiles_become_one_without_slivers():
    tiled = Polygon(size=20.0), Lattice(form="hexagons on points", extent="by number", columns=6, rows=5), Combine()
    assert last_stage(*tiled).n == 1
    assert not left(*tiled)[0].interiors


def test_parts_of_each_copy():
    rules = Polygon(size=20.0), Split(into="rhombs"), Progression(count=3, distance=30.0)
    assert last_stage(*rules, Combine(of="the parts of each copy")).n == 3
    result = evaluated(*rules, Combine(of="the parts of each copy", how="intersection"))
    assert "nothing is left" in result.problems[0].sentence


@pytest.mark.parametrize(("how", "want"), [("first less the rest", 400 - 100), ("intersection", 100.0), ("union", 400.0)])
def test_another_layer_cuts_and_stays_as_it_is(how, want):
    floor = chain("Floor", SQUARE, Combine(how=how, of="another layer", layer="cutter"))
    cutter = chain("Cutter", Polygon(sides=4, measure="side", size=10.0, stands="on a flat"))
    design = edited(work_of(SQUARE).design, layers=(floor, cutter))
    results = evaluate(design)
    assert area_drawn(results["floor"])[0].area == pytest.approx(want)
    assert area_drawn(results["cutter"])[0].area == pytest.approx(100.0)
    alone = evaluated(SQUARE, Combine(of="another layer"))
    assert "no other layer" in alone.problems[0].sentence


def test_what_is_combined_goes_on_and_is_inked():
    rules = (
        SQUARE,
        TWO,
        Combine(how="exclusion"),
        Ink(colours="column", palette=("#000000", "#FFFFFF")),
        Rosette(count=5, radius=80.0),
    )
    result = evaluated(*rules)
    assert not result.problems
    assert result.last.stage.n == 10
    (coat,) = Evaluator().picture(result).coats
    assert set(coat.fill[:, 0].tolist()) == {0, 255}


def test_lines_enclose_nothing_and_one_area_changes_nothing():
    assert "nothing is left" in evaluated(Spiral(), TWO, Combine()).problems[0].sentence
    whole, _ = left(SQUARE, Adjust(turn=20.0), Combine())
    assert whole.area == pytest.approx(400.0)


# -- trim --------------------------------------------------------------------------------------------
SHEET_AREA = 324.0 * 322.0


@pytest.mark.parametrize("inset", [0.0, 20.0])
def test_a_cover_trimmed_at_the_sheet_is_the_sheet(inset):
    whole, total = left(Polygon(size=30.0), Split(into="rhombs"), Lattice(form="hexagons on points"), Trim(inset=inset))
    want = (324 - 2 * inset) * (322 - 2 * inset)
    assert whole.area == pytest.approx(want, rel=1e-6)
    assert total == pytest.approx(want, rel=1e-6)
    assert whole.bounds == pytest.approx((inset - 162, inset - 161, 162 - inset, 161 - inset))


def test_trimmed_curves_stay_curves():
    stage = last_stage(Ellipse(width=400.0), Trim(inset=10.0))
    (family,) = draw(stage).families
    on = family.points[0, ::3] + stage.xform[0, :, 2]
    edge = np.minimum(np.abs(np.abs(on[:, 0]) - 152.0), np.abs(np.abs(on[:, 1]) - 151.0))
    assert np.minimum(edge, np.abs(np.hypot(*on.T) - 200.0)).max() < 0.1  # on the sheet's edge or on the circle
    assert family.verbs.count(CURVE) < 20


def test_trimmed_copies_keep_their_colours_and_go_on():
    lattice = Lattice(form="squares", extent="by number", columns=20, rows=20, grow="middle copy")
    ink = Ink(colours="column", palette=("#000000", "#FFFFFF"), of="floor-lattice")
    result = evaluated(SQUARE, lattice, Trim(inset=0.0), ink)
    assert not result.problems
    assert result.last.stage.n == 17 * 17
    (coat,) = Evaluator().picture(result).coats
    marks = Evaluator().marks(result.last.stage, result.known)
    assert len(coat.fill) == marks.count
    assert set(coat.fill[:, 0].tolist()) == {0, 255}
    assert area_drawn(result)[1] == pytest.approx(SHEET_AREA, rel=1e-6)


def test_trim_turned_below_is_still_cut_at_the_sheet():
    result = evaluated(SQUARE, Lattice(form="squares"), Trim(inset=10.0), Adjust(turn=30.0))
    whole, _ = area_drawn(result)
    assert whole.area == pytest.approx(304 * 302, rel=1e-6)
    assert whole.bounds == pytest.approx((-152, -151, 152, 151), abs=1e-6)


def test_trim_at_another_layer_inside_and_outside():
    for keeps, want in (("inside", 100.0), ("outside", 300.0)):
        floor = chain("Floor", SQUARE, Trim(at="another layer", layer="cutter", keeps=keeps))
        cutter = chain("Cutter", Polygon(sides=4, measure="side", size=10.0, stands="on a flat"))
        design = edited(work_of(SQUARE).design, layers=(floor, cutter))
        assert area_drawn(evaluate(design)["floor"])[0].area == pytest.approx(want)
    assert "nothing is left" in evaluated(SQUARE, Trim(keeps="outside")).problems[0].sentence
    assert "leaves nothing of the sheet" in evaluated(SQUARE, Trim(inset=200.0)).problems[0].sentence
    assert "no other layer" in evaluated(SQUARE, Trim(at="another layer")).problems[0].sentence


GRID = {"form": "squares", "extent": "by number"}


@pytest.mark.parametrize(
    ("rules", "points"),
    [
        ((SQUARE, Lattice(columns=2, rows=1, **GRID)), 4),
        ((SQUARE, Lattice(columns=7, rows=5, turn=33.0, **GRID)), 4),
        ((Polygon(sides=6, size=20.0), Split(into="rhombs")), 6),
        ((Rectangle(width=30.0, height=20.0, rounded=4.0), Lattice(columns=3, rows=1, gap=-9.0, **GRID)), 16),
        ((SQUARE, Lattice(columns=3, rows=3, **GRID), LeaveOut(every=9, first=5)), 8),
    ],
    ids=["two squares", "turned squares", "rhombs", "rounded", "about a hole"],
)
def test_no_corner_is_left_on_a_straight_line(rules, points):
    result = evaluated(*rules, Combine())
    assert not result.problems
    (family,) = Evaluator().marks(result.last.stage, result.known).families
    stops = family.points[0] if CURVE not in family.verbs else family.points[0][::3][:-1]
    assert len(stops) == points
    for _, where in contours(family.verbs) if CURVE not in family.verbs else ():
        assert not needless(family.points[0][where]).any()
    shapes, _ = tiles(evaluated(*rules))
    assert area_of(family, 0)[0].area == pytest.approx(shapely.union_all(shapely.buffer(shapes, 1e-7)).area, rel=1e-4)


@pytest.mark.parametrize("share", [0.4, 0.9, 1.0, 1.05, 3.0, 12.0])  # of the pitch: apart, touching, in one, many on each other
def test_many_areas_are_united_as_all_at_once(share):
    """Those that meet nothing are passed over, and make no difference."""
    places = np.stack(np.meshgrid(np.arange(40.0), np.arange(40.0)), -1).reshape(-1, 2)
    places[::7, 0] += 0.35  # some meet their neighbours, some do not
    half = share / 2 * np.array([(-1, -1), (1, -1), (1, 1), (-1, 1)])
    areas = list(shapely.polygons(places[:, None] + half))
    areas[5] = shapely.Polygon()
    whole, found = shapely.union_all(areas), _union(areas, lambda _: None)
    assert found.is_valid
    assert len(shapely.get_parts(found)) == len(shapely.get_parts(whole))
    assert shapely.symmetric_difference(found, whole).area == pytest.approx(0.0, abs=1e-9)
