"""Rules on shapes: divided, joined, cut, pushed, drawn in, morphed, end to end."""

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from tests.chains import evaluated, last_stage, tiles
from under_lattice.core.errors import GivenUp, InputError
from under_lattice.core.progress import Progress
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.geometry.affine import apply
from under_lattice.geometry.cutting import cubics_of, places_by_length, points_of
from under_lattice.geometry.morphing import first_loop
from under_lattice.geometry.outline import CLOSE, CURVE, areas
from under_lattice.library.layers import chain
from under_lattice.pattern.ask import Ask
from under_lattice.pattern.marks import draw
from under_lattice.rules.copies.join_ends import JoinEnds
from under_lattice.rules.handles import Drag
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.line import Line
from under_lattice.rules.motifs.outline_motif import Outline
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.motifs.rectangle import Rectangle
from under_lattice.rules.motifs.star import Star
from under_lattice.rules.repeats.along_curve import AlongCurve
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.progression import Progression
from under_lattice.rules.repeats.rosette import Rosette
from under_lattice.rules.shapes.construction_only import ConstructionOnly
from under_lattice.rules.shapes.cut import Cut
from under_lattice.rules.shapes.inner_lines import InnerLines
from under_lattice.rules.shapes.join_faces import JoinFaces
from under_lattice.rules.shapes.morph import Morph
from under_lattice.rules.shapes.offset import Offset
from under_lattice.rules.shapes.push_edges import PushEdges
from under_lattice.rules.shapes.split import Split
from under_lattice.rules.shapes.stroke_to_shape import StrokeToShape
from under_lattice.rules.shapes.wave_edges import WaveEdges
from under_lattice.scene.tree import make_scene
from under_lattice.vary.numbers import Varied
from under_lattice.work.model import Design, Sheet

HEXAGON = Polygon(measure="circumradius", size=24.0)
WHOLE = 1496.491898
SQUARE = Polygon(sides=4, measure="side", size=30.0, stands="on a flat")


def faces(*rules):
    stage = last_stage(*rules)
    return stage.shape.draw(Ask(stage))


def face_areas(*rules):
    return [float(abs(areas(f.verbs, f.points)[0])) for f in faces(*rules)]


def refusal(*rules):
    problems = evaluated(*rules).problems
    return problems[0].sentence if problems else ""


# -- Split --------------------------------------------------------------------------------------------


@pytest.mark.parametrize(("sides", "count"), [(3, 1), (4, 4), (5, 11), (6, 24), (8, 80)])
def test_all_chords_leave_as_many_faces_as_are_known(sides, count):
    made = face_areas(Polygon(sides=sides, measure="circumradius", size=24.0), Split(into="all chords"))
    assert len(made) == count  # regular polygons: Poonen and Rubinstein 1998
    assert sum(made) == pytest.approx(sides / 2 * 24**2 * np.sin(2 * np.pi / sides), rel=1e-9)


def test_a_hexagon_falls_into_a_star():
    made = sorted(face_areas(HEXAGON, Split(into="a star", skip=2)))
    assert made == pytest.approx([WHOLE / 18] * 12 + [WHOLE / 3], rel=1e-9)


def test_cells_have_their_gutter_and_rings_their_width():
    cells = face_areas(Rectangle(width=62.0, height=41.0), Split(into="cells", columns=4, rows=3, gutter=2.0))
    assert cells == pytest.approx([14 * 37 / 3] * 12)
    rings = face_areas(HEXAGON, Split(into="rings", rows=3))
    assert sorted(rings) == pytest.approx(sorted(WHOLE * (a * a - b * b) for a, b in [(1, 2 / 3), (2 / 3, 1 / 3), (1 / 3, 0)]))
    apart = face_areas(HEXAGON, Split(into="rings", rows=2, gutter=4.0))
    assert sum(apart) == pytest.approx(WHOLE * (1 - (14 / 24) ** 2 + (10 / 24) ** 2))


@given(
    st.integers(3, 9),
    st.sampled_from(["triangles", "all chords", "a star", "cells", "rings"]),
    st.integers(1, 4),
    st.floats(5, 60),
)
def test_faces_sum_to_the_whole(sides, into, rows, size):
    made = face_areas(Polygon(sides=sides, measure="circumradius", size=size), Split(into=into, columns=rows, rows=rows))
    assert sum(made) == pytest.approx(sides / 2 * size**2 * np.sin(2 * np.pi / sides), rel=1e-9)


def test_what_split_cannot_do_is_said_with_the_place():
    assert "crosses itself at 5.00, 5.00" in refusal(
        Outline(outline="M0 0 L10 10 L10 0 L0 10 Z", width=10.0, stands="as drawn"), Split()
    )
    assert "at most 14 corners" in refusal(Polygon(sides=15), Split(into="all chords"))
    assert "leaves nothing" in refusal(SQUARE, Split(into="cells", gutter=40.0))
    assert "corners on" in refusal(SQUARE, Split(into="a star", skip=4))


def test_chords_are_drawn_on_the_sheet_and_taken_away():
    rule = Split(into="chords", chords="1-4")
    stage = last_stage(HEXAGON, rule)
    at = {one.name: one.at for one in rule.handles(stage, stage, None, "mm").handles}
    more = edited(rule, **rule.dragged(Drag("from 2", at["from 5"] + 0.3, 1.0), stage, stage, None))
    assert more.chords == "1-4, 2-5"
    assert len(faces(HEXAGON, more)) == 4
    fewer = edited(more, **more.dragged(Drag("from 4", at["from 1"], 1.0), stage, stage, None))
    assert fewer.chords == "2-5"
    assert more.dragged(Drag("from 2", np.array([90.0, 90.0]), 1.0), stage, stage, None) == {"chords": "1-4, 2-5"}


# -- Join faces ---------------------------------------------------------------------------------------


def test_joined_faces_lose_the_edge_between_them_and_keep_the_area():
    rules = HEXAGON, Split(into="triangles")
    joined = faces(*rules, JoinFaces(groups="1+2, 4+5"))
    assert [len(f.points[0]) for f in joined] == [4, 3, 4, 3]
    assert face_areas(*rules, JoinFaces(groups="1+2+3")) == pytest.approx([WHOLE / 2, *[WHOLE / 6] * 3])
    whole = faces(*rules, JoinFaces(groups="1+2+3+4+5+6"))
    assert len(whole) == 1
    assert abs(areas(whole[0].verbs, whole[0].points)[0]) == pytest.approx(WHOLE)


def test_joined_edges_stay_curves_and_vary_from_tile_to_tile():
    push = PushEdges(amount=Varied(rule="floor-lattice", channel="column", start=-3.0, end=3.0))
    made = evaluated(HEXAGON, Split(), push, JoinFaces(groups="1+2"), Lattice())
    apart = evaluated(HEXAGON, Split(), push, Lattice())
    marks = Evaluator().marks(made.last.stage, made.known)
    assert set(marks.families[0].verbs[1:-1]) == {CURVE}
    one, copy = tiles(made)
    two, _ = tiles(apart)
    total = [sum(p.area for p in polygons) for polygons in (one, two)]
    assert total[0] == pytest.approx(total[1], rel=1e-9)
    assert len(one) == 2 * (copy.max() + 1)


@pytest.mark.parametrize(("by", "count"), [("mirror, upright", 3), ("mirror, level", 4), ("turns", 2)])
def test_faces_are_joined_by_symmetry(by, count):
    made = face_areas(HEXAGON, Split(into="triangles"), JoinFaces(by=by, turns=3))
    assert sum(made) == pytest.approx(WHOLE)
    assert len(made) == count


def test_faces_are_joined_on_the_sheet():
    rule = JoinFaces(groups="1+2")
    before, stage = last_stage(HEXAGON, Split(into="triangles")), last_stage(HEXAGON, Split(into="triangles"), rule)
    at = {one.name: one.at for one in rule.handles(before, stage, None, "mm").handles}
    more = edited(rule, **rule.dragged(Drag("face 4", at["face 2"], 1.0), before, stage, None))
    assert more.groups == "1+2+4"
    fewer = edited(more, **more.dragged(Drag("face 2", at["face 1"], 1.0), before, stage, None))
    assert fewer.groups == "1+4"
    with pytest.raises(InputError, match="two groups"):
        edited(rule, groups="1+2, 2+3")
    assert "no face 9" in refusal(HEXAGON, Split(), JoinFaces(groups="1+9"))


# -- Push edges ---------------------------------------------------------------------------------------


@pytest.mark.parametrize("profile", ["S", "bow", "peak", "sawtooth", "step", "drawn"])
@pytest.mark.parametrize("way", ["one way", "in and out by turns"])
def test_every_profile_leaves_tiles_that_fit(profile, way):
    push = PushEdges(profile=profile, way=way, amount=Varied(rule="floor-lattice", channel="x", start=1.0, end=3.0), teeth=3)
    made = evaluated(SQUARE, push, Lattice(form="squares", extent="by number", columns=4, rows=4))
    assert not made.problems
    polygons, _ = tiles(made, 48)
    assert sum(p.area for p in polygons) == pytest.approx(shapely.union_all(shapely.set_precision(polygons, 1e-9)).area, rel=1e-6)
    assert len({round(p.area, 6) for p in polygons}) > 1 or profile == "S"


def test_in_and_out_by_turns_makes_odd_squares_stand_across_even_ones():
    push = PushEdges(profile="bow", way="in and out by turns", amount=3.0)
    made = evaluated(SQUARE, push, Lattice(form="squares", extent="by number", columns=4, rows=4))
    polygons, _ = tiles(made, 48)
    wide = np.array([np.ptp(np.array(p.exterior.coords), 0) for p in polygons])
    assert {tuple(row) for row in wide.round(3).tolist()} == {(36.0, 30.0), (30.0, 36.0)}
    assert [p.area for p in polygons] == pytest.approx([900.0] * 16, rel=1e-4)  # what upright edges give, level ones take
    assert "three or four sides" in refusal(HEXAGON, push, Lattice())
    triangle = Polygon(sides=3, measure="side", size=30.0)
    made = evaluated(triangle, push, Lattice(form="triangles", extent="by number", columns=4, rows=2))
    polygons, _ = tiles(made, 48)
    assert sum(p.area for p in polygons) == pytest.approx(shapely.union_all(shapely.set_precision(polygons, 1e-9)).area, rel=1e-6)


def test_places_of_a_drawn_profile_are_moved_added_and_removed():
    rule = PushEdges(profile="drawn", drawn_profile="40 100; 70 -50", amount=4.0)
    stage = last_stage(SQUARE, rule)
    first = rule.handles(stage, stage, None, "mm").handles[0]
    start, run, aside = rule._first_edge(stage)
    moved = edited(rule, **rule.dragged(Drag(first.name, start + 0.25 * run + 2 * aside, 0.0), stage, stage, None))
    assert moved.drawn_profile == "25 200; 70 -50"
    more = edited(rule, **rule.reworked("add", "", np.zeros(2)))
    assert more.drawn_profile.count(";") == 2
    assert edited(more, **more.reworked("remove", "place 1", np.zeros(2))).drawn_profile == rule.drawn_profile
    with pytest.raises(InputError, match="further than the one before"):
        edited(rule, drawn_profile="70 10; 40 10")


# -- Inner lines, Cut, Morph --------------------------------------------------------------------------


def test_inner_lines_go_through_named_and_free_points_that_vary():
    rule = InnerLines(
        lines="1-p, s1-c", px=Varied(rule="floor-lattice", channel="column", start=0.0, end=50.0), py=-20.0, gives="lines"
    )
    made = evaluated(HEXAGON, rule, Lattice(extent="by number", columns=3, rows=1))
    first, second = Evaluator().marks(made.last.stage, made.known).families
    ends = first.points[first.variant][:, -1]
    assert ends == pytest.approx(np.array([(0.0, -4.8), (6.0, -4.8), (12.0, -4.8)]))
    assert second.points[0, -1] == pytest.approx((0.0, 0.0), abs=1e-9)
    assert second.points[0, 0] == pytest.approx((24 * np.sin(np.pi / 3) / 2, -18.0))
    assert "“7” is not there" in refusal(HEXAGON, InnerLines(lines="1-7"))
    with pytest.raises(InputError, match="is not a chord"):
        edited(rule, lines="1-z")


def test_a_free_point_is_moved_on_the_sheet():
    rule = InnerLines(lines="1-p")
    stage = last_stage(HEXAGON, rule)
    names = [one.name for one in rule.handles(stage, stage, None, "mm").handles]
    assert "p" in names
    assert "from 1" in names
    moved = edited(rule, **rule.dragged(Drag("p", np.array([12.0, -6.0]), 0.0), stage, stage, None))
    assert (moved.px, moved.py) == (50.0, -25.0)


@pytest.mark.parametrize("at", ["even parts", "corners", "angles"])
def test_pieces_of_a_cut_outline_make_up_its_length(at):
    made = faces(HEXAGON, Cut(at=at, parts=4, keep="", angles="10, 100, 200"))
    lengths = [_length(face) for face in made]
    assert sum(lengths) == pytest.approx(144.0, rel=1e-4)
    assert len(made) == {"even parts": 4, "corners": 6, "angles": 3}[at]
    assert all(CLOSE not in face.verbs for face in made)
    if at == "even parts":
        assert lengths == pytest.approx([36.0] * 4, rel=1e-4)


def test_cut_circles_stay_on_the_circle_and_keep_what_is_chosen():
    made = faces(Ellipse(width=40.0), Cut(parts=3, shift=10.0, keep="2"))
    assert len(made) == 1
    cubics = cubics_of(made[0].verbs, made[0].points[0])[0][0]
    assert np.hypot(*cubics[:, 0].T) == pytest.approx(20.0, rel=1e-3)
    assert places_by_length(cubics, np.array([0.0, 1.0])) == pytest.approx([0.0, len(cubics)])
    assert "none of the pieces" in refusal(HEXAGON, Cut(keep="9"))


def _length(face):
    cubics = cubics_of(face.verbs, face.points[0])[0][0]
    t = np.linspace(0, 1, 200)[:, None, None]
    a, b, c, d = (cubics[:, k][None] for k in range(4))
    line = (1 - t) ** 3 * a + 3 * (1 - t) ** 2 * t * b + 3 * (1 - t) * t * t * c + t**3 * d
    return float(np.hypot(*np.moveaxis(np.diff(line, axis=0), -1, 0)).sum())


@pytest.mark.parametrize(("amount", "area"), [(0.0, 900.0), (100.0, np.pi * 225)])
def test_morph_is_one_shape_at_its_beginning_and_the_other_at_its_end(amount, area):
    assert sum(face_areas(SQUARE, Morph(amount=amount))) == pytest.approx(area, rel=2e-6)


@pytest.mark.parametrize("turn", [0.0, 30.0, 45.0])
def test_a_disc_on_its_way_to_a_square_is_made_of_curves_that_are_their_mean(turn):
    """At half the way each place is the mean of those of disc and square at the same share of their lengths."""
    disc = Ellipse(width=100.0, turn=turn)
    made = evaluated(disc, Morph(towards="a polygon", corners=4, amount=50.0))
    (family,) = Evaluator().marks(made.last.stage, made.known).families
    ((cubics, closed),) = cubics_of(family.verbs, family.points[0])
    assert closed
    assert len(cubics) <= 60
    one, other = (first_loop(*_drawn(rules)) for rules in ((disc,), (disc, Morph(towards="a polygon", corners=4, amount=100.0))))
    shares = np.linspace(0, 0.999, 400)
    want = (one.at(shares) + other.at(shares)) / 2
    line = points_of(cubics, np.linspace(0, len(cubics), 4_000, endpoint=False))
    assert shapely.distance(shapely.LinearRing(line), shapely.points(want)).max() < 1e-4
    assert _length(family) == pytest.approx(_mean_length(one, other), rel=1e-6)


def test_straight_shapes_have_their_corners_alone_in_between():
    made = evaluated(SQUARE, Morph(towards="a star", corners=5, amount=30.0))
    (family,) = Evaluator().marks(made.last.stage, made.known).families
    assert CURVE not in family.verbs
    assert family.points.shape[1] <= 4 + 10


def _drawn(rules):
    made = evaluated(*rules)
    (family,) = Evaluator().marks(made.last.stage, made.known).families
    return family.verbs, family.points[0]


def _mean_length(one, other):
    shares = np.linspace(0, 1, 20_001)
    line = (one.at(shares % 1) + other.at(shares % 1)) / 2
    return np.hypot(*np.diff(line, axis=0).T).sum()


def test_every_place_in_between_is_the_weighted_mean_and_may_vary():
    rule = Morph(amount=Varied(rule="floor-lattice", channel="column", start=1.0, end=99.0), towards="a star", corners=5)
    made = evaluated(SQUARE, rule, Lattice(form="squares", extent="by number", columns=3, rows=1))
    (family,) = Evaluator().marks(made.last.stage, made.known).families
    one, middle, other = family.points[family.variant]
    assert middle == pytest.approx((one + other) / 2, abs=1e-9)
    assert "open line" in refusal(Line(thickness=0.0), Morph())


def test_morph_follows_another_layer():
    layer = chain("Shape", Star(points=4))
    floor = chain("Floor", SQUARE, Morph(towards="another layer", layer=layer.id, amount=100.0))
    results = Evaluator().design(Design(sheet=Sheet(width=200, height=200), layers=(floor, layer)))
    assert not results[floor.id].problems
    assert "choose a layer" in refusal(SQUARE, Morph(towards="another layer"))


@pytest.mark.parametrize("far", [0.0, 65.0])
def test_morph_keeps_the_sizes_of_both_shapes(far):
    """A square of 100 on its way to one of 20 that lies anywhere: 100, 80, 60, 40, 20, each corner the weighted mean."""
    big = Polygon(sides=4, measure="side", size=100.0, stands="on a flat")
    small = chain("Small", edited(big, size=20.0, place_x=far))
    sides = []
    for amount in (0.0, 25.0, 50.0, 75.0, 100.0):
        floor = chain("Floor", big, Morph(towards="another layer", layer=small.id, amount=amount))
        evaluator = Evaluator()
        result = evaluator.design(Design(sheet=Sheet(width=200, height=200), layers=(floor, small)))[floor.id]
        marks = evaluator.marks(result.last.stage, result.known)
        ring = marks.families[0].points[0]
        sides += [np.ptp(ring, 0).tolist()]
        assert (ring.min(0) + ring.max(0)) / 2 == pytest.approx((0.0, 0.0), abs=1e-9)
        corner = ring[np.argmax(ring @ (1.0, 1.0))]
        assert corner == pytest.approx(np.full(2, 50.0 - 40.0 * amount / 100), abs=1e-9)
    assert np.array(sides) == pytest.approx(np.repeat([[100.0], [80.0], [60.0], [40.0], [20.0]], 2, 1), abs=1e-9)


# -- Join ends, Construction only ---------------------------------------------------------------------


def test_lines_end_to_end_become_one_closed_line():
    side = Line(length=40.0, thickness=0.0)
    run = Progression(count=6, spacing="each begins where the last ended", turn=60.0)
    made = last_stage(side, run, JoinEnds(near=0.01))
    (family,) = made.shape.draw(Ask(made))
    assert made.n == 1
    assert family.verbs[-1] == CLOSE
    assert abs(areas(family.verbs, family.points)[0]) == pytest.approx(1.5 * np.sqrt(3) * 1600, rel=1e-6)


def test_a_line_that_misses_itself_says_by_how_much_and_what_closes_it():
    run = Progression(count=6, spacing="each begins where the last ended", turn=59.0)
    result = evaluated(Line(length=40.0, thickness=0.0), run, JoinEnds(near=0.5))
    found = result.last.stage.found
    assert "one line of 6" in found.said["near"]
    sentence = found.warnings[0][0]
    near = float(sentence.split("Near from ")[1].split()[0])
    closed = evaluated(Line(length=40.0, thickness=0.0), run, JoinEnds(near=near + 0.01)).last.stage
    (family,) = closed.shape.draw(Ask(closed))
    assert family.verbs[-1] == CLOSE
    assert "no open lines" in refusal(SQUARE, JoinEnds())


def test_ends_are_joined_half_way_or_by_a_straight_piece():
    run = Progression(count=2, spacing="free", distance=42.0)
    ways = ("half way", "a straight piece")
    half, straight = (last_stage(Line(length=40.0, thickness=0.0), run, JoinEnds(near=3.0, how=how)) for how in ways)
    assert half.n == straight.n == 1
    pieces = [s.shape.draw(Ask(s))[0].verbs.count(CURVE) for s in (half, straight)]
    assert pieces[1] == pieces[0] + 1


def test_lines_are_joined_whatever_their_order_and_closed_ones_stay():
    sides = Split(into="triangles"), Cut(at="corners", keep="")  # each triangle as three lines, in any order
    made = last_stage(HEXAGON, *sides, JoinEnds(near=0.001))
    families = made.shape.draw(Ask(made))
    assert sum(abs(areas(f.verbs, f.points[v : v + 1])[0]) for f in families for v in f.variant[f.variant >= 0]) > 0
    ring_and_line = Outline(outline="M-20 -20 L20 -20 L20 20 L-20 20 Z\nM40 0 L60 0\nM60 0 L60 30\nM40 30 L40 0", width=80.0)
    joined = last_stage(ring_and_line, JoinEnds(near=0.01))
    assert joined.n == 2  # the three lines are one, the square is what it was
    shown = [f.verbs for f in joined.shape.draw(Ask(joined))]
    assert sorted(verbs[-1] == CLOSE for verbs in shown) == [False, True]


def test_a_construction_is_seen_in_bones_only_and_still_followed():
    guide = chain("Guide", Ellipse(width=120.0), ConstructionOnly())
    beads = chain("Beads", Ellipse(width=8.0), AlongCurve(line="another layer", layer=guide.id, count=9))
    design, evaluator = Design(sheet=Sheet(width=200, height=200), layers=(beads, guide)), Evaluator()
    results = evaluator.design(design)
    assert results[beads.id].last.stage.n == 9
    assert [one.layer for one in make_scene(design, results, evaluator).layers] == [beads.id]
    seen = make_scene(design, results, evaluator, construction=True).layers
    assert {one.layer for one in seen} == {beads.id, guide.id}
    bones = next(one.picture for one in seen if one.layer == guide.id)
    assert bones.coats[0].fill[0, 3] == 0
    assert bones.coats[0].stroke[0, 3] == 255


# -- lengths below a repeat ---------------------------------------------------------------------------
SHRINK = Progression(count=3, distance=60.0, across=50.0, along=50.0)


def sizes_of_marks(*rules):
    marks = draw(last_stage(*rules))
    lying = [apply(x, marks.families[f].points[v]) for f, v, x in zip(marks.family, marks.variant, marks.xform, strict=True)]
    return [round(float(np.ptp(one[:, 0])), 6) for one in lying]


def test_a_shape_rule_above_a_repeat_acts_on_the_motif_and_below_on_copies_as_they_lie():
    inset = Offset(distance=-1.0, rings=1)
    assert sizes_of_marks(SQUARE, inset, SHRINK) == [30.0, 28.0, 15.0, 14.0, 7.5, 7.0]
    assert sizes_of_marks(SQUARE, SHRINK, inset) == [30.0, 28.0, 15.0, 13.0, 7.5, 5.5]


def test_true_lengths_hold_for_bands_waves_and_pushes_and_vary_over_the_copies():
    band = StrokeToShape(width=2.0, joins="mitred")
    assert sizes_of_marks(SQUARE, SHRINK, band) == pytest.approx([32.0, 17.0, 9.5])
    waves = WaveEdges(height=1.0, waves=2)
    assert sizes_of_marks(SQUARE, SHRINK, waves) == pytest.approx([32.0, 17.0, 9.5], abs=0.02)
    varied = Offset(distance=Varied(rule="floor-progression", channel="step", start=-1.0, end=-2.0), rings=1)
    assert sizes_of_marks(SQUARE, SHRINK, varied) == pytest.approx([30.0, 28.0, 15.0, 12.0, 7.5, 3.5])
    push = PushEdges(profile="peak", amount=1.0)
    high = [one - whole for one, whole in zip(sizes_of_marks(SQUARE, SHRINK, push), (30.0, 15.0, 7.5), strict=True)]
    assert high == pytest.approx([high[0]] * 3)


def test_copies_alike_up_to_moving_and_turning_share_one_shape():
    ring = Rosette(count=8, radius=60.0)
    made = last_stage(SQUARE, ring, Offset(distance=-1.0, rings=2))
    assert draw(made).distinct == 1
    stack = last_stage(SQUARE, SHRINK, Rosette(count=6, radius=90.0), Offset(distance=-1.0, rings=1))
    assert draw(stack).distinct == 3  # three sizes


def test_many_distinct_outlines_on_their_way_are_told_of_and_can_be_stopped():
    pushed = Varied(rule="floor-lattice", channel="column", start=0.5, end=3.0)
    grid = Lattice(form="squares", extent="by number", columns=12, rows=2, spacing="free", pitch=30.0, row_pitch=30.0)
    result = evaluated(SQUARE, PushEdges(amount=pushed), Morph(amount=40.0), grid)
    assert not result.problems
    stage, told = result.last.stage, []
    stage.shape.draw(Ask(stage, result.known, Progress(tell=lambda name, share: told.append((name, share)))))
    assert [share for name, share in told if name == "Morph"] == [k / 12 for k in range(12)]
    with pytest.raises(GivenUp):
        stage.shape.draw(Ask(stage, result.known, Progress(stop=lambda: len(told) > 0)))
