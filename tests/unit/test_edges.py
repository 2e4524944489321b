"""Rules that make straight-sided shapes anew: waves, bows, inner polygons, contact lines; figures, and that tiles still fit."""

import numpy as np
import pytest
import shapely

from tests.chains import evaluated, last_stage, tiles, work_of
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.geometry.arc_length import Walk
from under_lattice.geometry.cutting import cubics_of, points_of
from under_lattice.geometry.outline import CLOSE, CURVE, LINE, MOVE, areas, flatten
from under_lattice.output.svg import Svg, write_svg
from under_lattice.pattern.ask import Ask
from under_lattice.pattern.stage import start
from under_lattice.rules.copies.join_ends import JoinEnds
from under_lattice.rules.ground import PLAIN
from under_lattice.rules.handles import Drag
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.line import Line
from under_lattice.rules.motifs.outline_motif import Outline
from under_lattice.rules.motifs.petal import Petal
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.motifs.rectangle import Rectangle
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.progression import Progression
from under_lattice.rules.shapes.bow import Bow
from under_lattice.rules.shapes.construction_only import ConstructionOnly
from under_lattice.rules.shapes.contact_lines import ContactLines
from under_lattice.rules.shapes.inner_polygon import InnerPolygon
from under_lattice.rules.shapes.split import Split
from under_lattice.rules.shapes.wave_edges import WaveEdges
from under_lattice.scene.tree import make_scene
from under_lattice.vary.numbers import Varied

HEXAGON = Polygon(measure="circumradius", size=24.0)
SQUARE = Polygon(sides=4, measure="side", size=20.0, stands="on a flat")
SQUARES = Lattice(form="squares", extent="by number", columns=5, rows=4)
HEXAGONS = Lattice(form="hexagons on points", extent="by number", columns=5, rows=4)


def drawn(motif, *rules):
    shape = motif.shape()
    for rule in rules:
        shape = rule.reshape(shape, PLAIN)
    return shape.draw(Ask(start(shape)))


def corners(family):
    return family.points[0]


# -- contact lines -----------------------------------------------------------------------------------
@pytest.mark.parametrize(("sides", "angle"), [(4, 45.0), (6, 60.0), (6, 30.0), (8, 67.5), (12, 75.0)])
def test_contact_lines_of_a_regular_polygon_meet_on_its_radii(sides, angle):
    star = drawn(Polygon(sides=sides, measure="apothem", size=10.0), ContactLines(angle=angle, gives="the star"))[0]
    away = np.hypot(*corners(star).T)
    half = np.pi / sides
    # the ray from the middle of an edge crosses the radius to the corner; by the rule of sines in the triangle they make
    want = 10 * np.cos(np.radians(angle)) / np.cos(np.radians(angle) - half)
    assert away[::2] == pytest.approx(10.0)
    assert away[1::2] == pytest.approx(want)


def test_a_star_and_its_corners_fill_the_tile():
    faces = drawn(HEXAGON, ContactLines(angle=50.0))
    assert len(faces) == 7
    total = sum(abs(float(areas(verbs, points)[0])) for verbs, points, _ in faces)
    assert total == pytest.approx(1496.491898, rel=1e-9)


def test_lines_at_a_changing_angle_meet_at_every_shared_middle():
    angle = Varied(rule="floor-lattice", channel="x", start=35.0, end=75.0)
    result = evaluated(HEXAGON, ContactLines(angle=angle, gives="lines"), HEXAGONS)
    marks = Evaluator().marks(result.last.stage, result.known)
    assert len(marks.families[0].points) > 4
    ends = {}
    for xform, variant in zip(marks.xform, marks.variant, strict=True):
        points = marks.families[0].points[variant].reshape(-1, 3, 2) @ xform[:, :2].T + xform[:, 2]
        for one in points:
            for end, inner in ((one[0], one[1]), (one[2], one[1])):
                way = np.degrees(np.arctan2(*(inner - end)[::-1])) % 180
                ends.setdefault(tuple(np.round(end, 5)), []).append(way)
    shared = [ways for ways in ends.values() if len(ways) == 4]
    assert len(shared) > 20
    for ways in shared:  # two straight lines cross there: each way is there twice
        doubled = np.exp(2j * np.radians(ways))
        assert all((np.abs(doubled - one) < 1e-6).sum() >= 2 for one in doubled)


def test_contact_lines_work_on_the_parts_of_a_split():
    assert len(drawn(HEXAGON, Split(into="triangles"), ContactLines(gives="the star"))) == 6


# -- inner polygon -----------------------------------------------------------------------------------
@pytest.mark.parametrize(("turn", "spoke"), [(0.0, 12.0), (30.0, 14.872), (60.0, 20.785)])
def test_spokes_of_an_inner_hexagon(turn, spoke):
    lines = corners(drawn(HEXAGON, InnerPolygon(turn=turn, gives="lines"))[0])[12:].reshape(6, 2, 2)
    assert np.hypot(*(lines[:, 1] - lines[:, 0]).T) == pytest.approx(spoke, abs=5e-4)


def test_inner_polygon_and_sides_fill_the_shape_and_vary_over_a_lattice():
    faces = drawn(HEXAGON, InnerPolygon(size=40.0, turn=12.0))
    assert sum(abs(float(areas(verbs, points)[0])) for verbs, points, _ in faces) == pytest.approx(1496.491898, rel=1e-9)
    turn = Varied(rule="floor-lattice", channel="column", start=0.0, end=40.0)
    result = evaluated(SQUARE, InnerPolygon(turn=turn), SQUARES)
    assert len(Evaluator().marks(result.last.stage, result.known).families[0].points) == 5


# -- waves -------------------------------------------------------------------------------------------
@pytest.mark.parametrize(
    "motif", [SQUARE, HEXAGON, Polygon(sides=3, measure="side", size=30.0)], ids=["square", "hexagon", "triangle"]
)
@pytest.mark.parametrize("form", ["smooth", "pointed"])
def test_parallel_waves_keep_the_area_and_mirrored_ones_of_opposite_sides_too(motif, form):
    before = abs(float(areas(*drawn(motif)[0][:2])[0]))
    for waves in (1, 3):
        (after,) = drawn(motif, WaveEdges(height=1.5, waves=waves, form=form))
        assert abs(float(areas(*after[:2])[0])) == pytest.approx(before, rel=1e-9)


@pytest.mark.parametrize("form", ["smooth", "pointed"])
@pytest.mark.parametrize(("motif", "lattice"), [(SQUARE, SQUARES), (HEXAGON, HEXAGONS)], ids=["squares", "hexagons"])
def test_tiles_with_waves_of_any_height_still_fit(motif, lattice, form):
    height = Varied(rule="floor-lattice", channel="x", start=0.5, end=2.5)
    result = evaluated(motif, WaveEdges(height=height, waves=2, form=form), lattice)
    shapes, _ = tiles(result, 48)
    shapes = shapely.set_precision(shapes, 1e-9)
    union = shapely.union_all(shapes)
    assert union.area == pytest.approx(sum(shape.area for shape in shapes), rel=2e-6)
    assert len(shapely.get_rings(union)) == 1


def test_mirrored_waves_of_a_square_are_its_mirror_images():
    for opposite, sign in (("parallel", 1.0), ("mirrored", -1.0)):
        (face,) = drawn(SQUARE, WaveEdges(height=2.0, form="pointed", opposite=opposite))
        points = corners(face)
        upper, lower = (points[np.abs(points[:, 1] - level) < 3] - (0, level) for level in (-10.0, 10.0))
        upper, lower = (side[np.abs(side[:, 0]) < 9] for side in (upper, lower))
        assert len(upper) == len(lower) == 2
        assert upper[np.argsort(upper[:, 0])] == pytest.approx(lower[np.argsort(lower[:, 0])] * (1.0, sign))


def test_a_wavelength_is_fitted_to_each_edge():
    rule = WaveEdges(by="wavelength", wavelength=7.0, form="pointed")
    (face,) = drawn(SQUARE, rule)
    assert len(corners(face)) == 1 + 4 * (2 * 3 + 1)  # three waves of 6.667 on a side of 20
    first, second = corners(face)[1:3]
    assert np.abs(second - first).min() == pytest.approx(20 / 6)


# -- bow ---------------------------------------------------------------------------------------------
def test_a_bow_adds_two_thirds_of_its_height_times_each_side():
    (face,) = drawn(SQUARE, Bow(amount=3.0))
    assert abs(float(areas(*face[:2])[0])) == pytest.approx(400 + 4 * 2 / 3 * 3 * 20, rel=1e-9)
    (inwards,) = drawn(SQUARE, Bow(amount=-3.0))
    assert abs(float(areas(*inwards[:2])[0])) == pytest.approx(400 - 4 * 2 / 3 * 3 * 20, rel=1e-9)


def test_corners_of_a_square_that_take_all_of_its_sides_make_a_disc():
    (face,) = drawn(SQUARE, Bow(amount=0.0, rounded=100.0))
    away = np.hypot(*corners(face).reshape(-1, 2)[::3].T)
    assert away == pytest.approx(10.0)
    assert abs(float(areas(*face[:2])[0])) == pytest.approx(np.pi * 100, rel=4e-4)
    (half,) = drawn(SQUARE, Bow(amount=0.0, rounded=50.0))
    assert abs(float(areas(*half[:2])[0])) == pytest.approx(400 - (4 - np.pi) * 25, rel=4e-4)


# -- all ---------------------------------------------------------------------------------------------
@pytest.mark.parametrize("turn", [0.0, 37.0, 180.0])
@pytest.mark.parametrize("amount", [5.0, -5.0])
def test_an_open_line_bows_to_one_side_as_a_parabola(turn, amount):
    (face,) = drawn(Line(length=60.0, thickness=0.0, turn=turn), Bow(amount=amount))
    assert face.verbs == bytes([MOVE, CURVE])
    ((cubics, closed),) = cubics_of(face.verbs, face.points[0])
    assert not closed
    left = np.array([np.sin(np.radians(turn)), -np.cos(np.radians(turn))])
    assert points_of(cubics, np.array([0.5]))[0] == pytest.approx(amount * left)
    s = 16 * 5.0 / 60 / 4  # the length of a parabola of height 5 over 60
    assert Walk(cubics).length == pytest.approx(30 * (np.hypot(1, s) + np.arcsinh(s) / s), rel=1e-9)


def test_corners_of_an_open_line_are_rounded_and_its_ends_are_not():
    zigzag = Outline(outline="M0 0 L20 0 L20 20 L40 20", stands="as drawn", width=40.0)
    (face,) = drawn(zigzag, Bow(amount=0.0, rounded=100.0))
    assert face.verbs == bytes([MOVE, *[CURVE] * 5])
    low, high = face.points[0].min(0), face.points[0].max(0)
    assert high - low == pytest.approx((40.0, 20.0))
    (round_,) = drawn(zigzag, Bow(amount=3.0, rounded=20.0))
    assert CLOSE not in round_.verbs


def test_bowed_lines_may_vary_and_go_on_end_to_end():
    side = Line(length=40.0, thickness=0.0)
    run = Progression(count=6, spacing="each begins where the last ended", turn=60.0)
    result = evaluated(side, Bow(amount=6.0), run, JoinEnds())
    assert not result.problems
    marks = Evaluator().marks(result.last.stage, result.known)
    (family,) = marks.families
    assert family.verbs[-1] == CLOSE
    hexagon = 1.5 * np.sqrt(3) * 40**2
    assert abs(areas(family.verbs, family.points)[0]) == pytest.approx(hexagon + 6 * 2 / 3 * 6 * 40, rel=1e-6)
    varied = Bow(amount=Varied(rule="floor-lattice", channel="column", start=0.0, end=9.0))
    made = evaluated(side, varied, Lattice(form="squares", extent="by number", columns=4, rows=2, spacing="free", pitch=60.0))
    marks = Evaluator().marks(made.last.stage, made.known)
    own = [cubics_of(marks.families[0].verbs, marks.families[0].points[v])[0][0] for v in marks.variant]
    middles = [points_of(cubics, np.array([0.5]))[0, 1] for cubics in own]
    assert np.unique(np.round(middles, 6)) == pytest.approx([-9.0, -6.0, -3.0, 0.0])


@pytest.mark.parametrize("rule", [ContactLines(), InnerPolygon(), Bow()], ids=lambda rule: rule.kind)
def test_what_has_no_straight_sides_is_refused_and_parts_are_taken(rule):
    result = evaluated(Ellipse(), rule)
    assert "needs straight sides" in result.problems[0].sentence
    assert last_stage(HEXAGON, Split(into="rhombs"), rule).shape.faces >= 3


@pytest.mark.parametrize(("waves", "height"), [(12, 3.0), (7, 2.0)])
def test_a_round_outline_is_one_edge_with_a_whole_number_of_waves(waves, height):
    (face,) = drawn(Ellipse(width=100.0), WaveEdges(waves=waves, height=height))
    ring = flatten(face.verbs, face.points[:1], 40)[0][0]
    away = np.hypot(*ring.T)
    assert (away.min(), away.max()) == pytest.approx((50 - height, 50 + height), abs=0.02)
    crests = np.sum((away > np.roll(away, 1)) & (away >= np.roll(away, -1)) & (away > 50 + height / 2))
    assert crests == waves
    exact = np.pi * 2500 + np.pi * height**2 / 2  # the integral of (r + a sin)^2 / 2
    assert abs(areas(face.verbs, face.points)[0]) == pytest.approx(exact, rel=4e-4)


def test_a_curved_outline_with_corners_has_waves_on_each_stretch():
    (face,) = drawn(Petal(), WaveEdges(waves=3, height=1.0, form="pointed"))
    assert face.verbs.count(LINE) == 2 * 7
    assert "closed outlines" in evaluated(Line(thickness=0.0), WaveEdges()).problems[0].sentence


@pytest.mark.parametrize(
    ("gives", "parts"),
    [
        ("inner and sides", [6] + [4] * 6),
        ("sides", [4] * 6),
        ("inner", [6]),
        ("tile, inner and spokes", [6, 6, 12]),
        ("tile and inner", [6, 6]),
        ("inner and spokes", [6, 12]),
        ("spokes", [12]),
        ("lines", [24]),
    ],
)
def test_the_parts_of_an_inner_polygon_are_its_own(gives, parts):
    faces = drawn(HEXAGON, InnerPolygon(size=40.0, turn=12.0, gives=gives))
    assert [face.points.shape[1] for face in faces] == parts
    ink = Ink(colours="part", palette=("#AA0000", "#00AA00", "#0000AA"), stroke="one colour")
    closed = sum(face.verbs[-1] == CLOSE for face in faces) if gives != "lines" else 1
    work = work_of(HEXAGON, InnerPolygon(gives=gives), ink, SQUARES)
    svg = write_svg(make_scene(work.design, Evaluator().design(work.design), Evaluator()), work.design.sheet, Svg()).decode()
    assert len({one for one in ("#AA0000", "#00AA00", "#0000AA") if f'fill="{one}"' in svg}) == min(3, closed)


BAR = Rectangle(width=60.0, height=20.0)


@pytest.mark.parametrize("form", ["smooth", "pointed"])
@pytest.mark.parametrize(
    ("edges", "numbers", "waving"),
    [("all", "1", {0, 1, 2, 3}), ("long ones", "1", {0, 2}), ("short ones", "1", {1, 3}), ("some", "2, 3", {1, 2})],
)
def test_chosen_edges_wave_and_the_others_stay_straight(form, edges, numbers, waving):
    (face,) = drawn(BAR, WaveEdges(height=2.0, waves=3, form=form, edges=edges, numbers=numbers))
    (line,) = flatten(face.verbs, face.points, 40)
    corners_ = drawn(BAR)[0].points[0]
    out = corners_ + np.roll(corners_, -1, 0)  # twice the middles of the edges
    beyond = [float((line[0] @ (one / np.hypot(*one))).max() - np.hypot(*one) / 2) for one in out]
    assert {k for k in range(4) if beyond[k] > 1.4} == waving
    assert all(beyond[k] < 1e-9 for k in {0, 1, 2, 3} - waving)


def test_chosen_edges_of_a_round_shape_with_corners():
    for form in ("smooth", "pointed"):
        (face,) = drawn(Petal(length=60.0, width=40.0), WaveEdges(height=1.5, waves=4, form=form, edges="some", numbers="1"))
        (plain,) = drawn(Petal(length=60.0, width=40.0))
        (line,), (was,) = flatten(face.verbs, face.points, 40), flatten(plain.verbs, plain.points, 40)
        far = shapely.distance(shapely.points(line[0]), shapely.LinearRing(was[0]))
        right, left = line[0][:, 0] > 4.0, line[0][:, 0] < -4.0
        assert min(far[left].max(), far[right].max()) < 0.05
        assert far.max() > 1.0


def test_numbers_of_edges_that_are_none_are_refused():
    with pytest.raises(ValueError, match="Numbers"):
        WaveEdges(edges="some", numbers="one")


@pytest.mark.parametrize(("parts", "stay"), [("", set()), ("1", {2, 3}), ("2, 3", {1}), ("9", {1, 2, 3})])
def test_parts_of_an_inner_polygon_may_be_a_construction(parts, stay):
    ink = Ink(colours="part", palette=("#AA0000", "#00AA00", "#0000AA"), stroke="one colour", stroke_width=1.0)
    work = work_of(HEXAGON, InnerPolygon(gives="tile, inner and spokes"), ConstructionOnly(parts=parts), HEXAGONS, ink)
    evaluator = Evaluator()
    results = evaluator.design(work.design)

    def shown(**how):
        layers = make_scene(work.design, results, evaluator, **how).layers
        if not layers:
            return set()
        picture = layers[0].picture
        seen = np.any([np.broadcast_to((c.fill[:, 3] > 0) | (c.stroke[:, 3] > 0), picture.marks.count) for c in picture.coats], 0)
        return {int(part) + 1 for part in np.unique(picture.marks.family[seen])}

    assert shown() == stay
    assert shown(construction=True) == {1, 2, 3}
    svg = write_svg(make_scene(work.design, results, evaluator), work.design.sheet, Svg(recipe=False)).decode()
    assert svg.count("<use") == 20 * len(stay)


@pytest.mark.parametrize(("height", "turn"), [(3.0, 0.0), (-3.0, 0.0), (3.0, 25.0)])
def test_edges_that_wave_are_picked_by_their_beads(height, turn):
    tile = Polygon(sides=5, size=30.0, turn=turn)
    rule = WaveEdges(height=height)
    above, stage = last_stage(tile), last_stage(tile, rule)

    def pulled(rule, edge, out):
        """The rule after the bead of an edge was dragged that far out of it."""
        bead = next(h for h in rule.handles(above, stage, PLAIN, "mm").handles if h.name == f"edge {edge}")
        straight = WaveEdges(height=height, edges="some", numbers="")
        on = next(h.at for h in straight.handles(above, stage, PLAIN, "mm").handles if h.name == bead.name)
        to = on * (1 + out / np.hypot(*on))
        return edited(rule, **rule.dragged(Drag(bead.name, to, 0.1), above, stage, PLAIN))

    assert len(rule.handles(above, stage, PLAIN, "mm").handles) == 5
    less = pulled(pulled(rule, 2, 0.2), 4, -0.2)
    assert (less.edges, less.numbers) == ("some", "1, 3, 5")
    back = pulled(pulled(less, 2, 2.5 * np.sign(height)), 4, 9.0 * np.sign(height))
    assert back.edges == "all"
    none = less
    for edge in (1, 3, 5):
        none = pulled(none, edge, 0.0)
    assert not any(none._chosen(np.full(5, 10.0)))
