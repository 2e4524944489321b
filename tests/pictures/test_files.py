"""SVG and PNG: the same picture elsewhere, and live work again."""

import io
import re
from xml.etree import ElementTree

import numpy as np
import pytest
from PIL import Image

from tests.chains import work_of
from tests.pictures.compare import RSVG, apart, by_rsvg, demo_scene, ours, scene_of
from under_lattice.core.errors import FileError
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.files.recipe import digest, from_png, from_svg, open_any, without_recipe
from under_lattice.files.storage import write
from under_lattice.library import demo
from under_lattice.output.png import Png, write_png
from under_lattice.output.svg import Svg, write_svg
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.ends.layer_end import LayerEnd
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.petal import Petal
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.motifs.ring import Ring
from under_lattice.rules.motifs.weave import Weave
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.mirror import Mirror
from under_lattice.rules.repeats.progression import Progression
from under_lattice.rules.repeats.rosette import Rosette
from under_lattice.rules.repeats.symmetry import Symmetry
from under_lattice.rules.shapes.split import Split
from under_lattice.scene.tree import make_scene
from under_lattice.work.layers import Group
from under_lattice.work.model import Sheet

SPACE = {"s": "http://www.w3.org/2000/svg"}


def svg_of(name, **options):
    work = demo(name)
    return write_svg(demo_scene(name), work.design.sheet, Svg(**options), work)


def test_svg_is_valid_named_and_has_its_real_size():
    root = ElementTree.fromstring(svg_of("dyed-towels"))
    assert (root.get("width"), root.get("height"), root.get("viewBox")) == ("280mm", "330mm", "0 0 280 330")
    titles = [title.text for title in root.iterfind(".//s:g/s:title", SPACE)]
    assert titles == ["Sails", "Pearls"]  # the back layer first
    ids = [one.get("id") for one in root.iter() if one.get("id")]
    assert len(ids) == len(set(ids))


def test_shared_shapes_stand_once_and_curves_stay_curves():
    text = svg_of("entrance-floor", recipe=False).decode()
    assert text.count("<use ") > 100
    assert len(re.findall(r'<path id="', text)) < 70
    assert "C" in re.search(r' d="([^"]+)"', text)[1]
    assert not re.search(r"\d\.\d{10,}|e-\d", text)


@pytest.mark.parametrize(
    ("unit", "width", "said"), [("px", 96, "96px"), ("in", 2, "2in"), ("cm", 5.5, "5.5cm"), ("pt", 72, "72pt")]
)
def test_svg_speaks_the_unit_of_the_sheet(unit, width, said):
    work = work_of(Polygon(size=1.0), sheet=Sheet(width=width, height=width, unit=unit))
    assert f'width="{said}"'.encode() in write_svg(scene_of(work.design), work.design.sheet, Svg(), work)


def test_a_px_sheet_with_a_resolution_states_inches():
    work = work_of(Polygon(), sheet=Sheet(width=600, height=300, unit="px", resolution=300))
    assert b'width="2in"' in write_svg(scene_of(work.design), work.design.sheet, Svg())


def test_names_are_escaped_and_groups_nest():
    work = work_of(Polygon(), Ink())
    layer = edited(work.design.layers[0], name='A <b> & "c"')
    group = Group(id="g", handle="g", name="Both", layers=(layer,), end=LayerEnd(opacity=40, blend="multiply"))
    data = write_svg(scene_of(edited(work.design, layers=(group,))), work.design.sheet, Svg())
    root = ElementTree.fromstring(data)
    assert [t.text for t in root.iterfind(".//s:title", SPACE)] == ["Both", 'A <b> & "c"']
    assert b"mix-blend-mode:multiply" in data
    assert b'opacity="0.4"' in data


def test_the_same_work_gives_the_same_bytes():
    assert svg_of("rope-mat") == svg_of("rope-mat")


def test_the_recipe_in_an_svg_opens_again_and_changes_are_noticed():
    data = svg_of("lobby-panel")
    assert from_svg(data).work == demo("lobby-panel")
    assert not from_svg(data).altered
    for encoding in (b"UTF-x", b"shift_jis", b"hex"):
        with pytest.raises(FileError, match="save it as UTF-8"):
            from_svg(b'<?xml version="1.0" encoding="' + encoding + b'"?>' + data[data.index(b"<svg") :])
    assert from_svg(data.replace(b"</svg>", b'<rect width="9" height="9"/></svg>')).altered
    for was, now in ((b'fill="#', b'fill="#0'), (b" d=", b" D="), (b"<title>", b"<title>a")):
        changed = data.replace(was, now, 1)
        assert from_svg(changed).altered


def reformatted(data):
    """The same SVG with its attributes the other way round, indented, with a comment, as another program may write it."""
    root = ElementTree.fromstring(data)
    for one in root.iter():
        items = list(one.attrib.items())[::-1]
        one.attrib.clear()
        one.attrib.update(items)
    ElementTree.indent(root, "    ")
    return ElementTree.tostring(root, encoding="utf-8", xml_declaration=True).replace(b"<defs", b"<!-- by hand -->\n<defs", 1)


@pytest.mark.parametrize("name", ["lobby-panel", "rope-mat", "porthole"])
def test_white_space_and_the_order_of_attributes_are_no_change(name):
    data = svg_of(name)
    other = reformatted(data)
    assert other != data
    assert not from_svg(other).altered
    assert from_svg(other).work == demo(name)
    assert from_svg(re.sub(rb"(\sfill=.)#", rb"\1#0", other, count=1)).altered


def test_an_export_of_before_is_no_changed_one():
    data = svg_of("lobby-panel")
    old = re.sub(rb'drawing="[0-9a-f]+"', b'drawing="' + digest(without_recipe(data)).encode() + b'"', data)
    assert old != data
    assert not from_svg(old).altered


@pytest.mark.parametrize(
    ("data", "told"),
    [
        (b"<svg", "not a whole SVG"), (b"<svg xmlns='http://www.w3.org/2000/svg'/>", "no live work"),
        (b'<!DOCTYPE svg [<!ENTITY a "b">]><svg>&a;</svg>', "entities"), (b"", "not a whole SVG"),
    ],
)  # fmt: skip
def test_other_svgs_are_refused(data, told):
    with pytest.raises(FileError, match=told):
        from_svg(data)


def png_of(name, options):
    work = demo(name)
    return write_png(demo_scene(name), work.design.sheet, options, work)


def test_png_has_its_size_density_and_recipe():
    data = png_of("plunge-pool", Png(dpi=50.8))
    picture = Image.open(io.BytesIO(data))
    assert picture.size == (600, 680)
    assert picture.info["dpi"] == pytest.approx((50.8, 50.8), abs=0.05)
    assert from_png(data).work == demo("plunge-pool")
    assert not from_png(data).altered
    assert Image.open(io.BytesIO(png_of("plunge-pool", Png(width=123)))).width == 123


def test_a_transparent_png_has_no_ground():
    data = png_of("air-grille", Png(width=200, transparent=True))
    alpha = np.asarray(Image.open(io.BytesIO(data)))[..., 3]
    assert alpha.min() == 0
    assert alpha.max() == 255


def test_a_repainted_png_is_noticed():
    data = png_of("plunge-pool", Png(width=100))
    picture = Image.open(io.BytesIO(data))
    from PIL import PngImagePlugin

    chunks = PngImagePlugin.PngInfo()
    for key, value in picture.info.items():
        if key.startswith("under-lattice"):
            chunks.add_text(key, value)
    out = io.BytesIO()
    picture.transpose(Image.Transpose.FLIP_LEFT_RIGHT).save(out, "PNG", pnginfo=chunks)
    assert from_png(out.getvalue()).altered


@pytest.mark.parametrize("data", [b"", b"\x89PNG\r\n\x1a\n", b"GIF89a" + b"0" * 40])
def test_broken_pictures_are_refused(data):
    with pytest.raises(FileError, match="not a whole PNG"):
        from_png(data)


def test_files_open_by_their_ending(tmp_path):
    write(demo(), tmp_path / "a.lattice")
    (tmp_path / "b.svg").write_bytes(svg_of("entrance-floor"))
    (tmp_path / "c.png").write_bytes(png_of("entrance-floor", Png(width=60)))
    assert all(open_any(tmp_path / name).work == demo() for name in ("a.lattice", "b.svg", "c.png"))
    with pytest.raises(FileError, match="cannot be read"):
        open_any(tmp_path / "none.svg")


INKS = {
    "straight": Ink(colours="one colour", palette=("#C02020", "#F0E0B0", "#2040A0"), inside="straight ramp", ramp_angle=35.0),
    "round": Ink(colours="one colour", palette=("#FFFFFF", "#2040A0"), inside="round ramp"),
    "over all": Ink(colours="one colour", palette=("#C02020", "#2040A0"), inside="straight ramp", ramp_of="all copies"),
    "oklab": Ink(colours="one colour", palette=("#FFFF00", "#0000FF"), inside="straight ramp", mixing="Oklab"),
    "run": Ink(colours="distance", palette=("#C02020", "#F0E0B0", "#2040A0"), run="as a ramp"),
    "dashes": Ink(colours="none", stroke="one colour", stroke_width=2.0, line="dashes", dash=3.0, dash_gap=4.0, cap="round"),
    "free dashes": Ink(
        colours="none", stroke="one colour", stroke_width=2.0, line="dashes", dash=5.0, dash_gap=2.0, dash_fit="as they are"
    ),
}
REPEATED = {
    "alike": (Rosette(count=7, radius=36.0),),
    "of many sizes": (Progression(count=5, distance=26.0, direction=-20.0, turn=15.0, across=80.0, along=80.0), Adjust(x=-45.0)),
    "stretched": (Rosette(count=5, radius=38.0), Adjust(skew=25.0)),
}


@pytest.mark.skipif(RSVG is None, reason="rsvg-convert is not installed")
@pytest.mark.parametrize("ink", list(INKS))
@pytest.mark.parametrize("repeated", list(REPEATED))
def test_inks_look_the_same_elsewhere(ink, repeated):
    sheet = Sheet(width=160, height=120, background="#FFFFFF")
    scene = scene_of(work_of(Ellipse(width=30.0, roundness=70.0), *REPEATED[repeated], INKS[ink], sheet=sheet).design)
    mean, far = apart(ours(scene, 480), by_rsvg(scene, sheet, 480))
    assert mean < 1.0
    assert far < 0.01


def test_marks_that_multiply_say_so_in_the_file():
    sheet = Sheet(width=60, height=60)
    work = work_of(Polygon(), Ink(blend="multiply", stroke="one colour", cap="round"), sheet=sheet)
    text = write_svg(scene_of(work.design), sheet, Svg(), work).decode()
    assert "mix-blend-mode:multiply" in text
    assert 'stroke-linecap="round"' in text


@pytest.mark.parametrize(("wide", "high"), [(210.0, 297.0), (297.0, 210.0), (100.0, 33.3), (50.0, 81.21)])
def test_a_sheet_with_a_ground_is_as_high_as_it_is_and_nowhere_half_clear(wide, high):
    work = work_of(Ellipse(width=30.0), Ink(), sheet=Sheet(width=wide, height=high, background="#8A2B1D"))
    dpi = 72 if wide < 200 else 300
    picture = Image.open(io.BytesIO(write_png(scene_of(work.design), work.design.sheet, Png(dpi=dpi), work)))
    assert picture.size == (round(wide / 25.4 * dpi), round(high / 25.4 * dpi))
    assert picture.mode == "RGB"
    corners = [picture.getpixel((x, y)) for x in (0, picture.width - 1) for y in (0, picture.height - 1)]
    assert np.abs(np.array(corners) - (0x8A, 0x2B, 0x1D)).max() <= 1
    clear = Image.open(io.BytesIO(write_png(scene_of(work.design), work.design.sheet, Png(dpi=72.0, transparent=True), work)))
    assert clear.mode == "RGBA"
    assert clear.getpixel((0, 0))[3] == 0


def ids_in(svg):
    return set(re.findall(r' id="([^"]+)"', svg.decode()))


def test_two_exports_may_stand_on_one_page():
    one, other = (
        write_svg(demo_scene(name), demo(name).design.sheet, Svg(recipe=False)) for name in ("plunge-pool", "entrance-floor")
    )
    assert ids_in(one)
    assert not ids_in(one) & ids_in(other)
    for svg in (one, other):
        assert set(re.findall(r"(?:url\(|href=\")#([\w-]+)", svg.decode())) <= ids_in(svg)
    assert write_svg(demo_scene("plunge-pool"), demo("plunge-pool").design.sheet, Svg(recipe=False)) == one


def test_a_name_with_control_characters_makes_a_whole_file():
    work = work_of(Ellipse(width=30.0), Ink())
    design = edited(work.design, layers=(edited(work.design.layers[0], name="a\x1b[0m\x00\ufffeb"),))
    svg = write_svg(scene_of(design), design.sheet, Svg(), edited(work, design=design))
    assert "<title>a[0mb</title>" in svg.decode()
    ElementTree.fromstring(svg)
    assert from_svg(svg).work.design.layers[0].name == design.layers[0].name  # the recipe keeps what was typed


def turning(path, matrix):
    """The signed area of path data under a matrix (2, 2), curves by many points; positive with the clock on a page."""
    total, verb, line, numbers = 0.0, "", [], []
    t = np.linspace(0, 1, 25)[1:, None]
    for token in [*re.findall(r"[MLCZ]|-?[0-9.]+", path), "M"]:
        if token in "MLCZ":
            if token == "M" and line:
                x, y = (np.array(line) @ matrix.T).T
                total += float((x * np.roll(y, -1) - y * np.roll(x, -1)).sum()) / 2
                line = []
            verb = token
            continue
        numbers.append(float(token))
        if verb in "ML" and len(numbers) == 2:
            line.append(numbers)
            numbers = []
        elif verb == "C" and len(numbers) == 6:
            a, (b, c, d) = np.array(line[-1]), np.array(numbers).reshape(3, 2)
            line += ((1 - t) ** 3 * a + 3 * (1 - t) ** 2 * t * b + 3 * (1 - t) * t * t * c + t**3 * d).tolist()
            numbers = []
    return total


def drawn_of(*rules):
    work = work_of(*rules)
    evaluator = Evaluator()
    return write_svg(make_scene(work.design, evaluator.design(work.design), evaluator), work.design.sheet, Svg())


@pytest.mark.parametrize(
    "rules",
    [
        (Petal(length=30.0, width=40.0, turn=20.0), Rosette(count=4, radius=40.0), Mirror()),
        (Polygon(sides=5, size=20.0), Symmetry(group="p4m")),
        (Weave(),),
        (Ring(width=30.0, place_x=20.0), Mirror()),
        (Polygon(sides=5, size=20.0, place_x=20.0), Split(), Mirror(), Rosette(count=3, radius=20.0)),
    ],
    ids=["mirror", "symmetry", "weave", "ring", "split"],
)
def test_all_closed_outlines_go_out_with_one_winding(rules):
    svg = ElementTree.fromstring(drawn_of(*rules, Ink(colours="one colour")))
    paths = {one.get("id"): one.get("d") for one in svg.iter(f"{{{SPACE['s']}}}path")}
    ways = []
    for one in svg.iter():
        if one.tag == f"{{{SPACE['s']}}}use":
            text = one.get("transform") or ""
            a, b, c, d = [float(v) for v in re.findall(r"[-0-9.e]+", text)][:4] if "matrix" in text else (1.0, 0.0, 0.0, 1.0)
            shown = one.get("{http://www.w3.org/1999/xlink}href")[1:]
            ways.append(turning(paths[shown], np.array([[a, c], [b, d]])))
        elif one.tag == f"{{{SPACE['s']}}}path" and not one.get("id"):
            ways.append(turning(one.get("d"), np.eye(2)))
    assert len(ways) >= 2
    assert min(ways) > 0
