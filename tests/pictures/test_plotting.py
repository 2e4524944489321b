"""Files for pens: what is drawn, hidden lines, hatching, lines once, the order of the pen; SVG by a renderer, HPGL read back."""

import re

import numpy as np
import pytest
import shapely

from tests.chains import work_of
from under_lattice.core.errors import InputError
from under_lattice.declare.frozen import edited
from under_lattice.library import demo
from under_lattice.output.page import job_of
from under_lattice.output.plot.plotter import Hpgl, PenSvg
from under_lattice.output.plot.route import ordered, travel
from under_lattice.rules import Ellipse, Ink, Lattice, LayerEnd, Polygon, Rectangle
from under_lattice.work.model import Sheet, Work

SHEET = Sheet(width=200, height=160)
RED = Ink(colours="one colour", palette=("#B5452C",))


def plotted(work, **options):
    chosen, job = job_of(work, PenSvg(**options))
    return chosen.plot(job.scene, job.sheet)


def by_number(columns, rows, form="squares", **more):
    return Lattice(form=form, extent="by number", columns=columns, rows=rows, **more)


def two(front, back):
    """One layer over another."""
    over, under = work_of(*front, sheet=SHEET).design.layers[0], work_of(*back, sheet=SHEET).design
    rules = tuple(edited(rule, id=f"front-{rule.id}") for rule in over.rules)
    over = edited(over, id="front", handle="front", rules=rules, end=LayerEnd(id="front-e"))
    return Work(design=edited(under, layers=(over, *under.layers)))


def together(pen):
    return shapely.union_all([shapely.LineString(line) for line in pen.lines])


@pytest.mark.parametrize("joins", [True, False])
def test_touching_hexagons_are_drawn_once(joins):
    work = work_of(Polygon(sides=6, size=10.0), RED, by_number(12, 8, "hexagons on points"), sheet=SHEET)
    (pen,) = plotted(work, once=joins).pens
    assert sum(len(line) - 1 for line in pen.lines) == (327 if joins else 576)


def test_a_pen_for_each_colour_lines_first_named():
    ink = Ink(colours="parity", palette=("#B5452C", "#2C6AB5"), stroke="one colour", stroke_colour="#111111", stroke_width=1.0)
    spread = by_number(4, 3, spacing="free", pitch=24.0, row_pitch=24.0)
    work = work_of(Ellipse(width=20.0), spread, ink, sheet=SHEET)
    assert [pen.colour for pen in plotted(work).pens] == ["#111111"]
    assert {pen.colour for pen in plotted(work, outlines="all").pens} == {"#111111", "#B5452C", "#2C6AB5"}
    assert plotted(work, outlines="none").pens[0].colour == "#111111"


def test_each_line_takes_the_nearest_of_the_pens_at_hand():
    ink = Ink(colours="parity", palette=("#B5452C", "#2C6AB5"))
    work = work_of(Ellipse(width=20.0), by_number(4, 3, spacing="free", pitch=24.0, row_pitch=24.0), ink, sheet=SHEET)
    each = {pen.colour: len(pen.lines) for pen in plotted(work).pens}
    assert {pen.colour: len(pen.lines) for pen in plotted(work, pens="#1133AA #D02010 #00FF00").pens} == {
        "#D02010": each["#B5452C"],
        "#1133AA": each["#2C6AB5"],
    }
    (one,) = plotted(work, pens="black").pens
    assert (one.colour, len(one.lines)) == ("#000000", sum(each.values()))


def test_pens_that_are_no_colours_are_refused_in_words():
    with pytest.raises(InputError, match="Pens at hand: “blau” is not a colour"):
        Hpgl().turned("pens", "#112233, blau")
    assert Hpgl().turned("pens", " ").pens == ""


def test_the_ticket_goes_out_in_two_pens():
    work = demo("ticket-engraving")
    plot = plotted(work, **work.export.options)
    assert [pen.colour for pen in plot.pens] == ["#B5472F", "#2B4C7E"]
    assert all(len(pen.lines) > 5 for pen in plot.pens)


def test_lines_under_shapes_are_left_out_exactly():
    bar, disc = (Rectangle(width=120.0, height=20.0), RED), (Ellipse(width=60.0), Ink(colours="one colour", palette=("#2C6AB5",)))
    seen = {pen.colour: together(pen) for pen in plotted(two(disc, bar)).pens}
    inside = shapely.Point(0, 0).buffer(30 - 0.05, quad_segs=64)
    assert seen["#B5452C"].intersection(inside).length < 1e-6
    half = np.sqrt(30**2 - 10**2)
    assert seen["#B5452C"].length == pytest.approx(2 * (120 + 20) - 4 * half, abs=0.2)
    assert {pen.colour: together(pen).length for pen in plotted(two(disc, bar), hidden=False).pens}["#B5452C"] == pytest.approx(280)
    clear = (Ellipse(width=60.0), Ink(colours="one colour", palette=("#2C6AB5",), fill_opacity=50.0))
    shown = {pen.colour: together(pen) for pen in plotted(two(clear, bar)).pens}
    assert shown["#B5452C"].length == pytest.approx(280)  # what shines through hides nothing


@pytest.mark.parametrize(("angle", "pitch", "pen"), [(0.0, 2.0, 0.5), (45.0, 1.0, 0.3), (90.0, 3.0, 1.0), (200.0, 0.7, 0.1)])
def test_hatching_fills_a_shape_and_never_passes_its_edge(angle, pitch, pen):
    work = work_of(Ellipse(width=50.0), RED, sheet=SHEET)
    (one,) = plotted(work, outlines="none", fills="hatched", angle=angle, pitch=pitch, pen=pen).pens
    area = np.pi * (25 - pen / 2) ** 2
    assert together(one).length == pytest.approx(area / pitch, rel=0.06)
    drawn = shapely.buffer(together(one), pen / 2, cap_style="flat")
    assert drawn.difference(shapely.Point(0, 0).buffer(25.01, quad_segs=256)).area < 0.02
    ways = [np.degrees(np.arctan2(*(line[-1] - line[0])[::-1])) % 180 for line in one.lines]
    assert np.allclose([min(abs(way - angle % 180), 180 - abs(way - angle % 180)) for way in ways], 0, atol=1e-6)


def test_crossed_hatching_is_twice_as_much_and_lines_inwards_follow_the_edge():
    work = work_of(Rectangle(width=60.0, height=40.0), RED, sheet=SHEET)
    once, twice, inwards = (
        sum(together(pen).length for pen in plotted(work, outlines="none", fills=fills, pitch=2.0, pen=0.0, angle=0.0).pens)
        for fills in ("hatched", "crossed", "lines inwards")
    )
    assert once == pytest.approx(60 * 40 / 2, rel=0.06)
    assert twice == pytest.approx(2 * once, rel=0.06)
    assert inwards == pytest.approx(60 * 40 / 2, rel=0.08)


def test_hatching_goes_on_from_shape_to_shape():
    work = work_of(Rectangle(width=20.0, height=20.0), RED, by_number(5, 3), sheet=SHEET)
    (pen,) = plotted(work, outlines="none", fills="hatched", pitch=2.0, pen=0.0, angle=0.0).pens
    assert len(pen.lines) == 30 or max(np.ptp(line[:, 0]) for line in pen.lines) == pytest.approx(100)


@pytest.mark.parametrize("count", [2, 3, 50, 2000])
def test_the_order_keeps_all_lines_and_carries_the_pen_less(count):
    rng = np.random.default_rng(count)
    begins = rng.random((count, 2)) * 300
    lines = [np.array([begin, begin + rng.random(2) * 6]) for begin in begins]
    found = ordered(lines)
    key = lambda line: tuple(sorted(map(tuple, np.round(line, 9).tolist())))  # noqa: E731
    assert sorted(map(key, found)) == sorted(map(key, lines))
    assert travel(found) <= travel(lines)
    if count == 2000:
        assert travel(found) < 0.4 * travel(lines)


def test_the_order_is_better_than_the_nearest_first_alone():
    from under_lattice.core.progress import QUIET
    from under_lattice.output.plot import route

    rng = np.random.default_rng(3)
    begins = rng.random((3000, 2)) * 300
    lines = [np.array([begin, begin + rng.random(2) * 6]) for begin in begins]
    ends = np.array([(line[0], line[-1]) for line in lines])
    order, turned = route._nearest(ends, np.zeros(2), QUIET)
    nearest = [lines[k][::-1] if back else lines[k] for k, back in zip(order, turned, strict=True)]
    assert travel(ordered(lines)) < 0.9 * travel(nearest)


def test_closed_lines_begin_where_the_pen_comes_from():
    square = np.array([(0, 0), (10, 0), (10, 10), (0, 10), (0, 0)], float)
    found = ordered([square + 100, square + np.array([200, 0])], begin=np.array([115.0, 115.0]))
    assert found[0][0].tolist() == [110.0, 110.0]
    assert (found[0][0] == found[0][-1]).all()


def read_hpgl(data):
    """Pens and lines of an HPGL file in mm, y up."""
    pens, pen = {}, 0
    for order in data.decode("ascii").replace("\n", "").split(";"):
        if order.startswith("SP"):
            pen = int(order[2:])
        elif order.startswith(("PU", "PD")) and len(order) > 2:
            places = np.array([int(v) for v in order[2:].split(",")]).reshape(-1, 2) / 40
            if order.startswith("PU"):
                pens.setdefault(pen, []).append([places[0]])
            else:
                pens[pen][-1] += list(places)
    return {pen: [np.array(line) for line in lines] for pen, lines in pens.items()}


@pytest.mark.parametrize("rotated", [False, True])
def test_hpgl_holds_the_lines_in_steps_from_the_corner(rotated):
    work = work_of(Rectangle(width=60.0, height=40.0, place_x=20.0, place_y=-10.0), RED, sheet=SHEET)
    chosen, job = job_of(work, Hpgl(rotated=rotated, margin=5.0))
    ((line,),) = read_hpgl(chosen.write(job)).values()
    low, high = line.min(0), line.max(0)
    left, bottom = 100 + 20 - 30 + 5, 80 + 10 - 20 + 5  # from the lower left corner, y up
    want = (160 - (bottom - 5) - 40 + 5, left) if rotated else (left, bottom)
    assert low == pytest.approx(want)
    assert high - low == pytest.approx((40, 60) if rotated else (60, 40))


@pytest.mark.parametrize("name", ["ticket-engraving", "locker-doors"])
def test_hpgl_and_svg_of_a_demo_work_hold_the_same_lines(name):
    work = demo(name)
    chosen, job = job_of(work, Hpgl())
    plot, pens = chosen.plot(job.scene, job.sheet), read_hpgl(chosen.write(job))
    assert len(pens) == len(plot.pens)
    length = sum(np.hypot(*np.diff(line, axis=0).T).sum() for lines in pens.values() for line in lines)
    assert length == pytest.approx(plot.drawn, rel=2e-3)
    text = PenSvg().write(job).decode()
    assert len(re.findall("<path", text)) == sum(len(pen.lines) for pen in plot.pens)
    assert [f'stroke="{pen.colour}"' in text for pen in plot.pens] == [True] * len(plot.pens)
    assert plot.carried < 0.7 * plot.document


@pytest.mark.parametrize(("sheet", "unit"), [((180, 120), "mm"), ((120, 180), "mm"), ((18, 12), "cm")])
@pytest.mark.parametrize("kind", ["hpgl", "pen"])
def test_on_a_paper_size_the_page_lies_in_the_middle(sheet, unit, kind):
    work = work_of(Rectangle(width=sheet[0], height=sheet[1]), sheet=Sheet(width=sheet[0], height=sheet[1], unit=unit))
    chosen, job = job_of(work, {"hpgl": Hpgl, "pen": PenSvg}[kind](paper="A4"))
    paper = np.array([297, 210] if sheet[0] > sheet[1] else [210, 297])
    mm = 10 if unit == "cm" else 1
    if kind == "hpgl":
        ((line,),) = read_hpgl(chosen.write(job)).values()
    else:
        text = chosen.write(job).decode()
        wide, high = (float(one) for one in re.search(r'viewBox="0 0 ([\d.]+) ([\d.]+)"', text).groups())
        assert (wide * mm, high * mm) == pytest.approx(tuple(paper))
        line = mm * np.array([float(one) for one in re.findall(r"-?[\d.]+", re.search(r'd="M([^"]+)"', text)[1])]).reshape(-1, 2)
    assert line.min(0) + line.max(0) == pytest.approx(paper, abs=0.03)
    assert np.ptp(line, 0) == pytest.approx(np.array(sheet) * mm, abs=0.03)


def test_a_page_larger_than_its_paper_is_refused_with_one_that_is_large_enough():
    work = work_of(Rectangle(width=30.0), sheet=Sheet(width=324, height=322))
    chosen, job = job_of(work, Hpgl(paper="A4"))
    with pytest.raises(InputError, match="324 × 322 mm is larger than A4; A2 is large enough"):
        chosen.write(job)
    chosen, job = job_of(work, Hpgl(paper="A4", part="a region", region_x=-50.0, region_y=-50.0))
    assert chosen.write(job).startswith(b"IN;")


def test_nothing_to_draw_says_so():
    with pytest.raises(InputError, match="nothing to draw"):
        PenSvg(outlines="none").write(job_of(work_of(Ellipse(width=30.0), RED, sheet=SHEET), PenSvg())[1])
