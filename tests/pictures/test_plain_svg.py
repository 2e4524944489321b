"""Plain paths and sealed seams: the same picture in other readers, nothing shared or clipped, no hair between them."""

import io
import re
import subprocess

import numpy as np
import pytest
import resvg_py
from PIL import Image
from PySide6.QtCore import QByteArray
from PySide6.QtGui import QImage, QPainter
from PySide6.QtSvg import QSvgRenderer

from tests.chains import work_of
from tests.pictures.compare import RSVG
from under_lattice.command_line.main import main
from under_lattice.core.errors import InputError
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.files.storage import write
from under_lattice.library import DEMOS, demo
from under_lattice.output.svg import Svg, write_svg
from under_lattice.rules.ends.layer_end import LayerEnd
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.motifs.ring import Ring
from under_lattice.rules.motifs.wave_line import WaveLine
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.progression import Progression
from under_lattice.rules.shapes.split import Split
from under_lattice.scene.tree import make_scene
from under_lattice.work.model import Work

HEXAGONS = (Polygon(sides=6, size=21.3), Lattice(form="hexagons on points", turn=11.0))
ONE = Ink(colours="one colour", palette=("#26374F",))
BEYOND = {
    "discs": (Ellipse(width=60.0), Lattice(form="squares", gap=6.0), ONE),
    "rings": (Ring(width=70.0), Lattice(form="squares", gap=-9.0), ONE),
    "hexagons with lines": (*HEXAGONS, Ink(colours="row", stroke="one colour", stroke_width=2.0)),
    "waves": (WaveLine(width=420.0, height=20.0, waves=7), Progression(count=9, distance=44.0, direction=75.0)),
    "open lines with a fill": (
        WaveLine(width=420.0, height=90.0, waves=2),
        Ink(colours="one colour", stroke="one colour", stroke_width=3.0),
    ),
    "lines": (WaveLine(width=420.0, height=20.0, waves=7), Ink(colours="none", stroke="one colour", stroke_width=3.0)),
}


def written(work, **options):
    scene = make_scene(work.design, Evaluator().design(work.design), Evaluator())
    return write_svg(scene, work.design.sheet, Svg(recipe=False, **options)).decode()


def read_by(reader, svg, wide=700):
    if reader == "rsvg":
        done = subprocess.run([RSVG, "-w", str(wide)], input=svg.encode(), capture_output=True, check=True)
        picture = Image.open(io.BytesIO(done.stdout))
    elif reader == "resvg":
        picture = Image.open(io.BytesIO(bytes(resvg_py.svg_to_bytes(svg, width=wide, dpi=96.0))))
    else:
        renderer = QSvgRenderer(QByteArray(svg.encode()))
        size = renderer.defaultSize()
        image = QImage(wide, round(wide * size.height() / size.width()), QImage.Format.Format_RGBA8888)
        image.fill(0)
        painter = QPainter(image)
        renderer.render(painter)
        painter.end()
        data = np.frombuffer(image.constBits(), np.uint8).reshape(image.height(), -1)[:, : 4 * wide]
        return np.asarray(Image.fromarray(data.reshape(image.height(), wide, 4).copy(), "RGBA").convert("RGB")).astype(int)
    return np.asarray(picture.convert("RGB")).astype(int)


@pytest.mark.parametrize("rules", BEYOND.values(), ids=BEYOND)
def test_plain_paths_end_at_the_page_and_look_the_same(rules):
    work = work_of(*rules)
    plain = written(work, plain=True)
    assert "<use" not in plain
    assert "clip" not in plain
    numbers = [float(one) for d in re.findall(r' d="([^"]+)"', plain) for one in re.findall(r"-?[\d.]+", d)]
    assert max(map(abs, numbers)) <= 162.0 * 1.35  # handles of curves may lie a little beyond
    theirs, ours = read_by("resvg", written(work)), read_by("resvg", plain)
    assert np.abs(theirs - ours).mean() < 0.25
    assert (np.abs(theirs - ours).max(-1) > 90).mean() < 2e-3


@pytest.mark.parametrize("name", [name for name in DEMOS if name != "ticket-engraving"][::2])
def test_demo_works_go_out_plain_or_say_why_not(name):
    work = demo(name)
    try:
        plain = written(work, plain=True)
    except InputError as refused:
        assert "plain paths cannot say" in str(refused)
        return
    assert "<use" not in plain
    theirs, ours = read_by("resvg", written(work)), read_by("resvg", plain)
    assert np.abs(theirs - ours).mean() < 0.6


@pytest.mark.parametrize("reader", ["resvg", "qt", *(["rsvg"] if RSVG else [])])
@pytest.mark.parametrize("colours", ["one colour", "row"])
def test_sealed_seams_show_no_ground_between_shapes_of_one_colour(reader, colours):
    rules = (*HEXAGONS, Split(into="triangles"), Ink(colours=colours, palette=("#101820", "#202830")))
    bare, sealed = (written(work_of(*rules), seals=seals) for seals in (False, True))
    assert sealed.count("<path") == (1 if colours == "one colour" else 2)
    inner = slice(60, -60)
    worst = {name: read_by(reader, svg)[inner, inner].max() for name, svg in (("bare", bare), ("sealed", sealed))}
    assert worst["bare"] > 0x40  # the ground is seen through
    if colours == "one colour":
        assert worst["sealed"] <= 0x22


def test_what_lies_over_another_colour_or_has_lines_is_not_sealed():
    for rules in (
        (Ellipse(width=30.0), Lattice(form="squares", gap=-5.0), Ink(colours="column")),
        (*HEXAGONS, Ink(colours="row", stroke="one colour")),
        (*HEXAGONS, Ink(colours="row", fill_opacity=50.0)),
    ):
        assert written(work_of(*rules), seals=True) == written(work_of(*rules))


def test_a_clip_is_refused_with_what_to_do():
    work = work_of(*HEXAGONS, ONE)
    layer = work.design.layers[0]
    end = LayerEnd(id="e", handle="layer", clip=layer.id)
    other = layer.model_copy(update={"id": "two", "handle": "two", "name": "Behind", "end": end})
    design = work.design.model_copy(update={"layers": (layer, other)})
    with pytest.raises(InputError, match="“Behind” has a clip, which plain paths cannot say"):
        written(work.model_copy(update={"design": design}), plain=True)


@pytest.mark.parametrize("where", ["layer", "ink", "off", "nowhere"])
def test_a_blend_that_few_readers_know_is_told(where, tmp_path, capsys):
    ink = Ink(colours="one colour", blend="plus-lighter" if where in ("ink", "off") else "normal", on=where != "off")
    work = work_of(*HEXAGONS, ink)
    if where == "layer":
        end = LayerEnd(id="e", handle="layer", blend="plus-lighter")
        layer = work.design.layers[0].model_copy(update={"end": end})
        work = Work(design=work.design.model_copy(update={"layers": (layer,)}))
    told = where in ("layer", "ink")
    assert bool(Svg().notes(work.design)) == told
    path = tmp_path / "work.lattice"
    write(work, path)
    assert main(["render", str(path), "-o", str(tmp_path / "out.svg")]) == 0
    assert ("known to browsers" in capsys.readouterr().err) == told
