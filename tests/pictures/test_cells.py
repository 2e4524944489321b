"""Cells: found for each lattice and group, with layers that fit each other or miss; tiled they are the sheet; files of them."""

import io
import subprocess
from dataclasses import replace
from typing import Any

import numpy as np
import pytest
import resvg_py
from PIL import Image

from tests.chains import work_of
from tests.pictures.compare import FOREIGN, RSVG, premultiplied
from under_lattice.core.errors import InputError
from under_lattice.declare.frozen import edited
from under_lattice.files.recipe import open_any
from under_lattice.library import demo
from under_lattice.library.layers import chain
from under_lattice.output import BY_ENDING
from under_lattice.output.page import job_of
from under_lattice.output.png import Png
from under_lattice.output.svg import Svg
from under_lattice.periods.cell import cell_scene, find_cell
from under_lattice.periods.seams import BESIDE, painted_tile, pixels_of, sheet_as_cell
from under_lattice.render.paint import paint
from under_lattice.rules import (
    Adjust,
    Blur,
    Ellipse,
    Ink,
    Lattice,
    LeaveOut,
    Loosen,
    Polygon,
    Rectangle,
    Relief,
    Ripple,
    Rosette,
    SeedHead,
    Split,
    Symmetry,
)
from under_lattice.scene.tree import View
from under_lattice.vary.numbers import Varied
from under_lattice.work.layers import Group
from under_lattice.work.model import Design, Sheet, Work

SHEET = Sheet(width=240, height=200, background="#F2E8D5")
RED, TWO = ("#B5452C",), ("#B5452C", "#2C6AB5")
LEAF = Ellipse(width=18.0, roundness=45.0, turn=20.0)


def plain(*rules):
    return work_of(*rules, sheet=SHEET).design


def layered(*layers, **sheet):
    return Design(name="Trial", sheet=edited(SHEET, **sheet), layers=layers)


def ink(*colours, **more):
    return Ink(colours="in turn" if len(colours) > 1 else "one colour", palette=colours, **more)


def by_pitch(form, pitch=24.0, **more):
    return Lattice(form=form, spacing="free", pitch=pitch, row_pitch=pitch, **more)


def is_the_sheet(design, most=240, within=1):
    """A cell beside itself is what the sheet shows there, pixel for pixel, and no seam is found."""
    cell = find_cell(design)
    size = pixels_of(cell, most)
    tile = painted_tile(cell, size)
    assert (tile.across, tile.down) <= (within, within) or cell.along_one
    pair = cell_scene(cell, float(size.width), float(size.height))
    wide, high = 2 * size.width, 2 * size.height
    down = 1 if cell.along_one else 2
    page = replace(pair, width=float(wide), height=float(high))
    seen = paint(page, View(wide, size.height * down, 1.0, wide / 2, size.height * down / 2))
    tiled = np.roll(np.tile(tile.pixels, (down, 2, 1)), (size.height // 2 * (down - 1), size.width // 2), (0, 1))
    if size.width % 2 == 0 and size.height % 2 == 0:
        assert np.abs(seen.astype(int) - tiled).max() <= within
    return cell


@pytest.mark.parametrize(
    ("form", "width", "height"),
    [
        ("squares", 24, 24), ("hexagons on points", 24, 24 * np.sqrt(3)), ("hexagons on flats", 24 * np.sqrt(3), 24),
        ("triangles", 24, 24 * np.sqrt(3)), ("staggered rows", 24, 48), ("dropped columns", 48, 24),
    ],
)  # fmt: skip
def test_each_form_of_lattice_has_its_cell(form, width, height):
    cell = is_the_sheet(plain(LEAF, ink(*RED), by_pitch(form)))
    assert (cell.box.width, cell.box.height) == (pytest.approx(width), pytest.approx(height))
    assert cell.box.miss == 0


GROUPS = "p1 p2 pm pg cm pmm pmg pgg cmm p4 p4m p4g p3 p3m1 p31m p6 p6m"


@pytest.mark.parametrize("group", GROUPS.split())
def test_each_symmetry_group_has_an_upright_cell(group):
    leaf = Ellipse(width=9.0, roundness=40.0, turn=25.0, place_x=3.0, place_y=5.0)
    is_the_sheet(plain(leaf, ink(*RED), Symmetry(group=group)))


@pytest.mark.parametrize(
    ("rules", "width", "height"),
    [
        ((LEAF, ink("#111111", "#888888", "#EEEEEE"), by_pitch("squares")), None, None),  # colours in turn
        ((LEAF, by_pitch("squares"), Ink(colours="parity", palette=TWO)), 48, 48),
        ((LEAF, ink(*RED, inside="straight ramp"), by_pitch("squares")), 24, 24),
        ((LEAF, ink(*RED), Rosette(count=5, radius=9.0), by_pitch("hexagons on points", 50.0)), 50, 50 * np.sqrt(3)),
        ((Polygon(sides=6, size=20.0), ink(*RED), Lattice(form="hexagons on points")), None, None),
        ((LEAF, ink(*RED), by_pitch("squares"), Blur(size=1.5)), 24, 24),
        ((LEAF, ink(*RED), Relief(size=3.0), by_pitch("squares")), 24, 24),  # each copy by itself
        ((Polygon(sides=6, size=20.0), Split(), Ink(palette=TWO), Lattice(form="hexagons on points")), None, None),
        ((LEAF, ink(*RED), by_pitch("squares", turn=45.0)), 24 * np.sqrt(2), 24 * np.sqrt(2)),
    ],
)  # fmt: skip
def test_colours_paints_and_finishes_are_part_of_what_repeats(rules, width, height):
    cell = is_the_sheet(plain(*rules))
    for ending in (".svg", ".pdf"):
        chosen, job = job_of(Work(design=plain(*rules)), BY_ENDING[ending](part="the cell"))
        assert len(chosen.write(job)) > 500
    if width:
        assert (cell.box.width, cell.box.height) == (pytest.approx(width), pytest.approx(height))


def test_layers_that_fit_each_other_have_a_cell_in_common():
    small = chain("Dots", Ellipse(width=4.0), ink("#2C6AB5"), by_pitch("squares", 12.0))
    large = chain("Leaves", LEAF, ink(*RED), by_pitch("squares", 18.0))
    cell = is_the_sheet(layered(small, large))
    assert (cell.box.width, cell.box.height) == (pytest.approx(36), pytest.approx(36))
    grouped = layered(Group(id="g", handle="both", name="Both", layers=(small, edited(large, end=edited(large.end, opacity=60.0)))))
    assert find_cell(grouped).box.width == pytest.approx(36)


def test_layers_that_miss_each_other_say_by_how_much_and_what_would_fit():
    one = chain("Leaves", LEAF, ink(*RED), by_pitch("squares", 24.0))
    other = chain("Dots", Ellipse(width=4.0), ink("#2C6AB5"), by_pitch("squares", 12.0 * np.sqrt(1.01)))
    said = r"“Leaves” and “Dots” have no repeat in common: after 24 mm they miss each other by 0\.12 mm; "
    said += r"“Dots” fits where its 24\.12 mm are 24 mm"
    with pytest.raises(InputError, match=said):
        find_cell(layered(one, other))
    fits = edited(other, rules=(*other.rules[:-1], by_pitch("squares", 12.0)))
    assert find_cell(layered(one, fits)).box.width == pytest.approx(24)


def test_bands_that_run_through_go_along_with_what_repeats():
    band = chain("Band", Rectangle(width=600.0, height=9.0), ink("#2C6AB5"))
    leaves = chain("Leaves", LEAF, ink(*RED), by_pitch("squares", 30.0))
    cell = is_the_sheet(layered(band, leaves))
    assert cell.along_one
    assert (cell.box.width, cell.box.height) == (pytest.approx(30), 200)
    whole = chain("Ground", Rectangle(width=600.0, height=600.0), ink("#2C6AB5"))
    assert not find_cell(layered(leaves, whole)).along_one


def test_a_cell_larger_than_half_the_sheet_is_found_all_the_same():
    cell = find_cell(plain(LEAF, ink(*RED), Rosette(count=9, radius=40.0), by_pitch("squares", 190.0)))
    assert cell.box.width == pytest.approx(190)


@pytest.mark.parametrize(
    "rules",
    [
        (LEAF, ink(*RED)),
        (LEAF, ink(*RED), SeedHead(count=80, spacing=6.0)),
        (LEAF, ink(*RED), by_pitch("squares"), Loosen(gap=30.0, until="so many passes", passes=3)),
        (LEAF, ink(*RED), by_pitch("squares"), LeaveOut(which="by chance", share=30.0)),
        (LEAF, ink(*RED), by_pitch("squares"), Adjust(turn=Varied(rule="floor-lattice", channel="column", start=0.0, end=90.0))),
        (LEAF, by_pitch("squares"), Ink(inside="straight ramp", ramp_of="the sheet")),
        (LEAF, ink(*RED), by_pitch("squares"), Ripple()),
        (LEAF, ink(*RED), by_pitch("squares", extent="by number", columns=3, rows=3)),
    ],
)  # fmt: skip
def test_what_does_not_repeat_says_so(rules):
    with pytest.raises(InputError, match="“Floor” does not repeat"):
        find_cell(plain(*rules))


def test_nothing_at_all_has_no_cell():
    with pytest.raises(InputError, match="nothing is drawn"):
        find_cell(Design(sheet=SHEET))


def test_a_lattice_turned_by_any_angle_has_the_cell_nearest_to_upright():
    cell = find_cell(plain(Ellipse(width=6.0), ink(*RED), by_pitch("squares", 9.0, turn=17.0)))
    tile = painted_tile(cell, pixels_of(cell, 900))
    assert max(tile.across, tile.down) <= 12  # leaning by as much as is said
    shown = ((232 - tile.pixels[..., 1].astype(float)) / (232 - 69)).mean()
    assert shown == pytest.approx(np.pi * 9 / 81, rel=0.01)  # it is drawn all over, past the sheet too
    assert 0 < cell.box.miss < 0.3
    assert "off by" in cell.words()


def test_the_sheet_as_a_cell_has_seams_where_its_sides_do_not_fit():
    for pitch, fits in ((20.0, True), (23.0, False)):
        design = edited(plain(LEAF, ink(*RED), by_pitch("squares", pitch)), sheet=edited(SHEET, width=200))
        cell = find_cell(design)
        tile = painted_tile(sheet_as_cell(cell.scene, design.sheet), pixels_of(sheet_as_cell(cell.scene, design.sheet), 200))
        assert (max(tile.across, tile.down) <= 1) == fits
    assert BESIDE < 10


@pytest.mark.parametrize("ending", [".png", ".tif", ".webp"])
def test_files_of_a_cell_tile_without_a_seam(ending):
    kind: Any = BY_ENDING[ending]
    options = kind(part="the cell", width=120) if ending != ".webp" else kind(part="the cell", width=120, lossless=True)
    hexagons = plain(LEAF, ink(*RED), by_pitch("hexagons on points"))
    chosen, job = job_of(Work(design=hexagons), options)
    picture = Image.open(io.BytesIO(chosen.write(job)))
    assert picture.size == (97, 168)
    sheet, at = job_of(Work(design=hexagons), kind(part="the sheet", width=round(97 * 240 / 24)))
    large = np.asarray(Image.open(io.BytesIO(sheet.write(at))).convert("RGB"), int)
    row, column = large.shape[0] // 2 - 84, large.shape[1] // 2 - 48
    seen, tiled = large[row : row + 168, column : column + 194], np.tile(np.asarray(picture.convert("RGB"), int), (1, 2, 1))
    assert np.abs(seen - tiled[:, :194]).mean() < 2.5  # the sheet stands half a px beside it


@pytest.mark.parametrize("renderer", list(FOREIGN))
@pytest.mark.parametrize("name", ["wash-room-tiles", "locker-tiles"])
def test_an_svg_filled_with_the_cell_as_a_pattern_is_the_sheet_elsewhere(name, renderer):
    work = demo(name)
    made = []
    for options in (Svg(part="the cell", pattern=True, recipe=False), Svg(recipe=False)):
        chosen, job = job_of(work, options)
        data = chosen.write(job)
        assert (b"<pattern" in data) == options.pattern
        if renderer == "resvg":
            made.append(premultiplied(bytes(resvg_py.svg_to_bytes(data.decode(), width=800, dpi=96.0))))
        else:
            drawn = subprocess.run([RSVG, "-w", "800"], input=data, capture_output=True, check=True)
            made.append(premultiplied(drawn.stdout))
    high = min(len(one) for one in made) - 1
    assert np.abs(made[0][:high] - made[1][:high]).mean() < 6.0  # tiles are drawn as small pictures there


def pixels(design, **options):
    chosen, job = job_of(Work(design=design), Png(**options))
    return np.asarray(Image.open(io.BytesIO(chosen.write(job))).convert("RGB"), int)


def test_a_region_is_that_part_of_the_sheet():
    design = plain(LEAF, ink(*TWO), by_pitch("squares"), Blur(size=2.0))
    part = pixels(design, part="a region", region_x=-60, region_y=-40, region_width=90, region_height=50, width=360)
    whole = pixels(design, width=960)
    assert part.shape == (200, 360, 3)
    assert np.abs(part - whole[(100 - 40) * 4 : (100 + 10) * 4, (120 - 60) * 4 : (120 + 30) * 4]).max() <= 1


def test_a_cell_opens_again_as_the_live_work(tmp_path):
    for ending in ("png", "svg"):
        chosen, job = job_of(demo("locker-tiles"), BY_ENDING[f".{ending}"](part="the cell"))
        (tmp_path / f"cell.{ending}").write_bytes(chosen.write(job))
        opened = open_any(tmp_path / f"cell.{ending}")
        assert opened.work.design == demo("locker-tiles").design
        assert not opened.altered
