"""Outlines brought in from SVG files: shapes, transforms, units; what is hostile or broken is refused whole."""

import numpy as np
import pytest

from tests.chains import work_of
from under_lattice.core.errors import FileError, InputError
from under_lattice.evaluate.evaluator import Evaluator, evaluate
from under_lattice.files.svg.shapes import read_svg
from under_lattice.geometry.outline import areas, flatten
from under_lattice.geometry.path_text import parts_of_text, text_of_parts
from under_lattice.many.settings import apply_setting
from under_lattice.output.svg import Svg, write_svg
from under_lattice.rules import RULES
from under_lattice.rules.motifs.layer_motif import LayerMotif
from under_lattice.rules.motifs.outline_motif import Outline
from under_lattice.rules.motifs.picture_motif import PictureMotif
from under_lattice.rules.motifs.sheet_motif import SheetMotif
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.scene.tree import make_scene

HEAD = '<svg xmlns="http://www.w3.org/2000/svg" '


def brought(inner, head=HEAD + 'viewBox="0 0 100 100">'):
    return read_svg(f"{head}{inner}</svg>".encode(), "drawn.svg")


def ring(text, part=0, steps=64):
    verbs, points = parts_of_text(text)[part]
    return flatten(verbs, points[None], steps)[0][0]


def area(found, part=0):
    """Area in the units of the file."""
    verbs, points = parts_of_text(found.text)[part]
    return abs(float(areas(verbs, points[None])[0])) * (found.width_px / 1000) ** 2


SHAPES = [
    ('<path d="M10 10h40v20H10z"/>', 800.0),
    ('<rect x="5" y="5" width="40" height="20"/>', 800.0),
    ('<rect x="5" y="5" width="40" height="20" rx="4"/>', 800 - (4 - np.pi) * 16),
    ('<circle cx="50" cy="50" r="20"/>', np.pi * 400),
    ('<ellipse cx="50" cy="50" rx="20" ry="10"/>', np.pi * 200),
    ('<polygon points="0,0 30,0 0,40"/>', 600.0),
    ('<path d="M0 0 A 20 20 0 0 1 40 0 Z"/>', np.pi * 200),
    ('<path d="M0 0 Q 20 40 40 0 Z"/>', 2 / 3 * 40 * 20),
    ('<g transform="translate(9 3) scale(2)"><rect width="10" height="5" transform="rotate(30)"/></g>', 200.0),
    ('<rect width="10" height="20" transform="skewX(35)"/>', 200.0),
    ('<rect width="10" height="20" transform="matrix(2 0 0 3 5 5)"/>', 1200.0),
]  # fmt: skip


@pytest.mark.parametrize(("inner", "want"), SHAPES)
def test_shapes_and_transforms_keep_their_areas(inner, want):
    assert area(brought(inner)) == pytest.approx(want, rel=1e-3)


def test_what_stands_first_in_a_transform_is_done_last():
    found = brought('<path d="M0 0H10V1H0Z"/><path d="M0 0H10V1H0Z" transform="translate(0 20) rotate(90)"/>')
    low, high = ring(found.text, 1).min(0), ring(found.text, 1).max(0)
    scale = found.width_px / 1000
    assert (high - low) * scale == pytest.approx((1.0, 10.0), rel=1e-4)
    assert (low[1] - ring(found.text, 0).min(0)[1]) * scale == pytest.approx(20.0, rel=1e-4)


def test_each_shape_is_a_part_and_holes_stay_in_theirs():
    found = brought('<rect width="9" height="9"/><g><circle r="4" cx="30"/></g><path d="M0 0H40V40H0Z M10 10V30H30V10Z"/>')
    assert len(parts_of_text(found.text)) == 3
    assert area(found, 2) == pytest.approx(1200.0)
    assert found.left_out == ()


def test_units_and_view_box_give_the_real_width():
    found = brought('<rect width="50" height="20"/>', HEAD + 'width="100mm" height="100mm" viewBox="0 0 200 200">')
    assert found.width_px == pytest.approx(25 * 96 / 25.4)
    assert brought('<rect width="2cm" height="1cm"/>', HEAD + ">").width_px == pytest.approx(2 * 96 / 2.54)


def test_what_has_no_outline_is_listed_with_the_reason():
    letters = '<text x="3">Sea</text><image href="http://x/y.png"/><use href="other.svg#a"/><script>go()</script>'
    shapes = '<rect width="9" height="9"/><defs><rect id="a" width="3" height="3"/></defs><rect width="0" height="3"/>'
    found = brought(letters + shapes)
    told = " ".join(found.left_out)
    for word in ("text", "image", "use", "script", "empty rect"):
        assert word in told
    assert len(parts_of_text(found.text)) == 1


HOSTILE = {
    "an endless page": b'<svg xmlns="http://www.w3.org/2000/svg" width="9e307" viewBox="0 0 1 9e307"><path d="M0 0H9V9Z"/></svg>',
    "not xml": b"\x89PNG\r\n",
    "no encoding": b'<?xml version="1.0" encoding="UTF-x"?><svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0H9V9Z"/></svg>',
    "an encoding that is none of text": b'<?xml version="1.0" encoding="hex"?><svg xmlns="http://www.w3.org/2000/svg"/>',
    "another root": b"<html/>",
    "entities": b'<!DOCTYPE svg [<!ENTITY a "aaaa">]><svg xmlns="http://www.w3.org/2000/svg"><path d="&a;"/></svg>',
    "outer entity": b'<!DOCTYPE svg [<!ENTITY a SYSTEM "file:///etc/passwd">]><svg/>',
    "nothing": b'<svg xmlns="http://www.w3.org/2000/svg"/>',
    "only text": b'<svg xmlns="http://www.w3.org/2000/svg"><text>x</text></svg>',
    "one spot": b'<svg xmlns="http://www.w3.org/2000/svg"><path d="M5 5L5 5Z"/></svg>',
    "not a number": b'<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0L nan 5"/></svg>',
    "cut short": b'<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0C 1 2 3"/></svg>',
    "huge number": b'<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0L1e300 5L3 3"/></svg>',
    "bad transform": b'<svg xmlns="http://www.w3.org/2000/svg"><rect width="4" height="4" transform="scale(x)"/></svg>',
    "deep": b'<svg xmlns="http://www.w3.org/2000/svg">' + b"<g>" * 300 + b"<path/>" + b"</g>" * 300 + b"</svg>",
    "many points": b'<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0' + b"L1 2L3 4" * 60_000 + b'"/></svg>',
    "many elements": b'<svg xmlns="http://www.w3.org/2000/svg">' + b'<rect width="1" height="1"/>' * 50_001 + b"</svg>",
}  # fmt: skip


@pytest.mark.parametrize("data", HOSTILE.values(), ids=HOSTILE.keys())
def test_hostile_and_broken_files_are_refused_with_a_sentence(data):
    with pytest.raises(FileError, match=r"sent\.svg"):
        read_svg(data, "sent.svg")


BROKEN = ["", "L0 0", "M0 0", "M0 0 L1", "M0 0 Q1 1 2 2", "M0 0 L1 1 x", "M1 1 L1 1", "M0 0 L9e99 1", "M0 0 1 1 L2 2"]


@pytest.mark.parametrize("text", BROKEN)
def test_path_data_that_cannot_be_read_says_where(text):
    with pytest.raises(InputError):
        parts_of_text(text)


def test_path_data_there_and_back():
    parts = [(verbs, points) for verbs, points in parts_of_text(Outline().outline)]
    again = parts_of_text(text_of_parts(parts))
    assert all((one[1] == other[1]).all() and one[0] == other[0] for one, other in zip(parts, again, strict=True))


DRAWN = [rule for rule in RULES if rule.family == "motif" and rule not in (LayerMotif, PictureMotif, SheetMotif)]


@pytest.mark.parametrize("kind", DRAWN, ids=lambda kind: kind.__name__)
def test_every_motif_we_write_can_be_brought_in_again(kind):
    design = work_of(kind(), Ink(colours="one colour", palette=("#112233",))).design
    evaluator = Evaluator()
    results = evaluator.design(design)
    scene = make_scene(design, results, evaluator)
    sheet = design.sheet
    back = read_svg(write_svg(scene, sheet, Svg(digits=7, transparent=True), None), "again.svg")
    marks = evaluator.marks(results["floor"].last.stage, results["floor"].known)
    rows = zip(marks.family, marks.variant, marks.xform, strict=True)
    shown = [(marks.families[f].verbs, marks.families[f].points[v] @ x[:, :2].T + x[:, 2]) for f, v, x in rows if v >= 0]
    parts = parts_of_text(back.text)
    assert [verbs for verbs, _ in parts] == [verbs for verbs, _ in shown]  # lines stay lines and curves curves
    read, drawn = (extent([points for _, points in some]) for some in (parts, shown))
    assert read[1] / read[0] == pytest.approx(drawn[1] / drawn[0], rel=1e-4, abs=1e-6)


def extent(outlines):
    """Width and height of all points together."""
    return np.ptp(np.concatenate(outlines), 0)


def test_an_outline_repeats_and_is_set_by_an_order(tmp_path):
    path = tmp_path / "sail.svg"
    path.write_text(f'{HEAD}viewBox="0 0 9 9"><path d="M0 9L4 0L9 9Z"/><circle r="2"/></svg>')
    grid = Lattice(form="squares", extent="by number", columns=3, rows=2)
    design = apply_setting(work_of(Outline(), grid).design, f"floor.motif.outline={path}")
    result = evaluate(design)["floor"]
    assert not result.problems
    assert result.last.stage.shape.faces == 2
    assert result.last.stage.n == 6
    with pytest.raises(InputError, match="cannot be read"):
        apply_setting(design, f"floor.motif.outline={tmp_path / 'gone.svg'}")
