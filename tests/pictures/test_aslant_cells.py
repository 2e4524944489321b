"""Works whose smallest repeat is a parallelogram: as a pattern, that fills the sheet as it lies."""

import io
import shutil
import subprocess

import numpy as np
import pytest
import resvg_py

from tests.pictures.compare import RSVG, premultiplied
from under_lattice.declare.frozen import edited
from under_lattice.files.recipe import open_any
from under_lattice.library.layers import chain
from under_lattice.output.page import job_of, sheet_of
from under_lattice.output.pdf import Pdf
from under_lattice.output.png import Png
from under_lattice.output.svg import Svg
from under_lattice.periods.cell import find_cell
from under_lattice.rules import Blur, Ellipse, Ink, Lattice, Rosette, Star
from under_lattice.work.model import Design, Sheet, Work

STAR = Star(points=5, size=11.0)
LINED = Ink(colours="one colour", palette=("#B5452C",), stroke="one colour", stroke_width=0.9)
TURNED = Lattice(form="squares", spacing="free", pitch=14.0, row_pitch=11.0, turn=17.0)
OBLIQUE = Lattice(form="two vectors", spacing="free", pitch=13.0, row_pitch=12.0, angle=4.0, row_angle=75.0)
DOTS = chain("Dots", Ellipse(width=3.0), Ink(colours="one colour", palette=("#2C6AB5",)), TURNED)
LAYERS = {
    "turned": (chain("Stars", STAR, LINED, TURNED),),
    "oblique": (chain("Stars", STAR, LINED, OBLIQUE),),
    "two layers, one soft": (DOTS, chain("Stars", STAR, LINED, TURNED, Blur(size=0.5))),
    "rosettes, see-through": (chain("Rosettes", STAR, edited(LINED, opacity=60.0), Rosette(count=5, radius=2.0), OBLIQUE),),
}


def work_of(layers, **sheet):
    own = Sheet(**{"width": 120, "height": 80, "background": "#F2E8D5"} | sheet)
    return Work(design=Design(name="Trial", sheet=own, layers=layers))


def by_rsvg(data):
    return subprocess.run([RSVG, "-w", "600"], input=data, capture_output=True, check=True).stdout


def by_poppler(data):
    order = ["pdftocairo", "-png", "-singlefile", "-scale-to-x", "600", "-scale-to-y", "400", "-", "-"]
    return subprocess.run(order, input=data, capture_output=True, check=True).stdout


READERS = {
    "resvg": (Svg, lambda data: bytes(resvg_py.svg_to_bytes(data.decode(), width=600, dpi=96.0))),
    "rsvg": (Svg, by_rsvg if RSVG else None),
    "poppler": (Pdf, by_poppler if shutil.which("pdftocairo") else None),
}


@pytest.mark.parametrize("reader", READERS)
@pytest.mark.parametrize("layers", LAYERS.values(), ids=LAYERS)
def test_a_pattern_of_parallelograms_is_the_sheet_elsewhere(layers, reader):
    form, read = READERS[reader]
    if read is None:
        pytest.skip("that reader is not here")
    work, pictures, sizes = work_of(layers), [], []
    for options in (form(part="the cell", pattern=True), form()):
        chosen, job = job_of(work, options)
        data = chosen.write(job)
        sizes.append(len(data))
        pictures.append(premultiplied(read(data)))
    assert np.abs(pictures[0] - pictures[1]).mean() < 6.0  # tiles are drawn as small pictures there
    rows = [np.abs(np.diff(one[..., :3].mean(2), axis=0)).mean() for one in pictures]
    assert rows[0] == pytest.approx(rows[1], rel=0.35)  # as sharp, and no grid of seams over it


def test_the_smallest_repeat_and_the_nearest_rectangle_are_both_said():
    cell = find_cell(work_of(LAYERS["oblique"]).design)
    assert cell.aslant
    assert cell.box.miss > 0
    assert "off by" in cell.words()
    assert cell.words().endswith("as a pattern a parallelogram of 13 and 12 mm at 71°")


@pytest.mark.parametrize("form", ["squares", "hexagons on points"])
def test_where_a_small_rectangle_repeats_it_is_the_pattern(form):
    work = work_of((chain("Stars", STAR, LINED, Lattice(form=form, spacing="free", pitch=14.0, row_pitch=14.0)),))
    assert not find_cell(work.design).aslant
    chosen, job = job_of(work, Svg(part="the cell", pattern=True))
    assert job.tile is None
    assert b"patternTransform" not in chosen.write(job)


def test_pictures_have_the_nearest_rectangle_and_a_pattern_the_size_of_the_sheet():
    design = work_of(LAYERS["oblique"]).design
    cell = find_cell(design)
    assert sheet_of(design, Png(part="the cell")).width == pytest.approx(cell.box.width)
    assert sheet_of(design, Svg(part="the cell", pattern=True)).width == 120


@pytest.mark.parametrize("form", [Svg, Pdf])
def test_it_opens_again_as_the_live_work(form, tmp_path):
    work = work_of(LAYERS["turned"], unit="px", width=480, height=300)
    chosen, job = job_of(work, form(part="the cell", pattern=True))
    file = tmp_path / f"a.{form.ending}"
    file.write_bytes(chosen.write(job))
    assert open_any(file).work.design == work.design
    assert io.BytesIO(file.read_bytes()).getbuffer().nbytes < 40_000  # one repeat, not a sheet of them
