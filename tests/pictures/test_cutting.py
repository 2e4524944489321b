"""Files for cutters: areas, kerf, shared lines, winding, order, bridges, faults; SVG by a renderer and DXF by a reader not ours."""

import re
import tempfile
from pathlib import Path

import ezdxf
import numpy as np
import pytest
import shapely
from ezdxf import bbox
from ezdxf.path import make_path

from tests.chains import work_of
from under_lattice.core.errors import InputError
from under_lattice.declare.frozen import edited
from under_lattice.geometry.outline import flatten
from under_lattice.geometry.path_text import part_of_text
from under_lattice.library import demo
from under_lattice.output.cut import Cutter, Dxf
from under_lattice.output.cut.arcs import with_bulges
from under_lattice.output.page import job_of
from under_lattice.output.plot.once import apart, joined, once, segments_of
from under_lattice.rules import DrawnCurve, Ellipse, Ink, Lattice, LayerEnd, Polygon, Rectangle
from under_lattice.work.model import Sheet, Work

SHEET = Sheet(width=200, height=160)
RED = Ink(colours="one colour", palette=("#B5452C",))


def cuts(work, **options):
    chosen, job = job_of(work, Cutter(**options))
    return chosen.cuts(job.scene, job.sheet)


def area(paths):
    """What paths enclose, holes taken off by their winding."""
    return sum(signed(path.line) for path in paths if path.closed)


def signed(line):
    x, y = line.T
    return float((x[:-1] * y[1:] - x[1:] * y[:-1]).sum() / 2)


def by_number(columns, rows, form="squares", **more):
    return Lattice(form=form, extent="by number", columns=columns, rows=rows, **more)


def squares(side=20.0, **lattice):
    return work_of(Rectangle(width=side, height=side), RED, by_number(4, 3, **lattice), sheet=SHEET)


@pytest.mark.parametrize("kerf", [0.0, 0.2, 1.5])
def test_kerf_is_laid_outside_or_inside_by_half_of_it(kerf):
    work = work_of(Rectangle(width=40.0, height=30.0), RED, sheet=SHEET)
    assert area(cuts(work, kerf=kerf).paths) == pytest.approx((40 + kerf) * (30 + kerf), rel=1e-6)
    inward = area(cuts(work, kerf=kerf, keeps="what is outside").paths)
    assert inward == pytest.approx((40 - kerf) * (30 - kerf), rel=1e-6)
    disc = work_of(Ellipse(width=40.0), RED, sheet=SHEET)
    assert area(cuts(disc, kerf=kerf).paths) == pytest.approx(np.pi * (20 + kerf / 2) ** 2, rel=5e-4 if not kerf else 2e-4)


def test_a_ring_has_its_hole_wound_the_other_way_and_cut_first():
    disc, hole = Ellipse(width=60.0), Ink(colours="none", stroke="one colour", stroke_width=10.0)
    paths = cuts(work_of(disc, hole, sheet=SHEET)).paths
    assert [path.hole for path in paths] == [True, False]
    assert [path.deep for path in paths] == [1, 0]
    assert signed(paths[0].line) < 0 < signed(paths[1].line)
    assert area(paths) == pytest.approx(np.pi * (35**2 - 25**2), rel=1e-4)


def test_what_is_seen_covers_each_point_once_and_the_union_has_no_seams():
    ink = Ink(palette=("#B5452C", "#2C6AB5", "#558844"), colours="in turn")
    work = work_of(Ellipse(width=34.0), ink, by_number(6, 5, spacing="free", pitch=20.0, row_pitch=20.0), sheet=SHEET)
    seen = cuts(work)
    whole = area(cuts(work, shapes="one outline").paths)
    assert area(seen.paths) == pytest.approx(whole, rel=1e-4)
    assert whole < 200 * 160
    each = cuts(work, shapes="each as it lies")
    assert area(each.paths) > 1.8 * whole
    assert "over each other" in each.faults[0].words
    assert each.faults[0].cure == ("shapes", "what is seen")
    assert not any("over each other" in fault.words for fault in seen.faults)


def test_curves_stay_curves_where_shapes_are_not_moved():
    paths = cuts(work_of(Ellipse(width=34.0), RED, sheet=SHEET)).paths
    assert len(paths) == 1
    assert len(paths[0].points) < 40
    pair = by_number(2, 1, spacing="free", pitch=20.0)
    overlapping = cuts(work_of(Ellipse(width=34.0), RED, pair, sheet=SHEET))
    assert all(len(path.points) < 50 for path in overlapping.paths)


def test_touching_shapes_have_shared_lines_which_are_cut_once_on_demand():
    twice = cuts(squares())
    (fault,) = twice.faults
    assert fault.words == "340 mm of line would be cut twice"
    assert fault.cure == ("once", True)
    single = cuts(squares(), once=True)
    assert not single.faults
    total = sum(path.length for path in single.paths)
    assert total == pytest.approx(4 * 20 * 4 + 3 * 20 * 5)
    assert len(single.paths) < 10


def test_hexagons_side_by_side_have_327_edges_of_576():
    work = work_of(Polygon(sides=6, size=10.0), RED, by_number(12, 8, "hexagons on points"), sheet=SHEET)
    lines = [path.line for path in cuts(work, shapes="each as it lies").paths]
    assert len(segments_of(lines)) == 576
    assert sum(len(line) - 1 for line in once(lines)) == 327


def test_pieces_that_lie_partly_on_each_other_are_one_line():
    pieces = np.array([[(0, 0), (10, 0)], [(14, 0), (6, 0)], [(20, 0), (30, 0)], [(5, 0), (5, 9)]], float)
    found = apart(pieces, 1e-6)
    assert np.hypot(*(found[:, 1] - found[:, 0]).T).sum() == pytest.approx(14 + 10 + 9)
    assert len(joined(found, 1e-6)) == 3


@pytest.mark.parametrize("seed", range(6))
def test_lines_drawn_once_cover_what_they_covered(seed):
    rng = np.random.default_rng(seed)
    corners = rng.integers(0, 5, (60, 2)).astype(float)
    lines = [corners[k : k + 4] for k in range(0, 60, 4)]
    before = shapely.union_all([shapely.LineString(line) for line in lines if np.ptp(line, 0).any()])
    after = once(lines)
    assert sum(np.hypot(*np.diff(line, axis=0).T).sum() for line in after) == pytest.approx(before.length)
    assert shapely.hausdorff_distance(before, shapely.union_all([shapely.LineString(line) for line in after])) < 1e-6


def test_bridges_leave_gaps_and_short_paths_whole():
    paths = cuts(work_of(Rectangle(width=40.0, height=30.0), RED, sheet=SHEET), bridges=4, bridge=2.0).paths
    assert len(paths) == 4
    assert sum(path.length for path in paths) == pytest.approx(140 - 8)
    assert not any(path.closed for path in paths)
    tiny = cuts(work_of(Rectangle(width=4.0, height=3.0), RED, sheet=SHEET), bridges=4, bridge=2.0).paths
    assert [path.closed for path in tiny] == [True]


def test_short_and_thin_places_are_told_and_shown():
    close = Lattice(form="squares", extent="by number", columns=2, rows=1, spacing="touching", gap=0.2)
    fault = cuts(work_of(Rectangle(width=20.0, height=20.0), RED, close, sheet=SHEET)).faults[0]
    assert fault.words == "1 place is thinner than 0.5 mm, 0.2 mm at the least"
    assert np.hypot(*(fault.rings[0][1] - fault.rings[0][0])) == pytest.approx(0.2)
    assert "shorter than 2 mm" in cuts(work_of(Ellipse(width=0.5), RED, sheet=SHEET)).faults[0].words


def test_open_outlines_and_lines_without_a_width_are_told():
    corner = DrawnCurve(line="M 0 0 L 30 0 L 30 30", ends="open")
    wide = work_of(corner, Ink(colours="none", stroke="one colour", stroke_width=2.0), sheet=SHEET)
    assert area(cuts(wide).paths) == pytest.approx(60 * 2 + 1, rel=0.01)
    followed = cuts(wide, lines="followed")
    assert followed.faults[0].words == "1 line is open"
    assert followed.paths[0].length == pytest.approx(60)
    hair = Ink(colours="none", stroke="one colour", stroke_width=0.0)
    assert cuts(work_of(corner, hair, sheet=SHEET)).aside == ("lines of Floor that have no width",)


def test_clips_hold_and_masks_are_named():
    work = squares()
    window = work_of(Ellipse(width=50.0), RED, sheet=SHEET).design.layers[0]
    rules = tuple(edited(rule, id=f"w-{rule.id}") for rule in window.rules)
    window = edited(window, id="w", handle="w", source_only=True, rules=rules, end=LayerEnd(id="we"))
    clipped = edited(work.design.layers[0], end=LayerEnd(id="e", clip="w"))
    found = cuts(Work(design=edited(work.design, layers=(clipped, window))), shapes="one outline")
    assert area(found.paths) == pytest.approx(np.pi * 25**2, rel=1e-3)
    masked = edited(work.design.layers[0], end=LayerEnd(id="e", masked="straight ramp"))
    assert cuts(Work(design=edited(work.design, layers=(masked,)))).aside == ("the mask of Floor",)


def test_nothing_to_cut_says_so():
    with pytest.raises(InputError, match="nothing to cut"):
        write(work_of(Ellipse(width=30.0), Ink(colours="none", stroke="one colour", stroke_width=0.0), sheet=SHEET), Cutter())


def write(work, options):
    chosen, job = job_of(work, options)
    return chosen.write(job)


@pytest.mark.parametrize("name", ["air-grille", "locker-tiles"])
def test_the_svg_of_a_demo_work_holds_the_same_areas(name):
    text = write(demo(name), Cutter()).decode()
    total = 0.0
    for data in re.findall(r' d="([^"]+)"', text):
        verbs, points = part_of_text(data, 1)
        total += sum(signed(np.concatenate([ring[0], ring[0][:1]])) for ring in flatten(verbs, points[None], 32))
    assert total == pytest.approx(area(cuts(demo(name)).paths), rel=1e-4)
    assert text.count("<path") == len(cuts(demo(name)).paths)


def modelspace(data):
    with tempfile.TemporaryDirectory() as folder:
        (Path(folder) / "a.dxf").write_bytes(data)
        document = ezdxf.readfile(Path(folder) / "a.dxf")
    return document, document.modelspace()


@pytest.mark.parametrize("curves", ["arcs", "splines"])
@pytest.mark.parametrize("name", ["air-grille", "locker-doors"])
def test_dxf_is_sound_and_holds_the_areas(name, curves):
    document, space = modelspace(write(demo(name), Dxf(curves=curves)))
    assert not document.audit().errors
    assert document.units == ezdxf.units.MM
    total = 0.0
    for one in space:
        points = np.array([(v.x, v.y) for v in make_path(one).flattening(0.002)])
        total += signed(np.concatenate([points, points[:1]]))
    assert -total == pytest.approx(area(cuts(demo(name)).paths), rel=2e-4)


def test_dxf_has_a_layer_for_each_colour_and_discs_of_two_arcs_each():
    ink = Ink(colours="parity", palette=("#B5452C", "#2C6AB5"))
    spread = by_number(4, 2, spacing="free", pitch=24.0, row_pitch=24.0)
    work = work_of(Ellipse(width=20.0), spread, ink, sheet=SHEET)
    document, space = modelspace(write(work, Dxf()))
    assert {"Floor #B5452C", "Floor #2C6AB5"} <= {layer.dxf.name for layer in document.layers}
    assert all(len(one) <= 4 for one in space)
    box = bbox.extents(space)
    assert (box.size.x, box.size.y) == (pytest.approx(92, abs=0.02), pytest.approx(44, abs=0.02))


@pytest.mark.parametrize("unit", ["mm", "cm", "in", "px", "pt"])
def test_dxf_is_in_the_unit_of_the_work_or_mm(unit):
    sheet = Sheet(width=200, height=160, unit=unit)
    document, space = modelspace(write(work_of(Rectangle(width=100.0, height=80.0), RED, sheet=sheet), Dxf()))
    size = {"mm": 1, "cm": 1, "in": 1, "px": 25.4 / 96, "pt": 25.4 / 72}[unit]
    assert bbox.extents(space).size.x == pytest.approx(100 * size)
    assert document.units == {"cm": ezdxf.units.CM, "in": ezdxf.units.IN}.get(unit, ezdxf.units.MM)


def test_the_same_work_gives_the_same_dxf():
    assert write(demo("air-grille"), Dxf()) == write(demo("air-grille"), Dxf())


@pytest.mark.parametrize("angle", [20, 90, 200, 359])
def test_arcs_keep_near_and_are_few(angle):
    t = np.radians(np.linspace(0, angle, 200))
    line = 30 * np.stack([np.cos(t), np.sin(t)], 1)
    found = with_bulges(line, 0.005)
    assert len(found) <= 1 + int(np.ceil(angle / 180)) + 1
    total = sum(4 * np.degrees(np.arctan(abs(bulge))) for _, _, bulge in found)
    assert total == pytest.approx(angle, abs=2.0)  # a last straight piece of a degree or two


def test_straight_lines_have_no_arcs():
    line = np.array([(0, 0), (10, 0), (20, 0), (20, 15), (0, 15), (0, 0)], float)
    assert not with_bulges(line, 0.005)[:, 2].any()
    assert len(with_bulges(line, 0.005)) == 5
