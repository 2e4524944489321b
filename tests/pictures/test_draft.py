"""Raised bodies whose sides lean: frustums, holes and roofs by their closed forms; demo works stay closed."""

import io

import numpy as np
import pytest
import trimesh

from tests.chains import work_of
from under_lattice.library import demo
from under_lattice.output.page import job_of
from under_lattice.output.solid import Stl, ThreeMf
from under_lattice.rules import Ellipse, Ink, Lattice, Rectangle, Ring
from under_lattice.work.model import Sheet, Work

RED = Ink(colours="one colour", palette=("#B5452C",))
SHEET = Sheet(width=200, height=160)
HIGH = 4.0


def read(work, **options):
    options = {"stands": "without a plate", "height": HIGH} | options
    chosen, job = job_of(work, Stl(**options))
    return trimesh.load(io.BytesIO(chosen.write(job)), file_type="stl", force="mesh")


def frustum(foot, top, high=HIGH):
    return high / 3 * (foot + top + (foot * top) ** 0.5)


def round_frustum(radius, by):
    return frustum(np.pi * radius**2, np.pi * (radius + by) ** 2)


@pytest.mark.parametrize("degrees", [3.0, 10.0, 30.0])
def test_sides_lean_inwards_by_the_angle(degrees):
    inwards = HIGH * np.tan(np.radians(degrees))
    spread = Lattice(form="squares", spacing="free", pitch=40.0, row_pitch=40.0, extent="by number", columns=2, rows=2)
    boxes = read(work_of(Rectangle(width=20.0, height=30.0), RED, spread, sheet=SHEET), draft=degrees)
    foot, top = 600.0, (20 - 2 * inwards) * (30 - 2 * inwards)
    middle = (20 - inwards) * (30 - inwards)
    assert boxes.is_watertight
    assert boxes.volume == pytest.approx(4 * HIGH / 6 * (foot + 4 * middle + top), rel=1e-4)
    disc = read(work_of(Ellipse(width=30.0), RED, sheet=SHEET), draft=degrees)
    assert disc.volume == pytest.approx(round_frustum(15.0, -inwards), rel=1e-3)
    ring = read(work_of(Ring(width=40.0, inner=50.0), RED, sheet=SHEET), draft=degrees)
    assert ring.is_watertight
    assert ring.volume == pytest.approx(round_frustum(20.0, -inwards) - round_frustum(10.0, inwards), rel=2e-3)


def test_a_narrow_part_ends_in_a_ridge_below_the_height():
    body = read(work_of(Rectangle(width=30.0, height=1.0), RED, sheet=SHEET), draft=20.0)
    ridge = 0.5 / np.tan(np.radians(20.0))
    assert body.bounds[1][2] == pytest.approx(ridge, abs=HIGH / 24)
    assert body.volume == pytest.approx(ridge * (3 * 30 - 1) / 6, rel=0.02)


@pytest.mark.parametrize("stands", ["on a plate", "without a plate"])
@pytest.mark.parametrize("name", ["wash-room-tiles", "air-grille", "changing-room-screen"])
def test_demo_works_stay_closed_and_become_smaller(name, stands):
    work = demo(name)
    upright, leaning = (read(Work(design=work.design), stands=stands, draft=degrees) for degrees in (0.0, 12.0))
    assert leaning.is_watertight
    assert 0 < leaning.volume < upright.volume


def test_a_plate_that_is_cut_through_has_no_draft():
    assert {when.field for when in ThreeMf.dials()["draft"].when} == {"stands"}
    body = read(work_of(Rectangle(width=20.0, height=20.0), RED, sheet=SHEET), stands="through a plate", plate=2.0, draft=30.0)
    assert body.volume == pytest.approx((200 * 160 - 400) * 2, rel=1e-4)


def test_heights_that_differ_lean_alike():
    two = Ink(colours="parity", palette=("#000000", "#FFFFFF"))
    apart = Lattice(form="squares", spacing="free", pitch=40.0, row_pitch=40.0, extent="by number", columns=2, rows=1)
    body = read(work_of(Rectangle(width=20.0, height=20.0), two, apart, sheet=SHEET), by="how light it is", lowest=2.0, draft=10.0)
    wanted = sum(frustum(400.0, (20 - 2 * high * np.tan(np.radians(10.0))) ** 2, high) for high in (2.0, HIGH))
    assert body.volume == pytest.approx(wanted, rel=1e-3)
