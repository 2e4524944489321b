"""Pictures of a work: brought in, stored once, read by numbers and inks; the loop; parts and the way they face."""

import base64
import io
import json
import runpy
import zlib
from pathlib import Path

import numpy as np
import pytest
from PIL import Image, ImageCms

from tests.chains import evaluated, last_stage, work_of
from under_lattice.core.errors import FileError, InputError
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.files.storage import from_text, to_text
from under_lattice.library import demo
from under_lattice.library.layers import chain
from under_lattice.library.sample_pictures import SAMPLES, sample_picture
from under_lattice.many.settings import apply_setting
from under_lattice.pattern.known import Brightness
from under_lattice.pattern.marks import MarkAsk, draw
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.picture_motif import PictureMotif
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.shapes.split import Split
from under_lattice.vary.numbers import Second, Varied
from under_lattice.work.edits import with_picture
from under_lattice.work.model import Design, Kept, Sheet, Work
from under_lattice.work.pictures import brightness_of, bring_in, pixels_of
from under_lattice.work.sheets import set_unit, sheet_like_picture

GRID = Lattice(
    form="squares", spacing="free", pitch=10.0, row_pitch=10.0, extent="by number", columns=4, rows=1, grow="middle copy"
)

NO_PICTURE = base64.b64encode(b"no").decode()


def file_of(pixels, kind="PNG", **more):
    out = io.BytesIO()
    Image.fromarray(np.asarray(pixels, np.uint8)).save(out, kind, **more)
    return out.getvalue()


def half_and_half(wide=40, high=40):
    """Dark on the left as far as 5 before the middle of a sheet of 40, light from there on."""
    pixels = np.zeros((high, wide), np.uint8)
    pixels[:, wide * 3 // 8 :] = 255
    return bring_in(file_of(pixels), "halves.png")


def seen(picture, *rules, time=0.0):
    """The last stage of a chain that may use a picture, on a sheet of 40 x 40."""
    design = edited(work_of(*rules).design, sheet=Sheet(width=40, height=40), pictures=(picture,) if picture else ())
    (result,) = Evaluator().design(design, time=time).values()
    return result


def test_brightness_is_read_between_pixels_and_held_past_the_edges():
    seen = Brightness(np.array([[0.0, 1.0], [0.5, 0.5]]))
    at = np.array([(0.25, 0.25), (0.75, 0.25), (0.5, 0.25), (0.5, 0.5), (-3.0, 0.0), (9.0, 0.0)])
    assert seen.at(at) == pytest.approx([0, 1, 0.5, 0.5, 0, 1])


def test_a_picture_covers_the_sheet_with_its_proportions_kept():
    wide = Brightness(np.tile(np.linspace(0, 1, 201), (100, 1)))
    ends = wide.over(np.array([(-50.0, 0.0), (0.0, 30.0), (50.0, 0.0)]), 100, 100)
    assert ends == pytest.approx([0.25, 0.5, 0.75], abs=0.01)  # the sides of a wide picture lie beyond a square sheet


def test_a_number_varies_with_the_brightness_where_each_copy_stands():
    picture = half_and_half()
    size = Varied(rule="floor-lattice", channel="picture", picture=picture.id, start=20.0, end=80.0)
    stage = seen(picture, Polygon(sides=4, size=4.0), GRID, Adjust(scope="each", across=size, along=size)).last.stage
    order = np.argsort(stage.xform[:, 0, 2])
    assert stage.xform[order, 0, 0] == pytest.approx([0.2, 0.2, 0.8, 0.8])
    gone = seen(None, Polygon(sides=4, size=4.0), GRID, Adjust(scope="each", across=size, along=size)).last.stage
    assert gone.xform[:, 0, 0] == pytest.approx(0.2)


def test_colours_by_the_brightness_of_a_picture():
    picture = half_and_half()
    ink = Ink(colours="picture", picture=picture.id, palette=("#000000", "#FFFFFF"), of="floor-lattice")
    result = seen(picture, Polygon(sides=4, size=4.0), GRID, ink)
    (coat,) = Evaluator().picture(result).coats
    assert sorted(coat.fill[:, 0].tolist()) == [0, 0, 255, 255]


@pytest.mark.parametrize("kind", ["PNG", "JPEG", "WEBP", "TIFF"])
def test_the_formats_are_read(kind):
    picture = bring_in(file_of(np.full((9, 7, 3), 128), kind), f"grey.{kind.lower()}")
    assert brightness_of(picture).values.shape == (9, 7)
    assert brightness_of(picture).values.mean() == pytest.approx(128 / 255, abs=0.02)


def saved(image, kind, **more):
    data = io.BytesIO()
    image.save(data, kind, **more)
    return data.getvalue()


@pytest.mark.parametrize("kind", ["PNG", "TIFF"])
def test_sixteen_bits_are_read_as_eight(kind):
    values = np.array([[0, 257 * 100], [257 * 200, 65535]], np.uint16)
    found = pixels_of(bring_in(saved(Image.fromarray(values), kind), f"deep.{kind.lower()}"))
    assert found[..., 0].tolist() == [[0, 100], [200, 255]]
    assert (found[..., 3] == 255).all()


def test_a_colour_profile_is_followed_and_alpha_kept():
    lab = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
    pixels = np.zeros((3, 3, 4), np.uint8)
    pixels[...] = 200, 90, 40, 120
    same = pixels_of(bring_in(saved(Image.fromarray(pixels), "TIFF", icc_profile=lab), "same.tif"))
    assert np.abs(same.astype(int) - pixels).max() <= 1
    swapped = saved(Image.fromarray(pixels), "PNG", icc_profile=b"no profile at all")
    assert (pixels_of(bring_in(swapped, "bad.png")) == pixels).all()


def test_a_profile_in_which_red_is_what_blue_is_elsewhere_makes_red_blue():
    plain = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
    swapped = plain.replace(b"rXYZ", b"----").replace(b"bXYZ", b"rXYZ").replace(b"----", b"bXYZ")
    for kind in ("PNG", "TIFF"):
        data = saved(Image.new("RGB", (4, 4), (255, 0, 0)), kind, icc_profile=swapped)
        found = pixels_of(bring_in(data, f"odd.{kind.lower()}"))[0, 0].astype(int)
        assert np.abs(found - (0, 0, 255, 255)).max() <= 3


@pytest.mark.parametrize("mode", ["CMYK", "L", "P", "LA", "1", "I", "F"])
def test_pictures_of_any_mode_come_in(mode):
    image = Image.new("RGB", (6, 5), (120, 120, 120)).convert(mode)
    kind = "TIFF" if mode != "P" else "PNG"
    found = pixels_of(bring_in(saved(image, kind), "any.tif"))
    assert found.shape == (5, 6, 4)


def test_a_photograph_stands_as_it_was_held():
    image = Image.new("RGB", (6, 4), "white")
    exif = Image.Exif()
    exif[0x0112] = 6  # turned by a quarter
    assert pixels_of(bring_in(saved(image, "JPEG", exif=exif), "held.jpg")).shape == (6, 4, 4)


@pytest.mark.parametrize("share", [0.2, 0.5, 0.9])
def test_a_tiff_that_is_cut_short_is_said_to_be_broken(share):
    whole = saved(Image.effect_noise((90, 90), 80).convert("RGB"), "TIFF")
    with pytest.raises(FileError, match=r"broken|not a picture"):
        bring_in(whole[: int(len(whole) * share)], "cut.tif")


def test_what_is_clear_counts_as_white():
    pixels = np.zeros((2, 2, 4))
    pixels[0, 0] = 0, 0, 0, 255
    assert brightness_of(bring_in(file_of(pixels), "c.png")).values == pytest.approx(np.array([[0, 1], [1, 1]]))


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "not a picture"),
        (b"<svg/>", "not a picture"),
        (file_of(np.zeros((90, 90)))[:60], "broken"),
        (b"GIF89a" + bytes(90), "not a picture"),
    ],
)
def test_what_is_no_picture_says_so(data, says):
    with pytest.raises(FileError, match=says):
        bring_in(data, "sent.png")


def test_a_picture_that_is_too_large_is_refused_before_it_is_decoded():
    small = file_of(np.zeros((1, 1)))
    header = b"IHDR" + (8_000).to_bytes(4, "big") * 2 + small[24:29]
    wide = small[:12] + header + zlib.crc32(header).to_bytes(4, "big") + small[33:]
    with pytest.raises(FileError, match="8000 × 8000 px; at most"):
        bring_in(wide, "vast.png")


def test_a_file_holds_each_picture_once_and_none_that_is_not_used():
    work = demo("foot-bath-fish")
    extra = with_picture(work.design, half_and_half())
    kept = Work(design=extra, kept=(Kept(name="as it was", design=work.design),))
    text = to_text(kept)
    assert len(json.loads(text)["pictures"]) == 1
    again = from_text(text)
    assert again.design.pictures == again.kept[0].design.pictures == work.design.pictures
    assert to_text(again) == text


@pytest.mark.parametrize(
    "stored",
    [
        5,
        [5],
        [{"id": "0" * 16, "name": "x", "data": "?"}],
        [{"id": "0" * 16, "name": "x", "data": base64.b64encode(b"no").decode()}],
    ],
)
def test_a_file_with_a_broken_picture_is_refused_whole(stored):
    data = json.loads(to_text(demo("entrance-floor"))) | {"pictures": stored}
    with pytest.raises(FileError):
        from_text(json.dumps(data))


def test_sample_pictures_have_darks_and_lights():
    for name in SAMPLES:
        values = brightness_of(sample_picture(name)).values
        assert values.min() < 0.45 < 0.8 < values.max()
        assert sample_picture(name) == sample_picture(name)


@pytest.mark.parametrize("name", [name for name in SAMPLES if name != "fish"])
def test_photographs_have_colour_many_tones_and_grain(name):
    pixels = pixels_of(sample_picture(name))[..., :3].astype(float)
    assert len(np.unique(pixels[..., 0])) > 180
    assert np.ptp(pixels, axis=2).mean() > 8  # not grey
    small = np.abs(np.diff(pixels, axis=1)).mean((1, 2))
    assert (small > 1).all()  # no row is flat


def test_photographs_are_those_the_tool_makes():
    made = runpy.run_path(str(Path(__file__).parents[2] / "tools" / "remake_photographs.py"))["photograph"]("harbour view")
    assert np.abs(pixels_of(sample_picture("harbour view"))[..., :3].astype(int) - made).mean() < 4  # as far as JPEG keeps grain


def test_the_loop_runs_a_number_from_start_to_end():
    turn = Varied(rule="", channel="loop", start=0.0, end=80.0)
    angles = []
    for time in (0.0, 0.25, 1.0):
        result = seen(None, Polygon(sides=4, size=4.0), GRID, Adjust(scope="each", turn=turn), time=time)
        assert not result.problems
        stage = result.last.stage
        angles.append(float(np.degrees(np.arctan2(stage.xform[0, 1, 0], stage.xform[0, 0, 0]))))
    assert angles == pytest.approx([0, 20, 80])


def test_ends_follow_the_loop_there_and_back():
    number = Varied(rule="floor-lattice", channel="column", start=10.0, end=50.0, midway=(30.0, 90.0))
    assert number.at_time(0.0) == (10.0, 50.0)
    assert number.at_time(0.5) == pytest.approx((30.0, 90.0))
    assert number.at_time(0.25) == pytest.approx((20.0, 70.0))
    assert number.at_time(1.0) == pytest.approx((10.0, 50.0))
    assert number.largest == 90.0


def test_a_picture_and_a_column_together():
    picture = half_and_half()
    number = Varied(
        rule="floor-lattice", channel="column", start=0.0, end=90.0,
        second=Second(rule="floor-lattice", channel="picture", picture=picture.id),
    )  # fmt: skip
    stage = seen(picture, Polygon(sides=4, size=4.0), GRID, Adjust(scope="each", turn=number)).last.stage
    turned = np.degrees(np.arctan2(stage.xform[:, 1, 0], stage.xform[:, 0, 0]))[np.argsort(stage.xform[:, 0, 2])]
    assert turned == pytest.approx([0, 0, 60, 90])


def test_parts_of_a_shape_have_numbers_of_their_own():
    width = Varied(rule="floor-lattice", channel="part", start=1.0, end=3.0)
    result = evaluated(Polygon(size=10.0), Split(into="rhombs"), GRID, Ink(stroke="one colour", stroke_width=width))
    (coat,) = Evaluator().picture(result).coats
    assert coat.width.tolist() == [1.0, 2.0, 3.0] * 4
    turned = evaluated(Polygon(size=10.0), Split(into="rhombs"), GRID, Adjust(turn=width))
    assert turned.last.stage.xform[0, 1, 0] == pytest.approx(np.sin(np.radians(1.0)))  # whole copies have no part


def test_parts_face_away_from_the_middle_of_their_shape():
    stage = last_stage(Polygon(size=10.0), Split(into="triangles"), Adjust(turn=20.0))
    marks = draw(stage)
    facing = MarkAsk(stage, evaluated(Polygon()).known, marks).read(stage.rule, "facing", None)[:, 0] * 360
    assert np.allclose(np.diff(np.sort(facing)), 60.0)
    first = marks.xform[0] @ np.append(marks.families[0].points[0].mean(0), 1.0)
    assert facing[0] == pytest.approx(np.degrees(np.arctan2(first[1], first[0])) % 360)


def test_another_unit_keeps_the_real_size_midway_too():
    number = Varied(rule="floor-lattice", channel="column", start=10.0, end=20.0, midway=(30.0, 40.0))
    design = set_unit(work_of(Polygon(size=number), GRID).design, "cm")
    assert design.layers[0].rules[0].size.midway == pytest.approx((3.0, 4.0))


def test_orders_name_pictures_and_say_what_there_is(tmp_path):
    (tmp_path / "grey.png").write_bytes(file_of(np.full((4, 4), 90)))
    design = work_of(Polygon(size=10.0), GRID, Ink(colours="picture")).design
    named = apply_setting(design, "floor.ink.picture=fish")
    assert named.pictures[0].name == "fish.png"
    read = apply_setting(named, f"floor.ink.picture={tmp_path / 'grey.png'}")
    assert [one.name for one in read.pictures] == ["fish.png", "grey.png"]
    assert apply_setting(read, "floor.ink.picture=fish.png").chains()[0].rules[-1].picture == named.pictures[0].id
    with pytest.raises(InputError, match="harbour view"):
        apply_setting(design, "floor.ink.picture=cat")


@pytest.mark.parametrize("unit", ["mm", "px"])
def test_the_sheet_takes_the_proportions_of_a_picture(unit):
    """The longer side stays, in px there are as many as the picture has; the picture fills it; a layer without one says so."""
    view = sample_picture("harbour view")
    layer = chain("View", PictureMotif(picture=view.id, width=50.0))
    sheet = Sheet(unit=unit, width=200.0, height=300.0)
    design = sheet_like_picture(Design(sheet=sheet, layers=(layer,), pictures=(view,)), "view")
    high, wide = pixels_of(view).shape[:2]
    wanted = (300.0, 300.0 * high / wide) if unit == "mm" else (wide, high)
    assert (design.sheet.width, design.sheet.height) == pytest.approx(wanted)
    assert design.layers[0].rules[0].fits == "fills the sheet"
    ink = chain("Dots", Ellipse(), Ink(colours="picture", picture=view.id))
    assert sheet_like_picture(Design(layers=(ink,), pictures=(view,)), "dots").sheet.width == 324.0
    with pytest.raises(InputError, match="no picture"):
        sheet_like_picture(Design(layers=(chain("Dots", Ellipse()),)), "dots")
