"""PDF by a reader that is not ours: pictures, boxes and real sizes, inks, layers, live work inside, bytes that stay the same."""

import io
import shutil
import subprocess

import numpy as np
import pikepdf
import pytest
from PIL import Image

from tests.chains import work_of
from tests.pictures.compare import ours
from under_lattice.core.errors import FileError, InputError
from under_lattice.declare.frozen import edited
from under_lattice.files.recipe import open_any
from under_lattice.library import DEMOS, demo
from under_lattice.output.page import job_of
from under_lattice.output.pdf import Pdf, pdf
from under_lattice.rules import Blur, Ellipse, Ink, Lattice, LayerEnd, Rectangle
from under_lattice.scene.tree import Scene
from under_lattice.work.layers import Group
from under_lattice.work.model import Sheet, Work

POPPLER = shutil.which("pdftocairo")
SHEET = Sheet(width=120, height=90, background="#F4EFE4")
FINER = 3  # px that one is the mean of, so that edges are as soft in both
drawn_elsewhere = pytest.mark.skipif(POPPLER is None, reason="the reader is not installed")
DISC = Ellipse(width=40.0)


def written(work, **options):
    chosen, job = job_of(work, Pdf(**options))
    return chosen.write(job), job


def elsewhere(data, width):
    order = [POPPLER, "-png", "-singlefile", "-scale-to-x", str(width), "-scale-to-y", "-1", "-", "-"]
    drawn = subprocess.run(order, input=data, capture_output=True, check=True).stdout
    return np.asarray(Image.open(io.BytesIO(drawn)).convert("RGB"), float)


def apart(work, width=360, **options):
    data, job = written(work, recipe=False, **options)
    theirs, own = elsewhere(data, width * FINER), ours(job.scene, width * FINER)[..., :3]
    high, wide = (min(a, b) // FINER for a, b in zip(theirs.shape[:2], own.shape[:2], strict=True))
    means = [p[: high * FINER, : wide * FINER].reshape(high, FINER, wide, FINER, 3).mean((1, 3)) for p in (theirs, own)]
    away = np.abs(means[0] - means[1])
    return float(away.mean()), float((away.max(-1) > 24).mean())


def layers(*kinds, **end):
    """Two layers: discs in one colour over a bar in another."""
    work = work_of(DISC, Ink(colours="one colour", palette=("#B5452C",)), *kinds, sheet=SHEET)
    over = edited(work.design.layers[0], end=LayerEnd(id="e", **end))
    band = Rectangle(width=100.0, height=30.0)
    bar = work_of(band, Ink(colours="one colour", palette=("#2C6AB5",)), sheet=SHEET).design.layers[0]
    rules = tuple(edited(rule, id=f"bar-{rule.id}") for rule in bar.rules)
    bar = edited(bar, id="bar", handle="bar", rules=rules, end=LayerEnd(id="bar-e"))
    return Work(design=edited(work.design, layers=(over, bar)))


@drawn_elsewhere
@pytest.mark.parametrize("name", list(DEMOS)[::5])
def test_every_demo_work(name, monkeypatch):
    scene = job_of(demo(name), Pdf())[1].scene
    monkeypatch.setattr(pdf, "PICTURE_PX", 360 * FINER * max(1.0, scene.height / scene.width))
    mean, far = apart(demo(name), width=240)
    assert mean < 2.6  # hairlines and dots finer than a pixel are as soft as each reader draws them
    assert far < 0.02


@drawn_elsewhere
@pytest.mark.parametrize(
    "end",
    [
        {"blend": blend} for blend in
        ("multiply", "screen", "overlay", "darken", "lighten", "color-dodge", "color-burn", "hard-light", "soft-light",
         "difference", "exclusion", "hue", "saturation", "color", "luminosity")
    ]
    + [
        {"opacity": 40.0}, {"masked": "straight ramp"}, {"masked": "round ramp", "mask_way": "inverted"},
        {"masked": "painted", "mask_strokes": "hides 30 60 100: -20,0 20,0"},
        {"masked": "painted", "mask_strokes": "hides 30 0 100: -20,0 20,0", "feather": 8.0},
        {"masked": "another layer", "mask": "bar", "mask_by": "opacity"}, {"clip": "bar"},
    ],
)  # fmt: skip
def test_opacity_blends_masks_and_clips_are_as_painted(end):
    mean, far = apart(layers(**end))
    assert mean < 0.8
    assert far < 0.004


@drawn_elsewhere
@pytest.mark.parametrize(
    "ink",
    [
        Ink(inside="straight ramp", palette=("#102040", "#E08030", "#FFFFFF"), ramp_angle=30.0),
        Ink(inside="straight ramp", palette=("#102040", "#E08030"), mixing="Oklab"),
        Ink(inside="straight ramp", ramp="0 #102040; 50 #E08030 10% (30); 100 #FFFFFF 80%"),
        Ink(inside="round ramp", palette=("#FFFFFF", "#803020"), ramp_focus=60.0),
        Ink(inside="turning ramp", palette=("#102040", "#E08030", "#102040")),
        Ink(colours="one colour", fill_opacity=50.0, stroke="one colour", stroke_width=6.0, stroke_opacity=50.0),
        Ink(colours="one colour", stroke="one colour", stroke_width=6.0, blend="multiply"),
        Ink(colours="none", stroke="a ramp", stroke_width=5.0),
        Ink(colours="none", stroke="one colour", stroke_width=3.0, line="dashes", dash=6.0, dash_gap=3.0, cap="round"),
        Ink(colours="in turn", palette=("#112233", "#CC8844"), stroke="one colour", stroke_width=0.0),
    ],
)  # fmt: skip
def test_inks_are_as_painted(ink):
    spread = Lattice(form="squares", spacing="free", pitch=34.0, row_pitch=30.0)
    mean, far = apart(work_of(Ellipse(width=30.0, roundness=70.0), ink, spread, sheet=SHEET))
    assert mean < 1.0
    assert far < 0.006


@drawn_elsewhere
def test_groups_in_groups_and_finishes_are_as_painted():
    work = layers(opacity=70.0, blend="multiply")
    inner = Group(id="i", handle="inner", name="Inner", layers=work.design.layers[:1])
    outer = Group(id="o", handle="outer", name="Outer", layers=(inner, work.design.layers[1]), end=LayerEnd(id="oe", opacity=60.0))
    assert apart(Work(design=edited(work.design, layers=(outer,))))[0] < 0.8
    assert apart(layers(Blur(size=4.0)))[0] < 1.0


def test_the_page_has_its_real_size_and_boxes():
    data, _ = written(layers(), bleed=3.0, marks=True)
    file = pikepdf.open(io.BytesIO(data))
    page = file.pages[0]

    def mm(box):
        return [round(float(v) / 72 * 25.4, 3) for v in box]

    assert mm(page.mediabox) == [0, 0, 120 + 2 * 11, 90 + 2 * 11]
    assert mm(page.trimbox) == [11, 11, 131, 101]
    assert mm(page.obj.BleedBox) == [8, 8, 134, 104]
    other = pikepdf.open(io.BytesIO(written(layers())[0]))
    plain = other.pages[0]
    assert mm(plain.mediabox) == mm(plain.trimbox) == [0, 0, 120, 90]


@drawn_elsewhere
def test_a_pattern_goes_on_into_the_bleed():
    ink = Ink(colours="one colour", palette=("#2C6AB5",))
    work = work_of(Rectangle(width=10.0, height=10.0), ink, Lattice(form="squares"), sheet=SHEET)
    data, _ = written(work, bleed=6.0)
    seen = elsewhere(data, 132 * 4)
    assert np.abs(seen[:400] - (44, 106, 181)).max() < 40  # blue to the very edge
    assert np.abs(elsewhere(written(work)[0], 480)[:355] - (44, 106, 181)).max() < 40


def test_spot_colours_are_inks_of_their_own_and_look_as_mixed():
    work = layers()
    data, _ = written(work, spots=True)
    found = {str(one[1]) for page in pikepdf.open(io.BytesIO(data)).pages for form in page.Resources.XObject.values()
             for one in form.Resources.get("/ColorSpace", {}).values()}  # fmt: skip
    assert found == {"/Ink B5452C", "/Ink 2C6AB5", "/Ink F4EFE4"}
    if POPPLER:
        assert apart(work, spots=True)[0] < 0.3


@drawn_elsewhere
@pytest.mark.parametrize("trap", [0.0, 0.5])
def test_plates_of_inks_laid_on_each_other_are_the_work(trap):
    work = demo("locker-doors")
    data, job = written(work, pages="one for each ink", trap=trap)
    file = pikepdf.open(io.BytesIO(data))
    assert not file.get_warnings()
    inks = [bytes(page.Contents.read_bytes()).decode().split("(ink ")[1][:7] for page in file.pages]
    assert len(inks) == len(set(inks)) == len(file.pages)
    width = 240 * FINER
    seen = np.full((1, 1, 3), 255.0)
    for k, ink in enumerate(inks, 1):
        order = [POPPLER, "-png", "-singlefile", "-f", str(k), "-scale-to-x", str(width), "-scale-to-y", "-1", "-", "-"]
        drawn = Image.open(io.BytesIO(subprocess.run(order, input=data, capture_output=True, check=True).stdout))
        cover = 1 - np.asarray(drawn.convert("L"), float)[..., None] / 255
        rgb = np.array([int(ink[i : i + 2], 16) for i in (1, 3, 5)])
        seen = seen * (1 - cover) + rgb * cover  # pale inks first, each over the ones before
    room = 12.0 / (job.sheet.width + 24.0)
    cut = seen[round(room * width) : -round(room * width), round(room * width) : -round(room * width)]
    own = ours(job.scene, cut.shape[1])[: cut.shape[0], :, :3]
    away = np.abs(cut[: len(own)] - own)
    assert away.mean() < (3.0 if not trap else 14.0)  # edges, and what inks go on under each other


def test_gradients_make_no_plates_but_too_many_inks_say_so():
    ink = Ink(colours="step", run="as a ramp", palette=("#102040", "#E08030"))
    spread = Lattice(form="squares", extent="by number", columns=8, rows=8)
    with pytest.raises(InputError, match="inks; at most"):
        written(work_of(Rectangle(width=9.0, height=9.0), spread, ink, sheet=SHEET), pages="one for each ink")


def test_layers_are_listed_and_may_have_pages_of_their_own():
    data, _ = written(layers(), pages="one for each layer")
    file = pikepdf.open(io.BytesIO(data))
    assert len(file.pages) == 2
    assert len(file.Root.OCProperties.OCGs) == 2
    assert not file.get_warnings()


@drawn_elsewhere
def test_kept_versions_have_pages_of_their_own():
    work = demo("wash-room-tiles")
    data, job = written(work, pages="one for each kept version")
    assert len(pikepdf.open(io.BytesIO(data)).pages) == 1 + len(work.kept)
    order = [POPPLER, "-png", "-singlefile", "-f", "2", "-scale-to-x", "300", "-scale-to-y", "-1", "-", "-"]
    drawn = Image.open(io.BytesIO(subprocess.run(order, input=data, capture_output=True, check=True).stdout)).convert("RGB")
    own = ours(job_of(Work(design=work.kept[0].design), Pdf())[1].scene, 300)[..., :3]
    seen = np.asarray(drawn, float)[: len(own)]
    assert np.abs(seen - own[: len(seen)]).mean() < 4.0
    assert np.abs(seen - ours(job.scene, 300)[: len(seen), :, :3]).mean() > 15.0


def test_the_same_work_gives_the_same_bytes_which_open_again_as_the_live_work(tmp_path):
    work = demo("festival-poster")
    data, again = written(work)[0], written(work)[0]
    assert data == again
    (tmp_path / "a.pdf").write_bytes(data)
    opened = open_any(tmp_path / "a.pdf")
    assert opened.work == work
    assert not opened.altered
    rewritten = io.BytesIO()
    pikepdf.open(io.BytesIO(data)).save(rewritten)  # by a tool that keeps what is attached
    (tmp_path / "b.pdf").write_bytes(rewritten.getvalue())
    assert open_any(tmp_path / "b.pdf").work == work
    assert not open_any(tmp_path / "b.pdf").altered


@pytest.mark.parametrize("data", [b"", b"%PDF-1.7\nnonsense", b"\x00" * 500])
def test_what_is_no_pdf_says_so(data, tmp_path):
    (tmp_path / "a.pdf").write_bytes(data)
    with pytest.raises(FileError, match=r"a\.pdf"):
        open_any(tmp_path / "a.pdf")


def test_a_pdf_without_a_work_and_a_changed_one_say_so(tmp_path):
    (tmp_path / "a.pdf").write_bytes(written(demo("locker-tiles"), recipe=False)[0])
    with pytest.raises(FileError, match="no live work"):
        open_any(tmp_path / "a.pdf")
    file = pikepdf.open(io.BytesIO(written(demo("locker-tiles"))[0]))
    form = next(iter(file.pages[0].Resources.XObject.values()))
    form.write(form.read_bytes().replace(b" rg ", b" rg  ", 1) + b"\n")
    file.save(tmp_path / "b.pdf")
    assert open_any(tmp_path / "b.pdf").altered


def test_nothing_at_all_and_a_million_px_of_ground_are_pages(tmp_path):
    from under_lattice.output.format import Job

    empty = Pdf().write(Job(Scene(120.0, 90.0, "", ()), SHEET))
    assert len(pikepdf.open(io.BytesIO(empty)).pages) == 1


@pytest.mark.parametrize(("name", "bleed"), [("wash-room-tiles", 0.0), ("locker-tiles", 0.0), ("plunge-pool", 3.0)])
def test_a_tiling_pattern_of_the_cell_is_the_sheet(name, bleed):
    work = demo(name)
    tiled, whole = (written(work, bleed=bleed, **how)[0] for how in ({"part": "the cell", "pattern": True}, {}))
    file = pikepdf.open(io.BytesIO(tiled))
    pattern = next(iter(file.pages[0].Resources.Pattern.values()))
    assert (pattern.PatternType, pattern.PaintType) == (1, 1)
    assert len(pikepdf.unparse_content_stream(pikepdf.parse_content_stream(file.pages[0]))) < 200  # all else stands in the cell
    sheet = pikepdf.open(io.BytesIO(whole))
    assert file.pages[0].MediaBox == sheet.pages[0].MediaBox
    one, other = (elsewhere(data, 600).astype(int) for data in (tiled, whole))
    assert np.abs(one - other).mean() < 0.5
    assert not file.get_warnings()
