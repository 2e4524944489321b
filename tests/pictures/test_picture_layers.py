"""Pictures that take their size from the sheet, and masks by how light a picture is."""

import io

import numpy as np
import pytest
from PIL import Image

from tests.pictures.compare import FOREIGN, ours, scene_of
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.library.layers import chain
from under_lattice.picking.picker import Picker
from under_lattice.render.paint import paint
from under_lattice.rules import Adjust, Ink, Lattice, LayerEnd, PictureMotif, Rectangle, Split
from under_lattice.scene.tree import make_scene, whole_page
from under_lattice.work.layers import Group
from under_lattice.work.model import Design, Sheet
from under_lattice.work.pictures import bring_in

SHEET = Sheet(width=200.0, height=100.0, background="#FFFFFF")
INK = Ink(colours="one colour", palette=("#26374F",))


def stored(pixels):
    file = io.BytesIO()
    Image.fromarray(pixels).save(file, "PNG")
    return bring_in(file.getvalue(), "trial.png")


def square():
    """Red on the left, blue on the right, as wide as high."""
    pixels = np.zeros((40, 40, 3), np.uint8)
    pixels[:, :20, 0] = pixels[:, 20:, 2] = 200
    return stored(pixels)


def shown(**more):
    picture = square()
    layer = chain("Photo", PictureMotif(picture=picture.id, **more))
    return ours(scene_of(Design(sheet=SHEET, layers=(layer,), pictures=(picture,))), 200)


def box(pixels):
    """Columns and rows, first and last, that are not white."""
    seen = pixels[..., :3].min(-1) < 128
    columns, rows = np.flatnonzero(seen.any(0)), np.flatnonzero(seen.any(1))
    return columns[0], columns[-1], rows[0], rows[-1]


@pytest.mark.parametrize(
    ("fits", "turn", "wanted"),
    [
        ("by its width", 0.0, (80, 119, 30, 69)),
        ("fits the sheet", 0.0, (50, 149, 0, 99)),
        ("fits the sheet", 90.0, (50, 149, 0, 99)),
        ("fills the sheet", 0.0, (0, 199, 0, 99)),
        ("stretched over the sheet", 0.0, (0, 199, 0, 99)),
        ("stretched over the sheet", 90.0, (0, 199, 0, 99)),
    ],
)
def test_a_picture_takes_its_size_from_the_sheet(fits, turn, wanted):
    pixels = shown(fits=fits, turn=turn)
    assert box(pixels) == pytest.approx(wanted, abs=1)
    if not turn:
        assert pixels[50, 99 - 15, 0] == pixels[50, 100 + 15, 2] == 200


def ramp_picture():
    """From black on the left to white on the right."""
    row = np.rint(np.linspace(0, 255, 200)).astype(np.uint8)
    return stored(np.repeat(np.repeat(row[None, :, None], 100, 0), 3, 2))


def masked(*rules, group=False, **more):
    picture = ramp_picture()
    end = LayerEnd(id="veiled", masked="a picture", mask_picture=picture.id, **more)
    layer = chain("Tiles", Rectangle(width=250.0, height=150.0), INK, *rules)
    node = Group(id="both", handle="both", name="Both", layers=(layer,), end=end) if group else edited(layer, end=end)
    return Design(sheet=SHEET, layers=(node,), pictures=(picture,))


@pytest.mark.parametrize("group", [False, True])
def test_a_layer_is_seen_where_the_picture_is_light(group):
    row = 255 - ours(scene_of(masked(group=group)), 200)[50, :, 0]
    assert row[2] < 6
    assert row[-3] == pytest.approx(255 - 0x26, abs=6)
    assert row[100] == pytest.approx((255 - 0x26) / 2, abs=4)
    turned = 255 - ours(scene_of(masked(group=group, mask_way="inverted")), 200)[50, :, 0]
    assert row + turned == pytest.approx(np.full(200, 255.0 - 0x26), abs=3)
    assert (ours(scene_of(masked(group=group, mask_on="off")), 200)[..., 0] == 0x26).all()


@pytest.mark.parametrize("by", FOREIGN)
def test_other_readers_see_the_same_mask(by):
    for rules in ((), (Lattice(form="squares", spacing="free", pitch=300.0), Adjust(turn=20.0))):
        scene = scene_of(masked(*rules))
        assert np.abs(ours(scene, 200) - FOREIGN[by](scene, SHEET, 200)).mean() < 1.0


def test_without_a_picture_the_layer_is_seen_whole():
    design = masked()
    bare = edited(design.layers[0], end=edited(design.layers[0].end, mask_picture=""))
    assert (ours(scene_of(edited(design, layers=(bare,))), 100)[..., 0] == 0x26).all()
    gone = edited(design, pictures=())
    assert (ours(scene_of(gone), 100)[..., 0] == 0x26).all()


def test_what_a_mask_hides_lies_under_a_veil_where_masks_are_shown():
    for design in (masked(), masked(group=True)):
        evaluator = Evaluator()
        results = evaluator.design(design)
        layer = design.layers[0].id
        plain, shown = (make_scene(design, results, evaluator, mask_of=of) for of in ("", layer))
        view = whole_page(plain, 200)
        one, other = paint(plain, view).astype(int), paint(shown, view).astype(int)
        assert np.abs(one - other)[50, 196:, :3].max() < 6  # what is seen is seen as it is
        assert one[50, 2, :3].tolist() == pytest.approx([255] * 3, abs=4)
        assert other[50, 2, 0] < 60  # hidden: the layer under a dark veil
        assert other[50, 2, 2] > other[50, 2, 0] + 30
        assert Picker(shown, view, results).pick(-90.0, 0.0).layer == "tiles"
    bare = edited(design, layers=(edited(masked().layers[0], end=LayerEnd(id="bare")),))
    assert make_scene(bare, results, evaluator, mask_of="tiles").layers[0].mask is None


def mosaic(*rules, pixels=None, **ink):
    picture = square() if pixels is None else stored(pixels)
    lattice = Lattice(form="squares", spacing="free", pitch=10.0, row_pitch=10.0, extent="by number", columns=20, rows=10)
    paint_ = Ink(**{"colours": "picture", "picture": picture.id, "run": "the picture's own"} | ink)
    layer = chain("Stones", *(rules or (Rectangle(width=10.0, height=10.0), lattice)), paint_)
    return Design(sheet=SHEET, layers=(layer,), pictures=(picture,))


def test_each_copy_takes_the_colour_a_picture_has_where_it_stands():
    row = np.linspace(0, 255, 200).astype(np.uint8)
    pixels = np.zeros((100, 200, 3), np.uint8)
    pixels[..., 0], pixels[..., 2] = row, 255 - row
    found = ours(scene_of(mosaic(pixels=pixels)), 200)
    for column in range(20):
        middle = 10 * column + 5
        assert found[50, middle, :3] == pytest.approx([row[middle], 0, 255 - row[middle]], abs=2)
        assert np.ptp(found[41:49, 10 * column + 1 : 10 * column + 9].reshape(-1, 4), 0).max() == 0  # one flat colour a copy


def test_parts_of_a_copy_opacity_and_clear_pictures():
    pixels = np.zeros((10, 20, 4), np.uint8)
    pixels[:, :10] = [255, 0, 0, 255]
    found = ours(scene_of(mosaic(pixels=pixels)), 200)
    assert found[50, 25, :3].tolist() == [255, 0, 0]
    assert found[50, 175, :3].tolist() == [255, 255, 255]  # clear there
    faint = ours(scene_of(mosaic(pixels=pixels, fill_opacity=50.0)), 200)
    assert faint[50, 25, :3] == pytest.approx([255, 128, 128], abs=1)
    lattice = Lattice(form="squares", spacing="free", pitch=40.0, row_pitch=40.0, extent="by number", columns=5, rows=2)
    split = mosaic(Rectangle(width=40.0, height=40.0), Split(into="triangles"), lattice, pixels=pixels)
    seen = ours(scene_of(split), 200)
    assert {tuple(seen[y, 20 + dx].astype(int)) for dx, y in ((0, 25), (-12, 30), (12, 30))} == {(255, 0, 0, 255)}


def test_without_the_picture_the_palette_is_taken():
    design = edited(mosaic(palette=("#123456",)), pictures=())
    assert ours(scene_of(design), 200)[50, 25, :3].tolist() == [0x12, 0x34, 0x56]
