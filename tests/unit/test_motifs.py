"""The motif library: areas, lengths and counts in closed form, measures that vary, handles, open lines."""

import numpy as np
import pytest
import shapely

from tests.chains import evaluated, last_stage, tiles, work_of
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.geometry.outline import CLOSE, areas, flatten
from under_lattice.pattern.ask import Ask
from under_lattice.pattern.marks import draw
from under_lattice.pattern.stage import start
from under_lattice.rules import RULES
from under_lattice.rules.families import MotifRule
from under_lattice.rules.ground import PLAIN
from under_lattice.rules.handles import Drag
from under_lattice.rules.motifs.arc import Arc
from under_lattice.rules.motifs.bar_strip import BarStrip
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.frozen_motif import FrozenMotif
from under_lattice.rules.motifs.kite import Kite
from under_lattice.rules.motifs.layer_motif import LayerMotif
from under_lattice.rules.motifs.line import Line
from under_lattice.rules.motifs.lissajous import Lissajous
from under_lattice.rules.motifs.petal import Petal
from under_lattice.rules.motifs.picture_motif import PictureMotif
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.motifs.rectangle import Rectangle
from under_lattice.rules.motifs.ring import Ring
from under_lattice.rules.motifs.rose import Rose
from under_lattice.rules.motifs.roulette import Roulette
from under_lattice.rules.motifs.sheet_motif import SheetMotif
from under_lattice.rules.motifs.spiral import Spiral
from under_lattice.rules.motifs.star import Star
from under_lattice.rules.motifs.superellipse import Superellipse
from under_lattice.rules.motifs.triangle import Triangle
from under_lattice.rules.motifs.wave_line import WaveLine
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.progression import Progression
from under_lattice.rules.shared.measured import CurveMotif, MeasuredMotif
from under_lattice.vary.numbers import Varied
from under_lattice.work.model import Sheet
from under_lattice.work.suggest import suggested

MOTIFS = [kind for kind in RULES if issubclass(kind, MotifRule)]
MEASURED = [kind for kind in MOTIFS if issubclass(kind, MeasuredMotif)]


def outline(motif):
    """The families of a motif by itself."""
    return motif.shape().draw(Ask(start(motif.shape())))


def area(motif):
    return sum(float(areas(verbs, points)[0]) for verbs, points, _ in outline(motif))


def line(motif, steps=64):
    (family,) = outline(motif)
    return flatten(family.verbs, family.points, steps)[0][0]


def length(motif, steps=64):
    points = line(motif, steps)
    if outline(motif)[0].verbs[-1] == CLOSE:
        points = np.concatenate([points, points[:1]])
    return float(np.hypot(*np.diff(points, axis=0).T).sum())


S = np.sin
COS36, COS72 = np.cos(np.radians([36, 72]))
AREAS = [
    (Star(points=5, size=20.0, corners="by density", density=2), 500 * COS72 / COS36 * np.sin(np.radians(36))),
    (Star(points=8, size=20.0, inner=40.0), 8 * 10 * 4 * S(np.pi / 8)),
    (Ring(width=20.0, inner=50.0), np.pi * (100 - 25)),
    (Ring(width=20.0, inner=50.0, roundness=60.0), np.pi * 0.6 * (100 - 25)),
    (Arc(width=20.0, inner=50.0, sweep=120.0), np.pi * (100 - 25) / 3),
    (Arc(width=20.0, inner=0.0, sweep=90.0), np.pi * 25),
    (Petal(length=20.0, width=100.0), np.pi * 100),
    (Rectangle(width=30.0, height=12.0), 360.0),
    (Rectangle(width=30.0, height=12.0, rounded=50.0), 360.0 - (4 - np.pi) * 9),
    (Triangle(width=30.0, height=12.0, lean=110.0), 180.0),
    (Kite(width=30.0, height=12.0, widest=25.0), 180.0),
    (Line(length=30.0, thickness=2.0), 60.0),
    (Line(length=30.0, thickness=2.0, ends="round"), 60.0 + np.pi),
    (Superellipse(width=20.0, fullness=100.0), 200.0),
    (Superellipse(width=20.0, fullness=200.0), np.pi * 100),
    (BarStrip(code="5 : 2 : 3", width=20.0, height=10.0), 200.0),
    (BarStrip(code="5 : 2 : 3", width=20.0, height=10.0, shown="every second"), 160.0),
]  # fmt: skip

OF_A_WORK = (LayerMotif, PictureMotif, FrozenMotif)  # these show what a work has, or more copies than one


@pytest.mark.parametrize(("motif", "want"), AREAS, ids=lambda v: getattr(v, "kind", ""))
def test_areas_in_closed_form(motif, want):
    assert abs(area(motif)) == pytest.approx(want, rel=4e-4)  # a quarter circle of one cubic is off by 2.7e-4 at most


def test_a_petal_is_what_two_circles_share():
    length, width = 40.0, 16.0
    r = (length**2 + width**2) / (4 * width)
    lens = shapely.Point(-(r - width / 2), 0).buffer(r, 512).intersection(shapely.Point(r - width / 2, 0).buffer(r, 512))
    assert abs(area(Petal(length=length, width=40.0))) == pytest.approx(lens.area, rel=1e-4)


def test_a_superellipse_has_the_area_of_its_power():
    from math import gamma

    for n in (0.6, 1.5, 3.5, 8.0):
        want = 4 * 10 * 6 * gamma(1 + 1 / n) ** 2 / gamma(1 + 2 / n)
        assert abs(area(Superellipse(width=20.0, roundness=60.0, fullness=100 * n))) == pytest.approx(want, rel=1e-3)


def test_a_roulette_is_the_formula_and_closes():
    wheel = Roulette(ring=105, wheel=45, arm=100 * 30 / 45, width=180.0)
    assert (wheel.turns, wheel.lobes) == (3, 7)
    (family,) = outline(wheel)
    points = family.points[0]
    assert (points[0] == points[-1]).all()
    t = np.linspace(0, 6 * np.pi, (len(points) - 1) // 3 + 1)
    x = 60 * np.cos(t) + 30 * np.cos(60 / 45 * t)
    y = 60 * np.sin(t) - 30 * np.sin(60 / 45 * t)
    assert points[::3] == pytest.approx(np.stack([x, y], -1), abs=1e-9)
    away = np.hypot(*line(wheel, 32).T)
    peaks = (away > np.roll(away, 1)) & (away >= np.roll(away, -1)) & (away > 89.9)
    assert peaks.sum() == 7


def test_a_wheel_outside_draws_an_epitrochoid():
    wheel = Roulette(rolls="outside", ring=40, wheel=10, arm=100.0, width=120.0)
    assert wheel.lobes == 4
    away = np.hypot(*line(wheel).T)
    assert (away.min(), away.max()) == pytest.approx((40.0, 60.0), abs=0.01)  # cusps on the ring
    assert abs(area(wheel)) == pytest.approx(np.pi * (40 + 10) * (40 + 20), rel=1e-3)


@pytest.mark.parametrize(("p", "q", "petals"), [(3, 1, 3), (4, 1, 8), (5, 1, 5), (5, 3, 5), (1, 2, 2), (6, 2, 3)])
def test_petals_of_a_rose(p, q, petals):
    rose = Rose(p=p, q=q, width=20.0)
    assert rose.petals == petals
    away = np.hypot(*line(rose, 40).T)
    ring = away > np.maximum(np.roll(away, 1), np.roll(away, -1)) - 1e-12
    assert (ring & (away > 9.99)).sum() in range(petals, 2 * petals + 1)
    assert np.allclose(line(rose)[0], outline(rose)[0].points[0][-1], atol=1e-9)


def test_curves_are_within_a_hundredth_of_their_formula():
    wide = Lissajous(across=5, down=4, phase=30.0, width=90.0)
    points = line(wide, 48)
    t = np.linspace(0, 2 * np.pi, 40_001)
    exact = shapely.LineString(45 * np.stack([np.sin(5 * t + np.radians(30)), np.sin(4 * t)], -1))
    assert shapely.distance(exact, shapely.points(points)).max() < 0.01


def test_an_even_spiral_has_its_length():
    spiral = Spiral(turns=300.0, width=60.0, inner=10.0)
    b, turns = (30 - 3) / 3, 3
    theta = np.linspace(0, turns * 2 * np.pi, 200_001)
    r = 3 + b * theta / (2 * np.pi)
    ds = np.hypot(r, b / (2 * np.pi))
    want = float(((ds[1:] + ds[:-1]) / 2 * np.diff(theta)).sum())
    assert length(spiral) == pytest.approx(want, rel=1e-4)
    assert CLOSE not in outline(spiral)[0].verbs
    growing = line(Spiral(grows="by a ratio", turns=200.0, width=60.0, inner=6.25), 32)
    away = np.hypot(*growing.T)
    assert away[-1] / away[len(away) // 2] == pytest.approx(away[len(away) // 2] / away[0], rel=1e-3)


def test_waves_smooth_and_pointed():
    smooth, pointed = (line(WaveLine(width=48.0, height=12.0, waves=2, form=form)) for form in ("smooth", "pointed"))
    assert np.allclose(smooth[[0, -1]], [(-24, 0), (24, 0)])
    assert np.abs(smooth[:, 1]).max() == pytest.approx(6.0, abs=1e-3)
    assert length(WaveLine(width=48.0, height=12.0, waves=2, form="pointed")) == pytest.approx(8 * np.hypot(6, 6))
    assert (np.diff(pointed[:, 0]) >= -1e-12).all()
    ahead = line(WaveLine(width=48.0, height=12.0, waves=2, form="pointed", phase=90.0))
    assert ahead[0] == pytest.approx((-24.0, -6.0))


def test_bars_are_parts_and_touch_by_the_whole_strip():
    strip = BarStrip(code="5 : 2 : 3", width=20.0, height=8.0)
    widths = [np.ptp(points[0][:, 0]) for _, points, _ in outline(strip)]
    assert widths == pytest.approx([10.0, 4.0, 6.0])
    gaps = BarStrip(code="1 : 1", rounds=2, width=20.0, height=8.0, shown="every second")
    assert [np.ptp(p[0][:, 0]) for _, p, _ in outline(gaps)] == pytest.approx([5.0, 5.0])
    stage = last_stage(gaps, Progression(count=3, spacing="touching"))
    assert np.diff(np.sort(stage.xform[:, 0, 2])) == pytest.approx([20.0, 20.0])
    there_and_back = BarStrip(code="5 : 2 : 3", rounds=2, taken="mirrored", width=20.0)
    assert there_and_back.widths() == [5, 2, 3, 3, 2, 5]


@pytest.mark.parametrize("kind", MEASURED, ids=lambda kind: kind.__name__)
def test_every_measure_varies_over_a_repeat_below(kind):
    row = Progression(count=4, distance=50.0)
    for name, number in kind().numbers().items():
        dial = kind.dials()[name]
        ends = float(number), float(np.clip(number * 0.7, dial.least, dial.most)) or 1.0
        if kind().idle(name):
            continue
        varied = kind.model_validate({name: Varied(rule="floor-progression", channel="step", start=ends[0], end=ends[1])})
        result = evaluated(varied, row)
        assert not result.problems
        marks = Evaluator().marks(result.last.stage, result.known)
        assert len(marks.families[0].points) == 4 or ends[0] == ends[1], name
        plain = draw(last_stage(kind(), row))
        first, alone = marks.families[0], plain.families[0]
        if first.verbs == alone.verbs:
            assert first.points[first.variant[0]] == pytest.approx(alone.points[0], abs=1e-9)


@pytest.mark.parametrize("kind", MEASURED, ids=lambda kind: kind.__name__)
def test_a_dragged_bead_sets_its_measure_and_stays_under_the_hand(kind):
    motif = kind.model_validate({"turn": 30.0})
    stage = start(motif.shape())
    for handle in motif.handles(stage, stage, PLAIN, "mm").handles:
        if handle.name not in [grip.dial for grip in kind.grips] or handle.form != "bead":
            continue
        to = handle.at * 1.25
        changed = motif.model_validate(
            motif.model_dump() | motif.dragged(Drag(handle.name, to, free=True, near=0.0), stage, stage, PLAIN)
        )
        again = start(changed.shape())
        beads = {one.name: one.at for one in changed.handles(again, again, PLAIN, "mm").handles}
        dial = kind.dials()[handle.name]
        value = getattr(changed, handle.name)
        assert beads[handle.name] == pytest.approx(to, abs=0.02) or value in (dial.least, dial.most), handle.name
        assert np.abs(again.body_ring).max() >= np.abs(stage.body_ring).max() - 1e-6


@pytest.mark.parametrize("kind", MEASURED, ids=lambda kind: kind.__name__)
def test_a_bead_of_an_angle_or_a_proportion_finds_the_value_it_is_dragged_to(kind):
    motif = kind.model_validate({"turn": 20.0})
    stage = start(motif.shape())
    for spot in kind.spots:
        dial, now = kind.dials()[spot.dial], float(getattr(motif, spot.dial))
        more = now + 0.3 * spot.again if spot.again else now * 1.2 or 25.0
        wanted = kind.model_validate({"turn": 20.0, spot.dial: np.clip(more, dial.least, dial.most)})
        if motif.idle(spot.dial):
            continue
        to = next(one.at for one in wanted.handles(stage, stage, PLAIN, "mm").handles if one.name == spot.dial)
        found = motif.dragged(Drag(spot.dial, to, free=True, near=0.0), stage, stage, PLAIN)
        assert found[spot.dial] == pytest.approx(getattr(wanted, spot.dial), rel=0.01, abs=0.1), spot.dial


@pytest.mark.parametrize("kind", [*MEASURED, Polygon, Ellipse], ids=lambda kind: kind.__name__)
def test_the_bead_of_the_turn_turns_the_motif_with_it(kind):
    motif = kind()
    stage = start(motif.shape())
    bead = next(one for one in motif.handles(stage, stage, PLAIN, "mm").handles if one.name == "turn")
    quarter = np.array([-bead.at[1], bead.at[0]])
    turned = motif.dragged(Drag("turn", quarter, free=True, near=0.0), stage, stage, PLAIN)
    assert turned == {"turn": pytest.approx(90.0, abs=0.01)}


@pytest.mark.parametrize("kind", [kind for kind in MOTIFS if kind not in OF_A_WORK], ids=lambda kind: kind.__name__)
def test_every_motif_stands_on_a_lattice(kind):
    result = evaluated(
        kind(), Lattice(form="squares", spacing="free", pitch=60.0, row_pitch=60.0, extent="by number", columns=3, rows=2)
    )
    assert not result.problems
    assert result.last.stage.n == 6


@pytest.mark.parametrize(
    "kind", [k for k in MEASURED if not (issubclass(k, CurveMotif) and not k.model_validate({}).closed)], ids=lambda k: k.__name__
)
def test_closed_motifs_touch_and_do_not_overlap(kind):
    result = evaluated(kind(), Progression(count=2, spacing="touching", direction=0.0))
    assert not result.problems
    one, other = result.last.stage.bodies()
    one, other = shapely.Polygon(one), shapely.Polygon(other)
    assert one.intersection(other).area < 1e-3 * one.area
    assert one.distance(other) < 1e-3


def test_open_lines_have_no_inside_and_take_the_colour_of_the_fill():
    result = evaluated(Spiral(), Progression(count=2, distance=60.0), Ink(colours="step", palette=("#102030", "#405060")))
    (coat,) = Evaluator().picture(result).coats
    assert (coat.fill[:, 3] == 0).all()
    assert coat.stroke.tolist() == [[0x10, 0x20, 0x30, 255], [0x40, 0x50, 0x60, 255]]
    assert coat.width.tolist() == [0.5, 0.5]
    stroked = evaluated(Spiral(), Ink(colours="one colour", stroke="one colour", stroke_colour="#FF0000", stroke_width=2.0))
    (coat,) = Evaluator().picture(stroked).coats
    assert (coat.stroke[0, 0], coat.width[0], coat.fill[0, 3]) == (255, 2.0, 0)
    (bare,) = Evaluator().picture(evaluated(WaveLine())).coats
    assert (bare.fill[0, 3], bare.stroke[0, 3]) == (0, 255)


def test_a_ring_is_hollow():
    result = evaluated(Ring(width=20.0, inner=50.0))
    shapes, _ = tiles(result)
    assert shapes[0].area == pytest.approx(np.pi * 100, rel=0.01)  # the outer outline; the hole is its second contour
    assert result.last.stage.shape.body().verbs.count(CLOSE) == 1


def test_a_density_beyond_half_the_points_is_held():
    assert Star(points=7, corners="by density", density=9).step == 3
    assert "density 3" in Star(points=7, corners="by density", density=9).key_line("mm")


def test_waves_go_on_end_to_end():
    stage = last_stage(WaveLine(width=20.0), Progression(count=4, spacing="each begins where the last ended"))
    assert np.sort(stage.xform[:, 0, 2]) == pytest.approx([0, 20, 40, 60])


def test_names_of_motifs_are_words():
    nouns = [kind.noun() for kind in MOTIFS]
    assert "Wave line" in nouns
    assert len(set(nouns)) == len(nouns)
    assert work_of(Star()).design.chains()[0].rules[0].title == "Motif"


def test_the_sheet_as_motif_follows_its_size_and_refuses_what_leaves_nothing():
    for wide, high in ((324.0, 322.0), (100.0, 60.0)):
        stage = last_stage(SheetMotif(inset=8.0), sheet=Sheet(width=wide, height=high))
        assert np.ptp(stage.body_ring, 0) == pytest.approx((wide - 16, high - 16))
    assert "leaves nothing of the sheet" in evaluated(SheetMotif(inset=170.0)).problems[0].sentence
    rounded = last_stage(SheetMotif(inset=0.0, rounded=100.0), sheet=Sheet(width=80, height=80))
    assert np.hypot(*rounded.body_ring.T) == pytest.approx(40.0, rel=1e-3)


@pytest.mark.parametrize("kind", [kind for kind in RULES if kind.family in ("repeat", "copies", "shape")], ids=lambda k: k.__name__)
def test_rules_are_suggested_for_the_sheet_as_motif(kind):
    chain = work_of(SheetMotif(inset=60.0)).design.chains()[0]
    assert isinstance(suggested(kind, chain, Sheet()), kind)
