"""Raised bodies: closed skins, volumes, heights by colour and lightness, plates; read back by a reader that is not ours."""

import io

import numpy as np
import pytest
import trimesh
from lib3mf import get_wrapper

from tests.chains import work_of
from under_lattice.core.errors import InputError
from under_lattice.library import demo
from under_lattice.output import BY_ENDING
from under_lattice.output.page import job_of
from under_lattice.output.solid import Stl, ThreeMf
from under_lattice.rules import Ellipse, Ink, Lattice, Polygon, Rectangle
from under_lattice.work.model import Sheet

SHEET = Sheet(width=200, height=160)
RED = Ink(colours="one colour", palette=("#B5452C",))


def read(work, ending=".stl", **options):
    chosen, job = job_of(work, BY_ENDING[ending](**options))
    return trimesh.load(io.BytesIO(chosen.write(job)), file_type=ending[1:], force="mesh")


def by_number(columns, rows, form="squares", **more):
    return Lattice(form=form, extent="by number", columns=columns, rows=rows, **more)


@pytest.mark.parametrize("ending", [".stl", ".obj", ".3mf"])
@pytest.mark.parametrize(
    ("stands", "volume"),
    [
        ("without a plate", 12 * 100 * 4),
        ("on a plate", 12 * 100 * 4 + 200 * 160 * 2),
        ("through a plate", (200 * 160 - 12 * 100) * 2),
    ],
)
def test_volumes_are_areas_times_heights_and_skins_are_closed(ending, stands, volume):
    work = work_of(
        Rectangle(width=10.0, height=10.0), RED, by_number(4, 3, spacing="free", pitch=16.0, row_pitch=16.0), sheet=SHEET
    )
    body = read(work, ending, stands=stands)
    assert body.is_watertight
    assert body.volume == pytest.approx(volume, rel=1e-4)
    assert body.bounds[0].min() >= -1e-6


@pytest.mark.parametrize("form", ["squares", "hexagons on points", "triangles"])
@pytest.mark.parametrize("stands", ["without a plate", "on a plate", "through a plate"])
def test_shapes_that_touch_along_sides_or_in_corners_make_one_sound_body(form, stands):
    sides = {"squares": 4, "hexagons on points": 6, "triangles": 3}[form]
    motif = Polygon(sides=sides, size=12.0) if sides != 4 else Rectangle(width=16.0, height=16.0)
    two = Ink(colours="parity", palette=("#B5452C", "#FFFFFF"))
    work = work_of(motif, by_number(5, 4, form), two, sheet=SHEET)
    body = read(work, stands=stands, by="how light it is", lowest=0.0)
    assert body.is_watertight
    assert body.volume > 0


@pytest.mark.parametrize("name", ["changing-room-screen", "air-grille", "locker-tiles"])
@pytest.mark.parametrize("stands", ["on a plate", "through a plate", "without a plate"])
def test_the_strictest_reader_of_3mf_takes_it_and_measures_the_same(name, stands):
    chosen, job = job_of(demo(name), ThreeMf(stands=stands))
    data = chosen.write(job)
    model = get_wrapper().CreateModel()
    reader = model.QueryReader("3mf")
    reader.SetStrictModeActive(True)
    reader.ReadFromBuffer(data)
    assert reader.GetWarningCount() == 0
    found = model.GetMeshObjects()
    assert found.MoveNext()
    mesh = found.GetCurrentMeshObject()
    assert mesh.IsValid()
    assert mesh.IsManifoldAndOriented()
    corners = np.array([list(one.Coordinates) for one in mesh.GetVertices()])
    triangles = np.array([list(one.Indices) for one in mesh.GetTriangleIndices()])
    volume = np.linalg.det(corners[triangles]).sum() / 6
    assert volume == pytest.approx(read(demo(name), ".stl", stands=stands).volume, rel=1e-4)
    assert not found.MoveNext()


WHITE = Ink(colours="one colour", palette=("#FFFFFF",))
NOTHING_LEFT = {
    "take all of the plate away": (demo("plunge-pool"), {"stands": "through a plate"}),
    "all heights are 0": (
        work_of(Rectangle(), WHITE, sheet=SHEET), {"stands": "without a plate", "by": "how dark it is", "lowest": 0.0},
    ),
}  # fmt: skip


@pytest.mark.parametrize("why", NOTHING_LEFT)
def test_a_body_of_which_nothing_is_left_is_refused(why):
    work, options = NOTHING_LEFT[why]
    chosen, job = job_of(work, Stl(**options))
    with pytest.raises(InputError, match=why):
        chosen.write(job)


def test_heights_follow_places():
    grid = by_number(3, 3, spacing="free", pitch=40.0, row_pitch=40.0)
    work = work_of(Rectangle(width=20.0, height=20.0), grid, RED, sheet=SHEET)
    want = {
        "its place, left to right": [[2, 4, 6]] * 3,
        "its place, top to bottom": [[2] * 3, [4] * 3, [6] * 3],
        "its place, from the middle out": [[6, 4.83, 6], [4.83, 2, 4.83], [6, 4.83, 6]],
    }
    for by, rows in want.items():
        body = read(work, by=by, height=6.0, lowest=2.0, stands="without a plate")
        assert body.is_watertight
        parts = sorted(body.split(), key=lambda one: (-round(one.bounds[0][1]), one.bounds[0][0]))
        tops = np.array([one.bounds[1][2] for one in parts]).reshape(3, 3)
        assert tops == pytest.approx(np.array(rows), abs=0.02)  # there are 256 heights


def test_heights_follow_colours_lightness_and_copies():
    ink = Ink(colours="in turn", palette=("#000000", "#FFFFFF"))
    work = work_of(Rectangle(width=20.0, height=20.0), by_number(2, 1, spacing="free", pitch=40.0), ink, sheet=SHEET)
    heights = {}
    for by in ("one height", "how light it is", "how dark it is", "its colour, in turn", "its copy, first to last"):
        body = read(work, by=by, height=6.0, lowest=2.0, stands="without a plate")
        tops = np.array([one.bounds[1][2] for one in sorted(body.split(), key=lambda one: one.bounds[0][0])])
        heights[by] = np.round(tops, 2).tolist()
    assert heights["one height"] == [6, 6]
    assert heights["how light it is"] == [2, 6]
    assert heights["how dark it is"] == [6, 2]
    assert heights["its copy, first to last"] == [2, 6]
    assert heights["its colour, in turn"][0] < heights["its colour, in turn"][1] == 6


@pytest.mark.parametrize("unit", ["mm", "cm", "in", "px"])
def test_lengths_go_out_in_mm_and_begin_with_sensible_ones(unit):
    sheet = Sheet(width=200, height=160, unit=unit)
    size = {"mm": 1, "cm": 10, "in": 25.4, "px": 25.4 / 96}[unit]
    chosen, job = job_of(work_of(Ellipse(width=100.0), RED, sheet=sheet), Stl.first(sheet))
    body = trimesh.load(io.BytesIO(chosen.write(job)), file_type="stl")
    assert body.extents[:2] == pytest.approx((200 * size, 160 * size), rel=1e-4)
    assert body.extents[2] == pytest.approx(6.0, rel=1e-3)  # a plate of 2 mm and 4 mm on it


@pytest.mark.parametrize("name", ["changing-room-screen", "air-grille", "wash-room-tiles"])
def test_demo_works_are_sound_bodies(name):
    body = read(demo(name), stands="through a plate" if "grille" in name else "on a plate")
    assert body.is_watertight
    assert body.volume > 1000


def test_the_same_work_gives_the_same_bytes_and_nothing_says_so():
    for kind in (Stl, ThreeMf):
        one, other = (kind().write(job_of(demo("locker-tiles"), kind())[1]) for _ in range(2))
        assert one == other
    with pytest.raises(InputError, match="nothing to raise"):
        Stl().write(job_of(work_of(Ellipse(width=30.0), Ink(colours="none"), sheet=SHEET), Stl())[1])
