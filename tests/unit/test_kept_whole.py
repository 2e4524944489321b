"""What a file holds and this version cannot use comes back as it was, or is refused when it is opened, never when it is saved."""

import io
import json

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from tests.chains import floor_alone
from under_lattice.core.errors import FileError, InputError
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.files.recipe import open_any
from under_lattice.files.storage import DEPTH_MOST, from_text, to_text
from under_lattice.library.layers import chain
from under_lattice.output.format import Job
from under_lattice.output.png import Png
from under_lattice.rules import Ellipse
from under_lattice.rules.paints.ink import Ink
from under_lattice.scene.tree import make_scene
from under_lattice.work.edits import with_picture
from under_lattice.work.grouping import group_of
from under_lattice.work.layers import GROUPS_DEEP_MOST
from under_lattice.work.model import Design, Work
from under_lattice.work.pictures import bring_in

VALUES = st.recursive(
    st.none()
    | st.booleans()
    | st.integers()
    | st.floats(allow_nan=False, allow_infinity=False)
    | st.text(st.characters(exclude_categories=())),
    lambda inside: st.lists(inside, max_size=4) | st.dictionaries(st.text(), inside, max_size=4),
    max_leaves=12,
)


def with_later(**settings):
    data = json.loads(to_text(floor_alone()))
    data["design"]["layers"][0]["rules"].append({"kind": "whirlpool"} | settings)
    return json.dumps(data, indent=1, sort_keys=True, ensure_ascii=True) + "\n"


def ascii_of(work):
    return json.dumps(json.loads(to_text(work)), indent=1, sort_keys=True, ensure_ascii=True) + "\n"


@given(st.dictionaries(st.text(), VALUES, max_size=5))
def test_a_rule_of_a_newer_version_comes_back_byte_for_byte(settings):
    settings = {k: v for k, v in settings.items() if k not in ("kind", "id", "handle", "name", "on", "locked")}
    text = with_later(**settings)
    assert ascii_of(from_text(text)) == text


@pytest.mark.parametrize(
    "shared",
    [
        {},
        {"id": "w"},
        {"name": "a\u202eb"},
        {"on": False, "locked": ["depth"]},
        {"id": "w", "handle": "h", "name": "N", "on": True, "locked": []},
    ],
)
def test_what_all_rules_have_is_not_added_and_is_changed_where_it_was_changed(shared):
    text = with_later(**shared)
    work = from_text(text)
    assert ascii_of(work) == text
    layer = work.design.layers[0]
    switched = layer.with_rules((*layer.rules[:-1], edited(layer.rules[-1], on=not layer.rules[-1].on)))
    later = json.loads(to_text(edited(work, design=edited(work.design, layers=(switched,)))))["design"]["layers"][0]["rules"][-1]
    assert later == {"kind": "whirlpool"} | shared | {"on": not shared.get("on", True)}


@pytest.mark.parametrize("brace", ["list", "group"])
@pytest.mark.parametrize("deep", [10, DEPTH_MOST - 10, DEPTH_MOST, 250, 600, 900, 5000])
def test_deep_settings_are_kept_or_refused_when_they_are_opened(deep, brace):
    nest = "[" * deep + "]" * deep if brace == "list" else '{"a":' * deep + "1" + "}" * deep
    text = with_later().replace('"kind": "whirlpool"', f'"kind": "whirlpool", "deep": {nest}')
    if deep > DEPTH_MOST - 10:
        with pytest.raises(FileError, match="nested"):
            from_text(text)
    else:
        work = from_text(text)
        assert from_text(to_text(work)) == work


@pytest.mark.parametrize("number", ["1e400", "-1e999", "NaN", "Infinity", "9" * 400])
def test_a_number_that_cannot_be_written_is_refused(number):
    with pytest.raises(FileError, match="no number that can be kept"):
        from_text(with_later().replace('"kind": "whirlpool"', f'"kind": "whirlpool", "far": {number}'))


def test_groups_as_deep_as_may_be_are_saved_and_opened_and_no_deeper():
    design = Design(layers=(chain("Disc", Ellipse(width=4.0)),))
    for k in range(GROUPS_DEEP_MOST):
        design = edited(design, layers=(group_of(design, f"Group {k}", design.layers),))
    work = Work(design=design)
    work = from_text(to_text(work))
    assert work.design == design
    kept = json.loads(to_text(work))
    kept["kept"] = [{"name": "as it was", "design": kept["design"]}]
    assert from_text(json.dumps(kept)).kept[0].design == design
    with pytest.raises((InputError, ValueError), match="40 deep"):
        edited(design, layers=(group_of(design, "One more", design.layers),))


def test_a_png_whose_recipe_holds_a_photo_opens_again(tmp_path):
    noise = np.random.default_rng(5).integers(0, 256, (900, 900, 3), np.uint8)
    held = io.BytesIO()
    Image.fromarray(noise).save(held, "PNG")
    picture = bring_in(held.getvalue(), "wall.png")
    design = with_picture(Design(layers=(chain("Disc", Ellipse(width=40.0), Ink(picture=picture.id)),)), picture)
    work = Work(design=design)
    assert len(to_text(work)) > 3 << 20
    evaluator = Evaluator()
    scene = make_scene(design, evaluator.design(design), evaluator)
    path = tmp_path / "out.png"
    path.write_bytes(Png(width=90).write(Job(scene, design.sheet, work)))
    opened = open_any(path)
    assert opened.work == work
    assert not opened.altered
